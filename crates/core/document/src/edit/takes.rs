//! Edits of MIDI takes: in, split into voices, split again, out.

use super::intent::Intent;
use super::label::Words;
use super::lanes::{NewVoice, add_voices, remove_voices};
use super::parts::{Listed, Look, Parts, Room, listed, parts};
use super::placing::{Incoming, note_lanes, note_lanes_but, takes_notes};
use super::{EditError, song};
use crate::midi::{self, TakeLine};
use crate::session::{
    AssetRef, DocumentError, Family, Hit, Hold, KeptTake, Layer, NoteKey, Session, Take, TakeGroup, VoiceSource,
    at_most, limits,
};
use lane_units::{Name, PatternId, TakeId, VoiceId};
use serde::{Deserialize, Serialize};
use std::collections::{HashMap, HashSet};

/// A ready sound for one sound of a take.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TakeSound {
    /// Whose notes play it.
    pub key: NoteKey,
    /// The audio.
    pub asset: AssetRef,
}

/// Where notes of a take go.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum SplitTarget {
    /// A voice that is there: it keeps its sound and gets the notes instead of its own in the take's pattern.
    Voice {
        /// That voice.
        voice: VoiceId,
    },
    /// A voice to be made.
    New {
        /// What it is called.
        name: Name,
        /// Its family.
        family: Family,
        /// Whether keys are pitches.
        melodic: bool,
        /// What it plays; empty where not said.
        sound: Option<AssetRef>,
    },
}

/// Notes of a take that go together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Split {
    /// The voice.
    pub to: SplitTarget,
    /// Whose notes go there.
    pub keys: Vec<NoteKey>,
}

/// The lane of notes that come in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum NotesLane {
    /// One to be made.
    New,
    /// One that is there.
    Voice {
        /// That voice.
        voice: VoiceId,
    },
    /// That of this name, which may be made in the same edit as the take comes in; a new one where there is none.
    Named {
        /// Its name.
        name: Name,
    },
}

/// Where notes of a take go that comes in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NotesTo {
    /// Which notes: the voice that [`midi::lines`] proposes for them.
    pub notes: Name,
    /// The lane.
    pub to: NotesLane,
}

parts!(TakeSound { asset, key });
parts!(NotesTo { to, notes });
parts!(Split { to, keys });
listed! {
    TakeSound: "pieces of audio of an edit", limits::ASSETS;
    NotesTo: "voices that a take is split into", limits::VOICES;
}

impl Listed for Split {
    fn listed(all: &[Self], _: &Room) -> Result<(), DocumentError> {
        at_most("voices that a take is split into", all.len(), limits::VOICES)?;
        at_most("sounds of a take", all.iter().map(|s| s.keys.len()).sum(), limits::TAKE_NOTES)
    }
}

impl Parts for NotesLane {
    fn look(&mut self, at: &mut Look) {
        match self {
            NotesLane::Voice { voice } => voice.look(at),
            NotesLane::New | NotesLane::Named { name: _ } => {}
        }
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}

impl Parts for SplitTarget {
    fn look(&mut self, at: &mut Look) {
        match self {
            SplitTarget::Voice { voice } => voice.look(at),
            SplitTarget::New { name: _, family: _, melodic: _, sound } => sound.look(at),
        }
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}

/// Notes of a take that go together, and the lane that is proposed for them.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NotePlace {
    /// The voice that [`midi::lines`] proposes for them.
    pub notes: Name,
    /// Its family.
    pub family: Family,
    /// How many notes there are.
    pub hits: u32,
    /// The lane: by its id where the session has it, by its name where the edits before make it.
    pub to: NotesLane,
}

/// Where the notes of a take would go.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NotePlaces {
    /// The notes, those of a kit first.
    pub places: Vec<NotePlace>,
    /// Names of the lanes that the edits before make and that can take notes.
    pub coming: Vec<Name>,
}

/// The lanes proposed for the notes of a take.
///
/// * `then` – the session with what comes in before the take.
pub(super) fn places(s: &Session, then: &Session, take: &Take) -> NotePlaces {
    let lines = midi::lines(take, then.header.metre.bar_ticks());
    let hits: HashMap<NoteKey, u32> = lines.iter().map(|l| (l.key, l.hits)).collect();
    let lane = |id: VoiceId| match then.voice(id) {
        Some(_) if s.voice(id).is_some() => NotesLane::Voice { voice: id },
        Some(made) => NotesLane::Named { name: made.name.clone() },
        None => NotesLane::New,
    };
    let place = |p: Proposed| NotePlace {
        hits: p.keys.iter().filter_map(|key| hits.get(key)).sum(),
        to: p.lane.map_or(NotesLane::New, lane),
        notes: p.notes.name,
        family: p.notes.family,
    };
    let coming = then.voices.iter().filter(|v| s.voice(v.id).is_none() && takes_notes(v)).map(|v| v.name.clone());
    NotePlaces { places: proposal(then, &lines, &[]).into_iter().map(place).collect(), coming: coming.collect() }
}

