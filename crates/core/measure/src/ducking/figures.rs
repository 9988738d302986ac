//! What a ducker does, hit by hit.

use crate::run::PIECE;
use serde::Serialize;

/// What is taken away no more than by this is let go, in dB; the trade calls a ducker recovered there.
pub const BACK_DB: f64 = 1.0;

/// What one hit of the key does to the sound.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct DuckHit {
    /// Frames from the start of the stretch.
    pub at: u32,
    /// The most that is taken away before the next hit, in dB.
    pub depth_db: f64,
    /// From the hit to the deepest point, in ms; negative where a lookahead is there before.
    pub full_ms: f64,
    /// From the hit until it is back; nothing where that is not before the next hit.
    pub back_ms: Option<f64>,
    /// From there to the next hit; negative where it would be back so much after the next hit, if that were not there.
    /// Nothing where it is not falling.
    pub recovery_ms: Option<f64>,
}

/// What a ducker does over a stretch.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct DuckFigures {
    /// Hits of the key in order.
    pub hits: Vec<DuckHit>,
    /// The most that is ever taken away, in dB.
    pub depth_db: f64,
    /// The mean of what is taken away, in dB.
    pub average_db: f64,
    /// Hits after which it is not back before the next.
    pub late: u32,
    /// The shortest recovery of all hits that duck; nothing where none does, or one is never back.
    pub recovery_ms: Option<f64>,
    /// Whether one is never back, or not on its way there when the next hit comes.
    pub stuck: bool,
    /// Of one that its key opens: how. It has no hits that duck, and is not back from them.
    pub opening: Option<Opening>,
}

/// How a gate or an expander is opened by its key.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Opening {
    /// Hits of the key after which it opens before the next one …
    pub opened: u32,
    /// … of so many.
    pub hits: u32,
    /// For how long it is open after a hit that opens it, in ms, on average.
    pub open_ms: f64,
}

/// What one that its key opens does over a stretch, as for [`figures`]. It is open where it takes no more than [`BACK_DB`]
/// away.
///
/// Cost: linear in both.
pub fn opening(reduction_db: &[f32], hits: &[u32], lookahead: u32, sample_rate: u32) -> DuckFigures {
    if reduction_db.is_empty() {
        return DuckFigures::default();
    }
    let round = Round { reduction_db, lookahead: lookahead as usize };
    let whole = reduction_db.len() * PIECE;
    let all: Vec<usize> = hits.iter().map(|at| *at as usize).filter(|at| *at < whole).collect();
    let (mut opened, mut pieces) = (0, 0);
    for (n, at) in all.iter().enumerate() {
        let next = all.get(n + 1).copied().unwrap_or(all[0] + whole);
        let open = round.between(*at, next).1.into_iter().filter(|x| *x <= BACK_DB).count();
        opened += u32::from(open > 0);
        pieces += open;
    }
    let open_ms = 1000.0 * (pieces * PIECE) as f64 / f64::from(sample_rate) / f64::from(opened.max(1));
    let sum: f64 = reduction_db.iter().map(|x| f64::from(*x)).sum();
    DuckFigures {
        depth_db: f64::from(reduction_db.iter().fold(0.0, |most: f32, x| most.max(*x))),
        average_db: sum / reduction_db.len() as f64,
        opening: Some(Opening { opened, hits: all.len() as u32, open_ms }),
        ..DuckFigures::default()
    }
}

impl DuckFigures {
    /// Whether it is back before every next hit.
    pub fn recovers(&self) -> bool {
        self.late == 0 && !self.stuck
    }
}

/// A hit that takes no more than so much away beyond what is taken away already does not count, in dB.
const RISE_DB: f64 = 0.5;

