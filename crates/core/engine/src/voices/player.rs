//! A voice while it plays: hits of a one-shot, or a recording that runs along.

use crate::time::score::Event;
use crate::voices::kept::{Kept, Place, Source};
use crate::voices::layer::LayerShape;
use crate::voices::sinc::{Kernel, SincTable};
use lane_document::session::{Audio, Hold, Layer};
use lane_units::{AssetId, Frame, Reader, VoiceId, Words};
use std::sync::Arc;

/// Sounds of one voice at a time, layers counted each; the oldest makes room for a new one.
const SOUNDS: usize = 32;
/// Fade of a sound that is stopped, in seconds.
const STOP_SECONDS: f64 = 0.005;
/// Fade-in of a recording that is entered in its middle, in seconds.
const ENTER_SECONDS: f64 = 0.002;
/// Frames read between those of a sample at a time.
const PIECE: usize = 64;

/// Weights by tuning up in steps of [`KERNEL_CT`], rounded up so that nothing folds back; all tunings down share those
/// of step 0.
pub(crate) struct Kernels {
    table: Arc<SincTable>,
    steps: Vec<Option<Kernel>>,
    /// Steps that are asked for and not whole.
    open: Vec<usize>,
}

/// Tunings up within so many cents share their weights.
const KERNEL_CT: f64 = 50.0;
/// Three octaves up; what is faster shares their weights.
const STEPS: usize = 73;

/// The weights for a tuning.
pub(crate) fn kernel_step(cents: f64) -> usize {
    (libm::ceil(cents.max(0.0) / KERNEL_CT) as usize).min(STEPS - 1)
}

impl Kernels {
    /// Allocates.
    pub fn new() -> Self {
        Kernels::on(Arc::new(SincTable::new()))
    }

    /// Nothing worked out yet, on the table of another, which takes long to make. Allocates.
    pub fn beside(other: &Kernels) -> Self {
        Kernels::on(other.table.clone())
    }

    fn on(table: Arc<SincTable>) -> Self {
        let steps = std::iter::repeat_with(|| None).take(STEPS).collect();
        Kernels { table, steps, open: Vec::with_capacity(STEPS) }
    }

    /// Asks for the weights of a step. Allocates.
    pub fn want(&mut self, step: usize) {
        if let Some(place @ None) = self.steps.get_mut(step) {
            *place = Some(Kernel::begin(rate_of(step as f64 * KERNEL_CT)));
            self.open.push(step);
        }
    }

    /// Works out about so many more weights of what was asked for; gives whether nothing is left to do.
    pub fn go_on(&mut self, weights: usize) -> bool {
        let Some(step) = self.open.first().copied() else { return true };
        if self.steps[step].as_mut().is_none_or(|kernel| kernel.go_on(&self.table, weights)) {
            self.open.remove(0);
        }
        self.open.is_empty()
    }

    fn whole(&self, step: usize) -> Option<&Kernel> {
        self.steps.get(step)?.as_ref().filter(|k| k.is_whole())
    }

    /// The step to read with: its own, or while that is not whole, the next one that is.
    fn step_for(&self, wanted: usize) -> Option<usize> {
        (wanted..STEPS).chain((0..wanted).rev()).find(|step| self.whole(*step).is_some())
    }
}

pub(crate) fn rate_of(cents: f64) -> f64 {
    libm::exp2(cents / 1200.0)
}

/// How sounds between the frames of samples are read.
pub(crate) struct Reading {
    pub kernels: Kernels,
    pub kept: Kept,
}

/// One layer of one hit on its way.
#[derive(Clone)]
struct Sound {
    layer: usize,
    /// Frames until it begins.
    wait: u64,
    /// Frames since it began.
    age: u64,
    rate: f64,
    /// None where it is played as recorded.
    kernel: Option<usize>,
    /// Where what is read is kept.
    place: Option<Place>,
    gain: f64,
    held: u64,
    release: u64,
}

/// Where a recording is read.
#[derive(Clone, Copy)]
struct Tape {
    /// Frame of the audio read next.
    at: u64,
    /// Frames since it was entered in the middle, for the fade-in; past the fade where it is at rest.
    age: u64,
}

