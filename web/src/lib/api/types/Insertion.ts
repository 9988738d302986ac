// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { Session } from "./Session";
import type { StripMap } from "./StripMap";
import type { VoiceId } from "./VoiceId";

/**
 * What of another session is brought in.
 */
export type Insertion = { 
/**
 * The other session.
 */
from: Session, 
/**
 * Voices of `from`.
 */
voices: Array<VoiceId>, 
/**
 * Buses and returns that the lanes need. One that is not named goes to one of its name and kind here, and
 * is made where there is none.
 */
map: Array<StripMap>, 
/**
 * Takes their hits into this pattern, as far as it is long; none where not said.
 */
pattern: PatternId | null, };
