//! Hits written by rule: on every beat, at random, copied, cleared. The same seed gives the same hits.

use super::intent::Intent;
use super::label::Words;
use super::parts::{parts, plain};
use super::{EditError, song};
use crate::session::{Hit, Session, at_most, limits};
use lane_units::{Dice, PatternId, VoiceId};
use serde::{Deserialize, Serialize};

/// Hits of a rule at most, so that a step of one tick does not fill a document.
const MOST: u32 = 4096;

/// Bars of a pattern, counted from 0.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct BarRange {
    /// The first, from 0.
    pub from: u32,
    /// How many.
    pub bars: u32,
}

/// What to do with the hits of some bars.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum HitsChange {
    /// A hit every `every_ticks`, the first after `offset_ticks`.
    Every {
        /// From one to the next.
        every_ticks: u32,
        /// From the start of the range to the first.
        offset_ticks: u32,
        /// 1 to 127.
        velocity: u8,
        /// Instead of what is there, rather than beside it.
        #[serde(default = "yes")]
        instead: bool,
    },
    /// Hits on steps by chance, instead of what is there.
    Fill {
        /// From one step to the next.
        step_ticks: u32,
        /// How many of the steps, 0 to 100 %.
        density_percent: f64,
        /// The least, 1 to 127.
        velocity_from: u8,
        /// The most.
        velocity_to: u8,
        /// What the dice begin with.
        seed: u32,
    },
    /// Soft hits by chance on steps that are free and have free neighbours, beside what is there.
    Ghosts {
        /// From one step to the next.
        step_ticks: u32,
        /// How many of the empty steps get one.
        density_percent: f64,
        /// 1 to 127.
        velocity: u8,
        /// What the dice begin with.
        seed: u32,
    },
    /// Nothing there.
    Clear,
    /// The same hits from another bar on, instead of what is there.
    CopyTo {
        /// The first that gets them, from 0.
        bar: u32,
    },
    /// Everything where it is written: no shifts.
    Straighten,
}

plain! { BarRange, HitsChange }

/// Edits of before the choice replaced what was there.
fn yes() -> bool {
    true
}

/// Changes hits of voices in some bars of a pattern.
pub(super) fn change(
    s: &mut Session,
    pattern: PatternId,
    voices: &[VoiceId],
    range: BarRange,
    change: &HitsChange,
) -> Result<(), EditError> {
    if voices.is_empty() || range.bars == 0 {
        return Err(EditError::Nothing);
    }
    let bar = s.header.metre.bar_ticks();
    let bars = s.pattern(pattern).ok_or(EditError::Gone { what: format!("pattern {}", pattern.0) })?.bars;
    let from = range.from.min(bars).saturating_mul(bar);
    let to = range.from.saturating_add(range.bars).min(bars).saturating_mul(bar);
    let before: usize = s.parts.iter().map(|p| p.hits.len()).sum();
    let mut all = before;
    for voice in voices {
        let old = s.hits(pattern, *voice).to_vec();
        let next = changed(&old, (from, to), bars.saturating_mul(bar), bar, *voice, change);
        all = (all + next.len()).saturating_sub(old.len());
        at_most("hits", all, limits::HITS.max(before))?;
        song::set_hits(s, pattern, *voice, next)?;
    }
    Ok(())
}

/// The steps of a range; at most [`MOST`].
fn steps((from, to): (u32, u32), step: u32) -> impl Iterator<Item = u32> {
    (from..to).step_by(step.max(1) as usize).take(MOST as usize)
}