/// A layer as it is played.
#[derive(Debug, Clone, PartialEq)]
struct PlayedLayer {
    /// Its audio's number.
    audio: usize,
    shape: LayerShape,
}

/// The audio at hand, by number.
pub(crate) type Shelf = [Option<Arc<Audio>>];

fn on(shelf: &Shelf, number: usize) -> Option<&Audio> {
    shelf.get(number)?.as_deref()
}

pub(crate) struct VoicePlayer {
    pub id: VoiceId,
    /// By the layers of the document.
    layers: Vec<PlayedLayer>,
    release_frames: Option<u64>,
    /// The number of a recording's audio, and where it starts in frames from bar 1.
    recording: Option<(usize, u64)>,
    sounds: Vec<Sound>,
    tape: Option<Tape>,
    /// A tape that was left behind by a jump, and how many frames of its fade are left.
    leaving: Option<(Tape, u64)>,
    stop_frames: u64,
    enter_frames: u64,
}

/// Layers of a voice that need no more room.
const LAYERS: usize = 16;

impl VoicePlayer {
    /// Without a sound. Allocates.
    pub fn new(id: VoiceId, sample_rate: u32) -> Self {
        VoicePlayer {
            id,
            layers: Vec::with_capacity(LAYERS),
            release_frames: None,
            recording: None,
            sounds: Vec::with_capacity(SOUNDS),
            tape: None,
            leaving: None,
            stop_frames: (STOP_SECONDS * f64::from(sample_rate)) as u64,
            enter_frames: (ENTER_SECONDS * f64::from(sample_rate)) as u64,
        }
    }

    /// Takes over what it plays from what [`write_source`] wrote; sounds of layers that stay go on. Gives whether its
    /// samples are others, or read otherwise. Allocates where a voice has more layers than most.
    pub fn take_source(&mut self, words: &mut Reader) -> Option<()> {
        let recording = words.number()?;
        let start = words.number()?;
        self.recording = (recording >= 0.0).then_some((recording as usize, start as u64));
        let release = words.number()?;
        self.release_frames = (release > 0.0).then_some(release as u64);
        let mut changed = false;
        let mut count = 0;
        while words.left() > 0 {
            let layer = PlayedLayer { audio: words.count()?, shape: <LayerShape as Words>::read(words)? };
            match self.layers.get_mut(count) {
                Some(known) if *known == layer => {}
                Some(known) => {
                    *known = layer;
                    changed = true;
                }
                None => self.layers.push(layer),
            }
            count += 1;
        }
        self.layers.truncate(count);
        self.sounds.retain(|s| s.layer < count);
        if changed {
            self.forget_places();
        }
        Some(())
    }

    /// Its sounds no longer go by what was kept.
    pub fn forget_places(&mut self) {
        self.sounds.iter_mut().for_each(|s| s.place = None);
    }

    /// Whether it plays a piece of audio.
    pub fn uses(&self, audio: usize) -> bool {
        self.layers.iter().any(|l| l.audio == audio)
    }

    /// The song jumps: sounds ring on, a recording is left with a short fade.
    pub fn jump(&mut self) {
        if let Some(tape) = self.tape.take() {
            self.leaving = Some((tape, self.stop_frames));
        }
    }

    /// Everything that sounds fades.
    pub fn release_all(&mut self) {
        self.choke();
        self.jump();
    }

    /// Hits that sound fade.
    pub fn choke(&mut self) {
        self.sounds.retain(|s| s.wait == 0);
        for sound in &mut self.sounds {
            let end = sound.held.saturating_add(sound.release);
            if end > sound.age + self.stop_frames {
                sound.held = sound.age;
                sound.release = self.stop_frames;
            }
        }
    }

