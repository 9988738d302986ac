//! The document as sound: the same code live and offline, bit for bit the same for every block size.
//!
//! [`Engine::process`] allocates nothing, locks nothing and cannot panic on any input it accepted. All
//! building happens in [`Engine::new`] and [`Engine::update`].
//!
//! A session becomes a [`plan::Plan`] (strips in order, gains, events on exact frames); the engine runs it
//! block by block. A strip's stations are computed in signal order; every connection between strips, whether
//! output, send or key, is one entry that waits for the latest of what arrives with it.

mod connection;
mod layer;
mod matrix;
mod meter;
mod plan;
mod player;
mod sinc;
mod strip;

pub use meter::{METER_VALUES, SLOT_METER_VALUES, StationMeter};
pub use plan::{Event, Plan};

use crate::dsp::{Ramp, Seam};
use crate::session::{AssetBank, Session, Tap};
use crate::units::{Frame, ProcessorId, StripId, VoiceId, db_to_gain};
use connection::Connection;
use player::{Kernels, VoicePlayer};
use serde::{Deserialize, Serialize};
use sinc::SincTable;
use strip::StripState;

/// Where the song is played, in frames from bar 1.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LoopRange {
    pub from: u64,
    /// First frame that is not played any more.
    pub to: u64,
}

/// A point along a strip where its sound can be heard.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum Station {
    /// What comes in.
    Source,
    Trimmed,
    /// After a processor.
    Processor(ProcessorId),
    /// After the fader.
    Out,
}

/// What is passed by to compare how it sounds without.
#[derive(Debug, Clone, Default, PartialEq, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Bypass {
    /// Processors, each with the level in dB at which the sound goes past it.
    pub processors: Vec<(ProcessorId, f64)>,
    /// Level of main in dB.
    pub main_db: f64,
}

/// Whether levels are measured while rendering.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Metering {
    On,
    Off,
}

/// Whose meters stand where: a strip and its processors.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct MeterLayout {
    pub strip: StripId,
    pub processors: Vec<ProcessorId>,
}

/// Plays one session.
pub struct Engine {
    plan: Plan,
    strips: Vec<StripState>,
    connections: Vec<Connection>,
    scratch: Vec<Frame>,
    voices: Vec<VoicePlayer>,
    listening: Option<(StripId, ProcessorId)>,
    listen_seam: Seam,
    /// Processors that are passed by, with linear gains.
    bypass: Vec<(ProcessorId, f64)>,
    monitor: Ramp<1>,
    table: SincTable,
    kernels: Kernels,
    capacity: usize,
    metering: Metering,
    playing: bool,
    position: u64,
    looping: Option<LoopRange>,
    hits_until: u64,
}

impl Engine {
    /// An engine at the start of the song, stopped.
    ///
    /// * `max_block` – the largest number of frames computed in one piece, at least 1.
    ///
    /// Voices whose audio is not in the bank are silent.
    pub fn new(session: &Session, bank: &AssetBank, max_block: usize, metering: Metering) -> Self {
        let plan = Plan::new(session);
        let rate = session.header.sample_rate;
        let capacity = max_block.max(1);
        let strip = |(at, p)| StripState::new(p, plan.longest_wait(at), capacity, rate);
        let strips = plan.strips.iter().enumerate().map(strip).collect();
        let voices = plan.voices.iter().map(|v| VoicePlayer::new(v, bank, rate)).collect();
        let table = SincTable::new();
        let mut kernels = Kernels::default();
        kernels.prepare(&plan.voices, &table);
        Engine {
            connections: plan.connections.iter().map(Connection::new).collect(),
            scratch: vec![[0.0; 2]; capacity],
            plan,
            strips,
            voices,
            listening: None,
            listen_seam: Seam::new(rate),
            bypass: Vec::new(),
            monitor: Ramp::at([1.0]),
            table,
            kernels,
            capacity,
            metering,
            playing: false,
            position: 0,
            looping: None,
            hits_until: u64::MAX,
        }
    }

