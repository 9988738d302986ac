//! One-shots made of sines, noise and envelopes.

use lane_document::session::{Audio, Family};
use libm::{exp, exp2, sin, tanh};
use std::collections::BTreeMap;
use std::f64::consts::TAU;
use std::sync::{Arc, Mutex, PoisonError};

/// A sound of the house.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Sound {
    Kick,
    Snare,
    Rim,
    Clap,
    HatClosed,
    HatOpen,
    Ride,
    Crash,
    TomLow,
    TomHigh,
    Shaker,
    SubBass,
    Keys,
    Pluck,
    Pad,
}

/// Reproducible noise in -1 to 1 (xorshift64*, Vigna 2016).
struct Noise(u64);

impl Noise {
    fn next(&mut self) -> f64 {
        self.0 ^= self.0 >> 12;
        self.0 ^= self.0 << 25;
        self.0 ^= self.0 >> 27;
        let bits = self.0.wrapping_mul(0x2545_F491_4F6C_DD1D) >> 11;
        bits as f64 / (1_u64 << 52) as f64 - 1.0
    }
}

/// A state-variable filter (Zavalishin, "The Art of VA Filter Design", trapezoidal).
struct Filter {
    g: f64,
    k: f64,
    s1: f64,
    s2: f64,
}

struct Bands {
    low: f64,
    band: f64,
    high: f64,
}

impl Filter {
    fn new(hz: f64, q: f64, rate: f64) -> Self {
        Filter { g: libm::tan(std::f64::consts::PI * hz / rate), k: 1.0 / q, s1: 0.0, s2: 0.0 }
    }

    fn run(&mut self, x: f64) -> Bands {
        let high = (x - (self.k + self.g) * self.s1 - self.s2) / (1.0 + self.g * (self.g + self.k));
        let band = self.g * high + self.s1;
        let low = self.g * band + self.s2;
        self.s1 = 2.0 * band - self.s1;
        self.s2 = 2.0 * low - self.s2;
        Bands { low, band, high }
    }
}

/// Falls from 1 to 0.001 over `seconds`.
fn decay(t: f64, seconds: f64) -> f64 {
    exp(-6.9078 * t / seconds)
}

/// Rises from 0 to 1 over `seconds`.
fn rise(t: f64, seconds: f64) -> f64 {
    (t / seconds).min(1.0)
}

/// What stands still in a sound, and all under this, is no sound, in Hz.
const STILL_HZ: f64 = 12.0;

/// Renders a function of time that gives left and right, takes out what stands still, fades its last 5 ms, and brings its
/// peak to `peak`.
fn stereo(seconds: f64, rate: f64, peak: f64, mut at: impl FnMut(f64) -> [f64; 2]) -> Audio {
    let frames = (seconds * rate) as usize;
    let fade = (0.005 * rate) as usize;
    let mut samples: Vec<f64> = Vec::with_capacity(frames * 2);
    let pass = exp(-TAU * STILL_HZ / rate);
    let (mut before, mut moving) = ([0.0; 2], [0.0; 2]);
    for n in 0..frames {
        let out = ((frames - 1 - n) as f64 / fade as f64).min(1.0);
        let now = at(n as f64 / rate);
        for side in 0..2 {
            moving[side] = pass * (moving[side] + now[side] - before[side]);
        }
        before = now;
        samples.extend(moving.map(|x| x * out));
    }
    // The fade leaves a little that stands still again.
    for side in 0..2 {
        let mean = samples.iter().skip(side).step_by(2).sum::<f64>() / frames.max(1) as f64;
        let window: f64 = (0..frames).map(|n| swell(n, frames)).sum();
        samples.iter_mut().skip(side).step_by(2).enumerate().for_each(|(n, x)| {
            *x -= mean * frames as f64 * swell(n, frames) / window.max(1.0);
        });
    }
    let loudest = samples.iter().fold(1e-9_f64, |p, x| p.max(x.abs()));
    let mono = samples.chunks_exact(2).all(|f| f[0] == f[1]);
    let scaled = |x: &f64| (x * peak / loudest) as f32;
    let audio = if mono {
        Audio::new(1, samples.iter().step_by(2).map(scaled).collect())
    } else {
        Audio::new(2, samples.iter().map(scaled).collect())
    };
    audio.expect("synthesis gives finite frames")
}

/// Half a wave over all frames: silent at both ends.
fn swell(n: usize, frames: usize) -> f64 {
    sin(std::f64::consts::PI * (n as f64 + 0.5) / frames as f64)
}

