//! A new structure while the old one plays: what is new is made piece by piece, over as many blocks as it takes.

use super::clock::{PlannedBy, Weighing};
use super::connection::{Connection, Source};
use super::player::VoicePlayer;
use super::ring::Turn;
use super::strip::{KeyPlan, SlotState, StripState};
use super::{Engine, Lead};
use crate::dsp::{Ramp, Slot, SlotCourse};
use crate::units::{ProcessorId, Reader, StripId, VoiceId};

/// Frames of the past that every strip keeps at least, so that a change of latency finds what it needs.
const PAST: usize = 2048 + 128;

/// What it takes to make a strip or a processor, in words read.
const MAKING: usize = 8192;

/// A processor as it will stand.
struct NextSlot {
    id: ProcessorId,
    /// Where it stands now.
    old: Option<usize>,
    /// Made where it is new or cannot follow.
    fresh: Option<SlotState>,
    key: KeyPlan,
    course: SlotCourse,
}

/// A strip as it will stand.
struct NextStrip {
    old: Option<usize>,
    fresh: Option<StripState>,
    rerouted: bool,
    arrives: usize,
    leaves: usize,
    trim: f64,
    post: [f64; 4],
    slots: Vec<NextSlot>,
    /// Room for the processors.
    room: Vec<SlotState>,
    /// Processors that are still to be read.
    left: usize,
}

struct NextConnection {
    old: Option<usize>,
    gain: [f64; 4],
    made: Connection,
}

struct NextVoice {
    old: Option<usize>,
    fresh: Option<(VoicePlayer, Lead)>,
    strip: usize,
    choke_set: Option<u8>,
}

/// What is made so far.
pub(super) struct Next {
    length: usize,
    /// Strips, connections and voices that are still to be read.
    left: [usize; 3],
    strips: Vec<NextStrip>,
    connections: Vec<NextConnection>,
    voices: Vec<NextVoice>,
    rooms: (Vec<StripState>, Vec<Connection>, Vec<VoicePlayer>, Vec<Lead>),
}

/// What was let go of and is still to be freed.
#[allow(dead_code, reason = "it is only dropped")]
pub(super) enum Gone {
    Strip(StripState),
    Slot(SlotState),
    Voice(VoicePlayer, Lead),
    Next(Box<Next>),
}

fn index(word: f64) -> Option<usize> {
    (word >= 0.0).then_some(word as usize)
}

