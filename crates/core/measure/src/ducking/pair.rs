//! A ducker's key and its target as they meet: what they share, and how loud they are together, with it and without.

use super::overlap::{BANDS, Cells, Overlap, edges_hz, overlap};
use super::trace::Trace;
use crate::run::BLOCK;
use lane_analysis::LoudnessMeter;
use lane_document::routing::Latencies;
use lane_document::session::{Key, Session, Strip, StripKind};
use lane_dsp::{Settings, Silent, Slot, SlotPlan};
use lane_engine::{Matrix, Plan};
use lane_units::{Frame, StripId, gain_to_db};
use serde::Serialize;

/// Seconds that are held against each other at most.
pub(super) const MOST_S: u64 = 10;

/// Two sounds in one band.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PairBand {
    /// Lower end in Hz.
    pub from_hz: f64,
    /// Upper end in Hz.
    pub to_hz: f64,
    /// The key's mean power in dBFS, -120 for silence.
    pub key_dbfs: f64,
    /// The target's without the ducker.
    pub target_dbfs: f64,
    /// The target's with it.
    pub ducked_dbfs: f64,
    /// Of all that they share without the ducker, what lies here, in per cent.
    pub shared_percent: f64,
}

/// What a ducker's key and its target are to each other; of two values, the first is without the ducker.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PairFigures {
    /// Per cent of the target's energy that lies where the key is near it; nothing where they never sound together.
    pub overlap_percent: Option<[f64; 2]>,
    /// Of both together, in dBFS.
    pub peak_dbfs: [f64; 2],
    /// Of both together, in LUFS.
    pub loudness_lufs: [f64; 2],
    /// Of the key alone, in dBFS; -150 where it is never heard, as a trigger.
    pub key_peak_dbfs: f64,
    /// What is lost of the target's energy, in dB.
    pub lost_db: f64,
    /// Band by band, from low to high.
    pub bands: Vec<PairBand>,
    /// The band that holds most of what they share, in Hz; nothing where none does.
    pub shared_hz: Option<[f64; 2]>,
    /// Seconds from the start of the stretch that this is about.
    pub seconds: f64,
    /// Whether what comes after the ducker listens to something else, so that the figures with it are near alone.
    pub near: bool,
}

/// A band with less of what is shared says nothing of where that lies, in per cent.
const SHARED_PERCENT: f64 = 10.0;

/// From the first band that holds much of what is shared to the last.
fn shared_hz(bands: &[PairBand]) -> Option<[f64; 2]> {
    let mut much = bands.iter().filter(|b| b.shared_percent >= SHARED_PERCENT);
    let first = much.next()?;
    Some([first.from_hz, much.next_back().unwrap_or(first).to_hz])
}

/// What is kept of a pair while it is heard.
pub(super) struct Pair {
    keys: Vec<Heard>,
    /// The sum of all keys after their faders, in time with the hits; what comes after the target's is worked out.
    key: Vec<Frame>,
    /// Of the target, what comes after the ducker.
    rest: Vec<SlotPlan>,
    post: Matrix,
    leaves: usize,
    keyed_after: bool,
    frames: usize,
    rate: u32,
}

/// A strip that a key hears.
struct Heard {
    strip: StripId,
    /// Frames by which it comes late, and those that came.
    leaves: usize,
    came: usize,
}

impl Pair {
    /// * `session` – what is played.
    /// * `length` – frames of the stretch.
    pub fn new(session: &Session, latencies: &Latencies, strip: &Strip, at: usize, key: Key, length: u64) -> Self {
        let rate = session.header.sample_rate;
        let plan = Plan::new(session);
        let post = plan.strips.iter().find(|s| s.id == strip.id).map_or(Matrix::NOTHING, |s| s.post);
        let after = strip.chain[at + 1..].iter();
        Pair {
            keys: key
                .sources()
                // Nobody hears a trigger.
                .filter(|id| session.strip(*id).is_some_and(|strip| strip.kind != StripKind::Trigger))
                .map(|strip| Heard { strip, leaves: latencies.of(strip).leaves as usize, came: 0 })
                .collect(),
            key: Vec::new(),
            rest: after.clone().map(|p| p.slot(&session.header)).collect(),
            post,
            leaves: latencies.of(strip.id).leaves as usize,
            keyed_after: after.clone().any(|p| p.on && p.key.is_some()),
            frames: length.min(MOST_S * u64::from(rate)) as usize,
            rate,
        }
    }

    /// Frames that have to be kept of everything, so that none is missing.
    pub fn room(&self) -> usize {
        self.frames + self.keys.iter().fold(self.leaves, |most, key| most.max(key.leaves))
    }

    /// The key in time with the hits.
    pub fn key(&self) -> &[Frame] {
        &self.key
    }

    /// Takes what comes after the fader of a strip.
    pub fn hear(&mut self, strip: StripId, frames: &[Frame]) {
        let Some(heard) = self.keys.iter_mut().find(|key| key.strip == strip) else { return };
        let early = heard.leaves.saturating_sub(heard.came).min(frames.len());
        let from = (heard.came + early).saturating_sub(heard.leaves);
        heard.came += frames.len();
        let count = (frames.len() - early).min(self.frames.saturating_sub(from));
        self.key.resize(self.key.len().max(from + count), [0.0; 2]);
        for (sum, frame) in self.key[from..from + count].iter_mut().zip(&frames[early..]) {
            *sum = [sum[0] + frame[0], sum[1] + frame[1]];
        }
    }

