//! A compressor in the log domain with a smooth decoupled detector and a soft knee (Giannoulis, Massberg and
//! Reiss, Digital Dynamic Range Compressor Design, JAES 60, 2012).

pub use super::detector::Detect;
use super::detector::Detector;
use super::param::settings;
use super::{DelayLine, Kind, Place, Ramp, Unit, frames_of, past_weight};
use crate::units::{Frame, all_db_to_gain, db_to_gain, gain_to_db};

/// A ratio from here on holds the level at the threshold.
pub const WHOLE_RATIO: f64 = 100.0;
/// Reductions below this are none.
const SILENCE_DB: f64 = 1e-9;

settings! {
    /// A compressor. Its level is its own input's or its key's.
    Compressor {
        threshold_dbfs: "Threshold", "dBFS", Even -80.0 to 0.0, -18.0;
        /// From 100 on, the level is held at the threshold.
        ratio: "Ratio", ":1", Ratio 1.0 to 100.0, 4.0;
        /// Width of the bend around the threshold.
        knee_db: "Knee", "dB", Even 0.0 to 24.0, 6.0;
        /// Time until 63 % of a step of the reduction are reached.
        attack_ms: "Attack", "ms", Ratio 0.02 to 250.0, 10.0;
        hold_ms: "Hold", "ms", Even 0.0 to 500.0, 0.0;
        /// Time until 63 % of the reduction are let go, where the attack is much shorter.
        release_ms: "Release", "ms", Ratio 1.0 to 2500.0, 120.0;
        /// The reduction goes no further.
        range_db: "Range", "dB", Even 0.0 to 60.0, 60.0;
        /// How far ahead of the sound the level is known; as much latency.
        lookahead_ms: "Lookahead", "ms", Even 0.0 to 20.0, 0.0;
        /// How much the louder side counts for both.
        link_percent: "Stereo link", "%", Even 0.0 to 100.0, 100.0;
        makeup_db: "Makeup", "dB", Even 0.0 to 36.0, 0.0;
    }
    choices {
        detect: "Level by", Detect = Peak;
    }
}

impl Kind for Compressor {
    const NAME: &'static str = "Compressor";
    const TAKES_KEY: bool = true;
    const REDUCES: bool = true;
    type Unit = State;

    fn latency(&self, sample_rate: u32) -> usize {
        frames_of(self.lookahead_ms, sample_rate)
    }

    fn gain_at_rest(&self) -> f64 {
        db_to_gain(self.makeup_db)
    }
}

impl Compressor {
    /// Part of what is over the threshold that is taken away.
    fn slope(&self) -> f64 {
        if self.ratio >= WHOLE_RATIO { 1.0 } else { 1.0 - 1.0 / self.ratio }
    }

    fn curve(&self) -> Curve {
        Curve { threshold: self.threshold_dbfs, slope: self.slope(), knee: self.knee_db, range: self.range_db }
    }

    /// Reduction in dB that a steady level meets.
    pub fn reduction_db(&self, level_dbfs: f64) -> f64 {
        self.curve().reduction_db(level_dbfs)
    }
}

#[derive(Debug, Clone, Copy)]
struct Curve {
    threshold: f64,
    slope: f64,
    knee: f64,
    range: f64,
}

impl Curve {
    #[inline]
    fn reduction_db(self, level_dbfs: f64) -> f64 {
        let over = level_dbfs - self.threshold;
        let wanted = if 2.0 * over <= -self.knee {
            0.0
        } else if 2.0 * over < self.knee {
            let into = over + self.knee / 2.0;
            self.slope * into * into / (2.0 * self.knee)
        } else {
            self.slope * over
        };
        wanted.min(self.range)
    }
}

/// Frames computed at a time at most.
const PIECE: usize = 64;

/// One side of the gain.
#[derive(Debug, Clone, Copy, Default)]
struct Side {
    /// After hold and release.
    released: f64,
    /// After the attack too: the reduction in dB.
    reduction: f64,
    held: u32,
}

/// A compressor at work.
#[derive(Debug, Clone)]
pub struct State {
    attack: f64,
    release: f64,
    hold: u32,
    lookahead: usize,
    link: f64,
    /// Threshold, slope, knee, range, makeup.
    curve: Ramp<5>,
    /// Below this linear level nothing is reduced while the curve rests.
    quiet: f64,
    detector: Detector,
    sound: DelayLine,
    sides: [Side; 2],
    most_db: f64,
}

