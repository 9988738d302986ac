//! Processors: settings as data, what follows from them, memory and loop, kept apart. Nothing here knows of sessions.
//!
//! `parts` is what processors are made of; `processors` holds a module for each kind with its settings, which are a
//! [`kind::Kind`], and its `State`, which is their [`kind::Unit`]; the list in `kinds.rs` is the only other place that
//! names it. Every one runs on stereo frames in place, allocates nothing while it runs, says its latency from its
//! settings alone, and gives the same bits for every block size.

#![deny(missing_docs)]

pub mod duckers;
pub mod kind;
mod kinds;
pub mod parts;
mod processors;
mod slot;

pub use kind::{Begin, Mix, Moment, Place, Starts};
pub use kinds::{BandInfo, KindInfo, PointInfo, Response, Settings};
pub use parts::between::TruePeak;
pub use parts::biquad::{Runner, Section};
pub use parts::{
    Choice, DelayLine, KeyFilter, MovingDelay, Param, Ramp, Scale, Seam, Svf, TimeIn, bessel_i0, frames_of,
    note_lengths,
};
pub use processors::beat_shape::{self, BeatShape};
pub use processors::clipper::Clipper;
pub use processors::compressor::{self, Compressor};
pub use processors::crush::Crush;
pub use processors::delay::{self, Delay};
pub use processors::enhancer::Enhancer;
pub use processors::envelope_filter::{self, EnvelopeFilter};
pub use processors::equaliser::{self, Band, Equaliser};
pub use processors::gate::{self, Gate};
pub use processors::limiter::Limiter;
pub use processors::reverb::{self, Reverb};
pub use processors::saturation::Saturation;
pub use processors::stereo_image::{self, StereoImage};
pub use processors::transient::Transient;
pub use slot::{Silent, Slot, SlotCourse, SlotPlan, all_silent};

#[cfg(test)]
mod tests;
