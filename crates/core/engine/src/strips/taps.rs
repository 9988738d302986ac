//! What is read of an engine beside main: taps, how late they are, meters.

use crate::engine::Engine;
use crate::strips::station::{MeterLayout, Station};
use crate::strips::strip::StripState;
use lane_document::session::Tap;
use lane_units::{Frame, ProcessorId, StripId};

impl Engine {
    /// What the last piece sounded like at a tap of a strip; `None` for a strip that is not in the session.
    pub fn tap(&self, strip: StripId, tap: Tap, frames: usize) -> Option<&[Frame]> {
        let state = self.strips.iter().find(|s| s.id == strip)?;
        let (turn, count) = self.last;
        match tap {
            Tap::Dry => state.dry(frames),
            Tap::Channel => state.out.now(turn, count).get(..frames),
        }
    }

    /// Frames after a hit at which it is at a tap of a strip.
    pub fn tap_latency(&self, strip: StripId, tap: Tap) -> u64 {
        let found = self.strips.iter().find(|s| s.id == strip);
        found.map_or(0, |s| if tap == Tap::Dry { s.arrives } else { s.leaves }) as u64
    }

    /// Frames after a hit at which it comes out of main.
    pub fn main_latency(&self) -> usize {
        self.strips.last().map_or(0, |main| main.leaves)
    }

    /// Frames after a hit at which it has arrived everywhere.
    pub fn latency(&self) -> u64 {
        self.strips.iter().map(|s| s.leaves).max().unwrap_or(0) as u64
    }

    /// The stations before and behind a processor, or the first behind trim and the last where none is named, and the
    /// frames by which the one is later than the other. Fit for the audio thread.
    pub fn around(&self, strip: StripId, processor: ProcessorId) -> [(Station, usize); 2] {
        let slots = self.strips.iter().find(|s| s.id == strip).map_or(&[][..], |s| &s.slots);
        let at = slots.iter().position(|s| s.id == processor);
        let before =
            at.and_then(|at| at.checked_sub(1)).map_or(Station::Trimmed, |at| Station::Processor(slots[at].id));
        let late = at.map_or(0, |at| slots[at].slot.latency());
        [(before, 0), (at.map_or(Station::Out, |_| Station::Processor(processor)), late)]
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

    /// Writes [`METER_VALUES`](super::METER_VALUES) values a strip and [`SLOT_METER_VALUES`](super::SLOT_METER_VALUES) for each of its processors, and starts
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
