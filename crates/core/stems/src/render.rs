//! The one pass: the mix is rendered once and every stem is tapped from it.

use super::job::{StemJob, StemSpec, as_written};
use lane_analysis::LoudnessMeter;
use lane_document::routing::ways;
use lane_document::session::{AssetBank, Session, StripKind, Tap};
use lane_dsp::DelayLine;
use lane_engine::{Engine, Metering};
use lane_units::{Frame, StripId, readable_dbfs};
use serde::{Deserialize, Serialize};

/// Frames computed at a time.
const BLOCK: usize = 1024;

/// Takes what a render writes.
pub trait StemSink {
    /// Why writing failed.
    type Error;

    /// Frames of a stem, in order, the stem by its place in [`StemJob::stems`].
    fn write(&mut self, stem: usize, frames: &[Frame]) -> Result<(), Self::Error>;

    /// Called after every block with the frames done; `false` stops the render.
    fn progress(&mut self, done: u64) -> Result<bool, Self::Error>;
}

/// Writes nothing, for a render that is only measured.
impl StemSink for () {
    type Error = std::convert::Infallible;

    fn write(&mut self, _: usize, _: &[Frame]) -> Result<(), Self::Error> {
        Ok(())
    }

    fn progress(&mut self, _: u64) -> Result<bool, Self::Error> {
        Ok(true)
    }
}

/// Why a render did not come to its end.
#[derive(Debug)]
pub enum RenderStopped<E> {
    /// The sink asked for it.
    Cancelled,
    /// The sink could not write.
    Sink(E),
}

/// What was measured of one stem.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct StemFigures {
    /// Sample peak in dBFS; -200 for silence.
    pub peak_dbfs: f64,
    /// Integrated loudness; nothing where it is under the gate.
    pub integrated_lufs: Option<f64>,
    /// Samples over full scale.
    pub overs: u64,
}

/// What was measured of a whole render.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Figures {
    /// In the order of the stems.
    pub stems: Vec<StemFigures>,
    /// True peak of main in dBTP.
    pub main_true_peak_dbtp: f64,
    /// Peak of the sum of channel and return stems less main, all as written, in dBFS; nothing where none of
    /// them was tapped after its fader.
    pub sum_minus_main_dbfs: Option<f64>,
    /// Channels and returns that are not in that sum.
    pub not_in_sum: Vec<String>,
    /// Of what that sum is made of and main: those that went over full scale and were cut off there by the depth, so that
    /// the sum cannot fit.
    #[serde(default)]
    pub cut_off: Vec<String>,
}

struct StemMeter {
    loudness: LoudnessMeter,
    overs: u64,
}

/// A tap of the engine as late as the latest of all, so that every stem starts at the same sample.
struct Aligned {
    line: DelayLine,
    wait: usize,
    frames: Vec<Frame>,
}

impl Aligned {
    fn new(engine: &Engine, strip: StripId, tap: Tap) -> Self {
        let wait = engine.latency().saturating_sub(engine.tap_latency(strip, tap)) as usize;
        Aligned { line: DelayLine::new(wait), wait, frames: vec![[0.0; 2]; BLOCK] }
    }

    /// What of a piece is behind the latency of the whole.
    fn take(&mut self, tap: &[Frame], skip: usize) -> &[Frame] {
        let frames = &mut self.frames[..tap.len()];
        // Adding nothing leaves one zero only.
        frames.iter_mut().zip(tap).for_each(|(to, [l, r])| *to = [l + 0.0, r + 0.0]);
        if self.wait > 0 {
            self.line.run(frames, self.wait);
        }
        &frames[skip..]
    }
}

