use super::*;
use lane_document::checks::Repair;
use lane_document::edit::{
    AddProcessor, AddVoices, Edit, NewHits, NewReturn, NewVoice, SetProcessor, SetSend, SetStrips, StripChange, apply,
};
use lane_document::session::{
    AssetBank, AssetRef, Audio, Family, Hit, Hold, LaneTarget, Layer, Session, TargetBy, VoiceSource,
};
use lane_dsp::equaliser::Shape;
use lane_dsp::{Clipper, Settings};
use lane_engine::{LoopRange, Station};
use lane_units::{AssetId, StripId};
use rstest::rstest;
use std::f64::consts::TAU;
use std::sync::Arc;

const RATE: u32 = 48_000;
/// One bar at 120 bpm.
const BAR: u64 = 96_000;

/// A lane that sounds for a whole bar.
fn add(s: &mut Session, bank: &mut AssetBank, name: &str, family: Family, sound: impl Fn(f64) -> f64) -> StripId {
    let samples = (0..BAR).map(|n| sound(n as f64 / f64::from(RATE)) as f32).collect();
    let audio = Audio::new(1, samples).unwrap();
    let id = AssetId(format!("{:02x}", s.voices.len() + 1).repeat(32));
    let asset = AssetRef {
        id: id.clone(),
        name: name.parse().unwrap(),
        channels: 1,
        sample_rate: RATE,
        frames: audio.frames() as u32,
    };
    bank.insert(id.clone(), Arc::new(audio));
    let voice = NewVoice {
        trim_db: 0.0,
        name: name.parse().unwrap(),
        family,
        source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern: s.patterns[0].id, hits: vec![Hit::new(0, 240, 127, 0)] }],
    };
    apply(s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
    s.voices.last().unwrap().channel
}

fn tone(hz: f64, level: f64) -> impl Fn(f64) -> f64 {
    move |t| level * libm::sin(TAU * hz * t)
}

fn empty() -> (Session, AssetBank) {
    let mut s = Session::new("Levels", RATE);
    s.header.tempo_bpm = lane_document::session::Tempo::new(120.0).unwrap();
    (s, AssetBank::new())
}

fn measured(s: &Session, bank: &AssetBank) -> Measured {
    let mut run = Measuring::new(s, bank, LoopRange { from: 0, to: BAR });
    while run.step(10_000) < 1.0 {}
    run.read()
}

fn near(found: Option<f64>, expected: f64, by: f64) {
    assert!(found.is_some_and(|db| (db - expected).abs() < by), "{found:?}, expected {expected}");
}

#[test]
fn a_tone_is_measured_at_every_station() {
    let (mut s, mut bank) = empty();
    let lane = add(&mut s, &mut bank, "Tone", Family::Music, tone(997.0, 0.5));
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::TrimDb(-4.0) })).unwrap();
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::FaderDb(-10.0) })).unwrap();
    let found = measured(&s, &bank);
    assert_eq!(found.frames, 2 * BAR, "rounds of the loop until 3 s are full");
    let at = |station| found.at(lane, station).unwrap();
    near(at(Station::Source).sample_peak_dbfs, -6.02, 0.01);
    near(at(Station::Trimmed).sample_peak_dbfs, -10.02, 0.01);
    near(at(Station::Trimmed).rms_dbfs, -13.03, 0.02);
    let main = s.main().unwrap().id;
    near(found.at(main, Station::Out).and_then(|l| l.true_peak_dbtp), -20.02, 0.1);
    // The standard's tone: 997 Hz on both sides is as loud in LUFS as its peak is in dBFS.
    near(at(Station::Trimmed).lufs, -10.02, 0.1);
    near(at(Station::Source).true_peak_dbtp, -6.02, 0.1);
    near(at(Station::Out).lufs, at(Station::Trimmed).lufs.unwrap() - 10.0, 0.06);
}

