//! One strip at work: trim, chain, width, pan, fader, and the levels on the way.

use super::matrix::Matrix;
use super::meter::{METER_VALUES, Meter, SLOT_METER_VALUES, StationMeter};
use super::plan::{SlotSetting, StripPlan};
use super::{Metering, Station};
use crate::dsp::{DelayLine, KeyFilter, Ramp, Seam, Slot};
use crate::units::{Frame, ProcessorId, StripId};

/// Frames of the past that every strip keeps, so that a change of latency finds what it needs.
const PAST: usize = 2048;

/// One processor of a strip, with what it listens to.
pub(super) struct SlotState {
    pub id: ProcessorId,
    slot: Slot,
    latency: usize,
    key_filter: KeyFilter,
    /// What came by the key's connection, then filtered.
    pub key: Vec<Frame>,
    keyed: bool,
    meter: StationMeter,
}

impl SlotState {
    fn new(setting: &SlotSetting, capacity: usize, sample_rate: u32) -> Self {
        let [high, low] = setting.key_corners.unwrap_or_default();
        SlotState {
            id: setting.id,
            slot: Slot::new(&setting.plan, capacity, sample_rate),
            latency: setting.plan.settings.latency(sample_rate),
            key_filter: KeyFilter::new(high, low, sample_rate),
            key: vec![[0.0; 2]; capacity],
            keyed: setting.key_corners.is_some(),
            meter: StationMeter::new(sample_rate),
        }
    }

    /// Takes over other settings; false where another slot is needed.
    fn set(&mut self, setting: &SlotSetting, sample_rate: u32) -> bool {
        if !self.slot.set(&setting.plan) {
            return false;
        }
        self.latency = setting.plan.settings.latency(sample_rate);
        self.keyed = setting.key_corners.is_some();
        if let Some([high, low]) = setting.key_corners {
            self.key_filter.tune(high, low);
        }
        true
    }
}

/// What one strip remembers from block to block.
pub(super) struct StripState {
    pub id: StripId,
    pub input: Vec<Frame>,
    pub dry: Vec<Frame>,
    /// After the chain, before width, pan and fader.
    pub pre: Vec<Frame>,
    pub out: Vec<Frame>,
    /// The past of what voices gave, of `pre` and of `out`.
    voices_past: DelayLine,
    pub pre_past: DelayLine,
    pub out_past: DelayLine,
    pub slots: Vec<SlotState>,
    trim: Ramp<1>,
    post: Ramp<4>,
    meter: Meter,
    input_seam: Seam,
    chain_seam: Seam,
    /// Blocks in which a processor gave something that is not a number.
    pub faults: u32,
}

impl StripState {
    /// * `wait` – the longest that anything waits here or behind, in frames.
    pub fn new(plan: &StripPlan, wait: usize, capacity: usize, sample_rate: u32) -> Self {
        let buffer = || vec![[0.0; 2]; capacity];
        let past = || DelayLine::new(wait.max(PAST) + capacity);
        StripState {
            id: plan.id,
            input: buffer(),
            dry: buffer(),
            pre: buffer(),
            out: buffer(),
            voices_past: past(),
            pre_past: past(),
            out_past: past(),
            slots: plan.slots.iter().map(|s| SlotState::new(s, capacity, sample_rate)).collect(),
            trim: Ramp::at([plan.trim]),
            post: Ramp::at(plan.post.0),
            meter: Meter::new(sample_rate),
            input_seam: Seam::new(sample_rate),
            chain_seam: Seam::new(sample_rate),
            faults: 0,
        }
    }

