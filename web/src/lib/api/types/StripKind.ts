// Made by `cargo xtask types`.

/**
 * What a strip is.
 */
export type StripKind = "channel" | "trigger" | "bus" | "return" | "main";
