// Made by `cargo xtask types`.
import type { Param } from "./Param";
import type { ShapePoint } from "./ShapePoint";

/**
 * The points of a shape.
 */
export type PointInfo = { 
/**
 * What is allowed of its values.
 */
params: Array<Param>, 
/**
 * Points at most.
 */
most: number, 
/**
 * Shapes to start from, each by its word.
 */
starts: Array<[string, Array<ShapePoint>]>, };
