// Made by `cargo xtask types`.

/**
 * What to do with the hits of some bars.
 */
export type HitsChange = { "kind": "every", every_ticks: number, offset_ticks: number, velocity: number, } | { "kind": "fill", step_ticks: number, 
/**
 * How many of the steps, 0 to 100 %.
 */
density_percent: number, velocity_from: number, velocity_to: number, seed: number, } | { "kind": "ghosts", step_ticks: number, density_percent: number, velocity: number, seed: number, } | { "kind": "clear" } | { "kind": "copy_to", bar: number, } | { "kind": "straighten" };
