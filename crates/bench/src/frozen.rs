//! Documents as they once were, with sounds made for them, and the checksums of what they play.

use lane_document::session::{AssetBank, Audio, Session};
use lane_engine::{Engine, Metering};
use lane_house::DemoSession;
use lane_units::{AssetId, Dice, Frame};
use std::sync::Arc;

/// One of them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Frozen {
    /// 14 lanes, 20 processors, 3 returns, 24 bars with three patterns.
    Large,
    /// 5 lanes, 8 bars, no processors.
    Small,
    /// 16 lanes, each with an equaliser of four bands, transient shaper, compressor and saturation; 4 buses; reverb,
    /// delay and parallel compression on returns; two duckers keyed by the kick. 3 minutes.
    Heavy,
    /// Six lanes and two returns on which every kind of processor of its time is at work.
    Palette,
}

/// A stretch whose checksum is known.
#[derive(Debug, Clone, PartialEq)]
pub struct Moment {
    pub frozen: Frozen,
    /// In Hz.
    pub sample_rate: u32,
    pub checksum: &'static str,
}

/// Seconds of a stretch with a checksum.
const SECONDS: usize = 6;
/// Lines of session, rate and checksum.
const CHECKSUMS: &str = include_str!("../frozen/checksums.txt");

impl Frozen {
    /// All of them.
    pub const ALL: [Frozen; 4] = [Frozen::Large, Frozen::Small, Frozen::Heavy, Frozen::Palette];

    /// Its name in files.
    pub fn name(self) -> &'static str {
        match self {
            Frozen::Large => "large",
            Frozen::Small => "small",
            Frozen::Heavy => "heavy",
            Frozen::Palette => "palette",
        }
    }

    fn text(self) -> &'static str {
        match self {
            Frozen::Large => include_str!("../frozen/large.json"),
            Frozen::Small => include_str!("../frozen/small.json"),
            Frozen::Heavy => include_str!("../frozen/heavy.json"),
            Frozen::Palette => include_str!("../frozen/palette.json"),
        }
    }

    /// The session with its audio.
    ///
    /// * `sample_rate` – in Hz, one of the session rates; the sounds have as many frames at each.
    pub fn session(self, sample_rate: u32) -> DemoSession {
        let mut session: Session = serde_json::from_str(self.text()).expect("frozen documents are whole");
        session.settle();
        session.header.sample_rate = sample_rate;
        let mut bank = AssetBank::new();
        for (n, asset) in session.assets.iter_mut().enumerate() {
            asset.sample_rate = sample_rate;
            bank.insert(asset.id.clone(), Arc::new(sound(n, asset.channels, asset.frames as usize)));
        }
        DemoSession { session, bank }
    }

    /// Every stretch whose checksum is known.
    pub fn moments() -> Vec<Moment> {
        let moment = |line: &'static str| {
            let mut words = line.split_whitespace();
            let (name, rate) = (words.next()?, words.next()?);
            let frozen = Frozen::ALL.into_iter().find(|f| f.name() == name)?;
            Some(Moment { frozen, sample_rate: rate.parse().ok()?, checksum: words.next()? })
        };
        CHECKSUMS.lines().filter_map(moment).collect()
    }

    /// The first seconds of main in blocks of a size.
    pub fn play(self, sample_rate: u32, block: usize) -> Vec<Frame> {
        let DemoSession { session, bank } = self.session(sample_rate);
        play(&session, &bank, block, SECONDS)
    }
}

/// The first seconds of main.
pub fn play(session: &Session, bank: &AssetBank, block: usize, seconds: usize) -> Vec<Frame> {
    let mut engine = Engine::new(session, bank, block, Metering::Off);
    engine.play();
    let mut out = vec![[0.0; 2]; seconds * session.header.sample_rate as usize];
    out.chunks_mut(block).for_each(|piece| engine.process(piece));
    out
}

/// The address of a made sound, which is a number.
pub fn address(n: usize) -> AssetId {
    AssetId(format!("{n:064x}"))
}

/// A struck tone with some noise that falls by 60 dB to its end, another for every number.
pub fn sound(n: usize, channels: u16, frames: usize) -> Audio {
    let mut dice = Dice::new(&[n as u64]);
    let turns = 0.001 * libm::exp2(n as f64 % 7.0);
    let fall = libm::pow(0.001, 1.0 / frames.max(1) as f64);
    let mut level = 0.5;
    let samples = (0..frames)
        .flat_map(|at| {
            let tone = libm::sin(std::f64::consts::TAU * turns * at as f64);
            level *= fall;
            let sides: Vec<f32> = (0..channels).map(|_| (level * (0.8 * tone + 0.2 * dice.spread())) as f32).collect();
            sides
        })
        .collect();
    Audio::new(channels, samples).expect("every sample is a number")
}
