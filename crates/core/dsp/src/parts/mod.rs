//! What processors are made of.

pub mod between;
pub mod biquad;
mod delay_line;
mod detector;
mod filter;
pub mod fir;
mod notes;
mod param;
mod quadrature;
mod ramp;
mod seam;
mod time;
mod window;

pub use delay_line::{DelayLine, MovingDelay};
pub use detector::{Detect, Detector};
pub use filter::{KeyFilter, Svf};
pub use notes::{TimeIn, note_lengths, note_quarters};
pub use param::{Choice, Param, Scale};
pub(crate) use param::{options, settings};
pub use quadrature::Quadrature;
pub use ramp::Ramp;
pub use seam::Seam;
pub use time::{frames_of, past_weight};
pub use window::bessel_i0;
