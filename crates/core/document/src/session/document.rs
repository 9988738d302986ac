//! A session.

use super::{
    AssetRef, Header, Hit, KeptTake, Key, Metre, PanLaw, Part, Pattern, Processor, Reference, Section, Shared,
    StemPlan, Strip, StripKind, Swing, SwingGrid, Targets, Tempo, Voice, VoiceSource,
};
use crate::session::SCHEMA;
use lane_units::{
    AssetId, CheckKey, IdSet, KeyName, PatternId, ReferenceId, SectionId, StripId, TakeId, Title, VoiceId,
};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// A session: voices on channels, channels on buses, buses on main, and the song they play.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Session {
    /// Version of this schema; see [`SCHEMA`](super::SCHEMA).
    pub schema: u32,
    /// What holds for all of it.
    pub header: Header,
    /// The next free id; ids are never used twice in a session.
    pub next_id: u32,
    /// The audio that voices name.
    #[cfg_attr(feature = "describe", ts(as = "Vec<AssetRef>"), schemars(with = "Vec<AssetRef>"))]
    pub assets: Vec<Shared<AssetRef>>,
    /// Voices in the order of the board.
    #[cfg_attr(feature = "describe", ts(as = "Vec<Voice>"), schemars(with = "Vec<Voice>"))]
    pub voices: Vec<Shared<Voice>>,
    /// Channels, triggers, buses, returns and main.
    #[cfg_attr(feature = "describe", ts(as = "Vec<Strip>"), schemars(with = "Vec<Strip>"))]
    pub strips: Vec<Shared<Strip>>,
    /// Where the mix comes together and new rows go: a bus, or main itself.
    #[serde(default = "no_strip")]
    pub mix_bus: StripId,
    /// What sections play.
    #[cfg_attr(feature = "describe", ts(as = "Vec<Pattern>"), schemars(with = "Vec<Pattern>"))]
    pub patterns: Vec<Shared<Pattern>>,
    /// The hits of one voice in one pattern, each pair at most once, never empty.
    #[cfg_attr(feature = "describe", ts(as = "Vec<Part>"), schemars(with = "Vec<Part>"))]
    pub parts: Vec<Shared<Part>>,
    /// MIDI takes as they came, silent, to be split again.
    #[cfg_attr(feature = "describe", ts(as = "Vec<KeptTake>"), schemars(with = "Vec<KeptTake>"))]
    pub takes: Vec<Shared<KeptTake>>,
    /// The song: sections one after the other, at least one.
    #[cfg_attr(feature = "describe", ts(as = "Vec<Section>"), schemars(with = "Vec<Section>"))]
    pub sections: Vec<Shared<Section>>,
    /// What is tracked out, and how.
    pub stem_plan: StemPlan,
    /// Keys of checks that a person does not want to see.
    pub dismissed: Vec<CheckKey>,
    /// Recordings that the mix is held against.
    #[serde(default)]
    pub references: Vec<Reference>,
}

/// What documents of earlier versions have for a mix bus, until they are settled.
fn no_strip() -> StripId {
    StripId(0)
}

impl Session {
    /// An empty session: main, a mix bus, one pattern of 2 bars in a section of 4.
    pub fn new(title: impl Into<Title>, sample_rate: u32) -> Self {
        let (main, mix, pattern, section) = (StripId(1), StripId(2), PatternId(3), SectionId(4));
        Session {
            schema: SCHEMA,
            header: Header {
                title: title.into(),
                tempo_bpm: Tempo::new(96.0).expect("96 bpm is a tempo"),
                metre: Metre::COMMON,
                swing: Swing { percent: 50.0, grid: SwingGrid::Sixteenth },
                key: KeyName::default(),
                pan_law: PanLaw::Minus3,
                sample_rate,
                targets: Targets::default(),
            },
            next_id: 5,
            assets: Vec::new(),
            voices: Vec::new(),
            strips: vec![
                Strip::new(main, StripKind::Main, "Main".into(), None).into(),
                Strip::new(mix, StripKind::Bus, "Mix bus".into(), Some(main)).into(),
            ],
            mix_bus: mix,
            patterns: vec![Pattern { id: pattern, name: "A".into(), bars: 2 }.into()],
            parts: Vec::new(),
            takes: Vec::new(),
            sections: vec![Section { id: section, name: "A".into(), pattern, bars: 4 }.into()],
            stem_plan: StemPlan::default(),
            dismissed: Vec::new(),
            references: Vec::new(),
        }
    }

    /// Takes the next free id.
    pub fn take_id(&mut self) -> u32 {
        let id = self.next_id;
        // The last id of all would be given twice, which the checks of a document refuse.
        self.next_id = self.next_id.saturating_add(1);
        id
    }

    /// A voice by its id.
    pub fn voice(&self, id: VoiceId) -> Option<&Voice> {
        Shared::values(&self.voices).find(|v| v.id == id)
    }

    /// A strip by its id.
    pub fn strip(&self, id: StripId) -> Option<&Strip> {
        Shared::values(&self.strips).find(|s| s.id == id)
    }

