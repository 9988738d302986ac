// Made by `cargo xtask types`.

/**
 * A processor of a chain. None has been written yet, so that no value of it can exist.
 */
export type Processor = never;
