//! What is worth a look, and why something is not heard, each with its repair as an edit.

mod gain;
mod lint;
mod repair;
mod trace;
mod twins;

pub use lint::{Check, checks};
pub use repair::Repair;
pub use trace::{Trace, TraceQuestion, TraceStep, TraceWay, trace};
pub use twins::same_sound_repair;

#[cfg(test)]
mod tests;
