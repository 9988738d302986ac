//! A new structure while the old one plays: what is new is made piece by piece, over as many blocks as it takes.

use crate::strips::connection::{Connection, Source};
use crate::strips::strip::{KeyPlan, SlotState, StripState};
use crate::time::clock::{PlannedBy, Weighing};
use crate::time::score::Lead;
use crate::voices::player::VoicePlayer;
use lane_dsp::{Ramp, Slot, SlotCourse};
use lane_units::{ProcessorId, Reader, StripId, VoiceId};

/// Frames of the past that every strip keeps at least, so that a change of latency finds what it needs.
const PAST: usize = 2048 + 128;

/// What it takes to make a strip or a processor, in words read.
const MAKING: usize = 8192;

/// Words that are followed within one block at most.
pub(crate) const STEP: usize = 8192;

/// What plays now, as what is made beside it has to know it.
pub(crate) struct Standing<'a> {
    pub strips: &'a [StripState],
    /// Frames of the past that it keeps.
    pub length: usize,
    pub capacity: usize,
    pub sample_rate: u32,
}

/// A processor as it will stand.
pub(crate) struct NextSlot {
    pub id: ProcessorId,
    /// Where it stands now.
    pub old: Option<usize>,
    /// Made where it is new or cannot follow.
    pub fresh: Option<SlotState>,
    pub key: KeyPlan,
    pub course: SlotCourse,
}

/// A strip as it will stand.
pub(crate) struct NextStrip {
    pub old: Option<usize>,
    pub fresh: Option<StripState>,
    pub rerouted: bool,
    pub arrives: usize,
    pub leaves: usize,
    pub trim: f64,
    pub post: [f64; 4],
    pub slots: Vec<NextSlot>,
    /// Room for the processors.
    pub room: Vec<SlotState>,
    /// Processors that are still to be read.
    pub left: usize,
}

pub(crate) struct NextConnection {
    pub old: Option<usize>,
    pub gain: [f64; 4],
    pub made: Connection,
}

pub(crate) struct NextVoice {
    pub old: Option<usize>,
    pub fresh: Option<(VoicePlayer, Lead)>,
    pub strip: usize,
    pub choke_set: Option<u8>,
}

/// What is made so far.
pub(crate) struct Next {
    pub length: usize,
    /// Strips, connections and voices that are still to be read.
    pub left: [usize; 3],
    pub strips: Vec<NextStrip>,
    pub connections: Vec<NextConnection>,
    pub voices: Vec<NextVoice>,
    pub rooms: (Vec<StripState>, Vec<Connection>, Vec<VoicePlayer>, Vec<Lead>),
}

/// What was let go of and is still to be freed.
#[allow(dead_code, reason = "it is only dropped")]
pub(crate) enum Gone {
    Strip(StripState),
    Slot(SlotState),
    Voice(VoicePlayer, Lead),
    Next(Box<Next>),
}

fn index(word: f64) -> Option<usize> {
    (word >= 0.0).then_some(word as usize)
}

/// How it hears its key, and what it follows.
pub(crate) fn read_slot(words: &mut Reader) -> Option<(KeyPlan, SlotCourse)> {
    let keyed = words.flag()?;
    let corners = words.array()?;
    let [even, least] = words.array()?;
    let weighing = Weighing { even, least: least as u8 };
    let mut planned = PlannedBy::new();
    for _ in 0..words.count()? {
        planned.try_push(words.count()? as u16).ok()?;
    }
    Some((KeyPlan { corners: keyed.then_some(corners), weighing, planned }, SlotCourse::read(words)?))
}

impl Next {
    pub fn begin(words: &mut Reader, capacity: usize) -> Option<Self> {
        let wait = words.count()?;
        let [strips, connections, voices] = words.array::<3>()?.map(|n| n as usize);
        // A block has to fit in beside what waits.
        let length = (wait.max(PAST) + capacity).next_power_of_two();
        Some(Next {
            length,
            left: [strips, connections, voices],
            strips: Vec::with_capacity(strips),
            connections: Vec::with_capacity(connections),
            voices: Vec::with_capacity(voices),
            rooms: (
                Vec::with_capacity(strips),
                Vec::with_capacity(connections),
                Vec::with_capacity(voices),
                Vec::with_capacity(voices),
            ),
        })
    }

