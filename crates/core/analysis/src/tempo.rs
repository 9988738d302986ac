//! The tempo of a loop, from its length in bars and the spacing of its hits.

use lane_document::session::{Metre, limits};
use lane_units::TICKS_PER_QUARTER;
use serde::Serialize;

/// A tempo that a loop could have.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct LoopTempo {
    /// Quarter notes a minute.
    pub bpm: f64,
    /// Whole bars that the loop then has.
    pub bars: u32,
    /// How well hits lie on sixteenths, 0 to 1.
    pub fit: f64,
}

/// Tempi that fit a loop of whole bars, the best first.
///
/// * `frames` – its length.
/// * `onsets` – frames at which hits begin.
pub fn loop_tempi(frames: usize, onsets: &[usize], sample_rate: u32, metre: Metre) -> Vec<LoopTempo> {
    let seconds = frames as f64 / f64::from(sample_rate);
    if seconds <= 0.0 {
        return Vec::new();
    }
    let quarters = f64::from(metre.bar_ticks()) / f64::from(TICKS_PER_QUARTER);
    let mut found: Vec<LoopTempo> = [1_u32, 2, 3, 4, 6, 8, 12, 16, 32]
        .into_iter()
        .map(|bars| (bars, 60.0 * f64::from(bars) * quarters / seconds))
        .filter(|(_, bpm)| (limits::TEMPO_BPM.0.max(50.0)..=220.0).contains(bpm))
        .map(|(bars, bpm)| LoopTempo { bpm, bars, fit: fit(onsets, sample_rate, bpm) })
        .collect();
    // Among equals the usual speed is likelier.
    let rank = |t: &LoopTempo| t.fit - 0.25 * libm::log2(t.bpm / 110.0).abs();
    found.sort_by(|a, b| rank(b).total_cmp(&rank(a)));
    found
}

/// 1 where all hits lie on sixteenths of the tempo, 0 where they lie between them.
fn fit(onsets: &[usize], sample_rate: u32, bpm: f64) -> f64 {
    let Some(first) = onsets.first() else { return 0.0 };
    let sixteenth = f64::from(sample_rate) * 60.0 / bpm / 4.0;
    let off = |frame: &usize| {
        let steps = (frame - first) as f64 / sixteenth;
        2.0 * (steps - libm::round(steps)).abs()
    };
    1.0 - onsets.iter().map(off).sum::<f64>() / onsets.len() as f64
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::two_bars_of_96(96.0, 2)]
    #[case::four_bars_of_128(128.0, 4)]
    #[case::one_bar_of_82(82.0, 1)]
    fn a_loop_of_whole_bars_has_its_tempo_first(#[case] bpm: f64, #[case] bars: u32) {
        let metre = Metre::COMMON;
        let sixteenth = 48_000.0 * 60.0 / bpm / 4.0;
        let frames = (sixteenth * 16.0 * f64::from(bars)).round() as usize;
        let steps = [0, 3, 4, 6, 8, 10, 11, 12, 15];
        let onsets: Vec<usize> =
            (0..bars).flat_map(|b| steps.map(|s| ((s + 16 * b) as f64 * sixteenth) as usize)).collect();
        let found = loop_tempi(frames, &onsets, 48_000, metre);
        assert!((found[0].bpm - bpm).abs() < 0.01, "{found:?}");
        assert_eq!(found[0].bars, bars);
    }

    #[test]
    fn nothing_has_no_tempo() {
        assert!(loop_tempi(0, &[], 48_000, Metre::COMMON).is_empty());
    }
}
