// Made by `cargo xtask types`.
import type { ShapeBand } from "./ShapeBand";
import type { ShapeLength } from "./ShapeLength";
import type { ShapePoint } from "./ShapePoint";

/**
 * A shape. Before its first point it stands at that one's value, behind the last at that one's. A step, and points closer
 * than 1 ms, become a line of 1 ms.
 */
export type BeatShape = { 
/**
 * 1 to 32, in order of their place.
 */
points: Array<ShapePoint>, 
/**
 *Depth: 0.0 to 60.0 dB.
 * How far down its lowest point may lie.
 */
depth_db: number, 
/**
 *Corner: 20.0 to 20000.0 Hz.
 * Of a shape that works on a part of the sound.
 */
corner_hz: number, 
/**
 *Q: 0.3 to 4.0 .
 * How narrow that part is, around the corner.
 */
q: number, 
/**
 *Least spacing: 20.0 to 1000.0 ms.
 * Where its key is no lane with hits of its own, what comes sooner after an onset is none.
 */
spacing_ms: number, 
/**
 *Depth by velocity: 0.0 to 100.0 %.
 * How much shallower softer hits of a lane go: 0 as deep as hard ones, 100 by their velocity.
 */
velocity_percent: number, 
/**
 *Length.
 */
length: ShapeLength, 
/**
 *Takes down.
 */
band: ShapeBand, };
