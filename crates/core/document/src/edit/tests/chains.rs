//! Every value of every processor within its range, and chains that come back from any edits.

use super::*;
use crate::session::Session;
use lane_dsp::{Band, Equaliser, Settings, equaliser};
use lane_units::ProcessorId;

/// One of each kind; the equaliser with a band, since its values stand there.
fn kinds() -> Vec<Settings> {
    let with_band = |settings| match settings {
        Settings::Equaliser(_) => Settings::Equaliser(Equaliser { bands: vec![Band::default()] }),
        other => other,
    };
    Settings::all().into_iter().map(with_band).collect()
}

/// The settings with one value changed, as a document would carry them.
fn with(settings: &Settings, param: &str, to: f64) -> Option<Settings> {
    let mut json = serde_json::to_value(settings).unwrap();
    let place = if json["bands"].is_array() { &mut json["bands"][0][param] } else { &mut json[param] };
    *place = serde_json::to_value(to).unwrap();
    serde_json::from_value(json).ok()
}

fn kick_with(settings: Settings) -> (Session, StripId, ProcessorId) {
    let mut s = kit();
    let kick = channel(&s, "Kick");
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![kick], settings, key: None, at: None })).unwrap();
    let processor = s.strip(kick).unwrap().chain[0].id;
    (s, kick, processor)
}

#[test]
fn every_value_is_held_to_its_range() {
    let mut tried = 0;
    for settings in kinds() {
        let (mut s, strip, processor) = kick_with(settings.clone());
        let before = s.clone();
        for (param, _) in settings.values() {
            let width = param.max - param.min;
            for out in [param.min - 0.01 * width, param.max + 0.01 * width] {
                let change = ProcessorChange::Settings(with(&settings, param.name, out).unwrap());
                let error = apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change }))
                    .unwrap_err()
                    .to_string();
                let allowed = format!("{} to {}", param.min, param.max);
                assert!(error.contains(&allowed) && error.contains("of Kick"), "{}: {error}", param.name);
                tried += 1;
            }
            for at in [param.min, param.max] {
                let change = ProcessorChange::Settings(with(&settings, param.name, at).unwrap());
                let applied = apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).unwrap();
                applied.back.apply_exactly(&mut s).unwrap();
            }
            assert_eq!(s, before, "{} of {}", param.name, settings.name());
        }
    }
    assert!(tried > 80, "{tried} values");
}

#[rstest]
#[case::nan(f64::NAN)]
#[case::infinite(f64::INFINITY)]
fn what_is_no_number_is_refused(#[case] bad: f64) {
    let (mut s, strip, processor) = kick_with(Settings::all().swap_remove(1));
    let before = s.clone();
    for change in [ProcessorChange::InputDb(bad), ProcessorChange::OutputDb(bad), ProcessorChange::MixPercent(bad)] {
        let error =
            apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).unwrap_err().to_string();
        assert!(error.contains("is allowed"), "{error}");
    }
    let change = StripChange::TrimDb(bad);
    assert!(apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![strip], change })).is_err());
    assert_eq!(s, before);
}

#[rstest]
#[case::input(ProcessorChange::InputDb(24.5), "24")]
#[case::output(ProcessorChange::OutputDb(-61.0), "-60")]
#[case::mix(ProcessorChange::MixPercent(101.0), "100")]
fn gains_and_mix_are_held_to_their_ranges(#[case] change: ProcessorChange, #[case] bound: &str) {
    let (mut s, strip, processor) = kick_with(Settings::all().swap_remove(2));
    let error = apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).unwrap_err().to_string();
    assert!(error.contains(bound) && error.contains("is allowed"), "{error}");
}

#[test]
fn an_equaliser_takes_as_many_bands_as_it_says() {
    let (mut s, strip, processor) = kick_with(Settings::Equaliser(Equaliser::default()));
    let bands =
        |count| ProcessorChange::Settings(Settings::Equaliser(Equaliser { bands: vec![Band::default(); count] }));
    let mut set =
        |count| apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change: bands(count) })).map(|_| ());
    assert!(set(equaliser::BANDS).is_ok());
    let error = set(equaliser::BANDS + 1).unwrap_err().to_string();
    assert!(error.contains("17") && error.contains("16"), "{error}");
}

#[test]
fn a_chain_goes_on_buses_returns_and_main() {
    let mut s = kit();
    let kick = channel(&s, "Kick");
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![kick] })).unwrap();
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Room".into(), feeders: vec![kick], silent: false })).unwrap();
    let strips: Vec<StripId> = s.strips.iter().map(|x| x.id).collect();
    for settings in kinds() {
        let edit = Edit::AddProcessor(AddProcessor { strips: strips.clone(), settings, key: None, at: None });
        apply(&mut s, &edit).unwrap();
    }
    assert!(s.strips.iter().all(|x| x.chain.len() == kinds().len()), "every kind on every strip");
    s.validate().unwrap();
}

