//! Times in frames.

/// Milliseconds to whole frames, to the nearest.
pub fn frames_of(ms: f64, sample_rate: u32) -> usize {
    libm::round(ms / 1000.0 * f64::from(sample_rate)) as usize
}

/// The weight of the past in a one-pole average with a time constant in milliseconds; 0 at once.
pub fn past_weight(ms: f64, sample_rate: u32) -> f64 {
    if ms <= 0.0 { 0.0 } else { libm::exp(-1000.0 / (ms * f64::from(sample_rate))) }
}
