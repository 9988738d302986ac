//! What is measured of a session as it is played.
//!
//! ```
//! use lane_document::session::Session;
//! use lane_engine::LoopRange;
//! use lane_measure::questions::{Answer, Gauge, Question};
//!
//! let mut gauge = Gauge::default();
//! gauge.open(Session::new("Copper", 48_000), &[]).unwrap();
//! let missing = gauge.ask(Question::Side { without: false }, LoopRange { from: 0, to: 48_000 }).unwrap();
//! assert!(missing.is_empty(), "audio that it takes and that is not there yet");
//! gauge.begin(false).unwrap();
//! // In pieces, between which it can be called off.
//! while gauge.step(8192) < 1.0 {}
//! let Answer::Side(figures) = gauge.answer().unwrap() else { unreachable!() };
//! assert_eq!(figures.lufs, None, "nothing plays in it");
//! ```
//!
//! | module | what it answers |
//! |---|---|
//! | [`questions`] | all that can be asked, and what is answered |
//! | [`levels`] | what every station carries over the loop, trims that meet a target, suggestions |
//! | [`ducking`] | how deep and how long one sound ducks another, hit by hit |
//! | [`parallel`] | how returns lie beside what feeds them, what raising them brings |
//! | [`sides`] | states of a session, renders and references heard in turn, as loud as each other; blind as well |
//! | [`cuts`] | where a loop could be cut, and its tempo |
//! | [`tuning`] | kick and bass in tune |

#![deny(missing_docs)]

pub mod cuts;
pub mod ducking;
pub mod levels;
pub mod parallel;
pub mod questions;
mod recording;
mod replay;
mod run;
pub mod sides;
pub mod tuning;

pub use run::{Listener, PARTS, PIECE, Run};
