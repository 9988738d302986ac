//! Levels at the stations of a strip.

use lane_units::Frame;

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
    sample_rate: f64,
    /// The weight of a block of so many frames, which are mostly as many as before.
    weight: (usize, f64),
}

impl StationMeter {
    /// At rest, for sound at a rate in Hz.
    pub fn new(sample_rate: u32) -> Self {
        StationMeter { peak: [0.0; 2], mean_square: [0.0; 2], sample_rate: f64::from(sample_rate), weight: (0, 0.0) }
    }

    /// Takes the next frames. Fit for the audio thread.
    #[inline]
    pub fn take(&mut self, frames: &[Frame]) {
        if frames.is_empty() {
            return;
        }
        self.weigh(frames.len());
        // Two frames at a time, so that no sum waits for the one before.
        let (pairs, rest) = frames.as_chunks::<2>();
        let (mut peaks, mut sums) = ([[0.0; 2]; 2], [[0.0; 2]; 2]);
        for pair in pairs {
            for n in 0..2 {
                for side in 0..2 {
                    let x = pair[n][side];
                    peaks[n][side] = if x.abs() > peaks[n][side] { x.abs() } else { peaks[n][side] };
                    sums[n][side] += x * x;
                }
            }
        }
        for [l, r] in rest {
            peaks[0] = [peaks[0][0].max(l.abs()), peaks[0][1].max(r.abs())];
            sums[0] = [sums[0][0] + l * l, sums[0][1] + r * r];
        }
        for side in 0..2 {
            self.peak[side] = self.peak[side].max(peaks[0][side]).max(peaks[1][side]);
            let mean = (sums[0][side] + sums[1][side]) / frames.len() as f64;
            let value = self.mean_square[side] + (mean - self.mean_square[side]) * self.weight.1;
            self.mean_square[side] = if value < SILENCE { 0.0 } else { value };
        }
    }

    /// The same, of frames that may be known as silence.
    pub fn take_known(&mut self, frames: &[Frame], silent: bool) {
        if silent { self.pass(frames.len()) } else { self.take(frames) }
    }

    /// Frames of silence.
    pub fn pass(&mut self, frames: usize) {
        if self.mean_square == [0.0; 2] {
            return;
        }
        self.weigh(frames);
        for value in &mut self.mean_square {
            *value -= *value * self.weight.1;
            if *value < SILENCE {
                *value = 0.0;
            }
        }
    }

    fn weigh(&mut self, frames: usize) {
        if self.weight.0 != frames {
            let seconds = frames as f64 / self.sample_rate;
            self.weight = (frames, 1.0 - libm::exp(-seconds / RMS_SECONDS));
        }
    }

    /// Writes its levels, and begins anew. Fit for the audio thread.
    pub fn read(&mut self, out: &mut [f32]) {
        out[0] = self.peak[0] as f32;
        out[1] = self.peak[1] as f32;
        out[2] = libm::sqrt(self.mean_square[0]) as f32;
        out[3] = libm::sqrt(self.mean_square[1]) as f32;
        self.peak = [0.0; 2];
    }
}

/// The stations of a strip before and after its chain.
pub(crate) struct Meter {
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
