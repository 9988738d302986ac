// Made by `cargo xtask types`.

/**
 * Quarter notes a minute, 20 to 400.
 */
export type Tempo = number;
