use super::*;
use crate::PIECE;
use lane_document::edit::{
    AddProcessor, AddVoices, Edit, NewBus, NewHits, NewVoice, ProcessorChange, RemoveVoices, SetChoke, SetProcessor,
    apply,
};
use lane_document::session::{
    AssetBank, AssetRef, Audio, Family, Hit, Hold, Key, Layer, Session, Shared, Strip, Tempo, VoiceSource,
};
use lane_dsp::equaliser::{Band, Equaliser, Shape};
use lane_dsp::{BeatShape, Compressor, EnvelopeFilter, Gate, Limiter, Settings};
use lane_engine::LoopRange;
use lane_units::{AssetId, ProcessorId, StripId};
use rstest::rstest;
use std::f64::consts::TAU;
use std::sync::Arc;

const RATE: u32 = 48_000;
/// One bar at 120 bpm.
const BAR: u64 = 96_000;
const BEAT: u32 = 24_000;

mod pairs;
mod shapes;

// Figures, on reductions that are known.

/// What falls from a depth with a time constant after every hit, over a stretch of one bar.
fn falling(hits: &[u32], depth_db: f64, time_ms: f64) -> Vec<f32> {
    let time = time_ms * f64::from(RATE) / 1000.0;
    let at = |piece: usize| {
        let now = (piece * PIECE) as i64;
        let since = hits.iter().map(|hit| (now - i64::from(*hit)).rem_euclid(BAR as i64)).min().unwrap_or(0);
        (depth_db * libm::exp(-(since as f64) / time)) as f32
    };
    (0..BAR as usize / PIECE).map(at).collect()
}

const BEATS: [u32; 4] = [0, BEAT, 2 * BEAT, 3 * BEAT];

#[rstest]
#[case::long(120.0)]
#[case::short(20.0)]
fn what_its_key_opens_is_open_for_as_long_as_it_lets_through(#[case] open_ms: f64) {
    // Shut by 30 dB but for a time after each of three hits; the fourth does not open it.
    let open = open_ms * f64::from(RATE) / 1000.0;
    let reduction = |piece: usize| {
        let at = (piece * PIECE) as f64;
        let opens = BEATS[..3].iter().any(|hit| (0.0..open).contains(&(at - f64::from(*hit))));
        if opens { 0.0 } else { 30.0 }
    };
    let trace: Vec<f32> = (0..BAR as usize / PIECE).map(reduction).collect();
    let found = opening(&trace, &BEATS, 0, RATE);
    let how = found.opening.unwrap();
    assert_eq!((how.opened, how.hits, found.depth_db), (3, 4, 30.0));
    assert!((how.open_ms - open_ms).abs() < 2.0 * 1000.0 * PIECE as f64 / f64::from(RATE), "{how:?}");
    assert!(!found.stuck && found.late == 0 && found.recovery_ms.is_none());
}

#[rstest]
#[case(6.0, 50.0)]
#[case(12.0, 120.0)]
#[case(3.0, 10.0)]
#[case(40.0, 100.0)]
fn recovery_is_where_the_formula_says(#[case] depth: f64, #[case] time: f64) {
    let found = figures(&falling(&BEATS, depth, time), &BEATS, 0, RATE);
    let back = time * libm::log(depth / BACK_DB);
    for hit in &found.hits {
        assert!((hit.depth_db - depth).abs() < 0.01, "{hit:?}");
        assert!(hit.full_ms.abs() < 0.4, "{hit:?}");
        assert!((hit.back_ms.unwrap() - back).abs() < 0.4, "{hit:?}, expected {back}");
        assert!((hit.recovery_ms.unwrap() - (500.0 - back)).abs() < 0.4, "{hit:?}");
    }
    assert_eq!((found.hits.len(), found.late, found.stuck), (4, 0, false));
    let mean = depth * time / 500.0 * (1.0 - libm::exp(-500.0 / time));
    assert!((found.average_db - mean).abs() < 0.02 * depth, "{} expected {mean}", found.average_db);
}

#[rstest]
#[case(12.0, 400.0)]
#[case(20.0, 260.0)]
fn what_is_late_says_by_how_much_it_would_be(#[case] depth: f64, #[case] time: f64) {
    let found = figures(&falling(&BEATS, depth, time), &BEATS, 0, RATE);
    let late = time * libm::log(depth / BACK_DB) - 500.0;
    assert_eq!(found.late, 4);
    assert!((found.recovery_ms.unwrap() + late).abs() < 0.02 * late + 1.0, "{found:?}, expected {late}");
    assert!(found.hits.iter().all(|h| h.back_ms.is_none()));
}

