//! What every kind of processor says of itself, and what every one at work can do.

use lane_units::{Frame, Words};
use serde::Serialize;

/// Where a processor works.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// In Hz.
    pub sample_rate: u32,
    /// Quarter notes a minute.
    pub tempo_bpm: f64,
    /// Quarter notes in a bar.
    pub bar_quarters: f64,
}

/// A hit that is known beforehand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Begin {
    /// In frames from bar 1.
    pub at: u64,
    /// 1 to 127.
    pub velocity: u8,
    /// How much velocity moves the level of its sound, 0 to 100 %.
    pub moves_percent: u8,
}

/// What a processor that keeps time begins anew with.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Starts<'a> {
    /// The song's own grid: it has no key.
    Beat,
    /// Hits of its key that are known beforehand and count, in order: at least the last two before a block, and all within
    /// it.
    Hits(&'a [Begin]),
    /// What is heard of its key.
    Key,
}

/// When a block sounds, for what goes by the song's place and not by the level.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Moment<'a> {
    /// Whether the song runs.
    pub playing: bool,
    /// Of the first frame, as it was when the sound began its way: frames from bar 1.
    pub position: u64,
    /// What it begins anew with.
    pub starts: Starts<'a>,
}

impl Moment<'_> {
    /// The song stands still.
    pub const STOPPED: Moment<'static> = Moment { playing: false, position: 0, starts: Starts::Beat };
}

/// What the mix of a processor means.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum Mix {
    /// The processed sound and the sound as it came, added.
    Sound,
    /// How much of its gains acts: added, a filter's phase would hollow the sound out around its corners.
    Gains,
    /// Not offered, since a part of it hollows the sound out; one that was set stays as it is.
    Whole,
}

/// Settings of one kind of processor.
pub trait Kind: Sized {
    /// The kind in the trade's word.
    const NAME: &'static str;
    /// Whether it can listen to another sound than the one it works on.
    const TAKES_KEY: bool = false;
    /// Whether it takes gain away by the level, so that a read-out of its reduction says something.
    const REDUCES: bool = false;
    /// Whether it moves a filter by the level; what it does is then counted in semitones of its corner.
    const SWEEPS: bool = false;
    /// Whether it goes by the song's place, so that it works without hearing anything.
    const KEEPS_TIME: bool = false;
    /// What its mix means.
    const MIX: Mix = Mix::Sound;
    /// What one at work follows: the settings, with whatever takes long to work out of them.
    type Course: Words;
    /// What runs.
    type Unit: Unit<Self::Course>;

    /// Whether it follows the tempo.
    fn follows_tempo(&self) -> bool {
        false
    }

    /// Works out what one at work follows. Allocates, and takes its time.
    fn course(&self, place: Place) -> Self::Course;

    /// With a part of its gains, of kinds whose mix is that.
    fn in_part(&self, _part: f64) -> Option<Self> {
        None
    }

    /// Frames by which the sound comes out later.
    fn latency(&self, _sample_rate: u32) -> usize {
        0
    }

    /// Frames for which it rings on after its input has ended, its latency not counted.
    fn tail(&self, _place: Place) -> usize {
        0
    }

    /// Whether both sides of a sound that has them alike come out different.
    fn widens(&self) -> bool {
        false
    }

    /// Linear gain, with its sign, that a small steady signal meets, where that can be said of it.
    fn gain_at_rest(&self) -> f64 {
        1.0
    }
}

/// A processor at work. Everything but [`Unit::new`] and [`Unit::inherit`] is fit for the audio thread: it allocates
/// nothing and is bounded.
pub trait Unit<C>: Sized {
    /// Allocates.
    fn new(course: &C, place: Place) -> Self;

    /// Whether [`Unit::set`] can follow another course; else another unit is needed, which then inherits.
    fn fits(&self, _course: &C, _place: Place) -> bool {
        true
    }

    /// Follows another course of the same latency, without a click.
    fn set(&mut self, course: &C, place: Place);

    /// Takes over what it can of the one whose place it takes.
    fn inherit(&mut self, _old: Self) {}

    /// Processes a block in place, listening to `key` where one is given.
    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>);

    /// The same, of what goes by the song's place; within the block the song neither starts, stops nor jumps.
    fn process_at(&mut self, frames: &mut [Frame], key: Option<&[Frame]>, _now: &Moment) {
        self.process(frames, key);
    }

    /// Remembers sound that is not processed, at a gain.
    fn feed(&mut self, _frames: &[Frame], _gain: f64) {}

    /// Frames of the sound before it that it has to hear when it is switched on; at most [`MEMORY`].
    fn memory(&self) -> usize {
        0
    }

    /// The most that was taken away since the last call, in dB; of what sweeps, how far it went, in semitones.
    fn take_reduction_db(&mut self) -> f64 {
        0.0
    }

    /// Forgets everything it heard.
    fn reset(&mut self);

    /// Forgets what it heard because it was switched off; sound goes on coming in.
    fn fall_idle(&mut self) {
        self.reset();
    }

    /// Whether, after so many frames of silence, silence gives silence and changes nothing in it.
    fn rests(&self, silent: usize) -> bool;

    /// Lets frames of silence pass while it rests.
    fn pass(&mut self, _frames: usize, _now: &Moment) {}
}

/// Frames that a unit can ask for when it is switched on, at most.
pub const MEMORY: usize = 2048;
