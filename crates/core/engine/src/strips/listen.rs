//! What somebody listens to instead of main.

use crate::strips::station::Station;
use lane_dsp::DelayLine;
use lane_units::{Frame, ProcessorId, StripId};

/// What of a processor is heard instead of main.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Listened {
    /// What it listens to.
    Key,
    /// What it takes away: its input less its output.
    Taken,
}

/// What a processor takes away while somebody listens to that.
pub(crate) struct TakenAway {
    /// What came in, as much as the processor is late.
    line: DelayLine,
    pub frames: Vec<Frame>,
    pub of: Option<(StripId, ProcessorId)>,
}

impl TakenAway {
    /// Allocates.
    pub fn new(capacity: usize) -> Self {
        TakenAway { line: DelayLine::new(MOST_LATE), frames: vec![[0.0; 2]; capacity], of: None }
    }

    /// Begins anew with another processor, or none.
    pub fn begin(&mut self, of: Option<(StripId, ProcessorId)>) {
        self.of = of;
        self.frames.fill([0.0; 2]);
        self.line.reset();
    }

    /// * `around` – the stations before and behind the processor, and by how much later the one is.
    pub fn hear(&mut self, around: [(Station, usize); 2], station: Station, frames: &[Frame]) {
        let [(before, _), (behind, late)] = around;
        let kept = &mut self.frames[..frames.len()];
        if station == before {
            for (kept, frame) in kept.iter_mut().zip(frames) {
                *kept = self.line.step(*frame, late);
            }
        } else if station == behind {
            for (kept, frame) in kept.iter_mut().zip(frames) {
                *kept = [kept[0] - frame[0], kept[1] - frame[1]];
            }
        }
    }
}

/// Frames that a processor is late at most where somebody listens to what it takes away.
const MOST_LATE: usize = 4096;
