//! Ready chains: what stands in them, and where they are offered.

use crate::session::Processor;
use lane_dsp::compressor::{Detect, Direction};
use lane_dsp::delay::{NoteValue, Sides};
use lane_dsp::equaliser::{Shape, Slope};
use lane_dsp::reverb::Space;
use lane_dsp::{
    Band, Clipper, Compressor, Crush, Delay, Enhancer, Equaliser, Limiter, Reverb, Saturation, Settings, TimeIn,
};
use lane_units::ProcessorId;
use serde::Serialize;

/// Where a ready chain is offered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum ReadyPlace {
    /// On the return of a new parallel path.
    Path,
    /// On a bus or main, as its compressor.
    BusCompressor,
    /// On a bus or main.
    Bus,
    /// On main alone.
    Main,
}

/// A ready chain.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct ReadyChain {
    /// Where it is offered.
    pub place: ReadyPlace,
    /// What a path with it is called; the same word for other places, each its own there.
    pub name: &'static str,
    /// What it does, in few words.
    pub text: &'static str,
    /// Its processors; their ids are made where they come into a chain.
    pub processors: Vec<Processor>,
}

fn plain(settings: Settings) -> Processor {
    Processor::new(ProcessorId(0), settings)
}

/// Turned up in front and down behind, so that what bends, bends more.
fn driven(input_db: f64, output_db: f64, settings: Settings) -> Processor {
    Processor { input_db, output_db, ..plain(settings) }
}

fn corner(shape: Shape, freq_hz: f64) -> Band {
    Band { shape, freq_hz, slope: Slope::Db24, ..Band::default() }
}

fn space(space: Space) -> Processor {
    plain(Settings::Reverb(Reverb { space, ..Reverb::default() }))
}

fn echoes(note: NoteValue, sides: Sides) -> Processor {
    plain(Settings::Delay(Delay { note, sides, ..Delay::default() }))
}

fn saturation(drive_db: f64) -> Processor {
    plain(Settings::Saturation(Saturation { drive_db, ..Saturation::default() }))
}

/// A compressor of a bus: its release follows the tempo, and it says how much it shall take at most.
fn with_the_beat(of: Compressor) -> Processor {
    plain(Settings::Compressor(of))
}

fn held_together() -> Processor {
    with_the_beat(Compressor {
        threshold_dbfs: -18.0,
        ratio: 2.0,
        knee_db: 8.0,
        attack_ms: 30.0,
        release_in: TimeIn::Eighth,
        budget_db: 2.0,
        ..Compressor::default()
    })
}

fn limiter() -> Processor {
    plain(Settings::Limiter(Limiter::default()))
}

fn equaliser(bands: Vec<Band>) -> Processor {
    plain(Settings::Equaliser(Equaliser { bands }))
}

/// Every ready chain, by place, in the order in which they are offered there.
pub fn ready_chains() -> Vec<ReadyChain> {
    let at = |place, of: Vec<(&'static str, &'static str, Vec<Processor>)>| {
        of.into_iter().map(move |(name, text, processors)| ReadyChain { place, name, text, processors })
    };
    at(ReadyPlace::Path, paths())
        .chain(at(ReadyPlace::BusCompressor, bus_compressors()))
        .chain(at(ReadyPlace::Bus, buses()))
        .chain(at(ReadyPlace::Main, main()))
        .collect()
}

fn paths() -> Vec<(&'static str, &'static str, Vec<Processor>)> {
    let compressor = |of: Compressor| vec![plain(Settings::Compressor(of))];
    vec![
        (
            "Press",
            "compression: fast and hard",
            compressor(Compressor {
                threshold_dbfs: -36.0,
                ratio: 10.0,
                knee_db: 2.0,
                attack_ms: 0.5,
                release_ms: 130.0,
                makeup_db: 10.0,
                ..Compressor::default()
            }),
        ),
        (
            "Round",
            "compression: slow and round",
            compressor(Compressor {
                threshold_dbfs: -32.0,
                ratio: 4.0,
                knee_db: 12.0,
                attack_ms: 28.0,
                release_ms: 260.0,
                detect: Detect::Rms,
                makeup_db: 9.0,
                ..Compressor::default()
            }),
        ),
        (
            "Lift",
            "compression: what is soft comes up",
            compressor(Compressor {
                direction: Direction::Up,
                threshold_dbfs: -14.0,
                floor_dbfs: -78.0,
                ratio: 6.0,
                knee_db: 6.0,
                range_db: 24.0,
                attack_ms: 1.0,
                release_ms: 30.0,
                ..Compressor::default()
            }),
        ),
        ("Warm", "colour: saturation", vec![driven(9.0, -4.0, Settings::Saturation(Saturation::default()))]),
        ("Grit", "colour: clipped", vec![driven(14.0, -8.0, Settings::Clipper(Clipper::default()))]),
        ("Sheen", "colour: enhanced", vec![plain(Settings::Enhancer(Enhancer::default()))]),
        (
            "Backdrop",
            "backdrop: crushed, band-limited, wet",
            vec![
                equaliser(vec![corner(Shape::HighPass, 280.0), corner(Shape::LowPass, 3800.0)]),
                plain(Settings::Crush(Crush::default())),
                space(Space::Room),
            ],
        ),
        ("Room", "space: room", vec![space(Space::Room)]),
        ("Plate", "space: plate", vec![space(Space::Plate)]),
        ("Hall", "space: hall", vec![space(Space::Hall)]),
        ("Echo", "echo: dotted eighths", vec![echoes(NoteValue::EighthDotted, Sides::Straight)]),
        ("Turns", "echo: eighths in turn, left and right", vec![echoes(NoteValue::Eighth, Sides::PingPong)]),
    ]
}

