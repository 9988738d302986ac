//! One render: audio in, one pass, files into the store, visible when all of them are whole.

use super::HEARTBEAT;
use crate::package::{FileOutput, PackageFile, write_package};
use crate::sounds::{LoadError, load_audio};
use crate::stopping::{Pauses, Stopping};
use crate::work::panic_text;
use lane_document::session::{AssetBank, Session};
use lane_stems::{RenderStopped, StemJob};
use lane_store::{Claim, RenderFile, Store, StoreError};
use lane_wire::RenderReport;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::time::{Duration, Instant};
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use tokio::task::JoinHandle;
use uuid::Uuid;

/// Workers that may die over a render before it counts as failed.
const DEATHS: i32 = 5;
/// How long the database may be away before a render goes back into the queue.
const PATIENCE: Duration = Duration::from_secs(60);
/// The pause of a render that went back into the queue since the database was away.
const REST: Duration = Duration::from_secs(2);

enum Ended {
    Done(Vec<PackageFile>, Box<RenderReport>),
    /// Cancelled, taken over, or the program stops.
    Stopped,
    /// Trying again will not help.
    Refused(String),
    /// The store failed; it may answer later.
    Store(StoreError),
}

/// Works on a render. What comes of it is in the store, but where that stays away, which another worker will see.
pub async fn run(store: &Store, claim: Claim, stopping: &Stopping) {
    let (render, attempt) = (claim.id, claim.attempt);
    if claim.deaths >= DEATHS {
        let reason = format!(
            "The program that worked on it ended {DEATHS} times without a word, which need not be this render's fault. Start it again; if that fails too, choose a shorter range."
        );
        settle(stopping, || store.fail_render(render, attempt, &reason)).await;
        return;
    }
    let going = Arc::new(Going { on: AtomicBool::new(true), frames: AtomicU64::new(0) });
    let beats = tokio::spawn(beat(store.clone(), render, attempt, going.clone(), stopping.clone()));
    let task = Task { store: store.clone(), runtime: Handle::current(), claim, going: going.clone() };
    let worked = tokio::task::spawn_blocking(move || catch_unwind(AssertUnwindSafe(|| task.run())));
    let ended = match worked.await {
        Ok(Ok(ended)) => ended,
        Ok(Err(panic)) => {
            tracing::error!(%render, "{}", panic_text(&*panic));
            Ended::Refused(
                "The sound engine failed on it. Leave out the lane that you changed last, and start again.".into(),
            )
        }
        Err(_) => Ended::Stopped,
    };
    beats.abort();
    match ended {
        Ended::Done(files, report) => finish(store, render, attempt, files, &report, stopping).await,
        Ended::Refused(reason) => settle(stopping, || store.fail_render(render, attempt, &reason)).await,
        Ended::Stopped if stopping.told() => {
            // Another worker goes on with it at once.
            let _ = store.release_render(render, attempt, Duration::ZERO).await;
        }
        Ended::Stopped => {}
        Ended::Store(error) => {
            tracing::warn!(%error, %render, attempt, "a render was interrupted");
            settle(stopping, || store.release_render(render, attempt, REST)).await;
        }
    }
}

async fn finish(
    store: &Store,
    render: Uuid,
    attempt: i32,
    files: Vec<PackageFile>,
    report: &RenderReport,
    stopping: &Stopping,
) {
    let file = |(at, f): (usize, PackageFile)| RenderFile {
        position: at as i32,
        name: f.name,
        bytes: f.bytes as i64,
        sha256: f.sha256,
    };
    let files: Vec<RenderFile> = files.into_iter().enumerate().map(file).collect();
    match serde_json::to_value(report) {
        Ok(report) => settle(stopping, || store.finish_render(render, attempt, &files, &report)).await,
        Err(error) => {
            let reason = format!("Its report cannot be written: {error}.");
            settle(stopping, || store.fail_render(render, attempt, &reason)).await;
        }
    }
}

/// Writes how a render ended, again and again while the database is away.
async fn settle<T, F: Future<Output = Result<T, StoreError>>>(stopping: &Stopping, write: impl Fn() -> F) {
    let mut pauses = Pauses::default();
    while let Err(error) = write().await {
        if !error.is_outage() || stopping.told() {
            tracing::warn!(%error, "how a render ended could not be written");
            return;
        }
        stopping.pause(pauses.grow()).await;
    }
}

/// What the thread that renders and the task that tells of it share.
struct Going {
    on: AtomicBool,
    frames: AtomicU64,
}

/// Says that the worker lives and how far it is, and hears whether it is to stop.
async fn beat(store: Store, render: Uuid, attempt: i32, going: Arc<Going>, stopping: Stopping) {
    /// How often progress is told, and a wish to stop heard.
    const TELL: Duration = Duration::from_millis(250);
    let mut told = Instant::now();
    let mut frames = 0;
    loop {
        stopping.pause(TELL).await;
        if stopping.told() {
            going.on.store(false, Ordering::SeqCst);
            return;
        }
        let now = going.frames.load(Ordering::SeqCst);
        if now == frames && told.elapsed() < HEARTBEAT {
            continue;
        }
        match store.render_progress(render, attempt, now).await {
            Ok(true) => (told, frames) = (Instant::now(), now),
            Ok(false) => {
                going.on.store(false, Ordering::SeqCst);
                return;
            }
            Err(error) => tracing::warn!(%error, %render, "a sign of life was not written"),
        }
    }
}