#[test]
fn what_does_not_fall_is_stuck_and_has_no_figure() {
    let found = figures(&vec![6.0; BAR as usize / PIECE], &BEATS, 0, RATE);
    assert!(found.stuck && found.recovery_ms.is_none());
    assert!(!found.recovers());
}

#[test]
fn hits_that_do_not_duck_do_not_count() {
    let mut reduction = falling(&BEATS, 0.8, 50.0);
    let found = figures(&reduction, &BEATS, 0, RATE);
    assert_eq!((found.late, found.recovery_ms, found.stuck), (0, None, false));
    // One of them ducks.
    reduction[..200].fill(6.0);
    let found = figures(&reduction, &BEATS, 0, RATE);
    assert!(found.recovery_ms.is_some_and(|ms| ms > 400.0));
}

#[test]
fn ghost_notes_between_do_not_end_what_a_hit_began() {
    let trace = falling(&BEATS, 12.0, 100.0);
    let with_ghosts: Vec<u32> = BEATS.iter().flat_map(|at| [*at, at + 6000, at + 12_000]).collect();
    assert_eq!(figures(&trace, &with_ghosts, 0, RATE), figures(&trace, &BEATS, 0, RATE));
}

#[test]
fn the_last_hit_is_held_against_the_first_of_the_next_round() {
    let hits = [1000, 90_000];
    let found = figures(&falling(&hits, 6.0, 60.0), &hits, 0, RATE);
    let back = 60.0 * libm::log(6.0);
    let gap = 1000.0 * 7000.0 / 48_000.0;
    assert!((found.hits[1].recovery_ms.unwrap() - (gap - back)).abs() < 0.5, "{found:?}");
}

#[test]
fn a_lookahead_is_full_before_the_hit() {
    let ahead = 480;
    let early: Vec<u32> = BEATS.iter().map(|at| (at + BAR as u32 - ahead) % BAR as u32).collect();
    let found = figures(&falling(&early, 6.0, 50.0), &BEATS, ahead, RATE);
    for hit in &found.hits {
        assert!((hit.full_ms + 10.0).abs() < 0.4, "{hit:?}");
        assert!((hit.back_ms.unwrap() - (50.0 * libm::log(6.0) - 10.0)).abs() < 0.4, "{hit:?}");
    }
}

#[rstest]
#[case(&[], &[])]
#[case(&[3.0], &[])]
#[case(&[], &[0])]
#[case(&[3.0, 3.0], &[99])]
fn nothing_to_read_gives_nothing(#[case] reduction: &[f32], #[case] hits: &[u32]) {
    assert!(figures(reduction, hits, 0, RATE).hits.is_empty());
}

// Runs of the engine.

struct Scene {
    rate: u32,
    session: Session,
    bank: AssetBank,
}

impl Scene {
    fn new() -> Self {
        Scene::at(RATE)
    }

    fn at(rate: u32) -> Self {
        let mut session = Session::new("Ducks", rate);
        session.header.tempo_bpm = Tempo::new(120.0).unwrap();
        session.patterns[0].bars = 1;
        Scene { rate, session, bank: AssetBank::new() }
    }

