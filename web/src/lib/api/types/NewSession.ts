// Made by `cargo xtask types`.

/**
 * A session to be made.
 */
export type NewSession = { title: string, 
/**
 * 44100, 48000, 88200 or 96000.
 */
sample_rate: number, };
