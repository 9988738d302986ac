// Made by `cargo xtask types`.

/**
 * The highest blend within a budget of peak.
 */
export type FoundBlend = { 
/**
 * The fader, in dB; nothing where no level of it fits.
 */
fader_db: number | null, 
/**
 * By how much the sample peak is higher there, in dB.
 */
peak_db: number, };
