//! A gain curve on the beat: it needs nothing to listen to, or begins anew with each hit of its key.
//!
//! On the beat, and where hits are known beforehand, what it takes away follows from the song's place alone, so it does
//! not drift and is the same wherever playing began. Of other keys, onsets are found as they come.

use super::band::{Band, Shape};
use super::beat_line::{Line, Stretch};
use super::equaliser::Equaliser;
use super::moving_filter::{Corner, MovingFilter};
use crate::kind::{Begin, Kind, Moment, Place, Starts, Unit};
use crate::parts::{Param, frames_of, note_quarters, options, past_weight, settings};
use arrayvec::ArrayVec;
use lane_units::{Frame, Reader, Words, all_db_to_gain};
use serde::{Deserialize, Serialize};

/// Points at most.
pub const POINTS: usize = 32;
/// A step from one value to another takes so long.
const STEP_MS: f64 = 1.0;
/// What another setting, a start or a stop leads to is reached in so long.
const FADE_MS: f64 = 5.0;

options! {
    /// How long a shape is.
    ShapeLength {
        Quarter: "1/4", "1/4";
        Sixteenth: "1/16", "1/16";
        EighthTriplet: "1/8t", "1/8 triplet";
        Eighth: "1/8", "1/8";
        EighthDotted: "1/8d", "1/8 dotted";
        QuarterTriplet: "1/4t", "1/4 triplet";
        QuarterDotted: "1/4d", "1/4 dotted";
        Half: "1/2", "1/2";
        Bar: "1 bar", "1 bar";
        TwoBars: "2 bars", "2 bars";
        FourBars: "4 bars", "4 bars";
    }
}

options! {
    /// What of the sound is taken down.
    ShapeBand {
        Whole: "whole", "The whole sound";
        Low: "low", "Under the corner";
        Around: "around", "Around the corner";
        High: "high", "Over the corner";
    }
}

settings! {
    /// The numbers of a shape.
    Values {
        /// How far down its lowest point may lie.
        depth_db: "Depth", "dB", Even 0.0 to 60.0, 9.0;
        /// Of a shape that works on a part of the sound.
        corner_hz: "Corner", "Hz", Ratio 20.0 to 20000.0, 150.0;
        /// How narrow that part is, around the corner.
        q: "Q", "", Ratio 0.3 to 4.0, 0.71;
        /// Where its key is no lane with hits of its own, what comes sooner after an onset is none.
        spacing_ms: "Least spacing", "ms", Ratio 20.0 to 1000.0, 80.0;
        /// How much shallower softer hits of a lane go: 0 as deep as hard ones, 100 by their velocity.
        velocity_percent: "Depth by velocity", "%", Even 0.0 to 100.0, 0.0;
    }
    choices {
        length: "Length", ShapeLength = Quarter;
        band: "Takes down", ShapeBand = Whole;
    }
}

settings! {
    /// One point of a shape.
    ShapePoint {
        /// Of the length.
        at_percent: "Place", "%", Even 0.0 to 100.0, 0.0;
        /// Of the depth.
        down_percent: "Down", "%", Even 0.0 to 100.0, 0.0;
        /// How the line to the next point bends: over 0 it hurries, under 0 it waits.
        bend_percent: "Bend", "%", Even -100.0 to 100.0, 0.0;
    }
    choices {}
}

/// A shape. Before its first point it stands at that one's value, behind the last at that one's. A step, and points closer
/// than 1 ms, become a line of 1 ms.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct BeatShape {
    /// What is not a point.
    #[serde(flatten)]
    pub base: Values,
    /// 1 to 32, in order of their place.
    pub points: Vec<ShapePoint>,
}

fn points(of: &[(f64, f64, f64)]) -> Vec<ShapePoint> {
    of.iter()
        .map(|(at_percent, down_percent, bend_percent)| ShapePoint {
            at_percent: *at_percent,
            down_percent: *down_percent,
            bend_percent: *bend_percent,
        })
        .collect()
}

impl Default for BeatShape {
    fn default() -> Self {
        BeatShape { base: Values::default(), points: BeatShape::starts().swap_remove(0).1 }
    }
}

