// Made by `cargo xtask types`.
import type { BassNote } from "./BassNote";
import type { KickTarget } from "./KickTarget";
import type { NamedPitch } from "./NamedPitch";

/**
 * What was measured of kick and bass.
 */
export type Tuning = { 
/**
 * None where the kick has no clear pitch.
 */
kick: NamedPitch | null, 
/**
 * The bass's notes, low to high.
 */
bass: Array<BassNote>, 
/**
 * The key's root first, then the bass's notes, most frequent first, then every other note from C up.
 */
targets: Array<KickTarget>, };
