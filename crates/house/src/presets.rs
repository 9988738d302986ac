//! Presets that ship with the program: single processors, and chains for kinds of voices.

use lane_document::session::Processor;
use lane_dsp::beat_shape::{ShapeBand, ShapeLength};
use lane_dsp::compressor::Direction;
use lane_dsp::delay::{NoteValue, Sides};
use lane_dsp::equaliser::{Shape, Slope};
use lane_dsp::reverb::Space;
use lane_dsp::{
    Band, BeatShape, Clipper, Compressor, Crush, Delay, Enhancer, EnvelopeFilter, Equaliser, Gate, Limiter, Reverb,
    Saturation, Settings, StereoImage, TimeIn, Transient,
};
use lane_units::ProcessorId;

/// One of our presets.
pub struct HousePreset {
    pub name: &'static str,
    pub processors: Vec<Processor>,
}

fn chain(name: &'static str, settings: Vec<Settings>) -> HousePreset {
    let numbered = settings.into_iter().zip(1..).map(|(s, id)| Processor::new(ProcessorId(id), s));
    HousePreset { name, processors: numbered.collect() }
}

fn one(name: &'static str, settings: Settings) -> HousePreset {
    chain(name, vec![settings])
}

fn bands(bands: Vec<Band>) -> Settings {
    Settings::Equaliser(Equaliser { bands })
}

fn high_pass(freq_hz: f64) -> Band {
    Band { shape: Shape::HighPass, slope: Slope::Db24, freq_hz, ..Band::default() }
}

fn bell(freq_hz: f64, gain_db: f64, q: f64) -> Band {
    Band { freq_hz, gain_db, q, ..Band::default() }
}

fn shelf(shape: Shape, freq_hz: f64, gain_db: f64) -> Band {
    Band { shape, freq_hz, gain_db, ..Band::default() }
}

/// Our presets: chains first, then single processors by kind.
pub fn house_presets() -> Vec<HousePreset> {
    let mut all = chains();
    all.extend(singles());
    all
}

fn chains() -> Vec<HousePreset> {
    vec![
        chain(
            "Kick, short and up front",
            vec![
                bands(vec![high_pass(28.0), bell(320.0, -3.5, 1.2)]),
                Settings::Transient(Transient { attack_db: 4.0, sustain_db: -5.0, ..Transient::default() }),
                Settings::Clipper(Clipper { ceiling_dbfs: -4.0, hardness_percent: 70.0 }),
            ],
        ),
        chain(
            "Snare, less ring",
            vec![
                bands(vec![
                    high_pass(90.0),
                    Band { range_db: -5.0, threshold_dbfs: -32.0, ..bell(820.0, 0.0, 6.0) },
                    shelf(Shape::HighShelf, 7000.0, 2.0),
                ]),
                Settings::Transient(Transient { attack_db: 3.0, sustain_db: -4.0, ..Transient::default() }),
                Settings::Compressor(Compressor {
                    threshold_dbfs: -20.0,
                    ratio: 3.0,
                    attack_ms: 12.0,
                    release_ms: 90.0,
                    makeup_db: 2.0,
                    ..Compressor::default()
                }),
            ],
        ),
        chain(
            "Hats, wide and softer",
            vec![
                bands(vec![high_pass(350.0), shelf(Shape::HighShelf, 10_000.0, -2.0)]),
                Settings::Transient(Transient { attack_db: -3.0, speed_ms: 6.0, ..Transient::default() }),
                Settings::StereoImage(StereoImage { width_percent: 130.0, ..StereoImage::default() }),
            ],
        ),
        chain(
            "Bass, mono and audible on small speakers",
            vec![
                bands(vec![high_pass(26.0)]),
                Settings::Enhancer(Enhancer { low_hz: 110.0, low_percent: 35.0, ..Enhancer::default() }),
                Settings::StereoImage(StereoImage { mono_below_hz: 130.0, ..StereoImage::default() }),
            ],
        ),
        chain(
            "Drum bus, held together",
            vec![
                Settings::Compressor(Compressor {
                    threshold_dbfs: -16.0,
                    ratio: 2.0,
                    knee_db: 9.0,
                    attack_ms: 30.0,
                    release_ms: 110.0,
                    ..Compressor::default()
                }),
                Settings::Saturation(Saturation { drive_db: 4.0, hardness_percent: 0.0 }),
                Settings::Limiter(Limiter { ceiling_dbtp: -3.0, ..Limiter::default() }),
            ],
        ),
        chain(
            "Parallel press",
            vec![
                Settings::Compressor(Compressor {
                    threshold_dbfs: -34.0,
                    ratio: 12.0,
                    knee_db: 3.0,
                    attack_ms: 1.5,
                    release_ms: 60.0,
                    makeup_db: 10.0,
                    ..Compressor::default()
                }),
                bands(vec![shelf(Shape::LowShelf, 110.0, 3.0), shelf(Shape::HighShelf, 8000.0, 2.5)]),
            ],
        ),
    ]
}

