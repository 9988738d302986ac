//! What is kept of a run: sounds of stations, in time with the hits, each in a place of its own.

use lane_engine::Station;
use lane_units::{Frame, StripId};
use std::collections::HashMap;

/// One station that goes into a recording.
#[derive(Debug, Clone)]
struct Tap {
    /// Which recording it is added to.
    into: usize,
    /// Frames from the start of the run that are left out: how late the sound is, and what is played before.
    skip: usize,
    came: usize,
}

/// Kept of a run, by number.
#[derive(Debug, Clone, Default)]
pub(super) struct Kept {
    taps: Vec<Tap>,
    places: HashMap<(StripId, Station), Vec<usize>>,
    kept: Vec<Vec<[f32; 2]>>,
    room: Vec<usize>,
}

impl Kept {
    /// A new recording of so many frames.
    pub fn open(&mut self, room: usize) -> usize {
        self.kept.push(vec![[0.0; 2]; room]);
        self.room.push(room);
        self.kept.len() - 1
    }

    /// Adds what sounds at a station to a recording, from a frame of the run on.
    pub fn tap(&mut self, into: usize, strip: StripId, station: Station, skip: usize) {
        self.places.entry((strip, station)).or_default().push(self.taps.len());
        self.taps.push(Tap { into, skip, came: 0 });
    }

    /// What sounds at a station next.
    pub fn hear(&mut self, strip: StripId, station: Station, frames: &[Frame]) {
        let Some(places) = self.places.get(&(strip, station)) else { return };
        for at in places {
            let Tap { into, skip, came } = &mut self.taps[*at];
            let left_out = skip.saturating_sub(*came).min(frames.len());
            let from = (*came + left_out).saturating_sub(*skip);
            *came += frames.len();
            let to = self.kept[*into].iter_mut().skip(from);
            to.zip(&frames[left_out..]).for_each(|(to, x)| *to = [to[0] + x[0] as f32, to[1] + x[1] as f32]);
        }
    }

    /// What was recorded.
    pub fn of(&self, at: usize) -> &[[f32; 2]] {
        &self.kept[at]
    }

    /// The latest frame of the run that anything is kept of.
    pub fn until(&self) -> usize {
        self.taps.iter().map(|t| t.skip + self.room[t.into]).max().unwrap_or(0)
    }
}
