//! The level that a compressor or gate goes by.

use super::param::options;
use super::time::past_weight;
use lane_units::Frame;

/// Mean squares below this are silence; about -200 dBFS.
const SILENCE: f64 = 1e-20;

options! {
    /// What of the signal counts as its level.
    Detect {
        /// The sample's magnitude.
        Peak: "peak", "Peak";
        /// The root of a running mean square with a time constant of 10 ms.
        Rms: "rms", "RMS";
    }
}

/// Time constant of the mean square in milliseconds.
const RMS_MS: f64 = 10.0;

/// Level of both sides, each by itself.
#[derive(Debug, Clone)]
pub struct Detector {
    detect: Detect,
    past: f64,
    mean: Frame,
}

impl Detector {
    /// At rest.
    pub fn new(detect: Detect, sample_rate: u32) -> Self {
        Detector { detect, past: past_weight(RMS_MS, sample_rate), mean: [0.0; 2] }
    }

    /// Another way to read levels; what it remembers stays.
    pub fn set(&mut self, detect: Detect) {
        self.detect = detect;
    }

    /// The level of both sides behind the next frame, linear. Fit for the audio thread.
    #[inline]
    pub fn step(&mut self, [l, r]: Frame) -> Frame {
        match self.detect {
            Detect::Peak => [l.abs(), r.abs()],
            Detect::Rms => {
                for (mean, x) in self.mean.iter_mut().zip([l, r]) {
                    *mean = x * x + self.past * (*mean - x * x);
                    if *mean < SILENCE {
                        *mean = 0.0;
                    }
                }
                self.mean.map(libm::sqrt)
            }
        }
    }

    /// Whether it remembers nothing.
    pub fn rests(&self) -> bool {
        self.mean == [0.0; 2]
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.mean = [0.0; 2];
    }
}
