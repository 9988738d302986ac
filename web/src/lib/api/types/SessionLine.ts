// Made by `cargo xtask types`.

/**
 * One line of the list of sessions.
 */
export type SessionLine = { 
/**
 * Of its audio, as it is played.
 */
audio_bytes: number, id: string, title: string, 
/**
 * RFC 3339.
 */
updated_at: string, voices: number, tempo_bpm: number, };