fn mono(seconds: f64, rate: f64, peak: f64, mut at: impl FnMut(f64) -> f64) -> Audio {
    stereo(seconds, rate, peak, |t| [at(t); 2])
}

impl Sound {
    pub const ALL: [Sound; 15] = [
        Sound::Kick,
        Sound::Snare,
        Sound::Rim,
        Sound::Clap,
        Sound::HatClosed,
        Sound::HatOpen,
        Sound::Ride,
        Sound::Crash,
        Sound::TomLow,
        Sound::TomHigh,
        Sound::Shaker,
        Sound::SubBass,
        Sound::Keys,
        Sound::Pluck,
        Sound::Pad,
    ];

    /// The name of its file.
    pub fn file_name(self) -> &'static str {
        match self {
            Sound::Kick => "Kick.wav",
            Sound::Snare => "Snare.wav",
            Sound::Rim => "Rim.wav",
            Sound::Clap => "Clap.wav",
            Sound::HatClosed => "Hat closed.wav",
            Sound::HatOpen => "Hat open.wav",
            Sound::Ride => "Ride.wav",
            Sound::Crash => "Crash.wav",
            Sound::TomLow => "Tom low.wav",
            Sound::TomHigh => "Tom high.wav",
            Sound::Shaker => "Shaker.wav",
            Sound::SubBass => "Sub bass.wav",
            Sound::Keys => "Keys.wav",
            Sound::Pluck => "Pluck.wav",
            Sound::Pad => "Pad.wav",
        }
    }

    /// The sound at a sample rate in Hz, made once in the life of the program.
    pub fn kept(self, sample_rate: u32) -> Arc<Audio> {
        static KEPT: Mutex<BTreeMap<(Sound, u32), Arc<Audio>>> = Mutex::new(BTreeMap::new());
        let key = (self, sample_rate);
        // A panic elsewhere leaves whole sounds behind, so the map can still be used.
        let found = |kept: &BTreeMap<_, Arc<Audio>>| kept.get(&key).cloned();
        if let Some(audio) = found(&KEPT.lock().unwrap_or_else(PoisonError::into_inner)) {
            return audio;
        }
        let audio = Arc::new(self.render(sample_rate));
        KEPT.lock().unwrap_or_else(PoisonError::into_inner).insert(key, audio.clone());
        audio
    }

    /// The sound at a sample rate in Hz.
    pub fn render(self, sample_rate: u32) -> Audio {
        let rate = f64::from(sample_rate);
        match self {
            Sound::Kick => kick(rate),
            Sound::Snare => snare(rate),
            Sound::Rim => rim(rate),
            Sound::Clap => clap(rate),
            Sound::HatClosed => metal(rate, 0.12, 0.09, 5200.0, 0.5, 11),
            Sound::HatOpen => metal(rate, 0.6, 0.55, 4800.0, 0.5, 12),
            Sound::Ride => ride(rate),
            Sound::Crash => metal(rate, 2.4, 2.2, 3600.0, 0.6, 14),
            Sound::TomLow => tom(rate, 82.0, 0.7),
            Sound::TomHigh => tom(rate, 131.0, 0.5),
            Sound::Shaker => shaker(rate),
            Sound::SubBass => sub_bass(rate),
            Sound::Keys => keys(rate),
            Sound::Pluck => pluck(rate),
            Sound::Pad => pad(rate),
        }
    }
}

fn kick(rate: f64) -> Audio {
    let (mut phase, mut noise) = (0.0, Noise(0x51AB));
    let mut click = Filter::new(3500.0, 0.7, rate);
    mono(0.5, rate, 0.9, |t| {
        let hz = 51.9 + 150.0 * exp(-t / 0.012) + 30.0 * exp(-t / 0.05);
        phase += hz / rate;
        let body = tanh(1.3 * sin(TAU * phase)) * rise(t, 0.001) * decay(t, 0.48);
        let tick = click.run(noise.next()).band * decay(t, 0.012);
        body + 0.25 * tick
    })
}

