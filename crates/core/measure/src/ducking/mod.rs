//! How one sound makes room for another: a ducker is a processor that takes gain away by a key. What each does over a
//! stretch of the song is rendered, read hit by hit, and solved for.
//!
//! Words: the *depth* of a hit is the most that is taken away between it and the next, in dB; *back* is the moment from
//! which, after the deepest point, no more than [`BACK_DB`] is taken away; of a filter that moves, all of this is counted in
//! semitones of its corner instead of dB; *recovery* is how long before the next hit that
//! is, negative where it would be later.

mod checks;
mod figures;
mod overlap;
mod pair;
mod recorded;
mod room;
mod run;
mod solve;
mod trace;

pub use checks::{HeardDucker, HeardFigures, HeardOpening, heard_checks};
pub use figures::{BACK_DB, DuckFigures, DuckHit, Opening, figures, opening};
pub use pair::{PairBand, PairFigures};
pub use recorded::{RecordedHits, recorded_hits};
pub use room::{Alternative, Room, RoomProposal, make_room};
pub use run::{Ducker, DuckerWaves, Ducking, Focus};
pub use solve::{Goal, Solved, SumBy, SumLevels, solve};

#[cfg(test)]
mod tests;
