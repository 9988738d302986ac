//! Beats of a mixer at work: "Copper Weather", a finished arrangement, and "Paper Lantern", a first loop.

use crate::builder::{Builder, DemoSession, chords, fill, notes, steps};
use crate::kit::tin_harbour;
use crate::sounds::Sound;
use lane_document::edit::{Edit, SetPattern};
use lane_document::session::{Family, Pattern};
use lane_dsp::delay::{NoteValue, Sides};
use lane_dsp::equaliser::{Shape, Slope};
use lane_dsp::{Band, BeatShape, Clipper, Delay, Equaliser, Gate, Reverb, Saturation, Settings};

const RATE: u32 = 48_000;

/// All demo sessions, the large one first; the last is a kit as it was recorded.
pub fn demo_sessions() -> Vec<DemoSession> {
    vec![copper_weather(), paper_lantern(), tin_harbour()]
}

/// 15 lanes, 24 bars, four sections of three patterns, F minor.
fn copper_weather() -> DemoSession {
    let mut b = Builder::new("Copper Weather", RATE, 92.0, "F min", 56.0);
    let verse = b.session.patterns[0].id;
    b.apply(Edit::SetPattern(SetPattern { pattern: Pattern { id: verse, name: "Verse".into(), bars: 2 } }));
    let (hook, intro) = (b.pattern("Hook", 4), b.pattern("Intro", 4));
    b.song(&[("Intro", intro, 4), ("Verse", verse, 8), ("Hook", hook, 8), ("Out", intro, 4)]);

    b.lane(
        Sound::Kick,
        Family::Low,
        (-8.4, 0.0),
        vec![
            (intro, fill("X.........x.....", 4)),
            (verse, steps("X.....x...X..... X.....x..oX....x")),
            (hook, fill("X..x..x...X..... X.....x..oX..x..", 4)),
        ],
    );
    b.lane(
        Sound::Snare,
        Family::Snare,
        (-7.6, 0.0),
        vec![(verse, fill("....X.......X..o", 2)), (hook, fill("....X..o....X... ....X....o..X.oo", 4))],
    );
    b.lane(
        Sound::Rim,
        Family::Snare,
        (-12.0, 22.0),
        vec![(verse, steps("..o....x..o..... ..o....x.....o.x")), (intro, fill("....x.......x...", 4))],
    );
    b.lane(Sound::Clap, Family::Snare, (-15.0, 0.0), vec![(hook, fill("....X.......X...", 4))]);
    b.lane(
        Sound::HatClosed,
        Family::Hats,
        (-9.0, -18.0),
        vec![
            (intro, fill("x...x...x...x...", 4)),
            (verse, fill("x.o.x.o.x.oox.o.", 2)),
            (hook, fill("xoo.xoxoxoo.x.xo", 4)),
        ],
    );
    b.lane(
        Sound::HatOpen,
        Family::Hats,
        (-13.0, -18.0),
        vec![(verse, fill("..............x.", 2)), (hook, fill("...x.......x....", 4))],
    );
    b.lane(Sound::Ride, Family::Hats, (-14.0, 30.0), vec![(hook, fill("x...x...x...x...", 4))]);
    b.lane(Sound::Crash, Family::Hats, (-18.0, -25.0), vec![(hook, steps("X"))]);
    b.lane(
        Sound::Shaker,
        Family::Percussion,
        (-12.0, 40.0),
        vec![(intro, fill("ooxoooxoooxoooxo", 4)), (hook, fill("oxooxooxoxooxoxo", 4))],
    );
    b.lane(
        Sound::TomLow,
        Family::Percussion,
        (-15.0, 20.0),
        vec![(intro, steps(&format!("{}............x.xX", ".".repeat(48))))],
    );
    b.lane(
        Sound::TomHigh,
        Family::Percussion,
        (-15.0, -20.0),
        vec![(intro, steps(&format!("{}..........xo....", ".".repeat(48))))],
    );
    let line = [
        (0, 5, 0, 110),
        (6, 3, 0, 96),
        (10, 4, 3, 104),
        (16, 5, -2, 110),
        (22, 3, -2, 96),
        (26, 2, -4, 104),
        (28, 4, -5, 100),
    ];
    let lifted =
        [(32, 5, -4, 110), (38, 3, -4, 96), (42, 5, 3, 104), (48, 6, 1, 110), (54, 4, 0, 96), (58, 6, -2, 104)];
    let held = [(0, 14, 0, 104), (16, 14, -2, 104), (32, 14, -4, 104), (48, 15, -5, 104)];
    b.lane(
        Sound::SubBass,
        Family::Bass,
        (-7.6, 0.0),
        vec![(intro, notes(&held)), (verse, notes(&line)), (hook, notes(&[&line[..], &lifted[..]].concat()))],
    );
    let quiet = [(0, 14, [0, 3, 7, 10]), (16, 14, [-2, 1, 5, 8]), (32, 14, [-4, 0, 3, 7]), (48, 15, [-5, -1, 2, 5])];
    let stabs = [(0, 6, [0, 3, 7, 12]), (10, 4, [0, 3, 7, 12]), (16, 6, [-2, 1, 5, 10]), (26, 5, [-4, 0, 3, 8])];
    b.lane(
        Sound::Keys,
        Family::Music,
        (-18.0, -12.0),
        vec![(intro, chords(&quiet)), (verse, chords(&stabs)), (hook, chords(&quiet))],
    );
    let arp = [
        (2, 2, 0, 88),
        (5, 2, 7, 80),
        (8, 2, 10, 92),
        (11, 2, 12, 76),
        (14, 2, 7, 84),
        (18, 2, -2, 88),
        (21, 2, 5, 80),
        (24, 2, 8, 92),
        (27, 2, 10, 76),
        (30, 2, 3, 84),
    ];
    let higher: Vec<_> = arp.iter().map(|&(at, l, st, v)| (at + 32, l, st + if st > 5 { 0 } else { 5 }, v)).collect();
    b.lane(
        Sound::Pluck,
        Family::Music,
        (-13.0, 28.0),
        vec![(intro, notes(&arp[..5])), (hook, notes(&[&arp[..], &higher[..]].concat()))],
    );
    let wide = [(0, 16, [0, 7, 12, 15]), (16, 16, [-2, 5, 10, 13]), (32, 16, [-4, 3, 8, 12]), (48, 16, [-5, 2, 7, 11])];
    let short = [(0, 16, [0, 7, 12, 15]), (16, 16, [-2, 5, 10, 13])];
    b.lane(
        Sound::Pad,
        Family::Music,
        (3.9, 0.0),
        vec![(intro, chords(&wide)), (verse, chords(&short)), (hook, chords(&wide))],
    );
    b.bus("Drums", &[0, 1, 2, 3, 9, 10]);
    b.bus("Tops", &[4, 5, 6, 7, 8]);
    b.bus("Music", &[12, 13, 14]);
    b.house_chain(0, "Kick, short and up front");
    b.house_chain(1, "Snare, less ring");
    b.chain(1, vec![Settings::Clipper(Clipper { ceiling_dbfs: -11.0, hardness_percent: 60.0 })]);
    b.with_room(0, -8.0);
    b.with_room(1, -8.0);
    b.house_chain(4, "Hats, wide and softer");
    b.house_chain(5, "Hats, wide and softer");
    b.house_chain(11, "Bass, mono and audible on small speakers");
    b.chain(
        12,
        vec![Settings::Equaliser(Equaliser {
            bands: vec![
                Band { shape: Shape::HighPass, freq_hz: 140.0, ..Band::default() },
                Band { freq_hz: 480.0, gain_db: -2.5, q: 1.0, ..Band::default() },
            ],
        })],
    );
    b.press(&[(0, 0.0), (1, 0.0), (3, -4.0)]);
    let room = Reverb { decay_s: 0.7, low_cut_hz: 220.0, predelay_ms: 8.0, ..Reverb::default() };
    b.send_to("Room", &[(1, -14.0), (2, -10.0), (3, -12.0), (12, -14.0)], Settings::Reverb(room));
    let echo = Delay {
        note: NoteValue::EighthDotted,
        sides: Sides::PingPong,
        feedback_percent: 35.0,
        low_cut_hz: 300.0,
        high_cut_hz: 5000.0,
        ..Delay::default()
    };
    b.send_to("Echo", &[(13, -9.0)], Settings::Delay(echo));
    b.duck_by_first(11);
    b.chain(
        14,
        vec![
            Settings::Equaliser(Equaliser {
                bands: vec![Band { shape: Shape::HighPass, freq_hz: 130.0, slope: Slope::Db24, ..Band::default() }],
            }),
            Settings::Saturation(Saturation { drive_db: 18.0, ..Saturation::default() }),
            Settings::Clipper(Clipper { ceiling_dbfs: -17.0, hardness_percent: 50.0 }),
            Settings::Equaliser(Equaliser {
                bands: vec![Band { shape: Shape::HighPass, freq_hz: 40.0, slope: Slope::Db6, ..Band::default() }],
            }),
        ],
    );
    // The pad breathes with the beat, whatever plays on it.
    let mut round = BeatShape { points: BeatShape::starts().swap_remove(1).1, ..BeatShape::default() };
    round.base.depth_db = 4.0;
    b.chain(14, vec![Settings::BeatShape(round)]);
    // The pluck leaves the snare's body alone, and the hat opens the keys a little.
    let body = Band { freq_hz: 420.0, q: 0.9, range_db: -4.0, threshold_dbfs: -42.0, ..Band::default() };
    b.duck(13, 1, Settings::Equaliser(Equaliser { bands: vec![Band { release_ms: 90.0, ..body }] }));
    let open = Gate { threshold_dbfs: -34.0, ratio: 2.0, range_db: 2.0, release_ms: 110.0, ..Gate::default() };
    b.duck(12, 4, Settings::Gate(open));
    b.done()
}

