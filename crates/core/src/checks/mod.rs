//! What is worth a look, and why something is not heard, each with its repair as an edit.

mod gain;
mod lint;
mod trace;

pub use lint::{Check, checks};
pub use trace::{Repair, Trace, TraceQuestion, TraceStep, TraceWay, trace};

#[cfg(test)]
mod tests;