/// How it hears its key, and what it follows.
pub(super) fn read_slot(words: &mut Reader) -> Option<(KeyPlan, SlotCourse)> {
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
    pub fn step(&mut self, words: &mut Reader, engine: &Engine) -> Option<usize> {
        if let Some(strip) = self.strips.last_mut()
            && strip.left > 0
        {
            strip.left -= 1;
            return strip.read_slot(words, engine);
        }
        let [strips, connections, voices] = &mut self.left;
        if *strips > 0 {
            *strips -= 1;
            let (strip, cost) = NextStrip::read(words, self.length.max(engine.turn.length), engine)?;
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
            let fresh = || (VoicePlayer::new(VoiceId(id as u32), engine.sample_rate), Lead::new());
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
    fn read(words: &mut Reader, length: usize, engine: &Engine) -> Option<(Self, usize)> {
        let [id, old, rerouted, takes_voices, arrives, leaves, trim] = words.array()?;
        let post = words.array()?;
        let slots = words.count()?;
        let kept =
            index(old).filter(|at| engine.strips.get(*at).is_some_and(|s| s.voices.is_some() == (takes_voices != 0.0)));
        let fresh = kept.is_none().then(|| {
            StripState::new(StripId(id as u32), takes_voices != 0.0, length, engine.capacity, engine.sample_rate)
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

    fn read_slot(&mut self, words: &mut Reader, engine: &Engine) -> Option<usize> {
        let id = ProcessorId(words.count()? as u32);
        let old = index(words.number()?);
        let size = words.count()?;
        let (key, course) = read_slot(&mut words.take(size)?)?;
        let standing = self.old.zip(old).and_then(|(strip, at)| engine.strips.get(strip)?.slots.get(at));
        let follows = standing.is_some_and(|s| s.takes(key.corners) && s.slot.fits(&course));
        let fresh = || {
            SlotState::new(id, Slot::new(&course, engine.capacity), key.corners, engine.capacity, engine.sample_rate)
        };
        let fresh = if follows { None } else { Some(fresh()) };
        let cost = if fresh.is_some() { MAKING } else { size };
        self.slots.push(NextSlot { id, old: standing.and(old), fresh, key, course });
        Some(cost)
    }
}

impl Engine {
    /// Puts a new structure in the place of the old one. What sounds goes on; gains move without a click.
    pub(super) fn stand_in(&mut self, mut next: Box<Next>) {
        if next.length > self.turn.length {
            // Longer waits than ever: the past moves into longer rings.
            self.strips.iter_mut().for_each(|s| s.lengthen(self.turn, next.length));
            self.turn = Turn { length: next.length, at: 0 };
        }
        let (strips, connections, players, leads) = std::mem::take(&mut next.rooms);
        let old_strips = std::mem::replace(&mut self.strips, strips);
        let mut old_strips: Vec<Option<StripState>> = old_strips.into_iter().map(Some).collect();
        for strip in &mut next.strips {
            let (mut state, kept) = match strip.old.and_then(|at| old_strips[at].take()) {
                Some(state) => (state, true),
                None => match strip.fresh.take() {
                    Some(state) => (state, false),
                    None => continue,
                },
            };
            self.place_strip(strip, &mut state, kept);
            self.strips.push(state);
        }
        self.gone.extend(old_strips.into_iter().flatten().map(Gone::Strip));
        let old_connections = std::mem::replace(&mut self.connections, connections);
        for connection in next.connections.drain(..) {
            let NextConnection { old, gain, mut made } = connection;
            if let Some(old) = old.and_then(|at| old_connections.get(at)) {
                made.gain = old.gain.clone();
                made.gain.go_to(gain, self.sample_rate);
            }
            self.connections.push(made);
        }
        let old_players = std::mem::replace(&mut self.players, players);
        let old_leads = std::mem::replace(&mut self.leads, leads);
        let mut old_voices: Vec<Option<(VoicePlayer, Lead)>> =
            old_players.into_iter().zip(old_leads).map(Some).collect();
        for voice in &mut next.voices {
            let kept = voice.old.and_then(|at| old_voices[at].take());
            let Some((player, mut lead)) = kept.or_else(|| voice.fresh.take()) else { continue };
            (lead.strip, lead.choke_set) = (voice.strip, voice.choke_set);
            self.players.push(player);
            self.leads.push(lead);
        }
        self.gone.extend(old_voices.into_iter().flatten().map(|(player, lead)| Gone::Voice(player, lead)));
        self.gone.push(Gone::Next(next));
        let bypass = std::mem::take(&mut self.bypass);
        self.strips.iter_mut().for_each(|s| s.pass_by(&bypass));
        self.bypass = bypass;
    }

    fn place_strip(&mut self, strip: &mut NextStrip, state: &mut StripState, kept: bool) {
        (state.arrives, state.leaves) = (strip.arrives, strip.leaves);
        if kept {
            state.trim.go_to([strip.trim], self.sample_rate);
            state.post.go_to(strip.post, self.sample_rate);
            if strip.rerouted {
                state.input_seam.arm();
            }
        } else {
            (state.trim, state.post) = (Ramp::at([strip.trim]), Ramp::at(strip.post));
        }
        let same =
            |slot: &SlotState, next: &NextSlot| (slot.id, slot.slot.latency()) == (next.id, next.course.latency());
        let mut moved = state.slots.len() != strip.slots.len()
            || !state.slots.iter().zip(&strip.slots).all(|(slot, next)| same(slot, next));
        let old = std::mem::replace(&mut state.slots, std::mem::take(&mut strip.room));
        let mut old: Vec<Option<SlotState>> = old.into_iter().map(Some).collect();
        for next in &mut strip.slots {
            let standing = next.old.and_then(|at| old.get_mut(at)?.take());
            let (slot, prime) = match (standing, next.fresh.take()) {
                (Some(mut slot), None) => {
                    slot.slot.set(&next.course);
                    slot.tune(&next.key);
                    (slot, false)
                }
                (Some(old), Some(mut fresh)) => {
                    let late = old.slot.latency() == fresh.slot.latency();
                    moved = true;
                    fresh.inherit(old);
                    fresh.tune(&next.key);
                    (fresh, !late)
                }
                (None, Some(mut fresh)) => {
                    fresh.tune(&next.key);
                    (fresh, true)
                }
                (None, None) => continue,
            };
            state.slots.push(slot);
            if prime && kept {
                state.prime(state.slots.len() - 1, self.turn);
            }
        }
        self.gone.extend(old.into_iter().flatten().map(Gone::Slot));
        if moved && kept {
            state.chain_seam.arm();
        }
    }
}
