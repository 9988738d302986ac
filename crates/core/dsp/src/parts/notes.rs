//! Times that follow the tempo where somebody wants them to.

use super::options;
use crate::kind::Place;

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

/// How long a note is in quarter notes, by its word: "1/8", dotted "1/8d", of a triplet "1/8t"; none where it is no note.
pub fn note_quarters(word: &str) -> Option<f64> {
    let part = word.strip_prefix("1/")?;
    let (number, by) = match (part.strip_suffix('d'), part.strip_suffix('t')) {
        (Some(number), _) => (number, 1.5),
        (_, Some(number)) => (number, 2.0 / 3.0),
        _ => (part, 1.0),
    };
    let number: f64 = number.parse().ok()?;
    // Divided once, so that thirds are as near as can be.
    Some(if by < 1.0 { 8.0 / (3.0 * number) } else { 4.0 * by / number })
}

/// Every note that something can be counted in, by its word, with its length in quarter notes.
pub fn note_lengths() -> Vec<(&'static str, f64)> {
    TimeIn::OPTIONS.iter().filter_map(|(word, _)| Some((*word, note_quarters(word)?))).collect()
}

impl TimeIn {
    /// Length in quarter notes; none where it is no note.
    pub fn quarters(self) -> Option<f64> {
        note_quarters(Self::OPTIONS[self as usize].0)
    }

    /// Whether it is a note, so that it follows the tempo.
    pub fn is_note(self) -> bool {
        self != TimeIn::Milliseconds
    }

    /// A time in ms: the note's, as far as a range lets it, else the one that is set.
    pub fn ms(self, set_ms: f64, (least, most): (f64, f64), place: Place) -> f64 {
        self.quarters().map_or(set_ms, |quarters| (quarters * 60_000.0 / place.tempo_bpm).clamp(least, most))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("1/1", 4.0)]
    #[case("1/2", 2.0)]
    #[case("1/4d", 1.5)]
    #[case("1/4", 1.0)]
    #[case("1/4t", 2.0 / 3.0)]
    #[case("1/8d", 0.75)]
    #[case("1/8t", 1.0 / 3.0)]
    #[case("1/16d", 0.375)]
    #[case("1/16t", 1.0 / 6.0)]
    #[case("1/32", 0.125)]
    #[case("1/64", 0.0625)]
    fn a_word_says_how_long_a_note_is(#[case] word: &str, #[case] quarters: f64) {
        assert_eq!(note_quarters(word), Some(quarters));
    }

    #[rstest]
    fn what_is_no_note_has_no_length(#[values("ms", "free", "1 bar", "1/", "1/x", "")] word: &str) {
        assert_eq!(note_quarters(word), None);
    }

    #[rstest]
    fn a_note_follows_the_tempo_within_the_range_and_ms_stay(#[values(20.0, 97.3, 140.0, 300.0)] tempo_bpm: f64) {
        let place = Place { sample_rate: 48_000, tempo_bpm, bar_quarters: 4.0 };
        assert_eq!(TimeIn::Milliseconds.ms(33.0, (0.0, 1e9), place), 33.0);
        for note in &TimeIn::ALL[1..] {
            let whole = note.ms(33.0, (0.0, 1e9), place);
            assert!((whole - note.quarters().unwrap() * 60_000.0 / tempo_bpm).abs() < 1e-9);
            assert!((50.0..=60.0).contains(&note.ms(33.0, (50.0, 60.0), place)));
        }
    }
}
