// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";

/**
 * A point along a strip where its sound can be heard.
 */
export type Station = "source" | "trimmed" | { "processor": ProcessorId } | { "key": ProcessorId } | "out";
