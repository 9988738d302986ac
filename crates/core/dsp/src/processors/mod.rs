//! The kinds of processors.

mod band;
mod beat_line;
pub mod beat_shape;
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
mod moving_filter;
pub mod reverb;
pub mod saturation;
mod shaper;
pub mod stereo_image;
mod tank;
pub mod transient;

pub(super) use shaper::steady_db;
