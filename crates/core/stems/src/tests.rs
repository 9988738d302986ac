use super::labels::{Named, labels, safe, unknown_fields};
use super::*;
use lane_document::edit::{
    AddProcessor, AddReference, AddVoices, Edit, NewBus, NewHits, NewReturn, NewVoice, RemoveProcessors, SetStrips,
    StripChange, apply,
};
use lane_document::session::{
    AssetBank, AssetRef, Audio, Depth, Family, Hit, Hold, Key, Layer, Session, StemRange, Tap, VoiceSource,
};
use lane_dsp::Settings;
use lane_units::{AssetId, Frame, LabelPattern};
use rstest::rstest;
use std::convert::Infallible;
use std::sync::Arc;

/// Three tonal voices, two of them on a bus, at 120 bpm over 2 bars.
fn session() -> (Session, AssetBank) {
    let mut s = Session::new("Night Ferry", 48_000);
    s.header.tempo_bpm = lane_document::session::Tempo::new(120.0).unwrap();
    s.sections[0].bars = 2;
    let mut bank = AssetBank::new();
    for (i, name) in ["Kick", "Snare", "Hat"].iter().enumerate() {
        let hz = 90.0 * (i as f64 + 1.0);
        let tone = (0..20_000).map(|n| (0.3 * libm::sin(hz * f64::from(n) / 7000.0)) as f32).collect();
        let id = AssetId(format!("{i}a").repeat(32));
        let asset = AssetRef {
            id: id.clone(),
            name: format!("{name}.wav").parse().unwrap(),
            channels: 1,
            sample_rate: 48_000,
            frames: 20_000,
        };
        bank.insert(id.clone(), Arc::new(Audio::new(1, tone).unwrap()));
        let hits = [0, 1000 * i as u32, 7200].map(|at_ticks| Hit::new(at_ticks, 240, 101, i as i8));
        let voice = NewVoice {
            trim_db: 0.0,
            name: (*name).into(),
            family: Family::Low,
            source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole },
            output: None,
            hits: vec![NewHits { pattern: s.patterns[0].id, hits: hits.to_vec() }],
        };
        apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
    }
    let feeders = s.voices[..2].iter().map(|v| v.channel).collect::<Vec<_>>();
    let faders = Edit::SetStrips(SetStrips { strips: feeders.clone(), change: StripChange::FaderDb(-3.3) });
    apply(&mut s, &Edit::Batch { edits: vec![Edit::NewBus(NewBus { name: "Drums".into(), feeders }), faders] })
        .unwrap();
    (s, bank)
}

#[derive(Default)]
struct Kept {
    stems: Vec<Vec<Frame>>,
    stop_at: Option<u64>,
}

impl StemSink for Kept {
    type Error = Infallible;
    fn write(&mut self, stem: usize, frames: &[Frame]) -> Result<(), Infallible> {
        self.stems.resize(self.stems.len().max(stem + 1), Vec::new());
        self.stems[stem].extend_from_slice(frames);
        Ok(())
    }
    fn progress(&mut self, done: u64) -> Result<bool, Infallible> {
        Ok(self.stop_at.is_none_or(|at| done < at))
    }
}

#[rstest]
#[case::float(Depth::Float32, -120.0)]
#[case::int(Depth::Int24, -105.0)]
fn channel_stems_add_up_to_main(#[case] depth: Depth, #[case] at_most: f64) {
    let (mut s, bank) = session();
    s.stem_plan.depth = depth;
    let job = StemJob::new(&s, 1).unwrap();
    let mut kept = Kept::default();
    let figures = render(&s, &bank, &job, &mut kept).unwrap();
    assert!(figures.sum_minus_main_dbfs.unwrap() <= at_most, "{figures:?}");
    assert!(figures.not_in_sum.is_empty());
    assert!(kept.stems.iter().all(|k| k.len() as u64 == job.frames()));
    // The figure again, from what was kept.
    let (main, channels) = kept.stems.split_last().unwrap();
    let worst = (0..main.len())
        .map(|n| (channels.iter().map(|c| depth.written(c[n][0])).sum::<f64>() - depth.written(main[n][0])).abs())
        .fold(0.0, f64::max);
    assert!((lane_units::readable_dbfs(worst) - figures.sum_minus_main_dbfs.unwrap()).abs() < 0.02);
}