    /// A lane that plays a sound at some ticks; a bar has 3840.
    fn lane(&mut self, name: &'static str, seconds: f64, at: &[u32], sound: impl Fn(f64) -> f64) -> StripId {
        let frames = (seconds * f64::from(self.rate)) as usize;
        let samples = (0..frames).map(|n| sound(n as f64 / f64::from(self.rate)) as f32).collect();
        let id = AssetId(format!("{:02x}", self.session.voices.len() + 1).repeat(32));
        let asset =
            AssetRef { id: id.clone(), name: name.into(), channels: 1, sample_rate: self.rate, frames: frames as u32 };
        self.bank.insert(id.clone(), Arc::new(Audio::new(1, samples).unwrap()));
        let hits = at.iter().map(|at| Hit::new(*at, 240, 127, 0)).collect();
        let voice = NewVoice {
            trim_db: 0.0,
            name: name.into(),
            family: Family::Low,
            source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole },
            output: None,
            hits: vec![NewHits { pattern: self.session.patterns[0].id, hits }],
        };
        self.edit(Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] }));
        self.session.voices.last().unwrap().channel
    }

    fn edit(&mut self, edit: Edit) {
        apply(&mut self.session, &edit).unwrap();
    }

    fn add(&mut self, strip: StripId, settings: Settings, key: Option<StripId>) -> ProcessorId {
        self.edit(Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key: key.map(Key::new), at: None }));
        self.session.strip(strip).unwrap().chain.last().unwrap().id
    }

    fn run(&self, focus: Option<ProcessorId>) -> Ducking {
        self.run_in(focus.map_or(Focus::None, Focus::Beside))
    }

    fn run_in(&self, focus: Focus) -> Ducking {
        let mut run =
            Ducking::new(&self.session, &self.bank, LoopRange { from: 0, to: 2 * u64::from(self.rate) }, focus);
        while run.step(10_000) < 1.0 {}
        run
    }

    fn figures(&self, of: ProcessorId) -> DuckFigures {
        self.run(None).read().into_iter().find(|d| d.processor == of).unwrap().figures
    }

    fn set(&mut self, processor: ProcessorId, settings: Settings) {
        let holds = |s: &&Strip| s.chain.iter().any(|p| p.id == processor);
        let strip = Shared::values(&self.session.strips).find(holds).unwrap().id;
        self.edit(Edit::SetProcessor(SetProcessor { strip, processor, change: ProcessorChange::Settings(settings) }));
    }
}

/// A falling burst at the beats, and a steady tone.
fn pair() -> (Scene, StripId, StripId) {
    pair_at(RATE)
}

/// The same at another rate, its sounds played as they are there.
fn pair_at(rate: u32) -> (Scene, StripId, StripId) {
    let mut scene = Scene::at(rate);
    let kick =
        scene.lane("Kick", 0.3, &[0, 960, 1920, 2880], |t| 0.8 * libm::exp(-t / 0.06) * libm::sin(TAU * 60.0 * t));
    let bass = scene.lane("Bass", 2.0, &[0], |t| 0.3 * libm::sin(TAU * 50.0 * t));
    (scene, kick, bass)
}

fn compressor(threshold_dbfs: f64, lookahead_ms: f64) -> Settings {
    let c =
        Compressor { threshold_dbfs, ratio: 6.0, attack_ms: 2.0, release_ms: 60.0, lookahead_ms, ..Default::default() };
    Settings::Compressor(c)
}

fn moving(range_db: f64, threshold_dbfs: f64) -> Settings {
    let band = Band { shape: Shape::Bell, freq_hz: 60.0, range_db, threshold_dbfs, q: 1.0, ..Default::default() };
    Settings::Equaliser(Equaliser { bands: vec![band].into_iter().collect() })
}

#[rstest]
#[case::plain(0.0, false)]
#[case::ahead(5.0, false)]
#[case::late_key(0.0, true)]
#[case::both(3.0, true)]
fn what_is_read_is_what_was_heard(#[case] lookahead: f64, #[case] late_key: bool) {
    let (mut scene, kick, bass) = pair();
    if late_key {
        // Its lookahead makes the key come later, and the sound wait for it.
        scene.add(kick, Settings::Limiter(Limiter::default()), None);
    }
    let ducker = scene.add(bass, compressor(-30.0, lookahead), Some(kick));
    let run = scene.run(Some(ducker));
    let waves = run.waves(ducker, usize::MAX).unwrap();
    // The tone has a peak in every half wave of 480 frames: 30 pieces.
    let window = 30;
    let most = |of: &[f32], at: usize| of[at..at + window].iter().fold(0.0, |m: f32, x| m.max(*x));
    let mut compared = 0;
    for at in (0..waves.before.len() - window).step_by(7) {
        let span = &waves.reduction_db[at..at + window];
        let (least, deepest) = span.iter().fold((f32::MAX, 0.0_f32), |(a, b), x| (a.min(*x), b.max(*x)));
        // Where it hardly moves within a half wave, one is told by the other.
        if deepest - least > 0.4 {
            continue;
        }
        let heard = 20.0 * (most(&waves.before, at) / most(&waves.behind, at)).log10();
        assert!((least - 0.2..=deepest + 0.2).contains(&heard), "at {at}: heard {heard}, read {least} to {deepest}");
        compared += 1;
    }
    assert!(compared > 100, "{compared} places");
}

