//! A session compiled for the engine: strips in order, and what runs between them.
//!
//! Cost: linear in strips and connections, and in the chains; what voices play does not matter.

use crate::strips::connection::Source;
use crate::strips::matrix::{Matrix, trim_gain};
use crate::time::clock::{PlannedBy, Weighing};
use crate::time::score::{Grid, Score};
use crate::voices::player::Ringing;
use lane_document::routing::{Hearing, Latencies, Link, Means, links};
use lane_document::session::{Key, SendTap, Session, Shared, Strip, StripSend, VoiceSource};
use lane_dsp::SlotPlan;
use lane_units::{AssetId, IdMap, ProcessorId, StripId, VoiceId, db_to_gain};

/// One processor of a chain.
#[derive(Debug, Clone, PartialEq)]
pub struct SlotSetting {
    pub id: ProcessorId,
    pub plan: SlotPlan,
    /// High-pass and low-pass of its key in Hz, 0 for off; none where it listens to its own input.
    pub key_corners: Option<[f64; 2]>,
    /// How hits of its key are heard.
    pub weighing: Weighing,
    /// Where they matter, the indices of the strips whose voices plan the hits of its key; none where they are heard.
    pub planned: PlannedBy,
}

/// One strip with its gains.
#[derive(Debug, Clone, PartialEq)]
pub struct StripPlan {
    pub id: StripId,
    pub takes_voices: bool,
    pub trim: f64,
    pub slots: Vec<SlotSetting>,
    pub post: Matrix,
    /// Frames after a hit at which it is at the strip's input; voices wait as long.
    pub arrives: u32,
    /// Frames after a hit at which it leaves the chain.
    pub leaves: u32,
}

impl StripPlan {
    /// Frames by which its chain makes sound later.
    fn chain_latency(&self, sample_rate: u32) -> u32 {
        self.slots.iter().map(|s| s.plan.latency(sample_rate) as u32).sum()
    }
}

/// One connection from a strip to a later one.
#[derive(Debug, Clone, PartialEq)]
pub struct ConnectionPlan {
    pub link: Link,
    pub from: usize,
    pub to: usize,
    /// The processor whose key it feeds.
    pub slot: Option<usize>,
    pub source: Source,
    pub gain: Matrix,
    /// Frames that it waits for the latest of what arrives together.
    pub wait: usize,
}

/// One voice in its place.
#[derive(Debug, Clone, PartialEq)]
pub struct VoicePlan {
    pub id: VoiceId,
    /// Index of its channel.
    pub strip: usize,
    pub choke_set: Option<u8>,
}

/// What is connected to what, with its gains and values: everything that the engine needs of a document but what voices
/// play.
#[derive(Debug, Clone, PartialEq)]
pub struct Plan {
    /// In the order of computation; main is the last.
    pub strips: Vec<StripPlan>,
    /// By the strip they come from, in the order of computation.
    pub connections: Vec<ConnectionPlan>,
    /// In the order of the board.
    pub voices: Vec<VoicePlan>,
    /// In Hz.
    pub sample_rate: u32,
}

impl Plan {
    /// Compiles a valid session. Strips on a loop, which no edit lets through, are left out.
    pub fn new(session: &Session) -> Self {
        let latencies = Latencies::new(session);
        let mut order = latencies.order().to_vec();
        if let Some(main) = session.main() {
            order.retain(|id| *id != main.id);
            order.push(main.id);
        }
        let places: IdMap<StripId, usize> = order.iter().enumerate().map(|(at, id)| (*id, at)).collect();
        let place = |id: StripId| places.get(&id).copied();
        let by_id: IdMap<StripId, &Strip> = Shared::values(&session.strips).map(|s| (s.id, s)).collect();
        let hearing = Hearing::new(session);
        let law = session.header.pan_law;
        let strips: Vec<StripPlan> = order
            .iter()
            .filter_map(|id| by_id.get(id))
            .map(|strip| {
                let latency = latencies.of(strip.id);
                StripPlan {
                    id: strip.id,
                    takes_voices: strip.takes_voices(),
                    trim: trim_gain(strip),
                    slots: strip
                        .chain
                        .iter()
                        .map(|p| SlotSetting {
                            id: p.id,
                            plan: p.slot(&session.header),
                            key_corners: p.key.map(|k| [k.high_pass_hz, k.low_pass_hz]),
                            weighing: p.key.map_or(Weighing::WHOLE, Weighing::of),
                            planned: match p.settings.keeps_time() || p.key.is_some_and(Key::weighs_hits) {
                                true => {
                                    session.planned(p).into_iter().filter_map(|id| Some(place(id)? as u16)).collect()
                                }
                                false => PlannedBy::new(),
                            },
                        })
                        .collect(),
                    post: Matrix::of(strip, law, hearing.passes(strip.id)),
                    arrives: latency.arrives,
                    leaves: latency.leaves,
                }
            })
            .collect();
        let mut connections: Vec<ConnectionPlan> = links(session)
            .into_iter()
            .filter_map(|link| {
                let (from, to) = (place(link.from)?, place(link.to)?);
                let (source, target) = (by_id.get(&link.from)?, by_id.get(&link.to)?);
                let whole = |pass| if pass { Matrix::WHOLE } else { Matrix::NOTHING };
                let (tapped, slot, gain) = match link.means {
                    Means::Output => (Source::Out, None, whole(hearing.open(link.from, link.to))),
                    Means::Send => {
                        let send = source.send_to(link.to)?;
                        let pass = hearing.passes(link.from) && hearing.open(link.from, link.to);
                        let gain = if pass { Matrix::of_send(send, law) } else { Matrix::NOTHING };
                        (Source::AfterChain, None, gain.after(send_gain(source, send, law, pass)))
                    }
                    Means::Key(id) => {
                        let slot = target.chain.iter().position(|p| p.id == id)?;
                        let key = target.chain[slot].key?;
                        let level = Matrix::sides([db_to_gain(key.level_db); 2]);
                        (Source::AfterChain, Some(slot), level.after(tap_gain(source, key.tap, law, true)))
                    }
                };
                // Only a loop, which no edit lets through, could lead back.
                (from < to).then(|| ConnectionPlan {
                    link,
                    from,
                    to,
                    slot,
                    source: tapped,
                    gain,
                    wait: latencies.wait(&link) as usize,
                })
            })
            .collect();
        connections.sort_by_key(|c| c.from);
        let voice = |v: &lane_document::session::Voice| {
            Some(VoicePlan { id: v.id, strip: place(v.channel)?, choke_set: v.choke_set })
        };
        let voices = Shared::values(&session.voices).filter_map(voice).collect();
        Plan { strips, connections, voices, sample_rate: session.header.sample_rate }
    }