    /// Starts a hit with the next frame.
    pub fn start(&mut self, event: &Event, shelf: &Shelf, reading: &mut Reading) {
        for (at, layer) in self.layers.iter().enumerate() {
            if event.layer.is_some_and(|l| usize::from(l) != at) || on(shelf, layer.audio).is_none() {
                continue;
            }
            if self.sounds.len() == SOUNDS {
                self.sounds.remove(0);
            }
            let shape = &layer.shape;
            let cents = shape.tune_ct + event.tune_ct;
            let wanted = kernel_step(cents);
            let kernel = if shape.between_frames(cents) { reading.kernels.step_for(wanted) } else { None };
            // What is read with other weights than its own is not worth keeping.
            let place = kernel
                .filter(|step| *step == wanted)
                .and_then(|_| reading.kept.begin(Source { audio: layer.audio, way: shape.way(), cents }));
            let rate = if cents == 0.0 { 1.0 } else { rate_of(cents) };
            let (held, release) = match self.release_frames {
                Some(release) => (event.length.saturating_sub(shape.delay), release),
                None => (u64::MAX, 0),
            };
            let velocity =
                if shape.velocity == 1.0 { event.velocity } else { libm::pow(event.velocity, shape.velocity) };
            let gain = shape.gain * event.level * velocity;
            self.sounds.push(Sound { layer: at, wait: shape.delay, age: 0, rate, kernel, place, gain, held, release });
        }
    }

    /// Whether nothing of it sounds in the next frames; `span` as in [`VoicePlayer::render`].
    pub fn is_silent(&self, span: Option<(u64, u64)>, events: &[Event], frames: usize, shelf: &Shelf) -> bool {
        let Some((position, until)) = span else { return self.sounds.is_empty() && self.leaving.is_none() };
        let end = (position + frames as u64).min(until);
        let recorded = self.recording.is_some_and(|(audio, start)| {
            let over = on(shelf, audio).is_none_or(|a| position >= start + a.frames() as u64);
            !over && start < end
        });
        let begins = events.first().is_some_and(|e| e.at < end);
        self.sounds.is_empty() && self.leaving.is_none() && !begins && !recorded
    }

    /// Adds the next frames to `out`. `span` is the position of the first frame and the end of hits while
    /// the song runs.
    ///
    /// * `events` – what begins, from the first frame on.
    /// * `choked` – gives the first frame from one on, at which another voice of its choke set is hit.
    pub fn render(
        &mut self,
        span: Option<(u64, u64)>,
        events: &[Event],
        choked: impl Fn(u64) -> Option<u64>,
        out: &mut [Frame],
        shelf: &Shelf,
        reading: &mut Reading,
    ) {
        let mut done = 0;
        if let Some((position, hits_until)) = span {
            let end = (position + out.len() as u64).min(hits_until);
            let mut events = events.iter().take_while(|e| e.at < end).peekable();
            let mut choke = choked(position).filter(|at| *at < end);
            // Piece by piece between hits, so that what makes room for a hit does not depend on block sizes.
            loop {
                let (from, hit) = match (events.peek(), choke) {
                    (None, None) => break,
                    (Some(event), None) => (event.at, events.next()),
                    (Some(event), Some(at)) if event.at < at => (event.at, events.next()),
                    // What starts together with the choke goes on.
                    (_, Some(at)) => (at, None),
                };
                let at = (from.saturating_sub(position) as usize).max(done);
                self.render_sounds(&mut out[done..at], shelf, reading);
                done = at;
                match hit {
                    Some(event) => self.start(event, shelf, reading),
                    None => {
                        self.choke();
                        choke = choked(from + 1).filter(|at| *at < end);
                    }
                }
            }
            self.render_recording(position, hits_until, out, shelf);
        }
        self.render_sounds(&mut out[done..], shelf, reading);
        self.render_leaving(out, shelf);
    }

    fn render_sounds(&mut self, out: &mut [Frame], shelf: &Shelf, reading: &mut Reading) {
        let layers = &self.layers;
        self.sounds.retain_mut(|sound| {
            let Some(layer) = layers.get(sound.layer) else { return false };
            on(shelf, layer.audio).is_some_and(|audio| render_sound(sound, &layer.shape, audio, reading, out))
        });
    }

