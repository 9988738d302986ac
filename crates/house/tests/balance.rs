//! What the demo sessions sound like, by meters that are not ours.

use ebur128::{EbuR128, Mode};
use lane_document::session::StripKind;
use lane_engine::{Engine, Metering, Station};
use lane_house::{DemoSession, demo_sessions};
use lane_units::{Frame, StripId};
use rstest::rstest;
use rustfft::{FftPlanner, num_complex::Complex};
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// Octave bands in Hz.
const OCTAVES: [f64; 7] = [125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0];

/// What was heard of a session: main, and every strip at its end.
struct Heard {
    title: String,
    rate: u32,
    main: Vec<Frame>,
    strips: BTreeMap<String, Vec<Frame>>,
    /// Name, first and last frame.
    sections: Vec<(String, usize, usize)>,
}

fn hear(DemoSession { session, bank }: &DemoSession) -> Heard {
    let rate = session.header.sample_rate;
    let mut engine = Engine::new(session, bank, 512, Metering::On);
    let bar = 60.0 / session.header.tempo_bpm.bpm() * f64::from(session.header.metre.beats()) * f64::from(rate);
    let mut sections = Vec::new();
    let mut at = 0.0;
    for section in &session.sections {
        let end = at + bar * f64::from(section.bars);
        sections.push((section.name.to_string(), at as usize, end as usize));
        at = end;
    }
    engine.play();
    let mut strips: BTreeMap<StripId, Vec<Frame>> = BTreeMap::new();
    let mut main = vec![[0.0; 2]; at as usize];
    engine.process_heard(&mut main, &mut |strip, station, frames| {
        if station == Station::Out {
            strips.entry(strip).or_default().extend(frames);
        }
    });
    let strips = session
        .strips
        .iter()
        .filter(|s| s.kind != StripKind::Main)
        .map(|s| (session.strip_name(s.id), strips.remove(&s.id).unwrap_or_default()))
        .collect();
    Heard { title: session.header.title.to_string(), rate, main, strips, sections }
}

fn flat(frames: &[Frame]) -> Vec<f64> {
    frames.as_flattened().to_vec()
}

/// Integrated loudness in LUFS and true peak in dBTP.
fn loudness(frames: &[Frame], rate: u32) -> (f64, f64) {
    let mut meter = EbuR128::new(2, rate, Mode::I | Mode::TRUE_PEAK).unwrap();
    meter.add_frames_f64(&flat(frames)).unwrap();
    let peak = (0..2).map(|side| meter.true_peak(side).unwrap()).fold(0.0, f64::max);
    (meter.loudness_global().unwrap(), 20.0 * peak.log10())
}

/// Power of the octaves in dB, both sides together.
fn octaves(frames: &[Frame], rate: u32) -> Vec<f64> {
    const SIZE: usize = 8192;
    let fft = FftPlanner::new().plan_fft_forward(SIZE);
    let mut power = vec![1e-20; SIZE / 2];
    for side in 0..2 {
        for start in (0..frames.len().saturating_sub(SIZE)).step_by(SIZE / 2) {
            let window = |n: usize| 0.5 - 0.5 * (std::f64::consts::TAU * n as f64 / SIZE as f64).cos();
            let mut piece: Vec<Complex<f64>> =
                (0..SIZE).map(|n| Complex::new(window(n) * frames[start + n][side], 0.0)).collect();
            fft.process(&mut piece);
            power.iter_mut().zip(&piece).for_each(|(sum, x)| *sum += x.norm_sqr());
        }
    }
    let hz = f64::from(rate) / SIZE as f64;
    let root = std::f64::consts::SQRT_2;
    let of = |middle: &f64| {
        let (low, high) = ((middle / root / hz).ceil() as usize, (middle * root / hz) as usize);
        10.0 * power[low..=high.min(SIZE / 2 - 1)].iter().sum::<f64>().log10()
    };
    OCTAVES.iter().map(of).collect()
}

fn correlation(frames: &[Frame]) -> f64 {
    let sum = |of: fn(&Frame) -> f64| frames.iter().map(of).sum::<f64>();
    sum(|f| f[0] * f[1]) / (sum(|f| f[0] * f[0]) * sum(|f| f[1] * f[1])).sqrt()
}

fn constant_dbfs(frames: &[Frame]) -> f64 {
    let mean = |side: usize| (frames.iter().map(|f| f[side]).sum::<f64>() / frames.len() as f64).abs();
    20.0 * mean(0).max(mean(1)).max(1e-12).log10()
}

/// The longest time under -60 dBFS, in seconds.
fn dead_air_s(frames: &[Frame], rate: u32) -> f64 {
    let (mut longest, mut now) = (0, 0);
    for frame in frames {
        now = if frame[0].abs().max(frame[1].abs()) < 0.001 { now + 1 } else { 0 };
        longest = longest.max(now);
    }
    f64::from(longest) / f64::from(rate)
}

/// A demo session by its title.
fn demo(title: &str) -> &'static DemoSession {
    static DEMOS: LazyLock<Vec<DemoSession>> = LazyLock::new(demo_sessions);
    DEMOS.iter().find(|d| d.session.header.title == title).unwrap()
}

