//! A way for one sound to make room for another: what they share, and what takes the most of it away.

use super::overlap::{BANDS, Cells, edges_hz, overlap};
use super::pair::{Pair, PairFigures};
use super::run::Ducking;
use super::solve::{depth, recovery, tried};
use lane_dsp::equaliser::{Band, Equaliser, Shape};
use lane_dsp::{Compressor, Settings};
use lane_units::{Frame, ProcessorId};
use serde::Serialize;

/// What would do without ducking.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "way", rename_all = "snake_case")]
pub enum Alternative {
    /// The target turned round.
    Polarity {
        /// By how much louder both together are then, in dB.
        gain_db: f64,
    },
    /// The target later.
    Delay {
        /// In frames, up to 10 ms.
        frames: u32,
        /// By how much louder both together are then, in dB.
        gain_db: f64,
    },
}

/// A ducker that is proposed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct RoomProposal {
    /// How it is set.
    pub settings: Settings,
    /// What it takes away at its deepest, in dB.
    pub depth_db: f64,
    /// What it works on in Hz; nothing for the whole sound.
    pub band_hz: Option<(f64, f64)>,
    /// Recovery before the next hit at its shortest, in ms; nothing where it is not known.
    pub recovery_ms: Option<f64>,
    /// What becomes of both.
    pub figures: PairFigures,
}

/// What was found about a pair.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Room {
    /// Per cent of the target's energy that is shared.
    pub overlap_percent: f64,
    /// What is worth trying first, since they take from each other.
    pub first: Option<Alternative>,
    /// A ducker that would make room; nothing where there is none to make.
    pub proposal: Option<RoomProposal>,
    /// Why there is none, for people.
    pub short: Option<String>,
}

/// Less of the target's energy than this is not worth a ducker, in per cent.
const LITTLE_PERCENT: f64 = 5.0;
/// Depths that are tried, the least first, until the overlap is halved.
const DEPTHS_DB: [f64; 4] = [4.0, 8.0, 12.0, 15.0];
/// A proposal leaves no more of the overlap than this part.
const WORTH: f64 = 0.9;
/// A band that is proposed holds so much of what is shared, and is no wider than so many octaves.
const HELD: f64 = 0.8;
const OCTAVES: f64 = 3.0;
/// Nobody hears what is over this.
const HIGHEST_HZ: f64 = 20_000.0;

/// What a pair shares and how room would be made; the ducker in focus is one that takes nothing away.
///
/// Cost: transforms of both sounds, the ducker over the stretch some thirty times.
pub fn make_room(run: &Ducking, processor: ProcessorId) -> Option<Room> {
    let (trace, pair) = run.pair(processor)?;
    let whole = pair.target(trace, None);
    let (target, key) = (Cells::of(&whole, pair.rate()), Cells::of(pair.key(), pair.rate()));
    let none = |overlap_percent, why: &str| {
        Some(Room { overlap_percent, first: None, proposal: None, short: Some(why.to_owned()) })
    };
    let Some(shared) = overlap(&target, &key) else {
        return none(0.0, "they never sound at the same time here");
    };
    if shared.percent < LITTLE_PERCENT {
        return none(shared.percent, "they share next to nothing: there is no room to make");
    }
    let band = band_of(&shared.by_band);
    let Some(most) = DEPTHS_DB.last().and_then(|db| depth(run, trace, &start_of(band), *db)) else {
        return none(shared.percent, "no depth of a ducker takes any of it away");
    };
    // The others go less far, so that they are back sooner.
    let back = recovery(run, trace, &most.settings).filter(|found| found.short.is_none());
    let settled = back.map_or(most.settings, |back| back.settings);
    let mut best: Option<(Settings, f64, (Vec<Frame>, Cells))> = None;
    for db in DEPTHS_DB {
        let settings = limited(&settled, db);
        let ducked = pair.target(trace, Some(&settings));
        let cells = Cells::of(&ducked, pair.rate());
        let percent = overlap(&cells, &key).map_or(0.0, |o| o.percent);
        if best.as_ref().is_none_or(|(_, least, _)| percent < least - 1.0) {
            best = Some((settings, percent, (ducked, cells)));
        }
        if percent <= 0.5 * shared.percent {
            break;
        }
    }
    let first = alternative(pair, &whole);
    let proposal =
        best.filter(|(_, percent, _)| *percent <= WORTH * shared.percent).map(|(settings, _, (ducked, cells))| {
            let figures = tried(run, trace, &settings);
            RoomProposal {
                depth_db: figures.depth_db,
                band_hz: band,
                recovery_ms: figures.recovery_ms,
                figures: pair.figures_of((&whole, &target), (&ducked, &cells), &key),
                settings,
            }
        });
    let short = proposal.is_none().then(|| {
        "a ducker takes too little of it away: where one is much louder than the other, taking it down brings them nearer"
            .to_owned()
    });
    Some(Room { overlap_percent: shared.percent, first, proposal, short })
}

