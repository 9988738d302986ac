//! One strip at work: trim, chain, width, pan, fader, and the levels on the way.

use crate::strips::connection::Meeting;
use crate::strips::matrix::Matrix;
use crate::strips::meter::{METER_VALUES, Meter, SLOT_METER_VALUES, StationMeter};
use crate::strips::ring::{Ring, Turn};
use crate::strips::station::{Metering, Station};
use crate::time::clock::{Clock, Planned, PlannedBy, Span, Weighing};
use crate::time::score::Grid;
use crate::time::score::Lead;
use lane_dsp::{KeyFilter, Moment, Ramp, Seam, Silent, Slot, Starts, all_silent};
use lane_units::{Frame, ProcessorId, StripId};

/// The time of a block, for processors that keep it.
#[derive(Clone, Copy)]
pub(crate) struct Time<'a> {
    pub clock: &'a Clock,
    pub grid: &'a Grid,
    pub leads: &'a [Lead],
    /// Hits at and after this frame are not played.
    pub hits_until: u64,
}

/// What a processor that keeps time goes by.
#[derive(Debug, Clone)]
pub(crate) struct Keeping {
    /// The strips whose voices plan the hits of its key; none where they have to be heard.
    strips: PlannedBy,
    hits: Planned,
}

impl Keeping {
    /// Allocates.
    pub fn new() -> Self {
        Keeping { strips: PlannedBy::new(), hits: Planned::new() }
    }

    fn starts(&mut self, time: Time, span: Span, keyed: bool, least: u8) -> Starts<'_> {
        match self.strips.as_slice() {
            _ if !keyed => Starts::Beat,
            [] => Starts::Key,
            _ if !span.playing => Starts::Hits(&[]),
            strips => {
                let hits = self.hits.around(time.leads, strips, time.grid, span, least);
                Starts::Hits(&hits[..hits.partition_point(|hit| hit.at < time.hits_until)])
            }
        }
    }

    /// What is heard of a key whose hits are known.
    fn weigh(&mut self, time: Time, span: Span, weighing: Weighing, key: &mut [Frame]) {
        if span.playing && !self.strips.is_empty() {
            let hits = self.hits.around(time.leads, &self.strips, time.grid, span, 0);
            weighing.weigh(hits, span.position, key);
        }
    }

    /// Other voices plan its hits.
    pub fn follow(&mut self, strips: &PlannedBy) {
        self.strips = strips.clone();
        self.forget();
    }

    /// The hits are others.
    pub fn forget(&mut self) {
        self.hits.forget();
    }
}

/// How a processor hears its key.
#[derive(Debug, Clone)]
pub(crate) struct KeyPlan {
    /// Of its filter in Hz; none where it listens to its own input.
    pub corners: Option<[f64; 2]>,
    pub weighing: Weighing,
    pub planned: PlannedBy,
}

/// One processor of a strip, with what it listens to.
pub(crate) struct SlotState {
    pub id: ProcessorId,
    pub slot: Slot,
    key_filter: KeyFilter,
    /// What came by the key's connection, then filtered; none where it listens to its own input.
    pub key: Option<Meeting>,
    /// How hits of its key are heard.
    weighing: Weighing,
    /// Where it keeps time, or has a key.
    pub keeping: Option<Box<Keeping>>,
    meter: StationMeter,
}

impl SlotState {
    /// Allocates.
    ///
    /// * `corners` – of its key's filter in Hz; none where it listens to its own input.
    pub fn new(id: ProcessorId, slot: Slot, corners: Option<[f64; 2]>, capacity: usize, sample_rate: u32) -> Self {
        let [high, low] = corners.unwrap_or_default();
        let keeping = (slot.keeps_time() || corners.is_some()).then(|| Box::new(Keeping::new()));
        SlotState {
            id,
            slot,
            keeping,
            weighing: Weighing::WHOLE,
            key_filter: KeyFilter::new(high, low, sample_rate),
            key: corners.map(|_| Meeting::new(capacity)),
            meter: StationMeter::new(sample_rate),
        }
    }

    /// Takes over what it can of the one whose place it takes.
    pub fn inherit(&mut self, old: SlotState) {
        self.slot.inherit(old.slot);
        (self.key_filter, self.meter) = (old.key_filter, old.meter);
    }

    /// Passes it by where it is among those, and not otherwise.
    pub fn pass_by(&mut self, bypass: &[(ProcessorId, f64)]) {
        self.slot.pass_by(bypass.iter().find(|(id, _)| *id == self.id).map(|(_, gain)| *gain));
    }