fn singles() -> Vec<HousePreset> {
    let compressor = |threshold_dbfs: f64, ratio: f64, attack_ms: f64, release_ms: f64| {
        Settings::Compressor(Compressor { threshold_dbfs, ratio, attack_ms, release_ms, ..Compressor::default() })
    };
    // Threshold, ratio, knee and attack; the release follows the tempo.
    let on_the_beat = |name: &'static str, (threshold_dbfs, ratio, knee_db, attack_ms), release_in, budget_db: f64| {
        let base = Compressor { threshold_dbfs, ratio, knee_db, attack_ms, ..Compressor::default() };
        one(name, Settings::Compressor(Compressor { release_in, budget_db, ..base }))
    };
    let transient = |attack_db: f64, sustain_db: f64| {
        Settings::Transient(Transient { attack_db, sustain_db, ..Transient::default() })
    };
    let shape = |name: &'static str, start: usize, length: ShapeLength, part: ShapeBand| {
        let mut set = BeatShape { points: BeatShape::starts().swap_remove(start).1, ..BeatShape::default() };
        (set.base.length, set.base.band) = (length, part);
        one(name, Settings::BeatShape(set))
    };
    vec![
        one("Clear the lows", bands(vec![high_pass(80.0)])),
        one("Take the box out", bands(vec![bell(400.0, -4.0, 1.0)])),
        one("Air", bands(vec![shelf(Shape::HighShelf, 11_000.0, 3.0)])),
        one("Gentle, 2 to 1", compressor(-22.0, 2.0, 20.0, 150.0)),
        one("Punch through", compressor(-20.0, 4.0, 30.0, 80.0)),
        one("Hold the peaks", compressor(-14.0, 10.0, 0.5, 60.0)),
        on_the_beat("Bus, held together by 2 dB", (-18.0, 2.0, 8.0, 30.0), TimeIn::Eighth, 2.0),
        on_the_beat("Bus, moves with the beat", (-22.0, 4.0, 4.0, 10.0), TimeIn::Quarter, 4.0),
        one(
            "Bring up what is soft",
            Settings::Compressor(Compressor {
                direction: Direction::Up,
                threshold_dbfs: -18.0,
                floor_dbfs: -72.0,
                ratio: 3.0,
                range_db: 12.0,
                attack_ms: 2.0,
                release_ms: 60.0,
                ..Compressor::default()
            }),
        ),
        one("Shut between hits", Settings::Gate(Gate { threshold_dbfs: -34.0, release_ms: 60.0, ..Gate::default() })),
        one(
            "Push the tail down",
            Settings::Gate(Gate { threshold_dbfs: -30.0, ratio: 2.0, range_db: 12.0, ..Gate::default() }),
        ),
        shape("Quick, every beat", 0, ShapeLength::Quarter, ShapeBand::Whole),
        shape("Round, every beat", 1, ShapeLength::Quarter, ShapeBand::Whole),
        shape("Late, twice a bar", 2, ShapeLength::Half, ShapeBand::Whole),
        shape("Two steps, lows alone", 3, ShapeLength::Quarter, ShapeBand::Low),
        one("Tighter", transient(0.0, -9.0)),
        one("More stick", transient(6.0, 0.0)),
        one("Less bite", transient(-5.0, 0.0)),
        one("Warm", Settings::Saturation(Saturation { drive_db: 8.0, hardness_percent: 0.0 })),
        one("Edge", Settings::Saturation(Saturation { drive_db: 16.0, hardness_percent: 45.0 })),
        one("Touch the peaks", Settings::Clipper(Clipper { ceiling_dbfs: -3.0, hardness_percent: 60.0 })),
        one("Heard on small speakers", Settings::Enhancer(Enhancer { low_percent: 40.0, ..Enhancer::default() })),
        one("Brighter", Settings::Enhancer(Enhancer { high_percent: 25.0, ..Enhancer::default() })),
        one("Stay under -1 dBTP", Settings::Limiter(Limiter::default())),
        one(
            "Opens with the hit",
            Settings::EnvelopeFilter(EnvelopeFilter {
                cutoff_hz: 220.0,
                q: 2.0,
                amount_oct: 4.0,
                ..EnvelopeFilter::default()
            }),
        ),
        one("Twelve bits", Settings::Crush(Crush { bits: 12.0, rate_percent: 55.0 })),
        one("Dotted echo", Settings::Delay(Delay { note: NoteValue::EighthDotted, ..Delay::default() })),
        one(
            "Side to side",
            Settings::Delay(Delay {
                note: NoteValue::Eighth,
                sides: Sides::PingPong,
                low_cut_hz: 250.0,
                high_cut_hz: 6000.0,
                ..Delay::default()
            }),
        ),
        one(
            "Small room",
            Settings::Reverb(Reverb { decay_s: 0.5, size_percent: 70.0, low_cut_hz: 180.0, ..Reverb::default() }),
        ),
        one(
            "Snare plate",
            Settings::Reverb(Reverb {
                space: Space::Plate,
                decay_s: 1.4,
                predelay_ms: 18.0,
                low_cut_hz: 250.0,
                ..Reverb::default()
            }),
        ),
        one(
            "Long hall",
            Settings::Reverb(Reverb {
                space: Space::Hall,
                decay_s: 3.2,
                predelay_ms: 30.0,
                low_cut_hz: 200.0,
                ..Reverb::default()
            }),
        ),
        one("Lows to mono", Settings::StereoImage(StereoImage { mono_below_hz: 120.0, ..StereoImage::default() })),
        one("Wider", Settings::StereoImage(StereoImage { width_percent: 140.0, ..StereoImage::default() })),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::edit::{Edit, InsertProcessors, apply};
    use lane_document::session::Session;

    #[test]
    fn every_preset_fits_a_chain_and_every_kind_has_one() {
        for preset in house_presets() {
            let mut session = Session::new("Preset", 48_000);
            let strips = vec![session.main().unwrap().id];
            let insert = Edit::InsertProcessors(InsertProcessors {
                strips,
                processors: preset.processors,
                at: None,
                replace: true,
            });
            apply(&mut session, &insert).unwrap_or_else(|e| panic!("{}: {e}", preset.name));
        }
        let kinds: Vec<&'static str> = singles().iter().map(|p| p.processors[0].settings.name()).collect();
        for kind in Settings::all() {
            assert!(kinds.contains(&kind.name()), "{} has no preset", kind.name());
        }
    }
}
