//! What a compressor does against the beat, and how it has to be set to do what somebody asks for.

use crate::replay::Replay;
use crate::run::{PARTS, PIECE};
use lane_dsp::{Settings, SlotPlan, TimeIn};
use lane_units::{Frame, ProcessorId};
use serde::{Deserialize, Serialize};

/// A hit that takes no more away than this is none, in dB.
const HIT_DB: f64 = 0.5;
/// What one compressor does over the stretch.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Press {
    /// The compressor.
    pub processor: ProcessorId,
    /// The most that it takes away, in dB; below 0 where it lifts.
    pub deepest_db: f64,
    /// The time from the deepest point of a hit until half of it is gone, the median over the stretch, in beats; nothing
    /// where no hit is back before a stronger one comes.
    pub back_beats: Option<f64>,
    /// How many hits take something away, and how many of them are back.
    pub hits: u32,
    /// How many of those are back before a stronger one.
    pub back: u32,
    /// What is taken away, from the first to the last part of the stretch, in dB.
    pub reduction_db: Vec<f32>,
    /// Where what feeds it hits, from 0 to 1 of the stretch.
    pub strokes: Vec<f64>,
    /// Whether its own sound moves it, so that it can be solved for.
    pub solvable: bool,
}

/// What a compressor shall do.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "goal", rename_all = "snake_case")]
pub enum PressGoal {
    /// Have half of what a hit takes away let go after so many beats.
    Back {
        /// 0.05 to 8.
        beats: f64,
    },
    /// Take away no more than so much, by its threshold: what its budget is.
    Within {
        /// In dB, 0.1 to 24.
        db: f64,
    },
    /// Take away so much at its deepest, by the gain in front of it.
    Deepest {
        /// In dB, 0.5 to 40.
        db: f64,
    },
}

/// How it has to be set.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PressSolved {
    /// The compressor.
    pub processor: ProcessorId,
    /// Its settings.
    pub settings: Settings,
    /// The gain in front of it, in dB.
    pub input_db: f64,
    /// What it does then.
    pub deepest_db: f64,
    /// How soon it is back then, in beats.
    pub back_beats: Option<f64>,
    /// Why it is not quite what was asked for, for people.
    pub short: Option<String>,
}

/// A compressor with the sound that it hears.
#[derive(Debug, Clone)]
pub(super) struct Pressed<'a> {
    pub processor: ProcessorId,
    pub plan: SlotPlan,
    /// What is played before the stretch, then the stretch.
    pub input: &'a [[f32; 2]],
    pub key: Option<&'a [[f32; 2]]>,
    /// Frames before the stretch.
    pub before: usize,
    /// Hits of what feeds it, in frames of the stretch.
    pub hits: Vec<u32>,
    pub sample_rate: u32,
}

