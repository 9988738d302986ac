//! The lines that a beat shape consists of, read at any frame.

/// A line from one point to the next.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Line {
    /// In frames from the start.
    pub at: f64,
    /// What is taken away here, in dB.
    pub db: f64,
    /// 1 straight; over 1 it waits, under 1 it hurries.
    pub bend: f64,
}

/// A part of a shape that is one line.
#[derive(Debug, Clone, Copy)]
pub struct Stretch {
    /// Frames from the start.
    pub until: f64,
    pub start: f64,
    /// One over its length.
    pub over: f64,
    pub db: f64,
    pub by: f64,
    pub bend: f64,
}

impl Stretch {
    pub fn level(db: f64, until: f64) -> Self {
        Stretch { until, start: 0.0, over: 0.0, db, by: 0.0, bend: 1.0 }
    }

    #[inline]
    pub fn at(&self, t: f64) -> f64 {
        let u = ((t - self.start) * self.over).max(0.0);
        self.db + self.by * if self.bend == 1.0 { u } else { u / (u + (1.0 - u) * self.bend) }
    }

    /// Writes what is taken away from a frame of the song on, as far as it goes, at least one value; gives how many.
    pub fn fill(&self, from: u64, start: f64, out: &mut [f64]) -> usize {
        // Reckoned frame by frame from the song's start, so that it does not matter where a block begins.
        // Whole numbers under 2^53 add up exactly, and small ones are turned into floats several at a time.
        let first = from as f64;
        let t = |n: usize| (first + f64::from(n as i32)) - start;
        let mut count = if self.until.is_finite() { (self.until - t(0)).max(1.0) as usize } else { out.len() };
        count = count.clamp(1, out.len());
        while count < out.len() && t(count) < self.until {
            count += 1;
        }
        while count > 1 && t(count - 1) >= self.until {
            count -= 1;
        }
        let out = &mut out[..count];
        if self.by == 0.0 {
            out.fill(self.db);
        } else if self.bend == 1.0 {
            let Stretch { start: begins, over, db, by, .. } = *self;
            for (n, value) in out.iter_mut().enumerate() {
                let u = (t(n) - begins) * over;
                *value = db + by * if u > 0.0 { u } else { 0.0 };
            }
        } else {
            let Stretch { start: begins, over, db, by, bend, .. } = *self;
            for (n, value) in out.iter_mut().enumerate() {
                let u = (t(n) - begins) * over;
                let u = if u > 0.0 { u } else { 0.0 };
                *value = db + by * (u / (u + (1.0 - u) * bend));
            }
        }
        count
    }
}