impl BeatShape {
    /// Shapes to start from, each by its word.
    pub fn starts() -> Vec<(&'static str, Vec<ShapePoint>)> {
        vec![
            ("quick", points(&[(0.0, 100.0, 0.0), (8.0, 100.0, 45.0), (55.0, 0.0, 0.0)])),
            ("round", points(&[(0.0, 100.0, -60.0), (85.0, 0.0, 0.0)])),
            ("late", points(&[(0.0, 0.0, 0.0), (12.0, 100.0, 0.0), (50.0, 100.0, -30.0), (95.0, 0.0, 0.0)])),
            (
                "two steps",
                points(&[
                    (0.0, 100.0, 0.0),
                    (25.0, 100.0, 0.0),
                    (25.0, 50.0, 0.0),
                    (50.0, 50.0, 0.0),
                    (50.0, 0.0, 0.0),
                ]),
            ),
        ]
    }

    /// What is allowed of each value.
    pub fn values(&self) -> Vec<(&'static Param, f64)> {
        self.base.values()
    }

    /// Sets a value by its name; false where there is none of that name.
    pub fn set(&mut self, name: &str, value: f64) -> bool {
        self.base.set(name, value)
    }

    /// Its choices, for screens.
    pub fn choices() -> Vec<crate::parts::Choice> {
        Values::choices()
    }

    /// Its length in frames.
    pub fn frames(&self, place: Place) -> f64 {
        let quarters = match self.base.length {
            ShapeLength::Bar => place.bar_quarters,
            ShapeLength::TwoBars => 2.0 * place.bar_quarters,
            ShapeLength::FourBars => 4.0 * place.bar_quarters,
            note => note_quarters(ShapeLength::OPTIONS[note as usize].0).unwrap_or(1.0),
        };
        quarters * 60.0 / place.tempo_bpm * f64::from(place.sample_rate)
    }

    /// The most that it takes away, in dB.
    pub fn deepest_db(&self) -> f64 {
        self.points.iter().fold(0.0, |most: f64, p| most.max(p.down_percent)) / 100.0 * self.base.depth_db
    }

    /// What it takes away on the beat over its length, in so many steps and at its end, in dB.
    pub fn curve_db(&self, place: Place, steps: usize) -> Vec<f64> {
        let course = Course::new(self, place);
        let at = |n: usize| course.length * n as f64 / steps.max(1) as f64;
        let value = |t: f64| course.stretch(t, course.last_db(), 1.0).at(t);
        // At its very end, before it begins anew.
        (0..=steps).map(|n| if n == steps { course.last_db() } else { value(at(n)) }).collect()
    }

    fn shape(&self) -> Option<Shape> {
        match self.base.band {
            ShapeBand::Whole => None,
            ShapeBand::Low => Some(Shape::LowShelf),
            ShapeBand::Around => Some(Shape::Bell),
            ShapeBand::High => Some(Shape::HighShelf),
        }
    }
}

impl Kind for BeatShape {
    const NAME: &'static str = "Beat shape";
    const TAKES_KEY: bool = true;
    const REDUCES: bool = true;
    const KEEPS_TIME: bool = true;
    type Course = Course;
    type Unit = State;

    fn follows_tempo(&self) -> bool {
        true
    }

    fn course(&self, place: Place) -> Course {
        Course::new(self, place)
    }

    fn tail(&self, place: Place) -> usize {
        let band = |shape| Band {
            shape,
            freq_hz: self.base.corner_hz,
            q: self.base.q,
            gain_db: -self.deepest_db(),
            ..Band::default()
        };
        self.shape().map_or(0, |shape| Equaliser { bands: vec![band(shape)] }.tail(place))
    }
}

/// A shape, worked out.
#[derive(Debug, Clone, PartialEq)]
pub struct Course {
    /// In frames.
    length: f64,
    step: f64,
    fade: u32,
    lines: ArrayVec<Line, POINTS>,
    corner: Option<Corner>,
    /// How fast what hears onsets forgets: the peak, then the mean.
    forgets: [f64; 2],
    spacing: u64,
    /// How much of the depth goes by velocity, 0 to 1.
    by_velocity: f64,
}

impl Course {
    fn new(shape: &BeatShape, place: Place) -> Self {
        let length = shape.frames(place);
        let step = f64::from(place.sample_rate) * STEP_MS / 1000.0;
        let mut lines: ArrayVec<Line, POINTS> = ArrayVec::new();
        for point in shape.points.iter().take(POINTS) {
            let at = point.at_percent / 100.0 * length;
            // The first step may take place before it.
            let at = lines.last().map_or(at, |before| at.max(before.at + step).max(2.0 * step));
            let bend = libm::exp2(-3.0 * point.bend_percent / 100.0);
            lines.push(Line { at, db: point.down_percent / 100.0 * shape.base.depth_db, bend });
        }
        // What was pushed over the end is pushed back.
        let mut end = length;
        for line in lines.iter_mut().rev() {
            line.at = line.at.min(end).max(0.0);
            end = line.at - step;
        }
        let corner = shape.shape().map(|s| Corner::new(s, shape.base.corner_hz, shape.base.q, place.sample_rate));
        Course {
            length,
            step,
            fade: frames_of(FADE_MS, place.sample_rate).max(1) as u32,
            lines,
            corner,
            forgets: [past_weight(15.0, place.sample_rate), past_weight(60.0, place.sample_rate)],
            spacing: frames_of(shape.base.spacing_ms, place.sample_rate) as u64,
            by_velocity: shape.base.velocity_percent / 100.0,
        }
    }