fn snare(rate: f64) -> Audio {
    let mut noise = [Noise(0x9E11), Noise(0x77C3)];
    let mut wires = [Filter::new(1300.0, 0.6, rate), Filter::new(1300.0, 0.6, rate)];
    let mut crack = [Filter::new(1050.0, 0.7, rate), Filter::new(1080.0, 0.7, rate)];
    let mut bright = [Filter::new(6500.0, 0.7, rate), Filter::new(6500.0, 0.7, rate)];
    stereo(0.42, rate, 0.85, |t| {
        let drop = 1.0 + 0.5 * exp(-t / 0.012);
        let body = (sin(TAU * 186.0 * drop * t) + 0.6 * sin(TAU * 331.0 * drop * t + 0.4)) * decay(t, 0.16);
        [0, 1].map(|side| {
            let raw = noise[side].next();
            let rattle = wires[side].run(raw).high * decay(t, 0.28);
            let air = bright[side].run(raw).band * decay(t, 0.1);
            let wood = crack[side].run(raw).band * decay(t, 0.09);
            tanh(0.8 * body + 0.6 * rattle + 1.7 * wood + 0.4 * air)
        })
    })
}

fn rim(rate: f64) -> Audio {
    let mut noise = Noise(0x2222);
    let mut wood = Filter::new(1720.0, 9.0, rate);
    mono(0.12, rate, 0.8, |t| {
        let hit = noise.next() * decay(t, 0.006);
        wood.run(hit).band + 0.35 * sin(TAU * 820.0 * t) * decay(t, 0.05)
    })
}

fn clap(rate: f64) -> Audio {
    let mut noise = [Noise(0xC1A9), Noise(0xC2B7)];
    let mut hands = [Filter::new(1250.0, 1.3, rate), Filter::new(1330.0, 1.3, rate)];
    stereo(0.38, rate, 0.8, |t| {
        let bursts: f64 = [0.0, 0.011, 0.021].iter().filter(|b| t >= **b).map(|b| decay(t - b, 0.016)).sum::<f64>()
            + if t >= 0.031 { 0.9 * decay(t - 0.031, 0.24) } else { 0.0 };
        [0, 1].map(|side| {
            let bands = hands[side].run(noise[side].next());
            (bands.band + 0.25 * bands.high) * bursts
        })
    })
}

/// Six square-ish partials without a common root under noise: hats and cymbals.
fn metal(rate: f64, seconds: f64, ring: f64, cut_hz: f64, noise_share: f64, seed: u64) -> Audio {
    const PARTIALS: [f64; 6] = [2031.0, 3127.0, 4271.0, 5419.0, 6733.0, 8111.0];
    let mut noise = [Noise(seed * 977 + 5), Noise(seed * 1499 + 9)];
    let mut high = [Filter::new(cut_hz, 0.8, rate), Filter::new(cut_hz, 0.8, rate)];
    stereo(seconds, rate, 0.7, |t| {
        let envelope = rise(t, 0.0008) * (0.75 * decay(t, ring) + 0.25 * decay(t, ring * 0.2));
        [0, 1].map(|side| {
            let spread = if side == 0 { 1.0 } else { 1.0017 };
            let tone: f64 = PARTIALS.iter().map(|hz| tanh(2.0 * sin(TAU * hz * spread * t))).sum::<f64>() / 6.0;
            let x = tone * (1.0 - noise_share) + noise[side].next() * noise_share;
            high[side].run(x).high * envelope
        })
    })
}

fn ride(rate: f64) -> Audio {
    const PARTIALS: [f64; 7] = [1187.0, 1894.0, 2817.0, 3903.0, 5231.0, 6947.0, 8803.0];
    let mut noise = [Noise(0x71DE), Noise(0x81DE)];
    let mut wash = [Filter::new(5200.0, 0.7, rate), Filter::new(5200.0, 0.7, rate)];
    stereo(1.4, rate, 0.65, |t| {
        [0, 1].map(|side| {
            let skew = if side == 0 { 0.0 } else { 0.7 };
            let ping: f64 = PARTIALS
                .iter()
                .enumerate()
                .map(|(i, hz)| sin(TAU * hz * t + skew * i as f64) * decay(t, 1.3 / (1.0 + 0.35 * i as f64)))
                .sum::<f64>()
                / 4.0;
            let air = wash[side].run(noise[side].next()).high;
            rise(t, 0.0006) * (0.6 * ping + air * (0.5 * decay(t, 0.05) + 0.16 * decay(t, 1.2)))
        })
    })
}

fn tom(rate: f64, root_hz: f64, seconds: f64) -> Audio {
    let (mut phase, mut noise) = (0.0, Noise(root_hz as u64));
    let mut skin = Filter::new(900.0, 0.8, rate);
    mono(seconds, rate, 0.85, |t| {
        phase += root_hz * (1.0 + 0.45 * exp(-t / 0.04)) / rate;
        let body = sin(TAU * phase) + 0.25 * sin(TAU * phase * 1.59) * decay(t, 0.2);
        body * rise(t, 0.001) * decay(t, seconds * 0.95) + 0.3 * skin.run(noise.next()).band * decay(t, 0.03)
    })
}

