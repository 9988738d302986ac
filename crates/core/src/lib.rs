//! The job of a beat mix engineer and its computation, without files, screens, networks or clocks.
//!
//! | module | what it answers |
//! |---|---|
//! | [`units`] | frames, rates, decibels, musical time, ids |
//! | [`dsp`] | processors: what they compute, and what screens know of their values |
//! | [`session`] | the document and what makes it whole |
//! | [`edit`] | what a person can do to a document, and its way back |
//! | [`compare`] | what differs between two states of a session, and taking it over |
//! | [`checks`] | why a lane is silent, what is worth a look, each with its repair |
//! | [`routing`] | the order of strips, loops, what is heard |
//! | [`engine`] | the document as sound, live and offline, bit for bit the same |
//! | [`analysis`] | loudness, peaks, spectrum, families, pitch, onsets, tempo |
//! | [`stems`] | labels, ranges, the one-pass render, the sheet |
//! | [`tuning`] | kick and bass in tune |
//! | [`ducking`] | how deep and how long one sound ducks another, hit by hit |
//! | [`parallel`] | how returns lie beside what feeds them, what raising them brings |
//! | [`levels`] | what every station carries over the loop, trims that meet a target, suggestions |
//! | [`sides`] | states of a session, renders and references heard in turn, as loud as each other; blind as well |
//! | [`midi`] | notes of a take to voices |
//!
//! Imports go from right to left only: `units < dsp < session < routing, midi < edit < checks`, and
//! `session < analysis, engine < stems, tuning, ducking, parallel, sides`; `levels` stands outermost. `cargo xtask borders` checks it.

#![deny(missing_docs)]

pub mod analysis;
pub mod checks;
pub mod compare;
pub mod dsp;
pub mod ducking;
pub mod edit;
pub mod engine;
pub mod levels;
pub mod midi;
pub mod parallel;
pub mod routing;
pub mod session;
pub mod sides;
pub mod stems;
pub mod tuning;
pub mod units;