    fn last_db(&self) -> f64 {
        self.lines.last().map_or(0.0, |line| line.db)
    }

    /// How deep a hit goes, of the whole depth.
    fn part(&self, hit: Begin) -> f64 {
        1.0 - self.by_velocity * (1.0 - f64::from(hit.velocity) / 127.0)
    }

    /// The stretch of the shape so many frames after a start.
    ///
    /// * `from_db` – what was taken away before it.
    /// * `part` – of its depth.
    fn stretch(&self, t: f64, from_db: f64, part: f64) -> Stretch {
        let lines = |n: usize| self.lines.get(n).map(|line| Line { db: line.db * part, ..*line });
        let Some(first) = lines(0) else { return Stretch::level(0.0, f64::INFINITY) };
        let enters = from_db != first.db;
        if enters && t < self.step {
            let by = first.db - from_db;
            return Stretch { until: self.step, start: 0.0, over: 1.0 / self.step, db: from_db, by, bend: 1.0 };
        }
        let next = self.lines.partition_point(|line| line.at <= t);
        let Some(before) = next.checked_sub(1).and_then(lines) else {
            return Stretch::level(first.db, first.at);
        };
        let Some(after) = lines(next) else { return Stretch::level(before.db, f64::INFINITY) };
        // A first step takes its time before the line begins.
        let start = if enters && next == 1 { before.at.max(self.step) } else { before.at };
        let (db, by) = (before.db, after.db - before.db);
        Stretch { until: after.at, start, over: 1.0 / (after.at - start), db, by, bend: before.bend }
    }

    /// The same after a hit: behind the end of the shape nothing is taken away.
    fn stretch_after_hit(&self, t: f64, from_db: f64, part: f64) -> Stretch {
        let end = self.length + self.step;
        if t < self.length {
            let stretch = self.stretch(t, from_db, part);
            Stretch { until: stretch.until.min(self.length), ..stretch }
        } else if t < end {
            let db = self.last_db() * part;
            Stretch { until: end, start: self.length, over: 1.0 / self.step, db, by: -db, bend: 1.0 }
        } else {
            Stretch::level(0.0, f64::INFINITY)
        }
    }

    fn after_hit(&self, frames: u64, from_db: f64, part: f64) -> f64 {
        self.stretch_after_hit(frames as f64, from_db, part).at(frames as f64)
    }

    /// What is taken away on the beat, from a frame of the song on.
    fn on_beat(&self, position: u64, out: &mut [f64]) {
        let mut done = 0;
        while done < out.len() {
            let from = position + done as u64;
            let start = libm::floor(from as f64 / self.length) * self.length;
            let mut stretch = self.stretch(from as f64 - start, self.last_db(), 1.0);
            stretch.until = stretch.until.min(self.length);
            done += stretch.fill(from, start, &mut out[done..]);
        }
    }

    /// What is taken away after hits, from a frame of the song on.
    fn after_hits(&self, hits: &[Begin], position: u64, out: &mut [f64]) {
        let mut done = 0;
        while done < out.len() {
            let from = position + done as u64;
            let mut known = &hits[..hits.partition_point(|hit| hit.at <= from)];
            // What follows in less than a step belongs to the hit before.
            while let [.., before, hit] = known
                && ((hit.at - before.at) as f64) < self.step
            {
                known = &known[..known.len() - 1];
            }
            let next = hits.iter().map(|hit| hit.at).find(|at| *at > from);
            let mut stretch = Stretch::level(0.0, f64::INFINITY);
            let mut start = 0.0;
            if let Some((hit, before)) = known.split_last() {
                let from_db = before.last().map_or(0.0, |last| self.after_hit(hit.at - last.at, 0.0, self.part(*last)));
                start = hit.at as f64;
                stretch = self.stretch_after_hit(from as f64 - start, from_db, self.part(*hit));
            }
            if let Some(next) = next {
                stretch.until = stretch.until.min(next as f64 - start);
            }
            done += stretch.fill(from, start, &mut out[done..]);
        }
    }
}