fn shaker(rate: f64) -> Audio {
    let mut noise = Noise(0x5AA5);
    let mut grain = Filter::new(4700.0, 0.9, rate);
    mono(0.11, rate, 0.6, |t| {
        let envelope = if t < 0.028 { (t / 0.028) * (t / 0.028) } else { decay(t - 0.028, 0.09) };
        grain.run(noise.next()).band * envelope
    })
}

/// F1, 43.65 Hz, with a little second and third harmonic so that small speakers hear it.
fn sub_bass(rate: f64) -> Audio {
    mono(3.0, rate, 0.8, |t| {
        let phase = TAU * 43.6535 * t;
        let tone = sin(phase) + 0.22 * sin(2.0 * phase) * decay(t, 2.0) + 0.1 * sin(3.0 * phase) * decay(t, 0.8);
        tanh(1.2 * tone) * rise(t, 0.006) * (0.25 + 0.75 * decay(t, 4.0))
    })
}

/// F3, 174.61 Hz: a tine-like electric tone with a slow pan.
fn keys(rate: f64) -> Audio {
    stereo(3.2, rate, 0.6, |t| {
        let phase = TAU * 174.614 * t;
        let bell = 0.9 * exp2(-t * 6.0) * sin(phase * 7.0);
        let tone = sin(phase + 0.55 * decay(t, 1.8) * sin(phase) + 0.12 * bell) * rise(t, 0.004) * decay(t, 3.4);
        let pan = 0.22 * sin(TAU * 2.6 * t);
        [tone * (1.0 - pan), tone * (1.0 + pan)]
    })
}

/// F4, 349.23 Hz: a damped string (Karplus and Strong 1983) under a falling low-pass.
fn pluck(rate: f64) -> Audio {
    let length = rate / 349.228;
    let whole = length as usize;
    let fraction = length - whole as f64;
    let mut noise = Noise(0xF00D);
    let mut line: Vec<f64> = (0..whole + 2).map(|_| noise.next()).collect();
    let size = line.len();
    let mut at = 0;
    let mut last = 0.0;
    let mut soft = Filter::new(3800.0, 0.6, rate);
    mono(1.2, rate, 0.7, |t| {
        let read = |back: usize| line[(at + size - back) % size];
        let x = read(whole) * (1.0 - fraction) + read(whole + 1) * fraction;
        let damped = 0.995 * (0.6 * x + 0.4 * last);
        last = x;
        line[at] = damped;
        at = (at + 1) % size;
        soft.run(x).low * rise(t, 0.001) * decay(t, 1.3)
    })
}

/// A saw whose corner is rounded over two samples (Välimäki and Huovilainen 2007), so that little of it folds back.
struct Saw {
    phase: f64,
    step: f64,
}

impl Saw {
    fn next(&mut self) -> f64 {
        self.phase += self.step;
        self.phase -= libm::floor(self.phase);
        let Saw { phase, step } = *self;
        let corner = if phase < step {
            let t = phase / step;
            t + t - t * t - 1.0
        } else if phase > 1.0 - step {
            let t = (phase - 1.0) / step;
            t * t + t + t + 1.0
        } else {
            0.0
        };
        2.0 * phase - 1.0 - corner
    }
}

/// F3, 174.61 Hz: four saws a side, a little apart, under a slow low-pass; broad and without a beginning.
fn pad(rate: f64) -> Audio {
    const CENTS: [[f64; 4]; 2] = [[-11.0, -4.0, 3.0, 9.0], [-8.0, -2.0, 5.0, 12.0]];
    let saw =
        |cents: f64, at: usize| Saw { phase: 0.37 * at as f64 % 1.0, step: 174.614 * exp2(cents / 1200.0) / rate };
    let mut saws = CENTS.map(|side| side.map(|cents| saw(cents, (cents + 20.0) as usize)));
    let mut soft = [Filter::new(5200.0, 0.6, rate), Filter::new(5200.0, 0.6, rate)];
    let mut lift = [Filter::new(1000.0, 0.5, rate), Filter::new(1000.0, 0.5, rate)];
    stereo(6.0, rate, 0.6, |t| {
        [0, 1].map(|side| {
            let raw: f64 = saws[side].iter_mut().map(Saw::next).sum::<f64>() / 4.0;
            let bands = lift[side].run(soft[side].run(raw).low);
            (0.6 * bands.low + 1.5 * bands.band + 1.3 * bands.high) * rise(t, 0.12) * decay(t, 12.0)
        })
    })
}