impl Pressed<'_> {
    fn beat_frames(&self) -> f64 {
        60.0 / self.plan.tempo_bpm * f64::from(self.sample_rate)
    }

    /// What is taken away with a plan, piece by piece of the stretch.
    fn reduction(&self, plan: &SlotPlan) -> Vec<f32> {
        let plan = SlotPlan { on: true, ..plan.clone() };
        let latency = plan.latency(self.sample_rate);
        let mut replay = Replay::new(&plan, self.sample_rate, None);
        let wide = |from: &[[f32; 2]], to: &mut Vec<Frame>| {
            to.clear();
            to.extend(from.iter().map(|x| x.map(f64::from)));
        };
        let (mut sound, mut key) = (Vec::with_capacity(PIECE), Vec::with_capacity(PIECE));
        let mut found = Vec::with_capacity(self.input.len() / PIECE + 1);
        for (n, piece) in self.input.chunks(PIECE).enumerate() {
            wide(piece, &mut sound);
            let heard = self.key.map(|key| &key[n * PIECE..][..piece.len()]);
            if let Some(heard) = heard {
                wide(heard, &mut key);
            }
            found.push(replay.step(&mut sound, heard.map(|_| &key[..])));
        }
        // The level is known as long before the sound as the lookahead is; what is taken away stands where it is heard.
        let skip = (self.before.saturating_sub(latency)) / PIECE;
        found.split_off(skip.min(found.len()))
    }

    fn back(&self, reduction: &[f32]) -> Back {
        back_frames(reduction, PIECE, &self.hits)
    }

    /// What it does as it is set.
    pub fn read(&self) -> Press {
        let reduction = self.reduction(&self.plan);
        let back = self.back(&reduction);
        let parts = PARTS.min(reduction.len().max(1));
        let edge = |n: usize| n * reduction.len() / parts;
        let length = (reduction.len() * PIECE).max(1) as f64;
        Press {
            processor: self.processor,
            deepest_db: f64::from(farthest(&reduction)),
            back_beats: back.median_frames.map(|frames| frames / self.beat_frames()),
            hits: back.hits,
            back: back.back,
            reduction_db: (0..parts).map(|n| farthest(&reduction[edge(n)..edge(n + 1)])).collect(),
            strokes: self.hits.iter().map(|hit| f64::from(*hit) / length).collect(),
            solvable: !self.plan.settings.lifts(),
        }
    }

    /// Settings that reach a goal; nothing where it is none that can be set for.
    pub fn solve(&self, goal: PressGoal) -> Option<PressSolved> {
        let Settings::Compressor(compressor) = &self.plan.settings else { return None };
        let of = |plan: &SlotPlan| {
            let reduction = self.reduction(plan);
            (f64::from(farthest(&reduction)), self.back(&reduction).median_frames.map(|f| f / self.beat_frames()))
        };
        let solved = |plan: SlotPlan, short: Option<String>| {
            let (deepest_db, back_beats) = of(&plan);
            PressSolved {
                processor: self.processor,
                settings: plan.settings,
                input_db: plan.input_db,
                deepest_db,
                back_beats,
                short,
            }
        };
        match goal {
            PressGoal::Back { beats } => {
                let with = |ms: f64| {
                    let settings = Settings::Compressor(lane_dsp::Compressor {
                        release_ms: ms,
                        release_in: TimeIn::Milliseconds,
                        ..compressor.clone()
                    });
                    SlotPlan { settings, ..self.plan.clone() }
                };
                // A longer release lets go later; where nothing is back at all, it is too long.
                let late = |ms: f64| of(&with(ms)).1.is_none_or(|back| back > beats);
                let (shortest, longest) = (1.0_f64, 2500.0_f64);
                let Some(least) = of(&with(shortest)).1 else {
                    return Some(solved(
                        self.plan.clone(),
                        Some("Nothing is back between hits, however short the release.".into()),
                    ));
                };
                if least > beats {
                    let short = format!("Back within {least:.2} of a beat at the shortest release; no sooner.");
                    return Some(solved(with(shortest), Some(short)));
                }
                let (mut from, mut to) = (shortest, longest);
                if !late(longest) {
                    return Some(solved(with(longest), Some("Back sooner even at the longest release.".into())));
                }
                for _ in 0..HALVINGS {
                    let middle = libm::sqrt(from * to);
                    if late(middle) { to = middle } else { from = middle }
                }
                let found = solved(with(libm::round(from * 100.0) / 100.0), None);
                let missed = found.back_beats.is_none_or(|back| (back / beats - 1.0).abs() > NEAR);
                let short = missed.then(|| {
                    let back =
                        found.back_beats.map_or("not at all".to_owned(), |back| format!("within {back:.2} of a beat"));
                    format!("Back {back}: with a longer release, the next hits come first.")
                });
                Some(PressSolved { short, ..found })
            }
            PressGoal::Deepest { db } => {
                let with = |input_db: f64| SlotPlan { input_db, ..self.plan.clone() };
                let (least, most) = lane_document::session::limits::SLOT_DB;
                Some(as_deep(db, (least, most), with, of, solved))
            }
            PressGoal::Within { db } => {
                let with = |lower: f64| {
                    let settings =
                        Settings::Compressor(lane_dsp::Compressor { threshold_dbfs: -lower, ..compressor.clone() });
                    SlotPlan { settings, ..self.plan.clone() }
                };
                Some(as_deep(db, (0.0, 80.0), with, of, solved))
            }
        }
    }
}

