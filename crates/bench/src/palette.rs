//! A session with every kind of processor at any sample rate.

use lane_document::edit::{AddProcessor, Edit, NewPath, SetPattern, SetStrips, StripChange};
use lane_document::session::{Family, Key, Pattern, Processor};
use lane_dsp::beat_shape::ShapeBand;
use lane_dsp::compressor::Direction;
use lane_dsp::delay::NoteValue;
use lane_dsp::equaliser::{Shape, Slope};
use lane_dsp::{
    Band, BeatShape, Clipper, Compressor, Crush, Delay, Enhancer, EnvelopeFilter, Equaliser, Gate, Limiter, Reverb,
    Saturation, Settings, StereoImage, Transient,
};
use lane_house::builder::{Builder, fill};
use lane_house::{DemoSession, Sound};
use lane_units::{ProcessorId, Title};

fn equaliser() -> Settings {
    Settings::Equaliser(Equaliser {
        bands: vec![
            Band { shape: Shape::HighPass, freq_hz: 40.0, slope: Slope::Db12, ..Band::default() },
            Band { freq_hz: 320.0, gain_db: -3.0, ..Band::default() },
            Band { freq_hz: 2800.0, gain_db: 2.5, ..Band::default() },
            Band { shape: Shape::HighShelf, freq_hz: 9000.0, gain_db: 2.0, ..Band::default() },
        ],
    })
}

fn transient() -> Settings {
    Settings::Transient(Transient { attack_db: 4.0, sustain_db: -3.0, ..Transient::default() })
}

fn compressor() -> Settings {
    Settings::Compressor(Compressor { threshold_dbfs: -24.0, ..Compressor::default() })
}

