//! Kinds of duckers, and one that becomes another: what means the same is kept.

use super::kind::Place;
use super::kinds::Settings;
use super::parts::{Param, TimeIn};
use super::processors::beat_shape::{BeatShape, Values};
use super::processors::compressor::Compressor;
use super::processors::envelope_filter::{EnvelopeFilter, Pass};
use super::processors::equaliser::{Band, Equaliser};
use super::processors::gate::{Gate, WHOLE_RATIO};
use serde::{Deserialize, Serialize};

/// What a ducker takes away.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum DuckKind {
    /// Gain, by a compressor.
    Whole,
    /// Gain of one band.
    Band,
    /// Gain by a drawn shape, on the beat.
    Shape,
    /// All of it but where the key sounds.
    Gate,
    /// Some of it but where the key sounds.
    Expander,
    /// What lies over or under a corner that moves.
    Filter,
}

/// A kind of ducker for screens.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct DuckKindInfo {
    /// Which.
    pub kind: DuckKind,
    /// What it is called.
    pub name: &'static str,
    /// Settings as it begins.
    pub default: Settings,
}

/// A ratio at which a gate is opened in part.
const IN_PART: f64 = 2.0;
/// Where a band begins of which nothing is known, in Hz.
const KICK_HZ: [f64; 2] = [50.0, 200.0];
/// How soon a new ducker is down and back, in ms.
const DOWN_MS: f64 = 2.0;
const BACK_MS: f64 = 90.0;

impl DuckKind {
    /// All of them, in the order in which they are offered.
    pub const ALL: [DuckKind; 6] =
        [DuckKind::Whole, DuckKind::Band, DuckKind::Shape, DuckKind::Gate, DuckKind::Expander, DuckKind::Filter];

    /// Which kind some settings are; none for a processor that is no ducker.
    pub fn of(settings: &Settings) -> Option<DuckKind> {
        match settings {
            Settings::Compressor(_) => Some(DuckKind::Whole),
            Settings::Equaliser(_) => Some(DuckKind::Band),
            Settings::BeatShape(_) => Some(DuckKind::Shape),
            Settings::Gate(gate) if gate.ratio < WHOLE_RATIO => Some(DuckKind::Expander),
            Settings::Gate(_) => Some(DuckKind::Gate),
            Settings::EnvelopeFilter(_) => Some(DuckKind::Filter),
            _ => None,
        }
    }

    /// What each is, for screens.
    pub fn kinds() -> Vec<DuckKindInfo> {
        DuckKind::ALL.into_iter().map(|kind| DuckKindInfo { kind, name: kind.name(), default: kind.plain() }).collect()
    }

    fn name(self) -> &'static str {
        match self {
            DuckKind::Whole => "The whole sound",
            DuckKind::Band => "One band",
            DuckKind::Shape => "A shape",
            DuckKind::Gate => "Opened by the key",
            DuckKind::Expander => "Opened in part",
            DuckKind::Filter => "A filter that moves",
        }
    }

    fn plain(self) -> Settings {
        match self {
            DuckKind::Whole => Settings::Compressor(Compressor::default()),
            DuckKind::Band => Settings::Equaliser(Equaliser::default()),
            DuckKind::Shape => Settings::BeatShape(BeatShape::default()),
            DuckKind::Gate => Settings::Gate(Gate::default()),
            DuckKind::Expander => Settings::Gate(Gate { ratio: IN_PART, ..Gate::default() }),
            DuckKind::Filter => Settings::EnvelopeFilter(EnvelopeFilter::default()),
        }
    }
}

/// A time: in ms, which a note has as well, and what it is counted in.
type Time = (f64, TimeIn);

/// The times that duckers of several kinds have, as far as one has them.
#[derive(Default)]
struct Times {
    attack: Option<Time>,
    hold: Option<Time>,
    release: Option<Time>,
    lookahead_ms: Option<f64>,
}

fn time(set_ms: f64, counted: TimeIn, place: Place) -> Option<Time> {
    Some((counted.ms(set_ms, (0.0, f64::MAX), place), counted))
}

impl Times {
    fn of(settings: &Settings, place: Place) -> Times {
        let up_and_back = |attack: (f64, TimeIn), release: (f64, TimeIn)| Times {
            attack: time(attack.0, attack.1, place),
            release: time(release.0, release.1, place),
            ..Times::default()
        };
        match settings {
            Settings::Compressor(s) => Times {
                hold: time(s.hold_ms, s.hold_in, place),
                lookahead_ms: Some(s.lookahead_ms),
                ..up_and_back((s.attack_ms, s.attack_in), (s.release_ms, s.release_in))
            },
            Settings::Gate(s) => Times {
                hold: time(s.hold_ms, s.hold_in, place),
                lookahead_ms: Some(s.lookahead_ms),
                ..up_and_back((s.attack_ms, s.attack_in), (s.release_ms, s.release_in))
            },
            Settings::EnvelopeFilter(s) => up_and_back((s.attack_ms, s.attack_in), (s.release_ms, s.release_in)),
            Settings::Equaliser(s) => match s.bands.iter().find(|b| b.range_db != 0.0) {
                Some(b) => up_and_back((b.attack_ms, b.attack_in), (b.release_ms, b.release_in)),
                None => Times::default(),
            },
            _ => Times::default(),
        }
    }