#[test]
fn a_bus_that_changes_the_sum_shows_in_the_figure() {
    let (mut s, bank) = session();
    let bus = s.strips.iter().find(|x| x.name == "Drums").unwrap().id;
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![bus], change: StripChange::FaderDb(-6.0) })).unwrap();
    s.stem_plan.without = vec![s.voices[2].channel];
    let figures = render(&s, &bank, &StemJob::new(&s, 1).unwrap(), &mut Kept::default()).unwrap();
    assert!(figures.sum_minus_main_dbfs.unwrap() > -20.0);
    assert_eq!(figures.not_in_sum, ["Hat"]);
}

#[rstest]
#[case::int(Depth::Int24, &["Kick", "Main"])]
#[case::float(Depth::Float32, &[])]
fn what_the_depth_cut_off_is_the_cause_of_a_sum_that_does_not_fit(#[case] depth: Depth, #[case] cut: &[&str]) {
    let (mut s, bank) = session();
    s.stem_plan.depth = depth;
    let kick = s.voices[0].channel;
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![kick], change: StripChange::FaderDb(12.0) })).unwrap();
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![kick], change: StripChange::TrimDb(12.0) })).unwrap();
    let job = StemJob::new(&s, 1).unwrap();
    let figures = render(&s, &bank, &job, &mut Kept::default()).unwrap();
    assert_eq!(figures.cut_off, cut, "{figures:?}");
    assert_eq!(figures.sum_minus_main_dbfs.unwrap() < -100.0, cut.is_empty());
    let sheet = session_sheet(&s, &job, &figures);
    assert_eq!(sheet.contains("cut off there: Kick, Main"), !cut.is_empty());
}

#[test]
fn a_reference_is_in_no_stem_and_not_in_main() {
    let (s, bank) = session();
    let mut against = s.clone();
    let asset = AssetRef { id: AssetId("ef".repeat(32)), frames: 9_000, ..(*s.assets[0]).clone() };
    apply(&mut against, &Edit::AddReference(AddReference { name: "Pier".into(), asset })).unwrap();
    // Its audio is not even asked for.
    let [plain, beside] = [&s, &against].map(|session| {
        let job = StemJob::new(session, 1).unwrap();
        let mut kept = Kept::default();
        render(session, &bank, &job, &mut kept).unwrap();
        (job, kept.stems)
    });
    assert_eq!(plain, beside);
}

#[test]
fn a_tail_is_written_to_its_end_and_not_longer() {
    let (mut s, bank) = session();
    let with = StemJob::new(&s, 1).unwrap();
    let mut kept = Kept::default();
    render(&s, &bank, &with, &mut kept).unwrap();
    let main = kept.stems.last().unwrap();
    // The last hit, at tick 7200 (half a second before the end), rings for 20000 frames of 24000.
    assert_eq!(with.until, with.hits_until.max(7200 * 25 + 20_000));
    assert!(main[main.len() - 300..].iter().all(|f| f[0].abs() <= 0.31));
    s.stem_plan.tail = false;
    assert_eq!(StemJob::new(&s, 1).unwrap().until, 192_000);
}

