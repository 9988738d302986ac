//! Settings that give what somebody asked for, found by playing the key to the ducker again and again.

use super::figures::DuckFigures;
use super::pair::{Pair, mean_dbfs, peak_dbfs};
use super::run::Ducking;
use super::trace::Trace;
use lane_dsp::{BeatShape, Settings, SlotPlan, TimeIn};
use lane_units::{Frame, ProcessorId};
use serde::{Deserialize, Serialize};

/// What a ducker shall do.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "goal", rename_all = "snake_case")]
pub enum Goal {
    /// Take away so much at its deepest.
    Depth {
        /// In dB, 0 to 60; of a filter in semitones, to 96.
        db: f64,
    },
    /// Be back before every next hit, as late as can be.
    Recovery,
    /// Go no deeper than it takes for both together to be no louder than the key alone by more than so much.
    Sum {
        /// In dB, -6 to 12.
        over_db: f64,
        /// What is held against each other.
        by: SumBy,
    },
}

/// How loud two sounds together are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum SumBy {
    /// By their highest sample.
    Peak,
    /// By their mean power.
    Average,
}

/// Levels that a sum is kept by, in dBFS.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct SumLevels {
    /// Of the key alone.
    pub key: f64,
    /// Of both without the ducker.
    pub without: f64,
    /// Of both with it, as it was found.
    pub with: f64,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Solved {
    /// As it has to be set.
    pub settings: Settings,
    /// What it does then.
    pub figures: DuckFigures,
    /// Why it is not quite what was asked for, for people.
    pub short: Option<String>,
    /// Of a sum that is kept.
    pub sum: Option<SumLevels>,
}

/// So near to the depth that was asked for, in dB, nobody has to be told.
const NEAR_DB: f64 = 0.3;
/// What is so near to it needs no better.
const ENOUGH_DB: f64 = 0.02;
/// So near to it, a range ends it.
const AT_RANGE_DB: f64 = 1e-4;
/// A release that leaves no more than this is the longest.
const ENOUGH_MS: f64 = 0.5;
/// Halvings of a range at most.
const HALVINGS: usize = 18;

/// Settings by which a ducker in focus reaches a goal; nothing where it was not in focus, or its kind has none.
///
/// Cost: the processor over the stretch some forty times.
pub fn solve(run: &Ducking, processor: ProcessorId, goal: Goal) -> Option<Solved> {
    let trace = run.trace(processor)?;
    if let (Settings::BeatShape(shape), Goal::Depth { db }) = (&trace.plan.settings, goal) {
        return depth_of_shape(run, trace, shape, db.clamp(0.0, 60.0));
    }
    if trace.frames.is_empty() {
        return None;
    }
    let settings = &trace.plan.settings;
    match goal {
        Goal::Depth { db } => depth(run, trace, settings, db.clamp(0.0, 96.0)),
        Goal::Recovery => recovery(run, trace, settings),
        Goal::Sum { over_db, by } => keep_sum(run, trace, run.pair(processor)?.1, over_db, by),
    }
}

/// What a ducker with other settings would take away.
fn played(run: &Ducking, trace: &Trace, settings: &Settings) -> Vec<f32> {
    let plan = SlotPlan { settings: settings.clone(), on: true, ..trace.plan.clone() };
    let round = &trace.frames[..run.length().min(trace.frames.len())];
    trace.replay.again(&plan, round).reductions(&trace.frames)
}

/// What it does with other settings.
pub(super) fn tried(run: &Ducking, trace: &Trace, settings: &Settings) -> DuckFigures {
    if let (Settings::BeatShape(was), Settings::BeatShape(is)) = (&trace.plan.settings, settings) {
        // What it takes away grows with its depth, moment by moment.
        let by = if was.base.depth_db > 0.0 { is.base.depth_db / was.base.depth_db } else { 0.0 };
        let reduction: Vec<f32> = trace.reduction_db.iter().map(|x| (f64::from(*x) * by) as f32).collect();
        return run.figures_of(trace, &reduction);
    }
    run.figures_of(trace, &played(run, trace, settings))
}

/// The settings with the value that decides their depth, which grows as it goes from 0 to 1.
fn with_depth(settings: &Settings, db: f64, part: f64) -> Option<Settings> {
    // From where nothing is loud enough down to where everything is.
    let threshold = -80.0 * part;
    let mut set = settings.clone();
    match &mut set {
        Settings::Compressor(c) => {
            c.threshold_dbfs = threshold;
            c.range_db = c.range_db.max(db.min(60.0));
        }
        Settings::Gate(g) => g.range_db = 100.0 * part,
        Settings::EnvelopeFilter(f) => f.amount_oct = part * if f.amount_oct > 0.0 { 8.0 } else { -8.0 },
        Settings::Equaliser(e) => {
            let mut any = false;
            for band in e.bands.iter_mut().filter(|b| b.moves() && b.range_db < 0.0) {
                band.threshold_dbfs = threshold;
                band.range_db = band.range_db.min(-db.min(24.0));
                any = true;
            }
            if !any {
                return None;
            }
        }
        _ => return None,
    }
    Some(set)
}

