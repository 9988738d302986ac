//! What runs from one strip to another: an output, a send, a key.

use super::matrix::Matrix;
use super::plan::{ConnectionPlan, Source};
use super::strip::StripState;
use crate::dsp::Ramp;
use crate::routing::Link;
use crate::units::Frame;

/// A connection at work.
pub(super) struct Connection {
    pub link: Link,
    gain: Ramp<4>,
}

impl Connection {
    pub fn new(plan: &ConnectionPlan) -> Self {
        Connection { link: plan.link, gain: Ramp::at(plan.gain.0) }
    }

    /// Takes over another plan of the same link.
    pub fn update(&mut self, plan: &ConnectionPlan, sample_rate: u32) {
        self.gain.go_to(plan.gain.0, sample_rate);
    }

    /// Carries a block over; `scratch` is room of at least as many frames.
    pub fn run(
        &mut self,
        plan: &ConnectionPlan,
        from: &StripState,
        to: &mut StripState,
        count: usize,
        scratch: &mut [Frame],
    ) {
        let (now, past) = match plan.source {
            Source::Out => (&from.out[..count], &from.out_past),
            Source::AfterChain => (&from.pre[..count], &from.pre_past),
        };
        let target = match plan.slot {
            Some(slot) => match to.slots.get_mut(slot) {
                Some(slot) => &mut slot.key[..count],
                None => return,
            },
            None => &mut to.input[..count],
        };
        if plan.wait == 0 && self.gain.rests_at(Matrix::WHOLE.0) {
            return add(target, now);
        }
        let scratch = &mut scratch[..count];
        past.read(plan.wait, scratch);
        self.gain.run_on(scratch, Matrix::apply);
        add(target, scratch);
    }
}

fn add(to: &mut [Frame], from: &[Frame]) {
    for (t, f) in to.iter_mut().zip(from) {
        t[0] += f[0];
        t[1] += f[1];
    }
}
