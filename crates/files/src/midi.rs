//! Standard MIDI Files as takes, and a session's hits as a file. Source: Standard MIDI Files 1.0.

use crate::FileError;
use lane_document::midi::percussion_key;
use lane_document::session::limits;
use lane_document::session::{Family, Feel, Metre, Note, Session, Song, Take, Tempo, Voice};
use lane_units::{Sentence, StripName, TICKS_PER_QUARTER, Title};
use midly::num::{u4, u7, u15, u24, u28};
use midly::{Format, Header, MetaMessage, MidiMessage, Smf, Timing, TrackEvent, TrackEventKind};
use std::collections::{HashMap, VecDeque};
use std::panic::catch_unwind;

/// Notes of a file at most; more than any song has.
const NOTES: usize = 200_000;
/// Characters kept of a track's name.
const NAME_CHARS: usize = 80;
/// The percussion channel of General MIDI, counted from 0.
const PERCUSSION: u8 = 9;
const MIDDLE_C: u8 = 60;
/// What a file without a tempo is played at (Standard MIDI Files 1.0).
const USUAL_TEMPO: f64 = 120.0;
/// Length of a note that never ends, in ticks.
const OPEN_NOTE_TICKS: u32 = TICKS_PER_QUARTER;

/// Whether the first bytes of a file say MIDI.
pub fn is_midi(first: &[u8]) -> bool {
    first.starts_with(b"MThd")
}

/// Reads a file.
///
/// # Errors
/// [`FileError`] where it is damaged or has no notes.
pub fn read_take(name: &str, bytes: &[u8]) -> Result<Take, FileError> {
    let damaged = |what: &str| FileError::Damaged(what.into());
    if !is_midi(bytes) || bytes.len() < 14 {
        return Err(damaged("its MIDI header is cut off"));
    }
    let division = u16::from_be_bytes([bytes[12], bytes[13]]);
    let base = TimeBase::of(division)?;
    // The crate cannot take frame-based time bases, and here only ticks a quarter are needed: the division
    // is read above and a harmless one put in its place.
    let mut plain = bytes.to_vec();
    plain[12..14].copy_from_slice(&480_u16.to_be_bytes());
    let longer = lengthened(&mut plain);
    let read = catch_unwind(|| collect(name, &plain, base, longer));
    read.unwrap_or_else(|_| Err(damaged("its events contradict each other")))
}

/// What a file counts time in.
#[derive(Debug, Clone, Copy, PartialEq)]
enum TimeBase {
    /// Ticks in a quarter note.
    Quarter(f64),
    /// Ticks in a second, by frames of film or video.
    Second(f64),
}

impl TimeBase {
    fn of(division: u16) -> Result<Self, FileError> {
        if division == 0 {
            return Err(FileError::Damaged("its time base is zero".into()));
        }
        if division & 0x8000 == 0 {
            return Ok(TimeBase::Quarter(f64::from(division)));
        }
        let ticks = f64::from(division & 0xFF);
        let frames = match (division >> 8) as i8 {
            -24 => 24.0,
            -25 => 25.0,
            -29 => 30_000.0 / 1001.0,
            -30 => 30.0,
            other => {
                let frames = -i16::from(other);
                let what = format!("its time base of {frames} frames a second is none; 24, 25, 29 and 30 are");
                return Err(FileError::Damaged(what));
            }
        };
        if ticks == 0.0 {
            return Err(FileError::Damaged("its time base has no ticks in a frame".into()));
        }
        Ok(TimeBase::Second(frames * ticks))
    }

    /// Ticks of the file in a quarter note; at 120 bpm where it counts seconds.
    fn ticks_per_quarter(self) -> f64 {
        match self {
            TimeBase::Quarter(ticks) => ticks,
            TimeBase::Second(ticks) => ticks * 60.0 / USUAL_TEMPO,
        }
    }
}

#[derive(Default)]
struct Collected {
    notes: Vec<Note>,
    tracks: Vec<String>,
    tempo_bpm: Option<f64>,
    metre: Option<Metre>,
    tempo_changes: usize,
    /// Notes beyond what a take may have.
    dropped: usize,
    /// Whether the file counts seconds, so that its tempo says nothing of where notes lie.
    by_frames: bool,
    cut: bool,
    /// Whether an event could not be read.
    broken: bool,
    remarks: Vec<String>,
}