#[test]
fn a_range_starts_at_its_bar() {
    let (mut s, bank) = session();
    let whole = StemJob::new(&s, 1).unwrap();
    let mut song = Kept::default();
    render(&s, &bank, &whole, &mut song).unwrap();
    s.stem_plan.range = StemRange::Bars { from_bar: 1, bars: 1 };
    let job = StemJob::new(&s, 1).unwrap();
    assert_eq!((job.from, job.hits_until), (96_000, 192_000));
    let mut bar = Kept::default();
    render(&s, &bank, &job, &mut bar).unwrap();
    // Nothing rings from the first bar into the last hit.
    let hit = 7200 * 25;
    assert_eq!(song.stems[0][hit..hit + 5000], bar.stems[0][hit - 96_000..hit - 96_000 + 5000]);
}

#[rstest]
#[case::outside(StemRange::Bars { from_bar: 1, bars: 2 }, "the song has 2 bars")]
#[case::empty(StemRange::Bars { from_bar: 0, bars: 0 }, "0 bars")]
#[case::overflow(StemRange::Bars { from_bar: u32::MAX - 1, bars: 9 }, "the song has 2 bars")]
#[case::gone(StemRange::Section { section: lane_units::SectionId(99) }, "not in the session any more")]
fn a_range_that_is_not_there_is_refused(#[case] range: StemRange, #[case] says: &str) {
    let (mut s, _) = session();
    s.stem_plan.range = range;
    assert!(StemJob::new(&s, 1).unwrap_err().to_string().contains(says));
}

#[test]
fn the_plan_decides_strips_and_taps() {
    let (mut s, _) = session();
    let bus = s.strips.iter().find(|x| x.name == "Drums").unwrap().id;
    s.stem_plan.without = vec![s.voices[0].channel];
    s.stem_plan.with_buses = vec![bus];
    s.stem_plan.tap = Tap::Dry;
    s.stem_plan.label = "{number} {voice} {tap} {version}".into();
    let names: Vec<_> = StemJob::new(&s, 3).unwrap().stems.into_iter().map(|x| x.file_name).collect();
    assert_eq!(names, ["01-Snare-dry-v3.wav", "02-Hat-dry-v3.wav", "03-Drums-dry-v3.wav", "04-Main-channel-v3.wav"]);
    s.stem_plan.without = s.strips.iter().map(|x| x.id).collect();
    s.stem_plan.with_buses.clear();
    assert_eq!(StemJob::new(&s, 1).unwrap_err(), StemsError::NoStems);
}

#[test]
fn cancelling_stops_the_render() {
    let (s, bank) = session();
    let mut kept = Kept { stop_at: Some(5000), ..Kept::default() };
    let stopped = render(&s, &bank, &StemJob::new(&s, 1).unwrap(), &mut kept);
    assert!(matches!(stopped, Err(RenderStopped::Cancelled)));
    assert!(kept.stems[0].len() < 8000);
}

#[test]
fn forgotten_mutes_solos_and_outputs_are_named() {
    let (mut s, _) = session();
    s.strips.iter_mut().find(|x| x.name == "Drums").unwrap().solo = true;
    let hat = s.voices[2].channel;
    s.strips.iter_mut().find(|x| x.id == hat).unwrap().output = None;
    s.voices[0].source = VoiceSource::Empty;
    let texts: Vec<_> = StemJob::new(&s, 1).unwrap().warnings.into_iter().map(|w| w.text).collect();
    assert!(texts.iter().any(|t| t.starts_with("Drums is soloed")));
    assert!(texts.iter().any(|t| t.starts_with("Hat has no output")));
    assert!(texts.iter().any(|t| t.starts_with("Kick has no sound")));
}

#[rstest]
#[case("Tom low / floor", "Tom-low-floor")]
#[case("../../etc/passwd", "etc-passwd")]
#[case(" 🥁 Kick 🥁 ", "Kick")]
#[case("A\u{0}B:C*D?", "A-B-C-D")]
#[case("F# min", "F#-min")]
#[case("...", "")]
fn names_are_safe_on_every_file_system(#[case] name: &str, #[case] file: &str) {
    assert_eq!(safe(name), file);
}

