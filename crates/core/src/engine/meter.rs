//! Levels at the stations of a strip.

use crate::units::Frame;

/// Values of a strip's own stations as [`super::Engine::read_meters`] writes them: for each of source, after
/// trim and after the fader: peak left, peak right, RMS left, RMS right, all linear.
pub const METER_VALUES: usize = 12;
/// Values of each processor behind them: the same four after it, and its reduction in dB.
pub const SLOT_METER_VALUES: usize = 5;

/// Time constant of the RMS in seconds.
const RMS_SECONDS: f64 = 0.3;
/// Mean squares below this are silence; about -200 dBFS.
const SILENCE: f64 = 1e-20;

/// Peak since the last reading, and a running mean square.
#[derive(Debug, Clone)]
pub struct StationMeter {
    peak: Frame,
    mean_square: Frame,
    weight: f64,
}

impl StationMeter {
    pub fn new(sample_rate: u32) -> Self {
        let weight = 1.0 - libm::exp(-1.0 / (RMS_SECONDS * f64::from(sample_rate)));
        StationMeter { peak: [0.0; 2], mean_square: [0.0; 2], weight }
    }

    #[inline]
    pub fn take(&mut self, frames: &[Frame]) {
        let (mut peak, mut mean) = (self.peak, self.mean_square);
        for frame in frames {
            for side in 0..2 {
                let x = frame[side];
                peak[side] = if x.abs() > peak[side] { x.abs() } else { peak[side] };
                mean[side] += (x * x - mean[side]) * self.weight;
            }
        }
        for value in &mut mean {
            if *value < SILENCE {
                *value = 0.0;
            }
        }
        (self.peak, self.mean_square) = (peak, mean);
    }

    pub fn read(&mut self, out: &mut [f32]) {
        out[0] = self.peak[0] as f32;
        out[1] = self.peak[1] as f32;
        out[2] = libm::sqrt(self.mean_square[0]) as f32;
        out[3] = libm::sqrt(self.mean_square[1]) as f32;
        self.peak = [0.0; 2];
    }
}

/// The stations of a strip before and after its chain.
pub(super) struct Meter {
    pub source: StationMeter,
    pub trimmed: StationMeter,
    pub out: StationMeter,
}

impl Meter {
    pub fn new(sample_rate: u32) -> Self {
        let station = StationMeter::new(sample_rate);
        Meter { source: station.clone(), trimmed: station.clone(), out: station }
    }

    pub fn read(&mut self, values: &mut [f32]) {
        for (station, out) in
            [&mut self.source, &mut self.trimmed, &mut self.out].into_iter().zip(values.chunks_exact_mut(4))
        {
            station.read(out);
        }
    }
}
