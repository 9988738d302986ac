//! What a measured lane might gain from. Each is an edit that a person can refuse.

use super::measure::{Measured, StripLevels};
use super::trims::{SumLine, sums};
use lane_analysis::Bands;
use lane_document::checks::{Repair, same_sound_repair};
use lane_document::edit::{AddProcessor, Edit, SetProcessor, SetStrips, StripChange};
use lane_document::session::{Family, Session, Shared, Strip, StripKind, limits};
use lane_dsp::equaliser::{Shape, Slope};
use lane_dsp::{Band, Equaliser, Settings, StereoImage};
use lane_engine::Station;
use lane_units::StripId;
use serde::Serialize;

/// One suggestion.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Suggestion {
    /// The strip that it is about.
    pub strip: StripId,
    /// Stays the same while the thing is there, so that it can be refused.
    pub key: String,
    /// What was found, with figures.
    pub sentence: String,
    /// Where it sits, to be marked on a spectrum.
    pub freq_hz: Option<f64>,
    /// An edit that mends it, where one does.
    pub repair: Option<Repair>,
}

/// Power under a low corner and over a high one, against the whole, that a voice can spare: -40 and -60 dB. What is
/// little up there is the stick of a hit.
const SPARE_LOW: f64 = 1e-4;
const SPARE_HIGH: f64 = 1e-6;
/// Corners are set so far outside of where the energy ends.
const ROOM: f64 = 0.8;
/// How far a resonance stands out of what lies around it, in dB.
const STANDS_OUT_DB: f64 = 10.0;
/// Bands of a twelfth of an octave on each side that lie around a resonance, the nearest left out.
const AROUND: std::ops::RangeInclusive<usize> = 3..=8;
/// Resonances under this are the voice itself, in Hz.
const RING_FROM_HZ: f64 = 180.0;
/// A resonance this far under the loudest band is not heard, in dB.
const HEARD_DB: f64 = 30.0;

/// Suggestions for every channel that sounds, in the order of the strips.
pub fn suggest(session: &Session, measured: &Measured) -> Vec<Suggestion> {
    let mut found = Vec::new();
    for strip in &session.strips {
        let Some(levels) = measured.strip(strip.id) else { continue };
        if let Some(clip) = clips(session, strip, levels) {
            found.push(clip);
        }
        if strip.kind != StripKind::Channel || levels.stations.iter().all(|s| s.rms_dbfs.is_none()) {
            continue;
        }
        let family = session.voices_on(strip.id).next().map(|v| v.family);
        found.extend(corners(session, strip, &levels.spectrum));
        found.extend(rings(session, strip, &levels.spectrum));
        if matches!(family, Some(Family::Low | Family::Bass)) {
            found.extend(wide_lows(session, strip));
        }
    }
    found.extend(sums(session, measured).iter().filter_map(|sum| cancels(session, measured, sum)));
    found
}

/// Sources come together so far under what unlike ones would: they take each other away, in dB.
const CANCELS_DB: f64 = -6.0;

/// What comes together and is lost in it: a copy that is inverted, or one that comes late.
fn cancels(session: &Session, measured: &Measured, sum: &SumLine) -> Option<Suggestion> {
    let expected = sum.expected_dbfs.filter(|_| sum.feeders > 1)?;
    let apart = sum.measured_dbfs.map(|db| db - expected);
    if apart.is_some_and(|db| db > CANCELS_DB) {
        return None;
    }
    let name = session.strip_name(sum.strip);
    let amount = apart.map_or("cancel each other completely".to_owned(), |db| {
        format!("come to {:.1} dB under what unlike ones would: they cancel", -db)
    });
    let sounds = |s: &&Strip| measured.at(s.id, Station::Out).is_some_and(|l| l.rms_dbfs.is_some());
    let feeds = |s: &&Strip| s.output == Some(sum.strip) || s.send_to(sum.strip).is_some_and(|send| !send.mute);
    let feeders: Vec<&Strip> = Shared::values(&session.strips).filter(feeds).filter(sounds).collect();
    // Lanes of one sound are known to cancel; of two it is plain which to turn round; of more it is for ears.
    let repair = match &feeders[..] {
        _ if let Some(repair) = same_sound_repair(session, &feeders.iter().map(|s| s.id).collect::<Vec<_>>()) => {
            Some(repair)
        }
        [_, second] => Some(Repair {
            name: format!("Invert {}", session.strip_name(second.id)),
            edit: Edit::SetStrips(SetStrips {
                strips: vec![second.id],
                change: StripChange::Polarity(second.polarity.other()),
            }),
        }),
        _ => None,
    };
    let names: Vec<String> = feeders.iter().take(4).map(|s| session.strip_name(s.id)).collect();
    let more = feeders.len().saturating_sub(names.len());
    let of = if more > 0 { format!("{} and {more} more", names.join(", ")) } else { names.join(" and ") };
    Some(Suggestion {
        strip: sum.strip,
        key: format!("cancels {}", sum.strip.0),
        sentence: format!("On {name}, {of} {amount}."),
        freq_hz: None,
        repair,
    })
}