impl Words for Course {
    fn write(&self, words: &mut Vec<f64>) {
        let [peak, mean] = self.forgets;
        words.extend([self.length, self.step, f64::from(self.fade), self.spacing as f64, peak, mean]);
        words.push(self.by_velocity);
        words.push(self.corner.map_or(-1.0, |c| f64::from(c.shape as u8)));
        words.extend(self.corner.map_or([0.0; 2], |c| [c.g, c.q]));
        words.push(self.lines.len() as f64);
        self.lines.iter().for_each(|line| words.extend([line.at, line.db, line.bend]));
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let [length, step, fade, spacing, peak, mean] = words.array()?;
        let by_velocity = words.number()?;
        let [shape, g, q] = words.array()?;
        let corner = if shape < 0.0 { None } else { Some(Corner { shape: *Shape::ALL.get(shape as usize)?, g, q }) };
        let mut lines = ArrayVec::new();
        for _ in 0..words.count()?.min(POINTS) {
            let [at, db, bend] = words.array()?;
            lines.push(Line { at, db, bend });
        }
        let (fade, spacing) = (fade as u32, spacing as u64);
        Some(Course { length, step, fade, lines, corner, forgets: [peak, mean], spacing, by_velocity })
    }
}

/// An onset rises over the mean of what was before by so much, linear, and over so much in any case.
const RISE: f64 = 2.0;
const FLOOR: f64 = 0.003;

/// Finds onsets as they come.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
struct Ear {
    peak: f64,
    mean: f64,
    /// Frames since the last onset, and what was taken away then; none where there was none.
    since: Option<(u64, f64)>,
}

impl Ear {
    /// What is taken away with the next frame of the key, in dB.
    #[inline]
    fn step(&mut self, [l, r]: Frame, course: &Course, running: bool) -> f64 {
        let [peak, mean] = course.forgets;
        self.peak = l.abs().max(r.abs()).max(self.peak * peak);
        let rises = self.peak > FLOOR && self.peak > RISE * self.mean;
        self.mean = self.peak + mean * (self.mean - self.peak);
        if self.peak < 1e-9 {
            (self.peak, self.mean) = (0.0, 0.0);
        }
        let now = self.since.map_or(0.0, |(since, from_db)| course.after_hit(since, from_db, 1.0));
        let out = if running && rises && self.since.is_none_or(|(since, _)| since >= course.spacing) {
            self.since = Some((0, now));
            course.after_hit(0, now, 1.0)
        } else {
            now
        };
        self.pass(1, course);
        out
    }

    /// Lets frames pass.
    fn pass(&mut self, frames: u64, course: &Course) {
        if let Some((since, from_db)) = self.since {
            let over = (course.length + course.step + 1.0).max(course.spacing as f64);
            self.since = Some((since + frames, from_db)).filter(|(since, _)| (*since as f64) < over);
        }
    }
}

/// Frames computed at a time at most.
const PIECE: usize = 64;

/// The largest of some values, 0 of none: eight at a time, so that none waits for the one before it.
fn most_of(values: &[f64]) -> f64 {
    let larger = |a: f64, b: f64| if b > a { b } else { a };
    let (eights, rest) = values.as_chunks::<8>();
    let mut most = [0.0; 8];
    for eight in eights {
        for (most, value) in most.iter_mut().zip(eight) {
            *most = larger(*most, *value);
        }
    }
    most.iter().chain(rest).copied().fold(0.0, larger)
}

/// A shape at work.
#[derive(Debug, Clone)]
pub struct State {
    course: Course,
    filter: MovingFilter,
    ear: Ear,
    /// The frame of the song that comes next, while it runs.
    next: Option<u64>,
    /// What was taken away last, in dB.
    last_db: f64,
    /// Where a move begins that is under way, how long it takes, and how much of it is left.
    from_db: f64,
    whole: u32,
    left: u32,
    most_db: f64,
}

impl State {
    fn arm(&mut self, frames: u32) {
        (self.from_db, self.whole, self.left) = (self.last_db, frames, frames);
    }

    /// Notices where the song starts, stops or jumps.
    fn notice(&mut self, now: &Moment, count: usize) {
        match (self.next, now.playing) {
            (Some(next), true) if next != now.position => self.arm(self.course.step as u32),
            (Some(_), false) | (None, true) => {
                self.arm(self.course.fade);
                self.ear.since = None;
            }
            _ => {}
        }
        self.next = now.playing.then(|| now.position + count as u64);
    }

