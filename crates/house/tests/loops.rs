//! Loops of the demo sessions, whose hit times are known, are cut where they were hit.

use lane_analysis::onsets;
use lane_document::session::{Audio, Family, Feel, Session, Song};
use lane_engine::{Engine, Metering};
use lane_house::{DemoSession, demo_sessions};
use lane_units::Frame;
use rstest::rstest;

const DRUMS: [Family; 4] = [Family::Low, Family::Snare, Family::Hats, Family::Percussion];
/// Hits closer together than this in seconds are one to the ear, and one cut.
const APART: f64 = 0.045;

/// The drums alone and as they were brought in, from a bar on for some bars, and the frames of their hits.
fn drum_loop(demo: &DemoSession, bar: u32, bars: u32) -> (Audio, Vec<usize>) {
    let mut s: Session = demo.session.clone();
    s.voices.retain(|v| DRUMS.contains(&v.family));
    for strip in &mut s.strips {
        (strip.trim_db, strip.chain, strip.sends) = (0.0, vec![], vec![]);
    }
    let song = Song::new(&s);
    let (from, to) = (song.bar_frame(bar), song.bar_frame(bar + bars));
    let mut engine = Engine::new(&s, &demo.bank, 512, Metering::Off);
    engine.seek(from);
    engine.play();
    let mut out: Vec<Frame> = vec![[0.0; 2]; (to - from) as usize];
    engine.process(&mut out);
    let audio = Audio::new(2, out.iter().flatten().map(|x| *x as f32).collect()).unwrap();
    let mut hits: Vec<usize> = Vec::new();
    for voice in &s.voices {
        song.sounds_of(&s, voice.id, Feel::Played, |sound| {
            let at = song.frame_at(sound.at_ticks);
            if (from..to).contains(&at) {
                hits.push((at - from) as usize);
            }
        });
    }
    hits.sort_unstable();
    let apart = (APART * f64::from(s.header.sample_rate)) as usize;
    hits.dedup_by(|b, a| *b < *a + apart);
    (audio, hits)
}

#[rstest]
#[case::verse(0, 4, 4)]
#[case::hook(0, 12, 8)]
#[case::small(1, 0, 8)]
fn nearly_all_hits_are_cut_within_ten_milliseconds(#[case] demo: usize, #[case] bar: u32, #[case] bars: u32) {
    let demo = &demo_sessions()[demo];
    let rate = demo.session.header.sample_rate;
    let (audio, hits) = drum_loop(demo, bar, bars);
    let found = onsets(&audio, rate, 0.6);
    let near = |a: usize, list: &[usize]| list.iter().any(|b| a.abs_diff(*b) as f64 <= 0.010 * f64::from(rate));
    let met = hits.iter().filter(|h| near(**h, &found)).count();
    let extra = found.iter().filter(|f| !near(**f, &hits)).count();
    println!("{met} of {} hits met, {extra} cuts besides", hits.len());
    assert!(hits.len() > 20);
    assert!(met * 100 >= hits.len() * 95, "{met} of {} hits met, {extra} besides", hits.len());
    assert!(extra * 10 <= hits.len(), "{extra} cuts where nothing was hit");
}
