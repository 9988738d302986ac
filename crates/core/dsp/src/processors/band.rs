//! One band of an equaliser as it is set.

use crate::parts::{TimeIn, options, settings};

options! {
    /// What a band does.
    Shape {
        HighPass: "high_pass", "High-pass";
        LowShelf: "low_shelf", "Low shelf";
        Bell: "bell", "Bell";
        HighShelf: "high_shelf", "High shelf";
        LowPass: "low_pass", "Low-pass";
        Notch: "notch", "Notch";
    }
}

options! {
    /// How steep a high-pass or low-pass is.
    Slope {
        Db6: "6", "6 dB/oct";
        Db12: "12", "12 dB/oct";
        Db18: "18", "18 dB/oct";
        Db24: "24", "24 dB/oct";
        Db36: "36", "36 dB/oct";
        Db48: "48", "48 dB/oct";
    }
}

options! {
    /// Whether a band is heard.
    Switch {
        On: "on", "On";
        Off: "off", "Off";
    }
}

settings! {
    /// One band.
    Band {
        /// Corner or centre; kept under 0.49 of the session's rate.
        freq_hz: "Frequency", "Hz", Ratio 10.0 to 22000.0, 1000.0;
        /// Of bells and shelves.
        gain_db: "Gain", "dB", Even -24.0 to 24.0, 0.0;
        /// Of bells, shelves and notches, and of passes of 12 dB per octave.
        q: "Q", "", Ratio 0.1 to 40.0, 0.71;
        /// How far the gain of a bell or shelf moves at most, as the level in the band goes over the threshold by as
        /// much; 0 for a band that does not move.
        range_db: "Moves by", "dB", Even -24.0 to 24.0, 0.0;
        /// In the band: what a bell's own band-pass, or what lies on a shelf's side of its corner, peaks at.
        threshold_dbfs: "From", "dBFS", Even -80.0 to 0.0, -30.0;
        attack_ms: "Attack", "ms", Ratio 0.1 to 250.0, 5.0;
        release_ms: "Release", "ms", Ratio 5.0 to 2500.0, 120.0;
    }
    choices {
        shape: "Shape", Shape = Bell;
        slope: "Slope", Slope = Db12;
        switch: "Heard", Switch = On;
        attack_in: "Attack in", TimeIn = Milliseconds;
        release_in: "Release in", TimeIn = Milliseconds;
    }
}

impl Band {
    /// Whether its gain follows the level.
    pub fn moves(&self) -> bool {
        self.range_db != 0.0 && matches!(self.shape, Shape::Bell | Shape::LowShelf | Shape::HighShelf)
    }
}