#[test]
fn proposed_trims_meet_their_targets_when_measured_again() {
    let (mut s, mut bank) = empty();
    let loud = add(&mut s, &mut bank, "Loud", Family::Low, tone(60.0, 0.9));
    let soft = add(&mut s, &mut bank, "Soft", Family::Hats, tone(4000.0, 0.02));
    let still = add(&mut s, &mut bank, "Still", Family::Music, |_| 0.0);
    s.header.targets.lane = LaneTarget { by: TargetBy::Peak, db: -14.0 };
    let own = LaneTarget { by: TargetBy::Rms, db: -30.0 };
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![soft], change: StripChange::Target(Some(own)) })).unwrap();
    let proposal = propose(&s, &measured(&s, &bank));
    assert_eq!(proposal.silent, ["Still"]);
    assert_eq!(proposal.lines.iter().map(|l| l.strip).collect::<Vec<_>>(), [loud, soft]);
    for line in &proposal.lines {
        let change = StripChange::TrimDb(line.trim_after_db);
        apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![line.strip], change })).unwrap();
    }
    let again = measured(&s, &bank);
    near(again.at(loud, Station::Trimmed).and_then(|l| l.sample_peak_dbfs), -14.0, 0.06);
    near(again.at(soft, Station::Trimmed).and_then(|l| l.rms_dbfs), -30.0, 0.06);
    assert!(again.at(still, Station::Trimmed).unwrap().rms_dbfs.is_none());
    assert!(propose(&s, &again).lines.iter().all(|l| !l.changes), "nothing is left to do");
}

#[test]
fn unlike_sources_add_up_by_three_decibels_a_doubling() {
    let (mut s, mut bank) = empty();
    for (n, hz) in [200.0, 330.0, 540.0, 910.0].into_iter().enumerate() {
        add(&mut s, &mut bank, &format!("Tone {n}"), Family::Music, tone(hz, 0.1));
    }
    let found = measured(&s, &bank);
    let one = found.at(s.voices[0].channel, Station::Out).and_then(|l| l.rms_dbfs).unwrap();
    let bus = sums(&s, &found).into_iter().find(|l| l.feeders == 4).unwrap();
    near(bus.expected_dbfs, one + 6.02, 0.02);
    near(bus.measured_dbfs, one + 6.02, 0.05);
}

#[test]
fn the_same_sound_twice_comes_to_more_than_expected() {
    let (mut s, mut bank) = empty();
    for name in ["One", "Two"] {
        add(&mut s, &mut bank, name, Family::Music, tone(200.0, 0.1));
    }
    let found = measured(&s, &bank);
    let bus = sums(&s, &found).into_iter().find(|l| l.feeders == 2).unwrap();
    near(bus.measured_dbfs.zip(bus.expected_dbfs).map(|(m, e)| m - e), 3.01, 0.02);
}

fn suggestion<'a>(list: &'a [Suggestion], key: &str) -> &'a Suggestion {
    list.iter().find(|s| s.key.starts_with(key)).unwrap_or_else(|| panic!("no {key} in {list:?}"))
}

#[test]
fn corners_are_suggested_where_the_energy_ends_and_not_twice() {
    let (mut s, mut bank) = empty();
    let both = |t: f64| 0.3 * libm::sin(TAU * 400.0 * t) + 0.2 * libm::sin(TAU * 2000.0 * t);
    add(&mut s, &mut bank, "Pluck", Family::Music, both);
    let found = suggest(&s, &measured(&s, &bank));
    let (low, high) = (suggestion(&found, "high-pass"), suggestion(&found, "low-pass"));
    assert!((250.0..400.0).contains(&low.freq_hz.unwrap()), "{low:?}");
    assert!((2000.0..3200.0).contains(&high.freq_hz.unwrap()), "{high:?}");
    apply(&mut s, &low.repair.as_ref().unwrap().edit).unwrap();
    let again = suggest(&s, &measured(&s, &bank));
    assert!(again.iter().all(|s| !s.key.starts_with("high-pass")), "{again:?}");
}

#[test]
fn what_rings_is_marked_with_a_band_that_moves() {
    let (mut s, mut bank) = empty();
    let dice = std::cell::RefCell::new(lane_units::Dice::new(&[5]));
    let ringing = move |t: f64| {
        0.1 * dice.borrow_mut().spread() + 0.3 * libm::sin(TAU * 90.0 * t) + 0.12 * libm::sin(TAU * 1130.0 * t)
    };
    let lane = add(&mut s, &mut bank, "Snare", Family::Snare, ringing);
    let found = suggest(&s, &measured(&s, &bank));
    let ring = suggestion(&found, "ring");
    assert!((ring.freq_hz.unwrap() / 1130.0 - 1.0).abs() < 0.03, "{ring:?}");
    apply(&mut s, &ring.repair.as_ref().unwrap().edit).unwrap();
    let Settings::Equaliser(equaliser) = &s.strip(lane).unwrap().chain[0].settings else { panic!("no equaliser") };
    assert!(equaliser.bands[0].shape == Shape::Bell && equaliser.bands[0].range_db < 0.0);
}