fn heard(title: &str) -> Heard {
    hear(demo(title))
}

fn lufs_of(heard: &Heard, strip: &str) -> f64 {
    loudness(&heard.strips[strip], heard.rate).0
}

/// What a mixer expects of every one, kit or song.
fn is_sound(heard: &Heard, loud: std::ops::RangeInclusive<f64>, correlated: std::ops::RangeInclusive<f64>) {
    let title = &heard.title;
    let (lufs, peak) = loudness(&heard.main, heard.rate);
    assert!(loud.contains(&lufs), "{title}: {lufs:.1} LUFS");
    assert!(peak <= -6.0, "{title}: {peak:.2} dBTP");
    let alike = correlation(&heard.main);
    assert!(correlated.contains(&alike), "{title}: correlation {alike:.2}");
    let still = constant_dbfs(&heard.main);
    assert!(still < -80.0, "{title}: {still:.0} dBFS stand still");
    let dead = dead_air_s(&heard.main, heard.rate);
    assert!(dead < 0.5, "{title}: {dead:.1} s of dead air");
}

#[rstest]
#[case::arrangement("Copper Weather", &["Hat closed", "Hat open", "Ride", "Crash", "Shaker", "Tops"])]
#[case::first_loop("Paper Lantern", &["Hat closed", "Hat open"])]
fn a_beat_is_balanced(#[case] title: &str, #[case] tops: &[&str]) {
    let heard = heard(title);
    is_sound(&heard, -20.0..=-16.0, 0.6..=0.9);
    let kick = lufs_of(&heard, "Kick");
    let bass = lufs_of(&heard, "Sub bass");
    assert!((kick - bass).abs() < 3.0, "{title}: kick {kick:.1}, bass {bass:.1} LUFS");
    for name in tops {
        let under = kick - lufs_of(&heard, name);
        assert!((8.0..=14.0).contains(&under), "{title}: {name} lies {under:.1} LU under the kick");
    }
    let sections: Vec<f64> = heard
        .sections
        .iter()
        .map(|(_, from, to)| loudness(&heard.main[*from..(*to).min(heard.main.len())], heard.rate).0)
        .collect();
    let (least, most) = sections.iter().fold((0.0_f64, -99.0_f64), |(a, b), x| (a.min(*x), b.max(*x)));
    assert!(most - least < 6.0, "{title}: sections at {sections:.1?} LUFS");
    // Octaves fall along a line of 1 to 3 dB, which is 4 to 6 dB of density, without holes.
    let levels = octaves(&heard.main, heard.rate);
    let middle = (levels.len() - 1) as f64 / 2.0;
    let mean = levels.iter().sum::<f64>() / levels.len() as f64;
    let across: f64 = levels.iter().enumerate().map(|(n, db)| (n as f64 - middle) * (db - mean)).sum();
    let along: f64 = (0..levels.len()).map(|n| (n as f64 - middle).powi(2)).sum();
    let slope = across / along;
    assert!((-3.0..=-1.0).contains(&slope), "{title}: {slope:.1} dB an octave");
    for (n, db) in levels.iter().enumerate() {
        let off = db - (mean + (n as f64 - middle) * slope);
        assert!(off.abs() < 3.0, "{title}: {:.0} Hz lies {off:.1} dB off the line", OCTAVES[n]);
    }
}

#[test]
fn a_kit_is_ten_tracks_that_hear_each_other() {
    let heard = heard("Tin Harbour");
    is_sound(&heard, -24.0..=-16.0, 0.6..=0.9);
    assert_eq!(heard.main.len(), 40 * heard.rate as usize);
    let demo = demo("Tin Harbour");
    assert_eq!(demo.session.voices.len(), 10);
    // Where the kick plays alone, on the fourth sixteenth, every other track hears it, later and softer.
    let of = |name: &str| {
        let voice = demo.session.voices.iter().find(|v| v.name == name).unwrap();
        demo.bank[voice.source.assets()[0]].clone()
    };
    let window = 22_300..25_300;
    let samples = |name: &str, late: usize| -> Vec<f64> {
        let audio = of(name);
        window.clone().map(|n| f64::from(audio.frame((n + late) as isize)[0])).collect()
    };
    let power = |sound: &[f64]| sound.iter().map(|x| x * x).sum::<f64>();
    let near = samples("Kick in", 0);
    for (name, metres) in [("Snare top", 0.9), ("Tom floor", 0.8), ("Tom high", 0.8)] {
        let like = |late: usize| samples(name, late).iter().zip(&near).map(|(a, b)| a * b).sum::<f64>();
        let late = (0..400).max_by(|a, b| like(*a).total_cmp(&like(*b))).unwrap();
        let expected = (metres - 0.05) / 343.0 * 48_000.0;
        let db = 10.0 * (power(&samples(name, late)) / power(&near)).log10();
        assert!((-40.0..-6.0).contains(&db), "{name} hears the kick at {db:.1} dB");
        assert!((late as f64 - expected).abs() < 30.0, "{name}: {late} frames later, expected {expected:.0}");
    }
}