/// Six lanes and two returns on which every kind of processor is at work.
///
/// * `rate` – in Hz, one of the session rates.
pub fn palette_session(rate: u32) -> DemoSession {
    let mut b = Builder::new(Title::cleaned(&format!("Palette {rate}"), "Palette"), rate, 118.0, "C min", 50.0);
    let pattern = b.session.patterns[0].id;
    b.apply(Edit::SetPattern(SetPattern { pattern: Pattern { id: pattern, name: "Loop".into(), bars: 1 } }));
    b.song(&[("Loop", pattern, 8)]);
    let moving = Band { freq_hz: 250.0, range_db: -8.0, threshold_dbfs: -36.0, ..Band::default() };
    let shelf = Band { shape: Shape::HighShelf, freq_hz: 12_000.0, gain_db: -4.0, ..Band::default() };
    let lanes: [(Sound, Family, &'static str, Vec<Settings>); 6] = [
        (
            Sound::Kick,
            Family::Low,
            "X...X...X...X...",
            vec![
                equaliser(),
                transient(),
                Settings::Saturation(Saturation { drive_db: 15.0, hardness_percent: 30.0 }),
                Settings::Clipper(Clipper { ceiling_dbfs: -6.0, hardness_percent: 80.0 }),
            ],
        ),
        (
            Sound::Snare,
            Family::Snare,
            "....X.......X..o",
            vec![
                Settings::Gate(Gate { threshold_dbfs: -30.0, lookahead_ms: 1.0, ..Gate::default() }),
                Settings::Equaliser(Equaliser { bands: vec![moving, shelf] }),
                Settings::Enhancer(Enhancer { low_percent: 40.0, high_percent: 60.0, ..Enhancer::default() }),
            ],
        ),
        (
            Sound::HatOpen,
            Family::Hats,
            "..x...x...x...x.",
            vec![
                Settings::EnvelopeFilter(EnvelopeFilter { amount_oct: 3.0, q: 3.0, ..EnvelopeFilter::default() }),
                Settings::Crush(Crush { bits: 8.0, rate_percent: 40.0 }),
            ],
        ),
        (
            Sound::SubBass,
            Family::Bass,
            "X.....x...X.....",
            vec![
                compressor(),
                Settings::StereoImage(StereoImage {
                    mono_below_hz: 120.0,
                    delay_frames: 11.0,
                    ..StereoImage::default()
                }),
            ],
        ),
        (Sound::Keys, Family::Music, "X.......x.......", vec![compressor()]),
        (Sound::Pluck, Family::Music, "..x..x..x..x..x.", vec![transient()]),
    ];
    for (at, (sound, family, phrase, chain)) in lanes.into_iter().enumerate() {
        b.lane(sound, family, (-8.0, 15.0), vec![(pattern, fill(phrase, 1))]);
        b.chain(at, chain);
    }
    let reverb = Reverb { decay_s: 1.2, low_cut_hz: 150.0, ..Reverb::default() };
    b.send_to("Room", &[(1, -6.0), (4, -10.0)], Settings::Reverb(reverb));
    let delay = Delay { note: NoteValue::Free, time_ms: 217.3, ..Delay::default() };
    b.send_to("Echo", &[(5, -6.0)], Settings::Delay(delay));
    b.duck_by_first(3);
    let key = Some(Key::new(b.session.voices[0].channel));
    let gate = Settings::Gate(Gate { ratio: 3.0, range_db: 12.0, ..Gate::default() });
    b.apply(Edit::AddProcessor(AddProcessor {
        strips: vec![b.session.voices[4].channel],
        settings: gate,
        key,
        at: None,
    }));
    let mut shape = BeatShape::default();
    shape.base.band = ShapeBand::Around;
    for (lane, key) in [(4, None), (5, key)] {
        let (strips, settings) = (vec![b.session.voices[lane].channel], Settings::BeatShape(shape.clone()));
        b.apply(Edit::AddProcessor(AddProcessor { strips, settings, key, at: None }));
        shape = BeatShape::default();
    }
    // A path that lifts, fed before the faders by rows that are panned; rows that are played earlier and later.
    let channel = |b: &Builder, lane: usize| b.session.voices[lane].channel;
    let lift = Compressor { direction: Direction::Up, threshold_dbfs: -20.0, range_db: 15.0, ..Compressor::default() };
    let processors = vec![Processor::new(ProcessorId(1), Settings::Compressor(lift))];
    let feeders = vec![channel(&b, 0), channel(&b, 1)];
    b.apply(Edit::NewPath(NewPath { name: "Lift".into(), feeders, processors }));
    let path = b.session.strips.iter().find(|s| s.name == "Lift").expect("it was just made").id;
    for (strip, change) in [
        (path, StripChange::FaderDb(-18.0)),
        (channel(&b, 1), StripChange::PanPercent(40.0)),
        (channel(&b, 2), StripChange::OffsetFrames(-37)),
        (channel(&b, 3), StripChange::OffsetFrames(20)),
    ] {
        b.apply(Edit::SetStrips(SetStrips { strips: vec![strip], change }));
    }
    let main = b.session.strips.last().expect("main is always there").id;
    // Low enough that every loud hit meets it.
    let limiter = Settings::Limiter(Limiter { ceiling_dbtp: -14.0, ..Limiter::default() });
    b.apply(Edit::AddProcessor(AddProcessor { strips: vec![main], settings: limiter, key: None, at: None }));
    b.done()
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_engine::{Engine, METER_VALUES, Metering, SLOT_METER_VALUES};
    use lane_units::{SAMPLE_RATES, gain_to_db};

    #[test]
    fn the_palette_has_every_kind_at_every_rate() {
        for rate in SAMPLE_RATES {
            let DemoSession { session, .. } = palette_session(rate);
            session.validate().unwrap();
            assert_eq!(session.header.sample_rate, rate);
            let used: Vec<_> = session.strips.iter().flat_map(|s| s.chain.iter().map(|p| p.settings.name())).collect();
            for settings in Settings::all() {
                assert!(used.contains(&settings.name()), "{} is missing", settings.name());
            }
        }
    }

    #[test]
    fn what_reduces_in_the_palette_is_at_work() {
        for rate in SAMPLE_RATES {
            let DemoSession { session, bank } = palette_session(rate);
            let mut engine = Engine::new(&session, &bank, 512, Metering::On);
            engine.play();
            let mut out = vec![[0.0; 2]; 4 * rate as usize];
            engine.process(&mut out);
            let mut values = vec![0.0; engine.meter_values()];
            engine.read_meters(&mut values);
            let mut rest = values.as_slice();
            for layout in engine.meter_layout() {
                rest = &rest[METER_VALUES..];
                for id in layout.processors {
                    let (slot, after) = rest.split_at(SLOT_METER_VALUES);
                    rest = after;
                    let chain = &session.strip(layout.strip).unwrap().chain;
                    let processor = chain.iter().find(|p| p.id == id).unwrap();
                    // An equaliser that does not move takes nothing away; a filter says how far it goes.
                    let still =
                        matches!(&processor.settings, Settings::Equaliser(e) if !e.bands.iter().any(Band::moves));
                    assert_eq!(
                        slot[4].abs() > 0.5,
                        (processor.settings.reduces() || processor.settings.sweeps()) && !still,
                        "{} at {rate} Hz",
                        processor.settings.name()
                    );
                }
            }
            let peak = out.as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs()));
            assert!((-15.0..=-14.0).contains(&gain_to_db(peak)), "{} dBFS", gain_to_db(peak));
        }
    }
}