/// The equaliser that a strip begins with.
fn with_band(strip: &Strip, band: Band) -> Edit {
    let first = strip.chain.iter().find_map(|p| match &p.settings {
        Settings::Equaliser(equaliser) if p.on => Some((p.id, equaliser)),
        _ => None,
    });
    match first {
        Some((id, equaliser)) => {
            let mut bands = equaliser.bands.clone();
            bands.push(band);
            let to = Settings::Equaliser(Equaliser { bands });
            Edit::SetProcessor(SetProcessor {
                strip: strip.id,
                processor: id,
                change: lane_document::edit::ProcessorChange::Settings(to),
            })
        }
        None => Edit::AddProcessor(AddProcessor {
            strips: vec![strip.id],
            settings: Settings::Equaliser(Equaliser { bands: vec![band] }),
            key: None,
            at: Some(0),
        }),
    }
}

/// Whether an equaliser of the strip has a band of a shape near a frequency already.
fn has_band(strip: &Strip, near_hz: f64, shapes: &[Shape], octaves: f64) -> bool {
    let near = |b: &Band| shapes.contains(&b.shape) && libm::log2(b.freq_hz / near_hz).abs() < octaves;
    strip.chain.iter().any(|p| matches!(&p.settings, Settings::Equaliser(e) if p.on && e.bands.iter().any(near)))
}

/// Two figures that say enough.
fn round_hz(hz: f64) -> f64 {
    let unit = libm::exp10(libm::floor(libm::log10(hz)) - 1.0);
    libm::round(hz / unit) * unit
}

fn words(hz: f64) -> String {
    if hz < 1000.0 { format!("{hz:.0} Hz") } else { format!("{:.1} kHz", hz / 1000.0) }
}

/// Where the energy of a voice ends, below and above.
fn corners(session: &Session, strip: &Strip, bands: &Bands) -> Vec<Suggestion> {
    let power: Vec<f64> = bands.db.iter().map(|db| libm::exp10(db / 10.0)).collect();
    let whole: f64 = power.iter().sum();
    let end = |mut of: Box<dyn Iterator<Item = usize>>, spare: f64| {
        let mut sum = 0.0;
        of.find(|n| {
            sum += power[*n];
            sum > spare * whole
        })
    };
    let low = end(Box::new(0..power.len()), SPARE_LOW);
    let high = end(Box::new((0..power.len()).rev()), SPARE_HIGH);
    let (Some(low), Some(high)) = (low, high) else { return Vec::new() };
    let name = session.strip_name(strip.id);
    let mut found = Vec::new();
    let low_hz = round_hz(bands.hz[low] * ROOM);
    if low_hz >= 30.0 && !has_band(strip, low_hz, &[Shape::HighPass], 8.0) {
        let band = Band { shape: Shape::HighPass, freq_hz: low_hz, slope: Slope::Db24, ..Band::default() };
        found.push(Suggestion {
            strip: strip.id,
            key: format!("high-pass {}", strip.id.0),
            sentence: format!("{name} has next to nothing under {}.", words(bands.hz[low])),
            freq_hz: Some(low_hz),
            repair: Some(Repair { name: format!("High-pass at {}", words(low_hz)), edit: with_band(strip, band) }),
        });
    }
    let high_hz = round_hz(bands.hz[high] / ROOM);
    if high_hz <= 14_000.0 && !has_band(strip, high_hz, &[Shape::LowPass], 8.0) {
        let band = Band { shape: Shape::LowPass, freq_hz: high_hz, slope: Slope::Db12, ..Band::default() };
        found.push(Suggestion {
            strip: strip.id,
            key: format!("low-pass {}", strip.id.0),
            sentence: format!("{name} has next to nothing over {}.", words(bands.hz[high])),
            freq_hz: Some(high_hz),
            repair: Some(Repair { name: format!("Low-pass at {}", words(high_hz)), edit: with_band(strip, band) }),
        });
    }
    found
}

