// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Change } from "./Change";
import type { Header } from "./Header";
import type { KeptTake } from "./KeptTake";
import type { Part } from "./Part";
import type { Pattern } from "./Pattern";
import type { Section } from "./Section";
import type { StemPlan } from "./StemPlan";
import type { Strip } from "./Strip";
import type { StripId } from "./StripId";
import type { Voice } from "./Voice";

/**
 * What turns one document into another. Fields that did not change are left out.
 */
export type Patch = { header?: Header, next_id?: number, assets?: Change<AssetRef>, voices?: Change<Voice>, strips?: Change<Strip>, mix_bus?: StripId, patterns?: Change<Pattern>, parts?: Change<Part>, takes?: Change<KeptTake>, sections?: Change<Section>, stem_plan?: StemPlan, dismissed?: Array<string>, };
