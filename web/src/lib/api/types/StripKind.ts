// Made by `cargo xtask types`.

export type StripKind = "channel" | "bus" | "main";
