// Made by `cargo xtask types`.
import type { Header } from "./Header";

/**
 * Title, tempo, metre, swing, key, pan law. The sample rate stays.
 */
export type SetHeader = { 
/**
 * As it is to be.
 */
header: Header, };
