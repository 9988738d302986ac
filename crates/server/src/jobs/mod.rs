//! The queue in PostgreSQL and the worker that tracks out.

mod track_out;

use crate::config::DatabaseArgs;
use anyhow::{Context, Result};
use apalis::prelude::*;
use apalis_postgres::{Config, PostgresStorage};
use lane_store::Store;
use serde::{Deserialize, Serialize};
use std::future::Future;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::Semaphore;
use uuid::Uuid;

const QUEUE: &str = "renders";
/// A worker says that it lives this often …
const HEARTBEAT: Duration = Duration::from_secs(2);
/// … and its jobs are taken up by another after so many missed beats.
const MISSED_BEATS: usize = 4;

/// One render to be worked on.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub struct RenderJob {
    pub render: Uuid,
}

type Storage = PostgresStorage<RenderJob>;

fn storage(store: &Store) -> Storage {
    let config =
        Config::default().queue(QUEUE).batch_size(1).heartbeat_interval(HEARTBEAT).missed_heartbeats(MISSED_BEATS);
    PostgresStorage::new(store.pool()).with_config(config)
}

/// Where renders are put.
#[derive(Clone)]
pub struct Queue(Storage);

impl Queue {
    pub fn new(store: &Store) -> Self {
        Queue(storage(store))
    }

    pub async fn push(&self, render: Uuid) -> Result<()> {
        self.0.clone().push(RenderJob { render }).await.map_err(|e| anyhow::anyhow!("{e}"))
    }
}

/// Connects and prepares.
pub async fn connect(database_url: &str) -> Result<Store> {
    let store = Store::connect(database_url).await.context("the database cannot be reached")?;
    prepare(&store).await?;
    Ok(store)
}

/// Brings all tables up to date, the queue's too.
pub async fn prepare(store: &Store) -> Result<()> {
    store.migrate().await?;
    PostgresStorage::<()>::setup(store.pool()).await.map_err(|e| anyhow::anyhow!("the job queue: {e}"))
}

/// Works on renders until `stop` is ready.
pub async fn work(store: Store, at_a_time: usize, stop: impl Future<Output = ()> + Send + 'static) -> Result<()> {
    // A name of its own, so that jobs of a dead worker are not taken for ours.
    let name = format!("worker-{}", Uuid::new_v4());
    let turns = Arc::new(Semaphore::new(at_a_time.max(1)));
    let worker = WorkerBuilder::new(name.as_str()).backend(storage(&store)).data(store).data(turns).build(handle);
    worker
        .run_until(async move {
            stop.await;
            Ok::<_, std::io::Error>(())
        })
        .await
        .map_err(|e| anyhow::anyhow!("the worker ended: {e}"))
}

async fn handle(job: RenderJob, store: Data<Store>, turns: Data<Arc<Semaphore>>) -> Result<(), BoxDynError> {
    let _turn = turns.acquire().await?;
    track_out::run(&store, job.render).await
}

/// `zealous-lane work`.
pub async fn work_until_stopped(args: DatabaseArgs) -> Result<()> {
    let store = connect(args.url()?).await?;
    tracing::info!("working on renders");
    work(store, args.renders_at_a_time, async {
        let _ = tokio::signal::ctrl_c().await;
    })
    .await
}