    fn in_time<'a>(&self, frames: &'a [Frame], late: usize) -> &'a [Frame] {
        let from = late.min(frames.len());
        &frames[from..(from + self.frames).min(frames.len())]
    }

    /// The target after its fader in time with the hits, with the ducker at some settings, or without it.
    pub fn target(&self, trace: &Trace, settings: Option<&Settings>) -> Vec<Frame> {
        let mut sound = trace.sound_frames.clone();
        let plan = SlotPlan {
            on: settings.is_some(),
            settings: settings.cloned().unwrap_or_else(|| trace.plan.settings.clone()),
            ..trace.plan.clone()
        };
        let mut slots: Vec<Slot> = self.rest.iter().map(|plan| Slot::new(&plan.course(self.rate), BLOCK)).collect();
        trace.process(&plan, &mut sound);
        for block in sound.chunks_mut(BLOCK) {
            for slot in &mut slots {
                slot.process(block, None, Silent::NO);
            }
            block.iter_mut().for_each(|frame| *frame = Matrix::apply(self.post.0, *frame));
        }
        self.in_time(&sound, self.leaves).to_vec()
    }

    /// What both are to each other with the ducker at some settings.
    pub fn figures(&self, trace: &Trace, settings: &Settings) -> PairFigures {
        let [whole, ducked] = [None, Some(settings)].map(|settings| self.target(trace, settings));
        let [before, behind, key] = [&whole, &ducked, self.key()].map(|frames| Cells::of(frames, self.rate));
        self.figures_of((&whole, &before), (&ducked, &behind), &key)
    }

    /// The same, of the target without the ducker and with it.
    pub fn figures_of(
        &self,
        (whole, target): (&[Frame], &Cells),
        (ducked, cells): (&[Frame], &Cells),
        key: &Cells,
    ) -> PairFigures {
        let (before, behind) = (overlap(target, key), overlap(cells, key));
        let energy = |frames: &[Frame]| frames.as_flattened().iter().map(|x| x * x).sum::<f64>();
        let [(peak, lufs), (ducked_peak, ducked_lufs)] = [whole, ducked].map(|target| self.together(target));
        let none = Overlap { percent: 0.0, by_band: [0.0; BANDS] };
        let shared = before.as_ref().unwrap_or(&none).by_band;
        let band = |n: usize| {
            let (from_hz, to_hz) = edges_hz(n);
            PairBand {
                from_hz,
                to_hz,
                key_dbfs: key.level_db(n),
                target_dbfs: target.level_db(n),
                ducked_dbfs: cells.level_db(n),
                shared_percent: 100.0 * shared[n],
            }
        };
        let bands: Vec<PairBand> = (0..BANDS).map(band).collect();
        PairFigures {
            shared_hz: shared_hz(&bands),
            overlap_percent: before.map(|b| [b.percent, behind.map_or(0.0, |o| o.percent)]),
            peak_dbfs: [peak, ducked_peak],
            loudness_lufs: [lufs, ducked_lufs],
            key_peak_dbfs: peak_dbfs(self.key().iter().copied()),
            lost_db: 10.0 * libm::log10((energy(whole) / energy(ducked).max(1e-12)).max(1.0)),
            bands,
            seconds: self.frames as f64 / f64::from(self.rate),
            near: self.keyed_after,
        }
    }

    /// Peak in dBFS and loudness in LUFS of both together.
    fn together(&self, target: &[Frame]) -> (f64, f64) {
        let mut meter = LoudnessMeter::new(self.rate);
        let sum: Vec<Frame> = self.sum(target).collect();
        meter.take(&sum);
        (peak_dbfs(sum.iter().copied()), meter.read().integrated_lufs.max(-150.0))
    }

    pub fn sum<'a>(&'a self, target: &'a [Frame]) -> impl Iterator<Item = Frame> + 'a {
        // A key that nobody hears has no sound.
        let key = self.key().iter().chain(std::iter::repeat(&[0.0; 2]));
        key.zip(target).map(|(k, t)| [k[0] + t[0], k[1] + t[1]])
    }

    pub fn rate(&self) -> u32 {
        self.rate
    }
}

/// The peak of a sound in dBFS, -150 for silence.
pub(super) fn peak_dbfs(frames: impl Iterator<Item = Frame>) -> f64 {
    gain_to_db(frames.fold(0.0, |most: f64, [l, r]| most.max(l.abs()).max(r.abs()))).max(-150.0)
}

/// The level of a sound's mean power in dBFS, -150 for silence.
pub(super) fn mean_dbfs(frames: impl Iterator<Item = Frame>) -> f64 {
    let (sum, count) = frames.fold((0.0, 0), |(sum, n), [l, r]| (sum + 0.5 * (l * l + r * r), n + 1));
    (10.0 * libm::log10(sum / f64::from(count.max(1)))).max(-150.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_shared_lies_in_the_bands_that_hold_much_of_it() {
        let band = |(from_hz, to_hz, shared_percent): (f64, f64, f64)| PairBand {
            from_hz,
            to_hz,
            key_dbfs: -20.0,
            target_dbfs: -20.0,
            ducked_dbfs: -26.0,
            shared_percent,
        };
        let bands = [(31.0, 62.0, 4.0), (62.0, 125.0, 60.0), (125.0, 250.0, 30.0), (250.0, 315.0, 6.0)].map(band);
        assert_eq!(shared_hz(&bands), Some([62.0, 250.0]));
        assert_eq!(shared_hz(&bands[1..2]), Some([62.0, 125.0]));
        assert_eq!(shared_hz(&bands[..1]), None);
    }
}