fn bus_compressors() -> Vec<(&'static str, &'static str, Vec<Processor>)> {
    vec![
        ("Together", "held together, 2 dB", vec![held_together()]),
        (
            "Swing",
            "moves with the beat, 4 dB",
            vec![with_the_beat(Compressor {
                threshold_dbfs: -22.0,
                ratio: 4.0,
                knee_db: 4.0,
                attack_ms: 10.0,
                release_in: TimeIn::Quarter,
                budget_db: 4.0,
                ..Compressor::default()
            })],
        ),
        (
            "Quick",
            "quick, on peaks alone, 3 dB",
            vec![with_the_beat(Compressor {
                threshold_dbfs: -14.0,
                ratio: 3.0,
                knee_db: 3.0,
                attack_ms: 3.0,
                release_in: TimeIn::Sixteenth,
                budget_db: 3.0,
                ..Compressor::default()
            })],
        ),
    ]
}

fn buses() -> Vec<(&'static str, &'static str, Vec<Processor>)> {
    vec![
        ("Equaliser", "equaliser", vec![equaliser(Equaliser::default().bands)]),
        ("Saturation", "colour: saturation", vec![saturation(4.0)]),
        ("Enhancer", "colour: enhancer", vec![plain(Settings::Enhancer(Enhancer::default()))]),
        (
            "Clipper",
            "colour: clipper",
            vec![plain(Settings::Clipper(Clipper { ceiling_dbfs: -2.0, ..Clipper::default() }))],
        ),
    ]
}

fn main() -> Vec<(&'static str, &'static str, Vec<Processor>)> {
    vec![
        ("Limiter", "limiter, last", vec![limiter()]),
        (
            "Chain",
            "a whole chain: equaliser, compressor, colour, limiter",
            vec![equaliser(Equaliser::default().bands), held_together(), saturation(2.0), limiter()],
        ),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edit::tests::kit;
    use crate::edit::{Edit, InsertProcessors, NewPath, apply};
    use crate::session::Shared;
    use lane_units::IdSet;

    #[test]
    fn each_goes_into_a_session_with_its_values_as_they_are() {
        for chain in ready_chains() {
            let mut session = kit();
            let feeders = Shared::values(&session.voices).map(|v| v.channel).collect();
            let main = session.main().unwrap().id;
            let edit = match chain.place {
                ReadyPlace::Path => {
                    Edit::from(NewPath { name: chain.name.into(), feeders, processors: chain.processors.clone() })
                }
                _ => Edit::from(InsertProcessors {
                    strips: vec![main],
                    processors: chain.processors.clone(),
                    at: None,
                    replace: false,
                }),
            };
            apply(&mut session, &edit).unwrap_or_else(|e| panic!("{}: {e}", chain.name));
            let strips = Shared::values(&session.strips);
            let made = strips.max_by_key(|s| s.chain.len()).unwrap();
            let settings = |of: &[Processor]| of.iter().map(|p| p.settings.clone()).collect::<Vec<_>>();
            assert_eq!(settings(&made.chain), settings(&chain.processors), "{}", chain.name);
            session.validate().unwrap_or_else(|e| panic!("{}: {e}", chain.name));
        }
    }

    #[test]
    fn names_and_texts_are_each_their_own() {
        let chains = ready_chains();
        let names: IdSet<_> = chains.iter().map(|c| (c.place as u8, c.name)).collect();
        let texts: IdSet<_> = chains.iter().map(|c| (c.place as u8, c.text)).collect();
        assert_eq!((names.len(), texts.len()), (chains.len(), chains.len()));
    }

    #[test]
    fn what_lifts_stays_on_the_near_side_of_its_floor() {
        let lifting = ready_chains().into_iter().find(|c| c.name == "Lift").unwrap();
        let Settings::Compressor(of) = &lifting.processors[0].settings else { panic!("a compressor lifts") };
        assert!(of.direction == Direction::Up && of.floor_dbfs < of.threshold_dbfs);
    }

    #[test]
    fn compressors_of_buses_have_a_budget_and_a_release_in_notes() {
        for chain in ready_chains().iter().filter(|c| c.place == ReadyPlace::BusCompressor) {
            let Settings::Compressor(of) = &chain.processors[0].settings else { panic!("{}", chain.name) };
            assert!(of.budget_db > 0.0 && of.release_in.is_note(), "{}", chain.name);
        }
    }

    #[test]
    fn a_limiter_stands_last_on_main_and_nowhere_else() {
        for chain in ready_chains() {
            let limits = |p: &Processor| matches!(p.settings, Settings::Limiter(_));
            let at = chain.processors.iter().position(limits);
            let last = (chain.place == ReadyPlace::Main).then(|| chain.processors.len() - 1);
            assert_eq!(at, last, "{}", chain.name);
        }
    }
}