    /// Settings with these times, as far as they have them and their ranges let them.
    fn on(&self, settings: &Settings) -> Settings {
        let mut next = settings.clone();
        match &mut next {
            Settings::Compressor(s) => {
                let of = Compressor::PARAMS;
                put(self.attack, of, "attack_ms", &mut s.attack_ms, &mut s.attack_in);
                put(self.hold, of, "hold_ms", &mut s.hold_ms, &mut s.hold_in);
                put(self.release, of, "release_ms", &mut s.release_ms, &mut s.release_in);
                s.lookahead_ms = within(self.lookahead_ms.unwrap_or(s.lookahead_ms), of, "lookahead_ms");
            }
            Settings::Gate(s) => {
                let of = Gate::PARAMS;
                put(self.attack, of, "attack_ms", &mut s.attack_ms, &mut s.attack_in);
                put(self.hold, of, "hold_ms", &mut s.hold_ms, &mut s.hold_in);
                put(self.release, of, "release_ms", &mut s.release_ms, &mut s.release_in);
                s.lookahead_ms = within(self.lookahead_ms.unwrap_or(s.lookahead_ms), of, "lookahead_ms");
            }
            Settings::EnvelopeFilter(s) => {
                let of = EnvelopeFilter::PARAMS;
                put(self.attack, of, "attack_ms", &mut s.attack_ms, &mut s.attack_in);
                put(self.release, of, "release_ms", &mut s.release_ms, &mut s.release_in);
            }
            Settings::Equaliser(s) => {
                for b in s.bands.iter_mut().filter(|b| b.range_db != 0.0) {
                    put(self.attack, Band::PARAMS, "attack_ms", &mut b.attack_ms, &mut b.attack_in);
                    put(self.release, Band::PARAMS, "release_ms", &mut b.release_ms, &mut b.release_in);
                }
            }
            _ => {}
        }
        next
    }
}

fn within(value: f64, params: &[Param], name: &str) -> f64 {
    params.iter().find(|p| p.name == name).map_or(value, |p| value.clamp(p.min, p.max))
}

fn put(time: Option<Time>, params: &[Param], name: &str, ms: &mut f64, counted: &mut TimeIn) {
    if let Some((length, of)) = time {
        (*ms, *counted) = (within(length, params, name), of);
    }
}

/// To a tenth.
fn tenth(value: f64) -> f64 {
    libm::round(value * 10.0) / 10.0
}

/// A ducker as another kind, with the times that it has where they mean the same.
///
/// * `depth_db` – how deep it goes.
/// * `shared_hz` – the band in which it is wanted, where that is known.
pub fn turned(settings: &Settings, to: DuckKind, depth_db: f64, shared_hz: Option<[f64; 2]>, place: Place) -> Settings {
    let deep = |params, name| tenth(within(depth_db.max(1.0), params, name));
    let plain = match to.plain() {
        Settings::BeatShape(mut s) => {
            s.base.depth_db = deep(Values::PARAMS, "depth_db");
            Settings::BeatShape(s)
        }
        Settings::Gate(s) => Settings::Gate(Gate { range_db: deep(Gate::PARAMS, "range_db"), ..s }),
        Settings::Equaliser(_) => {
            let [from, up_to] = shared_hz.unwrap_or(KICK_HZ);
            let freq_hz = libm::round(libm::sqrt(from * up_to));
            // What lies between two edges, as the band's own width.
            let q = libm::round(100.0 * (freq_hz / (up_to - from)).clamp(0.4, 4.0)) / 100.0;
            let range_db = -tenth(within(depth_db.max(1.0), Band::PARAMS, "range_db"));
            let band = Band {
                freq_hz,
                q,
                range_db,
                gain_db: 0.0,
                threshold_dbfs: -40.0,
                attack_ms: DOWN_MS,
                release_ms: BACK_MS,
                ..Band::default()
            };
            Settings::Equaliser(Equaliser { bands: vec![band] })
        }
        Settings::Compressor(s) => Settings::Compressor(Compressor { attack_ms: DOWN_MS, release_ms: BACK_MS, ..s }),
        Settings::EnvelopeFilter(s) => {
            // Open, and shut down by the key.
            Settings::EnvelopeFilter(EnvelopeFilter { cutoff_hz: 8000.0, amount_oct: -3.0, pass: Pass::Low, ..s })
        }
        other => other,
    };
    Times::of(settings, place).on(&plain)
}

/// As it was set before as another kind, with the times that it has now where they were changed.
pub fn goes_back(before: &Settings, now: &Settings, place: Place) -> Settings {
    if Times::of(before, place).on(now) == *now { before.clone() } else { Times::of(now, place).on(before) }
}