#[test]
fn the_station_that_clips_is_named_and_can_be_turned_down() {
    let (mut s, mut bank) = empty();
    let lane = add(&mut s, &mut bank, "Kick", Family::Low, tone(60.0, 0.5));
    let settings = Settings::Clipper(Clipper { ceiling_dbfs: 0.0, ..Clipper::default() });
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![lane], settings, key: None, at: None })).unwrap();
    let id = s.strip(lane).unwrap().chain[0].id;
    let louder = lane_document::edit::ProcessorChange::OutputDb(12.0);
    apply(&mut s, &Edit::SetProcessor(SetProcessor { strip: lane, processor: id, change: louder })).unwrap();
    let found = suggest(&s, &measured(&s, &bank));
    let clip = suggestion(&found, "clips");
    assert!(clip.sentence.contains("Kick goes") && clip.sentence.contains("after processor 1, clipper"), "{clip:?}");
    apply(&mut s, &clip.repair.as_ref().unwrap().edit).unwrap();
    let again = suggest(&s, &measured(&s, &bank));
    assert!(again.iter().all(|s| !s.key.starts_with("clips")), "{again:?}");
}

fn add_to(s: &mut Session, strip: StripId, settings: Settings) {
    apply(s, &Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key: None, at: None })).unwrap();
}

fn set(s: &mut Session, strip: StripId, change: StripChange) {
    apply(s, &Edit::SetStrips(SetStrips { strips: vec![strip], change })).unwrap();
}

#[rstest]
#[case::sample_peak(TargetBy::Peak, -9.0)]
#[case::true_peak(TargetBy::TruePeak, -9.0)]
#[case::rms(TargetBy::Rms, -24.0)]
#[case::loudness(TargetBy::Loudness, -20.0)]
fn a_target_is_met_in_whatever_it_is_given_in(#[case] by: TargetBy, #[case] db: f64) {
    let (mut s, mut bank) = empty();
    // A third of the rate and a phase that puts its peaks between the samples.
    let between = |t: f64| 0.4 * libm::sin(TAU * 12_000.0 * t + 0.78);
    let lanes = [
        add(&mut s, &mut bank, "Low", Family::Low, tone(80.0, 0.7)),
        add(&mut s, &mut bank, "High", Family::Hats, between),
        add(&mut s, &mut bank, "Middle", Family::Music, tone(997.0, 0.05)),
    ];
    s.header.targets.lane = LaneTarget { by, db };
    for line in propose(&s, &measured(&s, &bank)).lines {
        set(&mut s, line.strip, StripChange::TrimDb(line.trim_after_db));
    }
    let again = measured(&s, &bank);
    for lane in lanes {
        let at = again.at(lane, Station::Trimmed).unwrap();
        let found = match by {
            TargetBy::Peak => at.sample_peak_dbfs,
            TargetBy::TruePeak => at.true_peak_dbtp,
            TargetBy::Rms => at.rms_dbfs,
            TargetBy::Loudness => at.lufs,
        };
        near(found, db, 0.06);
    }
}

#[test]
fn a_trim_goes_no_further_than_it_can() {
    let (mut s, mut bank) = empty();
    let lane = add(&mut s, &mut bank, "Faint", Family::Music, tone(500.0, 0.001));
    let proposal = propose(&s, &measured(&s, &bank));
    let line = &proposal.lines[0];
    assert_eq!((line.strip, line.trim_after_db), (lane, 24.0));
    assert!((line.level_after_db + 36.0).abs() < 0.05, "what it comes to is said, not what was wished: {line:?}");
}