    /// Takes over another state of the document. What sounds goes on; gains move without a click.
    pub fn update(&mut self, session: &Session, bank: &AssetBank) {
        let plan = Plan::new(session);
        let rate = session.header.sample_rate;
        let mut old_strips = std::mem::take(&mut self.strips);
        self.strips = plan
            .strips
            .iter()
            .enumerate()
            .map(|(at, p)| match old_strips.iter().position(|s| s.id == p.id) {
                Some(found) => {
                    let mut state = old_strips.swap_remove(found);
                    let before = self.plan.strips.iter().position(|s| s.id == p.id);
                    let rerouted = before.is_none_or(|before| self.plan.wiring(before) != plan.wiring(at));
                    state.update(p, plan.longest_wait(at), rerouted, self.capacity, rate);
                    state
                }
                None => StripState::new(p, plan.longest_wait(at), self.capacity, rate),
            })
            .collect();
        let mut old_connections = std::mem::take(&mut self.connections);
        self.connections = plan
            .connections
            .iter()
            .map(|c| match old_connections.iter().position(|o| o.link == c.link) {
                Some(found) => {
                    let mut connection = old_connections.swap_remove(found);
                    connection.update(c, rate);
                    connection
                }
                None => Connection::new(c),
            })
            .collect();
        let mut old_voices = std::mem::take(&mut self.voices);
        self.voices = plan
            .voices
            .iter()
            .map(|v| match old_voices.iter().position(|o| o.id() == v.id) {
                Some(at) => old_voices.swap_remove(at).with_plan(v, bank, rate),
                None => VoicePlayer::new(v, bank, rate),
            })
            .collect();
        self.kernels.prepare(&plan.voices, &self.table);
        self.plan = plan;
        self.strips.iter_mut().for_each(|s| s.pass_by(&self.bypass));
    }

    /// Passes processors by, and no others, within 5 ms and without a gap. They work on unheard.
    pub fn pass_by(&mut self, bypass: &Bypass) {
        self.bypass = bypass.processors.iter().map(|(id, db)| (*id, db_to_gain(*db))).collect();
        self.strips.iter_mut().for_each(|s| s.pass_by(&self.bypass));
        self.monitor.go_to([db_to_gain(bypass.main_db)], self.plan.sample_rate);
    }

    pub fn play(&mut self) {
        self.playing = true;
    }

    /// Stops the song; what sounds fades within 5 ms.
    pub fn stop(&mut self) {
        self.playing = false;
        self.voices.iter_mut().for_each(VoicePlayer::release_all);
    }

    pub fn is_playing(&self) -> bool {
        self.playing
    }

    /// Frames from bar 1.
    pub fn position(&self) -> u64 {
        self.position
    }

    /// Jumps to a frame; what sounds fades within 5 ms.
    pub fn seek(&mut self, frame: u64) {
        self.position = frame;
        for voice in &mut self.voices {
            voice.release_all();
            voice.jump();
        }
    }

    /// Repeats a range; an empty one is ignored. A position behind its end goes on without repeating.
    pub fn set_loop(&mut self, range: Option<LoopRange>) {
        self.looping = range.filter(|r| r.to > r.from);
    }

    /// Hits at and after this frame are not played any more, while what sounds rings on.
    pub fn set_hits_until(&mut self, frame: u64) {
        self.hits_until = frame;
    }

    /// Plays one hit of a voice now, whether the song runs or not: all its layers or one, at a tuning that
    /// hits of the song have. The rest of its choke set ends.
    pub fn audition(&mut self, voice: VoiceId, velocity: f64, layer: Option<u8>, tune_st: i32) {
        let tune_ct = 100.0 * f64::from(tune_st);
        let hit = Event { at: 0, length: u64::MAX, velocity, level: 1.0, tune_ct, layer };
        let set = self.plan.voices.iter().find(|v| v.id == voice).and_then(|v| v.choke_set);
        for (player, plan) in self.voices.iter_mut().zip(&self.plan.voices) {
            if player.id() == voice {
                player.start(&hit, &self.kernels);
            } else if set.is_some() && plan.choke_set == set {
                player.choke();
            }
        }
    }

    /// What [`Engine::process`] gives: main, or what a processor's key hears.
    pub fn listen_to_key(&mut self, of: Option<(StripId, ProcessorId)>) {
        if self.listening != of {
            self.listening = of;
            self.listen_seam.arm();
        }
    }

    /// Renders the next frames of main, any number of them.
    pub fn process(&mut self, main: &mut [Frame]) {
        self.process_heard(main, &mut |_, _, _| ());
    }

    /// The same; `hear` gets what sounds at every station, in pieces.
    pub fn process_heard(&mut self, main: &mut [Frame], hear: &mut impl FnMut(StripId, Station, &[Frame])) {
        let mut done = 0;
        while done < main.len() {
            let frames = self.process_piece_heard(main.len() - done, hear);
            let piece = &mut main[done..done + frames];
            let key = self.listening.and_then(|(strip, processor)| {
                let strip = self.strips.iter().find(|s| s.id == strip)?;
                strip.slots.iter().find(|s| s.id == processor)
            });
            match (key, self.strips.last()) {
                (Some(slot), _) => piece.copy_from_slice(&slot.key[..frames]),
                (None, Some(last)) => piece.copy_from_slice(&last.out[..frames]),
                (None, None) => piece.fill([0.0; 2]),
            }
            self.monitor.run_on(piece, |[gain], [l, r]| [l * gain, r * gain]);
            self.listen_seam.run(piece);
            done += frames;
        }
    }

