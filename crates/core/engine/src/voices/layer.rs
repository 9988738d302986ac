//! One layer of a hit over time: which frame of the sample is read, and how loud.

use lane_document::session::Layer;
use lane_units::{Reader, Words, db_to_gain};

/// Fade of a sample that is cut before its end, in seconds.
const CUT_SECONDS: f64 = 0.002;

/// A ramp from 0 to 1 with a curve: t / (t + k (1 - t)), straight for k = 1, slow then fast above.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Curve {
    frames: f64,
    k: f64,
}

impl Curve {
    fn new(ms: f64, curve_percent: f64, rate: f64) -> Self {
        Curve { frames: ms / 1000.0 * rate, k: libm::exp2(curve_percent / 25.0) }
    }

    #[inline]
    fn at(self, age: f64) -> f64 {
        let t = age / self.frames;
        t / (t + self.k * (1.0 - t))
    }
}

#[derive(Debug, Clone, Copy, PartialEq)]
struct Fall {
    hold: f64,
    curve: Curve,
}

/// Pitch that glides by `octaves` at the onset to none after `frames`.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Glide {
    octaves: f64,
    frames: f64,
}

impl Glide {
    /// Frames read after `age` frames: the integral of the speed 2^(octaves (1 - t / frames)).
    fn position(self, age: f64) -> f64 {
        let Glide { octaves, frames } = self;
        let t = age.min(frames);
        let read = frames / (octaves * std::f64::consts::LN_2)
            * (libm::exp2(octaves) - libm::exp2(octaves * (1.0 - t / frames)));
        read + (age - t)
    }

    /// The age at which `position` is reached: the inverse.
    fn age(self, position: f64) -> f64 {
        let Glide { octaves, frames } = self;
        let whole = self.position(frames);
        if position >= whole {
            return frames + (position - whole);
        }
        let left = libm::exp2(octaves) - position * octaves * std::f64::consts::LN_2 / frames;
        frames * (1.0 - libm::log2(left) / octaves)
    }
}

/// Everything of a layer that does not depend on the audio at hand.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct LayerShape {
    /// Frames by which it begins after the hit.
    pub delay: u64,
    start: f64,
    length: f64,
    reverse: bool,
    fade_in: Curve,
    fall: Option<Fall>,
    glide: Option<Glide>,
    /// Frames of the sample over which a cut end fades; 0 where it is not cut.
    cut: f64,
    pub gain: f64,
    pub tune_ct: f64,
    /// Exponent on the gain of the velocity.
    pub velocity: f64,
}

impl Words for LayerShape {
    fn write(&self, words: &mut Vec<f64>) {
        let LayerShape { delay, start, length, reverse, fade_in, fall, glide, cut, gain, tune_ct, velocity } = self;
        words.extend([*delay as f64, *start, *length, f64::from(u8::from(*reverse)), fade_in.frames, fade_in.k]);
        words.extend(fall.map_or([-1.0, 0.0, 0.0], |f| [f.hold, f.curve.frames, f.curve.k]));
        words.extend(glide.map_or([0.0; 2], |g| [g.octaves, g.frames]));
        words.extend([*cut, *gain, *tune_ct, *velocity]);
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let [delay, start, length, reverse, frames, k] = words.array()?;
        let fade_in = Curve { frames, k };
        let [hold, frames, k] = words.array()?;
        let fall = (hold >= 0.0).then_some(Fall { hold, curve: Curve { frames, k } });
        let [octaves, frames] = words.array()?;
        let glide = (octaves != 0.0).then_some(Glide { octaves, frames });
        let [cut, gain, tune_ct, velocity] = words.array()?;
        let delay = delay as u64;
        Some(LayerShape {
            delay,
            start,
            length,
            reverse: reverse != 0.0,
            fade_in,
            fall,
            glide,
            cut,
            gain,
            tune_ct,
            velocity,
        })
    }
}

