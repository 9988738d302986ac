// Made by `cargo xtask types`.

/**
 * Where along a strip a send or a key takes the sound.
 */
export type SendTap = "pre_fader" | "post_fader";
