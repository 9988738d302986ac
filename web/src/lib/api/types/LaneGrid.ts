// Made by `cargo xtask types`.
import type { LaneBar } from "./LaneBar";
import type { PlacedHit } from "./PlacedHit";
import type { VoiceId } from "./VoiceId";

/**
 * A lane over some bars of the song.
 */
export type LaneGrid = { 
/**
 * The voice whose hits are shown and changed: itself, or the one that it follows.
 */
leader: VoiceId, 
/**
 * Where each bar's ticks lie in what the leader plays.
 */
bars: Array<LaneBar>, 
/**
 * Hits in the bars; those of a loop of its own come again and again.
 */
hits: Array<PlacedHit>, };
