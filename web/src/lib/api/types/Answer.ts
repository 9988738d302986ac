// Made by `cargo xtask types`.
import type { Ducked } from "./Ducked";
import type { Levels } from "./Levels";
import type { LoopCuts } from "./LoopCuts";
import type { Pathed } from "./Pathed";
import type { RecordedHits } from "./RecordedHits";
import type { SideFigures } from "./SideFigures";
import type { Tuning } from "./Tuning";

/**
 * What is answered.
 */
export type Answer = { "about": "levels" } & Levels | { "about": "duckers" } & Ducked | { "about": "paths" } & Pathed | { "about": "side" } & SideFigures | { "about": "side_recording" } & SideFigures | { "about": "recorded", hits: Array<RecordedHits>, } | { "about": "tuning" } & Tuning | { "about": "cuts" } & LoopCuts;
