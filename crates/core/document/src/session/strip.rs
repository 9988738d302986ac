//! Strips: channels, triggers, buses, returns and main, with their chains and sends.

use super::{Header, LaneTarget};
use lane_dsp::{Place, Settings, SlotPlan};
use lane_units::{ProcessorId, StripId, StripName};
use serde::{Deserialize, Serialize};

/// What a strip is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum StripKind {
    /// Takes voices.
    Channel,
    /// Takes voices, is never heard, and feeds nothing but keys.
    Trigger,
    /// Takes channels, buses and returns.
    Bus,
    /// Takes sends.
    Return,
    /// The end of the walk; exactly one.
    Main,
}

/// The sign of the sound.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum Polarity {
    /// As it comes.
    Normal,
    /// Turned over.
    Inverted,
}

impl Polarity {
    /// The other one.
    pub fn other(self) -> Self {
        match self {
            Polarity::Normal => Polarity::Inverted,
            Polarity::Inverted => Polarity::Normal,
        }
    }
}

/// Where along a strip a send or a key takes the sound.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum SendTap {
    /// After the chain, before the fader; before width and pan too, but where a send has them.
    PreFader,
    /// After the fader.
    PostFader,
}

/// A part of a strip's sound that goes to a return. A muted strip sends nothing.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct StripSend {
    /// The return; a strip has one send to each.
    pub to: StripId,
    /// In front of the fader or behind it.
    pub tap: SendTap,
    /// -100 (off) to +12 dB.
    pub level_db: f64,
    /// -100 % (left) to +100 % (right).
    pub pan_percent: f64,
    /// Whether it is silent.
    pub mute: bool,
    /// Before the fader: whether the sound has the strip's width and pan, as it has behind the fader in any case.
    #[serde(default)]
    pub placed: bool,
}

impl StripSend {
    /// At 0 dB after the fader.
    pub fn new(to: StripId) -> Self {
        StripSend { to, tap: SendTap::PostFader, level_db: 0.0, pan_percent: 0.0, mute: false, placed: false }
    }

    /// At 0 dB before the fader, with the strip's width and pan: what feeds a parallel path.
    pub fn parallel(to: StripId) -> Self {
        StripSend { tap: SendTap::PreFader, placed: true, ..StripSend::new(to) }
    }

    /// Whether what goes there has the strip's width and pan.
    pub fn is_placed(&self) -> bool {
        self.placed || self.tap == SendTap::PostFader
    }
}

/// Strips that a key hears at most.
pub const KEY_SOURCES: usize = 4;

/// What a processor listens to instead of its own input. Mute and solo of the source do not touch it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Key {
    /// Nothing where the source was removed: the key is then silent.
    pub source: Option<StripId>,
    /// Strips beside it, whose sounds are added.
    #[serde(default)]
    pub also: [Option<StripId>; KEY_SOURCES - 1],
    /// In front of the source's fader or behind it.
    pub tap: SendTap,
    /// -100 (off) to +24 dB.
    pub level_db: f64,
    /// 0 (off) to 20,000 Hz.
    pub high_pass_hz: f64,
    /// 0 (off) to 20,000 Hz.
    pub low_pass_hz: f64,
    /// How much softer hits are made as loud as hard ones: 0 (not at all) to 100 %; of lanes and triggers whose hits are
    /// known.
    #[serde(default)]
    pub even_percent: f64,
    /// Softer hits are not heard, 1 (all are) to 127; of lanes and triggers whose hits are known.
    #[serde(default = "every_velocity")]
    pub least_velocity: u8,
}

fn every_velocity() -> u8 {
    1
}

impl Key {
    /// The whole sound of a strip before its fader, so that its level in the mix does not move the key.
    pub fn new(source: StripId) -> Self {
        Key {
            source: Some(source),
            also: [None; KEY_SOURCES - 1],
            tap: SendTap::PreFader,
            level_db: 0.0,
            high_pass_hz: 0.0,
            low_pass_hz: 0.0,
            even_percent: 0.0,
            least_velocity: 1,
        }
    }

    /// Whether it hears hits otherwise than they sound.
    pub fn weighs_hits(self) -> bool {
        self.even_percent > 0.0 || self.least_velocity > 1
    }

    /// The strips that it hears, each once.
    pub fn sources(self) -> impl Iterator<Item = StripId> {
        let all = [self.source].into_iter().chain(self.also);
        all.clone().enumerate().filter_map(move |(n, id)| id.filter(|_| !all.clone().take(n).any(|other| other == id)))
    }

    /// With other strips in the place of those that it hears; nothing for those that are gone. The first that is left leads.
    pub fn with_sources(self, other: impl Fn(StripId) -> Option<StripId>) -> Self {
        let mut left = self.sources().filter_map(other);
        let source = left.next();
        let mut also = [None; KEY_SOURCES - 1];
        also.iter_mut().zip(left).for_each(|(to, id)| *to = Some(id));
        Key { source, also, ..self }
    }
}

