//! The sides in the audio thread: all of them run, one is heard.

use crate::recording::Recording;
use lane_dsp::{MovingDelay, Ramp, Seam};
use lane_engine::{Engine, LoopRange, Playhead};
use lane_units::{Frame, db_to_gain};

/// What is heard on a side beside now.
pub enum Sound {
    /// Nothing is there.
    Nothing,
    /// Another state of the session.
    Session(Box<Engine>),
    /// A render or a reference.
    Recording(Box<Recording>),
}

impl Sound {
    fn latency(&self) -> usize {
        match self {
            Sound::Session(engine) => engine.main_latency(),
            Sound::Nothing | Sound::Recording(_) => 0,
        }
    }
}

/// Sides beside now.
const OTHERS: usize = 2;
/// Frames at most that one side waits for another.
const MOST_LATE: usize = 32_768;
/// A change of that comes in over so long.
const FADE_MS: f64 = 5.0;

struct Side {
    sound: Sound,
    volume: Ramp<1>,
    wait: MovingDelay,
}

impl Side {
    fn new(sample_rate: u32, gain: f64) -> Self {
        let mut wait = MovingDelay::new(0, FADE_MS, sample_rate);
        wait.make_room(MOST_LATE);
        Side { sound: Sound::Nothing, volume: Ramp::at([gain]), wait }
    }

    fn is_there(&self) -> bool {
        !matches!(self.sound, Sound::Nothing)
    }
}

/// Now, and up to two other sides, which stand at the same place of the song and come out together.
pub struct Sides {
    sample_rate: u32,
    /// Of now, the volume and its wait alone.
    now: Side,
    others: [Side; OTHERS],
    /// Takes up the step where a side is exchanged while it is heard.
    seam: Seam,
    block: Vec<Frame>,
}

impl Sides {
    /// Now alone. Allocates.
    ///
    /// * `max_block` – the largest number of frames that are processed in one call.
    pub fn new(sample_rate: u32, max_block: usize) -> Self {
        Sides {
            sample_rate,
            now: Side::new(sample_rate, 1.0),
            others: std::array::from_fn(|_| Side::new(sample_rate, 0.0)),
            seam: Seam::new(sample_rate),
            block: vec![[0.0; 2]; max_block],
        }
    }

    /// Puts a sound on a side from 1, and gives back what was there, to be freed. A session works with the pitched sounds of
    /// now from here on.
    pub fn put(&mut self, side: usize, mut sound: Sound) -> Sound {
        if let Sound::Session(engine) = &mut sound {
            engine.forget_kept();
        }
        let Some(place) = side.checked_sub(1).and_then(|at| self.others.get_mut(at)) else { return sound };
        if !place.volume.rests_at([0.0]) {
            self.seam.arm();
        }
        std::mem::replace(&mut place.sound, sound)
    }

    /// See [`Engine::take`], of the session on a side from 1.
    pub fn take(&mut self, now: &mut Engine, side: usize, words: &[f64]) {
        if let Some(engine) = self.engine(side) {
            engine.reading_of(now, |engine| engine.take(words));
        }
    }

    /// See [`Engine::finish`].
    pub fn finish(&mut self, now: &mut Engine, side: usize) {
        if let Some(engine) = self.engine(side) {
            engine.reading_of(now, Engine::finish);
        }
    }

    /// The session on a side from 1, where one is there.
    pub fn engine(&mut self, side: usize) -> Option<&mut Engine> {
        match &mut self.others.get_mut(side.checked_sub(1)?)?.sound {
            Sound::Session(engine) => Some(engine),
            Sound::Nothing | Sound::Recording(_) => None,
        }
    }

    /// The sessions beside now.
    pub fn engines(&mut self) -> impl Iterator<Item = &mut Engine> {
        self.others.iter_mut().filter_map(|side| match &mut side.sound {
            Sound::Session(engine) => Some(&mut **engine),
            Sound::Nothing | Sound::Recording(_) => None,
        })
    }

    /// Hears a side, 0 for now, each at a level in dB, within 5 ms. Fit for the audio thread.
    pub fn hear(&mut self, side: usize, levels_db: [f64; 1 + OTHERS]) {
        let sides = std::iter::once(&mut self.now).chain(&mut self.others);
        for (at, (place, db)) in sides.zip(levels_db).enumerate() {
            let gain = if at == side { db_to_gain(db) } else { 0.0 };
            place.volume.go_to([gain], self.sample_rate);
        }
    }

    /// As [`Engine::play`], and so on: what the others are asked with now. Fit for the audio thread.
    pub fn play(&mut self) {
        self.engines().for_each(Engine::play);
    }

    /// See [`Engine::stop`].
    pub fn stop(&mut self) {
        self.engines().for_each(Engine::stop);
    }

    /// See [`Engine::seek`].
    pub fn seek(&mut self, frame: u64) {
        self.engines().for_each(|engine| engine.seek(frame));
    }

    /// See [`Engine::set_loop`].
    pub fn set_loop(&mut self, range: Option<LoopRange>) {
        self.engines().for_each(|engine| engine.set_loop(range));
    }

    /// Makes what is heard out of what now just gave, in place, and plays the other sides as far. Allocates nothing, unless a
    /// new structure of a side is on its way.
    ///
    /// * `now` – has processed these frames.
    /// * `head` – where the song stood before them.
    pub fn process(&mut self, now: &mut Engine, head: Playhead, frames: &mut [Frame]) {
        let late = now.main_latency();
        let latest = self.others.iter().map(|side| side.sound.latency()).fold(late, usize::max);
        let alone = !self.others.iter().any(Side::is_there);
        let wait = if alone { 0 } else { (latest - late).min(MOST_LATE) };
        self.now.wait.go_to(wait);
        if self.now.wait.waits() {
            frames.iter_mut().for_each(|frame| *frame = self.now.wait.step(*frame));
        } else {
            self.now.wait.push_all(frames);
        }
        if !self.now.volume.rests_at([1.0]) {
            self.now.volume.run_on(frames, |[gain], [l, r]| [l * gain, r * gain]);
        }
        for Side { sound, volume, wait } in &mut self.others {
            let block = &mut self.block[..frames.len()];
            match sound {
                Sound::Nothing => {
                    volume.pass(frames.len());
                    continue;
                }
                Sound::Session(engine) => engine.reading_of(now, |engine| engine.process(block)),
                Sound::Recording(recording) => recording.process(head, block),
            }
            wait.go_to((latest - sound.latency()).min(MOST_LATE));
            if volume.rests_at([0.0]) {
                wait.push_all(block);
                continue;
            }
            for (to, frame) in frames.iter_mut().zip(block) {
                let [gain] = volume.step();
                let [l, r] = wait.step(*frame);
                *to = [to[0] + gain * l, to[1] + gain * r];
            }
        }
        self.seam.run(frames);
    }
}
