//! Spectra of windows of sound, the same on every machine: without instructions chosen at run time.

use rustfft::num_complex::Complex;
use rustfft::{Fft, FftPlannerScalar};
use std::f64::consts::TAU;
use std::sync::Arc;

/// Power spectra of Hann-windowed pieces.
pub(super) struct Spectrum {
    plan: Arc<dyn Fft<f64>>,
    hann: Vec<f64>,
    work: Vec<Complex<f64>>,
    scratch: Vec<Complex<f64>>,
}

impl Spectrum {
    /// * `window` – frames of a piece, at least 2.
    pub fn new(window: usize) -> Self {
        let plan = FftPlannerScalar::new().plan_fft_forward(window);
        let hann = (0..window).map(|n| 0.5 - 0.5 * libm::cos(TAU * n as f64 / window as f64)).collect();
        let zero = Complex::new(0.0, 0.0);
        let scratch = vec![zero; plan.get_inplace_scratch_len()];
        Spectrum { plan, hann, work: vec![zero; window], scratch }
    }

    /// Power of the bins from 0 Hz up to half the rate; `sample` gives the frames of the piece.
    pub fn power(&mut self, sample: impl Fn(usize) -> f64) -> impl Iterator<Item = f64> + '_ {
        for (n, (value, hann)) in self.work.iter_mut().zip(&self.hann).enumerate() {
            *value = Complex::new(sample(n) * hann, 0.0);
        }
        self.plan.process_with_scratch(&mut self.work, &mut self.scratch);
        self.work[..self.hann.len() / 2 + 1].iter().map(|v| v.norm_sqr())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_tone_on_a_bin_is_in_it_and_its_neighbours() {
        let mut spectrum = Spectrum::new(256);
        let power: Vec<f64> = spectrum.power(|n| libm::sin(TAU * 10.0 * n as f64 / 256.0)).collect();
        assert_eq!(power.len(), 129);
        // A Hann window of 256 has half of its sum in the bin of a sine: 256 / 4.
        assert!((power[10].sqrt() - 64.0).abs() < 1e-9);
        assert!(power.iter().enumerate().all(|(n, p)| n.abs_diff(10) <= 1 || *p < 1e-18));
    }
}
