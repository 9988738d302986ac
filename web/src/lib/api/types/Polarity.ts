// Made by `cargo xtask types`.

/**
 * The sign of the sound.
 */
export type Polarity = "normal" | "inverted";
