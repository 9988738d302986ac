// Made by `cargo xtask types`.

/**
 * Where a render stands.
 */
export type RenderStatus = "queued" | "running" | "done" | "failed" | "cancelled";