/// Keeps a take, with its notes in a pattern of their own, split as proposed or as chosen. An untouched song takes over
/// tempo and metre.
pub(super) fn add(s: &mut Session, take: &Take, sounds: &[TakeSound], to: &[NotesTo]) -> Result<(), EditError> {
    at_most("notes of a take", take.notes.len(), limits::TAKE_NOTES)?;
    at_most("tracks of a take", take.tracks.len(), limits::TAKE_TRACKS)?;
    let last = take.notes.iter().map(|n| n.at_ticks).max().ok_or(EditError::EmptyTake)?;
    let recorded = s.voices.iter().any(|v| matches!(v.source, VoiceSource::Recording { .. }));
    let untouched = s.parts.is_empty() && !recorded;
    if untouched {
        s.header.tempo_bpm = take.tempo_bpm.unwrap_or(s.header.tempo_bpm);
        s.header.metre = take.metre.unwrap_or(s.header.metre);
    }
    let bars = last / s.header.metre.bar_ticks() + 1;
    let pattern = if untouched { take_over(s, bars) } else { append(s, &Name::cleaned(&take.name, "Take"), bars)? };
    let id = TakeId(s.take_id());
    s.takes.push(KeptTake { id, take: take.clone(), pattern, groups: vec![] }.into());
    let lines = midi::lines(take, s.header.metre.bar_ticks());
    let splits = split_as(s, proposal(s, &lines, sounds), to);
    split(s, id, &splits)
}

/// The proposal with what somebody chose instead.
fn split_as(s: &Session, proposed: Vec<Proposed>, to: &[NotesTo]) -> Vec<Split> {
    let chosen: HashMap<&str, &NotesLane> = to.iter().map(|t| (t.notes.as_str(), &t.to)).collect();
    let named = |name: &Name| s.voices.iter().find(|v| v.name == *name && takes_notes(v)).map(|v| v.id);
    let split = |p: Proposed| {
        let lane = match chosen.get(p.notes.name.as_str()) {
            None => p.lane,
            Some(NotesLane::New) => None,
            Some(NotesLane::Voice { voice }) => Some(*voice),
            Some(NotesLane::Named { name }) => named(name),
        };
        Split { to: lane.map_or(p.new, |voice| SplitTarget::Voice { voice }), keys: p.keys }
    };
    proposed.into_iter().map(split).collect()
}

/// The first pattern and section become the take's.
fn take_over(s: &mut Session, bars: u32) -> PatternId {
    let pattern = s.patterns[0].id;
    s.patterns[0].bars = bars;
    s.sections.truncate(1);
    let first = &mut *s.sections[0];
    (first.bars, first.pattern) = (bars, pattern);
    pattern
}

/// A new pattern and section behind the rest.
fn append(s: &mut Session, name: &Name, bars: u32) -> Result<PatternId, EditError> {
    song::add_pattern(s, name, bars, None)?;
    let pattern = s.patterns.last().map(|p| p.id).ok_or(EditError::Nothing)?;
    let at = s.sections.len() as u32;
    song::add_section(s, name, pattern, bars, at)?;
    Ok(pattern)
}

/// Notes of a take that go together, before somebody chose.
struct Proposed {
    /// What they are called, and their family.
    notes: Incoming,
    keys: Vec<NoteKey>,
    /// A lane that is there.
    lane: Option<VoiceId>,
    /// What a lane of their own would be.
    new: SplitTarget,
}

/// Lanes of drums that would be joined with others, where two or more of those have lanes of their own: toms of a kit whose
/// toms are there apart.
fn lanes_apart(s: &Session, lines: &[TakeLine]) -> Vec<Option<VoiceId>> {
    let named = |line: &TakeLine| Incoming { name: Name::cleaned(&line.name, "Voice"), family: line.family };
    let own = note_lanes(s, &lines.iter().map(named).collect::<Vec<_>>());
    let mut found: HashMap<&str, usize> = HashMap::new();
    for (line, _) in lines.iter().zip(&own).filter(|(_, lane)| lane.is_some()) {
        *found.entry(&line.voice).or_default() += 1;
    }
    let apart = |line: &TakeLine| line.voice != line.name && found.get(line.voice.as_str()).is_some_and(|n| *n > 1);
    lines.iter().zip(&own).map(|(line, lane)| lane.filter(|_| apart(line))).collect()
}