    /// Whether its key's filter can go to other corners.
    pub fn takes(&self, corners: Option<[f64; 2]>) -> bool {
        self.key.is_some() == corners.is_some()
    }

    /// Follows another filter of its key, another way to hear its hits, and voices of other strips that plan those.
    pub fn tune(&mut self, plan: &KeyPlan) {
        self.weighing = plan.weighing;
        if let Some(keeping) = &mut self.keeping {
            keeping.follow(&plan.planned);
        }
        if let Some([high, low]) = plan.corners {
            self.key_filter.tune(high, low);
        }
    }

    /// * `late` – frames after a hit at which its sound is here.
    fn run(
        &mut self,
        frames: &mut [Frame],
        silent: bool,
        metering: Metering,
        awake: bool,
        (time, late): (Time, usize),
    ) -> bool {
        let count = frames.len();
        let mut key_silent = true;
        if let Some(key) = &mut self.key {
            key_silent = key.silent && self.key_filter.rests() && !awake;
            if !key_silent {
                if key.silent {
                    key.frames[..count].fill([0.0; 2]);
                }
                self.key_filter.run(&mut key.frames[..count]);
                if self.weighing != Weighing::WHOLE
                    && !self.slot.keeps_time()
                    && let Some(keeping) = &mut self.keeping
                {
                    let mut at = 0;
                    for span in time.clock.spans(late as u64, count) {
                        let piece = at..at + span.frames;
                        at = piece.end;
                        keeping.weigh(time, span, self.weighing, &mut key.frames[piece]);
                    }
                }
            } else {
                key.frames[..count].fill([0.0; 2]);
            }
        }
        let key = self.key.as_ref().map(|k| &k.frames[..count]);
        let known = if awake { Silent::NO } else { Silent { sound: silent, key: key_silent } };
        let least = self.weighing.least;
        let silent = match &mut self.keeping {
            Some(keeping) if self.slot.keeps_time() => {
                let (mut at, mut silent) = (0, true);
                for span in time.clock.spans(late as u64, count) {
                    let piece = at..at + span.frames;
                    at = piece.end;
                    let starts = keeping.starts(time, span, key.is_some(), least);
                    let now = Moment { playing: span.playing, position: span.position, starts };
                    let key = key.map(|k| &k[piece.clone()]);
                    silent &= self.slot.process_at(&mut frames[piece], key, known, &now);
                }
                silent
            }
            _ => self.slot.process(frames, key, known),
        };
        if metering == Metering::On {
            self.meter.take_known(frames, silent);
        }
        silent
    }
}

/// What one strip remembers from block to block.
pub(crate) struct StripState {
    pub id: StripId,
    /// What voices gave; none where it takes none.
    pub voices: Option<Ring>,
    /// Frames that voices wait for what comes later.
    pub arrives: usize,
    /// Frames after a hit at which it leaves the chain.
    pub leaves: usize,
    pub input: Meeting,
    /// After trim, where it is to be had.
    dry: Option<Vec<Frame>>,
    /// After the chain, before width, pan and fader.
    pub pre: Ring,
    pub out: Ring,
    pub slots: Vec<SlotState>,
    pub trim: Ramp<1>,
    pub post: Ramp<4>,
    meter: Meter,
    pub input_seam: Seam,
    pub chain_seam: Seam,
    /// Blocks in which a processor gave something that is not a number.
    pub faults: u32,
    /// Whether silence is computed like sound, to be compared.
    pub awake: bool,
}

impl StripState {
    /// Without a processor. Allocates.
    ///
    /// * `length` – of its rings in frames.
    pub fn new(id: StripId, takes_voices: bool, length: usize, capacity: usize, sample_rate: u32) -> Self {
        StripState {
            id,
            voices: takes_voices.then(|| Ring::new(length)),
            arrives: 0,
            leaves: 0,
            input: Meeting::new(capacity),
            dry: None,
            pre: Ring::new(length),
            out: Ring::new(length),
            slots: Vec::new(),
            trim: Ramp::at([1.0]),
            post: Ramp::at(Matrix::WHOLE.0),
            meter: Meter::new(sample_rate),
            input_seam: Seam::new(sample_rate),
            chain_seam: Seam::new(sample_rate),
            faults: 0,
            awake: false,
        }
    }

    /// Keeps what is after trim. Allocates.
    pub fn keep_dry(&mut self, capacity: usize) {
        self.dry.get_or_insert_with(|| vec![[0.0; 2]; capacity]);
    }

