//! What differs between two states of one session, in words with units, and how single differences are taken over.
//!
//! A difference is made of items, the least that can be taken over: a value of a strip, a processor, a send, hits of a voice in
//! a pattern. Items that cannot stand without each other, such as a return and the sends to it, are one difference. What is
//! taken over is an edit like any other ([`crate::edit::Edit::TakeOver`]).

mod difference;
mod find;
mod items;
mod taking;
mod words;

pub use difference::{Difference, DifferenceKind};
pub use find::{differences, go_back};

#[cfg(test)]
mod tests;
