//! Levels over a stretch of the song: what every station carries, which trims meet a target, what the sum should come
//! to, and what is worth a look.

mod measure;
mod suggest;
mod trims;

pub use measure::{Measured, Measuring, StationLevels, StripLevels};
pub use suggest::{Suggestion, suggest};
pub use trims::{Proposal, SumLine, TrimLine, propose, sum_repair, sums};

#[cfg(test)]
mod tests;