impl LayerShape {
    /// * `frames` – length of the whole sample.
    pub fn new(layer: &Layer, frames: u64, sample_rate: u32) -> Self {
        let rate = f64::from(sample_rate);
        let end = layer.end_frame.map_or(frames, |e| u64::from(e).min(frames));
        let start = u64::from(layer.start_frame).min(end);
        let cut = if layer.reverse { start > 0 } else { end < frames };
        let length = (end - start) as f64;
        LayerShape {
            delay: libm::round(layer.delay_ms / 1000.0 * rate) as u64,
            start: start as f64,
            length,
            reverse: layer.reverse,
            fade_in: Curve::new(layer.fade_in.ms, layer.fade_in.curve_percent, rate),
            fall: layer.decay.map(|d| Fall {
                hold: d.hold_ms / 1000.0 * rate,
                // Falling fast first is rising slowly last.
                curve: Curve::new(d.ms, -d.curve_percent, rate),
            }),
            glide: layer
                .sweep
                .filter(|s| s.depth_st != 0.0)
                .map(|s| Glide { octaves: s.depth_st / 12.0, frames: s.ms / 1000.0 * rate }),
            cut: if cut { (CUT_SECONDS * rate).min(length) } else { 0.0 },
            gain: db_to_gain(layer.gain_db),
            tune_ct: layer.tune_ct,
            velocity: layer.velocity_percent / 100.0,
        }
    }

    /// Frames from `age` on, at most `most`, over which nothing but the sample decides the level: no fade, no fall, no
    /// cut, no glide, at a speed.
    pub fn plain(&self, age: f64, rate: f64, most: usize) -> usize {
        if self.glide.is_some() || age < self.fade_in.frames {
            return 0;
        }
        let mut until = (self.length - self.cut) / rate - 1.0;
        if let Some(fall) = self.fall {
            until = until.min(fall.hold);
        }
        // A frame less than the closed form says, for its rounding.
        ((until - age).max(0.0) as usize).min(most)
    }

    /// All that the values of a sample at a pitch follow from, the sample and the pitch aside.
    pub fn way(&self) -> [f64; 5] {
        let (octaves, frames) = self.glide.map_or((0.0, 0.0), |g| (g.octaves, g.frames));
        [self.start, self.length, f64::from(u8::from(self.reverse)), octaves, frames]
    }

    pub fn reverse(&self) -> bool {
        self.reverse
    }

    /// Whether frames are read between the sample's own at a tuning in cents.
    pub fn between_frames(&self, cents: f64) -> bool {
        cents != 0.0 || self.glide.is_some()
    }

    /// How far the sample was read after `age` frames, at a speed.
    #[inline]
    pub fn read(&self, age: f64, rate: f64) -> f64 {
        match self.glide {
            None => age * rate,
            Some(glide) => glide.position(age) * rate,
        }
    }

    /// The place in the sample after `read` frames; none behind the end.
    #[inline]
    pub fn place(&self, read: f64) -> Option<f64> {
        if read >= self.length {
            None
        } else if self.reverse {
            Some((self.start + self.length - 1.0 - read).max(0.0))
        } else {
            Some(self.start + read)
        }
    }

    /// The level after `age` frames with `read` frames of the sample behind it; none once it is over.
    #[inline]
    pub fn level(&self, age: f64, read: f64) -> Option<f64> {
        let mut level = 1.0;
        if age < self.fade_in.frames {
            level = self.fade_in.at(age);
        }
        if let Some(fall) = self.fall {
            let fallen = age - fall.hold;
            if fallen >= fall.curve.frames {
                return None;
            }
            if fallen > 0.0 {
                level *= 1.0 - fall.curve.at(fallen);
            }
        }
        let left = self.length - read;
        if left < self.cut {
            level *= left / self.cut;
        }
        Some(level)
    }

