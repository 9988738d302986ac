// Made by `cargo xtask types`.
import type { TakeId } from "./TakeId";

/**
 * Forgets a take; its hits stay.
 */
export type RemoveTake = { 
/**
 * That to go.
 */
take: TakeId, };
