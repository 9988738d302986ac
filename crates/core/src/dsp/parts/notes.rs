//! Times that follow the tempo where somebody wants them to.

use super::options;
use crate::dsp::kind::Place;

options! {
    /// What a time is counted in.
    TimeIn {
        Milliseconds: "ms", "ms";
        SixtyFourth: "1/64", "1/64";
        ThirtySecond: "1/32", "1/32";
        SixteenthTriplet: "1/16t", "1/16 triplet";
        Sixteenth: "1/16", "1/16";
        SixteenthDotted: "1/16d", "1/16 dotted";
        EighthTriplet: "1/8t", "1/8 triplet";
        Eighth: "1/8", "1/8";
        EighthDotted: "1/8d", "1/8 dotted";
        QuarterTriplet: "1/4t", "1/4 triplet";
        Quarter: "1/4", "1/4";
        QuarterDotted: "1/4d", "1/4 dotted";
        Half: "1/2", "1/2";
    }
}

impl TimeIn {
    /// Length in quarter notes; none where it is no note.
    pub fn quarters(self) -> Option<f64> {
        Some(match self {
            TimeIn::Milliseconds => return None,
            TimeIn::SixtyFourth => 0.0625,
            TimeIn::ThirtySecond => 0.125,
            TimeIn::SixteenthTriplet => 1.0 / 6.0,
            TimeIn::Sixteenth => 0.25,
            TimeIn::SixteenthDotted => 0.375,
            TimeIn::EighthTriplet => 1.0 / 3.0,
            TimeIn::Eighth => 0.5,
            TimeIn::EighthDotted => 0.75,
            TimeIn::QuarterTriplet => 2.0 / 3.0,
            TimeIn::Quarter => 1.0,
            TimeIn::QuarterDotted => 1.5,
            TimeIn::Half => 2.0,
        })
    }

    /// A time in ms: the note's, as far as a range lets it, else the one that is set.
    pub fn ms(self, set_ms: f64, (least, most): (f64, f64), place: Place) -> f64 {
        self.quarters().map_or(set_ms, |quarters| (quarters * 60_000.0 / place.tempo_bpm).clamp(least, most))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_note_follows_the_tempo_within_the_range_and_ms_stay() {
        for tempo_bpm in [60.0, 97.3, 140.0, 240.0] {
            let place = Place { sample_rate: 48_000, tempo_bpm, bar_quarters: 4.0 };
            for note in TimeIn::ALL {
                let found = note.ms(33.0, (0.0, 1e9), place);
                let beat_ms = 60_000.0 / tempo_bpm;
                // The word says what part of a whole note it is.
                let word = TimeIn::OPTIONS[*note as usize].0;
                let expected = match word.split_once('/') {
                    None => 33.0,
                    Some((_, rest)) => {
                        let number: f64 = rest.trim_end_matches(['t', 'd']).parse().unwrap();
                        let by = if rest.ends_with('t') {
                            2.0 / 3.0
                        } else if rest.ends_with('d') {
                            1.5
                        } else {
                            1.0
                        };
                        4.0 * beat_ms / number * by
                    }
                };
                assert!((found - expected).abs() < 1e-9, "{word} at {tempo_bpm}: {found} {expected}");
                assert!(note.ms(33.0, (5.0, 40.0), place) <= 40.0);
            }
        }
    }
}