/// Where a value that grows passes 0, between two places: by the line between them and by halves, in turn, so that it is
/// soon there whatever its way is.
struct Within {
    low: (f64, f64),
    high: (f64, f64),
    halves: bool,
}

impl Within {
    /// * `low`, `high` – the values at 0 and 1.
    fn new(low: f64, high: f64) -> Self {
        Within { low: (0.0, low), high: (1.0, high), halves: false }
    }

    fn width(&self) -> f64 {
        self.high.0 - self.low.0
    }

    /// Where to look next.
    fn next(&mut self) -> f64 {
        let ((from, low), (_, high)) = (self.low, self.high);
        let line = -low / (high - low);
        let part = if self.halves || !line.is_finite() || !high.is_finite() { 0.5 } else { line.clamp(0.02, 0.98) };
        self.halves = !self.halves;
        from + part * self.width()
    }

    fn found(&mut self, at: f64, value: f64) {
        *if value >= 0.0 { &mut self.high } else { &mut self.low } = (at, value);
    }
}

/// Settings that go so deep, from some to begin with.
pub(super) fn depth(run: &Ducking, trace: &Trace, start: &Settings, db: f64) -> Option<Solved> {
    let depth_at = |part: f64| {
        let settings = with_depth(start, db, part)?;
        let deepest = played(run, trace, &settings).into_iter().fold(0.0, f32::max);
        Some((settings, f64::from(deepest)))
    };
    let mut within = Within::new(-db, 0.0);
    let (mut best, reached) = depth_at(1.0)?;
    within.high = (1.0, reached - db);
    if reached >= db - ENOUGH_DB {
        // The least that goes so deep: where a range ends it, more would only last longer.
        for _ in 0..HALVINGS {
            let at = within.next();
            let (settings, found) = depth_at(at)?;
            let off = found - db;
            if off >= -ENOUGH_DB {
                best = settings;
            }
            // At its range, what is over says nothing of how far.
            within.found(at, if off.abs() <= AT_RANGE_DB { f64::INFINITY } else { off + ENOUGH_DB });
            if (-ENOUGH_DB..ENOUGH_DB).contains(&off) && off.abs() > AT_RANGE_DB {
                break;
            }
        }
    }
    let settings = readable(&best);
    let figures = tried(run, trace, &settings);
    let short = ((figures.depth_db - db).abs() > NEAR_DB).then(|| {
        let why = match &settings {
            Settings::Compressor(_) => "a higher ratio or a louder key would go further",
            Settings::Gate(_) => "its key opens it all the time",
            Settings::EnvelopeFilter(_) => "a key that comes nearer to its full level would go further",
            _ => "a louder key would go further",
        };
        let (found, asked, unit) = if settings.sweeps() {
            (figures.depth_db / 12.0, db / 12.0, "octaves")
        } else {
            (figures.depth_db, db, "dB")
        };
        format!("{found:.1} {unit} is as near as it gets to {asked:.1}: {why}")
    });
    Some(Solved { settings, figures, short, sum: None })
}

/// Depths that are tried from none to the deepest: the peak of two sounds does not fall steadily with one of them.
const SCAN: u32 = 40;
/// Halvings between one that does not do and the next that does.
const FINE: usize = 5;
/// The deepest that a sum is kept by, in dB.
const DEEPEST_DB: f64 = 24.0;

fn keep_sum(run: &Ducking, trace: &Trace, pair: &Pair, over_db: f64, by: SumBy) -> Option<Solved> {
    let level = |target: &[Frame]| match by {
        SumBy::Peak => peak_dbfs(pair.sum(target)),
        SumBy::Average => mean_dbfs(pair.sum(target)),
    };
    let key = match by {
        SumBy::Peak => peak_dbfs(pair.key().iter().copied()),
        SumBy::Average => mean_dbfs(pair.key().iter().copied()),
    };
    let start = &trace.plan.settings;
    let without = level(&pair.target(trace, None));
    let limit = key + over_db.clamp(-6.0, 12.0);
    let at = |part: f64| {
        let settings = match start {
            Settings::BeatShape(shape) => {
                let mut set = shape.clone();
                set.base.depth_db = DEEPEST_DB * part;
                Settings::BeatShape(set)
            }
            _ => with_depth(start, DEEPEST_DB, part)?,
        };
        let settings = readable(&settings);
        let found = level(&pair.target(trace, Some(&settings)));
        Some((settings, found))
    };
    let (mut best, mut with) = at(0.0)?;
    let (mut low, mut reached) = (0.0, with <= limit);
    for step in 1..=SCAN {
        if reached {
            break;
        }
        let part = f64::from(step) / f64::from(SCAN);
        let (settings, found) = at(part)?;
        reached = found <= limit;
        if reached || found < with {
            (best, with) = (settings, found);
        }
        if !reached {
            low = part;
            continue;
        }
        let mut high = part;
        for _ in 0..FINE {
            let middle = 0.5 * (low + high);
            let (settings, found) = at(middle)?;
            if found <= limit {
                (best, with, high) = (settings, found, middle);
            } else {
                low = middle;
            }
        }
    }
    let figures = tried(run, trace, &best);
    let short = if !reached {
        Some(format!("{:.1} dB over the key alone is as near as it gets to {over_db:.1}", with - key))
    } else if without <= limit {
        Some("both together are no louder than that without it".to_owned())
    } else {
        None
    };
    Some(Solved { settings: best, figures, short, sum: Some(SumLevels { key, without, with }) })
}