/// Renders a job. Memory does not grow with its length.
///
/// # Errors
/// [`RenderStopped`] where the sink stopped it or failed.
pub fn render<S: StemSink>(
    session: &Session,
    bank: &AssetBank,
    job: &StemJob,
    sink: &mut S,
) -> Result<Figures, RenderStopped<S::Error>> {
    let rate = session.header.sample_rate;
    let session = &as_written(session);
    let mut engine = Engine::new(session, bank, BLOCK, Metering::Off);
    engine.keep_dry();
    engine.seek(job.from);
    engine.set_hits_until(job.hits_until);
    engine.play();
    let mut meters: Vec<StemMeter> =
        job.stems.iter().map(|_| StemMeter { loudness: LoudnessMeter::new(rate), overs: 0 }).collect();
    let mut main_meter = LoudnessMeter::new(rate);
    let mut cut: Vec<bool> = vec![false; job.stems.len()];
    let mut main_cut = false;
    let main = session.main().map(|m| m.id);
    // What has a way to main by outputs alone adds up there.
    let reaches_main = |id: StripId| ways(session, id)[0].strips.last().copied() == main;
    let in_sum = |stem: &StemSpec| {
        stem.tap == Tap::Channel
            && matches!(stem.kind, StripKind::Channel | StripKind::Return)
            && reaches_main(stem.strip)
    };
    let summed: Vec<bool> = job.stems.iter().map(in_sum).collect();
    let mut aligned: Vec<Aligned> = job.stems.iter().map(|s| Aligned::new(&engine, s.strip, s.tap)).collect();
    let mut aligned_main = main.map(|id| (id, Aligned::new(&engine, id, Tap::Channel)));
    let mut sum = vec![[0.0; 2]; BLOCK];
    let mut residue: f64 = 0.0;
    // The first frames, before anything has arrived everywhere, are not part of any file.
    let mut early = engine.latency();
    let mut done = 0;
    while done < job.frames() {
        let frames = engine.process_piece((early + job.frames() - done).min(BLOCK as u64) as usize);
        let skip = early.min(frames as u64) as usize;
        early -= skip as u64;
        let sum = &mut sum[..frames - skip];
        sum.fill([0.0; 2]);
        for (at, stem) in job.stems.iter().enumerate() {
            let Some(tap) = engine.tap(stem.strip, stem.tap, frames) else { continue };
            let tap = aligned[at].take(tap, skip);
            sink.write(at, tap).map_err(RenderStopped::Sink)?;
            meters[at].loudness.take(tap);
            meters[at].overs += tap.as_flattened().iter().filter(|x| x.abs() > 1.0).count() as u64;
            if summed[at] {
                for (s, x) in sum.iter_mut().zip(tap) {
                    s[0] += job.depth.written(x[0]);
                    s[1] += job.depth.written(x[1]);
                }
                cut[at] |= tap.iter().any(|x| cuts(job, x));
            }
        }
        if let Some((id, aligned)) = &mut aligned_main
            && let Some(tap) = engine.tap(*id, Tap::Channel, frames)
        {
            let tap = aligned.take(tap, skip);
            main_meter.take(tap);
            main_cut |= tap.iter().any(|x| cuts(job, x));
            for (s, x) in sum.iter().zip(tap) {
                let off = |side: usize| (s[side] - job.depth.written(x[side])).abs();
                residue = residue.max(off(0)).max(off(1));
            }
        }
        done += (frames - skip) as u64;
        if !sink.progress(done).map_err(RenderStopped::Sink)? {
            return Err(RenderStopped::Cancelled);
        }
    }
    Ok(Figures {
        stems: meters.iter().map(StemMeter::read).collect(),
        main_true_peak_dbtp: readable_dbfs(main_meter.read().true_peak),
        sum_minus_main_dbfs: summed.contains(&true).then(|| readable_dbfs(residue)),
        not_in_sum: not_in_sum(session, job, &summed),
        cut_off: cut_off(session, job, &cut, main_cut),
    })
}

impl StemMeter {
    fn read(&self) -> StemFigures {
        let loudness = self.loudness.read();
        StemFigures {
            peak_dbfs: readable_dbfs(loudness.sample_peak),
            integrated_lufs: loudness
                .integrated_lufs
                .is_finite()
                .then(|| libm::round(loudness.integrated_lufs * 10.0) / 10.0),
            overs: self.overs,
        }
    }
}

/// Full scale is written within this: more than half a step of 24 bits, and nothing that is heard.
const WRITTEN_WITHIN: f64 = 1e-4;

/// Whether a frame is written as another one, since it is over full scale.
fn cuts(job: &StemJob, frame: &Frame) -> bool {
    frame.iter().any(|x| x.abs() > 1.0 && (job.depth.written(*x) - x).abs() > WRITTEN_WITHIN)
}

fn cut_off(session: &Session, job: &StemJob, cut: &[bool], main_cut: bool) -> Vec<String> {
    let stems = job.stems.iter().zip(cut).filter(|(_, cut)| **cut).map(|(stem, _)| stem.name.clone());
    let main = session.main().filter(|_| main_cut).map(|main| session.strip_name(main.id));
    stems.chain(main).collect()
}

fn not_in_sum(session: &Session, job: &StemJob, summed: &[bool]) -> Vec<String> {
    let in_sum: Vec<_> = job.stems.iter().zip(summed).filter(|(_, summed)| **summed).map(|(s, _)| s.strip).collect();
    session
        .strips_in_board_order()
        .into_iter()
        .filter(|id| {
            session.strip(*id).is_some_and(|s| matches!(s.kind, StripKind::Channel | StripKind::Return))
                && !in_sum.contains(id)
        })
        .map(|id| session.strip_name(id))
        .collect()
}
