// Made by `cargo xtask types`.

/**
 * What an account holds, in bytes.
 */
export type HoldingsLine = { audio_bytes: number, 
/**
 * Of the audio, what the library names.
 */
library_bytes: number, render_bytes: number, 
/**
 * Steps that can be undone, changes that others can follow, and snapshots.
 */
history_bytes: number, 
/**
 * What it may hold in all.
 */
quota_bytes: number, };
