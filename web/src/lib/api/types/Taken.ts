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
import type { TakenPieces } from "./TakenPieces";
import type { Voice } from "./Voice";

/**
 * What is taken over.
 */
export type Taken = { 
/**
 * The header, whose sample rate stays.
 */
header: Header | null, 
/**
 * Where the mix comes together.
 */
mix_bus: StripId | null, 
/**
 * What is tracked out.
 */
stem_plan: StemPlan | null, 
/**
 * Checks out of sight.
 */
dismissed: Array<string> | null, 
/**
 * Recordings that the mix is held against.
 */
references: Array<Reference> | null, 
/**
 * Audio that is named, as far as it is new.
 */
assets: Array<AssetRef>, 
/**
 * Voices.
 */
voices: TakenPieces<Voice>, 
/**
 * Channels, triggers, buses, returns and main.
 */
strips: TakenPieces<Strip>, 
/**
 * Patterns.
 */
patterns: TakenPieces<Pattern>, 
/**
 * Hits.
 */
parts: TakenPieces<Part>, 
/**
 * MIDI takes.
 */
takes: TakenPieces<KeptTake>, 
/**
 * The song.
 */
sections: TakenPieces<Section>, };
