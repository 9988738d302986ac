//! One render: audio in, one pass, files into the store, visible when all of them are whole.

use crate::api::folders::load_audio;
use crate::api::types::RenderReport;
use crate::package::{FileOutput, PackageFile, write_package};
use apalis::prelude::BoxDynError;
use lane_core::session::{AssetBank, Session};
use lane_core::stems::{RenderStopped, StemJob};
use lane_store::{RenderFile, Store, StoreError};
use std::time::{Duration, Instant};
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use tokio::task::JoinHandle;
use uuid::Uuid;

/// Times that a render is begun before it counts as failed.
const ATTEMPTS: i32 = 3;
/// How often progress is noted and a wish to stop is seen.
const PROGRESS_EVERY: Duration = Duration::from_millis(200);

enum Ended {
    Done(Vec<PackageFile>, Box<RenderReport>),
    Stopped,
    /// Trying again will not help.
    Refused(String),
    /// The store failed; it may answer later.
    Store(StoreError),
}

/// Works on a render. An error means that it should be tried again.
pub async fn run(store: &Store, render: Uuid) -> Result<(), BoxDynError> {
    let Some((account, version, session, attempt)) = store.begin_render(render).await? else { return Ok(()) };
    if attempt > ATTEMPTS {
        let reason = format!(
            "It was begun {ATTEMPTS} times and never came to its end. Start it again; if that fails too, choose a shorter range."
        );
        return Ok(store.fail_render(render, &reason).await?);
    }
    let (worker_store, runtime) = (store.clone(), Handle::current());
    let task = Task { store: worker_store, runtime, account, render, version, attempt };
    let ended = tokio::task::spawn_blocking(move || task.run(&session)).await?;
    match ended {
        Ended::Done(files, report) => {
            let files: Vec<RenderFile> = files
                .into_iter()
                .enumerate()
                .map(|(at, f)| RenderFile {
                    position: at as i32,
                    name: f.name,
                    bytes: f.bytes as i64,
                    sha256: f.sha256,
                })
                .collect();
            store.finish_render(render, attempt, &files, &serde_json::to_value(&*report)?).await?;
            Ok(())
        }
        Ended::Stopped => Ok(store.sweep_render(render).await?),
        Ended::Refused(reason) => Ok(store.fail_render(render, &reason).await?),
        Ended::Store(error) => {
            tracing::warn!(%error, %render, attempt, "a render was interrupted");
            Err(error.into())
        }
    }
}

struct Task {
    store: Store,
    runtime: Handle,
    account: Uuid,
    render: Uuid,
    version: i32,
    attempt: i32,
}

impl Task {
    fn run(&self, session: &Session) -> Ended {
        let job = match StemJob::new(session, self.version.unsigned_abs()) {
            Ok(job) => job,
            Err(error) => return Ended::Refused(error.to_string()),
        };
        let mut bank = AssetBank::new();
        for asset in &session.assets {
            match load_audio(&self.store, self.account, asset, &self.runtime) {
                Ok(audio) => bank.insert(asset.id.clone(), audio),
                Err(error) => return Ended::Refused(error.to_string()),
            };
        }
        let (mut output, writing) = StoreOutput::new(self);
        let written = write_package(session, &bank, &job, &mut output);
        drop(output);
        // What still waits is written before the render counts as whole.
        let stored = self.runtime.block_on(writing).unwrap_or(Ok(()));
        match written {
            Ok((files, figures)) => {
                if let Err(error) = stored {
                    return Ended::Store(error);
                }
                let bytes = files.iter().map(|f| f.bytes).sum();
                let frames = job.frames();
                let StemJob { stems, warnings, .. } = job;
                Ended::Done(files, Box::new(RenderReport { stems, figures, warnings, frames, bytes }))
            }
            Err(RenderStopped::Cancelled) => Ended::Stopped,
            Err(RenderStopped::Sink(error)) => Ended::Store(stored.err().unwrap_or(error)),
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
    noted: Instant,
}

impl<'a> StoreOutput<'a> {
    /// An output, and the task that writes what is put into it, until the output is dropped.
    fn new(task: &'a Task) -> (Self, JoinHandle<Result<(), StoreError>>) {
        let (to, mut pieces) = mpsc::channel::<Piece>(WAITING_PIECES);
        let (store, render) = (task.store.clone(), task.render);
        let writing = task.runtime.spawn(async move {
            while let Some((file, position, bytes)) = pieces.recv().await {
                store.put_render_chunk(render, file, position, bytes).await?;
            }
            Ok(())
        });
        (StoreOutput { task, to, pieces: Vec::new(), noted: Instant::now() }, writing)
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
        if self.noted.elapsed() < PROGRESS_EVERY {
            return Ok(true);
        }
        self.noted = Instant::now();
        let Task { store, runtime, render, attempt, .. } = self.task;
        runtime.block_on(store.render_progress(*render, *attempt, frames))
    }
}
