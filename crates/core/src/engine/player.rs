//! A voice while it plays: hits of a one-shot, or a recording that runs along.

use super::layer::{LayerShape, LayerSound};
use super::plan::{Event, VoicePlan};
use super::sinc::{Kernel, SincTable};
use crate::session::{AssetBank, Audio, Hold, Layer, VoiceSource};
use crate::units::{AssetId, Frame, VoiceId};
use std::collections::BTreeMap;
use std::sync::Arc;

/// Sounds of one voice at a time, layers counted each; the oldest makes room for a new one.
const SOUNDS: usize = 32;
/// Fade of a sound that is stopped, in seconds.
const STOP_SECONDS: f64 = 0.005;
/// Fade-in of a recording that is entered in its middle, in seconds.
const ENTER_SECONDS: f64 = 0.002;

/// Weights for the tunings that the session needs, by tuning up in steps of [`KERNEL_CT`], rounded up so that
/// nothing folds back; all tunings down share those of step 0.
#[derive(Default)]
pub(super) struct Kernels(BTreeMap<u32, Arc<Kernel>>);

/// Tunings up within so many cents share their weights.
const KERNEL_CT: f64 = 50.0;

fn kernel_step(cents: f64) -> u32 {
    libm::ceil(cents.max(0.0) / KERNEL_CT) as u32
}

impl Kernels {
    /// Makes what a plan needs and keeps what it still needs.
    pub fn prepare(&mut self, plans: &[VoicePlan], table: &SincTable) {
        let old = std::mem::take(&mut self.0);
        for plan in plans {
            let VoiceSource::OneShot { layers, .. } = &plan.source else { continue };
            for layer in layers {
                let glides = layer.sweep.is_some_and(|s| s.depth_st != 0.0);
                // A hit that is auditioned has no tuning of its own.
                for tuning in plan.events.iter().map(|e| e.tune_ct).chain([0.0]) {
                    let cents = layer.tune_ct + tuning;
                    let step = kernel_step(cents);
                    if (glides || cents != 0.0) && !self.0.contains_key(&step) {
                        let fresh = || Arc::new(Kernel::new(table, rate_of(f64::from(step) * KERNEL_CT)));
                        self.0.insert(step, old.get(&step).cloned().unwrap_or_else(fresh));
                    }
                }
            }
        }
    }

    fn get(&self, cents: f64) -> Option<Arc<Kernel>> {
        self.0.get(&kernel_step(cents)).cloned()
    }
}

fn rate_of(cents: f64) -> f64 {
    libm::exp2(cents / 1200.0)
}

/// One layer of one hit on its way.
#[derive(Clone)]
struct Sound {
    layer: usize,
    /// Frames since it began.
    age: u64,
    rate: f64,
    /// None where it is played as recorded.
    kernel: Option<Arc<Kernel>>,
    gain: f64,
    held: u64,
    release: u64,
}

/// Where a recording is read.
#[derive(Clone, Copy)]
struct Reader {
    /// Frame of the audio read next.
    at: u64,
    /// Frames since it was entered in the middle, for the fade-in; past the fade where it is at rest.
    age: u64,
}

pub(super) struct VoicePlayer {
    id: VoiceId,
    /// By the layers of the document; none where its audio is not at hand.
    layers: Vec<Option<LayerSound>>,
    release_frames: Option<u64>,
    recording: Option<Arc<Audio>>,
    sounds: Vec<Sound>,
    reader: Option<Reader>,
    /// A reader that was left behind by a jump, and how many frames of its fade are left.
    leaving: Option<(Reader, u64)>,
    /// Index of the next event; unknown after a jump.
    next: Option<usize>,
    /// Index of the next hit of another voice of its choke set; unknown after a jump.
    next_choke: Option<usize>,
    stop_frames: u64,
    enter_frames: u64,
}

impl VoicePlayer {
    pub fn new(plan: &VoicePlan, bank: &AssetBank, sample_rate: u32) -> Self {
        let empty = VoicePlayer {
            id: plan.id,
            layers: Vec::new(),
            release_frames: None,
            recording: None,
            sounds: Vec::with_capacity(SOUNDS),
            reader: None,
            leaving: None,
            next: None,
            next_choke: None,
            stop_frames: (STOP_SECONDS * f64::from(sample_rate)) as u64,
            enter_frames: (ENTER_SECONDS * f64::from(sample_rate)) as u64,
        };
        empty.with_plan(plan, bank, sample_rate)
    }

