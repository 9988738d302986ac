//! "Tin Harbour": ten tracks of a drum kit as microphones in one room would hear it. Each drum is played alone, then every
//! microphone gets all of them: by their distance later, softer and duller.

use crate::builder::{Builder, DemoSession, Track};
use crate::sounds::Sound;
use lane_document::edit::{Edit, SetStrips, StripChange};
use lane_document::session::{Audio, Family, Polarity};
use lane_dsp::equaliser::{Shape, Slope};
use lane_dsp::reverb::Space;
use lane_dsp::{
    Band, Clipper, Compressor, Equaliser, Gate, Reverb, Saturation, Settings, Silent, Slot, SlotPlan, Transient,
};
use lane_units::db_to_gain;

const RATE: u32 = 48_000;
const TEMPO_BPM: f64 = 96.0;
const BARS: usize = 16;
/// Frames of a sixteenth: 16 bars are 40 s.
const SIXTEENTH: usize = 7500;
const FRAMES: usize = BARS * 16 * SIXTEENTH;
/// About -300 dBFS.
const SILENCE: f32 = 1e-15;
/// Of sound in air, in metres a second.
const SPEED: f64 = 343.0;

/// Bars as text, see [`crate::builder::steps`]; the last of four is a fill.
const PARTS: [(Sound, [&str; 2]); 6] = [
    (Sound::Kick, ["X..x....X.x.....", "X..x....X......."]),
    (Sound::Snare, ["....X..o.o..X...", "....X..o.o..X.xX"]),
    (Sound::HatClosed, ["x.o.x.o.x.o.x.o.", "x.o.x.o.x.o....."]),
    (Sound::TomHigh, ["................", "............x..."]),
    (Sound::TomLow, ["................", ".............x.."]),
    (Sound::Crash, ["................", "................"]),
];

/// A microphone: what it is called, and for each drum of [`PARTS`] the level in dB, and how far away it stands in metres.
struct Microphone {
    name: &'static str,
    file: &'static str,
    family: Family,
    hears: [(f64, f64); 6],
    /// Over this it hears little of drums that are not its own, in Hz.
    bleeds_to_hz: f64,
}

const fn mic(
    name: &'static str,
    file: &'static str,
    family: Family,
    hears: [(f64, f64); 6],
    bleeds_to_hz: f64,
) -> Microphone {
    Microphone { name, file, family, hears, bleeds_to_hz }
}

const MICROPHONES: [Microphone; 10] = [
    mic(
        "Kick in",
        "Kick in.wav",
        Family::Low,
        [(0.0, 0.05), (-26.0, 0.9), (-38.0, 1.1), (-30.0, 0.8), (-28.0, 0.8), (-40.0, 1.4)],
        700.0,
    ),
    mic(
        "Kick out",
        "Kick out.wav",
        Family::Low,
        [(-2.0, 0.45), (-20.0, 1.0), (-30.0, 1.2), (-24.0, 0.9), (-20.0, 0.8), (-32.0, 1.5)],
        2500.0,
    ),
    mic(
        "Snare top",
        "Snare top.wav",
        Family::Snare,
        [(-26.0, 0.9), (0.0, 0.06), (-19.0, 0.4), (-24.0, 0.4), (-28.0, 0.8), (-30.0, 0.9)],
        5000.0,
    ),
    mic(
        "Snare bottom",
        "Snare bottom.wav",
        Family::Snare,
        [(-22.0, 0.8), (-3.0, 0.18), (-28.0, 0.6), (-28.0, 0.6), (-30.0, 0.9), (-34.0, 1.1)],
        4000.0,
    ),
    mic(
        "Hat",
        "Hat.wav",
        Family::Hats,
        [(-34.0, 1.2), (-20.0, 0.5), (0.0, 0.12), (-30.0, 0.8), (-34.0, 1.2), (-22.0, 0.8)],
        9000.0,
    ),
    mic(
        "Tom high",
        "Tom high.wav",
        Family::Percussion,
        [(-24.0, 0.8), (-20.0, 0.4), (-28.0, 0.8), (0.0, 0.08), (-22.0, 0.5), (-26.0, 0.7)],
        4000.0,
    ),
    mic(
        "Tom floor",
        "Tom floor.wav",
        Family::Percussion,
        [(-22.0, 0.8), (-24.0, 0.8), (-34.0, 1.3), (-24.0, 0.5), (0.0, 0.08), (-26.0, 0.9)],
        4000.0,
    ),
    mic(
        "Overhead left",
        "Overhead left.wav",
        Family::Hats,
        [(-14.0, 1.4), (-8.0, 1.05), (-12.0, 0.9), (-10.0, 1.0), (-14.0, 1.4), (-4.0, 0.8)],
        16_000.0,
    ),
    mic(
        "Overhead right",
        "Overhead right.wav",
        Family::Hats,
        [(-14.0, 1.4), (-9.0, 1.1), (-17.0, 1.5), (-12.0, 1.1), (-8.0, 0.9), (-7.0, 1.1)],
        16_000.0,
    ),
    mic(
        "Room",
        "Room.wav",
        Family::Music,
        [(-10.0, 3.6), (-8.0, 3.5), (-16.0, 3.4), (-10.0, 3.5), (-9.0, 3.6), (-10.0, 3.2)],
        9000.0,
    ),
];

