// Made by `cargo xtask types`.

/**
 * The spectrum of two sounds together against that of the first alone.
 */
export type Comb = { 
/**
 * Centres of bands in Hz, ascending.
 */
hz: Array<number>, 
/**
 * Together as they are, in dB over the first alone; nothing where the first has next to nothing.
 */
now_db: Array<number | null>, 
/**
 * Together once they are in time and of one polarity.
 */
mended_db: Array<number | null>, 
/**
 * Where the first sounds and both together have a hollow of 3 dB or more, in Hz; the deepest first, eight at most.
 */
hollows_hz: Array<number>, };