    /// Takes over another plan; what sounds goes on. `rerouted` where other sounds come in, or later.
    pub fn update(&mut self, plan: &StripPlan, wait: usize, rerouted: bool, capacity: usize, sample_rate: u32) {
        for past in [&mut self.voices_past, &mut self.pre_past, &mut self.out_past] {
            past.make_room(wait.max(PAST) + capacity);
        }
        self.trim.go_to([plan.trim], sample_rate);
        self.post.go_to(plan.post.0, sample_rate);
        if rerouted {
            self.input_seam.arm();
        }
        let before: Vec<_> = self.slots.iter().map(|s| (s.id, s.latency)).collect();
        let mut fresh = false;
        let mut old = std::mem::take(&mut self.slots);
        self.slots = plan
            .slots
            .iter()
            .map(|setting| {
                let kept = old.iter().position(|s| s.id == setting.id).map(|at| old.swap_remove(at));
                if let Some(mut slot) = kept
                    && slot.set(setting, sample_rate)
                {
                    return slot;
                }
                fresh = true;
                SlotState::new(setting, capacity, sample_rate)
            })
            .collect();
        for slot in &mut self.slots {
            if !before.contains(&(slot.id, slot.latency)) {
                slot.slot.prime(|age| self.pre_past.back(age));
            }
        }
        if fresh || before != self.slots.iter().map(|s| (s.id, s.latency)).collect::<Vec<_>>() {
            self.chain_seam.arm();
        }
    }

    /// Passes processors by at a linear gain, and no others.
    pub fn pass_by(&mut self, bypass: &[(ProcessorId, f64)]) {
        for slot in &mut self.slots {
            slot.slot.pass_by(bypass.iter().find(|(id, _)| *id == slot.id).map(|(_, gain)| *gain));
        }
    }

    /// Makes room for what comes in.
    pub fn clear(&mut self, count: usize) {
        self.input[..count].fill([0.0; 2]);
        for slot in self.slots.iter_mut().filter(|s| s.keyed) {
            slot.key[..count].fill([0.0; 2]);
        }
    }

    /// Makes what voices gave wait for keys that come later.
    pub fn delay_voices(&mut self, count: usize, wait: usize) {
        let input = &mut self.input[..count];
        self.voices_past.push(input);
        if wait > 0 {
            self.voices_past.read(wait, input);
        }
    }

    /// * `hear` – gets what sounds at every station.
    pub fn run(&mut self, count: usize, metering: Metering, hear: &mut impl FnMut(Station, &[Frame])) {
        let StripState { input, dry, pre, out, slots, trim, post, meter, input_seam, chain_seam, .. } = self;
        let (input, dry, pre, out) = (&mut input[..count], &mut dry[..count], &mut pre[..count], &mut out[..count]);
        input_seam.run(input);
        trim.run(input, dry, |[gain], [l, r]| [l * gain, r * gain]);
        hear(Station::Source, input);
        hear(Station::Trimmed, dry);
        pre.copy_from_slice(dry);
        for slot in slots.iter_mut() {
            let key = if slot.keyed {
                slot.key_filter.run(&mut slot.key[..count]);
                Some(&slot.key[..count])
            } else {
                None
            };
            slot.slot.process(pre, key);
            if metering == Metering::On {
                slot.meter.take(pre);
            }
            hear(Station::Processor(slot.id), pre);
        }
        if !slots.is_empty() && pre.iter().any(|[l, r]| !(l + r).is_finite()) {
            self.faults += 1;
            pre.fill([0.0; 2]);
            slots.iter_mut().for_each(|s| s.slot.reset());
        }
        chain_seam.run(pre);
        post.run(pre, out, Matrix::apply);
        hear(Station::Out, out);
        self.pre_past.push(pre);
        self.out_past.push(out);
        if metering == Metering::On {
            meter.source.take(input);
            meter.trimmed.take(dry);
            meter.out.take(out);
        }
    }

    /// Values that [`StripState::read_meters`] writes.
    pub fn meter_values(&self) -> usize {
        METER_VALUES + SLOT_METER_VALUES * self.slots.len()
    }

    pub fn read_meters(&mut self, out: &mut [f32]) {
        let Some((stations, slots)) = out.split_at_mut_checked(METER_VALUES) else { return };
        self.meter.read(stations);
        for (slot, values) in self.slots.iter_mut().zip(slots.chunks_exact_mut(SLOT_METER_VALUES)) {
            slot.meter.read(values);
            values[4] = slot.slot.take_reduction_db() as f32;
        }
    }
}
