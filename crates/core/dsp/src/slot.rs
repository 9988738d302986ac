//! A place in a chain: whatever stands in it gets gains before and after, a mix, and a switch.

use super::kind::{MEMORY, Moment, Place};
use super::kinds::{AnyCourse, AnyUnit, Settings};
use super::parts::{DelayLine, Ramp};
use lane_units::{Frame, Reader, db_to_gain};

/// What a slot is set to.
#[derive(Debug, Clone, PartialEq)]
pub struct SlotPlan {
    /// Whether it acts.
    pub on: bool,
    /// Gain in front of it, in dB.
    pub input_db: f64,
    /// Gain behind it, in dB.
    pub output_db: f64,
    /// What is processed against what is not, or how much of its gains acts (see [`Mix`](super::Mix)), in %.
    pub mix_percent: f64,
    /// Quarter notes a minute, for what follows the beat.
    pub tempo_bpm: f64,
    /// Quarter notes in a bar, for what follows bars.
    pub bar_quarters: f64,
    /// What it is and how it is set.
    pub settings: Settings,
}

impl SlotPlan {
    /// Where it works.
    pub fn place(&self, sample_rate: u32) -> Place {
        Place { sample_rate, tempo_bpm: self.tempo_bpm, bar_quarters: self.bar_quarters }
    }

    /// Frames for which it rings on.
    pub fn tail(&self, sample_rate: u32) -> usize {
        self.settings.tail(self.place(sample_rate))
    }

    /// Frames by which the sound comes out later.
    pub fn latency(&self, sample_rate: u32) -> usize {
        self.settings.latency(sample_rate)
    }

    /// Whether a slot set to another plan does the same.
    pub fn does_as(&self, other: &SlotPlan) -> bool {
        let time = |plan: &SlotPlan| (plan.tempo_bpm, plan.bar_quarters);
        (!self.settings.follows_tempo() || time(self) == time(other))
            && (self.on, self.input_db, self.output_db, self.mix_percent)
                == (other.on, other.input_db, other.output_db, other.mix_percent)
            && self.settings == other.settings
    }

    /// What a slot follows, as numbers. Allocates, and takes its time.
    pub fn write(&self, sample_rate: u32, words: &mut Vec<f64>) {
        let part = self.mix_percent / 100.0;
        let less = if part == 1.0 { None } else { self.settings.in_part(part) };
        // Part of what comes out that was processed.
        let wet = match &less {
            _ if !self.on => 0.0,
            Some(_) if part > 0.0 => 1.0,
            _ => part,
        };
        words.extend([db_to_gain(self.input_db), db_to_gain(self.output_db), wet]);
        words.extend([self.latency(sample_rate) as f64, f64::from(sample_rate), self.tempo_bpm, self.bar_quarters]);
        less.as_ref().unwrap_or(&self.settings).write_course(self.place(sample_rate), words);
    }

    /// What a slot follows.
    pub fn course(&self, sample_rate: u32) -> SlotCourse {
        let mut words = Vec::new();
        self.write(sample_rate, &mut words);
        SlotCourse::read(&mut Reader::new(&words)).expect("what was written can be read")
    }
}

/// What a slot follows, worked out.
#[derive(Debug, Clone)]
pub struct SlotCourse {
    /// Linear, before and behind.
    gains: [f64; 2],
    wet: f64,
    latency: usize,
    place: Place,
    course: AnyCourse,
}

impl SlotCourse {
    /// Reads what [`SlotPlan::write`] wrote. Fit for the audio thread.
    pub fn read(words: &mut Reader) -> Option<Self> {
        let [before, behind, wet, latency, sample_rate, tempo_bpm, bar_quarters] = words.array()?;
        let place = Place { sample_rate: sample_rate as u32, tempo_bpm, bar_quarters };
        let course = AnyCourse::read(words)?;
        Some(SlotCourse { gains: [before, behind], wet, latency: latency as usize, place, course })
    }

    /// Frames by which the sound comes out later.
    pub fn latency(&self) -> usize {
        self.latency
    }
}

