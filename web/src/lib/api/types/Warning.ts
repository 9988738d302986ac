// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Something worth a look before stems are sent.
 */
export type Warning = { 
/**
 * The strip that it is about, if it is about one.
 */
strip: StripId | null, 
/**
 * What is worth knowing.
 */
text: string, };