/// What a person may do with the chains of three lanes, by numbers.
fn chain_edit(s: &Session, (what, lane, a, b): (u32, usize, usize, usize)) -> Edit {
    let lanes = ["Kick", "Snare", "Hat"].map(|name| channel(s, name));
    let strip = lanes[lane % 3];
    let chain: Vec<ProcessorId> = s.strip(strip).unwrap().chain.iter().map(|p| p.id).collect();
    let Some(processor) = chain.get(a % chain.len().max(1)).copied() else {
        let settings = kinds().swap_remove(a % kinds().len());
        return Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key: None, at: None });
    };
    match what {
        0 => {
            let settings = kinds().swap_remove(b % kinds().len());
            Edit::AddProcessor(AddProcessor {
                strips: vec![strip],
                settings,
                key: None,
                at: Some((a % (chain.len() + 1)) as u32),
            })
        }
        1 => Edit::MoveProcessor(MoveProcessor { strip, processor, to: (b % chain.len()) as u32 }),
        2 => Edit::RemoveProcessors(RemoveProcessors { strip, processors: vec![processor] }),
        3 => Edit::CopyChain(CopyChain {
            from: strip,
            processors: vec![processor],
            to: vec![lanes[(lane + 1) % 3]],
            replace: b % 2 == 0,
        }),
        4 => Edit::SetProcessor(SetProcessor { strip, processor, change: ProcessorChange::On(b % 2 == 0) }),
        5 => {
            let settings = kinds().swap_remove(b % kinds().len());
            Edit::SetProcessor(SetProcessor { strip, processor, change: ProcessorChange::Settings(settings) })
        }
        _ => Edit::OrderChain(OrderChain { strip, order: chain.into_iter().rev().collect() }),
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn chains_come_back_from_any_edits(edits in prop::collection::vec((0u32..7, 0usize..3, 0usize..20, 0usize..20), 1..25)) {
        let mut s = kit();
        let start = s.clone();
        let mut back = Vec::new();
        for numbers in edits {
            let edit = chain_edit(&s, numbers);
            back.push(apply(&mut s, &edit).unwrap().back);
            s.validate().unwrap();
            let mut ids: Vec<ProcessorId> = s.strips.iter().flat_map(|x| x.chain.iter().map(|p| p.id)).collect();
            let count = ids.len();
            ids.sort_unstable();
            ids.dedup();
            prop_assert_eq!(ids.len(), count, "every processor has an id of its own");
        }
        for patch in back.into_iter().rev() {
            patch.apply(&mut s).unwrap();
        }
        prop_assert_eq!(s.strips, start.strips);
    }
}

/// Settings of a kind with values set: as JSON, so that bands and choices are among them.
fn set_as(kind: &str, change: impl FnOnce(&mut serde_json::Value)) -> Settings {
    let defaults = Settings::all().into_iter().find(|s| s.is_called(kind)).unwrap();
    let mut json = serde_json::to_value(defaults).unwrap();
    change(&mut json);
    serde_json::from_value(json).unwrap()
}

#[test]
fn a_moved_value_leaves_what_others_set_meanwhile() {
    let with = |attack: f64, ratio: f64| {
        set_as("compressor", |s| (s["attack_ms"], s["ratio"]) = (attack.into(), ratio.into()))
    };
    let (from, to, meanwhile) = (with(10.0, 2.0), with(25.0, 2.0), with(10.0, 6.0));
    let (mut s, strip, processor) = kick_with(meanwhile);
    let change = ProcessorChange::Moved(Moved { from, to });
    apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).unwrap();
    assert_eq!(s.strip(strip).unwrap().chain[0].settings, with(25.0, 6.0));
}

#[test]
fn of_bands_each_is_moved_by_itself() {
    let with = |first: f64, second: f64| {
        let band = |gain_db| Band { gain_db, ..Band::default() };
        Settings::Equaliser(Equaliser { bands: vec![band(first), band(second)] })
    };
    let (mut s, strip, processor) = kick_with(with(0.0, -4.0));
    let change = ProcessorChange::Moved(Moved { from: with(0.0, 0.0), to: with(3.0, 0.0) });
    apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).unwrap();
    assert_eq!(s.strip(strip).unwrap().chain[0].settings, with(3.0, -4.0));
}

#[test]
fn what_became_another_kind_meanwhile_is_not_moved() {
    let (mut s, strip, processor) = kick_with(set_as("gate", |_| ()));
    let (from, to) = (set_as("compressor", |_| ()), set_as("compressor", |s| s["ratio"] = 6.0.into()));
    let change = ProcessorChange::Moved(Moved { from, to });
    let refused = apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).unwrap_err();
    assert_eq!(refused.to_string(), "it was made another kind meanwhile: Gate");
}

#[test]
fn values_that_are_moved_are_held_to_their_ranges() {
    let (mut s, strip, processor) = kick_with(set_as("compressor", |_| ()));
    let from = set_as("compressor", |_| ());
    let to = set_as("compressor", |s| s["ratio"] = (-1e9).into());
    let change = ProcessorChange::Moved(Moved { from, to });
    assert!(apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change })).is_err());
}
