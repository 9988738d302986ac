//! Notes of a MIDI take, told apart into voices. Plain data in, plain data out; files are read elsewhere.

use crate::session::{Family, Hit, Metre};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The percussion channel of General MIDI, counted from 0.
const PERCUSSION_CHANNEL: u8 = 9;
/// Middle C, which plays a melodic sample at its own pitch.
const MIDDLE_C: i32 = 60;

/// One note, in ticks of [`crate::units::TICKS_PER_QUARTER`].
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Note {
    /// 0 to 15.
    pub channel: u8,
    /// 0 to 127.
    pub key: u8,
    /// 1 to 127.
    pub velocity: u8,
    pub at_ticks: u32,
    pub length_ticks: u32,
}

/// A MIDI file's notes and the time they were written in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Take {
    pub name: String,
    pub notes: Vec<Note>,
    /// The first tempo of the file, if it has one.
    pub tempo_bpm: Option<f64>,
    /// The first metre of the file, if it has one.
    pub metre: Option<Metre>,
    /// What was left out or taken otherwise, for people.
    pub remarks: Vec<String>,
}

/// The notes of one voice-to-be.
#[derive(Debug, Clone, PartialEq)]
pub struct TakeLane {
    pub name: String,
    pub family: Family,
    /// Whether notes carry pitch.
    pub melodic: bool,
    pub hits: Vec<Hit>,
}

/// General MIDI percussion: key, name, family.
const PERCUSSION: [(u8, &str, Family); 47] = {
    use Family::{Hats, Low, Percussion, Snare};
    [
        (35, "Kick deep", Low),
        (36, "Kick", Low),
        (37, "Rim", Snare),
        (38, "Snare", Snare),
        (39, "Clap", Snare),
        (40, "Snare bright", Snare),
        (41, "Tom floor low", Percussion),
        (42, "Hat closed", Hats),
        (43, "Tom floor high", Percussion),
        (44, "Hat pedal", Hats),
        (45, "Tom low", Percussion),
        (46, "Hat open", Hats),
        (47, "Tom mid low", Percussion),
        (48, "Tom mid high", Percussion),
        (49, "Crash", Hats),
        (50, "Tom high", Percussion),
        (51, "Ride", Hats),
        (52, "China", Hats),
        (53, "Ride bell", Hats),
        (54, "Tambourine", Percussion),
        (55, "Splash", Hats),
        (56, "Cowbell", Percussion),
        (57, "Crash 2", Hats),
        (58, "Vibraslap", Percussion),
        (59, "Ride 2", Hats),
        (60, "Bongo high", Percussion),
        (61, "Bongo low", Percussion),
        (62, "Conga muted", Percussion),
        (63, "Conga high", Percussion),
        (64, "Conga low", Percussion),
        (65, "Timbale high", Percussion),
        (66, "Timbale low", Percussion),
        (67, "Agogo high", Percussion),
        (68, "Agogo low", Percussion),
        (69, "Cabasa", Percussion),
        (70, "Maracas", Percussion),
        (71, "Whistle short", Percussion),
        (72, "Whistle long", Percussion),
        (73, "Guiro short", Percussion),
        (74, "Guiro long", Percussion),
        (75, "Claves", Percussion),
        (76, "Block high", Percussion),
        (77, "Block low", Percussion),
        (78, "Cuica muted", Percussion),
        (79, "Cuica open", Percussion),
        (80, "Triangle muted", Percussion),
        (81, "Triangle open", Percussion),
    ]
};

/// Our name and family for a percussion key of General MIDI.
pub fn percussion(key: u8) -> Option<(&'static str, Family)> {
    PERCUSSION.iter().find(|(k, _, _)| *k == key).map(|(_, name, family)| (*name, *family))
}

/// Splits a take into lanes: percussion by key, every other channel as one melodic lane.
pub fn lanes(take: &Take) -> Vec<TakeLane> {
    let percussive = |n: &Note| n.channel == PERCUSSION_CHANNEL;
    // A file without channel 10 whose keys all lie in a kit's range is most likely a kit on another channel.
    let kit_elsewhere = !take.notes.iter().any(percussive)
        && !take.notes.is_empty()
        && take.notes.iter().all(|n| (35..=59).contains(&n.key) && n.length_ticks <= 480)
        && take.notes.iter().any(|n| n.key == 35 || n.key == 36);
    let mut lanes: BTreeMap<(u8, u8), TakeLane> = BTreeMap::new();
    for note in &take.notes {
        let drum = percussive(note) || kit_elsewhere;
        let key = if drum { (note.channel, note.key) } else { (note.channel, 0) };
        let lane = lanes.entry(key).or_insert_with(|| new_lane(note, drum, &take.notes));
        let tune = if lane.melodic { (i32::from(note.key) - MIDDLE_C).clamp(-48, 48) as i8 } else { 0 };
        lane.hits.push(Hit {
            at_ticks: note.at_ticks,
            length_ticks: note.length_ticks.max(1),
            velocity: note.velocity.clamp(1, 127),
            tune_st: tune,
        });
    }
    lanes.into_values().collect()
}

fn new_lane(note: &Note, drum: bool, all: &[Note]) -> TakeLane {
    let hits = Vec::new();
    if drum {
        let (name, family) = percussion(note.key)
            .map_or_else(|| (format!("Note {}", note.key), Family::Percussion), |(n, f)| (n.to_owned(), f));
        return TakeLane { name, family, melodic: false, hits };
    }
    let keys: Vec<u32> = all.iter().filter(|n| n.channel == note.channel).map(|n| u32::from(n.key)).collect();
    let mean = keys.iter().sum::<u32>() / keys.len() as u32;
    let (name, family) = if mean < 48 { ("Bass", Family::Bass) } else { ("Music", Family::Music) };
    TakeLane { name: format!("{name} {}", note.channel + 1), family, melodic: true, hits }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn note(channel: u8, key: u8, at_ticks: u32) -> Note {
        Note { channel, key, velocity: 100, at_ticks, length_ticks: 120 }
    }

    fn take(notes: Vec<Note>) -> Take {
        Take { name: "take".into(), notes, tempo_bpm: None, metre: None, remarks: vec![] }
    }

    #[test]
    fn percussion_is_told_apart_by_key() {
        let lanes = lanes(&take(vec![note(9, 36, 0), note(9, 38, 480), note(9, 36, 960)]));
        let names: Vec<_> = lanes.iter().map(|l| (l.name.as_str(), l.hits.len())).collect();
        assert_eq!(names, [("Kick", 2), ("Snare", 1)]);
    }

    #[test]
    fn two_kits_on_two_channels_stay_apart_from_melodies() {
        let lanes = lanes(&take(vec![note(9, 36, 0), note(0, 36, 0), note(1, 72, 0)]));
        let names: Vec<_> = lanes.iter().map(|l| l.name.as_str()).collect();
        assert_eq!(names, ["Bass 1", "Music 2", "Kick"]);
        assert_eq!(lanes[1].hits[0].tune_st, 12);
    }

    #[test]
    fn a_kit_on_another_channel_is_recognised() {
        let lanes = lanes(&take(vec![note(0, 36, 0), note(0, 42, 0)]));
        assert!(lanes.iter().all(|l| !l.melodic));
        assert_eq!(lanes.len(), 2);
    }

    #[test]
    fn the_percussion_map_has_each_key_once() {
        assert!(PERCUSSION.windows(2).all(|w| w[0].0 + 1 == w[1].0));
    }
}
