// Made by `cargo xtask types`.
import type { SectionId } from "./SectionId";

/**
 * Which stretch of the song is rendered.
 */
export type StemRange = { "kind": "song" } | { "kind": "section", section: SectionId, } | { "kind": "bars", from_bar: number, bars: number, };
