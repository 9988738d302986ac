// Made by `cargo xtask types`.
import type { Scale } from "./Scale";

/**
 * One value of a processor.
 */
export type Param = { 
/**
 * The field in the settings.
 */
name: string, 
/**
 * The word on screens.
 */
label: string, unit: string, min: number, max: number, default: number, scale: Scale, };
