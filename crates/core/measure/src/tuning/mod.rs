//! Kick and bass in tune: what they sound, and how far the kick is from where it could be.

use lane_analysis::{NamedPitch, settled_pitch};
use lane_document::midi::pitch_name;
use lane_document::session::{AssetBank, Audio, Session, Tap, VoiceSource};
use lane_engine::{Engine, Metering};
use lane_units::VoiceId;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Pitches in which a kick is looked for, in Hz.
const KICK_HZ: (f64, f64) = (25.0, 250.0);
/// Pitches in which a bass is looked for, in Hz.
const BASS_HZ: (f64, f64) = (25.0, 500.0);
/// Seconds of a hit that are listened to.
const SECONDS: f64 = 2.0;
/// Notes of a bass that are measured at most, the most frequent first.
const NOTES: usize = 24;

/// A note of the bass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct BassNote {
    /// What it was measured at.
    pub pitch: NamedPitch,
    /// How often the song has it.
    pub hits: u32,
}

/// A note for the kick, and the way there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct KickTarget {
    /// A note without its octave, such as "F".
    pub note: String,
    /// Where it comes from, for people; empty for notes that nothing in the session speaks for.
    pub reason: String,
    /// Cents up to the next such note, 0 to below 1200.
    pub up_ct: f64,
    /// Cents down to it, above -1200 to 0.
    pub down_ct: f64,
}

/// What was measured of kick and bass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Tuning {
    /// None where the kick has no clear pitch.
    pub kick: Option<NamedPitch>,
    /// The bass's notes, low to high.
    pub bass: Vec<BassNote>,
    /// The key's root first, then the bass's notes, most frequent first, then every other note from C up.
    pub targets: Vec<KickTarget>,
}

/// Measures the kick as the session plays it, the bass's notes in the song, and the ways between them.
pub fn measure(session: &Session, bank: &AssetBank, kick: VoiceId, bass: Option<VoiceId>) -> Tuning {
    let kick = pitch_of(session, bank, kick, KICK_HZ).map(NamedPitch::of_hz);
    let bass = bass.map_or_else(Vec::new, |voice| bass_notes(session, bank, voice));
    let targets = kick.as_ref().map_or_else(Vec::new, |kick| targets(kick, session, &bass));
    Tuning { kick, bass, targets }
}

/// The pitch of one hit of a voice, alone, with its layers as they are tuned.
fn pitch_of(session: &Session, bank: &AssetBank, voice: VoiceId, range: (f64, f64)) -> Option<f64> {
    let rate = session.header.sample_rate;
    let channel = session.voice(voice)?.channel;
    let mut engine = Engine::new(session, bank, 512, Metering::Off);
    engine.keep_dry();
    engine.audition(voice, 1.0, None, 0);
    let mut frames = Vec::new();
    while (frames.len() as f64) < 2.0 * SECONDS * f64::from(rate) {
        let count = engine.process_piece(512);
        let tap = engine.tap(channel, Tap::Dry, count)?;
        frames.extend(tap.iter().flatten().map(|s| *s as f32));
    }
    let audio = Audio::new(2, frames).ok()?;
    settled_pitch(&audio, rate, range, SECONDS).map(|p| p.hz)
}

/// Every note of a bass voice in the song: its own pitch, measured, at the tuning of its hits.
fn bass_notes(session: &Session, bank: &AssetBank, voice: VoiceId) -> Vec<BassNote> {
    let Some(own) = pitch_of(session, bank, voice, BASS_HZ) else { return Vec::new() };
    let leader = session.voice(voice).and_then(|v| v.follows).unwrap_or(voice);
    let mut counts: BTreeMap<i8, u32> = BTreeMap::new();
    for hit in session.parts.iter().filter(|p| p.voice == leader).flat_map(|p| &p.hits) {
        *counts.entry(hit.tune_st).or_default() += 1;
    }
    if counts.is_empty() && matches!(session.voice(voice).map(|v| &v.source), Some(VoiceSource::Recording { .. })) {
        counts.insert(0, 1);
    }
    let mut most: Vec<(i8, u32)> = counts.into_iter().collect();
    most.sort_by_key(|(_, hits)| std::cmp::Reverse(*hits));
    most.truncate(NOTES);
    most.sort_by_key(|(st, _)| *st);
    let pitch = |st: i8| NamedPitch::of_hz(own * libm::exp2(f64::from(st) / 12.0));
    most.into_iter().map(|(st, hits)| BassNote { pitch: pitch(st), hits }).collect()
}

/// A note without its octave.
fn pitch_class(note: &str) -> &str {
    note.trim_end_matches(|c: char| c.is_ascii_digit() || c == '-')
}

/// Semitones of a note's name above C, with sharps and flats.
fn semitones(name: &str) -> Option<i32> {
    let mut letters = name.trim().chars();
    let base = match letters.next()?.to_ascii_uppercase() {
        'C' => 0,
        'D' => 2,
        'E' => 4,
        'F' => 5,
        'G' => 7,
        'A' => 9,
        'B' => 11,
        _ => return None,
    };
    Some(match letters.next() {
        Some('#') => base + 1,
        Some('b') => base - 1,
        _ => base,
    })
}

