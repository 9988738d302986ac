// Made by `cargo xtask types`.

/**
 * A rise at the start of a layer.
 */
export type FadeIn = { 
/**
 * 0 (none) to 5000 ms.
 */
ms: number, 
/**
 * -100 (fast, then slow) over 0 (straight) to 100 % (slow, then fast).
 */
curve_percent: number, };