/// 7 lanes, 8 bars, one pattern, everything still straight into the mix bus.
fn paper_lantern() -> DemoSession {
    let mut b = Builder::new("Paper Lantern", RATE, 124.0, "A min", 50.0);
    let loop_ = b.session.patterns[0].id;
    b.apply(Edit::SetPattern(SetPattern { pattern: Pattern { id: loop_, name: "Loop".into(), bars: 2 } }));
    b.song(&[("Loop", loop_, 8)]);
    b.lane(Sound::Kick, Family::Low, (-9.3, 0.0), vec![(loop_, fill("X...X...X...X...", 2))]);
    b.lane(Sound::Clap, Family::Snare, (-12.5, 0.0), vec![(loop_, fill("....X.......X...", 2))]);
    b.lane(Sound::HatClosed, Family::Hats, (-10.5, 10.0), vec![(loop_, fill("x.oox.oox.oox.oo", 2))]);
    b.lane(Sound::HatOpen, Family::Hats, (-14.0, 10.0), vec![(loop_, fill("..x...x...x...x.", 2))]);
    let line = [
        (2, 2, 4, 108),
        (6, 2, 4, 100),
        (10, 2, 7, 104),
        (14, 2, 4, 100),
        (18, 2, 2, 108),
        (22, 2, 2, 100),
        (26, 4, -1, 104),
    ];
    b.lane(Sound::SubBass, Family::Bass, (-10.5, 0.0), vec![(loop_, notes(&line))]);
    let stabs = [(3, 2, [4, 7, 11, 14]), (11, 2, [4, 7, 11, 14]), (19, 2, [2, 5, 9, 12]), (27, 3, [-1, 2, 7, 11])];
    b.lane(Sound::Keys, Family::Music, (-23.0, -10.0), vec![(loop_, chords(&stabs))]);
    let held = [(0, 16, [4, 7, 11, 16]), (16, 16, [2, 5, 9, 14])];
    b.lane(Sound::Pad, Family::Music, (-5.0, 0.0), vec![(loop_, chords(&held))]);
    b.done()
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_stems::{StemJob, render};

    #[test]
    fn demo_sessions_are_whole_and_mixed_with_headroom() {
        for DemoSession { session, bank } in demo_sessions() {
            session.validate().unwrap();
            assert!(session.assets.iter().all(|a| bank.contains_key(&a.id)));
            let figures = render(&session, &bank, &StemJob::new(&session, 1).unwrap(), &mut ()).unwrap();
            let title = &session.header.title;
            assert!((-9.0..=-5.9).contains(&figures.main_true_peak_dbtp), "{title} {}", figures.main_true_peak_dbtp);
            assert!(figures.stems.iter().all(|s| s.peak_dbfs > -60.0), "{title} has a silent stem");
            assert!(figures.sum_minus_main_dbfs.unwrap() < -105.0, "{title}");
        }
    }

    #[test]
    fn one_is_large_one_small_one_recorded() {
        let sizes: Vec<_> = demo_sessions()
            .iter()
            .map(|d| (d.session.voices.len(), d.session.sections.iter().map(|s| s.bars).sum::<u32>()))
            .collect();
        assert_eq!(sizes, [(15, 24), (7, 8), (10, 16)]);
    }
}