struct Task {
    store: Store,
    runtime: Handle,
    claim: Claim,
    going: Arc<Going>,
}

impl Task {
    fn run(&self) -> Ended {
        let session = match self.claim.session() {
            Ok(session) => session,
            Err(error) => return Ended::Refused(format!("Its document cannot be read: {error}.")),
        };
        let job = match StemJob::new(&session, self.claim.version.unsigned_abs()) {
            Ok(job) => job,
            Err(error) => return Ended::Refused(format!("{error}.")),
        };
        let bank = match self.bank(&session) {
            Ok(bank) => bank,
            Err(ended) => return ended,
        };
        let (mut output, writing) = StoreOutput::new(self);
        let written = write_package(&session, &bank, &job, &mut output);
        drop(output);
        // What still waits is written before the render counts as whole.
        let stored = self.runtime.block_on(writing).unwrap_or(Ok(()));
        if let Err(error) = stored {
            return if matches!(error, StoreError::Stale) { Ended::Stopped } else { Ended::Store(error) };
        }
        match written {
            Ok((files, figures)) => {
                let bytes = files.iter().map(|f| f.bytes).sum();
                let frames = job.frames();
                let StemJob { stems, warnings, from, .. } = job;
                Ended::Done(files, Box::new(RenderReport { stems, figures, warnings, from, frames, bytes }))
            }
            Err(RenderStopped::Cancelled) => Ended::Stopped,
            Err(RenderStopped::Sink(error)) => Ended::Store(error),
        }
    }

    /// All audio of a session. What the store does not give for now is asked for again.
    fn bank(&self, session: &Session) -> Result<AssetBank, Ended> {
        let mut bank = AssetBank::new();
        let voiced = session.voiced_assets();
        for asset in session.assets.iter().filter(|a| voiced.contains(&a.id)) {
            let audio = loop_while_away(self, || load_audio(&self.store, self.claim.account_id, asset, &self.runtime))?;
            match audio {
                Ok(audio) => bank.insert(asset.id.clone(), audio),
                Err(error) => return Err(Ended::Refused(format!("{error}."))),
            };
        }
        Ok(bank)
    }
}

/// Tries something again while the database is away, for as long as a render waits for it.
fn loop_while_away<T>(task: &Task, work: impl Fn() -> Result<T, LoadError>) -> Result<Result<T, LoadError>, Ended> {
    let (since, mut pauses) = (Instant::now(), Pauses::default());
    loop {
        match work() {
            Err(LoadError::Store(error)) if error.is_outage() => {
                if since.elapsed() > PATIENCE || !task.going.on.load(Ordering::SeqCst) {
                    return Err(Ended::Store(error));
                }
                std::thread::sleep(pauses.grow());
            }
            done => return Ok(done),
        }
    }
}

/// Pieces that may wait for the database while the engine goes on.
const WAITING_PIECES: usize = 16;

/// A piece of a file on its way to the store: file, place, bytes.
type Piece = (i32, i32, Vec<u8>);

struct StoreOutput<'a> {
    task: &'a Task,
    to: mpsc::Sender<Piece>,
    /// Pieces written of each file.
    pieces: Vec<i32>,
}

impl<'a> StoreOutput<'a> {
    /// An output, and the task that writes what is put into it, until the output is dropped.
    fn new(task: &'a Task) -> (Self, JoinHandle<Result<(), StoreError>>) {
        let (to, mut pieces) = mpsc::channel::<Piece>(WAITING_PIECES);
        let (store, render, attempt) = (task.store.clone(), task.claim.id, task.claim.attempt);
        let going = task.going.clone();
        let writing = task.runtime.spawn(async move {
            while let Some((file, position, bytes)) = pieces.recv().await {
                let (since, mut pauses) = (Instant::now(), Pauses::default());
                while let Err(error) = store.put_render_chunk(render, attempt, (file, position), &bytes).await {
                    let wait = error.is_outage() && since.elapsed() < PATIENCE && going.on.load(Ordering::SeqCst);
                    if !wait {
                        return Err(error);
                    }
                    tokio::time::sleep(pauses.grow()).await;
                }
            }
            Ok(())
        });
        (StoreOutput { task, to, pieces: Vec::new() }, writing)
    }
}

impl FileOutput for StoreOutput<'_> {
    type Error = StoreError;

    fn write(&mut self, file: usize, piece: &[u8]) -> Result<(), StoreError> {
        if self.pieces.len() <= file {
            self.pieces.resize(file + 1, 0);
        }
        let sent = self.to.blocking_send((file as i32, self.pieces[file], piece.to_vec()));
        self.pieces[file] += 1;
        // Nobody takes pieces any more once one of them could not be written.
        sent.map_err(|_| StoreError::NothingTo("write to: the database did not take a piece"))
    }

    fn progress(&mut self, frames: u64) -> Result<bool, StoreError> {
        self.task.going.frames.store(frames, Ordering::SeqCst);
        Ok(self.task.going.on.load(Ordering::SeqCst))
    }
}
