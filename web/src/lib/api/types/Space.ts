// Made by `cargo xtask types`.

/**
 * What it sounds like: how long its ways are, and how evenly they fill at once.
 */
export type Space = "room" | "plate" | "hall";
