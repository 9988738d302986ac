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
label: string, 
/**
 * Its unit, empty for plain numbers.
 */
unit: string, 
/**
 * The least that is allowed.
 */
min: number, 
/**
 * The most that is allowed.
 */
max: number, 
/**
 * Where it begins.
 */
default: number, 
/**
 * How it moves under the pointer.
 */
scale: Scale, };
