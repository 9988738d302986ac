// Made by `cargo xtask types`.

export type StripKind = "channel" | "trigger" | "bus" | "return" | "main";
