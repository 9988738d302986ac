//! Notes of a MIDI take, told apart into voices. Plain data in, plain data out; files are read elsewhere.

use crate::session::{Family, Hit, Note, NoteKey, Role, Take, limits};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// The percussion channel of General MIDI, counted from 0.
const PERCUSSION_CHANNEL: u8 = 9;
/// Middle C, which plays a melodic sample at its own pitch.
const MIDDLE_C: i32 = 60;

/// One sound of a take: what it is, how often it comes, and what to do with it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TakeLine {
    /// Track, channel and key.
    pub key: NoteKey,
    /// Name of its track; empty where it has none.
    pub track: String,
    /// What the note is called: a sound of the kit, or a pitch.
    pub name: String,
    /// The family of the voice proposed.
    pub family: Family,
    /// Whether the note is a pitch rather than a sound of a kit.
    pub melodic: bool,
    /// Notes of it.
    pub hits: u32,
    /// The first bar in which it comes, counted from 1.
    pub first_bar: u32,
    /// The voice that it is proposed for; lines with the same one go together.
    pub voice: String,
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

/// Semitones by which the toms of a kit differ when one sample plays them all.
const TOMS: [(u8, i8); 6] = [(41, -7), (43, -5), (45, -2), (47, 0), (48, 2), (50, 5)];

/// Sounds of a kit that are played as one: the voice and its keys.
const TOGETHER: [(&str, &[u8]); 5] = [
    ("Kick", &[35, 36]),
    ("Snare", &[38, 40]),
    ("Toms", &[41, 43, 45, 47, 48, 50]),
    ("Cymbals", &[49, 52, 55, 57]),
    ("Ride", &[51, 53, 59]),
];

const PITCHES: [&str; 12] = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"];

/// A key as a pitch, middle C being C4.
pub fn pitch_name(key: u8) -> String {
    format!("{}{}", PITCHES[usize::from(key % 12)], i32::from(key / 12) - 1)
}

/// The General MIDI key of a percussion voice, by its name.
pub fn percussion_key(name: &str) -> Option<u8> {
    PERCUSSION.iter().find(|(_, n, _)| n.eq_ignore_ascii_case(name)).map(|(key, _, _)| *key)
}

/// Channels of a track that carry a kit: channel 10, and such whose notes all lie among a kit's, are short
/// and have a kick among them. Each with its number among them, from 0.
fn kits(take: &Take) -> BTreeMap<(u16, u8), usize> {
    let mut channels: BTreeMap<(u16, u8), (bool, bool)> = BTreeMap::new();
    for note in &take.notes {
        let (all, kick) = channels.entry((note.track, note.channel)).or_insert((true, false));
        *all &= (35..=59).contains(&note.key) && note.length_ticks <= 480;
        *kick |= note.key == 35 || note.key == 36;
    }
    let kit_there = take.notes.iter().any(|n| n.channel == PERCUSSION_CHANNEL);
    let is_kit = |channel: u8, (all, kick): (bool, bool)| channel == PERCUSSION_CHANNEL || (!kit_there && all && kick);
    let kits = channels.into_iter().filter(|((_, c), found)| is_kit(*c, *found));
    kits.enumerate().map(|(at, (key, _))| (key, at)).collect()
}

/// The notes of one track on one channel, taken together.
#[derive(Default)]
struct Lane {
    sounds: u32,
    notes: u64,
    keys: u64,
}

