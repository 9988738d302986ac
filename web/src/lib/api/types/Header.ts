// Made by `cargo xtask types`.
import type { Metre } from "./Metre";
import type { PanLaw } from "./PanLaw";
import type { Swing } from "./Swing";
import type { Targets } from "./Targets";
import type { Tempo } from "./Tempo";

/**
 * What holds for the whole session.
 */
export type Header = { 
/**
 * What the session is called.
 */
title: string, 
/**
 * Quarter notes a minute.
 */
tempo_bpm: Tempo, 
/**
 * Beats in a bar.
 */
metre: Metre, 
/**
 * Where off-beats fall; voices can have their own.
 */
swing: Swing, 
/**
 * Such as "F min"; may be empty.
 */
key: string, 
/**
 * How pan divides sound between the sides.
 */
pan_law: PanLaw, 
/**
 * In Hz, one of [`lane_units::SAMPLE_RATES`]; fixed when the session is made.
 */
sample_rate: number, 
/**
 * Levels that lanes and the sum are to reach.
 */
targets: Targets, };