    fn render_recording(&mut self, position: u64, until: u64, out: &mut [Frame], shelf: &Shelf) {
        let Some((audio, start)) = self.recording else { return };
        let Some(audio) = on(shelf, audio) else { return };
        let from = start.saturating_sub(position).min(out.len() as u64) as usize;
        let to = until.saturating_sub(position).min(out.len() as u64) as usize;
        if from >= to {
            return;
        }
        let at = position + from as u64 - start;
        let tape = match &mut self.tape {
            Some(tape) if tape.at == at => tape,
            place => place.insert(Tape { at, age: if at == 0 { self.enter_frames } else { 0 } }),
        };
        let entering = self.enter_frames.saturating_sub(tape.age).min((to - from) as u64) as usize;
        let (fading, plain) = out[from..to].split_at_mut(entering);
        for frame in fading {
            let fade = tape.age as f64 / self.enter_frames.max(1) as f64;
            let [l, r] = audio.frame(tape.at as isize);
            frame[0] += f64::from(l) * fade;
            frame[1] += f64::from(r) * fade;
            tape.at += 1;
            tape.age += 1;
        }
        add_frames(audio, tape.at, 1.0, plain);
        tape.at += plain.len() as u64;
        tape.age = tape.age.saturating_add(plain.len() as u64);
    }

    fn render_leaving(&mut self, out: &mut [Frame], shelf: &Shelf) {
        let audio = self.recording.and_then(|(audio, _)| on(shelf, audio));
        let (Some(audio), Some((tape, left))) = (audio, &mut self.leaving) else {
            self.leaving = None;
            return;
        };
        for frame in out.iter_mut() {
            if *left == 0 {
                self.leaving = None;
                return;
            }
            *left -= 1;
            let fade = *left as f64 / self.stop_frames.max(1) as f64;
            let [l, r] = audio.frame(tape.at as isize);
            frame[0] += f64::from(l) * fade;
            frame[1] += f64::from(r) * fade;
            tape.at += 1;
        }
    }
}

/// Adds frames of audio as they are recorded, at a gain; silence behind its end.
fn add_frames(audio: &Audio, at: u64, gain: f64, out: &mut [Frame]) {
    let at = (at as usize).min(audio.frames());
    let count = out.len().min(audio.frames() - at);
    if audio.channels() == 1 {
        for (frame, x) in out.iter_mut().zip(&audio.samples()[at..at + count]) {
            let x = gain * f64::from(*x);
            *frame = [frame[0] + x, frame[1] + x];
        }
    } else {
        for (frame, [l, r]) in out.iter_mut().zip(audio.samples()[2 * at..2 * (at + count)].as_chunks::<2>().0) {
            *frame = [frame[0] + gain * f64::from(*l), frame[1] + gain * f64::from(*r)];
        }
    }
}

/// Adds a sound to the block; false once it is over.
fn render_sound(
    sound: &mut Sound,
    shape: &LayerShape,
    audio: &Audio,
    reading: &mut Reading,
    out: &mut [Frame],
) -> bool {
    let mut done = sound.wait.min(out.len() as u64) as usize;
    sound.wait -= done as u64;
    while done < out.len() {
        let rest = &mut out[done..];
        let left = rest.len().min(sound.held.saturating_sub(sound.age).min(rest.len() as u64) as usize);
        let plain = shape.plain(sound.age as f64, sound.rate, left);
        let count = match sound.kernel {
            None if plain > 0 && !shape.reverse() => {
                let at = shape.read(sound.age as f64, sound.rate);
                // As recorded, so every place is a frame.
                add_frames(audio, shape.place(at).unwrap_or(0.0) as u64, sound.gain, &mut rest[..plain]);
                plain
            }
            _ => {
                let count = rest.len().min(PIECE);
                match render_piece(sound, shape, audio, reading, &mut rest[..count], plain) {
                    Some(()) => count,
                    None => return false,
                }
            }
        };
        sound.age += count as u64;
        done += count;
    }
    true
}