/// Has tracks that are longer than they say reach up to the next, or to the end; gives their numbers, from 1.
fn lengthened(bytes: &mut [u8]) -> Vec<usize> {
    let mut longer = Vec::new();
    let mut at = 8 + long(bytes, 4);
    let mut track = 0;
    while bytes.get(at..at + 4) == Some(b"MTrk".as_slice()) && at + 8 <= bytes.len() {
        track += 1;
        let end = at + 8 + long(bytes, at + 4);
        // A track that has its end may have anything behind it; so may what is no track, by a name of letters.
        let ended = end >= at + 11 && bytes.get(end - 3..end) == Some(&[0xFF, 0x2F, 0][..]);
        let followed = ended || bytes.get(end..end + 4).is_some_and(|name| name.iter().all(u8::is_ascii_alphabetic));
        if end < bytes.len() && !followed {
            let begin = at + 8;
            let next = bytes[begin..].windows(4).position(|w| w == b"MTrk").map_or(bytes.len(), |by| begin + by);
            if next > end {
                bytes[at + 4..at + 8].copy_from_slice(&((next - begin) as u32).to_be_bytes());
                longer.push(track);
            }
            at = next;
        } else {
            at = end;
        }
    }
    longer
}

/// A number of four bytes; 0 behind the end.
fn long(bytes: &[u8], at: usize) -> usize {
    bytes.get(at..at + 4).map_or(0, |b| u32::from_be_bytes([b[0], b[1], b[2], b[3]]) as usize)
}

fn collect(name: &str, bytes: &[u8], base: TimeBase, longer: Vec<usize>) -> Result<Take, FileError> {
    let unread = |_| FileError::Damaged("its MIDI header makes no sense".into());
    let (header, tracks) = midly::parse(bytes).map_err(unread)?;
    let said = u16::from_be_bytes([bytes[10], bytes[11]]);
    let scale = f64::from(TICKS_PER_QUARTER) / base.ticks_per_quarter();
    let mut got = Collected { by_frames: matches!(base, TimeBase::Second(_)), ..Collected::default() };
    for track in longer {
        got.remarks.push(format!("Track {track} is longer than the file says; it was read to its end."));
    }
    for (at, track) in tracks.enumerate() {
        let Ok(mut events) = track else {
            got.remarks.push(format!("The file is cut off in track {}; what follows is left out.", at + 1));
            got.cut = true;
            break;
        };
        let mut ticks: u64 = 0;
        got.tracks.push(String::new());
        let mut open: HashMap<(u8, u8), VecDeque<usize>> = HashMap::new();
        loop {
            let unread = events.unread().len();
            match events.next() {
                Some(Ok(event)) => {
                    ticks += u64::from(event.delta.as_int());
                    let now = (ticks as f64 * scale).round().min(f64::from(u32::MAX / 2)) as u32;
                    got.take(event.kind, now, &mut open);
                }
                Some(Err(_)) | None => {
                    if unread > 0 {
                        got.remarks
                            .push(format!("Track {} has a broken event; what follows in it is left out.", at + 1));
                        got.broken = true;
                    }
                    break;
                }
            }
        }
        for index in open.into_values().flatten() {
            got.notes[index].length_ticks = OPEN_NOTE_TICKS;
        }
    }
    let tracks = got.tracks.len();
    if !got.cut && tracks < usize::from(said) {
        got.remarks.push(format!("The file is cut off: it says {said} tracks, and {tracks} are there."));
        got.cut = true;
    }
    if header.format == Format::Sequential && tracks > 1 {
        got.remarks.push(format!(
            "Its {tracks} tracks are pieces one after the other (format 2); here they begin together. Split the take to keep one of them."
        ));
    }
    got.finish(name)
}