/// Every sound in use, by track, channel and key, with a proposal of voices: the obvious parts of a kit go
/// together, other channels stay whole, and what comes on different tracks or channels stays apart.
///
/// Cost: linear in notes, but for looking each up among the sounds.
pub fn lines(take: &Take, bar_ticks: u32) -> Vec<TakeLine> {
    let kits = kits(take);
    let mut found: BTreeMap<NoteKey, (u32, u32)> = BTreeMap::new();
    let mut lanes: HashMap<(u16, u8), Lane> = HashMap::new();
    for note in &take.notes {
        let key = note.note_key();
        let lane = lanes.entry((key.track, key.channel)).or_default();
        lane.notes += 1;
        lane.keys += u64::from(note.key);
        let (hits, first) = found.entry(key).or_insert_with(|| {
            lane.sounds += 1;
            (0, note.at_ticks)
        });
        *hits += 1;
        *first = (*first).min(note.at_ticks);
    }
    let mut lines: Vec<TakeLine> = found
        .iter()
        .map(|(key, (hits, first))| {
            let track = take.tracks.get(usize::from(key.track)).map_or("", |t| t.as_str()).to_owned();
            let lane = &lanes[&(key.track, key.channel)];
            let drum = kits.contains_key(&(key.track, key.channel));
            let alone = lane.sounds == 1;
            let (name, family) = line_name(lane, *key, drum, &track);
            let voice = match TOGETHER.iter().find(|(_, keys)| drum && keys.contains(&key.key)) {
                // A track with one sound in it is named after that sound.
                _ if drum && alone && !track.is_empty() => track.clone(),
                Some((voice, _)) => apart((*voice).to_owned(), *key, &kits),
                None if drum => apart(name.clone(), *key, &kits),
                None if !track.is_empty() => track.clone(),
                None => format!("{} {}", if family == Family::Bass { "Bass" } else { "Music" }, key.channel + 1),
            };
            let first_bar = first / bar_ticks.max(1) + 1;
            TakeLine { key: *key, track, name, family, melodic: !drum, hits: *hits, first_bar, voice }
        })
        .collect();
    // Kits first, as on the board.
    lines.sort_by_key(|l| l.melodic);
    lines
}

/// The name of a kit's voice with its number among kits, where several have to stay apart.
fn apart(name: String, key: NoteKey, kits: &BTreeMap<(u16, u8), usize>) -> String {
    match kits.get(&(key.track, key.channel)) {
        Some(at) if *at > 0 => format!("{name} {}", at + 1),
        _ => name,
    }
}

fn line_name(lane: &Lane, key: NoteKey, drum: bool, track: &str) -> (String, Family) {
    if drum {
        let known = percussion(key.key).map(|(name, family)| (name.to_owned(), family));
        let (name, family) = known.unwrap_or_else(|| (format!("Note {}", key.key), Family::Percussion));
        return (name, Role::of(track).family().unwrap_or(family));
    }
    let mean = lane.keys / lane.notes.max(1);
    let guess = if mean < 48 { Family::Bass } else { Family::Music };
    (pitch_name(key.key), Role::of(track).family().unwrap_or(guess))
}

/// The notes of a take, told apart by what they sound.
pub struct Sorted<'a>(BTreeMap<NoteKey, Vec<&'a Note>>);

impl<'a> Sorted<'a> {
    /// Sorts the notes of a take.
    pub fn new(take: &'a Take) -> Self {
        let mut sorted: BTreeMap<NoteKey, Vec<&Note>> = BTreeMap::new();
        for note in &take.notes {
            sorted.entry(note.note_key()).or_default().push(note);
        }
        Sorted(sorted)
    }

