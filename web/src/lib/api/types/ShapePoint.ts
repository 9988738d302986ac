// Made by `cargo xtask types`.

/**
 * One point of a shape.
 */
export type ShapePoint = { 
/**
 *Place: 0.0 to 100.0 %.
 * Of the length.
 */
at_percent: number, 
/**
 *Down: 0.0 to 100.0 %.
 * Of the depth.
 */
down_percent: number, 
/**
 *Bend: -100.0 to 100.0 %.
 * How the line to the next point bends: over 0 it hurries, under 0 it waits.
 */
bend_percent: number, };