fn changed(old: &[Hit], (from, to): (u32, u32), end: u32, bar: u32, voice: VoiceId, change: &HitsChange) -> Vec<Hit> {
    let inside = |h: &Hit| (from..to).contains(&h.at_ticks);
    let outside = || old.iter().copied().filter(|h| !inside(h)).collect::<Vec<Hit>>();
    let dice = |seed: u32| Dice::new(&[u64::from(seed), u64::from(voice.0)]);
    match *change {
        HitsChange::Every { every_ticks, offset_ticks, velocity, instead } => {
            let every = every_ticks.max(1);
            let mut hits = if instead { outside() } else { old.to_vec() };
            let free = |at: &u32| instead || old.binary_search_by_key(at, |h| h.at_ticks).is_err();
            hits.extend(
                steps((from.saturating_add(offset_ticks), to), every)
                    .filter(free)
                    .map(|at| Hit::new(at, (every / 2).max(1), velocity, 0)),
            );
            hits
        }
        HitsChange::Fill { step_ticks, density_percent, velocity_from, velocity_to, seed } => {
            let (mut dice, mut hits) = (dice(seed), outside());
            for at in steps((from, to), step_ticks) {
                // Every step takes two numbers, so that density adds hits to those that are there.
                let (chance, loud) = (dice.unit(), dice.unit());
                if chance < density_percent / 100.0 {
                    let (low, high) = (f64::from(velocity_from), f64::from(velocity_to));
                    let velocity = libm::round(low + (high - low) * loud) as u8;
                    hits.push(Hit::new(at, step_ticks.max(1), velocity, 0));
                }
            }
            hits
        }
        HitsChange::Ghosts { step_ticks, density_percent, velocity, seed } => {
            let (mut dice, mut hits) = (dice(seed), old.to_vec());
            for at in steps((from, to), step_ticks) {
                let chance = dice.unit();
                // Hits stand in the order of time, so only the first behind a step can be near it.
                let first = old.partition_point(|h| h.at_ticks < at.saturating_sub(step_ticks));
                let near = old.get(first).is_some_and(|h| h.at_ticks <= at.saturating_add(step_ticks));
                if !near && chance < density_percent / 100.0 {
                    hits.push(Hit::new(at, step_ticks.max(1), velocity, 0));
                }
            }
            hits
        }
        HitsChange::Clear => outside(),
        HitsChange::CopyTo { bar: target } => {
            let start = target.saturating_mul(bar);
            let target = start..start.saturating_add(to - from).min(end);
            let mut hits: Vec<Hit> = old.iter().copied().filter(|h| !target.contains(&h.at_ticks)).collect();
            let copies = old
                .iter()
                .filter(|h| inside(h))
                .map(|h| Hit { at_ticks: (h.at_ticks - from).saturating_add(start), ..*h });
            hits.extend(copies.filter(|h| target.contains(&h.at_ticks)));
            hits
        }
        HitsChange::Straighten => {
            old.iter().map(|h| if inside(h) { Hit { shift_ticks: 0, ..*h } } else { *h }).collect()
        }
    }
}

/// Hits of voices in some bars, by rule.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct ChangeHits {
    /// The pattern.
    pub pattern: PatternId,
    /// Whose hits change.
    pub voices: Vec<VoiceId>,
    /// The bars of the pattern.
    pub range: BarRange,
    /// The rule.
    pub change: HitsChange,
}
parts!(ChangeHits { pattern, voices, range, change });

