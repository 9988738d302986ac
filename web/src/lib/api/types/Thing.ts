// Made by `cargo xtask types`.

/**
 * A thing of a session with an id.
 */
export type Thing = "voice" | "strip" | "processor" | "pattern" | "section" | "take" | "reference";