#[rstest]
#[case(0.0, 0.0)]
#[case(8.0, -8.0)]
fn hits_stand_where_they_are_planned_and_what_is_taken_away_begins_with_them(#[case] ahead: f64, #[case] begins: f64) {
    let (mut scene, kick, bass) = pair();
    scene.add(kick, Settings::Limiter(Limiter::default()), None);
    let ducker = scene.add(bass, compressor(-40.0, ahead), Some(kick));
    let found = scene.figures(ducker);
    assert_eq!(found.hits.iter().map(|h| h.at).collect::<Vec<_>>(), BEATS);
    let waves = scene.run(None).waves(ducker, usize::MAX).unwrap();
    let begin = (0.1 * f64::from(BEAT)) as usize / PIECE;
    // Before the second beat, then after it: the first value that rises.
    let from = BEAT as usize / PIECE - begin;
    let rise = (from..from + 2 * begin).find(|n| waves.reduction_db[n + 1] > waves.reduction_db[*n] + 0.02).unwrap();
    let ms = (rise as f64 * PIECE as f64 - f64::from(BEAT)) / 48.0;
    assert!((ms - begins).abs() < 1.5, "begins at {ms} ms");
}

#[test]
fn alone_or_beside_others_a_ducker_is_the_same() {
    let (mut scene, kick, bass) = pair();
    // A chain before and behind, another ducker beside, and one on the key.
    scene.add(bass, moving(-4.0, -40.0), None);
    let ducker = scene.add(bass, compressor(-30.0, 2.0), Some(kick));
    scene.add(bass, Settings::Limiter(Limiter { ceiling_dbtp: -9.0, ..Limiter::default() }), None);
    let pad = scene.lane("Pad", 2.0, &[0], |t| 0.3 * libm::sin(TAU * 200.0 * t));
    scene.add(pad, Settings::Limiter(Limiter::default()), None);
    let other = scene.add(pad, compressor(-36.0, 0.0), Some(bass));
    scene.add(kick, Settings::BeatShape(shapes::shape()), None);
    let find = |run: &Ducking, id| run.read().into_iter().find(|d| d.processor == id);
    let [beside, alone, none] = [Focus::Beside(ducker), Focus::Alone(ducker), Focus::None].map(|f| scene.run_in(f));
    assert_eq!(find(&beside, ducker), find(&alone, ducker));
    assert_eq!(find(&beside, ducker), find(&none, ducker));
    assert_eq!(find(&beside, other), find(&none, other));
    assert_eq!(beside.waves(ducker, 300), alone.waves(ducker, 300));
    assert_eq!(beside.pair_figures(), alone.pair_figures());
    assert_eq!(alone.read().len(), 1, "no other is heard");
    // Of those not in focus, what they take away is told, and not what they do to their sounds.
    let waves = none.waves(other, 300).unwrap();
    assert!(waves.before.is_empty() && waves.reduction_db.len() == 300);
}

#[test]
fn hits_of_a_bus_are_found_where_they_sound() {
    let (mut scene, kick, bass) = pair();
    scene.edit(Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![kick] }));
    let bus = scene.session.strips.iter().find(|s| s.name.as_str() == "Drums").unwrap().id;
    let ducker = scene.add(bass, compressor(-30.0, 0.0), Some(bus));
    let hits: Vec<u32> = scene.figures(ducker).hits.iter().map(|h| h.at).collect();
    assert_eq!(hits.len(), 4, "{hits:?}");
    for (hit, beat) in hits.iter().zip(BEATS) {
        assert!(hit.abs_diff(beat) < 480, "{hits:?}");
    }
}

#[test]
fn a_key_that_is_silent_or_gone_takes_nothing_away() {
    let (mut scene, kick, bass) = pair();
    let quiet = scene.lane("Quiet", 0.1, &[], |_| 0.5);
    let ducker = scene.add(bass, compressor(-30.0, 0.0), Some(quiet));
    let other = scene.add(bass, compressor(-30.0, 0.0), Some(kick));
    scene.edit(Edit::RemoveVoices(RemoveVoices { voices: vec![scene.session.voices[0].id] }));
    for found in scene.run(None).read() {
        assert!([ducker, other].contains(&found.processor));
        assert_eq!((found.keyed, found.sounds, found.figures.depth_db), (false, true, 0.0));
    }
}