/// The same of at most [`PIECE`] frames, of which so many are plain; none once it is over.
fn render_piece(
    sound: &mut Sound,
    shape: &LayerShape,
    audio: &Audio,
    reading: &mut Reading,
    out: &mut [Frame],
    plain: usize,
) -> Option<()> {
    let mut values = [[0.0; 2]; PIECE];
    let count = read_values(sound, shape, audio, reading, &mut values[..out.len()]);
    let plain = plain.min(count);
    for (frame, [l, r]) in out[..plain].iter_mut().zip(&values) {
        *frame = [frame[0] + sound.gain * l, frame[1] + sound.gain * r];
    }
    for (n, (frame, [l, r])) in out[..count].iter_mut().zip(&values).enumerate().skip(plain) {
        let age = sound.age + n as u64;
        let mut gain = sound.gain * shape.level(age as f64, shape.read(age as f64, sound.rate))?;
        if age >= sound.held {
            let gone = age - sound.held;
            if gone >= sound.release {
                return None;
            }
            gain *= 1.0 - (gone + 1) as f64 / sound.release as f64;
        }
        *frame = [frame[0] + gain * l, frame[1] + gain * r];
    }
    (count == out.len()).then_some(())
}

/// Reads the next values of a sample at a sound's pitch; gives how many there are before its end.
fn read_values(
    sound: &mut Sound,
    shape: &LayerShape,
    audio: &Audio,
    reading: &mut Reading,
    values: &mut [Frame],
) -> usize {
    let place = |n: usize| shape.place(shape.read((sound.age + n as u64) as f64, sound.rate));
    let Some(kernel) = sound.kernel.and_then(|step| reading.kernels.whole(step)) else {
        for (n, value) in values.iter_mut().enumerate() {
            let Some(place) = place(n) else { return n };
            *value = audio.frame(place as isize).map(f64::from);
        }
        return values.len();
    };
    let sides = usize::from(audio.channels());
    let mut done = 0;
    while let Some(place) = &mut sound.place
        && done < values.len()
        && let Some(kept) = reading.kept.read(place, (sound.age as usize + done) * sides, (values.len() - done) * sides)
    {
        if sides == 1 {
            values[done..].iter_mut().zip(kept).for_each(|(value, x)| *value = [*x; 2]);
        } else {
            values[done..].iter_mut().zip(kept.as_chunks::<2>().0).for_each(|(value, pair)| *value = *pair);
        }
        done += kept.len() / sides;
    }
    let from = done;
    for (n, value) in values.iter_mut().enumerate().skip(from) {
        let Some(place) = place(n) else { break };
        *value = kernel.read(audio, place);
        done = n + 1;
    }
    if let Some(place) = &sound.place {
        let mut flat = [0.0; 2 * PIECE];
        let fresh = &values[from..done];
        for (to, value) in flat.chunks_exact_mut(sides).zip(fresh) {
            to.copy_from_slice(&value[..sides]);
        }
        reading.kept.write(place, (sound.age as usize + from) * sides, &flat[..sides * fresh.len()]);
    }
    done
}

fn release_frames(hold: Hold, sample_rate: u32) -> Option<u64> {
    match hold {
        Hold::Whole => None,
        Hold::Gate { release_ms } => Some((release_ms / 1000.0 * f64::from(sample_rate)).max(1.0) as u64),
    }
}

/// Writes what a voice plays.
///
/// * `number` – of a piece of audio, and its length in frames.
pub(crate) fn write_source(
    source: &lane_document::session::VoiceSource,
    sample_rate: u32,
    mut number: impl FnMut(&AssetId) -> (usize, u64),
    words: &mut Vec<f64>,
) {
    use lane_document::session::VoiceSource;
    match source {
        VoiceSource::Empty => words.extend([-1.0, 0.0, 0.0]),
        VoiceSource::Recording { asset, start_frame } => {
            words.extend([number(asset).0 as f64, f64::from(*start_frame), 0.0]);
        }
        VoiceSource::OneShot { layers, hold } => {
            words.extend([-1.0, 0.0, release_frames(*hold, sample_rate).map_or(0.0, |r| r as f64)]);
            for layer in layers {
                let (audio, frames) = number(&layer.asset);
                words.push(audio as f64);
                LayerShape::new(layer, frames, sample_rate).write(words);
            }
        }
    }
}

/// How long hits of a one-shot ring.
pub(crate) struct Ringing {
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
            let held = event.length.saturating_sub(shape.delay);
            shape.delay + self.release.map_or(whole, |release| whole.min(held.saturating_add(release)))
        };
        self.shapes.iter().map(frames).max().unwrap_or(0)
    }
}
