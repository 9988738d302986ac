// Made by `cargo xtask types`.

/**
 * A fall that ends a layer.
 */
export type Decay = { 
/**
 * Time at full level after the onset, 0 to 10,000 ms.
 */
hold_ms: number, 
/**
 * From full level to silence, 1 to 10,000 ms.
 */
ms: number, 
/**
 * -100 (slow, then fast) over 0 (straight) to 100 % (fast, then slow).
 */
curve_percent: number, };