#[test]
fn labels_are_short_enough_and_never_alike() {
    let (mut s, _) = session();
    s.stem_plan.label = "{voice}".into();
    let long = "x".repeat(300);
    let names = ["Kick", "kick", "KICK", &long, "con", "🥁"];
    let stems: Vec<_> = names.iter().map(|name| Named { name, tap: Tap::Dry }).collect();
    let got = labels(&s, 1, &stems);
    assert_eq!(got[..3], ["Kick.wav", "kick-2.wav", "KICK-3.wav"]);
    assert!(got[3].len() < 200);
    assert_eq!(got[4..], ["05_con.wav", "06.wav"]);
}

#[rstest]
#[case::alone("{voice}_{version}", "Kick_v3.wav")]
#[case::with_a_v("{voice}_v{version}", "Kick_v3.wav")]
#[case::with_a_large_one("{voice}-V{version}", "Kick-v3.wav")]
#[case::with_a_word("{voice} version {version}", "Kick-version-v3.wav")]
fn a_version_has_its_v_once(#[case] label: &str, #[case] file_name: &str) {
    let mut s = Session::new("V", 48_000);
    s.stem_plan.label = LabelPattern::new(label).unwrap();
    assert_eq!(labels(&s, 3, &[Named { name: "Kick", tap: Tap::Channel }]), [file_name]);
}

#[rstest]
#[case::all_known("{number}_{voice}_{tap}_{title}_{tempo}_{key}_{version}", &[])]
#[case::unknown("{voice}_{bars}_{Voice}_{bars}", &["{bars}", "{Voice}"])]
#[case::open("{voice}_{bars", &[])]
fn what_stands_for_nothing_in_a_label_is_named(#[case] label: &str, #[case] unknown: &[&str]) {
    assert_eq!(unknown_fields(label), unknown);
}

#[test]
fn an_unknown_field_of_the_label_is_said_before_tracking_out() {
    let mut s = Session::new("V", 48_000);
    s.stem_plan.label = "{voice}_{bars}".into();
    let texts: Vec<String> = StemJob::new(&s, 1).unwrap().warnings.into_iter().map(|w| w.text).collect();
    assert!(texts.iter().any(|t| t.starts_with("{bars} in the label stands for nothing; there are {number}, {voice}")));
}

#[test]
fn an_empty_key_leaves_no_gap_in_a_label() {
    let (mut s, _) = session();
    s.stem_plan.label = "{number}_{voice}_{key}_{tempo}bpm".into();
    let stem = [Named { name: "Kick", tap: Tap::Dry }];
    assert_eq!(labels(&s, 1, &stem), ["01_Kick_120bpm.wav"]);
    s.header.key = "F# min".into();
    assert_eq!(labels(&s, 1, &stem), ["01_Kick_F#-min_120bpm.wav"]);
}

#[test]
fn the_sheet_names_every_file_and_the_figure() {
    let (mut s, bank) = session();
    s.voices[0].name = "Kick | deep".into();
    let job = StemJob::new(&s, 1).unwrap();
    let figures = render(&s, &bank, &job, &mut Kept::default()).unwrap();
    let sheet = session_sheet(&s, &job, &figures);
    assert!(job.stems.iter().all(|x| sheet.contains(&x.file_name)));
    assert!(sheet.contains("Kick \\| deep"));
    assert!(sheet.contains("Sum of channel stems less Main"));
    assert!(sheet.contains("bars 1 to 2"));
    assert!(sheet.contains("| Length | "));
}