/// A processor in a chain.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Processor {
    /// Its id.
    pub id: ProcessorId,
    /// Whether it acts.
    pub on: bool,
    /// -60 to +24 dB.
    pub input_db: f64,
    /// -60 to +24 dB.
    pub output_db: f64,
    /// 0 % (untouched) to 100 %; of an equaliser how much of the gains of bells and shelves acts.
    pub mix_percent: f64,
    /// Its own input where not said.
    pub key: Option<Key>,
    /// What it is and how it is set.
    pub settings: Settings,
}

impl Processor {
    /// Switched on, all of it heard.
    pub fn new(id: ProcessorId, settings: Settings) -> Self {
        Processor { id, on: true, input_db: 0.0, output_db: 0.0, mix_percent: 100.0, key: None, settings }
    }

    /// Whether it makes room for something: it takes gain away or moves a filter by a key, or on the beat.
    pub fn ducks(&self) -> bool {
        let takes = self.settings.reduces() && !self.settings.lifts();
        (takes || self.settings.sweeps()) && (self.key.is_some() || self.settings.keeps_time())
    }

    /// What the engine needs of it at the tempo and metre of a session.
    pub fn slot(&self, header: &Header) -> SlotPlan {
        let Place { tempo_bpm, bar_quarters, .. } = header.place();
        SlotPlan {
            on: self.on,
            input_db: self.input_db,
            output_db: self.output_db,
            mix_percent: self.mix_percent,
            tempo_bpm,
            bar_quarters,
            settings: self.settings.clone(),
        }
    }
}

/// Signal order: input, trim and polarity, chain, width, pan, fader, mute, output.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Strip {
    /// Its id.
    pub id: StripId,
    /// What it is.
    pub kind: StripKind,
    /// Up to 80 characters; empty on a channel that is called after its voices.
    pub name: StripName,
    /// -100 (off) to +24 dB.
    pub trim_db: f64,
    /// The sign of the sound.
    pub polarity: Polarity,
    /// Frames by which it is played later behind its chain, or earlier, where all else waits for it; for mics, layers and
    /// copies that come late by themselves. 0 on main.
    #[serde(default)]
    pub offset_frames: i32,
    /// Its processors in order.
    pub chain: Vec<Processor>,
    /// -100 (off) to +12 dB.
    pub fader_db: f64,
    /// -100 % (left) to +100 % (right).
    pub pan_percent: f64,
    /// 0 % (mono) to 200 %; 100 % is unchanged.
    pub width_percent: f64,
    /// Whether it is silent.
    pub mute: bool,
    /// Whether only it and its like are heard.
    pub solo: bool,
    /// Goes on while others are soloed.
    #[serde(default)]
    pub solo_safe: bool,
    /// Where it goes; nothing is allowed and silent. Main and triggers have none.
    pub output: Option<StripId>,
    /// What it sends to returns.
    #[serde(default)]
    pub sends: Vec<StripSend>,
    /// Of its own, instead of the session's.
    #[serde(default)]
    pub target: Option<LaneTarget>,
}

impl Strip {
    /// A strip at rest.
    pub fn new(id: StripId, kind: StripKind, name: StripName, output: Option<StripId>) -> Self {
        Strip {
            id,
            kind,
            name,
            trim_db: 0.0,
            polarity: Polarity::Normal,
            offset_frames: 0,
            chain: Vec::new(),
            fader_db: 0.0,
            pan_percent: 0.0,
            width_percent: 100.0,
            mute: false,
            solo: false,
            solo_safe: false,
            output,
            sends: Vec::new(),
            target: None,
        }
    }
}

impl Strip {
    /// Whether voices can run on it.
    pub fn takes_voices(&self) -> bool {
        matches!(self.kind, StripKind::Channel | StripKind::Trigger)
    }

    /// Whether the outputs of others can go to it.
    pub fn takes_outputs(&self) -> bool {
        matches!(self.kind, StripKind::Bus | StripKind::Main)
    }

    /// Its send to a return.
    pub fn send_to(&self, to: StripId) -> Option<&StripSend> {
        self.sends.iter().find(|s| s.to == to)
    }

    /// A processor of its chain.
    pub fn processor(&self, id: ProcessorId) -> Option<&Processor> {
        self.chain.iter().find(|p| p.id == id)
    }

    /// Whether a key that hears a strip ducks it.
    pub fn ducked_by(&self, source: StripId) -> bool {
        let hears = |key: Key| key.sources().any(|id| id == source);
        self.chain.iter().any(|p| p.ducks() && p.key.is_some_and(hears))
    }
}
