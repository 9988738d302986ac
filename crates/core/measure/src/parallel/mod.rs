//! Parallel paths: how a return lies beside what feeds it, what its compressor does against the beat, and what raising it
//! brings. A stretch of the song is played once; what follows from it is worked out on what was kept.
//!
//! Words: *dry* is what feeds a return, as it stands in the mix behind its faders; *wet* is the return behind its chain, its
//! fader left out. The *delay* is how much later the second of two sounds comes than the first, where both are most alike.
//! *Back* is the time from the deepest point of a hit's reduction until half of it, in dB, is gone.

mod align;
mod blend;
mod checks;
mod comb;
mod kept;
mod mend;
mod press;
mod run;

pub use align::{Alignment, Verdict, align};
pub use blend::{Blend, FoundBlend, MainFigures};
pub use checks::{HeardBench, HeardPaths, HeardPress, path_checks};
pub use comb::{Comb, comb};
pub use mend::{HeardAlignment, HeardPath, mends};
pub use press::{Press, PressGoal, PressSolved, back_frames};
pub use run::{PathReading, Paths, PathsAsked, ReturnBench};

/// Two sounds are looked for to be alike so far apart at most, in ms.
pub const MOST_APART_MS: f64 = 10.0;

#[cfg(test)]
mod tests;
