//! Standard MIDI Files as takes, and a session's hits as a file. Source: Standard MIDI Files 1.0.

use crate::FileError;
use lane_core::midi::{Note, Take};
use lane_core::session::{Family, Metre, Session, Song};
use lane_core::units::TICKS_PER_QUARTER;
use midly::num::{u4, u7, u15, u24, u28};
use midly::{Format, Header, MetaMessage, MidiMessage, Smf, Timing, TrackEvent, TrackEventKind};
use std::collections::HashMap;
use std::panic::catch_unwind;

/// Notes of a file at most; more than any song has.
const NOTES: usize = 200_000;
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
    if division == 0 {
        return Err(damaged("its time base is zero"));
    }
    // The crate cannot take frame-based time bases, and here only ticks a quarter are needed: the division
    // is read above and a harmless one put in its place.
    let mut plain = bytes.to_vec();
    plain[12..14].copy_from_slice(&480_u16.to_be_bytes());
    let read = catch_unwind(|| collect(name, &plain, ticks_per_quarter(division)));
    read.unwrap_or_else(|_| Err(damaged("its events contradict each other")))
}

/// Ticks of the file in a quarter note. A frame-based division counts ticks a second; it is taken at 120 bpm.
fn ticks_per_quarter(division: u16) -> f64 {
    if division & 0x8000 == 0 {
        return f64::from(division);
    }
    let frames = match (division >> 8) as i8 {
        -29 => 30_000.0 / 1001.0,
        frames => -f64::from(frames),
    };
    let ticks = frames * f64::from(division & 0xFF);
    if ticks > 0.0 { ticks / 2.0 } else { 480.0 }
}

#[derive(Default)]
struct Collected {
    notes: Vec<Note>,
    tempo_bpm: Option<f64>,
    metre: Option<Metre>,
    tempo_changes: usize,
    remarks: Vec<String>,
}

fn collect(name: &str, bytes: &[u8], per_quarter: f64) -> Result<Take, FileError> {
    let (_, tracks) = midly::parse(bytes).map_err(|e| FileError::Damaged(e.to_string()))?;
    let scale = f64::from(TICKS_PER_QUARTER) / per_quarter;
    let mut got = Collected::default();
    for (at, track) in tracks.enumerate() {
        let Ok(mut events) = track else {
            got.remarks.push(format!("Track {} is cut off; what follows is left out.", at + 1));
            break;
        };
        let mut ticks: u64 = 0;
        let mut open: HashMap<(u8, u8), Vec<usize>> = HashMap::new();
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
                    }
                    break;
                }
            }
        }
        for index in open.into_values().flatten() {
            got.notes[index].length_ticks = OPEN_NOTE_TICKS;
        }
    }
    got.finish(name)
}

impl Collected {
    fn take(&mut self, kind: TrackEventKind, now: u32, open: &mut HashMap<(u8, u8), Vec<usize>>) {
        match kind {
            TrackEventKind::Midi { channel, message } => {
                let channel = channel.as_int();
                match message {
                    MidiMessage::NoteOn { key, vel } if vel.as_int() > 0 && self.notes.len() < NOTES => {
                        open.entry((channel, key.as_int())).or_default().push(self.notes.len());
                        let (key, velocity) = (key.as_int(), vel.as_int());
                        self.notes.push(Note { channel, key, velocity, at_ticks: now, length_ticks: OPEN_NOTE_TICKS });
                    }
                    MidiMessage::NoteOff { key, .. } | MidiMessage::NoteOn { key, .. } => {
                        let ended =
                            open.get_mut(&(channel, key.as_int())).filter(|o| !o.is_empty()).map(|o| o.remove(0));
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
            TrackEventKind::Meta(MetaMessage::TimeSignature(beats, power, _, _)) if self.metre.is_none() => {
                let (beats, unit) = (u32::from(beats), 1_u32.checked_shl(u32::from(power)).unwrap_or(0));
                if (1..=32).contains(&beats) && [2, 4, 8, 16].contains(&unit) {
                    self.metre = Some(Metre { beats, unit });
                }
            }
            _ => {}
        }
    }

    fn finish(mut self, name: &str) -> Result<Take, FileError> {
        let bar = self.metre.unwrap_or(Metre { beats: 4, unit: 4 }).bar_ticks();
        let end = u64::from(bar) * u64::from(lane_core::session::limits::BARS);
        let before = self.notes.len();
        self.notes.retain(|n| u64::from(n.at_ticks) < end);
        if self.notes.len() < before {
            self.remarks.push(format!(
                "{} notes behind bar {} were left out.",
                before - self.notes.len(),
                lane_core::session::limits::BARS
            ));
        }
        if self.notes.is_empty() {
            return Err(FileError::NoNotes);
        }
        if self.tempo_changes > 0 {
            self.remarks.push("The tempo changes within the file; its first tempo counts.".into());
        }
        self.notes.sort_by_key(|n| (n.at_ticks, n.channel, n.key));
        Ok(Take {
            name: crate::names::voice_name(name),
            notes: self.notes,
            tempo_bpm: self.tempo_bpm,
            metre: self.metre,
            remarks: self.remarks,
        })
    }
}

/// The song's hits as a MIDI file, one track a voice. Percussive voices use channel 10.
pub fn write_song(session: &Session) -> Vec<u8> {
    let song = Song::new(session);
    let header = &session.header;
    let us = (60_000_000.0 / header.tempo_bpm).round().clamp(1.0, 16_777_215.0) as u32;
    let metre = MetaMessage::TimeSignature(header.metre.beats as u8, header.metre.unit.trailing_zeros() as u8, 24, 8);
    let meta = |m| TrackEvent { delta: u28::new(0), kind: TrackEventKind::Meta(m) };
    let mut tracks = vec![vec![
        meta(MetaMessage::TrackName(header.title.as_bytes())),
        meta(MetaMessage::Tempo(u24::new(us))),
        meta(metre),
        meta(MetaMessage::EndOfTrack),
    ]];
    for voice in &session.voices {
        let melodic = matches!(voice.family, Family::Bass | Family::Music);
        let mut events: Vec<(u64, u8, u8)> = Vec::new();
        song.hits_of(session, voice.id, |at, hit| {
            let key = (60 + i16::from(hit.tune_st)).clamp(0, 127) as u8;
            events.push((at, key, hit.velocity));
            events.push((at + u64::from(hit.length_ticks), key, 0));
        });
        // Ends before beginnings at the same tick.
        events.sort_by_key(|(at, _, velocity)| (*at, *velocity));
        let mut now = 0;
        let mut track = vec![meta(MetaMessage::TrackName(voice.name.as_bytes()))];
        for (at, key, velocity) in events {
            let (key, vel) = (u7::new(key), u7::new(velocity));
            let message =
                if velocity > 0 { MidiMessage::NoteOn { key, vel } } else { MidiMessage::NoteOff { key, vel } };
            let kind = TrackEventKind::Midi { channel: u4::new(if melodic { 0 } else { 9 }), message };
            track.push(TrackEvent { delta: u28::new((at - now) as u32), kind });
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