#[test]
fn true_peaks_stand_at_every_station_and_over_sample_peaks() {
    let (mut s, mut bank) = empty();
    let between = |t: f64| 0.7 * libm::sin(TAU * 12_000.0 * t + std::f64::consts::FRAC_PI_4);
    let lane = add(&mut s, &mut bank, "Between", Family::Hats, between);
    add_to(&mut s, lane, Settings::StereoImage(lane_dsp::StereoImage { gain_db: 2.0, ..Default::default() }));
    let found = measured(&s, &bank);
    let strip = found.strip(lane).unwrap();
    assert_eq!(strip.stations.len(), 4);
    for station in &strip.stations {
        let over = station.true_peak_dbtp.unwrap() - station.sample_peak_dbfs.unwrap();
        // 45 degrees off its peaks the samples lie 3 dB under them; the onset overshoots a little.
        assert!((2.9..3.9).contains(&over), "{station:?}");
    }
}

#[test]
fn a_run_without_processors_hears_what_goes_in() {
    let (mut s, mut bank) = empty();
    let lane = add(&mut s, &mut bank, "Tone", Family::Music, tone(440.0, 0.25));
    add_to(&mut s, lane, Settings::StereoImage(lane_dsp::StereoImage { gain_db: -12.0, ..Default::default() }));
    add_to(&mut s, lane, Settings::Clipper(Clipper { ceiling_dbfs: -30.0, ..Clipper::default() }));
    let with = measured(&s, &bank);
    let mut run = Measuring::without(&s, &bank, LoopRange { from: 0, to: BAR });
    while run.step(7777) < 1.0 {}
    let without = run.read();
    let out = |m: &Measured| m.at(lane, Station::Out).and_then(|l| l.lufs).unwrap();
    let trimmed = with.at(lane, Station::Trimmed).and_then(|l| l.lufs).unwrap();
    assert!(out(&with) < trimmed - 12.0);
    assert!((out(&without) - (out(&with) + trimmed - chain_end(&s, lane, &with))).abs() < 0.05, "{}", out(&without));
}

/// Loudness behind the chain.
fn chain_end(s: &Session, lane: StripId, found: &Measured) -> f64 {
    let last = s.strip(lane).unwrap().chain.last().unwrap().id;
    found.at(lane, Station::Processor(last)).and_then(|l| l.lufs).unwrap()
}

#[test]
fn steps_of_any_length_find_the_same() {
    let (mut s, mut bank) = empty();
    add(&mut s, &mut bank, "Tone", Family::Music, tone(997.0, 0.5));
    let run = |step: u64| {
        let mut run = Measuring::new(&s, &bank, LoopRange { from: 0, to: BAR });
        let mut last = 0.0;
        while last < 1.0 {
            let part = run.step(step);
            assert!(part > last && part <= 1.0, "it goes on");
            last = part;
        }
        run.read()
    };
    let (short, long) = (run(1000), run(10_000_000));
    assert_eq!(short.frames, long.frames);
    for (a, b) in short.strips.iter().zip(&long.strips) {
        for (a, b) in a.stations.iter().zip(&b.stations) {
            assert_eq!((a.sample_peak_dbfs, a.true_peak_dbtp), (b.sample_peak_dbfs, b.true_peak_dbtp));
            near(a.rms_dbfs, b.rms_dbfs.unwrap(), 1e-6);
        }
    }
}

#[rstest]
#[case::post_fader(lane_document::session::SendTap::PostFader, -10.0)]
#[case::pre_fader(lane_document::session::SendTap::PreFader, 0.0)]
fn a_return_expects_what_its_sends_bring(#[case] tap: lane_document::session::SendTap, #[case] less_db: f64) {
    let (mut s, mut bank) = empty();
    let lane = add(&mut s, &mut bank, "Tone", Family::Music, tone(300.0, 0.5));
    set(&mut s, lane, StripChange::FaderDb(-10.0));
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Side".into(), feeders: vec![], silent: false })).unwrap();
    let side = s.strips.iter().find(|x| x.name == "Side").unwrap().id;
    let send =
        lane_document::session::StripSend { tap, level_db: -6.0, ..lane_document::session::StripSend::new(side) };
    apply(&mut s, &Edit::SetSend(SetSend { strips: vec![lane], send })).unwrap();
    let found = measured(&s, &bank);
    let line = sums(&s, &found).into_iter().find(|l| l.strip == side).unwrap();
    let trimmed = found.at(lane, Station::Trimmed).and_then(|l| l.rms_dbfs).unwrap();
    assert_eq!(line.feeders, 1);
    near(line.expected_dbfs, trimmed - 6.0 + less_db, 0.05);
    near(line.measured_dbfs, trimmed - 6.0 + less_db, 0.05);
    apply(
        &mut s,
        &Edit::SetSend(SetSend { strips: vec![lane], send: lane_document::session::StripSend { mute: true, ..send } }),
    )
    .unwrap();
    let line = sums(&s, &measured(&s, &bank)).into_iter().find(|l| l.strip == side).unwrap();
    assert_eq!((line.feeders, line.expected_dbfs, line.measured_dbfs), (0, None, None));
}

