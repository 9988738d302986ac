// Made by `cargo xtask types`.
import type { Metre } from "./Metre";
import type { PanLaw } from "./PanLaw";
import type { Swing } from "./Swing";
import type { Targets } from "./Targets";

/**
 * What holds for the whole session.
 */
export type Header = { 
/**
 * 1 to 120 characters.
 */
title: string, 
/**
 * Quarter notes a minute, 20 to 400.
 */
tempo_bpm: number, metre: Metre, swing: Swing, 
/**
 * The key as people write it, such as "F min"; may be empty.
 */
key: string, pan_law: PanLaw, 
/**
 * In Hz, one of [`crate::units::SAMPLE_RATES`]; fixed when the session is made.
 */
sample_rate: number, 
/**
 * Levels that lanes and the sum are to reach.
 */
targets: Targets, };
