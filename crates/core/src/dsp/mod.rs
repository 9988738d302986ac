//! Processors: settings as data, coefficients, memory and loop, kept apart. Nothing here knows of sessions.
//!
//! A kind of processor is a module with its settings, which are a [`Kind`], and its `State`, which is their [`Unit`];
//! the list at the end of `kinds!` below is the only other place that names it. Every one runs on stereo frames in
//! place, allocates nothing while it runs, says its latency from its settings alone, and gives the same bits
//! for every block size.

mod between;
mod biquad;
pub mod clipper;
pub mod compressor;
pub mod crush;
pub mod delay;
mod delay_line;
mod detector;
mod dynamic_band;
pub mod enhancer;
pub mod envelope_filter;
pub mod equaliser;
mod filter;
mod fir;
pub mod gate;
pub mod limiter;
mod param;
mod ramp;
pub mod reverb;
pub mod saturation;
mod seam;
mod shaper;
mod slot;
mod tank;
pub mod transient;
pub mod utility;

pub use between::TruePeak;
pub use clipper::Clipper;
pub use compressor::Compressor;
pub use crush::Crush;
pub use delay::Delay;
pub use delay_line::DelayLine;
pub use enhancer::Enhancer;
pub use envelope_filter::EnvelopeFilter;
pub use equaliser::{Band, Equaliser};
pub use filter::{KeyFilter, Svf};
pub use gate::Gate;
pub use limiter::Limiter;
pub use param::{BandInfo, Choice, KindInfo, Param, Scale};
pub use ramp::Ramp;
pub use reverb::Reverb;
pub use saturation::Saturation;
pub use seam::Seam;
pub use slot::{Slot, SlotPlan};
pub use transient::Transient;
pub use utility::Utility;

use crate::units::Frame;
use serde::{Deserialize, Serialize};

/// Where a processor works.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// In Hz.
    pub sample_rate: u32,
    /// Quarter notes a minute.
    pub tempo_bpm: f64,
}

/// Settings of one kind of processor.
pub trait Kind: Sized {
    /// The kind in the trade's word.
    const NAME: &'static str;
    /// Whether it can listen to another sound than the one it works on.
    const TAKES_KEY: bool = false;
    /// Whether it takes gain away by the level, so that a read-out of its reduction says something.
    const REDUCES: bool = false;
    type Unit: Unit<Self>;

    /// Frames by which the sound comes out later.
    fn latency(&self, _sample_rate: u32) -> usize {
        0
    }

    /// Frames for which it rings on after its input has ended, its latency not counted.
    fn tail(&self, _place: Place) -> usize {
        0
    }

    /// Linear gain, with its sign, that a small steady signal meets, where that can be said of it.
    fn gain_at_rest(&self) -> f64 {
        1.0
    }
}

/// A processor at work with settings of one kind.
pub trait Unit<S>: Sized {
    fn new(settings: &S, place: Place) -> Self;

    /// Takes over other settings without a click.
    fn set(&mut self, settings: &S, place: Place);

    /// Processes a block in place, listening to `key` where one is given.
    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>);

    /// Remembers sound that is not processed.
    fn feed(&mut self, _frame: Frame) {}

    /// The most that was taken away since the last call, in dB.
    fn take_reduction_db(&mut self) -> f64 {
        0.0
    }

    /// Forgets everything it heard.
    fn reset(&mut self);

    /// Forgets what it heard because it was switched off; sound goes on coming in.
    fn fall_idle(&mut self) {
        self.reset();
    }
}