    pub fn id(&self) -> VoiceId {
        self.id
    }

    /// Takes over another state of the voice. Sounds of layers that stay go on.
    pub fn with_plan(mut self, plan: &VoicePlan, bank: &AssetBank, sample_rate: u32) -> Self {
        self.layers.clear();
        self.recording = None;
        self.release_frames = None;
        match &plan.source {
            VoiceSource::Empty => {}
            VoiceSource::OneShot { layers, hold } => {
                self.layers = layers.iter().map(|l| LayerSound::new(l, bank, sample_rate)).collect();
                self.release_frames = release_frames(*hold, sample_rate);
            }
            VoiceSource::Recording { asset, .. } => self.recording = bank.get(asset).cloned(),
        }
        let layers = self.layers.len();
        self.sounds.retain(|s| s.layer < layers);
        (self.next, self.next_choke) = (None, None);
        self
    }

    /// The song jumps: sounds ring on, a recording is left with a short fade.
    pub fn jump(&mut self) {
        self.leave_reader();
        (self.next, self.next_choke) = (None, None);
    }

    fn leave_reader(&mut self) {
        if let Some(reader) = self.reader.take() {
            self.leaving = Some((reader, self.stop_frames));
        }
    }

    /// Everything that sounds fades.
    pub fn release_all(&mut self) {
        self.choke();
        self.leave_reader();
    }

    /// Hits that sound fade.
    pub fn choke(&mut self) {
        for sound in &mut self.sounds {
            let end = sound.held.saturating_add(sound.release);
            if end > sound.age + self.stop_frames {
                sound.held = sound.age;
                sound.release = self.stop_frames;
            }
        }
    }

    /// Starts a hit with the next frame.
    pub fn start(&mut self, event: &Event, kernels: &Kernels) {
        for (layer, sound) in self.layers.iter().enumerate() {
            let Some(sound) = sound else { continue };
            if event.layer.is_some_and(|l| usize::from(l) != layer) {
                continue;
            }
            if self.sounds.len() == SOUNDS {
                self.sounds.remove(0);
            }
            let shape = &sound.shape;
            let cents = shape.tune_ct + event.tune_ct;
            let kernel = if shape.between_frames(cents) { kernels.get(cents) } else { None };
            let rate = if cents == 0.0 { 1.0 } else { rate_of(cents) };
            let (held, release) = match self.release_frames {
                Some(release) => (event.length, release),
                None => (u64::MAX, 0),
            };
            let velocity =
                if shape.velocity == 1.0 { event.velocity } else { libm::pow(event.velocity, shape.velocity) };
            let gain = shape.gain * event.level * velocity;
            self.sounds.push(Sound { layer, age: 0, rate, kernel, gain, held, release });
        }
    }

    /// Adds the next frames to `out`. `span` is the position of the first frame and the end of hits while
    /// the song runs.
    pub fn render(&mut self, plan: &VoicePlan, span: Option<(u64, u64)>, out: &mut [Frame], kernels: &Kernels) {
        let mut done = 0;
        if let Some((position, hits_until)) = span {
            let mut next = self.next.unwrap_or_else(|| plan.events.partition_point(|e| e.at < position));
            let mut choke = self.next_choke.unwrap_or_else(|| plan.chokes.partition_point(|at| *at < position));
            let end = (position + out.len() as u64).min(hits_until);
            // Piece by piece between hits, so that what makes room for a hit does not depend on block sizes.
            loop {
                let event = plan.events.get(next).filter(|e| e.at < end);
                let choked = plan.chokes.get(choke).copied().filter(|at| *at < end);
                let (from, hit) = match (event, choked) {
                    (None, None) => break,
                    (Some(event), None) => (event.at, Some(event)),
                    (Some(event), Some(at)) if event.at < at => (event.at, Some(event)),
                    // What starts together with the choke goes on.
                    (_, Some(at)) => (at, None),
                };
                let at = (from.saturating_sub(position) as usize).max(done);
                self.render_sounds(&mut out[done..at]);
                done = at;
                match hit {
                    Some(event) => {
                        self.start(event, kernels);
                        next += 1;
                    }
                    None => {
                        self.choke();
                        choke += 1;
                    }
                }
            }
            (self.next, self.next_choke) = (Some(next), Some(choke));
            self.render_recording(plan, position, hits_until, out);
        }
        self.render_sounds(&mut out[done..]);
        self.render_leaving(out);
    }