impl Collected {
    fn take(&mut self, kind: TrackEventKind, now: u32, open: &mut HashMap<(u8, u8), VecDeque<usize>>) {
        match kind {
            TrackEventKind::Midi { channel, message } => {
                let channel = channel.as_int();
                match message {
                    MidiMessage::NoteOn { vel, .. } if vel.as_int() > 0 && self.notes.len() >= NOTES => {
                        self.dropped += 1
                    }
                    MidiMessage::NoteOn { key, vel } if vel.as_int() > 0 => {
                        open.entry((channel, key.as_int())).or_default().push_back(self.notes.len());
                        let (key, velocity) = (key.as_int(), vel.as_int());
                        let track = self.tracks.len().saturating_sub(1).min(usize::from(u16::MAX)) as u16;
                        self.notes.push(Note {
                            track,
                            channel,
                            key,
                            velocity,
                            at_ticks: now,
                            length_ticks: OPEN_NOTE_TICKS,
                        });
                    }
                    MidiMessage::NoteOff { key, .. } | MidiMessage::NoteOn { key, .. } => {
                        // The one that began first; there may be as many as a file has notes.
                        let ended = open.get_mut(&(channel, key.as_int())).and_then(VecDeque::pop_front);
                        if let Some(index) = ended {
                            let note = &mut self.notes[index];
                            note.length_ticks = (now - note.at_ticks).max(1);
                        }
                    }
                    _ => {}
                }
            }
            TrackEventKind::Meta(MetaMessage::Tempo(us)) if us.as_int() > 0 => {
                let bpm = 60_000_000.0 / f64::from(us.as_int());
                let usable = (20.0..=400.0).contains(&bpm);
                match self.tempo_bpm {
                    None if usable => self.tempo_bpm = Some((bpm * 1000.0).round() / 1000.0),
                    None => {
                        self.remarks.push(format!("The tempo of {bpm:.1} bpm is outside 20 to 400 and was left out."))
                    }
                    Some(_) => self.tempo_changes += 1,
                }
            }
            TrackEventKind::Meta(MetaMessage::TrackName(name)) => {
                if let Some(track) = self.tracks.last_mut().filter(|t| t.is_empty()) {
                    *track = String::from_utf8_lossy(name).trim().chars().take(NAME_CHARS).collect();
                }
            }
            TrackEventKind::Meta(MetaMessage::TimeSignature(beats, power, _, _)) if self.metre.is_none() => {
                let (beats, unit) = (u32::from(beats), 1_u32.checked_shl(u32::from(power)).unwrap_or(0));
                // A whole note is four quarters; the bar stays as long.
                let whole = if unit == 1 { Metre::new(beats * 4, 4) } else { Metre::new(beats, unit) };
                match whole {
                    Ok(metre) => {
                        self.metre = Some(metre);
                        if unit == 1 {
                            self.remarks.push(format!("The metre {beats}/1 was taken as {}/4.", beats * 4));
                        }
                    }
                    Err(_) => self.remarks.push(format!("The metre {beats}/{unit} cannot be used and was left out.")),
                }
            }
            _ => {}
        }
    }

    fn finish(mut self, name: &str) -> Result<Take, FileError> {
        let bar = self.metre.unwrap_or(Metre::COMMON).bar_ticks();
        let tempo = self.tempo_bpm.unwrap_or(USUAL_TEMPO);
        // A song ends with a whole bar.
        let longest = (f64::from(limits::SONG_SECONDS) / 60.0 * tempo * f64::from(TICKS_PER_QUARTER)) as u32;
        let end = longest / bar * bar;
        let before = self.notes.len();
        self.notes.retain(|n| n.at_ticks < end);
        if self.notes.len() < before {
            self.remarks.push(format!(
                "{} notes behind the first {} minutes were left out.",
                before - self.notes.len(),
                limits::SONG_SECONDS / 60
            ));
        }
        if self.dropped > 0 {
            self.remarks.push(format!("{} notes were left out; a take has {NOTES} at most.", self.dropped));
        }
        if self.by_frames {
            self.tempo_bpm = Some(USUAL_TEMPO);
            self.remarks.push(format!(
                "It counts time in frames, not in beats; notes lie where they were at {USUAL_TEMPO} bpm."
            ));
        }
        if self.notes.is_empty() {
            let how = if self.cut { "cut off" } else { "broken" };
            let damaged = FileError::Damaged(format!("it is {how} before its first note; export it again"));
            return Err(if self.cut || self.broken { damaged } else { FileError::NoNotes });
        }
        if self.tempo_changes > 0 {
            self.remarks.push("The tempo changes within the file; its first tempo counts.".into());
        }
        self.notes.sort_by_key(|n| (n.at_ticks, n.track, n.channel, n.key));
        Ok(Take {
            name: Title::cleaned(&crate::names::voice_name(name), "Take"),
            tracks: self.tracks.iter().map(|t| StripName::cleaned(t, "")).collect(),
            notes: self.notes,
            tempo_bpm: self.tempo_bpm.and_then(|bpm| Tempo::new(bpm).ok()),
            metre: self.metre,
            remarks: self.remarks.iter().map(|r| Sentence::cleaned(r, "")).collect(),
        })
    }
}

