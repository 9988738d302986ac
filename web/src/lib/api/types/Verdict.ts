// Made by `cargo xtask types`.

/**
 * What is to be said of two sounds.
 */
export type Verdict = "silent" | "unrelated" | "in_time" | "off" | "space";
