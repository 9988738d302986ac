//! The kinds of processors.

mod band;
pub mod clipper;
pub mod compressor;
pub mod crush;
pub mod delay;
mod dynamic_band;
pub mod enhancer;
pub mod envelope_filter;
pub mod equaliser;
pub mod gate;
pub mod limiter;
pub mod reverb;
pub mod saturation;
mod shaper;
mod tank;
pub mod transient;
pub mod utility;

pub(super) use shaper::steady_db;
