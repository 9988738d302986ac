//! An enhancer: second and third harmonics of the lows and of the highs, mixed back. The harmonics are Chebyshev
//! polynomials of the band divided by its envelope, so that they keep their share at every level and add nothing at
//! the fundamental.

use crate::dsp::kind::{Kind, Place, Unit};
use crate::dsp::parts::{Ramp, Svf, past_weight, settings};
use crate::units::Frame;

settings! {
    /// Low and high enhancement. At 0 % it is transparent.
    Enhancer {
        /// What lies under this gets harmonics over it.
        low_hz: "Lows under", "Hz", Ratio 40.0 to 250.0, 100.0;
        low_percent: "Low amount", "%", Even 0.0 to 100.0, 0.0;
        /// What lies over this, up to 6 kHz, gets harmonics over it.
        high_hz: "Highs over", "Hz", Ratio 1500.0 to 5000.0, 3000.0;
        high_percent: "High amount", "%", Even 0.0 to 100.0, 0.0;
    }
    choices {}
}

impl Kind for Enhancer {
    const NAME: &'static str = "Enhancer";
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }

    fn tail(&self, place: Place) -> usize {
        // The lowest filters have fallen by 100 dB after about three waves.
        (3.0 * f64::from(place.sample_rate) / self.low_hz) as usize
    }
}

/// Level of the harmonics at 100 %, in parts of the band.
const WHOLE: f64 = 0.6;
/// Highs over this give no harmonics: the third of them would fold back.
const TOP_HZ: f64 = 6000.0;
/// Q of two sections that make a slope of 24 dB per octave.
const STEEP: [f64; 2] = [0.541_196_100_146_197, 1.306_562_964_876_377];
/// Envelopes below this are silence.
const SILENCE: f64 = 1e-9;

/// One band: what it takes, its envelope, and what it gives back.
#[derive(Debug, Clone)]
struct Part {
    /// Two high-passes and two low-passes of the source; the lows have no high-pass.
    high_passes: Option<[Svf; 2]>,
    low_passes: [Svf; 2],
    /// Takes what is under the band out of the harmonics.
    out: [Svf; 2],
    fall: f64,
    envelope: Frame,
}

fn steep(hz: f64, sample_rate: u32) -> [Svf; 2] {
    STEEP.map(|q| Svf::with_q(hz, q, sample_rate))
}

fn tune(filters: &mut [Svf; 2], hz: f64, sample_rate: u32) {
    for (filter, q) in filters.iter_mut().zip(STEEP) {
        filter.tune(hz, q, sample_rate);
    }
}

impl Part {
    fn low(hz: f64, sample_rate: u32) -> Self {
        Part {
            high_passes: None,
            low_passes: steep(hz, sample_rate),
            out: steep(hz, sample_rate),
            fall: past_weight(8000.0 / hz, sample_rate),
            envelope: [0.0; 2],
        }
    }

    fn high(hz: f64, sample_rate: u32) -> Self {
        Part { high_passes: Some(steep(hz, sample_rate)), ..Part::low(TOP_HZ, sample_rate) }
    }

    fn tune(&mut self, hz: f64, sample_rate: u32) {
        tune(&mut self.out, hz, sample_rate);
        match &mut self.high_passes {
            Some(filters) => tune(filters, hz, sample_rate),
            None => {
                tune(&mut self.low_passes, hz, sample_rate);
                self.fall = past_weight(8000.0 / hz, sample_rate);
            }
        }
    }

    /// The harmonics of the next sample of a side.
    #[inline]
    fn step(&mut self, side: usize, x: f64) -> f64 {
        let mut band = x;
        if let Some(filters) = &mut self.high_passes {
            band = filters.iter_mut().fold(band, |x, f| f.step(side, x)[2]);
        }
        band = self.low_passes.iter_mut().fold(band, |x, f| f.step(side, x)[0]);
        let level = band.abs();
        let envelope = &mut self.envelope[side];
        *envelope = if level > *envelope { level } else { level + self.fall * (*envelope - level) };
        let harmonics = if *envelope < SILENCE {
            *envelope = 0.0;
            0.0
        } else {
            let u = band / *envelope;
            let second = 2.0 * u * u - 1.0;
            let third = (4.0 * u * u - 3.0) * u;
            *envelope * (second + 0.4 * third)
        };
        self.out.iter_mut().fold(harmonics, |x, f| f.step(side, x)[2])
    }

    fn rests(&self) -> bool {
        let mut filters = self.high_passes.iter().flatten().chain(&self.low_passes).chain(&self.out);
        self.envelope == [0.0; 2] && filters.all(Svf::rests)
    }

    fn reset(&mut self) {
        self.high_passes.iter_mut().flatten().chain(&mut self.low_passes).chain(&mut self.out).for_each(Svf::reset);
        self.envelope = [0.0; 2];
    }
}

/// An enhancer at work.
#[derive(Debug, Clone)]
pub struct State {
    /// Low and high.
    amounts: Ramp<2>,
    low: Part,
    high: Part,
}

fn targets(s: &Enhancer) -> [f64; 2] {
    [WHOLE * s.low_percent / 100.0, WHOLE * s.high_percent / 100.0]
}

impl Unit<Enhancer> for State {
    fn new(s: &Enhancer, Place { sample_rate, .. }: Place) -> Self {
        let mut high = Part::high(s.high_hz, sample_rate);
        high.tune(s.high_hz, sample_rate);
        State { amounts: Ramp::at(targets(s)), low: Part::low(s.low_hz, sample_rate), high }
    }

    fn set(&mut self, s: &Enhancer, Place { sample_rate, .. }: Place) {
        self.amounts.go_to(targets(s), sample_rate);
        self.low.tune(s.low_hz, sample_rate);
        self.high.tune(s.high_hz, sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for frame in frames {
            let [low, high] = self.amounts.step();
            for (side, x) in frame.iter_mut().enumerate() {
                let sound = *x;
                if low > 0.0 {
                    *x += low * self.low.step(side, sound);
                }
                if high > 0.0 {
                    *x += high * self.high.step(side, sound);
                }
            }
        }
    }

    fn rests(&self, _silent: usize) -> bool {
        // What adds nothing stands still.
        let [low, high] = self.amounts.target();
        !self.amounts.moves() && (low == 0.0 || self.low.rests()) && (high == 0.0 || self.high.rests())
    }

    fn reset(&mut self) {
        self.low.reset();
        self.high.reset();
    }
}