#[test]
fn any_pieces_of_a_run_find_the_same() {
    let (mut scene, kick, bass) = pair();
    scene.add(bass, compressor(-30.0, 0.0), Some(kick));
    let found = [1, 777, 96_000, u64::from(u32::MAX)].map(|piece| {
        let mut run = Ducking::new(&scene.session, &scene.bank, LoopRange { from: 0, to: BAR }, Focus::None);
        while run.step(piece.max(997)) < 1.0 {}
        run.read()
    });
    assert!(found.iter().all(|f| *f == found[0]));
}

#[test]
fn a_session_without_duckers_is_read_at_once() {
    let (scene, ..) = pair();
    let mut run = Ducking::new(&scene.session, &scene.bank, LoopRange { from: 0, to: BAR }, Focus::None);
    assert_eq!(run.step(1), 1.0);
    assert!(run.read().is_empty());
}

/// Velocities of 127, 30, 64 and 30; of lanes, a key can hear them evened out, and ghost notes not at all.
#[rstest]
#[case::as_they_sound(0.0, 1, &[0.0, 11.9, 25.0, 25.0])]
#[case::half_evened(50.0, 1, &[0.0, 6.0, 12.5, 12.5])]
#[case::even(100.0, 1, &[0.0, 0.0, 0.8, 0.8])]
#[case::no_ghosts(0.0, 31, &[0.0, 11.9])]
#[case::even_without_ghosts(100.0, 31, &[0.0, 0.0])]
fn a_key_hears_hits_evened_out_and_above_a_floor(
    #[case] even_percent: f64,
    #[case] least: u8,
    #[case] softer: &[f64],
    #[values(44_100, 48_000, 96_000)] rate: u32,
) {
    let (mut scene, kick, bass) = pair_at(rate);
    let voice = scene.session.voices[0].id;
    let part = scene.session.parts.iter_mut().find(|p| p.voice == voice).unwrap();
    let mut hits = part.hits.clone();
    hits.iter_mut().zip([127, 30, 64, 30]).for_each(|(hit, velocity)| hit.velocity = velocity);
    part.hits = hits;
    // So low a threshold that each decibel of the key is one of the reduction.
    let settings = Compressor {
        threshold_dbfs: -60.0,
        ratio: 100.0,
        knee_db: 0.0,
        attack_ms: 0.1,
        release_ms: 30.0,
        ..Default::default()
    };
    let ducker = scene.add(bass, Settings::Compressor(settings), Some(kick));
    let key = Key { least_velocity: least, even_percent, ..Key::new(kick) };
    scene.edit(Edit::SetProcessor(SetProcessor {
        strip: bass,
        processor: ducker,
        change: ProcessorChange::Key(Some(key)),
    }));
    let found = scene.figures(ducker);
    let hardest = found.hits[0].depth_db;
    let mut off: Vec<f64> = found.hits.iter().map(|hit| hardest - hit.depth_db).collect();
    off.sort_by(f64::total_cmp);
    assert_eq!(off.len(), softer.len(), "{found:?}");
    for (off, wanted) in off.iter().zip(softer) {
        // What still rings of the hit before counts a little.
        assert!((off - wanted).abs() < 0.6, "{off} for {wanted}");
    }
}

#[test]
fn two_keys_duck_with_the_hits_of_both_and_a_removed_one_leaves_the_other() {
    let (mut scene, kick, bass) = pair();
    let clap = scene.lane("Clap", 0.2, &[480], |t| 0.7 * libm::exp(-t / 0.03) * libm::sin(TAU * 900.0 * t));
    let ducker = scene.add(bass, compressor(-30.0, 0.0), Some(kick));
    let alone = scene.figures(ducker);
    let key = Key { also: [Some(clap), None, None], ..Key::new(kick) };
    scene.edit(Edit::SetProcessor(SetProcessor {
        strip: bass,
        processor: ducker,
        change: ProcessorChange::Key(Some(key)),
    }));
    let both = scene.figures(ducker);
    let at: Vec<u32> = both.hits.iter().map(|hit| hit.at).collect();
    assert_eq!(at, [0, 12_000, BEAT, 2 * BEAT, 3 * BEAT]);
    assert!(both.average_db > alone.average_db + 0.2);
    scene.edit(Edit::RemoveVoices(RemoveVoices { voices: vec![scene.session.voices[2].id] }));
    assert_eq!(scene.figures(ducker), alone);
    scene.edit(Edit::SetProcessor(SetProcessor {
        strip: bass,
        processor: ducker,
        change: ProcessorChange::Key(Some(key.with_sources(|id| (id == kick).then_some(id)))),
    }));
    scene.edit(Edit::RemoveVoices(RemoveVoices { voices: vec![scene.session.voices[0].id] }));
    assert_eq!(scene.figures(ducker).depth_db, 0.0);
}