/// A limiter of main is left out of what is written unless it is asked for, and the sheet says so.
#[test]
fn the_limiter_of_main_is_not_in_the_stems_unless_asked_for() {
    let (mut s, bank) = session();
    let main = s.main().unwrap().id;
    let plain = StemJob::new(&s, 1).unwrap();
    let before = render(&s, &bank, &plain, &mut Kept::default()).unwrap();
    assert!(!plain.limiter_left_out);
    let limiter = lane_dsp::Limiter { ceiling_dbtp: -20.0, ..Default::default() };
    let settings = Settings::Limiter(limiter);
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![main], settings, key: None, at: None })).unwrap();
    let job = StemJob::new(&s, 1).unwrap();
    let without = render(&s, &bank, &job, &mut Kept::default()).unwrap();
    assert!(job.limiter_left_out);
    assert!((without.main_true_peak_dbtp - before.main_true_peak_dbtp).abs() < 0.01);
    assert!(session_sheet(&s, &job, &without).contains("| Limiter of Main | not in the stems"));
    s.stem_plan.with_limiter = true;
    let job = StemJob::new(&s, 1).unwrap();
    let with = render(&s, &bank, &job, &mut Kept::default()).unwrap();
    assert!(!job.limiter_left_out && with.main_true_peak_dbtp < -19.8, "{}", with.main_true_peak_dbtp);
    assert!(!session_sheet(&s, &job, &with).contains("| Limiter of Main |"));
}

#[test]
fn the_sheet_says_what_ducks_what() {
    let (mut s, bank) = session();
    let [kick, other] = [0, 1].map(|n| s.voices[n].channel);
    let gate = lane_dsp::Gate { range_db: 40.0, ..Default::default() };
    let compressor = lane_dsp::Compressor { range_db: 6.0, ..Default::default() };
    for settings in [Settings::Compressor(compressor), Settings::Gate(gate), Settings::Equaliser(Default::default())] {
        let edit =
            Edit::AddProcessor(AddProcessor { strips: vec![other], settings, key: Some(Key::new(kick)), at: None });
        apply(&mut s, &edit).unwrap();
    }
    let sheet = |s: &Session| {
        let job = StemJob::new(s, 1).unwrap();
        session_sheet(s, &job, &render(s, &bank, &job, &mut Kept::default()).unwrap())
    };
    let names = [s.strip_name(kick), s.strip_name(other)];
    let said = sheet(&s);
    let line =
        format!("- {} ducks {} with a compressor, from -18.0 dBFS at 4.0:1, by 6.0 dB at most.", names[0], names[1]);
    assert!(said.contains(&line), "{said}");
    assert!(said.contains("with a gate that it opens at -36.0 dBFS, shut by 40.0 dB."), "{said}");
    assert_eq!(said.matches(" ducks ").count(), 2, "an equaliser that does not move takes nothing away");
    let mut shape = lane_dsp::BeatShape::default();
    (shape.base.band, shape.base.corner_hz) = (lane_dsp::beat_shape::ShapeBand::Low, 120.0);
    let settings = Settings::BeatShape(shape);
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![other], settings, key: None, at: None })).unwrap();
    let line = format!("- The beat ducks {} with a shape of 1/4, by 9.0 dB under 120 Hz.", names[1]);
    assert!(sheet(&s).contains(&line), "{}", sheet(&s));
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Room".into(), feeders: vec![], silent: false })).unwrap();
    let room = s.strips.iter().find(|x| x.name.as_str() == "Room").unwrap().id;
    let filter = lane_dsp::EnvelopeFilter { amount_oct: -2.0, ..Default::default() };
    let key = Some(Key { also: [Some(room), None, None], ..Key::new(kick) });
    let settings = Settings::EnvelopeFilter(filter);
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![other], settings, key, at: None })).unwrap();
    let line = format!("- {} and Room duck {} with a filter from 800 Hz, by -2.0 octaves at most.", names[0], names[1]);
    assert!(sheet(&s).contains(&line), "{}", sheet(&s));
    let off = s.strip(other).unwrap().chain.iter().map(|p| p.id).collect();
    apply(&mut s, &Edit::RemoveProcessors(RemoveProcessors { strip: other, processors: off })).unwrap();
    assert!(!sheet(&s).contains("## Ducking"));
}
