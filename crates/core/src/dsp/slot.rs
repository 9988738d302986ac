//! A place in a chain: whatever stands in it gets gains before and after, a mix, and a switch.

use super::{AnyUnit, DelayLine, Place, Ramp, Settings};
use crate::units::{Frame, db_to_gain};

/// What a slot is set to.
#[derive(Debug, Clone, PartialEq)]
pub struct SlotPlan {
    pub on: bool,
    pub input_db: f64,
    pub output_db: f64,
    pub mix_percent: f64,
    /// Quarter notes a minute, for what follows the beat.
    pub tempo_bpm: f64,
    pub settings: Settings,
}

impl SlotPlan {
    fn place(&self, sample_rate: u32) -> Place {
        Place { sample_rate, tempo_bpm: self.tempo_bpm }
    }

    fn gains(&self) -> [f64; 2] {
        [db_to_gain(self.input_db), db_to_gain(self.output_db)]
    }

    /// Frames for which it rings on.
    pub fn tail(&self, sample_rate: u32) -> usize {
        self.settings.tail(self.place(sample_rate))
    }

    /// Part of what comes out that was processed.
    fn wet(&self) -> f64 {
        if self.on { self.mix_percent / 100.0 } else { 0.0 }
    }
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
    dry_line: DelayLine,
    dry: Vec<Frame>,
    /// Whether the unit has forgotten what it heard, since nothing of it is heard.
    idle: bool,
    sample_rate: u32,
}

impl Slot {
    /// * `max_block` – frames processed at a time at most.
    pub fn new(plan: &SlotPlan, max_block: usize, sample_rate: u32) -> Self {
        let latency = plan.settings.latency(sample_rate);
        Slot {
            unit: AnyUnit::new(&plan.settings, plan.place(sample_rate)),
            gains: Ramp::at(plan.gains()),
            mix: Ramp::at([plan.wet(), 1.0 - plan.wet()]),
            bypass: None,
            wet: plan.wet(),
            latency,
            dry_line: DelayLine::new(latency + max_block),
            dry: vec![[0.0; 2]; max_block],
            idle: false,
            sample_rate,
        }
    }

    /// Takes over other settings without a click; false where they need another slot.
    pub fn set(&mut self, plan: &SlotPlan) -> bool {
        if !self.unit.set(&plan.settings, plan.place(self.sample_rate)) {
            return false;
        }
        self.gains.go_to(plan.gains(), self.sample_rate);
        self.wet = plan.wet();
        self.aim();
        self.latency = plan.settings.latency(self.sample_rate);
        self.dry_line.make_room(self.latency + self.dry.len());
        true
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

    /// Processes a block in place, listening to `key` where one is given.
    pub fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
        let count = frames.len();
        let dry = &mut self.dry[..count];
        if self.bypass.is_none() && self.mix.rests_at([0.0, 1.0]) {
            if !self.idle {
                self.unit.fall_idle();
                self.idle = true;
            }
            // What it delays has to be there when it is switched on.
            let [before, _] = self.gains.target();
            frames.iter().for_each(|[l, r]| self.unit.feed([l * before, r * before]));
            if self.latency > 0 {
                self.dry_line.run(frames, self.latency);
            }
            return;
        }
        self.idle = false;
        let all_wet = self.mix.rests_at([1.0, 0.0]);
        if !all_wet {
            dry.copy_from_slice(frames);
            self.dry_line.run(dry, self.latency);
        } else if self.latency > 0 {
            self.dry_line.push(frames);
        }
        let (mut before, mut after) = (self.gains.clone(), self.gains.clone());
        if !self.gains.rests_at([1.0, 1.0]) {
            before.run_on(frames, |[g, _], [l, r]| [l * g, r * g]);
        }
        self.unit.process(frames, key);
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
        for age in (0..self.latency).rev() {
            let frame = back(age);
            self.unit.feed(frame);
            self.dry_line.step(frame, 0);
        }
    }

    /// The most that was taken away since the last call, in dB.
    pub fn take_reduction_db(&mut self) -> f64 {
        self.unit.take_reduction_db()
    }

    pub fn reset(&mut self) {
        self.unit.reset();
        self.dry_line.reset();
    }
}