fn targets(s: &Compressor) -> [f64; 5] {
    let c = s.curve();
    [c.threshold, c.slope, c.knee, c.range, s.makeup_db]
}

impl State {
    /// The gains in dB that follow from what is heard.
    fn follow(&mut self, heard: &[Frame], gains: &mut [[f64; 2]]) {
        let mut most = self.most_db;
        for (heard, gains) in heard.iter().zip(gains) {
            let moves = self.curve.moves();
            let [threshold, slope, knee, range, makeup_db] = self.curve.step();
            let curve = Curve { threshold, slope, knee, range };
            let [l, r] = self.detector.step(*heard);
            let both = l.max(r);
            // Linked, one side is computed for both.
            let linked = self.link == 1.0;
            let levels = if linked { [both, both] } else { [l + self.link * (both - l), r + self.link * (both - r)] };
            for (side, level) in self.sides.iter_mut().zip(levels).take(if linked { 1 } else { 2 }) {
                let wanted = if !moves && level <= self.quiet { 0.0 } else { curve.reduction_db(gain_to_db(level)) };
                if wanted >= side.released {
                    side.released = wanted;
                    side.held = self.hold;
                } else if side.held > 0 {
                    side.held -= 1;
                } else {
                    side.released = wanted + self.release * (side.released - wanted);
                }
                side.reduction = side.released + self.attack * (side.reduction - side.released);
                if side.reduction < SILENCE_DB {
                    side.reduction = 0.0;
                    if side.released < SILENCE_DB {
                        side.released = 0.0;
                    }
                }
                most = if side.reduction > most { side.reduction } else { most };
            }
            if linked {
                self.sides[1] = self.sides[0];
            }
            *gains = self.sides.map(|side| makeup_db - side.reduction);
        }
        self.most_db = most;
    }
}

impl Unit<Compressor> for State {
    fn new(settings: &Compressor, place: Place) -> Self {
        let sample_rate = place.sample_rate;
        let mut state = State {
            attack: 0.0,
            release: 0.0,
            hold: 0,
            lookahead: 0,
            link: 1.0,
            curve: Ramp::at(targets(settings)),
            quiet: 0.0,
            detector: Detector::new(settings.detect, sample_rate),
            sound: DelayLine::new(settings.latency(sample_rate)),
            sides: [Side::default(); 2],
            most_db: 0.0,
        };
        state.set(settings, place);
        state
    }

    fn set(&mut self, s: &Compressor, Place { sample_rate, .. }: Place) {
        self.attack = past_weight(s.attack_ms, sample_rate);
        self.release = past_weight(s.release_ms, sample_rate);
        self.hold = frames_of(s.hold_ms, sample_rate) as u32;
        self.lookahead = s.latency(sample_rate);
        self.sound.make_room(self.lookahead);
        self.link = s.link_percent / 100.0;
        self.curve.go_to(targets(s), sample_rate);
        self.quiet = db_to_gain(s.threshold_dbfs - s.knee_db / 2.0);
        self.detector.set(s.detect);
    }

    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
        for (n, piece) in frames.chunks_mut(PIECE).enumerate() {
            let mut gains = [[0.0; 2]; PIECE];
            let gains = &mut gains[..piece.len()];
            self.follow(key.map_or(&*piece, |k| &k[n * PIECE..][..gains.len()]), gains);
            all_db_to_gain(gains.as_flattened_mut());
            for (frame, gain) in piece.iter_mut().zip(gains) {
                let sound = self.sound.step(*frame, self.lookahead);
                *frame = [sound[0] * gain[0], sound[1] * gain[1]];
            }
        }
    }

    fn take_reduction_db(&mut self) -> f64 {
        let most = self.most_db;
        self.most_db = self.sides[0].reduction.max(self.sides[1].reduction).min(most);
        most
    }

    fn feed(&mut self, frame: Frame) {
        self.sound.step(frame, 0);
    }

    fn reset(&mut self) {
        self.detector.reset();
        self.sound.reset();
        self.sides = [Side::default(); 2];
        self.most_db = 0.0;
    }
}
