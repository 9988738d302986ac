// Made by `cargo xtask types`.

/**
 * Where the echoes stand.
 */
export type Sides = "straight" | "ping_pong";