    /// Reads and makes the next thing; gives what it took, none where the words are not whole. Allocates.
    pub fn step(&mut self, words: &mut Reader, standing: &Standing) -> Option<usize> {
        if let Some(strip) = self.strips.last_mut()
            && strip.left > 0
        {
            strip.left -= 1;
            return strip.read_slot(words, standing);
        }
        let [strips, connections, voices] = &mut self.left;
        if *strips > 0 {
            *strips -= 1;
            let (strip, cost) = NextStrip::read(words, self.length.max(standing.length), standing)?;
            self.strips.push(strip);
            Some(cost)
        } else if *connections > 0 {
            *connections -= 1;
            let [old, from, to, slot, source, wait] = words.array()?;
            let gain = words.array()?;
            let source = if source != 0.0 { Source::AfterChain } else { Source::Out };
            let (from, to, wait) = (from as usize, to as usize, wait as usize);
            let made = Connection { gain: Ramp::at(gain), from, to, slot: index(slot), source, wait };
            self.connections.push(NextConnection { old: index(old), gain, made });
            Some(16)
        } else if *voices > 0 {
            *voices -= 1;
            let [id, old, strip, choke] = words.array()?;
            let old = index(old);
            let fresh = || (VoicePlayer::new(VoiceId(id as u32), standing.sample_rate), Lead::new());
            let fresh = if old.is_none() { Some(fresh()) } else { None };
            let cost = if fresh.is_some() { MAKING / 16 } else { 8 };
            let choke_set = index(choke).map(|set| set as u8);
            self.voices.push(NextVoice { old, fresh, strip: strip as usize, choke_set });
            Some(cost)
        } else {
            None
        }
    }

    /// Whether all of it is read and made.
    pub fn is_whole(&self) -> bool {
        self.left == [0; 3] && self.strips.last().is_none_or(|s| s.left == 0)
    }
}

impl NextStrip {
    fn read(words: &mut Reader, length: usize, standing: &Standing) -> Option<(Self, usize)> {
        let [id, old, rerouted, takes_voices, arrives, leaves, trim] = words.array()?;
        let post = words.array()?;
        let slots = words.count()?;
        let kept = index(old)
            .filter(|at| standing.strips.get(*at).is_some_and(|s| s.voices.is_some() == (takes_voices != 0.0)));
        let fresh = kept.is_none().then(|| {
            StripState::new(StripId(id as u32), takes_voices != 0.0, length, standing.capacity, standing.sample_rate)
        });
        let cost = if fresh.is_some() { MAKING } else { 16 };
        let strip = NextStrip {
            old: kept,
            fresh,
            rerouted: rerouted != 0.0,
            arrives: arrives as usize,
            leaves: leaves as usize,
            trim,
            post,
            slots: Vec::with_capacity(slots),
            room: Vec::with_capacity(slots),
            left: slots,
        };
        Some((strip, cost))
    }

    fn read_slot(&mut self, words: &mut Reader, standing: &Standing) -> Option<usize> {
        let id = ProcessorId(words.count()? as u32);
        let old = index(words.number()?);
        let size = words.count()?;
        let (key, course) = read_slot(&mut words.take(size)?)?;
        let kept = self.old.zip(old).and_then(|(strip, at)| standing.strips.get(strip)?.slots.get(at));
        let follows = kept.is_some_and(|s| s.takes(key.corners) && s.slot.fits(&course));
        let fresh = || {
            SlotState::new(
                id,
                Slot::new(&course, standing.capacity),
                key.corners,
                standing.capacity,
                standing.sample_rate,
            )
        };
        let fresh = if follows { None } else { Some(fresh()) };
        let cost = if fresh.is_some() { MAKING } else { size };
        self.slots.push(NextSlot { id, old: kept.and(old), fresh, key, course });
        Some(cost)
    }
}
