// Made by `cargo xtask types`.

export type Polarity = "normal" | "inverted";