/// The same, going no further than so much.
fn limited(settings: &Settings, db: f64) -> Settings {
    let mut set = settings.clone();
    match &mut set {
        Settings::Compressor(c) => c.range_db = db,
        Settings::Equaliser(e) => e.bands.iter_mut().for_each(|b| b.range_db = -db),
        _ => {}
    }
    set
}

/// The fewest bands side by side that hold most of what is shared, in Hz; nothing where that is most of the sound.
fn band_of(by_band: &[f64; BANDS]) -> Option<(f64, f64)> {
    let octaves = |from: usize, to: usize| libm::log2(edges_hz(to).1 / edges_hz(from).0);
    let mut best: Option<(usize, usize)> = None;
    for from in 0..BANDS {
        let mut held = 0.0;
        for (to, part) in by_band.iter().enumerate().skip(from) {
            held += part;
            if held >= HELD {
                if best.is_none_or(|(a, b)| octaves(from, to) < octaves(a, b) - 1e-9) {
                    best = Some((from, to));
                }
                break;
            }
        }
    }
    let (from, to) = best.filter(|(from, to)| octaves(*from, *to) <= OCTAVES + 1e-9)?;
    Some((edges_hz(from).0, edges_hz(to).1.min(HIGHEST_HZ)))
}

fn start_of(band: Option<(f64, f64)>) -> Settings {
    let Some((from, to)) = band else {
        return Settings::Compressor(Compressor {
            ratio: 6.0,
            attack_ms: 2.0,
            release_ms: 90.0,
            ..Compressor::default()
        });
    };
    let freq_hz = libm::round(libm::sqrt(from * to));
    let q = (freq_hz / (to - from)).clamp(0.4, 4.0);
    let moving =
        Band { shape: Shape::Bell, freq_hz, q: (q * 100.0).round() / 100.0, range_db: -6.0, ..Band::default() };
    Settings::Equaliser(Equaliser { bands: vec![Band { attack_ms: 2.0, ..moving }] })
}

/// Frames that are summed into one while a delay is looked for.
const COARSE: usize = 8;
/// What has to be won by turning round or waiting, in dB.
const WORTH_DB: f64 = 1.0;

/// Whether they take from each other where they meet, and what would mend it.
fn alternative(pair: &Pair, target: &[Frame]) -> Option<Alternative> {
    let mono = |frames: &[Frame]| frames.iter().map(|[l, r]| 0.5 * (l + r)).collect::<Vec<f64>>();
    let (key, target) = (mono(pair.key()), mono(target));
    let energy = |x: &[f64]| x.iter().map(|x| x * x).sum::<f64>();
    let both = energy(&key) + energy(&target);
    // What both together come to when the target waits so many frames.
    let product =
        |key: &[f64], target: &[f64], late: usize| key.iter().skip(late).zip(target).map(|(k, t)| k * t).sum::<f64>();
    let gain_db = |product: f64| 10.0 * libm::log10(((both + 2.0 * product) / both.max(1e-12)).max(1e-6));
    let now = product(&key, &target, 0);
    if both <= 0.0 || gain_db(now) > -0.3 {
        return None;
    }
    let coarse = |x: &[f64]| x.chunks(COARSE).map(|c| c.iter().sum::<f64>()).collect::<Vec<f64>>();
    let (slow_key, slow_target) = (coarse(&key), coarse(&target));
    let most = pair.rate() as usize / 100;
    let near = (0..=most / COARSE)
        .map(|late| (late, product(&slow_key, &slow_target, late)))
        .max_by(|a, b| a.1.total_cmp(&b.1))
        .map_or(0, |(late, _)| late * COARSE);
    let (late, delayed) = (near.saturating_sub(COARSE)..=(near + COARSE).min(most))
        .map(|late| (late, product(&key, &target, late)))
        .max_by(|a, b| a.1.total_cmp(&b.1))?;
    let (turned, waited) = (gain_db(-now) - gain_db(now), gain_db(delayed) - gain_db(now));
    // Turning round costs nothing; waiting has to be worth more.
    if turned >= WORTH_DB && turned >= waited - 0.5 {
        Some(Alternative::Polarity { gain_db: turned })
    } else if waited >= WORTH_DB {
        Some(Alternative::Delay { frames: late as u32, gain_db: waited })
    } else {
        None
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_fewest_bands_that_hold_most_are_proposed_and_the_whole_sound_where_those_are_many() {
        let mut by_band = [0.0; BANDS];
        (by_band[1], by_band[2], by_band[10]) = (0.5, 0.35, 0.15);
        let (from, to) = band_of(&by_band).unwrap();
        assert_eq!((from, to), (edges_hz(1).0, edges_hz(2).1));
        let Settings::Equaliser(e) = start_of(Some((from, to))) else { panic!("a moving band") };
        let band = &e.bands[0];
        assert!(band.moves() && (band.freq_hz - libm::round(libm::sqrt(from * to))).abs() < 1e-9, "{band:?}");
        assert!((band.q - band.freq_hz / (to - from)).abs() < 0.01);
        assert_eq!(band_of(&[1.0 / BANDS as f64; BANDS]), None);
        assert!(matches!(start_of(None), Settings::Compressor(_)));
        assert_eq!(band_of(&[0.0; BANDS]), None);
    }
}