/// What is known to be silent of a block: the sound, and what is listened to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Silent {
    /// Whether its input is exactly silent.
    pub sound: bool,
    /// Whether its key is exactly silent.
    pub key: bool,
}

impl Silent {
    /// Nothing is known.
    pub const NO: Silent = Silent { sound: false, key: false };
}

/// A processor at work. Its dry part waits as long as the processed one takes, so that a mix never combs; off,
/// it passes what it gets, just as late.
#[derive(Debug, Clone)]
pub struct Slot {
    unit: AnyUnit,
    gains: Ramp<2>,
    /// What is heard of the processed sound, and of the sound as it came.
    mix: Ramp<2>,
    /// Gain of the sound as it came while the processor is passed by for comparison.
    bypass: Option<f64>,
    wet: f64,
    latency: usize,
    /// What came in: as much as it is late, or has to hear when it is switched on.
    line: DelayLine,
    dry: Vec<Frame>,
    /// Whether the unit has forgotten what it heard, since nothing of it is heard.
    idle: bool,
    /// Frames of silence that came in last, of sound and key both.
    silent: usize,
    /// The same of the sound alone.
    soundless: usize,
    sample_rate: u32,
}

impl Slot {
    /// Allocates.
    ///
    /// * `max_block` – frames processed at a time at most.
    pub fn new(course: &SlotCourse, max_block: usize) -> Self {
        let unit = AnyUnit::new(&course.course, course.place);
        let kept = course.latency.max(unit.memory());
        Slot {
            gains: Ramp::at(course.gains),
            mix: Ramp::at([course.wet, 1.0 - course.wet]),
            bypass: None,
            wet: course.wet,
            latency: course.latency,
            line: DelayLine::new(if kept > 0 { kept + max_block } else { 0 }),
            dry: vec![[0.0; 2]; max_block],
            idle: false,
            silent: 0,
            soundless: 0,
            sample_rate: course.place.sample_rate,
            unit,
        }
    }

    /// Frames by which the sound comes out later.
    pub fn latency(&self) -> usize {
        self.latency
    }

    /// Whether it goes by the song's place.
    pub fn keeps_time(&self) -> bool {
        self.unit.keeps_time()
    }

    /// Whether [`Slot::set`] can follow another course; else another slot is needed.
    pub fn fits(&self, course: &SlotCourse) -> bool {
        course.latency == self.latency && self.unit.fits(&course.course, course.place)
    }

    /// Follows another course that fits, without a click. Fit for the audio thread.
    pub fn set(&mut self, course: &SlotCourse) {
        self.unit.set(&course.course, course.place);
        self.gains.go_to(course.gains, self.sample_rate);
        self.wet = course.wet;
        self.aim();
    }

    /// Takes over what it can of the one whose place it takes.
    pub fn inherit(&mut self, old: Slot) {
        self.bypass = old.bypass;
        self.unit.inherit(old.unit);
        if self.line.room() > 0 && old.line.room() > 0 {
            self.line.take_over(&old.line);
        }
        let gains = std::mem::replace(&mut self.gains, old.gains);
        self.gains.go_to(gains.target(), self.sample_rate);
        (self.mix, self.idle) = (old.mix, old.idle);
        self.aim();
    }

    /// Lets the sound through as it came, at a linear gain, while the processor works on unheard; or ends that.
    pub fn pass_by(&mut self, gain: Option<f64>) {
        self.bypass = gain;
        self.aim();
    }

    fn aim(&mut self) {
        let target = self.bypass.map_or([self.wet, 1.0 - self.wet], |gain| [0.0, gain]);
        self.mix.go_to(target, self.sample_rate);
    }

    /// Whether silence at its input and its key gives silence and changes nothing.
    fn rests(&self) -> bool {
        let settled = !self.mix.moves() && !self.gains.moves();
        settled && self.silent > self.line.room() && self.unit.rests(self.silent)
    }

