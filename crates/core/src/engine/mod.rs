//! The document as sound: the same code live and offline, bit for bit the same for every block size.
//!
//! [`Engine::process`] allocates nothing, locks nothing and cannot panic on any input it accepted. All
//! building happens in [`Engine::new`] and [`Engine::update`].
//!
//! A session becomes a [`plan::Plan`] (strips in order, gains, events on exact frames); the engine runs it
//! block by block. Chains of processors, returns, keys and delay compensation take their place in the plan:
//! a strip's stations are computed in signal order, and every connection between strips is one entry.

mod layer;
mod meter;
mod plan;
mod player;
mod sinc;
mod smooth;

pub use meter::{METER_VALUES, StationMeter};
pub use plan::{Event, Plan};

use crate::session::{AssetBank, Session, Tap};
use crate::units::{Frame, StripId, VoiceId};
use meter::Meter;
use plan::StripPlan;
use player::{Kernels, VoicePlayer};
use sinc::SincTable;
use smooth::{Matrix, Ramp};

/// What one strip remembers from block to block.
struct StripState {
    id: StripId,
    input: Vec<Frame>,
    dry: Vec<Frame>,
    out: Vec<Frame>,
    trim: Ramp<1>,
    post: Ramp<4>,
    meter: Meter,
}

impl StripState {
    fn new(plan: &StripPlan, capacity: usize, sample_rate: u32) -> Self {
        StripState {
            id: plan.id,
            input: vec![[0.0; 2]; capacity],
            dry: vec![[0.0; 2]; capacity],
            out: vec![[0.0; 2]; capacity],
            trim: Ramp::at([plan.trim]),
            post: Ramp::at(plan.post.0),
            meter: Meter::new(sample_rate),
        }
    }
}

/// Where the song is played, in frames from bar 1.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LoopRange {
    pub from: u64,
    /// First frame that is not played any more.
    pub to: u64,
}

/// Whether levels are measured while rendering.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Metering {
    On,
    Off,
}

/// Plays one session.
pub struct Engine {
    plan: Plan,
    strips: Vec<StripState>,
    voices: Vec<VoicePlayer>,
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
        let strips = plan.strips.iter().map(|p| StripState::new(p, capacity, rate)).collect();
        let voices = plan.voices.iter().map(|v| VoicePlayer::new(v, bank, rate)).collect();
        let table = SincTable::new();
        let mut kernels = Kernels::default();
        kernels.prepare(&plan.voices, &table);
        Engine {
            plan,
            strips,
            voices,
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
            .map(|p| match old_strips.iter().position(|s| s.id == p.id) {
                Some(at) => {
                    let mut state = old_strips.swap_remove(at);
                    state.trim.go_to([p.trim], rate);
                    state.post.go_to(p.post.0, rate);
                    state
                }
                None => StripState::new(p, self.capacity, rate),
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

    /// Renders the next frames of main, any number of them.
    pub fn process(&mut self, main: &mut [Frame]) {
        let mut done = 0;
        while done < main.len() {
            let frames = self.process_piece(main.len() - done);
            let out = self.strips.last().map(|s| &s.out[..frames]);
            if let Some(out) = out {
                main[done..done + frames].copy_from_slice(out);
            }
            done += frames;
        }
    }

    /// Renders at most `frames` frames in one piece and says how many; then [`Engine::tap`] has them.
    pub fn process_piece(&mut self, frames: usize) -> usize {
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
        self.render(count);
        if self.playing {
            self.position += count as u64;
        }
        count
    }

    fn jump_back(&mut self, to: u64) {
        self.position = to;
        self.voices.iter_mut().for_each(VoicePlayer::jump);
    }

    fn render(&mut self, count: usize) {
        for strip in &mut self.strips {
            strip.input[..count].fill([0.0; 2]);
        }
        let span = self.playing.then_some((self.position, self.hits_until));
        for (voice, plan) in self.voices.iter_mut().zip(&self.plan.voices) {
            if let Some(strip) = self.strips.get_mut(plan.strip) {
                voice.render(plan, span, &mut strip.input[..count], &self.kernels);
            }
        }
        for at in 0..self.strips.len() {
            let (before, after) = self.strips.split_at_mut(at + 1);
            let strip = &mut before[at];
            run_strip(strip, count, self.metering);
            let output = self.plan.strips[at].output;
            // Strips stand in order, so what a strip feeds comes behind it.
            if let Some(target) = output.and_then(|o| after.get_mut(o - at - 1)) {
                add(&mut target.input[..count], &strip.out[..count]);
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

    /// Strips in the order in which [`Engine::read_meters`] writes them.
    pub fn strip_order(&self) -> impl Iterator<Item = StripId> {
        self.strips.iter().map(|s| s.id)
    }

    /// Writes [`METER_VALUES`] values a strip and starts peaks anew. `out` may be shorter.
    pub fn read_meters(&mut self, out: &mut [f32]) {
        for (strip, values) in self.strips.iter_mut().zip(out.chunks_exact_mut(METER_VALUES)) {
            strip.meter.read(values);
        }
    }
}

fn run_strip(strip: &mut StripState, count: usize, metering: Metering) {
    let StripState { input, dry, out, trim, post, meter, .. } = strip;
    trim.run(&input[..count], &mut dry[..count], |[gain], [l, r]| [l * gain, r * gain]);
    post.run(&dry[..count], &mut out[..count], Matrix::apply);
    if metering == Metering::On {
        meter.source.take(&input[..count]);
        meter.trimmed.take(&dry[..count]);
        meter.out.take(&out[..count]);
    }
}

fn add(to: &mut [Frame], from: &[Frame]) {
    for (t, f) in to.iter_mut().zip(from) {
        t[0] += f[0];
        t[1] += f[1];
    }
}

#[cfg(test)]
mod tests;