fn targets(kick: &NamedPitch, session: &Session, bass: &[BassNote]) -> Vec<KickTarget> {
    let mut targets: Vec<KickTarget> = Vec::new();
    let kick_st = 12.0 * libm::log2(kick.hz / 440.0) + 9.0;
    let mut add = |above_c: f64, note: &str, reason: String| {
        if targets.iter().any(|t| t.note == note) {
            return;
        }
        let up = libm::fmod(libm::fmod(above_c - kick_st, 12.0) + 12.0, 12.0) * 100.0;
        // A cent away is there already, rather than an octave off.
        let up = if up > 1199.0 { up - 1200.0 } else { up };
        let down_ct = if up.abs() < 1.0 { up } else { up - 1200.0 };
        targets.push(KickTarget { note: note.to_owned(), reason, up_ct: up, down_ct });
    };
    if let Some(root) = semitones(&session.header.key) {
        let name = pitch_name((60 + root.rem_euclid(12)) as u8);
        add(f64::from(root), pitch_class(&name), format!("root of the key {}", session.header.key));
    }
    let mut most: Vec<&BassNote> = bass.iter().collect();
    most.sort_by_key(|n| std::cmp::Reverse(n.hits));
    for note in most {
        let st = 12.0 * libm::log2(note.pitch.hz / 440.0) + 9.0;
        let hits = if note.hits == 1 { "once".to_owned() } else { format!("{} times", note.hits) };
        add(st, pitch_class(&note.pitch.note), format!("{} in the bass, {hits}", note.pitch.note));
    }
    for above_c in 0..12_u8 {
        add(f64::from(above_c), pitch_class(&pitch_name(60 + above_c)), String::new());
    }
    targets
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::edit::{AddVoices, Edit, NewHits, NewVoice, SetSource, apply};
    use lane_document::session::{AssetRef, Family, Hit, Hold, Layer};
    use lane_units::AssetId;
    use std::sync::Arc;

    fn session(kick_hz: f64, bass_hz: f64) -> (Session, AssetBank) {
        let (mut s, mut bank) = (Session::new("Tuned", 48_000), AssetBank::new());
        let pattern = s.patterns[0].id;
        for (name, hz, family, tunes) in
            [("Kick", kick_hz, Family::Low, &[0_i8][..]), ("Bass", bass_hz, Family::Bass, &[0, 0, 3])]
        {
            let sample = |n: usize| {
                let t = n as f64 / 48_000.0;
                (libm::sin(std::f64::consts::TAU * hz * t) * libm::exp(-t * 3.0)) as f32
            };
            let audio = Audio::new(1, (0..48_000).map(sample).collect()).unwrap();
            let id = AssetId(if name == "Kick" { "aa" } else { "bb" }.repeat(32));
            bank.insert(id.clone(), Arc::new(audio));
            let asset =
                AssetRef { id: id.clone(), name: name.into(), channels: 1, sample_rate: 48_000, frames: 48_000 };
            let hits = tunes.iter().enumerate().map(|(n, st)| Hit::new(960 * n as u32, 240, 100, *st)).collect();
            let voice = NewVoice {
                trim_db: 0.0,
                name: name.into(),
                family,
                source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole },
                output: None,
                hits: vec![NewHits { pattern, hits }],
            };
            apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
        }
        (s, bank)
    }

    #[test]
    fn the_kick_is_measured_tuned_and_measured_again() {
        let (mut s, bank) = session(50.0, 43.65);
        let ids: Vec<VoiceId> = s.voices.iter().map(|v| v.id).collect();
        assert_eq!(ids.len(), 2);
        let first = measure(&s, &bank, ids[0], Some(ids[1]));
        assert!((first.kick.as_ref().unwrap().hz - 50.0).abs() < 0.05);
        let notes: Vec<_> = first.bass.iter().map(|n| (n.pitch.note.as_str(), n.hits)).collect();
        assert_eq!(notes, [("F1", 2), ("G#1", 1)]);
        let target = &first.targets[0];
        assert_eq!(target.note, "F");
        assert!((target.down_ct - 1200.0 * libm::log2(43.65 / 50.0)).abs() < 2.0, "{target:?}");
        assert!((target.up_ct - target.down_ct - 1200.0).abs() < 1e-6);

        let VoiceSource::OneShot { layers, hold } = s.voices[0].source.clone() else { unreachable!() };
        let layers = vec![Layer { tune_ct: target.down_ct, ..layers[0].clone() }];
        let source = VoiceSource::OneShot { layers, hold };
        apply(&mut s, &Edit::SetSource(SetSource { voice: ids[0], source, assets: vec![] })).unwrap();
        let again = measure(&s, &bank, ids[0], Some(ids[1])).kick.unwrap();
        assert_eq!(again.note, "F1");
        assert!(again.cents.abs() < 2.0, "{}", again.cents);
    }

    #[test]
    fn the_key_comes_first() {
        let (mut s, bank) = session(50.0, 43.65);
        s.header.key = "Bb min".into();
        let tuning = measure(&s, &bank, s.voices[0].id, Some(s.voices[1].id));
        assert_eq!(tuning.targets[0].note, "A#");
        assert!(tuning.targets[0].reason.contains("Bb min"));
        let mut notes: Vec<&str> = tuning.targets.iter().map(|t| t.note.as_str()).collect();
        notes.sort_unstable();
        notes.dedup();
        assert_eq!((notes.len(), tuning.targets.len()), (12, 12));
    }
}