    /// A pattern by its id.
    pub fn pattern(&self, id: PatternId) -> Option<&Pattern> {
        Shared::values(&self.patterns).find(|p| p.id == id)
    }

    /// A piece of audio by its address.
    pub fn asset(&self, id: &AssetId) -> Option<&AssetRef> {
        Shared::values(&self.assets).find(|a| &a.id == id)
    }

    /// The hits of a voice in a pattern, in order of time; empty where there are none.
    pub fn hits(&self, pattern: PatternId, voice: VoiceId) -> &[Hit] {
        self.part(pattern, voice).map_or(&[], |p| &p.hits)
    }

    /// What a voice plays in a pattern, if anything.
    pub fn part(&self, pattern: PatternId, voice: VoiceId) -> Option<&Part> {
        Shared::values(&self.parts).find(|p| p.pattern == pattern && p.voice == voice)
    }

    /// A recording that the mix is held against.
    pub fn reference(&self, id: ReferenceId) -> Option<&Reference> {
        self.references.iter().find(|r| r.id == id)
    }

    /// The audio that voices name.
    pub fn voiced_assets(&self) -> HashSet<AssetId> {
        self.voices.iter().flat_map(|v| v.source.assets()).cloned().collect()
    }

    /// The audio that something in it names.
    pub fn named_assets(&self) -> HashSet<AssetId> {
        let mut named = self.voiced_assets();
        named.extend(self.references.iter().map(|r| r.asset.clone()));
        named
    }

    /// The session with every processor switched off, and returns left out: without what they do, they are copies of what
    /// feeds them.
    pub fn without_processors(&self) -> Session {
        let mut without = self.clone();
        let chains = without.strips.iter_mut().filter(|s| s.chain.iter().any(|p| p.on));
        chains.flat_map(|s| s.chain.iter_mut()).for_each(|p| p.on = false);
        for strip in without.strips.iter_mut().filter(|s| s.kind == StripKind::Return && !s.mute) {
            strip.mute = true;
        }
        without
    }

    /// A kept take by its id.
    pub fn take(&self, id: TakeId) -> Option<&KeptTake> {
        Shared::values(&self.takes).find(|t| t.id == id)
    }

    /// The main strip. Every valid session has exactly one.
    pub fn main(&self) -> Option<&Strip> {
        Shared::values(&self.strips).find(|s| s.kind == StripKind::Main)
    }

    /// Whether everything that plays on a strip is planned as hits, so that they are known beforehand.
    pub fn plays_hits_alone(&self, id: StripId) -> bool {
        let mut on = self.voices.iter().filter(|v| v.channel == id).peekable();
        on.peek().is_some() && on.all(|v| matches!(v.source, VoiceSource::OneShot { .. }))
    }

    /// The strips whose voices plan all hits of what a processor listens to; none where hits have to be heard.
    pub fn planned(&self, processor: &Processor) -> Vec<StripId> {
        let sources: Vec<StripId> = processor.key.into_iter().flat_map(Key::sources).collect();
        if sources.iter().all(|id| self.plays_hits_alone(*id)) { sources } else { Vec::new() }
    }

    /// Whether a strip is where a mix can come together.
    pub(super) fn can_be_mix_bus(&self, id: StripId) -> bool {
        self.strip(id).is_some_and(Strip::takes_outputs)
    }

    /// The voices on a channel, in the order of the board.
    pub fn voices_on(&self, channel: StripId) -> impl Iterator<Item = &Voice> {
        Shared::values(&self.voices).filter(move |v| v.channel == channel)
    }

    /// Every key with the strip and processor that listen to it.
    pub fn keys(&self) -> impl Iterator<Item = (&Strip, &Processor, &Key)> {
        Shared::values(&self.strips).flat_map(|s| s.chain.iter().filter_map(move |p| p.key.as_ref().map(|k| (s, p, k))))
    }

    /// The one name of a strip everywhere. A channel without a name of its own is called after its voices.
    pub fn strip_name(&self, id: StripId) -> String {
        let Some(strip) = self.strip(id) else { return format!("strip {}", id.0) };
        if !strip.name.is_empty() {
            return strip.name.to_string();
        }
        let names: Vec<&str> = self.voices_on(id).map(|v| v.name.as_str()).collect();
        names.join(" + ")
    }

    /// The names of some strips, for sentences.
    pub fn strip_names(&self, ids: impl IntoIterator<Item = StripId>) -> String {
        let names: Vec<String> = ids.into_iter().map(|id| self.strip_name(id)).collect();
        match names.as_slice() {
            [all @ .., last] if !all.is_empty() => format!("{} and {last}", all.join(", ")),
            names => names.concat(),
        }
    }

    /// Channels and triggers in the order of their first voice on the board, then returns, buses, main.
    pub fn strips_in_board_order(&self) -> Vec<StripId> {
        let mut seen = IdSet::default();
        let channels = self.voices.iter().map(|v| v.channel);
        let mut order: Vec<StripId> = channels.filter(|channel| seen.insert(*channel)).collect();
        for kind in [StripKind::Return, StripKind::Bus, StripKind::Main] {
            order.extend(self.strips.iter().filter(|s| s.kind == kind).map(|s| s.id));
        }
        order
    }
}
