//! Saturation: a soft curve whose small signals keep their level.

use super::shaper::{Amounts, Driven, LATENCY, State};
use crate::kind::{Kind, Place};
use crate::parts::settings;

settings! {
    /// A soft saturation. Even at no drive it is filtered at four times the rate, which changes the passband by less
    /// than 0.01 dB.
    Saturation {
        /// Into the curve, and out of it again, so that soft parts stay as loud as they are.
        drive_db: "Drive", "dB", Even 0.0 to 36.0, 6.0;
        /// From a soft curve to straight clipping.
        hardness_percent: "Hardness", "%", Even 0.0 to 100.0, 0.0;
    }
    choices {}
}

impl Kind for Saturation {
    const NAME: &'static str = "Saturation";
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }

    fn latency(&self, _sample_rate: u32) -> usize {
        LATENCY
    }

    fn tail(&self, _place: Place) -> usize {
        // The filters ring as long again as they delay.
        LATENCY
    }
}

impl Driven for Saturation {
    fn amounts(&self) -> Amounts {
        Amounts { drive_db: self.drive_db, hardness: self.hardness_percent / 100.0 }
    }
}