    /// Processes a block in place, listening to `key` where one is given; gives whether what comes out is silence,
    /// where it is known.
    pub fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>, silent: Silent) -> bool {
        self.process_at(frames, key, silent, &Moment::STOPPED)
    }

    /// The same at a moment within which the song neither starts, stops nor jumps.
    pub fn process_at(&mut self, frames: &mut [Frame], key: Option<&[Frame]>, silent: Silent, now: &Moment) -> bool {
        let count = frames.len();
        if !silent.sound {
            self.soundless = 0;
        }
        if !silent.sound || !(silent.key || key.is_none()) {
            self.silent = 0;
        } else if self.rests() {
            self.unit.pass(count, now);
            return true;
        }
        let off = self.bypass.is_none() && self.mix.rests_at([0.0, 1.0]);
        if off {
            self.wait(frames);
        } else {
            self.work(frames, key, now);
        }
        let quiet = silent.sound && if off { self.soundless >= self.latency } else { all_silent(frames) };
        if silent.sound {
            self.soundless = self.soundless.saturating_add(count);
        }
        if silent.sound && (silent.key || key.is_none()) {
            self.silent = self.silent.saturating_add(count);
        }
        quiet
    }

    /// Lets sound through while it is switched off.
    fn wait(&mut self, frames: &mut [Frame]) {
        if !self.idle {
            self.unit.fall_idle();
            self.idle = true;
        }
        // What it delays has to be there when it is switched on.
        let [before, _] = self.gains.now();
        self.unit.feed(frames, before);
        if self.latency > 0 {
            self.line.run(frames, self.latency);
        } else if self.line.room() > 0 {
            self.line.push(frames);
        }
    }

    /// Gives the unit what it has to have heard.
    fn remember(&mut self) {
        let [before, _] = self.gains.now();
        let mut left = self.unit.memory().min(self.line.room()).min(MEMORY);
        while left > 0 {
            let mut piece = [[0.0; 2]; 64];
            let count = left.min(64);
            self.line.read(left - count, &mut piece[..count]);
            self.unit.feed(&piece[..count], before);
            left -= count;
        }
    }

    fn work(&mut self, frames: &mut [Frame], key: Option<&[Frame]>, now: &Moment) {
        if self.idle && self.unit.memory() > 0 {
            self.remember();
        }
        self.idle = false;
        let dry = &mut self.dry[..frames.len()];
        let all_wet = self.mix.rests_at([1.0, 0.0]);
        if !all_wet {
            dry.copy_from_slice(frames);
            if self.line.room() > 0 {
                self.line.run(dry, self.latency);
            }
        } else if self.line.room() > 0 {
            self.line.push(frames);
        }
        let (mut before, mut after) = (self.gains.clone(), self.gains.clone());
        if !self.gains.rests_at([1.0, 1.0]) {
            before.run_on(frames, |[g, _], [l, r]| [l * g, r * g]);
        }
        self.unit.process_at(frames, key, now);
        if !self.gains.rests_at([1.0, 1.0]) {
            after.run_on(frames, |[_, g], [l, r]| [l * g, r * g]);
            self.gains = after;
        }
        if !all_wet {
            for (frame, dry) in frames.iter_mut().zip(dry) {
                let [wet, straight] = self.mix.step();
                for side in 0..2 {
                    frame[side] = dry[side] * straight + frame[side] * wet;
                }
            }
        }
    }

    /// Takes as heard what sounded before it stood here: `back` gives the frame of so many frames ago.
    pub fn prime(&mut self, back: impl Fn(usize) -> Frame) {
        let [before, _] = self.gains.now();
        for age in (0..self.line.room()).rev() {
            self.line.step(back(age), 0);
        }
        for age in (0..self.unit.memory().max(self.latency)).rev() {
            self.unit.feed(&[back(age)], before);
        }
    }

    /// The most that was taken away since the last call, in dB.
    pub fn take_reduction_db(&mut self) -> f64 {
        self.unit.take_reduction_db()
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.unit.reset();
        self.line.reset();
        self.silent = 0;
    }
}

/// Whether frames are silence, sign of zero aside.
pub fn all_silent(frames: &[Frame]) -> bool {
    frames.iter().all(|f| *f == [0.0; 2])
}