    fn render_sounds(&mut self, out: &mut [Frame]) {
        let layers = &self.layers;
        self.sounds.retain_mut(|sound| match layers.get(sound.layer) {
            Some(Some(layer)) => render_sound(sound, layer, out),
            _ => false,
        });
    }

    fn render_recording(&mut self, plan: &VoicePlan, position: u64, until: u64, out: &mut [Frame]) {
        let Some(audio) = &self.recording else { return };
        let start = plan.recording_at;
        let from = start.saturating_sub(position).min(out.len() as u64) as usize;
        let to = until.saturating_sub(position).min(out.len() as u64) as usize;
        if from >= to {
            return;
        }
        let at = position + from as u64 - start;
        let reader = match &mut self.reader {
            Some(reader) if reader.at == at => reader,
            place => place.insert(Reader { at, age: if at == 0 { self.enter_frames } else { 0 } }),
        };
        for frame in &mut out[from..to] {
            let fade = (reader.age as f64 / self.enter_frames.max(1) as f64).min(1.0);
            let [l, r] = audio.frame(reader.at as isize);
            frame[0] += f64::from(l) * fade;
            frame[1] += f64::from(r) * fade;
            reader.at += 1;
            reader.age = reader.age.saturating_add(1);
        }
    }

    fn render_leaving(&mut self, out: &mut [Frame]) {
        let (Some(audio), Some((reader, left))) = (&self.recording, &mut self.leaving) else { return };
        for frame in out.iter_mut() {
            if *left == 0 {
                self.leaving = None;
                return;
            }
            *left -= 1;
            let fade = *left as f64 / self.stop_frames.max(1) as f64;
            let [l, r] = audio.frame(reader.at as isize);
            frame[0] += f64::from(l) * fade;
            frame[1] += f64::from(r) * fade;
            reader.at += 1;
        }
    }
}

/// Adds a sound to the block; false once it is over.
fn render_sound(sound: &mut Sound, layer: &LayerSound, out: &mut [Frame]) -> bool {
    let shape = &layer.shape;
    for frame in out {
        let age = sound.age as f64;
        let read = shape.read(age, sound.rate);
        let (Some(place), Some(level)) = (shape.place(read), shape.level(age, read)) else { return false };
        let mut gain = sound.gain * level;
        if sound.age >= sound.held {
            let gone = sound.age - sound.held;
            if gone >= sound.release {
                return false;
            }
            gain *= 1.0 - (gone + 1) as f64 / sound.release as f64;
        }
        let [l, r] = match &sound.kernel {
            None => layer.audio.frame(place as isize).map(f64::from),
            Some(kernel) => kernel.read(&layer.audio, place),
        };
        frame[0] += gain * l;
        frame[1] += gain * r;
        sound.age += 1;
    }
    true
}

fn release_frames(hold: Hold, sample_rate: u32) -> Option<u64> {
    match hold {
        Hold::Whole => None,
        Hold::Gate { release_ms } => Some((release_ms / 1000.0 * f64::from(sample_rate)).max(1.0) as u64),
    }
}

/// How long hits of a one-shot ring.
pub(super) struct Ringing {
    shapes: Vec<LayerShape>,
    release: Option<u64>,
}

impl Ringing {
    pub fn new(layers: &[Layer], hold: Hold, sample_rate: u32, length_of: impl Fn(&AssetId) -> u64) -> Self {
        let shapes = layers.iter().map(|l| LayerShape::new(l, length_of(&l.asset), sample_rate)).collect();
        Ringing { shapes, release: release_frames(hold, sample_rate) }
    }

    /// Frames that a hit sounds at most: the longest of its layers.
    pub fn frames(&self, event: &Event) -> u64 {
        let frames = |shape: &LayerShape| {
            let whole = shape.frames(rate_of(shape.tune_ct + event.tune_ct));
            self.release.map_or(whole, |release| whole.min(event.length.saturating_add(release)))
        };
        self.shapes.iter().map(frames).max().unwrap_or(0)
    }
}