/// A drum alone over the whole song, hits a little early or late and never quite as loud.
fn played((sound, bars): &(Sound, [&str; 2]), seed: u64) -> Vec<f32> {
    let one = sound.kept(RATE);
    let mut out = vec![0.0_f32; FRAMES];
    let mut dice = seed;
    let mut roll = || {
        dice = dice.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (dice >> 40) as f64 / f64::from(1 << 23) - 1.0
    };
    let mut hit = |at: usize, velocity: f64| {
        let at = (at as f64 + 90.0 * roll()).max(0.0) as usize;
        let gain = (velocity * velocity * db_to_gain(0.9 * roll())) as f32;
        for (n, to) in out.iter_mut().skip(at).take(one.frames()).enumerate() {
            let [l, r] = one.frame(n as isize);
            *to += 0.5 * gain * (l + r);
        }
    };
    for bar in 0..BARS {
        let text = bars[usize::from(bar % 4 == 3)];
        for (step, letter) in text.bytes().enumerate() {
            let velocity = match letter {
                b'X' => 0.95,
                b'x' => 0.75,
                b'o' => 0.45,
                _ => continue,
            };
            hit((bar * 16 + step) * SIXTEENTH, velocity);
        }
        if *sound == Sound::Crash && bar % 8 == 0 {
            hit(bar * 16 * SIXTEENTH, 0.8);
        }
    }
    out
}

/// What a microphone records of all drums.
fn recorded(drums: &[Vec<f32>], of: &Microphone, own: usize) -> Vec<f32> {
    let mut out = vec![0.0_f32; FRAMES];
    let nearest = of.hears.iter().map(|(_, metres)| *metres).fold(f64::INFINITY, f64::min);
    for (at, (drum, (level_db, metres))) in drums.iter().zip(of.hears).enumerate() {
        let late = (metres / SPEED * f64::from(RATE)) as usize;
        let gain = db_to_gain(level_db) as f32;
        let far = metres > 4.0 * nearest && at != own;
        // One pole: duller with the distance.
        let pole = if far { libm::exp(-std::f64::consts::TAU * of.bleeds_to_hz / f64::from(RATE)) as f32 } else { 0.0 };
        let mut soft = 0.0;
        for (to, x) in out[late..].iter_mut().zip(drum) {
            soft = x + pole * (soft - x);
            // Numbers too small to hear would take ten times as long.
            if soft.abs() < SILENCE {
                soft = 0.0;
            }
            *to += gain * soft;
        }
    }
    out
}

/// What a room adds, heard from a distance.
fn in_a_room(dry: &[f32]) -> Vec<[f32; 2]> {
    let reverb = Reverb { space: Space::Room, decay_s: 0.9, size_percent: 140.0, ..Reverb::default() };
    let plan = SlotPlan {
        on: true,
        input_db: 0.0,
        output_db: 3.0,
        mix_percent: 80.0,
        tempo_bpm: TEMPO_BPM,
        bar_quarters: 4.0,
        settings: Settings::Reverb(reverb),
    };
    let mut slot = Slot::new(&plan.course(RATE), 512);
    let mut out = Vec::with_capacity(dry.len());
    for piece in dry.chunks(512) {
        let mut frames: Vec<[f64; 2]> = piece.iter().map(|x| [f64::from(*x); 2]).collect();
        slot.process(&mut frames, None, Silent::NO);
        out.extend(frames.iter().map(|frame| frame.map(|x| x as f32)));
    }
    out
}

