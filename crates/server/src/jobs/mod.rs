//! The worker that tracks out, and what else goes on beside requests. The queue is the table of renders.
//!
//! Nothing that the database does ends a worker: what fails is tried again with growing pauses.

mod track_out;

use crate::config::DatabaseArgs;
use crate::stopping::{Pauses, Stopping};
use anyhow::{Context, Result};
use lane_store::{HISTORY_BYTES, Store, StoreError};
use std::time::Duration;
use tokio::task::JoinSet;
use uuid::Uuid;

/// A worker says that it lives this often …
pub const HEARTBEAT: Duration = Duration::from_secs(2);
/// … and its render is taken over after so long without a word.
pub const SILENCE: Duration = Duration::from_secs(10);
/// How often an empty queue is looked at.
const LOOK: Duration = Duration::from_millis(400);
/// How often what nothing needs is swept away.
const SWEEP_EVERY: Duration = Duration::from_secs(3600);
/// Connections of a worker, beside those of requests.
const CONNECTIONS: u32 = 6;

/// The worker's own way to the database.
///
/// # Errors
/// Where the address cannot be understood.
pub fn connect(args: &DatabaseArgs) -> Result<Store> {
    Store::connect(args.url()?, CONNECTIONS).context("the database's address cannot be understood")
}

/// Brings the tables up to date, as soon as the database is there.
///
/// # Errors
/// Where the database belongs to a newer program, which waiting does not change.
pub async fn prepare(store: &Store, stopping: &Stopping) -> Result<()> {
    let mut pauses = Pauses::default();
    while !stopping.told() {
        match store.migrate().await {
            Ok(()) => {
                store.begin().await;
                return Ok(());
            }
            Err(error @ StoreError::Migrate(_)) => return Err(error.into()),
            Err(error) => {
                tracing::warn!(%error, "waiting for the database");
                stopping.pause(pauses.grow()).await;
            }
        }
    }
    Ok(())
}

/// Works on renders until it is told to stop; what is under way then goes back into the queue.
pub async fn work(store: Store, at_a_time: usize, sweep_after: Duration, stopping: Stopping) {
    let mut tasks = JoinSet::new();
    let program = Uuid::new_v4();
    for _ in 0..at_a_time.max(1) {
        tasks.spawn(work_one_by_one(store.clone(), program, stopping.clone()));
    }
    tasks.spawn(say_that_we_live(store.clone(), program, stopping.clone()));
    tasks.spawn(sweep(store, sweep_after, stopping));
    while tasks.join_next().await.is_some() {}
}

/// Tells others that this program works too.
async fn say_that_we_live(store: Store, program: Uuid, stopping: Stopping) {
    while !stopping.told() {
        if let Err(error) = store.worker_lives(program).await {
            tracing::warn!(%error, "nobody hears that this worker lives");
        }
        stopping.pause(HEARTBEAT).await;
    }
}

async fn work_one_by_one(store: Store, program: Uuid, stopping: Stopping) {
    // A name of its own, so that the render of a dead worker is not taken for ours.
    let worker = Uuid::new_v4();
    let mut pauses = Pauses::default();
    while !stopping.told() {
        match store.claim_render(worker, program, SILENCE).await {
            Ok(Some(claim)) => {
                pauses = Pauses::default();
                track_out::run(&store, claim, &stopping).await;
            }
            Ok(None) => {
                pauses = Pauses::default();
                stopping.pause(LOOK).await;
            }
            Err(error) => {
                tracing::warn!(%error, "no render can be looked for");
                stopping.pause(pauses.grow()).await;
            }
        }
    }
}

/// Sweeps away what nothing needs, account by account, every hour.
async fn sweep(store: Store, after: Duration, stopping: Stopping) {
    while !stopping.told() {
        stopping.pause(SWEEP_EVERY).await;
        let accounts = store.account_ids().await.unwrap_or_default();
        for account in accounts {
            if stopping.told() {
                return;
            }
            if let Err(error) = store.forget_past(account, HISTORY_BYTES).await {
                tracing::warn!(%error, "what sessions keep of their past was not looked at");
            }
            match store.sweep(account, after).await {
                Ok(swept) if swept.disowned + swept.removed > 0 => {
                    tracing::info!(%account, swept.disowned, swept.removed, "audio that nothing needs");
                }
                Ok(_) => {}
                Err(error) => tracing::warn!(%error, "sweeping was interrupted"),
            }
        }
    }
}

/// Days as they are told on the command line.
pub fn days(days: u32) -> Duration {
    Duration::from_secs(u64::from(days) * 86_400)
}

/// `zealous-lane work`.
pub async fn work_until_stopped(args: DatabaseArgs) -> Result<()> {
    let store = connect(&args)?;
    let stopping = Stopping::by_signal()?;
    prepare(&store, &stopping).await?;
    tracing::info!("working on renders");
    work(store, args.renders_at_a_time, days(args.sweep_days), stopping).await;
    Ok(())
}