    /// Frames after a hit at which everything of it has arrived everywhere.
    pub fn latency(&self) -> u64 {
        self.strips.iter().map(|s| u64::from(s.leaves)).max().unwrap_or(0)
    }

    /// What reaches a strip and when: another answer means that its input changes at once.
    pub(crate) fn wiring(&self, at: usize) -> impl PartialEq {
        let links: Vec<_> =
            self.connections.iter().filter(|c| c.to == at && c.slot.is_none()).map(|c| (c.link, c.wait)).collect();
        let voices: Vec<_> = self.voices.iter().filter(|v| v.strip == at).map(|v| v.id).collect();
        let wait = if voices.is_empty() { 0 } else { self.strips[at].arrives };
        (links, voices, wait)
    }

    /// The longest that anything waits at a strip or behind it.
    pub(crate) fn longest_wait(&self, at: usize) -> usize {
        let links = self.connections.iter().filter(|c| c.from == at).map(|c| c.wait);
        links.chain([self.strips[at].arrives as usize]).max().unwrap_or(0)
    }

    /// Frames for which processors ring on at most, along the longest way to main.
    fn ringing(&self) -> u64 {
        let mut rings = vec![0_u64; self.strips.len()];
        for (at, strip) in self.strips.iter().enumerate() {
            // What is offset to be later ends as much later.
            rings[at] +=
                u64::from((strip.arrives + strip.chain_latency(self.sample_rate)).saturating_sub(strip.leaves));
            rings[at] += strip.slots.iter().map(|s| s.plan.tail(self.sample_rate) as u64).sum::<u64>();
            for connection in self.connections.iter().filter(|c| c.from == at) {
                rings[connection.to] = rings[connection.to].max(rings[at]);
            }
        }
        rings.last().copied().unwrap_or(0)
    }
}

/// From after the chain to where a send takes the sound.
fn send_gain(strip: &Strip, send: &StripSend, law: lane_document::session::PanLaw, passes: bool) -> Matrix {
    match send.tap {
        SendTap::PreFader if send.placed => Matrix::placed(strip, law, 1.0),
        tap => tap_gain(strip, tap, law, passes),
    }
}

/// From after the chain to where a key takes the sound.
fn tap_gain(strip: &Strip, tap: SendTap, law: lane_document::session::PanLaw, passes: bool) -> Matrix {
    match tap {
        SendTap::PreFader => Matrix::WHOLE,
        SendTap::PostFader => Matrix::of(strip, law, passes),
    }
}

impl Plan {
    /// The first frame at which everything begun before `until` has rung out, processors too. Recordings end
    /// with the range.
    pub fn rung_out(&self, session: &Session, from: u64, until: u64) -> u64 {
        let rate = session.header.sample_rate;
        let length = |id: &AssetId| session.asset(id).map_or(0, |a| u64::from(a.frames));
        let mut end = until;
        let grid = Grid::of(session);
        for voice in &session.voices {
            let VoiceSource::OneShot { layers, hold } = &voice.source else { continue };
            let ringing = Ringing::new(layers, *hold, rate, length);
            Score::of(session, voice).sounds_in(&grid, from, until, &mut |event| {
                end = end.max(event.at + ringing.frames(&event));
                true
            });
        }
        end + self.ringing()
    }
}
