// Made by `cargo xtask types`.

/**
 * The family of a voice.
 */
export type Family = "low" | "snare" | "hats" | "percussion" | "bass" | "music";
