//! What is worth a look, and why something is not heard, each with its repair as an edit.

mod lint;
mod trace;

pub use lint::{Check, checks};
pub use trace::{Repair, Trace, TraceStep, trace};

#[cfg(test)]
mod tests;
