// Made by `cargo xtask types`.
import type { BeatShape } from "./BeatShape";
import type { Clipper } from "./Clipper";
import type { Compressor } from "./Compressor";
import type { Crush } from "./Crush";
import type { Delay } from "./Delay";
import type { Enhancer } from "./Enhancer";
import type { EnvelopeFilter } from "./EnvelopeFilter";
import type { Equaliser } from "./Equaliser";
import type { Gate } from "./Gate";
import type { Limiter } from "./Limiter";
import type { Reverb } from "./Reverb";
import type { Saturation } from "./Saturation";
import type { StereoImage } from "./StereoImage";
import type { Transient } from "./Transient";

/**
 * What a processor is and how it is set.
 */
export type Settings = { "kind": "equaliser" } & Equaliser | { "kind": "compressor" } & Compressor | { "kind": "gate" } & Gate | { "kind": "beat_shape" } & BeatShape | { "kind": "transient" } & Transient | { "kind": "saturation" } & Saturation | { "kind": "clipper" } & Clipper | { "kind": "enhancer" } & Enhancer | { "kind": "limiter" } & Limiter | { "kind": "envelope_filter" } & EnvelopeFilter | { "kind": "crush" } & Crush | { "kind": "delay" } & Delay | { "kind": "reverb" } & Reverb | { "kind": "stereo_image" } & StereoImage;
