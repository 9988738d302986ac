// Made by `cargo xtask types`.

/**
 * Where a ready chain is offered.
 */
export type ReadyPlace = "path" | "bus_compressor" | "bus" | "main";
