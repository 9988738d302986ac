// Made by `cargo xtask types`.

/**
 * Level at the sides against the centre. The centre always passes unchanged, so that a strip at rest is
 * bit-transparent; a source panned hard is louder there by the law's figure.
 */
export type PanLaw = "zero" | "minus3" | "minus_4_5" | "minus6";