/// What a filter does is counted in semitones of its corner.
#[rstest]
fn a_filter_that_moves_by_the_key_reaches_a_depth_in_octaves(
    #[values(0.5, 2.0, 4.0)] octaves: f64,
    #[values(-1.0, 1.0)] way: f64,
    #[values(44_100, 48_000, 96_000)] rate: u32,
) {
    let (mut scene, kick, bass) = pair_at(rate);
    let filter = EnvelopeFilter { cutoff_hz: 2000.0, amount_oct: way, full_dbfs: -3.0, ..EnvelopeFilter::default() };
    let ducker = scene.add(bass, Settings::EnvelopeFilter(filter), Some(kick));
    let solved = solve(&scene.run(Some(ducker)), ducker, Goal::Depth { db: 12.0 * octaves }).unwrap();
    assert_eq!(solved.short, None);
    let Settings::EnvelopeFilter(set) = &solved.settings else { panic!("it stays one") };
    assert!(set.amount_oct * way > 0.0);
    // The envelope is no louder than the key's peak, and near it.
    let peak = 0.8 / libm::exp10(-3.0 / 20.0);
    assert!((set.amount_oct.abs() * peak / octaves - 1.0).abs() < 0.25, "{}", set.amount_oct);
    scene.set(ducker, solved.settings.clone());
    let found = scene.figures(ducker);
    assert!((found.depth_db - 12.0 * octaves).abs() < 0.3, "{}", found.depth_db);
    assert_eq!(found.hits.len(), 4);
}

// Solved.

#[rstest]
fn a_depth_is_met_when_it_is_rendered_again(
    #[values(1.5, 3.0, 6.0, 9.0, 12.0, 20.0)] db: f64,
    #[values("compressor", "gate", "band", "ahead")] kind: &str,
) {
    let (mut scene, kick, bass) = pair();
    let settings = match kind {
        "compressor" => compressor(-10.0, 0.0),
        "ahead" => compressor(-10.0, 4.0),
        "gate" => Settings::Gate(Gate { threshold_dbfs: -20.0, ..Default::default() }),
        _ => moving(-3.0, -10.0),
    };
    let ducker = scene.add(bass, settings, Some(kick));
    let solved = solve(&scene.run(Some(ducker)), ducker, Goal::Depth { db }).unwrap();
    assert_eq!(solved.short, None);
    scene.set(ducker, solved.settings.clone());
    let found = scene.figures(ducker);
    assert!((found.depth_db - db).abs() < 0.3, "{} of {db} with {:?}", found.depth_db, solved.settings);
    assert!((found.depth_db - solved.figures.depth_db).abs() < 0.05, "as it was said: {}", solved.figures.depth_db);
}

#[rstest]
#[case::ratio(Settings::Compressor(Compressor { ratio: 1.1, ..Default::default() }), 20.0)]
#[case::never_shut(Settings::Gate(Gate { threshold_dbfs: -80.0, hold_ms: 1000.0, ..Default::default() }), 6.0)]
fn a_depth_that_cannot_be_had_says_so_and_how_near_it_gets(#[case] settings: Settings, #[case] db: f64) {
    let (mut scene, kick, bass) = pair();
    let ducker = scene.add(bass, settings, Some(kick));
    let solved = solve(&scene.run(Some(ducker)), ducker, Goal::Depth { db }).unwrap();
    assert!(solved.short.is_some_and(|s| s.contains("as near as it gets")), "{:?}", solved.figures.depth_db);
}

