//! An enhancer: second and third harmonics of the lows and of the highs, mixed back. The harmonics are Chebyshev
//! polynomials of the band divided by its envelope, so that they keep their share at every level and add nothing at
//! the fundamental. The envelope of the lows holds their peaks; that of the highs is the length of the band and the same
//! a quarter of a wave later, which stands still for a tone.

use crate::kind::{Kind, Place, Unit};
use crate::parts::{Quadrature, Ramp, Svf, past_weight, settings};
use lane_units::Frame;

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
/// Between the lowest of the highs and those that the filter over [`TOP_HZ`] still lets through.
const MIDDLE_HZ: f64 = 3290.0;
/// Q of two sections that make a slope of 24 dB per octave.
const STEEP: [f64; 2] = [0.541_196_100_146_197, 1.306_562_964_876_377];
/// Time over which peaks of the lows are let go of, in waves of the corner, in ms Hz.
const PEAKS_HELD: f64 = 8000.0;
/// Envelopes below this are silence.
const SILENCE: f64 = 1e-9;

/// One band: what it takes, its envelope, and what it gives back.
#[derive(Debug, Clone)]
struct Part {
    /// Two low-passes of the source.
    low_passes: [Svf; 2],
    follows: Follows,
    /// Takes what is under the band out of the harmonics.
    out: [Svf; 2],
}

/// How a part knows the level of its band.
#[derive(Debug, Clone)]
enum Follows {
    /// By the peaks, held and let go of.
    Peaks { fall: f64, envelope: Frame },
    /// By the wave and the same a quarter later; what lies under it is taken away first.
    Wave { high_passes: [Svf; 2], quarter: Quadrature },
}

fn steep(hz: f64, sample_rate: u32) -> [Svf; 2] {
    STEEP.map(|q| Svf::with_q(hz, q, sample_rate))
}

fn tune(filters: &mut [Svf; 2], hz: f64, sample_rate: u32) {
    for (filter, q) in filters.iter_mut().zip(STEEP) {
        filter.tune(hz, q, sample_rate);
    }
}

/// Second and third harmonics of a wave of an envelope, by Chebyshev's polynomials of its cosine.
#[inline]
fn harmonics(cosine: f64, envelope: f64) -> f64 {
    let second = 2.0 * cosine * cosine - 1.0;
    let third = (4.0 * cosine * cosine - 3.0) * cosine;
    envelope * (second + 0.4 * third)
}

impl Part {
    fn low(hz: f64, sample_rate: u32) -> Self {
        let follows = Follows::Peaks { fall: past_weight(PEAKS_HELD / hz, sample_rate), envelope: [0.0; 2] };
        Part { low_passes: steep(hz, sample_rate), follows, out: steep(hz, sample_rate) }
    }

    fn high(hz: f64, sample_rate: u32) -> Self {
        let follows =
            Follows::Wave { high_passes: steep(hz, sample_rate), quarter: Quadrature::new(MIDDLE_HZ, sample_rate) };
        Part { low_passes: steep(TOP_HZ, sample_rate), follows, out: steep(hz, sample_rate) }
    }

    fn tune(&mut self, hz: f64, sample_rate: u32) {
        tune(&mut self.out, hz, sample_rate);
        match &mut self.follows {
            Follows::Wave { high_passes, .. } => tune(high_passes, hz, sample_rate),
            Follows::Peaks { fall, .. } => {
                tune(&mut self.low_passes, hz, sample_rate);
                *fall = past_weight(PEAKS_HELD / hz, sample_rate);
            }
        }
    }

    /// The harmonics of the next sample of a side.
    #[inline]
    fn step(&mut self, side: usize, x: f64) -> f64 {
        let band = self.low_passes.iter_mut().fold(x, |x, f| f.step(side, x)[0]);
        let added = match &mut self.follows {
            Follows::Peaks { fall, envelope } => {
                let (level, envelope) = (band.abs(), &mut envelope[side]);
                *envelope = if level > *envelope { level } else { level + *fall * (*envelope - level) };
                if *envelope < SILENCE {
                    *envelope = 0.0;
                    0.0
                } else {
                    harmonics(band / *envelope, *envelope)
                }
            }
            Follows::Wave { high_passes, quarter } => {
                let band = high_passes.iter_mut().fold(band, |x, f| f.step(side, x)[2]);
                let [now, later] = quarter.step(side, band);
                let envelope = libm::sqrt(now * now + later * later);
                if envelope < SILENCE { 0.0 } else { harmonics(now / envelope, envelope) }
            }
        };
        self.out.iter_mut().fold(added, |x, f| f.step(side, x)[2])
    }

    fn rests(&self) -> bool {
        let follows = match &self.follows {
            Follows::Peaks { envelope, .. } => *envelope == [0.0; 2],
            Follows::Wave { high_passes, quarter } => high_passes.iter().all(Svf::rests) && quarter.rests(),
        };
        follows && self.low_passes.iter().chain(&self.out).all(Svf::rests)
    }

    fn reset(&mut self) {
        self.low_passes.iter_mut().chain(&mut self.out).for_each(Svf::reset);
        match &mut self.follows {
            Follows::Peaks { envelope, .. } => *envelope = [0.0; 2],
            Follows::Wave { high_passes, quarter } => {
                high_passes.iter_mut().for_each(Svf::reset);
                quarter.reset();
            }
        }
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
        State {
            amounts: Ramp::at(targets(s)),
            low: Part::low(s.low_hz, sample_rate),
            high: Part::high(s.high_hz, sample_rate),
        }
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
