//! Edits of MIDI takes: in, split into voices, split again, out.

use super::intent::Intent;
use super::label::Words;
use super::lanes::{NewVoice, add_voices, remove_voices};
use super::parts::{Listed, Look, Parts, Room, listed, parts};
use super::placing::{Incoming, note_lanes, takes_notes};
use super::{EditError, song};
use crate::midi::{self, TakeLine};
use crate::session::{
    AssetRef, DocumentError, Family, Hold, KeptTake, Layer, NoteKey, Session, Take, TakeGroup, VoiceSource, at_most,
    limits,
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

/// Lines with the same voice together; voices that are there already get theirs.
fn proposal(s: &Session, lines: &[TakeLine], sounds: &[TakeSound]) -> Vec<Proposed> {
    let mut found: Vec<Proposed> = Vec::new();
    let mut places: HashMap<&str, usize> = HashMap::new();
    let ready: HashMap<NoteKey, &AssetRef> = sounds.iter().rev().map(|x| (x.key, &x.asset)).collect();
    for line in lines {
        if let Some(at) = places.get(line.voice.as_str()) {
            found[*at].keys.push(line.key);
            continue;
        }
        let name = Name::cleaned(&line.voice, "Voice");
        let sound = ready.get(&line.key).map(|asset| (*asset).clone());
        places.insert(&line.voice, found.len());
        found.push(Proposed {
            notes: Incoming { name: name.clone(), family: line.family },
            keys: vec![line.key],
            lane: None,
            new: SplitTarget::New { name, family: line.family, melodic: line.melodic, sound },
        });
    }
    let incoming: Vec<Incoming> = found.iter().map(|p| p.notes.clone()).collect();
    for (proposed, lane) in found.iter_mut().zip(note_lanes(s, &incoming)) {
        proposed.lane = lane;
    }
    found
}

/// Splits a kept take: what an earlier split put into lanes is taken out first.
pub(super) fn split(s: &mut Session, id: TakeId, splits: &[Split]) -> Result<(), EditError> {
    at_most("voices that a take is split into", splits.len(), limits::VOICES)?;
    let at = s.takes.iter().position(|t| t.id == id).ok_or(EditError::Gone { what: format!("take {}", id.0) })?;
    let kept = s.takes[at].clone();
    let sorted = midi::Sorted::new(&kept.take);
    for group in &kept.groups {
        song::set_hits(s, kept.pattern, group.voice, vec![])?;
    }
    let mut groups: Vec<(TakeGroup, bool)> = Vec::new();
    for Split { to, keys } in splits {
        let (voice, melodic, made) = match to {
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
    for (group, melodic) in &mut groups {
        // A sound named twice is one sound.
        let mut seen = HashSet::new();
        group.keys.retain(|key| seen.insert(*key));
        song::set_hits(s, kept.pattern, group.voice, sorted.hits(&group.keys, *melodic))?;
    }
    let targets: HashSet<VoiceId> = groups.iter().map(|(g, _)| g.voice).collect();
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
