// Made by `cargo xtask types`.

/**
 * What the delay is counted in.
 */
export type NoteValue = "1/8" | "1/8d" | "1/8t" | "1/4" | "1/4d" | "1/4t" | "1/2" | "1/1" | "1/16" | "1/16d" | "1/16t" | "1/32" | "free";
