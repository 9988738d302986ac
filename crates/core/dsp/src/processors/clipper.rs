//! A clipper: a curve that nothing goes over, hard, soft, or both blended.

use super::shaper::{Amounts, Driven, LATENCY, State};
use crate::kind::{Kind, Place};
use crate::parts::settings;

settings! {
    /// A clipper. The curve itself keeps the ceiling; the filter behind it, without which the sharp corners would fold
    /// back, can lift single samples over it again, by less than 1.2 dB. Holding these too would fold back.
    Clipper {
        ceiling_dbfs: "Ceiling", "dBFS", Even -36.0 to 0.0, -6.0;
        /// From a soft curve, which bends early, to straight clipping.
        hardness_percent: "Hardness", "%", Even 0.0 to 100.0, 100.0;
    }
    choices {}
}

impl Kind for Clipper {
    const NAME: &'static str = "Clipper";
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

impl Driven for Clipper {
    fn amounts(&self) -> Amounts {
        Amounts { drive_db: -self.ceiling_dbfs, hardness: self.hardness_percent / 100.0 }
    }
}