    /// Frames that it sounds at most once it begins, at a speed.
    pub fn frames(&self, rate: f64) -> u64 {
        let read = self.length / rate;
        let whole = self.glide.map_or(read, |g| g.age(read));
        let fallen = self.fall.map_or(f64::INFINITY, |f| f.hold + f.curve.frames);
        // A frame more than the closed form says, for its rounding.
        libm::ceil(whole.min(fallen)) as u64 + u64::from(self.glide.is_some())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::session::{Decay, FadeIn, PitchSweep};
    use lane_units::AssetId;
    use rstest::rstest;

    const RATE: u32 = 48_000;

    fn layer() -> Layer {
        Layer::new(AssetId("aa".repeat(32)))
    }

    fn shape(layer: Layer) -> LayerShape {
        LayerShape::new(&layer, 48_000, RATE)
    }

    #[test]
    fn at_rest_it_is_the_sample() {
        let s = shape(layer());
        assert_eq!(s.level(0.0, 0.0), Some(1.0));
        assert_eq!(s.place(s.read(1234.0, 1.0)), Some(1234.0));
        assert_eq!(s.place(48_000.0), None);
        assert_eq!(s.frames(1.0), 48_000);
        assert!(!s.between_frames(0.0));
    }

    #[test]
    fn start_end_and_reverse_choose_the_frames() {
        let cut = Layer { start_frame: 1000, end_frame: Some(3000), ..layer() };
        let (forward, backward) = (shape(cut.clone()), shape(Layer { reverse: true, ..cut }));
        assert_eq!(forward.place(0.0), Some(1000.0));
        assert_eq!(forward.place(1999.0), Some(2999.0));
        assert_eq!(forward.place(2000.0), None);
        assert_eq!(backward.place(0.0), Some(2999.0));
        assert_eq!(backward.place(1999.0), Some(1000.0));
        // The cut end fades over 2 ms.
        assert_eq!(forward.level(1904.0, 1904.0), Some(1.0));
        assert_eq!(forward.level(1952.0, 1952.0), Some(0.5));
    }

    #[rstest]
    #[case::straight(0.0, 0.5)]
    #[case::slow_then_fast(100.0, 1.0 / 17.0)]
    #[case::fast_then_slow(-100.0, 16.0 / 17.0)]
    fn a_fade_in_follows_its_curve(#[case] curve_percent: f64, #[case] middle: f64) {
        let s = shape(Layer { fade_in: FadeIn { ms: 100.0, curve_percent }, ..layer() });
        assert_eq!(s.level(0.0, 0.0), Some(0.0));
        assert!((s.level(2400.0, 2400.0).unwrap() - middle).abs() < 1e-12);
        assert_eq!(s.level(4800.0, 4800.0), Some(1.0));
    }

    #[rstest]
    #[case::straight(0.0, 0.5)]
    #[case::fast_then_slow(100.0, 1.0 / 17.0)]
    fn a_decay_holds_then_falls_to_silence(#[case] curve_percent: f64, #[case] middle: f64) {
        let decay = Some(Decay { hold_ms: 50.0, ms: 100.0, curve_percent });
        let s = shape(Layer { decay, ..layer() });
        assert_eq!(s.level(2400.0, 2400.0), Some(1.0));
        assert!((s.level(4800.0, 4800.0).unwrap() - middle).abs() < 1e-12);
        assert_eq!(s.level(7200.0, 7200.0), None);
        assert_eq!(s.frames(1.0), 7200);
    }

    #[rstest]
    #[case(24.0)]
    #[case(-7.0)]
    fn a_glide_reads_what_its_speed_adds_up_to(#[case] depth_st: f64) {
        let s = shape(Layer { sweep: Some(PitchSweep { depth_st, ms: 40.0 }), ..layer() });
        // A slow sum of the speed in small steps, by the middle of each.
        let (mut sum, steps) = (0.0, 1000);
        for age in 0..4000 {
            if age % 500 == 0 {
                assert!((s.read(f64::from(age), 1.0) - sum).abs() < 1e-3, "frame {age}");
            }
            for step in 0..steps {
                let t = f64::from(age) + (f64::from(step) + 0.5) / f64::from(steps);
                let st = depth_st * (1.0 - t / 1920.0).max(0.0);
                sum += libm::exp2(st / 12.0) / f64::from(steps);
            }
        }
        let age = s.glide.unwrap().age(s.read(777.0, 1.0));
        assert!((age - 777.0).abs() < 1e-6);
    }
}