/// Lines with the same voice together; voices that are there already get theirs.
fn proposal(s: &Session, lines: &[TakeLine], sounds: &[TakeSound]) -> Vec<Proposed> {
    let mut found: Vec<Proposed> = Vec::new();
    let mut places: HashMap<&str, usize> = HashMap::new();
    let ready: HashMap<NoteKey, &AssetRef> = sounds.iter().rev().map(|x| (x.key, &x.asset)).collect();
    for (line, apart) in lines.iter().zip(lanes_apart(s, lines)) {
        let voice = if apart.is_some() { &line.name } else { &line.voice };
        if let Some(at) = places.get(voice.as_str()) {
            found[*at].keys.push(line.key);
            continue;
        }
        let name = Name::cleaned(voice, "Voice");
        let sound = ready.get(&line.key).map(|asset| (*asset).clone());
        places.insert(voice, found.len());
        found.push(Proposed {
            notes: Incoming { name: name.clone(), family: line.family },
            keys: vec![line.key],
            lane: apart,
            new: SplitTarget::New { name, family: line.family, melodic: line.melodic, sound },
        });
    }
    let taken: HashSet<VoiceId> = found.iter().filter_map(|p| p.lane).collect();
    let open: Vec<usize> = (0..found.len()).filter(|at| found[*at].lane.is_none()).collect();
    let incoming: Vec<Incoming> = open.iter().map(|at| found[*at].notes.clone()).collect();
    for (at, lane) in open.into_iter().zip(note_lanes_but(s, &incoming, &taken)) {
        found[at].lane = lane;
    }
    found
}

/// The lane that has exactly these sounds of a take, which so keeps its name, its sound and its channel.
fn lane_with(s: &Session, groups: &[TakeGroup], keys: &[NoteKey]) -> Option<VoiceId> {
    let wanted: HashSet<&NoteKey> = keys.iter().collect();
    let group =
        groups.iter().find(|g| g.keys.len() == wanted.len() && g.keys.iter().all(|key| wanted.contains(key)))?;
    s.voice(group.voice).map(|v| v.id)
}

fn as_note(hit: &Hit) -> (u32, u32, u8, i8) {
    (hit.at_ticks, hit.length_ticks, hit.velocity, hit.tune_st)
}

/// Hits of lanes that earlier notes of a take went to, as somebody set them: those that are not the take's own.
pub(super) fn set_by_hand(s: &Session, kept: &KeptTake, sorted: &midi::Sorted) -> HashMap<VoiceId, Vec<Hit>> {
    let by_hand = |group: &TakeGroup| {
        let part = s.parts.iter().find(|p| (p.pattern, p.voice) == (kept.pattern, group.voice))?;
        let own: HashSet<(u32, u32, u8, i8)> =
            [true, false].iter().flat_map(|melodic| sorted.hits(&group.keys, *melodic)).map(|h| as_note(&h)).collect();
        let is_own = |h: &Hit| {
            let (at, length, velocity, tune) = as_note(h);
            *h == Hit::new(at, length, velocity, tune) && own.contains(&as_note(h))
        };
        Some((group.voice, part.hits.iter().filter(|h| !is_own(h)).copied().collect()))
    };
    kept.groups.iter().filter_map(by_hand).collect()
}

/// Notes of a take and hits that were set by hand: where both sound at one time, the hand's.
fn together(notes: Vec<Hit>, by_hand: &[Hit]) -> Vec<Hit> {
    let taken: HashSet<u32> = by_hand.iter().map(|h| h.at_ticks).collect();
    let mut hits: Vec<Hit> =
        notes.into_iter().filter(|h| !taken.contains(&h.at_ticks)).chain(by_hand.iter().copied()).collect();
    hits.sort_by_key(|h| (h.at_ticks, h.tune_st));
    hits
}

