// Made by `cargo xtask types`.

/**
 * What to do with the hits of some bars.
 */
export type HitsChange = { "kind": "every", 
/**
 * From one to the next.
 */
every_ticks: number, 
/**
 * From the start of the range to the first.
 */
offset_ticks: number, 
/**
 * 1 to 127.
 */
velocity: number, 
/**
 * Instead of what is there, rather than beside it.
 */
instead: boolean, } | { "kind": "fill", 
/**
 * From one step to the next.
 */
step_ticks: number, 
/**
 * How many of the steps, 0 to 100 %.
 */
density_percent: number, 
/**
 * The least, 1 to 127.
 */
velocity_from: number, 
/**
 * The most.
 */
velocity_to: number, 
/**
 * What the dice begin with.
 */
seed: number, } | { "kind": "ghosts", 
/**
 * From one step to the next.
 */
step_ticks: number, 
/**
 * How many of the empty steps get one.
 */
density_percent: number, 
/**
 * 1 to 127.
 */
velocity: number, 
/**
 * What the dice begin with.
 */
seed: number, } | { "kind": "clear" } | { "kind": "copy_to", 
/**
 * The first that gets them, from 0.
 */
bar: number, } | { "kind": "straighten" };