fn tracks() -> Vec<Track> {
    let drums: Vec<Vec<f32>> = PARTS.iter().zip(1..).map(|(part, seed)| played(part, seed)).collect();
    let track = |(at, of): (usize, &Microphone)| {
        let heard = recorded(&drums, of, at);
        let (channels, mut samples) = match of.name {
            "Room" => (2, in_a_room(&heard).into_flattened()),
            _ => (1, heard),
        };
        // A microphone under the snare sees its head move the other way.
        let sign = if of.name == "Snare bottom" { -1.0 } else { 1.0 };
        let peak = samples.iter().fold(1e-9_f32, |most, x| most.max(x.abs()));
        let gain = sign * 0.5 / peak;
        samples.iter_mut().for_each(|x| *x *= gain);
        let audio = Audio::new(channels, samples).expect("synthesis gives finite frames");
        Track { name: of.name, file: of.file, family: of.family, audio }
    };
    MICROPHONES.iter().enumerate().map(track).collect()
}

/// 10 lanes of recordings, 16 bars: gates against bleed, two microphones turned to each other, a pressed copy, a room.
pub fn tin_harbour() -> DemoSession {
    let mut b = Builder::new("Tin Harbour", RATE, TEMPO_BPM, "D min", 50.0);
    let pattern = b.session.patterns[0].id;
    b.song(&[("Take", pattern, BARS as u32)]);
    const LEVELS: [(f64, f64); 10] = [
        (-3.5, 0.0),
        (-9.5, 0.0),
        (-4.0, 0.0),
        (-13.0, 0.0),
        (-12.0, -35.0),
        (-12.0, -30.0),
        (-12.0, 35.0),
        (-9.5, -100.0),
        (-9.5, 100.0),
        (-3.5, 0.0),
    ];
    for (track, level) in tracks().into_iter().zip(LEVELS) {
        b.recording(track, level);
    }
    let [kick_in, _, snare, under, hat, tom_high, tom_floor, left, right, room] = std::array::from_fn(|n| n);
    let under_strip = b.session.voices[under].channel;
    b.apply(Edit::SetStrips(SetStrips {
        strips: vec![under_strip],
        change: StripChange::Polarity(Polarity::Inverted),
    }));
    let pass = |freq_hz| Band { shape: Shape::HighPass, freq_hz, slope: Slope::Db24, ..Band::default() };
    let bell = |freq_hz, gain_db| Band { freq_hz, gain_db, q: 1.0, ..Band::default() };
    let equaliser = |bands: &[Band]| Settings::Equaliser(Equaliser { bands: bands.to_vec() });
    b.chain(
        kick_in,
        vec![
            equaliser(&[pass(35.0), bell(320.0, -4.0), bell(3200.0, 5.0)]),
            Settings::Clipper(Clipper { ceiling_dbfs: -13.0, hardness_percent: 60.0 }),
        ],
    );
    b.chain(
        snare,
        vec![
            equaliser(&[pass(90.0), bell(900.0, 4.0), bell(5200.0, 2.0)]),
            Settings::Transient(Transient { attack_db: 2.0, sustain_db: 3.0, ..Transient::default() }),
            Settings::Clipper(Clipper { ceiling_dbfs: -13.0, hardness_percent: 60.0 }),
        ],
    );
    b.chain(under, vec![equaliser(&[pass(220.0)])]);
    b.chain(hat, vec![equaliser(&[pass(400.0)])]);
    for tom in [tom_high, tom_floor] {
        let gate = Gate { threshold_dbfs: -24.0, range_db: 30.0, hold_ms: 120.0, release_ms: 180.0, ..Gate::default() };
        b.chain(tom, vec![Settings::Gate(gate), equaliser(&[pass(60.0), bell(420.0, -4.0)])]);
    }
    for overhead in [left, right] {
        b.chain(overhead, vec![equaliser(&[pass(160.0)])]);
    }
    let squeeze = Compressor {
        threshold_dbfs: -30.0,
        ratio: 6.0,
        attack_ms: 8.0,
        release_ms: 120.0,
        makeup_db: 6.0,
        ..Compressor::default()
    };
    b.chain(room, vec![equaliser(&[pass(70.0)]), Settings::Compressor(squeeze)]);
    b.bus("Kick", &[0, 1]);
    b.bus("Snare", &[2, 3]);
    b.bus("Toms", &[5, 6]);
    b.bus("Cymbals", &[4, 7, 8]);
    b.press(&[(kick_in, -2.0), (snare, 0.0), (tom_high, 0.0), (tom_floor, 0.0)]);
    let grit = Saturation { drive_db: 12.0, ..Saturation::default() };
    b.return_chain("Press", vec![Settings::Saturation(grit)]);
    b.done()
}