    /// Renders at most `frames` frames in one piece and says how many; then [`Engine::tap`] has them.
    pub fn process_piece(&mut self, frames: usize) -> usize {
        self.process_piece_heard(frames, &mut |_, _, _| ())
    }

    fn process_piece_heard(&mut self, frames: usize, hear: &mut impl FnMut(StripId, Station, &[Frame])) -> usize {
        let mut count = frames.min(self.capacity);
        if self.playing
            && let Some(range) = self.looping
        {
            if self.position == range.to {
                self.jump_back(range.from);
            }
            if self.position < range.to {
                count = count.min((range.to - self.position) as usize);
            }
        }
        self.render(count, hear);
        if self.playing {
            self.position += count as u64;
        }
        count
    }

    fn jump_back(&mut self, to: u64) {
        self.position = to;
        self.voices.iter_mut().for_each(VoicePlayer::jump);
    }

    fn render(&mut self, count: usize, hear: &mut impl FnMut(StripId, Station, &[Frame])) {
        self.strips.iter_mut().for_each(|s| s.clear(count));
        let span = self.playing.then_some((self.position, self.hits_until));
        for (voice, plan) in self.voices.iter_mut().zip(&self.plan.voices) {
            if let Some(strip) = self.strips.get_mut(plan.strip) {
                voice.render(plan, span, &mut strip.input[..count], &self.kernels);
            }
        }
        for (strip, plan) in self.strips.iter_mut().zip(&self.plan.strips).filter(|(_, plan)| plan.takes_voices) {
            strip.delay_voices(count, plan.arrives as usize);
        }
        let mut connections = self.connections.iter_mut().zip(&self.plan.connections).peekable();
        for at in 0..self.strips.len() {
            let (before, after) = self.strips.split_at_mut(at + 1);
            let strip = &mut before[at];
            let id = strip.id;
            strip.run(count, self.metering, &mut |station, frames| hear(id, station, frames));
            // Strips stand in order, so what a strip feeds comes behind it.
            while let Some((connection, plan)) = connections.next_if(|(_, plan)| plan.from == at) {
                connection.run(plan, strip, &mut after[plan.to - at - 1], count, &mut self.scratch);
            }
        }
    }

    /// What the last piece sounded like at a tap of a strip; `None` for a strip that is not in the session.
    pub fn tap(&self, strip: StripId, tap: Tap, frames: usize) -> Option<&[Frame]> {
        let state = self.strips.iter().find(|s| s.id == strip)?;
        let buffer = match tap {
            Tap::Dry => &state.dry,
            Tap::Channel => &state.out,
        };
        buffer.get(..frames)
    }

    /// Frames after a hit at which it is at a tap of a strip.
    pub fn tap_latency(&self, strip: StripId, tap: Tap) -> u64 {
        let plan = self.plan.strips.iter().find(|s| s.id == strip);
        plan.map_or(0, |s| u64::from(if tap == Tap::Dry { s.arrives } else { s.leaves }))
    }

    /// Frames after a hit at which it has arrived everywhere.
    pub fn latency(&self) -> u64 {
        self.plan.latency()
    }

    /// Strips and processors in the order in which [`Engine::read_meters`] writes them.
    pub fn meter_layout(&self) -> Vec<MeterLayout> {
        let of = |s: &StripState| MeterLayout { strip: s.id, processors: s.slots.iter().map(|p| p.id).collect() };
        self.strips.iter().map(of).collect()
    }

    /// Values that [`Engine::read_meters`] writes.
    pub fn meter_values(&self) -> usize {
        self.strips.iter().map(StripState::meter_values).sum()
    }

    /// Writes [`METER_VALUES`] values a strip and [`SLOT_METER_VALUES`] for each of its processors, and starts
    /// peaks anew. `out` may be shorter.
    pub fn read_meters(&mut self, out: &mut [f32]) {
        let mut rest = out;
        for strip in &mut self.strips {
            let Some((values, after)) = rest.split_at_mut_checked(strip.meter_values()) else { return };
            strip.read_meters(values);
            rest = after;
        }
    }

    /// The first strip in which a processor gave something that is not a number since the last call; its chain
    /// was started afresh.
    pub fn take_fault(&mut self) -> Option<StripId> {
        let strip = self.strips.iter_mut().find(|s| s.faults > 0)?;
        strip.faults = 0;
        Some(strip.id)
    }
}

#[cfg(test)]
mod tests;
