// Made by `cargo xtask types`.

/**
 * One note, in ticks of [`crate::units::TICKS_PER_QUARTER`].
 */
export type Note = { 
/**
 * 0 to 15.
 */
channel: number, 
/**
 * 0 to 127.
 */
key: number, 
/**
 * 1 to 127.
 */
velocity: number, at_ticks: number, length_ticks: number, };