#[test]
fn a_wide_bass_is_offered_a_mono_bottom_and_a_mono_one_is_not() {
    let (mut s, mut bank) = empty();
    add(&mut s, &mut bank, "Mono", Family::Bass, tone(60.0, 0.5));
    let samples = (0..BAR).flat_map(|n| {
        let t = n as f64 / f64::from(RATE);
        [tone(60.0, 0.5)(t) as f32, tone(61.0, 0.5)(t) as f32]
    });
    let audio = Audio::new(2, samples.collect()).unwrap();
    let id = AssetId("77".repeat(32));
    let frames = audio.frames() as u32;
    let asset = AssetRef { id: id.clone(), name: "Wide".into(), channels: 2, sample_rate: RATE, frames };
    bank.insert(id.clone(), Arc::new(audio));
    let voice = NewVoice {
        trim_db: 0.0,
        name: "Wide".into(),
        family: Family::Bass,
        source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern: s.patterns[0].id, hits: vec![Hit::new(0, 240, 127, 0)] }],
    };
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
    let found = suggest(&s, &measured(&s, &bank));
    let mono: Vec<_> = found.iter().filter(|x| x.key.starts_with("mono")).collect();
    assert_eq!(mono.len(), 1, "{found:?}");
    assert!(mono[0].sentence.contains("Wide is stereo below"), "{mono:?}");
    apply(&mut s, &mono[0].repair.as_ref().unwrap().edit).unwrap();
    assert!(suggest(&s, &measured(&s, &bank)).iter().all(|x| !x.key.starts_with("mono")));
}

#[rstest]
#[case::trim(StripChange::TrimDb(9.0), "after trim", "Trim down by")]
#[case::fader(StripChange::FaderDb(9.0), "after its fader", "Fader down by")]
fn what_clips_is_named_where_it_clips(#[case] change: StripChange, #[case] place: &str, #[case] repair: &str) {
    let (mut s, mut bank) = empty();
    let lane = add(&mut s, &mut bank, "Hot", Family::Low, tone(60.0, 0.5));
    set(&mut s, lane, change);
    let found = suggest(&s, &measured(&s, &bank));
    let clip = found.iter().find(|x| x.strip == lane && x.key.starts_with("clips")).unwrap();
    assert!(clip.sentence.contains(place), "{clip:?}");
    assert!(clip.repair.as_ref().unwrap().name.starts_with(repair), "{clip:?}");
    apply(&mut s, &clip.repair.as_ref().unwrap().edit).unwrap();
    assert!(suggest(&s, &measured(&s, &bank)).iter().all(|x| x.strip != lane || !x.key.starts_with("clips")));
}

#[test]
fn a_silent_session_has_nothing_to_propose_or_to_suggest() {
    let (mut s, mut bank) = empty();
    add(&mut s, &mut bank, "Still", Family::Music, |_| 0.0);
    let found = measured(&s, &bank);
    assert!(suggest(&s, &found).is_empty());
    let proposal = propose(&s, &found);
    assert!(proposal.lines.is_empty() && proposal.silent == ["Still"]);
    assert!(sums(&s, &found).iter().all(|l| l.feeders == 0 && l.true_peak_dbtp.is_none()));
}

