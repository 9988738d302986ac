//! Two beats of a mixer at work: "Copper Weather", a finished arrangement, and "Paper Lantern", a first loop.

use crate::builder::{Builder, DemoSession, chords, fill, notes, steps};
use crate::sounds::Sound;
use lane_core::dsp::delay::{NoteValue, Sides};
use lane_core::dsp::equaliser::Shape;
use lane_core::dsp::{Band, Delay, Equaliser, Reverb, Settings};
use lane_core::edit::Edit;
use lane_core::session::{Family, Pattern};

const RATE: u32 = 48_000;

/// All demo sessions, the large one first.
pub fn demo_sessions() -> Vec<DemoSession> {
    vec![copper_weather(), paper_lantern()]
}

/// 14 lanes, 24 bars, four sections of two patterns, F minor.
fn copper_weather() -> DemoSession {
    let mut b = Builder::new("Copper Weather", RATE, 92.0, "F min", 56.0);
    let verse = b.session.patterns[0].id;
    b.apply(Edit::SetPattern { pattern: Pattern { id: verse, name: "Verse".into(), bars: 2 } });
    let (hook, intro) = (b.pattern("Hook", 4), b.pattern("Intro", 4));
    b.song(&[("Intro", intro, 4), ("Verse", verse, 8), ("Hook", hook, 8), ("Out", intro, 4)]);

    b.lane(
        Sound::Kick,
        Family::Low,
        (-4.0, 0.0),
        vec![(verse, steps("X.....x...X..... X.....x..oX....x")), (hook, fill("X..x..x...X..... X.....x..oX..x..", 4))],
    );
    b.lane(
        Sound::Snare,
        Family::Snare,
        (-6.5, 0.0),
        vec![(verse, fill("....X.......X..o", 2)), (hook, fill("....X..o....X... ....X....o..X.oo", 4))],
    );
    b.lane(Sound::Rim, Family::Snare, (-11.0, 22.0), vec![(verse, steps("..o....x..o..... ..o....x.....o.x"))]);
    b.lane(Sound::Clap, Family::Snare, (-9.5, 0.0), vec![(hook, fill("....X.......X...", 4))]);
    b.lane(
        Sound::HatClosed,
        Family::Hats,
        (-13.0, -18.0),
        vec![(verse, fill("x.o.x.o.x.oox.o.", 2)), (hook, fill("xoo.xoxoxoo.x.xo", 4))],
    );
    b.lane(
        Sound::HatOpen,
        Family::Hats,
        (-16.0, -18.0),
        vec![(verse, fill("..............x.", 2)), (hook, fill("...x.......x....", 4))],
    );
    b.lane(Sound::Ride, Family::Hats, (-18.0, 30.0), vec![(hook, fill("x...x...x...x...", 4))]);
    b.lane(Sound::Crash, Family::Hats, (-15.0, -25.0), vec![(hook, steps("X"))]);
    b.lane(
        Sound::Shaker,
        Family::Percussion,
        (-17.0, 40.0),
        vec![(intro, fill("ooxoooxoooxoooxo", 4)), (hook, fill("oxooxooxoxooxoxo", 4))],
    );
    b.lane(
        Sound::TomLow,
        Family::Percussion,
        (-9.0, 20.0),
        vec![(intro, steps(&format!("{}............x.xX", ".".repeat(48))))],
    );
    b.lane(
        Sound::TomHigh,
        Family::Percussion,
        (-10.0, -20.0),
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
    b.lane(
        Sound::SubBass,
        Family::Bass,
        (-7.0, 0.0),
        vec![(verse, notes(&line)), (hook, notes(&[&line[..], &lifted[..]].concat()))],
    );
    let quiet = [(0, 14, [0, 3, 7, 10]), (16, 14, [-2, 1, 5, 8]), (32, 14, [-4, 0, 3, 7]), (48, 15, [-5, -1, 2, 5])];
    let stabs = [(0, 6, [0, 3, 7, 12]), (10, 4, [0, 3, 7, 12]), (16, 6, [-2, 1, 5, 10]), (26, 5, [-4, 0, 3, 8])];
    b.lane(
        Sound::Keys,
        Family::Music,
        (-15.0, -12.0),
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
        (-14.0, 28.0),
        vec![(intro, notes(&arp[..5])), (hook, notes(&[&arp[..], &higher[..]].concat()))],
    );
    b.bus("Drums", &[0, 1, 2, 3, 9, 10]);
    b.bus("Tops", &[4, 5, 6, 7, 8]);
    b.bus("Music", &[12, 13]);
    b.house_chain(0, "Kick, short and up front");
    b.house_chain(1, "Snare, less ring");
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
    b.mix_trim(-9.0);
    b.done()
}

/// 5 lanes, 8 bars, one pattern, everything still straight into the mix bus.
fn paper_lantern() -> DemoSession {
    let mut b = Builder::new("Paper Lantern", RATE, 124.0, "A min", 50.0);
    let loop_ = b.session.patterns[0].id;
    b.apply(Edit::SetPattern { pattern: Pattern { id: loop_, name: "Loop".into(), bars: 2 } });
    b.song(&[("Loop", loop_, 8)]);
    b.lane(Sound::Kick, Family::Low, (-4.0, 0.0), vec![(loop_, fill("X...X...X...X...", 2))]);
    b.lane(Sound::Clap, Family::Snare, (-8.0, 0.0), vec![(loop_, fill("....X.......X...", 2))]);
    b.lane(Sound::HatClosed, Family::Hats, (-14.0, 10.0), vec![(loop_, fill("x.oox.oox.oox.oo", 2))]);
    b.lane(Sound::HatOpen, Family::Hats, (-15.0, 10.0), vec![(loop_, fill("..x...x...x...x.", 2))]);
    let line = [
        (2, 2, 4, 108),
        (6, 2, 4, 100),
        (10, 2, 7, 104),
        (14, 2, 4, 100),
        (18, 2, 2, 108),
        (22, 2, 2, 100),
        (26, 4, -1, 104),
    ];
    b.lane(Sound::SubBass, Family::Bass, (-7.0, 0.0), vec![(loop_, notes(&line))]);
    b.done()
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_core::stems::{StemJob, render};

    #[test]
    fn demo_sessions_are_whole_and_mixed_with_headroom() {
        for DemoSession { session, bank } in demo_sessions() {
            session.validate().unwrap();
            assert!(session.assets.iter().all(|a| bank.contains_key(&a.id)));
            let figures = render(&session, &bank, &StemJob::new(&session, 1).unwrap(), &mut ()).unwrap();
            let title = &session.header.title;
            assert!((-9.0..=-1.0).contains(&figures.main_true_peak_dbtp), "{title} {}", figures.main_true_peak_dbtp);
            assert!(figures.stems.iter().all(|s| s.peak_dbfs > -60.0), "{title} has a silent stem");
            assert!(figures.sum_minus_main_dbfs.unwrap() < -105.0, "{title}");
        }
    }

    #[test]
    fn the_large_one_is_large_and_the_small_one_small() {
        let sizes: Vec<_> = demo_sessions()
            .iter()
            .map(|d| (d.session.voices.len(), d.session.sections.iter().map(|s| s.bars).sum::<u32>()))
            .collect();
        assert_eq!(sizes, [(14, 24), (5, 8)]);
    }
}