/// The kinds in the order in which they are offered.
macro_rules! kinds {
    ($($kind:ident;)*) => {
        /// What a processor is and how it is set.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
        #[serde(tag = "kind", rename_all = "snake_case")]
        pub enum Settings {
            $($kind($kind),)*
        }

        impl Settings {
            /// One of each kind at its defaults, in the order in which they are offered.
            pub fn all() -> Vec<Settings> {
                vec![$(Settings::$kind($kind::default()),)*]
            }

            /// The kind in the trade's word.
            pub fn name(&self) -> &'static str {
                match self { $(Settings::$kind(_) => $kind::NAME,)* }
            }

            /// Its values with what is allowed of them.
            pub fn values(&self) -> Vec<(&'static Param, f64)> {
                match self { $(Settings::$kind(s) => s.values(),)* }
            }

            fn choices(&self) -> Vec<Choice> {
                match self { $(Settings::$kind(_) => $kind::choices(),)* }
            }

            /// Whether it can listen to another sound than the one it works on.
            pub fn takes_key(&self) -> bool {
                match self { $(Settings::$kind(_) => $kind::TAKES_KEY,)* }
            }

            /// Whether it takes gain away by the level.
            pub fn reduces(&self) -> bool {
                match self { $(Settings::$kind(_) => $kind::REDUCES,)* }
            }

            /// Frames by which the sound comes out later.
            pub fn latency(&self, sample_rate: u32) -> usize {
                match self { $(Settings::$kind(s) => Kind::latency(s, sample_rate),)* }
            }

            /// Frames for which it rings on after its input has ended, its latency not counted.
            pub fn tail(&self, place: Place) -> usize {
                match self { $(Settings::$kind(s) => Kind::tail(s, place),)* }
            }

            /// Linear gain, with its sign, that a small steady signal meets, where that can be said of it.
            pub fn gain_at_rest(&self) -> f64 {
                match self { $(Settings::$kind(s) => Kind::gain_at_rest(s),)* }
            }
        }

        /// A processor of any kind at work.
        #[derive(Debug, Clone)]
        enum AnyUnit {
            $($kind(Box<<$kind as Kind>::Unit>),)*
        }

        impl AnyUnit {
            fn new(settings: &Settings, place: Place) -> Self {
                match settings { $(Settings::$kind(s) => AnyUnit::$kind(Box::new(Unit::new(s, place))),)* }
            }

            /// Takes over other settings; false where they are of another kind.
            fn set(&mut self, settings: &Settings, place: Place) -> bool {
                match (self, settings) {
                    $((AnyUnit::$kind(unit), Settings::$kind(s)) => Unit::set(unit.as_mut(), s, place),)*
                    _ => return false,
                }
                true
            }

            fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
                match self { $(AnyUnit::$kind(unit) => Unit::<$kind>::process(unit.as_mut(), frames, key),)* }
            }

            fn feed(&mut self, frame: Frame) {
                match self { $(AnyUnit::$kind(unit) => Unit::<$kind>::feed(unit.as_mut(), frame),)* }
            }

            fn take_reduction_db(&mut self) -> f64 {
                match self { $(AnyUnit::$kind(unit) => Unit::<$kind>::take_reduction_db(unit.as_mut()),)* }
            }

            fn reset(&mut self) {
                match self { $(AnyUnit::$kind(unit) => Unit::<$kind>::reset(unit.as_mut()),)* }
            }

            fn fall_idle(&mut self) {
                match self { $(AnyUnit::$kind(unit) => Unit::<$kind>::fall_idle(unit.as_mut()),)* }
            }
        }
    };
}

kinds! {
    Equaliser;
    Compressor;
    Gate;
    Transient;
    Saturation;
    Clipper;
    Enhancer;
    Limiter;
    EnvelopeFilter;
    Crush;
    Delay;
    Reverb;
    Utility;
}

/// Gains in dB over frequency, for pictures.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Response {
    pub rest: Vec<f64>,
    /// With everything that follows the level as far as it goes.
    pub moved: Vec<f64>,
}

impl Settings {
    /// The level in dBFS that a steady one comes out at, of processors that go by the level.
    pub fn steady_db(&self, level_dbfs: f64) -> Option<f64> {
        match self {
            Settings::Compressor(s) => Some(level_dbfs - s.reduction_db(level_dbfs) + s.makeup_db),
            Settings::Gate(s) => Some(level_dbfs - s.reduction_db(level_dbfs)),
            Settings::Limiter(s) => Some(level_dbfs.min(s.ceiling_dbtp)),
            Settings::Clipper(s) => Some(shaper::steady_db(s, level_dbfs)),
            Settings::Saturation(s) => Some(shaper::steady_db(s, level_dbfs)),
            _ => None,
        }
    }

    /// Gains in dB at some frequencies in Hz, at rest and as far as the level moves it, of what is a filter.
    pub fn response_db(&self, freqs_hz: &[f64], sample_rate: u32) -> Option<Response> {
        let (rest, moved) = match self {
            Settings::Equaliser(s) => {
                (s.response_db(freqs_hz, sample_rate), s.moved().response_db(freqs_hz, sample_rate))
            }
            Settings::EnvelopeFilter(s) => {
                (s.response_db(freqs_hz, 0.0, sample_rate), s.response_db(freqs_hz, 1.0, sample_rate))
            }
            _ => return None,
        };
        Some(Response { rest, moved })
    }

    /// What each kind is, for screens.
    pub fn kinds() -> Vec<KindInfo> {
        Settings::all()
            .into_iter()
            .map(|default| KindInfo {
                name: default.name(),
                params: default.values().into_iter().map(|(param, _)| *param).collect(),
                choices: default.choices(),
                takes_key: default.takes_key(),
                reduces: default.reduces(),
                bands: matches!(default, Settings::Equaliser(_)).then(|| BandInfo {
                    params: Band::PARAMS.to_vec(),
                    choices: Band::choices(),
                    default: Band::default(),
                    most: equaliser::BANDS,
                }),
                default,
            })
            .collect()
    }
}

/// Milliseconds to whole frames, to the nearest.
pub fn frames_of(ms: f64, sample_rate: u32) -> usize {
    libm::round(ms / 1000.0 * f64::from(sample_rate)) as usize
}

/// The weight of the past in a one-pole average with a time constant in milliseconds; 0 at once.
fn past_weight(ms: f64, sample_rate: u32) -> f64 {
    if ms <= 0.0 { 0.0 } else { libm::exp(-1000.0 / (ms * f64::from(sample_rate))) }
}

#[cfg(test)]
mod tests;
