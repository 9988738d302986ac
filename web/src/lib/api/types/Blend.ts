// Made by `cargo xtask types`.
import type { MainFigures } from "./MainFigures";

/**
 * Main with a return and without it.
 */
export type Blend = { 
/**
 * The return's fader that this is of, in dB.
 */
fader_db: number, 
/**
 * With it.
 */
with: MainFigures, 
/**
 * Without it.
 */
without: MainFigures, 
/**
 * Whether main has a limiter, before which this was measured.
 */
before_limiter: boolean, };
