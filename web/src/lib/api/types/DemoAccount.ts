// Made by `cargo xtask types`.

/**
 * An account that anybody at this address may use.
 */
export type DemoAccount = { email: string, password: string, };