    /// What is taken away from a frame on, where that follows from the song's place.
    fn planned(&self, now: &Moment, from: usize, out: &mut [f64]) {
        let position = now.position + from as u64;
        match now.starts {
            Starts::Beat if now.playing => self.course.on_beat(position, out),
            Starts::Hits(hits) if now.playing => self.course.after_hits(hits, position, out),
            _ => out.fill(0.0),
        }
    }

    /// What a move that is under way makes of it.
    #[inline]
    fn moved(&mut self, db: f64) -> f64 {
        if self.left == 0 {
            return db;
        }
        self.left -= 1;
        db + (self.from_db - db) * (f64::from(self.left) / f64::from(self.whole))
    }

    fn reductions(&mut self, from: usize, reductions: &mut [f64], key: Option<&[Frame]>, now: &Moment) {
        match key {
            Some(key) if now.starts == Starts::Key => {
                for (db, heard) in reductions.iter_mut().zip(key) {
                    *db = self.ear.step(*heard, &self.course, now.playing);
                }
            }
            _ => self.planned(now, from, reductions),
        }
        if self.left > 0 {
            for db in reductions.iter_mut() {
                *db = self.moved(*db);
            }
        }
        self.most_db = self.most_db.max(most_of(reductions));
        self.last_db = reductions.last().copied().unwrap_or(self.last_db);
    }
}

impl Unit<Course> for State {
    fn new(course: &Course, _place: Place) -> Self {
        State {
            course: course.clone(),
            filter: MovingFilter::default(),
            ear: Ear::default(),
            next: None,
            last_db: 0.0,
            from_db: 0.0,
            whole: 1,
            left: 0,
            most_db: 0.0,
        }
    }

    fn set(&mut self, course: &Course, _place: Place) {
        if self.course == *course {
            return;
        }
        if self.course.corner.map(|c| c.shape) != course.corner.map(|c| c.shape) {
            self.filter = MovingFilter::default();
        }
        self.course.clone_from(course);
        self.arm(self.course.fade);
    }

    fn inherit(&mut self, old: Self) {
        (self.ear, self.next, self.last_db) = (old.ear, old.next, old.last_db);
        self.arm(self.course.fade);
    }

    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
        self.process_at(frames, key, &Moment::STOPPED);
    }

    fn process_at(&mut self, frames: &mut [Frame], key: Option<&[Frame]>, now: &Moment) {
        self.notice(now, frames.len());
        for (n, piece) in frames.chunks_mut(PIECE).enumerate() {
            let from = n * PIECE;
            let mut reductions = [0.0; PIECE];
            let reductions = &mut reductions[..piece.len()];
            self.reductions(from, reductions, key.map(|k| &k[from..from + piece.len()]), now);
            match self.course.corner {
                Some(corner) => {
                    for (frame, db) in piece.iter_mut().zip(reductions) {
                        *frame = self.filter.step(corner, *frame, -*db);
                    }
                }
                None if reductions.iter().all(|db| *db == 0.0) => {}
                None => {
                    reductions.iter_mut().for_each(|db| *db = -*db);
                    all_db_to_gain(reductions);
                    for (frame, gain) in piece.iter_mut().zip(reductions) {
                        *frame = frame.map(|x| x * *gain);
                    }
                }
            }
        }
    }

    fn take_reduction_db(&mut self) -> f64 {
        std::mem::replace(&mut self.most_db, self.last_db)
    }

    fn rests(&self, _silent: usize) -> bool {
        self.filter.rests() && (self.ear.peak, self.ear.mean) == (0.0, 0.0)
    }

    fn pass(&mut self, frames: usize, now: &Moment) {
        self.notice(now, frames);
        let Some(last) = frames.checked_sub(1) else { return };
        // Nothing is heard, so that only what it leads to counts.
        self.left = self.left.saturating_sub(last as u32);
        let mut target = [0.0];
        match self.ear.since {
            Some((since, from_db)) => target[0] = self.course.after_hit(since + last as u64, from_db, 1.0),
            None => self.planned(now, last, &mut target),
        }
        self.ear.pass(frames as u64, &self.course);
        self.last_db = self.moved(target[0]);
        self.most_db = self.most_db.max(self.last_db);
    }

    fn reset(&mut self) {
        self.filter = MovingFilter::default();
        self.ear = Ear::default();
        (self.next, self.last_db, self.left, self.most_db) = (None, 0.0, 0, 0.0);
    }
}