/// A shape's depth is what it says; its points say what of it is used.
fn depth_of_shape(run: &Ducking, trace: &Trace, shape: &BeatShape, db: f64) -> Option<Solved> {
    let used = shape.points.iter().fold(0.0, |most: f64, p| most.max(p.down_percent)) / 100.0;
    if used <= 0.0 {
        return None;
    }
    let mut set = shape.clone();
    set.base.depth_db = db / used;
    let settings = readable(&Settings::BeatShape(set.clone()));
    let Settings::BeatShape(set) = &settings else { return None };
    let figures = tried(run, trace, &settings);
    let short = (set.deepest_db() + NEAR_DB < db).then(|| {
        format!(
            "{:.1} dB is as deep as this shape goes: its points use {:.0} % of its depth",
            set.deepest_db(),
            100.0 * used
        )
    });
    Some(Solved { settings, figures, short, sum: None })
}

fn with_release(settings: &Settings, ms: f64) -> Option<Settings> {
    let mut set = settings.clone();
    match &mut set {
        Settings::Compressor(c) => (c.release_ms, c.release_in) = (ms, TimeIn::Milliseconds),
        Settings::Equaliser(e) => {
            let moving = e.bands.iter_mut().filter(|b| b.moves());
            moving.for_each(|b| (b.release_ms, b.release_in) = (ms, TimeIn::Milliseconds));
        }
        Settings::EnvelopeFilter(f) => (f.release_ms, f.release_in) = (ms, TimeIn::Milliseconds),
        _ => return None,
    }
    Some(set)
}

/// The shortest and the longest release that all kinds have, in ms.
const RELEASE_MS: (f64, f64) = (5.0, 2500.0);

/// Settings that are back before every next hit, from some to begin with.
pub(super) fn recovery(run: &Ducking, trace: &Trace, start: &Settings) -> Option<Solved> {
    let at = |part: f64| {
        let ms = RELEASE_MS.0 * libm::pow(RELEASE_MS.1 / RELEASE_MS.0, part);
        let settings = readable(&with_release(start, ms)?);
        let figures = tried(run, trace, &settings);
        Some((settings, figures))
    };
    let (mut settings, mut figures) = at(0.0)?;
    let duckless = figures.depth_db <= super::BACK_DB;
    let short = if duckless {
        Some("it takes less than 1 dB away, so there is nothing to recover from".to_owned())
    } else if !figures.recovers() {
        Some(
            "even its shortest release is not back before every next hit: its hold or its attack is too long"
                .to_owned(),
        )
    } else {
        // What is left grows less as the release grows; where it would be late, the sign turns.
        let late = |figures: &DuckFigures| match figures.recovery_ms {
            Some(left) if figures.recovers() => -left,
            Some(left) => left.abs().max(f64::MIN_POSITIVE),
            None => f64::INFINITY,
        };
        let (longest, found) = at(1.0)?;
        let mut within = Within::new(late(&figures), late(&found));
        if found.recovers() {
            (settings, figures) = (longest, found);
        } else {
            while within.width() > 1e-4 {
                let middle = within.next();
                let (tried, found) = at(middle)?;
                within.found(middle, late(&found));
                if found.recovers() {
                    (settings, figures) = (tried, found);
                    if figures.recovery_ms.is_some_and(|ms| ms < ENOUGH_MS) {
                        break;
                    }
                }
            }
        }
        None
    };
    Some(Solved { settings, figures, short, sum: None })
}

/// Values as people read them: levels to a hundredth of a decibel, times to a tenth of a millisecond down.
fn readable(settings: &Settings) -> Settings {
    let mut set = settings.clone();
    for (param, value) in settings.values() {
        let value = if param.unit == "ms" { (value * 10.0).floor() / 10.0 } else { (value * 100.0).round() / 100.0 };
        set.set(param.name, value.clamp(param.min, param.max));
    }
    set
}
