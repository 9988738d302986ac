//! A session compiled for the engine: strips in order, gains, events on exact frames.

use super::player::Ringing;
use super::smooth::{Matrix, trim_gain};
use crate::routing;
use crate::session::{Feel, Session, Song, VoiceSource};
use crate::units::{AssetId, StripId, VoiceId, db_to_gain};

/// One hit on the time line of the song.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Event {
    /// Frames from bar 1.
    pub at: u64,
    /// Frames it is held.
    pub length: u64,
    /// Linear gain of the velocity.
    pub velocity: f64,
    /// Linear gain beside it.
    pub level: f64,
    /// Cents away from the layers' own tuning.
    pub tune_ct: f64,
    /// The one layer that sounds; all where not said.
    pub layer: Option<u8>,
}

/// One strip with its gains.
#[derive(Debug, Clone, PartialEq)]
pub struct StripPlan {
    pub id: StripId,
    /// Index of the strip that it feeds; always a later one.
    pub output: Option<usize>,
    pub trim: f64,
    pub post: Matrix,
}

/// One voice with its hits in the song.
#[derive(Debug, Clone, PartialEq)]
pub struct VoicePlan {
    pub id: VoiceId,
    /// Index of its channel.
    pub strip: usize,
    pub source: VoiceSource,
    /// In order of time.
    pub events: Vec<Event>,
    pub choke_set: Option<u8>,
    /// Frames at which another voice of its choke set is hit, in order.
    pub chokes: Vec<u64>,
    /// Where a recording starts, in frames from bar 1.
    pub recording_at: u64,
}

/// Everything that the engine needs of a document.
#[derive(Debug, Clone, PartialEq)]
pub struct Plan {
    /// In the order of computation; main is the last.
    pub strips: Vec<StripPlan>,
    pub voices: Vec<VoicePlan>,
}

impl Plan {
    /// Compiles a valid session. Strips on a loop, which no edit lets through, are left out.
    pub fn new(session: &Session) -> Self {
        let mut order = routing::order(session).unwrap_or_default();
        if let Some(main) = session.main() {
            order.retain(|id| *id != main.id);
            order.push(main.id);
        }
        let place = |id: StripId| order.iter().position(|o| *o == id);
        let heard = routing::heard(session);
        let law = session.header.pan_law;
        let strips = order
            .iter()
            .filter_map(|id| session.strip(*id))
            .map(|strip| StripPlan {
                id: strip.id,
                output: strip.output.and_then(place),
                trim: trim_gain(strip),
                post: Matrix::of(strip, law, heard.contains(&strip.id)),
            })
            .collect();
        let song = Song::new(session);
        let mut voices: Vec<VoicePlan> = session
            .voices
            .iter()
            .filter_map(|voice| {
                Some(VoicePlan {
                    id: voice.id,
                    strip: place(voice.channel)?,
                    source: voice.source.clone(),
                    events: events(session, &song, voice.id),
                    choke_set: voice.choke_set,
                    chokes: Vec::new(),
                    recording_at: match voice.source {
                        VoiceSource::Recording { start_frame, .. } => u64::from(start_frame),
                        _ => 0,
                    },
                })
            })
            .collect();
        plan_chokes(&mut voices);
        Plan { strips, voices }
    }
}

fn plan_chokes(voices: &mut [VoicePlan]) {
    for at in 0..voices.len() {
        if voices[at].choke_set.is_none() {
            continue;
        }
        let set = voices[at].choke_set;
        let others = voices.iter().enumerate().filter(|(n, v)| *n != at && v.choke_set == set);
        let mut chokes: Vec<u64> = others.flat_map(|(_, v)| v.events.iter().map(|e| e.at)).collect();
        chokes.sort_unstable();
        chokes.dedup();
        voices[at].chokes = chokes;
    }
}

impl Plan {
    /// The first frame at which everything begun before `until` has rung out. Recordings end with the range.
    pub fn rung_out(&self, session: &Session, from: u64, until: u64) -> u64 {
        let rate = session.header.sample_rate;
        let length = |id: &AssetId| session.asset(id).map_or(0, |a| u64::from(a.frames));
        let mut end = until;
        for voice in &self.voices {
            let VoiceSource::OneShot { layers, hold } = &voice.source else { continue };
            let ringing = Ringing::new(layers, *hold, rate, length);
            for event in voice.events.iter().filter(|e| (from..until).contains(&e.at)) {
                end = end.max(event.at + ringing.frames(event));
            }
        }
        end
    }
}

/// Hits of a voice on exact frames, in order of time.
fn events(session: &Session, song: &Song, voice: VoiceId) -> Vec<Event> {
    let mut events = Vec::new();
    song.sounds_of(session, voice, Feel::Played, |sound| {
        let at = song.frame_at(sound.at_ticks);
        events.push(Event {
            at,
            length: song.frame_at(sound.at_ticks + sound.length_ticks).saturating_sub(at),
            velocity: sound.velocity_gain(),
            level: db_to_gain(sound.level_db),
            tune_ct: 100.0 * f64::from(sound.tune_st) + sound.tune_ct,
            layer: sound.layer,
        });
    });
    events.sort_by(|a, b| a.at.cmp(&b.at).then(a.tune_ct.total_cmp(&b.tune_ct)));
    events
}
