//! Processors: settings as data, coefficients, memory and loop, kept apart. Nothing here knows of sessions.
//!
//! A processor is one variant of [`Settings`] and one of [`slot::Slot`]'s units. Every one runs on stereo frames in
//! place, allocates nothing while it runs, says its latency from its settings alone, and gives the same bits
//! for every block size.

mod biquad;
pub mod clipper;
pub mod compressor;
pub mod crush;
mod delay_line;
mod detector;
pub mod equaliser;
mod filter;
pub mod gate;
mod param;
mod ramp;
pub mod saturation;
mod seam;
mod shaper;
mod slot;
pub mod transient;
pub mod utility;

pub use clipper::Clipper;
pub use compressor::Compressor;
pub use crush::Crush;
pub use delay_line::DelayLine;
pub use equaliser::{Band, Equaliser};
pub use filter::{KeyFilter, Svf};
pub use gate::Gate;
pub use param::{BandInfo, Choice, KindInfo, Param, Scale};
pub use ramp::Ramp;
pub use saturation::Saturation;
pub use seam::Seam;
pub use slot::{Slot, SlotPlan};
pub use transient::Transient;
pub use utility::Utility;

use serde::{Deserialize, Serialize};

/// What a processor is and how it is set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Settings {
    Equaliser(Equaliser),
    Compressor(Compressor),
    Gate(Gate),
    Transient(Transient),
    Saturation(Saturation),
    Clipper(Clipper),
    Crush(Crush),
    Utility(Utility),
}

impl Settings {
    /// One of each kind at its defaults, in the order in which they are offered.
    pub fn all() -> [Settings; 8] {
        [
            Settings::Equaliser(Equaliser::default()),
            Settings::Compressor(Compressor::default()),
            Settings::Gate(Gate::default()),
            Settings::Transient(Transient::default()),
            Settings::Saturation(Saturation::default()),
            Settings::Clipper(Clipper::default()),
            Settings::Crush(Crush::default()),
            Settings::Utility(Utility::default()),
        ]
    }

    /// The kind in the trade's word.
    pub fn name(&self) -> &'static str {
        match self {
            Settings::Equaliser(_) => "Equaliser",
            Settings::Compressor(_) => "Compressor",
            Settings::Gate(_) => "Gate",
            Settings::Transient(_) => "Transient shaper",
            Settings::Saturation(_) => "Saturation",
            Settings::Clipper(_) => "Clipper",
            Settings::Crush(_) => "Bit and rate reduction",
            Settings::Utility(_) => "Utility",
        }
    }

    /// Its values with what is allowed of them.
    pub fn values(&self) -> Vec<(&'static Param, f64)> {
        match self {
            Settings::Equaliser(s) => s.values(),
            Settings::Compressor(s) => s.values(),
            Settings::Gate(s) => s.values(),
            Settings::Transient(s) => s.values(),
            Settings::Saturation(s) => s.values(),
            Settings::Clipper(s) => s.values(),
            Settings::Crush(s) => s.values(),
            Settings::Utility(s) => s.values(),
        }
    }

    /// Whether it can listen to another sound than the one it works on.
    pub fn takes_key(&self) -> bool {
        matches!(self, Settings::Compressor(_) | Settings::Gate(_))
    }

    /// Frames by which the sound comes out later.
    pub fn latency(&self, sample_rate: u32) -> usize {
        match self {
            Settings::Compressor(s) => s.latency(sample_rate),
            Settings::Gate(s) => s.latency(sample_rate),
            Settings::Saturation(s) => s.latency(),
            Settings::Clipper(s) => s.latency(),
            Settings::Equaliser(_) | Settings::Transient(_) | Settings::Crush(_) | Settings::Utility(_) => 0,
        }
    }

    /// Frames for which it rings on after its input has ended, its latency not counted.
    pub fn tail(&self, sample_rate: u32) -> usize {
        match self {
            Settings::Equaliser(s) => s.tail(sample_rate),
            Settings::Utility(s) => s.delay_frames as usize,
            // The filters ring as long again as they delay.
            Settings::Saturation(s) => s.latency(),
            Settings::Clipper(s) => s.latency(),
            Settings::Compressor(_) | Settings::Gate(_) | Settings::Transient(_) | Settings::Crush(_) => 0,
        }
    }

    /// Linear gain, with its sign, that a small steady signal meets, where that can be said of it.
    pub fn gain_at_rest(&self) -> f64 {
        use crate::units::db_to_gain;
        match self {
            Settings::Compressor(s) => db_to_gain(s.makeup_db),
            Settings::Equaliser(_)
            | Settings::Gate(_)
            | Settings::Transient(_)
            | Settings::Saturation(_)
            | Settings::Clipper(_)
            | Settings::Crush(_) => 1.0,
            Settings::Utility(s) => {
                db_to_gain(s.gain_db) * if s.polarity == utility::Polarities::Both { -1.0 } else { 1.0 }
            }
        }
    }

    /// What each kind is, for screens.
    pub fn kinds() -> Vec<KindInfo> {
        Settings::all()
            .into_iter()
            .map(|default| KindInfo {
                name: default.name(),
                params: default.values().into_iter().map(|(param, _)| *param).collect(),
                choices: match &default {
                    Settings::Equaliser(_) => Vec::new(),
                    Settings::Compressor(_) => Compressor::choices(),
                    Settings::Gate(_) => Gate::choices(),
                    Settings::Transient(_) => Transient::choices(),
                    Settings::Saturation(_) => Saturation::choices(),
                    Settings::Clipper(_) => Clipper::choices(),
                    Settings::Crush(_) => Crush::choices(),
                    Settings::Utility(_) => Utility::choices(),
                },
                takes_key: default.takes_key(),
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
