//! Settings that give what somebody asked for, found by playing the key to the ducker again and again.

use super::PIECE;
use super::figures::DuckFigures;
use super::run::{Ducking, Trace, step};
use crate::dsp::{BeatShape, Settings, Slot, SlotPlan};
use crate::units::ProcessorId;
use serde::{Deserialize, Serialize};

/// What a ducker shall do.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "goal", rename_all = "snake_case")]
pub enum Goal {
    /// Take away so much at its deepest.
    Depth {
        /// In dB, 0 to 60.
        db: f64,
    },
    /// Be back before every next hit, as late as can be.
    Recovery,
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
}

/// So near to the depth that was asked for, in dB, nobody has to be told.
const NEAR_DB: f64 = 0.3;
/// What is so near to it needs no better.
const ENOUGH_DB: f64 = 0.02;
/// A release that leaves no more than this is the longest.
const ENOUGH_MS: f64 = 0.5;
/// Halvings of a range at most.
const HALVINGS: usize = 18;
/// What of the key's end is played before it begins: longer than any hold and most of any release.
const BEFORE_S: u32 = 6;

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
    match goal {
        Goal::Depth { db } => depth(run, trace, db.clamp(0.0, 60.0)),
        Goal::Recovery => recovery(run, trace),
    }
}

/// What a ducker with other settings would take away: the end of the key goes before, so that it is as it will be.
fn played(run: &Ducking, trace: &Trace, settings: &Settings) -> Vec<f32> {
    let plan = SlotPlan { settings: settings.clone(), on: true, ..trace.plan.clone() };
    let mut slot = Slot::new(&plan.course(run.rate()), PIECE);
    let round = run.length().min(trace.frames.len());
    let before = round.min((BEFORE_S * run.rate()) as usize);
    for piece in trace.frames[round - before..round].chunks(PIECE) {
        step(&mut slot, piece);
    }
    trace.frames.chunks(PIECE).map(|piece| step(&mut slot, piece)).collect()
}

fn tried(run: &Ducking, trace: &Trace, settings: &Settings) -> DuckFigures {
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

fn depth(run: &Ducking, trace: &Trace, db: f64) -> Option<Solved> {
    let depth_at = |part: f64| {
        let settings = with_depth(&trace.plan.settings, db, part)?;
        let deepest = played(run, trace, &settings).into_iter().fold(0.0, f32::max);
        Some((settings, f64::from(deepest)))
    };
    let (mut low, mut high) = (0.0, 1.0);
    let (mut best, mut reached) = depth_at(1.0)?;
    if reached > db {
        for _ in 0..HALVINGS {
            let middle = 0.5 * (low + high);
            let (settings, found) = depth_at(middle)?;
            if (found - db).abs() <= (reached - db).abs() {
                (best, reached) = (settings, found);
            }
            if (reached - db).abs() < ENOUGH_DB {
                break;
            }
            if found < db { low = middle } else { high = middle }
        }
    }
    let settings = readable(&best);
    let figures = tried(run, trace, &settings);
    let short = ((figures.depth_db - db).abs() > NEAR_DB).then(|| {
        let why = match &settings {
            Settings::Compressor(_) => "a higher ratio or a louder key would go further",
            Settings::Gate(_) => "its key opens it all the time",
            _ => "a louder key would go further",
        };
        format!("{:.1} dB is as near as it gets to {db:.1}: {why}", figures.depth_db)
    });
    Some(Solved { settings, figures, short })
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
    // What it takes away grows with its depth, moment by moment.
    let by = if shape.base.depth_db > 0.0 { set.base.depth_db / shape.base.depth_db } else { 0.0 };
    let figures =
        run.figures_of(trace, &trace.reduction_db.iter().map(|x| (f64::from(*x) * by) as f32).collect::<Vec<_>>());
    let short = (set.deepest_db() + NEAR_DB < db).then(|| {
        format!(
            "{:.1} dB is as deep as this shape goes: its points use {:.0} % of its depth",
            set.deepest_db(),
            100.0 * used
        )
    });
    Some(Solved { settings, figures, short })
}

fn with_release(settings: &Settings, ms: f64) -> Option<Settings> {
    let mut set = settings.clone();
    match &mut set {
        Settings::Compressor(c) => c.release_ms = ms,
        Settings::Equaliser(e) => e.bands.iter_mut().filter(|b| b.moves()).for_each(|b| b.release_ms = ms),
        _ => return None,
    }
    Some(set)
}

/// The shortest and the longest release that all kinds have, in ms.
const RELEASE_MS: (f64, f64) = (5.0, 2500.0);

fn recovery(run: &Ducking, trace: &Trace) -> Option<Solved> {
    let at = |part: f64| {
        let ms = RELEASE_MS.0 * libm::pow(RELEASE_MS.1 / RELEASE_MS.0, part);
        let settings = readable(&with_release(&trace.plan.settings, ms)?);
        let figures = tried(run, trace, &settings);
        Some((settings, figures))
    };
    let (mut low, mut high) = (0.0, 1.0);
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
        let (longest, found) = at(1.0)?;
        if found.recovers() {
            (settings, figures, low) = (longest, found, high);
        }
        while low < high && high - low > 1e-4 {
            let middle = 0.5 * (low + high);
            let (tried, found) = at(middle)?;
            if found.recovers() {
                (settings, figures, low) = (tried, found, middle);
                if figures.recovery_ms.is_some_and(|ms| ms < ENOUGH_MS) {
                    break;
                }
            } else {
                high = middle;
            }
        }
        None
    };
    Some(Solved { settings, figures, short })
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
