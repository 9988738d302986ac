// Made by `cargo xtask types`.

/**
 * Signing up or in.
 */
export type Credentials = { email: string, 
/**
 * At least 10 characters.
 */
password: string, };
