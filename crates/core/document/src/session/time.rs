//! Tempo, metre and swing.

use super::limits;
use lane_units::{TICKS_PER_QUARTER, repaired_or};
use serde::{Deserialize, Deserializer, Serialize};

/// Numbers that are no metre or tempo.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
pub enum NotATime {
    #[error("the metre is {beats}/{unit}; 1 to 32 beats of 2, 4, 8 or 16 are allowed")]
    Metre { beats: u32, unit: u32 },
    #[error("the tempo is {given} bpm; {} to {} bpm is allowed", limits::TEMPO_BPM.0, limits::TEMPO_BPM.1)]
    Tempo { given: f64 },
}

/// Beats in a bar and the note value of a beat, as in 4/4 or 6/8.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Metre {
    /// Beats in a bar, 1 to 32.
    beats: u32,
    /// Note value of a beat: 2, 4, 8 or 16.
    unit: u32,
}

#[derive(Deserialize)]
struct RawMetre {
    beats: u32,
    unit: u32,
}

impl<'de> Deserialize<'de> for Metre {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let RawMetre { beats, unit } = RawMetre::deserialize(from)?;
        Metre::new(beats, unit)
            .or_else(|e| repaired_or(e, || (Metre::COMMON, format!("{e}; it was set to 4/4."))))
            .map_err(serde::de::Error::custom)
    }
}

impl Metre {
    /// 4/4.
    pub const COMMON: Metre = Metre { beats: 4, unit: 4 };

    /// # Errors
    /// [`NotATime::Metre`] for other than 1 to 32 beats of 2, 4, 8 or 16.
    pub fn new(beats: u32, unit: u32) -> Result<Self, NotATime> {
        if (1..=32).contains(&beats) && [2, 4, 8, 16].contains(&unit) {
            Ok(Metre { beats, unit })
        } else {
            Err(NotATime::Metre { beats, unit })
        }
    }

    /// Beats in a bar.
    pub fn beats(self) -> u32 {
        self.beats
    }

    /// Note value of a beat.
    pub fn unit(self) -> u32 {
        self.unit
    }

    /// Ticks in one beat.
    pub fn beat_ticks(self) -> u32 {
        TICKS_PER_QUARTER * 4 / self.unit
    }

    /// Ticks in one bar.
    pub fn bar_ticks(self) -> u32 {
        self.beat_ticks() * self.beats
    }
}

/// Quarter notes a minute, 20 to 400.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(transparent)]
pub struct Tempo(f64);

impl<'de> Deserialize<'de> for Tempo {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let given = f64::deserialize(from)?;
        let (least, most) = limits::TEMPO_BPM;
        Tempo::new(given)
            .or_else(|e| repaired_or(e, || (Tempo(given.clamp(least, most)), format!("{e}; the nearest was taken."))))
            .map_err(serde::de::Error::custom)
    }
}

impl Tempo {
    /// # Errors
    /// [`NotATime::Tempo`] for other than 20 to 400 bpm.
    pub fn new(bpm: f64) -> Result<Self, NotATime> {
        let (least, most) = limits::TEMPO_BPM;
        if bpm >= least && bpm <= most { Ok(Tempo(bpm)) } else { Err(NotATime::Tempo { given: bpm }) }
    }

    /// Quarter notes a minute.
    pub fn bpm(self) -> f64 {
        self.0
    }

    /// Ticks in a stretch of time.
    pub fn ticks_in(self, seconds: f64) -> f64 {
        seconds * self.0 / 60.0 * f64::from(TICKS_PER_QUARTER)
    }

    /// Seconds that so many ticks take.
    pub fn seconds_of(self, ticks: u64) -> f64 {
        ticks as f64 * 60.0 / (self.0 * f64::from(TICKS_PER_QUARTER))
    }
}

/// Which off-beats swing moves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum SwingGrid {
    /// Off-beat eighths move.
    Eighth,
    /// Off-beat sixteenths move.
    Sixteenth,
}

/// Swing: where the off-beat falls between two on-beats.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Swing {
    /// 50 % is straight, 66.7 % a triplet feel; 50 to 75.
    pub percent: f64,
    /// Which off-beats move.
    pub grid: SwingGrid,
}

impl Swing {
    /// How many ticks later than written a position sounds; only off-beats of the grid move.
    pub fn shift_ticks(self, at_ticks: u32) -> f64 {
        let step = match self.grid {
            SwingGrid::Eighth => TICKS_PER_QUARTER / 2,
            SwingGrid::Sixteenth => TICKS_PER_QUARTER / 4,
        };
        let nearest = (at_ticks + step / 2) / step;
        if nearest % 2 == 1 { (self.percent - 50.0) / 50.0 * f64::from(step) } else { 0.0 }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::no_unit(4, 0)]
    #[case::no_beats(0, 4)]
    #[case::thirds(4, 3)]
    #[case::whole(4, 1)]
    #[case::many(33, 4)]
    #[case::largest(u32::MAX, 16)]
    fn what_is_no_metre_cannot_be_made_from_json_either(#[case] beats: u32, #[case] unit: u32) {
        assert_eq!(Metre::new(beats, unit), Err(NotATime::Metre { beats, unit }));
        let json = format!(r#"{{"beats":{beats},"unit":{unit}}}"#);
        let refused = serde_json::from_str::<Metre>(&json).unwrap_err().to_string();
        assert!(refused.contains("1 to 32 beats of 2, 4, 8 or 16"), "{refused}");
        let (metre, remarks) = lane_units::repairing(|| serde_json::from_str::<Metre>(&json));
        assert_eq!((metre.unwrap(), remarks.len()), (Metre::COMMON, 1));
    }

    #[rstest]
    #[case::still("0")]
    #[case::backwards("-96")]
    #[case::slow("19.99")]
    #[case::fast("400.5")]
    fn what_is_no_tempo_cannot_be_made_from_json_either(#[case] json: &str) {
        let refused = serde_json::from_str::<Tempo>(json).unwrap_err().to_string();
        assert!(refused.contains("20 to 400 bpm"), "{refused}");
        let (tempo, _) = lane_units::repairing(|| serde_json::from_str::<Tempo>(json));
        assert!(Tempo::new(tempo.unwrap().bpm()).is_ok());
    }

    #[test]
    fn every_metre_has_whole_beats() {
        for (beats, unit) in (1..=32).flat_map(|b| [2, 4, 8, 16].map(|u| (b, u))) {
            let metre = Metre::new(beats, unit).unwrap();
            assert_eq!(metre.bar_ticks() * unit, beats * 4 * TICKS_PER_QUARTER);
        }
    }
}