/// Splits a kept take: what an earlier split put into lanes is taken out first. A lane whose notes stay the same is left
/// alone, and hits that were set by hand stay in their lane as long as that gets notes.
pub(super) fn split(s: &mut Session, id: TakeId, splits: &[Split]) -> Result<(), EditError> {
    at_most("voices that a take is split into", splits.len(), limits::VOICES)?;
    let at = s.takes.iter().position(|t| t.id == id).ok_or(EditError::Gone { what: format!("take {}", id.0) })?;
    let kept = s.takes[at].clone();
    let sorted = midi::Sorted::new(&kept.take);
    let by_hand = set_by_hand(s, &kept, &sorted);
    let mut groups: Vec<(TakeGroup, bool)> = Vec::new();
    for Split { to, keys } in splits {
        let (voice, melodic, made) = match to {
            SplitTarget::New { melodic, .. } if lane_with(s, &kept.groups, keys).is_some() => {
                let lane = lane_with(s, &kept.groups, keys).ok_or(EditError::Nothing)?;
                (lane, *melodic, kept.groups.iter().any(|g| g.voice == lane && g.made))
            }
            SplitTarget::New { name, family, melodic, sound } => {
                (make_voice(s, name, *family, *melodic, sound.as_ref())?, *melodic, true)
            }
            SplitTarget::Voice { voice } => {
                let found = s.voice(*voice).ok_or(EditError::Gone { what: format!("voice {}", voice.0) })?;
                if matches!(found.source, VoiceSource::Recording { .. }) {
                    return Err(EditError::WrongKind { name: found.name.to_string(), wanted: "voice with hits" });
                }
                let pitched = matches!(found.source, VoiceSource::OneShot { hold: Hold::Gate { .. }, .. });
                (*voice, pitched, kept.groups.iter().any(|g| g.voice == *voice && g.made))
            }
        };
        match groups.iter_mut().find(|(g, _)| g.voice == voice) {
            Some((group, _)) => group.keys.extend(keys),
            None => groups.push((TakeGroup { voice, keys: keys.clone(), made }, melodic)),
        }
    }
    for (group, _) in &mut groups {
        // A sound named twice is one sound.
        let mut seen = HashSet::new();
        group.keys.retain(|key| seen.insert(*key));
    }
    let targets: HashSet<VoiceId> = groups.iter().map(|(g, _)| g.voice).collect();
    for group in kept.groups.iter().filter(|g| !targets.contains(&g.voice)) {
        song::set_hits(s, kept.pattern, group.voice, vec![])?;
    }
    for (group, melodic) in &groups {
        let before = kept.groups.iter().find(|g| g.voice == group.voice);
        if before.is_some_and(|g| g.keys.len() == group.keys.len() && g.keys.iter().all(|k| group.keys.contains(k))) {
            continue;
        }
        let hits = together(sorted.hits(&group.keys, *melodic), by_hand.get(&group.voice).map_or(&[], Vec::as_slice));
        song::set_hits(s, kept.pattern, group.voice, hits)?;
    }
    let playing: HashSet<VoiceId> = s.parts.iter().map(|p| p.voice).collect();
    let left: Vec<VoiceId> = kept
        .groups
        .iter()
        .filter(|g| g.made && !targets.contains(&g.voice) && !playing.contains(&g.voice))
        .map(|g| g.voice)
        .collect();
    remove_voices(s, &left)?;
    s.takes[at].groups = groups.into_iter().map(|(group, _)| group).collect();
    Ok(())
}

fn make_voice(
    s: &mut Session,
    name: &Name,
    family: Family,
    melodic: bool,
    sound: Option<&AssetRef>,
) -> Result<VoiceId, EditError> {
    let source = sound.map_or(VoiceSource::Empty, |asset| VoiceSource::OneShot {
        layers: vec![Layer::new(asset.id.clone())],
        hold: if melodic { Hold::Gate { release_ms: 60.0 } } else { Hold::Whole },
    });
    let assets: Vec<AssetRef> = sound.cloned().into_iter().collect();
    add_voices(
        s,
        &[NewVoice { trim_db: 0.0, name: name.clone(), family, source, output: None, hits: vec![] }],
        &assets,
    )?;
    s.voices.last().map(|v| v.id).ok_or(EditError::Nothing)
}

/// Forgets a take; the hits that it gave stay.
pub(super) fn remove(s: &mut Session, id: TakeId) -> Result<(), EditError> {
    if s.take(id).is_none() {
        return Err(EditError::Gone { what: format!("take {}", id.0) });
    }
    s.takes.retain(|t| t.id != id);
    Ok(())
}

/// A MIDI take, kept and split as proposed: hits for lanes of the same name, new lanes for the rest. An
/// untouched song takes over tempo and metre.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddTake {
    /// As it came.
    pub take: Take,
    /// Sounds for its notes.
    pub sounds: Vec<TakeSound>,
    /// Where notes go for which somebody chose another lane than the proposed one.
    #[serde(default)]
    pub to: Vec<NotesTo>,
}
parts!(AddTake { take, sounds, to });

impl Intent for AddTake {
    fn label(&self, _: &Words) -> String {
        format!("Bring in {}", self.take.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add(s, &self.take, &self.sounds, &self.to)
    }
}

/// A kept take split in another way.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SplitTake {
    /// The take.
    pub take: TakeId,
    /// Which notes go to which voice.
    pub splits: Vec<Split>,
}
parts!(SplitTake { take, splits });

impl Intent for SplitTake {
    fn label(&self, words: &Words) -> String {
        words.0.take(self.take).map_or_else(|| "Split a take".into(), |kept| format!("Split {}", kept.take.name))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        split(s, self.take, &self.splits)
    }
}

/// Forgets a take; its hits stay.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveTake {
    /// That to go.
    pub take: TakeId,
}
parts!(RemoveTake { take });

impl Intent for RemoveTake {
    fn label(&self, words: &Words) -> String {
        words.0.take(self.take).map_or_else(|| "Forget a take".into(), |kept| format!("Forget take {}", kept.take.name))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove(s, self.take)
    }
}
