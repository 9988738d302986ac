// Made by `cargo xtask types`.

/**
 * One note, in ticks of [`lane_units::TICKS_PER_QUARTER`]. Written as
 * `[track, channel, key, velocity, at, length]`, since a take has many.
 */
export type Note = [number, number, number, number, number, number];