/// The sound that stands in for a lane that comes without one.
pub fn house_sound(lane_name: &str, family: Family, melodic: bool) -> Sound {
    let name = lane_name.to_lowercase();
    let has = |words: &[&str]| words.iter().any(|w| name.contains(w));
    match family {
        _ if melodic && family == Family::Bass => Sound::SubBass,
        _ if melodic => Sound::Keys,
        Family::Low => Sound::Kick,
        Family::Snare if has(&["clap"]) => Sound::Clap,
        Family::Snare if has(&["rim"]) => Sound::Rim,
        Family::Snare => Sound::Snare,
        Family::Hats if has(&["open"]) => Sound::HatOpen,
        Family::Hats if has(&["ride"]) => Sound::Ride,
        Family::Hats if has(&["crash", "china", "splash"]) => Sound::Crash,
        Family::Hats => Sound::HatClosed,
        Family::Percussion if has(&["tom", "low"]) && !has(&["high"]) => Sound::TomLow,
        Family::Percussion if has(&["cabasa", "maracas", "tambourine", "shaker"]) => Sound::Shaker,
        Family::Percussion => Sound::TomHigh,
        Family::Bass => Sound::SubBass,
        Family::Music => Sound::Pluck,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_analysis::band_shares;
    use lane_analysis::guess_family;
    use lane_document::session::Role;
    use rstest::rstest;

    #[test]
    fn every_sound_starts_near_zero_peaks_under_full_scale_and_ends_silent() {
        for sound in Sound::ALL {
            let audio = sound.render(48_000);
            assert!(audio.peak() > 0.5 && audio.peak() <= 0.9 + 1e-6, "{sound:?} {}", audio.peak());
            assert!(audio.frame(audio.frames() as isize - 1)[0].abs() < 1e-3, "{sound:?}");
            assert!(audio.samples().iter().sum::<f32>().abs() / (audio.frames() as f32) < 0.02, "{sound:?} offset");
            assert_eq!(audio, sound.render(48_000));
        }
    }

    #[rstest]
    #[case::kick(Sound::Kick, 0.65, 1.0)]
    #[case::sub(Sound::SubBass, 0.9, 1.0)]
    #[case::hat(Sound::HatClosed, 0.0, 0.01)]
    #[case::snare(Sound::Snare, 0.0, 0.3)]
    fn energy_sits_where_the_voice_belongs(#[case] sound: Sound, #[case] least: f64, #[case] most: f64) {
        let low = band_shares(&sound.render(48_000), 48_000).low;
        assert!((least..=most).contains(&low), "{low}");
    }

    #[test]
    fn the_pluck_is_in_tune() {
        let audio = Sound::Pluck.render(48_000);
        // The best match of the sound with itself one period later lies at the period.
        let score = |lag: usize| {
            (2000..9000).map(|n| f64::from(audio.frame(n)[0] * audio.frame(n + lag as isize)[0])).sum::<f64>()
        };
        let best = (100..200).max_by(|a, b| score(*a).total_cmp(&score(*b))).unwrap();
        assert!((136..=139).contains(&best), "{best}");
    }

    #[rstest]
    #[case("Snare", Family::Snare, false, Sound::Snare)]
    #[case("Hat open", Family::Hats, false, Sound::HatOpen)]
    #[case("Tom floor low", Family::Percussion, false, Sound::TomLow)]
    #[case("Bass 2", Family::Bass, true, Sound::SubBass)]
    fn lanes_get_a_fitting_sound(
        #[case] name: &str,
        #[case] family: Family,
        #[case] melodic: bool,
        #[case] sound: Sound,
    ) {
        assert_eq!(house_sound(name, family, melodic), sound);
    }

    /// What the thresholds of [`guess_family`] are worth: how many of our sounds tell their family without a name.
    #[rstest]
    #[case::cd(44_100, 9)]
    #[case::usual(48_000, 9)]
    #[case::high(96_000, 8)]
    fn most_sounds_tell_their_family_without_a_name(#[case] rate: u32, #[case] right: usize) {
        let wrong: Vec<_> = Sound::ALL
            .into_iter()
            .map(|sound| (sound, Role::of(sound.file_name()).family(), guess_family("take", &sound.render(rate), rate)))
            .filter(|(_, named, told)| *named != Some(*told))
            .collect();
        assert!(Sound::ALL.len() - wrong.len() >= right, "{wrong:?}");
    }
}