#[test]
fn an_average_target_counts_only_where_the_lane_sounds() {
    let (mut s, mut bank) = empty();
    let half = |t: f64| if t < 1.0 { 0.5 * libm::sin(TAU * 500.0 * t) } else { 0.0 };
    let lane = add(&mut s, &mut bank, "Half", Family::Music, half);
    let found = measured(&s, &bank);
    let at = found.at(lane, Station::Trimmed).unwrap();
    near(at.rms_dbfs, -12.04, 0.05);
    // Three of the blocks that count reach over its ends, of about ten.
    near(at.sounding_dbfs, -9.03 - 0.9, 0.5);
    s.header.targets.lane = LaneTarget { by: TargetBy::Rms, db: -20.0 };
    let line = &propose(&s, &found).lines[0];
    assert_eq!(line.level_before_db, at.sounding_dbfs.unwrap());
    near(line.peak_after_dbfs, -6.02 + line.trim_after_db, 0.02);
}

#[rstest]
#[case::over(0.9, 0.9)]
#[case::under(0.05, 0.02)]
fn one_repair_brings_the_sum_to_its_target(#[case] a: f64, #[case] b: f64) {
    let (mut s, mut bank) = empty();
    add(&mut s, &mut bank, "Low", Family::Low, tone(60.0, a));
    add(&mut s, &mut bank, "High", Family::Hats, tone(7000.0, b));
    let repair = sum_repair(&s, &measured(&s, &bank));
    if let Some(Repair { edit, .. }) = &repair {
        apply(&mut s, edit).unwrap();
    }
    let found = measured(&s, &bank);
    let peak = found.at(s.main().unwrap().id, Station::Out).and_then(|l| l.true_peak_dbtp).unwrap();
    let reachable = s.main().unwrap().fader_db < 12.0;
    if repair.is_some() {
        assert!((-6.11..=-6.0).contains(&peak), "{peak}");
        assert!(sum_repair(&s, &found).is_none(), "it is there");
    } else {
        assert!(peak < -18.0 && reachable, "only what a fader cannot reach is left: {peak}");
    }
}

/// The suggestions about what comes together.
fn cancelling(s: &Session, bank: &AssetBank) -> Vec<Suggestion> {
    suggest(s, &measured(s, bank)).into_iter().filter(|x| x.key.starts_with("cancels")).collect()
}

#[test]
fn lanes_that_cancel_are_named_with_a_repair() {
    let (mut s, mut bank) = empty();
    add(&mut s, &mut bank, "Top", Family::Snare, tone(200.0, 0.5));
    let under = add(&mut s, &mut bank, "Under", Family::Snare, tone(200.0, 0.5));
    assert_eq!(cancelling(&s, &bank), []);
    set(&mut s, under, StripChange::Polarity(lane_document::session::Polarity::Inverted));
    let found = cancelling(&s, &bank);
    assert_eq!(found[0].sentence, "On Mix bus, Top and Under cancel each other completely.");
    apply(&mut s, &found[0].repair.as_ref().unwrap().edit).unwrap();
    assert_eq!(cancelling(&s, &bank), []);
}

#[test]
fn sends_that_cancel_on_a_return_are_named_too() {
    let (mut s, mut bank) = empty();
    let top = add(&mut s, &mut bank, "Top", Family::Snare, tone(200.0, 0.5));
    let under = add(&mut s, &mut bank, "Under", Family::Snare, tone(200.0, 0.5));
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Press".into(), feeders: vec![top, under], silent: false }))
        .unwrap();
    set(&mut s, under, StripChange::Polarity(lane_document::session::Polarity::Inverted));
    let sentences: Vec<String> = cancelling(&s, &bank).into_iter().map(|x| x.sentence).collect();
    assert!(sentences.contains(&"On Press, Top and Under cancel each other completely.".to_owned()), "{sentences:?}");
}

#[test]
fn a_copy_that_comes_half_a_wave_late_cancels_too() {
    let (mut s, mut bank) = empty();
    add(&mut s, &mut bank, "Dry", Family::Snare, tone(200.0, 0.5));
    let late = add(&mut s, &mut bank, "Late", Family::Snare, tone(200.0, 0.45));
    add_to(&mut s, late, Settings::StereoImage(lane_dsp::StereoImage { delay_frames: 120.0, ..Default::default() }));
    let found = cancelling(&s, &bank);
    assert!(found[0].sentence.starts_with("On Mix bus, Dry and Late come to "), "{}", found[0].sentence);
}
