// Made by `cargo xtask types`.
import type { RenderReport } from "./RenderReport";
import type { RenderStatus } from "./RenderStatus";

/**
 * One render.
 */
export type RenderLine = { id: string, version: number, status: RenderStatus, frames_done: number, frames_total: number, 
/**
 * Why it failed or stopped.
 */
reason: string | null, report: RenderReport | null, 
/**
 * Of its files.
 */
bytes: number, created_at: string, };
