// Made by `cargo xtask types`.

/**
 * A step to be undone or done again.
 */
export type StepRequest = { 
/**
 * What its author knows this by; sent again under it, it happens once.
 */
id: string, base_revision: number, 
/**
 * The step that its author saw.
 */
step: string, };
