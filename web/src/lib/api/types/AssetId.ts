// Made by `cargo xtask types`.

/**
 * The content address of one piece of audio: lower-case hexadecimal SHA-256.
 */
export type AssetId = string;
