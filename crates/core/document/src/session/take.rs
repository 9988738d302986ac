//! MIDI takes: notes as they came, and which voice each note went to.

use super::{Metre, Tempo};
use lane_units::{PatternId, Sentence, StripName, TakeId, Title, VoiceId};
use serde::{Deserialize, Serialize};

/// One note, in ticks of [`lane_units::TICKS_PER_QUARTER`]. Written as
/// `[track, channel, key, velocity, at, length]`, since a take has many.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[cfg_attr(feature = "describe", ts(type = "[number, number, number, number, number, number]"))]
#[cfg_attr(feature = "describe", schemars(with = "[u32; 6]"))]
#[serde(into = "[u32; 6]", try_from = "[u32; 6]")]
pub struct Note {
    /// Index into the take's tracks.
    pub track: u16,
    /// 0 to 15.
    pub channel: u8,
    /// 0 to 127.
    pub key: u8,
    /// 1 to 127.
    pub velocity: u8,
    /// Where it begins.
    pub at_ticks: u32,
    /// How long it is held.
    pub length_ticks: u32,
}

impl From<Note> for [u32; 6] {
    fn from(n: Note) -> Self {
        [n.track.into(), n.channel.into(), n.key.into(), n.velocity.into(), n.at_ticks, n.length_ticks]
    }
}

/// Numbers that are no note.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("a note is [track, channel 0 to 15, key 0 to 127, velocity 1 to 127, tick, length from 1]; this one is {0:?}")]
pub struct NotANote([u32; 6]);

impl TryFrom<[u32; 6]> for Note {
    type Error = NotANote;

    fn try_from(given: [u32; 6]) -> Result<Self, NotANote> {
        let [track, channel, key, velocity, at_ticks, length_ticks] = given;
        let fits = track <= u32::from(u16::MAX)
            && channel < 16
            && key < 128
            && (1..128).contains(&velocity)
            && length_ticks > 0
            && at_ticks < u32::MAX / 4
            && length_ticks < u32::MAX / 4;
        if !fits {
            return Err(NotANote(given));
        }
        let (track, channel, key, velocity) = (track as u16, channel as u8, key as u8, velocity as u8);
        Ok(Note { track, channel, key, velocity, at_ticks, length_ticks })
    }
}

/// What tells the sounds of a take apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NoteKey {
    /// From 0.
    pub track: u16,
    /// From 0 to 15.
    pub channel: u8,
    /// From 0 to 127.
    pub key: u8,
}

impl Note {
    /// Which sound it plays.
    pub fn note_key(&self) -> NoteKey {
        NoteKey { track: self.track, channel: self.channel, key: self.key }
    }
}

/// A MIDI file's notes and the time they were written in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Take {
    /// What it is called.
    pub name: Title,
    /// Names of the file's tracks; empty where they have none.
    pub tracks: Vec<StripName>,
    /// In order of time.
    pub notes: Vec<Note>,
    /// The first tempo of the file, if it has one.
    pub tempo_bpm: Option<Tempo>,
    /// The first metre of the file, if it has one.
    pub metre: Option<Metre>,
    /// What was left out or taken otherwise, for people.
    pub remarks: Vec<Sentence>,
}

/// Notes that went to one voice.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TakeGroup {
    /// The voice.
    pub voice: VoiceId,
    /// Its sounds.
    pub keys: Vec<NoteKey>,
    /// Whether the split made the voice, which then goes with it.
    pub made: bool,
}

/// A take as it came. It makes no sound itself; its voices play copies of its notes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct KeptTake {
    /// Its id.
    pub id: TakeId,
    /// As it came.
    pub take: Take,
    /// The pattern that holds its hits.
    pub pattern: PatternId,
    /// What its sounds became.
    pub groups: Vec<TakeGroup>,
}
