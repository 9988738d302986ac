// Made by `cargo xtask types`.

/**
 * Who is signed in.
 */
export type Me = { id: string, email: string, };
