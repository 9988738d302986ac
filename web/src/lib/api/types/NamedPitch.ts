// Made by `cargo xtask types`.

/**
 * A pitch as people name it.
 */
export type NamedPitch = { 
/**
 * The frequency in Hz.
 */
hz: number, 
/**
 * The nearest note at A4 = 440 Hz, such as "F1".
 */
note: string, 
/**
 * How far it is above the note, -50 to 50 ct.
 */
cents: number, };
