// Made by `cargo xtask types`.

/**
 * A glide of the pitch at the onset, even in semitones, from `depth_st` away to the layer's own pitch.
 */
export type PitchSweep = { 
/**
 * -48 to 48 st.
 */
depth_st: number, 
/**
 * 1 to 2000 ms.
 */
ms: number, };