/// Narrow bands that stand out, the voice's own tone left alone; at most two.
fn rings(session: &Session, strip: &Strip, bands: &Bands) -> Vec<Suggestion> {
    let db = &bands.db;
    let loudest = (0..db.len()).max_by(|a, b| db[*a].total_cmp(&db[*b])).unwrap_or(0);
    let out_by = |n: usize| {
        let around: Vec<f64> =
            AROUND.flat_map(|by| [n.checked_sub(by), Some(n + by)]).filter_map(|at| db.get(at?).copied()).collect();
        let mean = around.iter().map(|db| libm::exp10(db / 10.0)).sum::<f64>() / around.len().max(1) as f64;
        db[n] - 10.0 * libm::log10(mean.max(1e-15))
    };
    let peak = |n: usize| n > 0 && n + 1 < db.len() && db[n] >= db[n - 1] && db[n] > db[n + 1];
    let mut found: Vec<(usize, f64)> = (0..db.len())
        .filter(|n| bands.hz[*n] >= RING_FROM_HZ && n.abs_diff(loudest) > 2 && peak(*n))
        .filter(|n| db[*n] > db[loudest] - HEARD_DB)
        .map(|n| (n, out_by(n)))
        .filter(|(_, out)| *out > STANDS_OUT_DB)
        .collect();
    found.sort_by(|a, b| b.1.total_cmp(&a.1));
    let name = session.strip_name(strip.id);
    found
        .into_iter()
        .take(2)
        .filter(|(n, _)| !has_band(strip, bands.hz[*n], &[Shape::Bell, Shape::Notch], 0.2))
        .map(|(n, out)| {
            let freq_hz = libm::round(bands.hz[n]);
            let range_db = -libm::round((out / 2.0).clamp(3.0, 9.0));
            let threshold_dbfs = libm::round((db[n] - 6.0).clamp(-80.0, 0.0));
            let band = Band { freq_hz, q: 8.0, range_db, threshold_dbfs, ..Band::default() };
            Suggestion {
                strip: strip.id,
                key: format!("ring {} {n}", strip.id.0),
                sentence: format!("{name} rings at {}, {out:.0} dB over what lies around it.", words(freq_hz)),
                freq_hz: Some(freq_hz),
                repair: Some(Repair {
                    name: format!("A band that takes up to {:.0} dB there", -range_db),
                    edit: with_band(strip, band),
                }),
            }
        })
        .collect()
}

/// Frequency under which a kick or a bass is better in the middle, in Hz.
const MONO_HZ: f64 = 120.0;

/// A low voice whose lows may differ between the sides.
fn wide_lows(session: &Session, strip: &Strip) -> Option<Suggestion> {
    let stereo = session
        .voices_on(strip.id)
        .any(|v| v.source.assets().iter().any(|id| session.assets.iter().any(|a| a.id == **id && a.channels == 2)));
    let narrowed = strip.width_percent == 0.0
        || strip.chain.iter().any(|p| matches!(&p.settings, Settings::StereoImage(u) if p.on && u.mono_below_hz > 0.0));
    if !stereo || narrowed {
        return None;
    }
    let settings = Settings::StereoImage(StereoImage { mono_below_hz: MONO_HZ, ..StereoImage::default() });
    Some(Suggestion {
        strip: strip.id,
        key: format!("mono {}", strip.id.0),
        sentence: format!("{} is stereo below {}.", session.strip_name(strip.id), words(MONO_HZ)),
        freq_hz: Some(MONO_HZ),
        repair: Some(Repair {
            name: format!("Mono below {}", words(MONO_HZ)),
            edit: Edit::AddProcessor(AddProcessor { strips: vec![strip.id], settings, key: None, at: None }),
        }),
    })
}

/// The first station that goes over full scale.
fn clips(session: &Session, strip: &Strip, levels: &StripLevels) -> Option<Suggestion> {
    let (at, over) = levels
        .stations
        .iter()
        .enumerate()
        // A source over full scale loses nothing as long as its trim takes it down.
        .filter(|(_, s)| !matches!(s.station, Station::Source | Station::Key(_)))
        .find_map(|(at, s)| s.sample_peak_dbfs.filter(|db| *db > 0.0).map(|db| (at, db)))?;
    let station = levels.stations[at].station;
    let lower = libm::floor(-10.0 * (over + 1.0)) / 10.0;
    let (place, repair) = match station {
        Station::Source | Station::Key(_) | Station::Trimmed => {
            ("after trim", StripChange::TrimDb((strip.trim_db + lower).max(limits::TRIM_DB.0)))
        }
        Station::Out => ("after its fader", StripChange::FaderDb((strip.fader_db + lower).max(limits::FADER_DB.0))),
        Station::Processor(id) => {
            let at = strip.chain.iter().position(|p| p.id == id)?;
            let processor = &strip.chain[at];
            let to = lane_document::edit::ProcessorChange::OutputDb((processor.output_db + lower).max(-60.0));
            let kind = processor.settings.name().to_lowercase();
            return Some(Suggestion {
                strip: strip.id,
                key: format!("clips {} {}", strip.id.0, id.0),
                sentence: format!(
                    "{} goes {over:.1} dB over full scale after processor {}, {kind}.",
                    session.strip_name(strip.id),
                    at + 1
                ),
                freq_hz: None,
                repair: Some(Repair {
                    name: format!("Output of the {kind} down by {:.1} dB", -lower),
                    edit: Edit::SetProcessor(SetProcessor { strip: strip.id, processor: id, change: to }),
                }),
            });
        }
    };
    let repair = Some(Repair {
        name: format!("{} down by {:.1} dB", if station == Station::Trimmed { "Trim" } else { "Fader" }, -lower),
        edit: Edit::SetStrips(SetStrips { strips: vec![strip.id], change: repair }),
    });
    Some(Suggestion {
        strip: strip.id,
        key: format!("clips {} {place}", strip.id.0),
        sentence: format!("{} goes {over:.1} dB over full scale {place}.", session.strip_name(strip.id)),
        freq_hz: None,
        repair,
    })
}