#[rstest]
fn the_longest_release_that_recovers_is_found(
    #[values(4.0, 8.0, 16.0)] db: f64,
    #[values("compressor", "band")] kind: &str,
) {
    let (mut scene, kick, bass) = pair();
    let settings = if kind == "band" { moving(-db, -40.0) } else { compressor(-10.0, 0.0) };
    let ducker = scene.add(bass, settings, Some(kick));
    let solved = solve(&scene.run(Some(ducker)), ducker, Goal::Depth { db }).unwrap();
    scene.set(ducker, solved.settings);
    let solved = solve(&scene.run(Some(ducker)), ducker, Goal::Recovery).unwrap();
    assert_eq!(solved.short, None);
    scene.set(ducker, solved.settings.clone());
    let found = scene.figures(ducker);
    assert!(found.recovers() && found.recovery_ms.is_some_and(|ms| (0.0..3.0).contains(&ms)), "{found:?}");
    // A little longer would be late.
    let mut longer = solved.settings;
    match &mut longer {
        Settings::Compressor(c) => c.release_ms *= 1.02,
        Settings::Equaliser(e) => e.bands[0].release_ms *= 1.02,
        _ => unreachable!(),
    }
    scene.set(ducker, longer);
    assert!(!scene.figures(ducker).recovers());
}

#[test]
fn a_release_cannot_help_where_a_hold_is_too_long() {
    let (mut scene, kick, bass) = pair();
    let settings = Settings::Compressor(Compressor { threshold_dbfs: -40.0, hold_ms: 500.0, ..Default::default() });
    let ducker = scene.add(bass, settings, Some(kick));
    let solved = solve(&scene.run(Some(ducker)), ducker, Goal::Recovery).unwrap();
    assert!(solved.short.is_some_and(|s| s.contains("hold")), "{:?}", solved.figures);
}

#[test]
fn what_was_not_in_focus_or_has_no_such_value_is_not_solved() {
    let (mut scene, kick, bass) = pair();
    let ducker = scene.add(bass, compressor(-30.0, 0.0), Some(kick));
    assert_eq!(solve(&scene.run(None), ducker, Goal::Recovery), None);
    let still = scene.add(bass, Settings::Equaliser(Equaliser::default()), Some(kick));
    assert_eq!(solve(&scene.run(Some(still)), still, Goal::Depth { db: 6.0 }), None);
}

#[test]
fn what_no_ducker_hears_changes_nothing() {
    let (mut scene, kick, bass) = pair();
    scene.edit(Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![kick] }));
    let bus = scene.session.strips.iter().find(|s| s.name.as_str() == "Drums").unwrap().id;
    let ducker = scene.add(bass, compressor(-30.0, 0.0), Some(bus));
    let before = scene.figures(ducker);
    // One beside them, and one that follows none of them but chokes the kick on the third beat.
    scene.lane("Noise", 0.5, &[480, 1440], |t| libm::sin(9000.0 * t));
    assert_eq!(scene.figures(ducker), before);
    scene.lane("Stop", 0.1, &[1930], |_| 0.0);
    let voices = [0, 3].map(|n| scene.session.voices[n].id).to_vec();
    scene.edit(Edit::SetChoke(SetChoke { voices, set: Some(1) }));
    let choked = scene.figures(ducker);
    assert!(choked.average_db < before.average_db - 0.01, "{} then {}", before.average_db, choked.average_db);
}

#[rstest]
fn figures_are_of_time_and_not_of_frames(#[values(44_100, 96_000)] rate: u32) {
    let (mut at_48, kick, bass) = pair();
    let ducker = at_48.add(bass, compressor(-30.0, 2.0), Some(kick));
    let expected = at_48.figures(ducker);
    let (mut other, kick, bass) = pair_at(rate);
    let ducker = other.add(bass, compressor(-30.0, 2.0), Some(kick));
    let found = other.figures(ducker);
    assert!((found.depth_db - expected.depth_db).abs() < 0.05, "{} {}", found.depth_db, expected.depth_db);
    for (a, b) in found.hits.iter().zip(&expected.hits) {
        let second = |hit: &DuckHit, rate: u32| f64::from(hit.at) / f64::from(rate);
        assert!((second(a, rate) - second(b, RATE)).abs() < 1e-4);
        assert!((a.back_ms.unwrap() - b.back_ms.unwrap()).abs() < 1.0, "{a:?} {b:?}");
        assert!((a.recovery_ms.unwrap() - b.recovery_ms.unwrap()).abs() < 1.0, "{a:?} {b:?}");
    }
}