/// Reads figures off a reduction.
///
/// * `reduction_db` – what is taken away, one value for [`PIECE`] frames, over a stretch that is played round and round.
/// * `hits` – frames from the start of the stretch, in order; those after which nothing more is taken away are left out,
///   such as ghost notes under a threshold.
/// * `lookahead` – frames before a hit from which what is taken away belongs to it.
///
/// Cost: linear in both.
pub fn figures(reduction_db: &[f32], hits: &[u32], lookahead: u32, sample_rate: u32) -> DuckFigures {
    if reduction_db.is_empty() {
        return DuckFigures::default();
    }
    let round = Round { reduction_db, lookahead: lookahead as usize };
    let whole = reduction_db.len() * PIECE;
    // The stretch goes round: after the last hit comes the first.
    let next = |hits: &[u32], n: usize| hits.get(n + 1).map_or_else(|| hits[0] as usize + whole, |next| *next as usize);
    let all: Vec<u32> = hits.iter().copied().filter(|at| (*at as usize) < whole).collect();
    let ducks = |n: &usize| round.rise_db(all[*n] as usize, next(&all, *n)) >= RISE_DB;
    let hits: Vec<u32> = (0..all.len()).filter(ducks).map(|n| all[n]).collect();
    let sum: f64 = reduction_db.iter().map(|x| f64::from(*x)).sum();
    let depth_db = f64::from(reduction_db.iter().fold(0.0, |most: f32, x| most.max(*x)));
    let average_db = sum / reduction_db.len() as f64;
    let stuck = hits.is_empty() && depth_db > BACK_DB;
    let mut found = DuckFigures { depth_db, average_db, stuck, ..Default::default() };
    for (n, at) in hits.iter().enumerate() {
        let hit = round.hit(*at as usize, next(&hits, n), sample_rate);
        if hit.depth_db > BACK_DB {
            match hit.recovery_ms {
                Some(left) => {
                    found.recovery_ms = Some(found.recovery_ms.map_or(left, |least: f64| least.min(left)));
                    found.late += u32::from(left < 0.0);
                }
                None => (found.stuck, found.late) = (true, found.late + 1),
            }
        }
        found.hits.push(hit);
    }
    if found.stuck {
        found.recovery_ms = None;
    }
    found
}

/// A reduction that is played round and round.
struct Round<'a> {
    reduction_db: &'a [f32],
    lookahead: usize,
}

impl Round<'_> {
    /// The reduction from one frame to another, and the value before.
    fn between(&self, from: usize, to: usize) -> (f64, Vec<f64>) {
        let pieces = self.reduction_db.len();
        let place = |frame: usize| (frame + pieces * PIECE).saturating_sub(self.lookahead) / PIECE;
        let at = |n: usize| f64::from(self.reduction_db[n % pieces]);
        let (from, to) = (place(from), place(to));
        (at(from + pieces - 1), (from..to.max(from + 1)).map(at).collect())
    }

    /// How much more is taken away after a hit than before it, in dB.
    fn rise_db(&self, hit: usize, next: usize) -> f64 {
        let (before, window) = self.between(hit, next);
        window.into_iter().fold(0.0, f64::max) - before
    }

    fn hit(&self, hit: usize, next: usize, sample_rate: u32) -> DuckHit {
        let ms = |frames: f64| 1000.0 * frames / f64::from(sample_rate);
        let (_, window) = self.between(hit, next);
        one(&window, hit as f64 - self.lookahead as f64, hit as f64, next as f64, ms)
    }
}

/// * `window` – from `from` on.
fn one(window: &[f64], from: f64, hit: f64, next: f64, ms: impl Fn(f64) -> f64) -> DuckHit {
    let time = |at: f64| from + at * PIECE as f64;
    let depth_db = window.iter().copied().fold(0.0, f64::max);
    // The first of those that are as deep as any, as far as ears go.
    let deepest = window.iter().position(|x| *x >= depth_db - 0.05).unwrap_or(0);
    let last_deep = window.iter().rposition(|x| *x >= depth_db - 0.05).unwrap_or(0);
    let full_ms = ms(time(deepest as f64) - hit);
    let at = hit.max(0.0) as u32;
    if depth_db <= BACK_DB {
        return DuckHit { at, depth_db, full_ms, back_ms: Some(0.0), recovery_ms: Some(ms(next - hit)) };
    }
    // Between two values, the moment is where the line between them passes.
    let back = (last_deep + 1..window.len()).find(|n| window[*n] <= BACK_DB).map(|n| {
        let (above, below) = (window[n - 1], window[n]);
        let part = if above > below { ((above - BACK_DB) / (above - below)).clamp(0.0, 1.0) } else { 1.0 };
        time((n - 1) as f64 + part)
    });
    if let Some(back) = back {
        return DuckHit { at, depth_db, full_ms, back_ms: Some(ms(back - hit)), recovery_ms: Some(ms(next - back)) };
    }
    DuckHit {
        at,
        depth_db,
        full_ms,
        back_ms: None,
        recovery_ms: still_falling(&window[last_deep..]).map(|left| -ms(left)),
    }
}

/// Frames until what falls like an exponential is back, from the end of what is known of it; nothing where it does not
/// fall.
fn still_falling(window: &[f64]) -> Option<f64> {
    let end = *window.last()?;
    // The end of it is what counts: the beginning may be held.
    let before = window.len().checked_sub(1 + window.len().div_ceil(4))?;
    let start = window[before];
    if end <= BACK_DB || start <= end * 1.000_1 {
        return (end <= BACK_DB).then_some(0.0);
    }
    let pieces = (window.len() - 1 - before) as f64;
    Some(pieces * PIECE as f64 * libm::log(end / BACK_DB) / libm::log(start / end))
}
