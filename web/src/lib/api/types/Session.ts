// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Header } from "./Header";
import type { KeptTake } from "./KeptTake";
import type { Part } from "./Part";
import type { Pattern } from "./Pattern";
import type { Reference } from "./Reference";
import type { Section } from "./Section";
import type { StemPlan } from "./StemPlan";
import type { Strip } from "./Strip";
import type { StripId } from "./StripId";
import type { Voice } from "./Voice";

/**
 * A session: voices on channels, channels on buses, buses on main, and the song they play.
 */
export type Session = { 
/**
 * Version of this schema; see [`SCHEMA`](super::SCHEMA).
 */
schema: number, 
/**
 * What holds for all of it.
 */
header: Header, 
/**
 * The next free id; ids are never used twice in a session.
 */
next_id: number, 
/**
 * The audio that voices name.
 */
assets: Array<AssetRef>, 
/**
 * Voices in the order of the board.
 */
voices: Array<Voice>, 
/**
 * Channels, triggers, buses, returns and main.
 */
strips: Array<Strip>, 
/**
 * Where the mix comes together and new rows go: a bus, or main itself.
 */
mix_bus: StripId, 
/**
 * What sections play.
 */
patterns: Array<Pattern>, 
/**
 * The hits of one voice in one pattern, each pair at most once, never empty.
 */
parts: Array<Part>, 
/**
 * MIDI takes as they came, silent, to be split again.
 */
takes: Array<KeptTake>, 
/**
 * The song: sections one after the other, at least one.
 */
sections: Array<Section>, 
/**
 * What is tracked out, and how.
 */
stem_plan: StemPlan, 
/**
 * Keys of checks that a person does not want to see.
 */
dismissed: Array<string>, 
/**
 * Recordings that the mix is held against.
 */
references: Array<Reference>, };
