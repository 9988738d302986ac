// Made by `cargo xtask types`.
import type { StemPlan } from "./StemPlan";

/**
 * Which stems are tracked out, and how.
 */
export type SetStemPlan = { 
/**
 * As it is to be.
 */
plan: StemPlan, };