    /// The hits of a voice that gets some of these sounds.
    ///
    /// * `melodic` – whether keys are pitches around middle C; a kit's toms on one voice differ by some semitones.
    pub fn hits(&self, keys: &[NoteKey], melodic: bool) -> Vec<Hit> {
        let keys: BTreeSet<&NoteKey> = keys.iter().collect();
        let toms = keys.len() > 1 && keys.iter().all(|k| TOMS.iter().any(|(tom, _)| *tom == k.key));
        let tune = |key: u8| match TOMS.iter().find(|(tom, _)| *tom == key) {
            _ if melodic => (i32::from(key) - MIDDLE_C).clamp(-48, 48) as i8,
            Some((_, st)) if toms => *st,
            _ => 0,
        };
        let notes = keys.into_iter().filter_map(|key| self.0.get(key)).flatten();
        let length = |n: &Note| n.length_ticks.clamp(1, limits::SONG_TICKS);
        let mut hits: Vec<Hit> =
            notes.map(|n| Hit::new(n.at_ticks, length(n), n.velocity.clamp(1, 127), tune(n.key))).collect();
        hits.sort_by_key(|h| (h.at_ticks, h.tune_st));
        hits
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const BAR: u32 = 3840;

    fn on(track: u16, channel: u8, key: u8, at_ticks: u32) -> Note {
        Note { track, channel, key, velocity: 100, at_ticks, length_ticks: 120 }
    }

    fn note(channel: u8, key: u8, at_ticks: u32) -> Note {
        on(0, channel, key, at_ticks)
    }

    fn take(notes: Vec<Note>) -> Take {
        Take { name: "take".into(), tracks: vec![], notes, tempo_bpm: None, metre: None, remarks: vec![] }
    }

    fn voices(take: &Take) -> Vec<String> {
        lines(take, BAR).into_iter().map(|l| l.voice).collect()
    }

    #[test]
    fn lines_say_what_how_often_and_where_first() {
        let lines = lines(&take(vec![note(9, 36, 0), note(9, 42, BAR + 480), note(9, 36, 960)]), BAR);
        let said: Vec<_> = lines.iter().map(|l| (l.name.as_str(), l.hits, l.first_bar)).collect();
        assert_eq!(said, [("Kick", 2, 1), ("Hat closed", 1, 2)]);
    }

    #[test]
    fn the_obvious_parts_of_a_kit_go_together() {
        let kit = [35, 36, 41, 45, 50, 49, 57, 42, 46].map(|k| note(9, k, 0)).to_vec();
        let proposed = voices(&take(kit));
        let expected = ["Kick", "Kick", "Toms", "Hat closed", "Toms", "Hat open", "Cymbals", "Toms", "Cymbals"];
        assert_eq!(proposed, expected);
    }

    #[test]
    fn kits_on_several_channels_or_tracks_stay_apart() {
        let two = take(vec![on(0, 9, 36, 0), on(1, 9, 36, 0), on(1, 9, 38, 0)]);
        assert_eq!(voices(&two), ["Kick", "Kick 2", "Snare 2"]);
    }

    #[test]
    fn a_melody_stays_whole_and_keeps_its_pitches() {
        let take = take(vec![note(9, 36, 0), note(1, 72, 0), note(1, 76, 480), note(0, 36, 0)]);
        assert_eq!(voices(&take), ["Kick", "Bass 1", "Music 2", "Music 2"]);
        let keys = [72, 76].map(|key| NoteKey { track: 0, channel: 1, key });
        assert_eq!(Sorted::new(&take).hits(&keys, true).iter().map(|h| h.tune_st).collect::<Vec<_>>(), [12, 16]);
        assert_eq!(lines(&take, BAR)[2].name, "C5");
    }

    #[test]
    fn toms_on_one_voice_differ_in_pitch() {
        let take = take(vec![note(9, 41, 0), note(9, 50, 480)]);
        let keys = [41, 50].map(|key| NoteKey { track: 0, channel: 9, key });
        assert_eq!(Sorted::new(&take).hits(&keys, false).iter().map(|h| h.tune_st).collect::<Vec<_>>(), [-7, 5]);
        assert_eq!(Sorted::new(&take).hits(&keys[..1], false)[0].tune_st, 0);
    }

    #[test]
    fn tracks_with_names_give_theirs() {
        let mut named = take(vec![on(0, 9, 38, 0), on(1, 0, 60, 0), on(1, 0, 64, 0)]);
        named.tracks = vec!["Snare top".into(), "Keys".into()];
        assert_eq!(voices(&named), ["Snare top", "Keys", "Keys"]);
    }

    #[test]
    fn a_kit_on_another_channel_is_recognised() {
        let lines = lines(&take(vec![note(0, 36, 0), note(0, 42, 0)]), BAR);
        assert!(lines.iter().all(|l| !l.melodic));
    }

    #[test]
    fn the_percussion_map_has_each_key_once() {
        assert!(PERCUSSION.windows(2).all(|w| w[0].0 + 1 == w[1].0));
    }
}
