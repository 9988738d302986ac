// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Change } from "./Change";
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
 * What turns one document into another. Fields that did not change are left out.
 */
export type Patch = { 
/**
 * The new header.
 */
header?: Header, 
/**
 * The next free id.
 */
next_id?: number, 
/**
 * Pieces of audio.
 */
assets?: Change<AssetRef>, 
/**
 * Voices in the order of the board.
 */
voices?: Change<Voice>, 
/**
 * Channels, triggers, buses, returns and main.
 */
strips?: Change<Strip>, 
/**
 * Where the mix comes together.
 */
mix_bus?: StripId, 
/**
 * Patterns.
 */
patterns?: Change<Pattern>, 
/**
 * Hits of voices in patterns.
 */
parts?: Change<Part>, 
/**
 * MIDI takes.
 */
takes?: Change<KeptTake>, 
/**
 * The song.
 */
sections?: Change<Section>, 
/**
 * The new stem plan.
 */
stem_plan?: StemPlan, 
/**
 * Checks out of sight.
 */
dismissed?: Array<string>, 
/**
 * Recordings that the mix is held against.
 */
references?: Array<Reference>, };