/// The song's hits as a MIDI file, one track a voice, as written: with shifts and repeats, without swing and
/// humanising, which belong to the session.
pub fn write_song(session: &Session) -> Vec<u8> {
    let song = Song::new(session);
    let header = &session.header;
    let us = (60_000_000.0 / header.tempo_bpm.bpm()).round().clamp(1.0, 16_777_215.0) as u32;
    let metre =
        MetaMessage::TimeSignature(header.metre.beats() as u8, header.metre.unit().trailing_zeros() as u8, 24, 8);
    let meta = |m| TrackEvent { delta: u28::new(0), kind: TrackEventKind::Meta(m) };
    let mut tracks = vec![vec![
        meta(MetaMessage::TrackName(header.title.as_bytes())),
        meta(MetaMessage::Tempo(u24::new(us))),
        meta(metre),
        meta(MetaMessage::EndOfTrack),
    ]];
    for voice in &session.voices {
        let notes = written_notes(session, &song, voice);
        let mut events: Vec<(u32, u8, u8, u8)> = Vec::new();
        for n in &notes {
            events.push((n.at_ticks, n.channel, n.key, n.velocity));
            events.push((n.at_ticks + n.length_ticks, n.channel, n.key, 0));
        }
        // Ends before beginnings at the same tick.
        events.sort_by_key(|(at, _, _, velocity)| (*at, *velocity));
        let mut now = 0;
        let mut track = vec![meta(MetaMessage::TrackName(voice.name.as_bytes()))];
        for (at, channel, key, velocity) in events {
            let (key, vel) = (u7::new(key), u7::new(velocity));
            let message =
                if velocity > 0 { MidiMessage::NoteOn { key, vel } } else { MidiMessage::NoteOff { key, vel } };
            let kind = TrackEventKind::Midi { channel: u4::new(channel), message };
            track.push(TrackEvent { delta: u28::new(at - now), kind });
            now = at;
        }
        track.push(meta(MetaMessage::EndOfTrack));
        tracks.push(track);
    }
    let timing = Timing::Metrical(u15::new(TICKS_PER_QUARTER as u16));
    let mut bytes = Vec::new();
    Smf { header: Header::new(Format::Parallel, timing), tracks }
        .write_std(&mut bytes)
        .expect("writing to memory cannot fail");
    bytes
}

/// What a voice plays, as notes: sounds of a kit on channel 10 with their General MIDI key, everything with
/// pitch on channel 1 around middle C. A note ends where the next of its key begins.
fn written_notes(session: &Session, song: &Song, voice: &Voice) -> Vec<Note> {
    let mut sounds = Vec::new();
    song.sounds_of(session, voice.id, Feel::Written, |sound| sounds.push(sound));
    let pitched = matches!(voice.family, Family::Bass | Family::Music) || sounds.iter().any(|s| s.tune_st != 0);
    let drum = percussion_key(&voice.name).unwrap_or(MIDDLE_C);
    let mut notes: Vec<Note> = sounds
        .iter()
        .map(|s| Note {
            track: 0,
            channel: if pitched { 0 } else { PERCUSSION },
            key: if pitched { (i16::from(MIDDLE_C) + i16::from(s.tune_st)).clamp(0, 127) as u8 } else { drum },
            velocity: s.velocity,
            at_ticks: s.at_ticks.round() as u32,
            length_ticks: (s.length_ticks.round() as u32).max(1),
        })
        .collect();
    notes.sort_by_key(|n| (n.key, n.at_ticks));
    for at in 1..notes.len() {
        let next = notes[at];
        let note = &mut notes[at - 1];
        if note.key == next.key && next.at_ticks > note.at_ticks {
            note.length_ticks = note.length_ticks.min(next.at_ticks - note.at_ticks);
        }
    }
    notes
}