/// What is as deep as asked for, of plans that take the more away the higher their value is.
fn as_deep(
    db: f64,
    (mut from, mut to): (f64, f64),
    with: impl Fn(f64) -> SlotPlan,
    of: impl Fn(&SlotPlan) -> (f64, Option<f64>),
    solved: impl Fn(SlotPlan, Option<String>) -> PressSolved,
) -> PressSolved {
    for _ in 0..HALVINGS {
        let middle = 0.5 * (from + to);
        if of(&with(middle)).0.abs() > db { to = middle } else { from = middle }
    }
    let found = solved(with(libm::round(from * 100.0) / 100.0), None);
    let missed = (found.deepest_db.abs() - db).abs() > NEAR_DB;
    let short =
        missed.then(|| format!("It takes {:.1} dB at most: its range, or too little comes in.", found.deepest_db));
    PressSolved { short, ..found }
}

const HALVINGS: usize = 16;
/// So near to the time that was asked for nobody has to be told.
const NEAR: f64 = 0.05;
const NEAR_DB: f64 = 0.2;

fn farthest(values: &[f32]) -> f32 {
    values.iter().fold(0.0, |most: f32, x| if x.abs() > most.abs() { *x } else { most })
}

/// How soon half of what hits take away is let go.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Back {
    /// The median over the hits that are back.
    pub median_frames: Option<f64>,
    /// Hits that take something away.
    pub hits: u32,
    /// Those that are back before a stronger one.
    pub back: u32,
}

/// Reads off a reduction how soon half of every hit's is gone, counted in dB from its deepest point.
///
/// * `reduction_db` – a value for every `piece` frames.
/// * `hits` – in frames, ascending. A hit counts where it takes away at least half a dB more than what is left of those
///   before; it lasts until one comes that takes away as much.
pub fn back_frames(reduction_db: &[f32], piece: usize, hits: &[u32]) -> Back {
    let value = |at: usize| f64::from(reduction_db[at]).abs();
    let end = reduction_db.len();
    let start = |n: usize| hits.get(n).map_or(end, |hit| (*hit as usize / piece).min(end));
    let mut found = Back::default();
    let mut times = Vec::new();
    for n in 0..hits.len() {
        let (from, to) = (start(n), start(n + 1));
        let Some(deepest) = (from..to).reduce(|best, at| if value(at) > value(best) { at } else { best }) else {
            continue;
        };
        // What is left of those before; of the first, of what the stretch ends with.
        let left = value(from.checked_sub(1).unwrap_or(end - 1));
        if value(deepest) < HIT_DB || value(deepest) < left + HIT_DB {
            continue;
        }
        found.hits += 1;
        let half = 0.5 * value(deepest);
        // It is over where as much is taken away again.
        let after = (deepest + 1..end).take_while(|at| *at < to || value(*at) <= value(deepest));
        let Some(at) = after.into_iter().find(|at| value(*at) <= half) else { continue };
        found.back += 1;
        // Between two values, where the line crosses.
        let (above, below) = (value(at - 1), value(at));
        let part = if above > below { (above - half) / (above - below) } else { 1.0 };
        times.push((at - 1 - deepest) as f64 + part);
    }
    times.sort_by(f64::total_cmp);
    let middle = times.len() / 2;
    found.median_frames = match times.len() {
        0 => None,
        n if n % 2 == 1 => Some(times[middle]),
        _ => Some(0.5 * (times[middle - 1] + times[middle])),
    }
    .map(|pieces| pieces * piece as f64);
    found
}
