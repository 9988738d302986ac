// Made by `cargo xtask types`.

/**
 * A voice of one session.
 */
export type VoiceId = number;