impl Intent for ChangeHits {
    fn label(&self, words: &Words) -> String {
        let what = match &self.change {
            HitsChange::Every { .. } => "Hits by rule of",
            HitsChange::Fill { .. } => "Random fill of",
            HitsChange::Ghosts { .. } => "Ghost notes of",
            HitsChange::Clear => "Clear hits of",
            HitsChange::CopyTo { .. } => "Copy bars of",
            HitsChange::Straighten => "Straighten",
        };
        format!("{what} {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        change(s, self.pattern, &self.voices, self.range, &self.change)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    const BAR: u32 = 3840;

    fn run(old: &[Hit], range: (u32, u32), change: HitsChange) -> Vec<Hit> {
        let mut hits = changed(old, range, 4 * BAR, BAR, VoiceId(7), &change);
        hits.sort_by_key(|h| h.at_ticks);
        hits
    }

    fn at(hits: &[Hit]) -> Vec<u32> {
        hits.iter().map(|h| h.at_ticks).collect()
    }

    fn hit(at: u32) -> Hit {
        Hit::new(at, 120, 100, 0)
    }

    #[rstest]
    #[case::every_beat(0, [0, 960, 1920, 2880])]
    #[case::every_off_beat(480, [480, 1440, 2400, 3360])]
    fn hits_on_every_beat_and_off_beat(#[case] offset_ticks: u32, #[case] expected: [u32; 4]) {
        let every = HitsChange::Every { every_ticks: 960, offset_ticks, velocity: 100, instead: true };
        assert_eq!(at(&run(&[hit(120), hit(BAR)], (0, BAR), every)), [&expected[..], &[BAR]].concat());
    }

    #[test]
    fn hits_by_rule_come_beside_what_is_there_and_leave_its_velocity() {
        let old = [Hit { velocity: 31, ..hit(960) }, hit(1000)];
        let every = HitsChange::Every { every_ticks: 960, offset_ticks: 0, velocity: 100, instead: false };
        let mut hits = run(&old, (0, BAR), every);
        hits.sort_by_key(|h| h.at_ticks);
        let found: Vec<_> = hits.iter().map(|h| (h.at_ticks, h.velocity)).collect();
        assert_eq!(found, [(0, 100), (960, 31), (1000, 100), (1920, 100), (2880, 100)]);
        // An edit that waited since before the choice was there means what it meant.
        let before = r#"{"kind":"every","every_ticks":960,"offset_ticks":0,"velocity":100}"#;
        let HitsChange::Every { instead, .. } = serde_json::from_str(before).unwrap() else { unreachable!() };
        assert!(instead);
    }

    #[test]
    fn a_fill_is_the_same_for_its_seed_and_grows_with_density() {
        let fill = |seed, density_percent| {
            let fill = HitsChange::Fill { step_ticks: 240, density_percent, velocity_from: 60, velocity_to: 110, seed };
            run(&[], (0, 4 * BAR), fill)
        };
        assert_eq!(fill(1, 50.0), fill(1, 50.0));
        assert_ne!(fill(1, 50.0), fill(2, 50.0));
        assert!((20..45).contains(&fill(1, 50.0).len()));
        assert!(fill(1, 30.0).iter().all(|h| fill(1, 60.0).contains(h)));
        assert_eq!(fill(1, 100.0).len(), 64);
        assert!(fill(1, 0.0).is_empty());
        assert!(fill(3, 100.0).iter().all(|h| (60..=110).contains(&h.velocity)));
    }

    #[test]
    fn ghosts_keep_away_from_what_is_there() {
        let old = [hit(960), hit(2880)];
        let hits =
            run(&old, (0, BAR), HitsChange::Ghosts { step_ticks: 240, density_percent: 100.0, velocity: 25, seed: 1 });
        assert!(old.iter().all(|h| hits.contains(h)));
        let ghosts: Vec<u32> = hits.iter().filter(|h| h.velocity == 25).map(|h| h.at_ticks).collect();
        assert!(!ghosts.is_empty());
        assert!(ghosts.iter().all(|g| old.iter().all(|h| h.at_ticks.abs_diff(*g) > 240)));
    }

    #[test]
    fn bars_are_copied_over_what_is_there_and_cut_at_the_end() {
        let old = [hit(0), hit(960), hit(BAR + 480), hit(2 * BAR)];
        assert_eq!(at(&run(&old, (0, BAR), HitsChange::CopyTo { bar: 1 })), [0, 960, BAR, BAR + 960, 2 * BAR]);
        let behind = run(&old, (0, 2 * BAR), HitsChange::CopyTo { bar: 3 });
        assert_eq!(at(&behind), [0, 960, BAR + 480, 2 * BAR, 3 * BAR, 3 * BAR + 960]);
    }

    #[test]
    fn clearing_leaves_other_bars() {
        assert_eq!(at(&run(&[hit(0), hit(BAR)], (0, BAR), HitsChange::Clear)), [BAR]);
    }

    #[test]
    fn straightening_takes_shifts_away() {
        let old = [Hit { shift_ticks: 33, ..hit(0) }, Hit { shift_ticks: -9, ..hit(BAR) }];
        let hits = run(&old, (0, BAR), HitsChange::Straighten);
        assert_eq!(hits.iter().map(|h| h.shift_ticks).collect::<Vec<_>>(), [0, -9]);
    }
}