    /// The last block after trim, where it is kept.
    pub fn dry(&self, count: usize) -> Option<&[Frame]> {
        self.dry.as_ref()?.get(..count)
    }

    /// Holds what shorter rings held.
    pub fn lengthen(&mut self, turn: Turn, length: usize) {
        let rings = [Some(&mut self.pre), Some(&mut self.out), self.voices.as_mut()];
        for ring in rings.into_iter().flatten() {
            let mut longer = Ring::new(length);
            longer.take_over(ring, turn);
            *ring = longer;
        }
    }

    /// Passes processors by at a linear gain, and no others.
    pub fn pass_by(&mut self, bypass: &[(ProcessorId, f64)]) {
        self.slots.iter_mut().for_each(|s| s.pass_by(bypass));
    }

    /// Lets nothing in before the next block.
    pub fn begin(&mut self) {
        self.input.silent = true;
        for key in self.slots.iter_mut().filter_map(|s| s.key.as_mut()) {
            key.silent = true;
        }
    }

    /// Puts in what voices gave, once what comes later can be with it.
    pub fn take_voices(&mut self, turn: Turn, count: usize) {
        if let Some(voices) = &self.voices
            && !voices.is_silent(self.arrives, count)
        {
            self.input.add(voices.past(turn, self.arrives, count), |frame| frame);
        }
    }

    /// * `hear` – gets what sounds at every station.
    pub fn run(
        &mut self,
        turn: Turn,
        count: usize,
        metering: Metering,
        time: Time,
        hear: &mut impl FnMut(Station, &[Frame]),
    ) {
        let mut late = self.arrives;
        let StripState { input, dry, pre, out, slots, trim, post, meter, input_seam, chain_seam, awake, .. } = self;
        let awake = *awake;
        let mut silent = input.silent && !trim.moves() && input_seam.rests() && !awake;
        if silent {
            pre.silence(turn, count);
            hear(Station::Source, pre.now(turn, count));
            if metering == Metering::On {
                meter.source.pass(count);
            }
        } else {
            if input.silent {
                input.frames[..count].fill([0.0; 2]);
            }
            let source = &mut input.frames[..count];
            input_seam.run(source);
            hear(Station::Source, source);
            if metering == Metering::On {
                meter.source.take(source);
            }
            let trimmed = pre.block(turn, count);
            match trim.target() {
                [1.0] if !trim.moves() => trimmed.copy_from_slice(source),
                _ => trim.run(source, trimmed, |[gain], [l, r]| [l * gain, r * gain]),
            }
        }
        let frames = pre.block(turn, count);
        hear(Station::Trimmed, frames);
        if metering == Metering::On {
            meter.trimmed.take_known(frames, silent);
        }
        if let Some(dry) = dry {
            dry[..count].copy_from_slice(frames);
        }
        for slot in slots.iter_mut() {
            silent = slot.run(frames, silent, metering, awake, (time, late));
            late += slot.slot.latency();
            hear(Station::Processor(slot.id), frames);
            if let Some(key) = &slot.key {
                hear(Station::Key(slot.id), &key.frames[..count]);
            }
        }
        if !silent && !slots.is_empty() && frames.iter().any(|[l, r]| !(l + r).is_finite()) {
            self.faults += 1;
            frames.fill([0.0; 2]);
            slots.iter_mut().for_each(|s| s.slot.reset());
        }
        if !(silent && chain_seam.rests()) {
            chain_seam.run(frames);
            silent = all_silent(frames) && !awake;
        }
        let muted = post.rests_at(Matrix::NOTHING.0);
        if muted || (silent && !post.moves()) {
            out.silence(turn, count);
            out.made(count, true);
        } else {
            let to = out.block(turn, count);
            match post.target() {
                [1.0, 0.0, 0.0, 1.0] if !post.moves() => to.copy_from_slice(frames),
                [l, 0.0, 0.0, r] if !post.moves() => {
                    to.iter_mut().zip(frames.iter()).for_each(|(to, f)| *to = [l * f[0], r * f[1]]);
                }
                _ => post.run(frames, to, Matrix::apply),
            }
            out.made(count, silent);
        }
        pre.made(count, silent);
        hear(Station::Out, out.now(turn, count));
        if metering == Metering::On {
            meter.out.take_known(out.now(turn, count), silent || muted);
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

    /// Takes what sounded before as heard by a processor.
    pub fn prime(&mut self, at: usize, turn: Turn) {
        let StripState { slots, pre, .. } = self;
        slots[at].slot.prime(|age| pre.back(turn, age));
    }
}
