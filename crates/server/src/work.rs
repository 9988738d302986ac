//! Work that takes a while, beside requests: so many at a time, so many that wait, and no longer than people would.

use crate::problem::Problem;
use std::collections::HashMap;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use uuid::Uuid;

/// Threads that share one kind of work.
#[derive(Clone)]
pub struct Crew {
    turns: Arc<Semaphore>,
    waiting: Arc<AtomicUsize>,
    most_waiting: usize,
    patience: Duration,
}

/// Counts somebody who waits, until dropped.
struct Waits<'a>(&'a AtomicUsize);

impl<'a> Waits<'a> {
    fn new(waiting: &'a AtomicUsize, most: usize) -> Option<Self> {
        let waits = Waits(waiting);
        // Dropping takes it back where there was no room.
        (waiting.fetch_add(1, Ordering::SeqCst) < most).then_some(waits)
    }
}

impl Drop for Waits<'_> {
    fn drop(&mut self) {
        self.0.fetch_sub(1, Ordering::SeqCst);
    }
}

impl Crew {
    /// * `threads` – pieces of work at a time.
    /// * `most_waiting` – pieces of work that may wait for a thread.
    /// * `patience` – how long one waits.
    pub fn new(threads: usize, most_waiting: usize, patience: Duration) -> Self {
        Crew { turns: Arc::new(Semaphore::new(threads.max(1))), waiting: Arc::default(), most_waiting, patience }
    }

    /// Runs work on a thread of its own.
    ///
    /// # Errors
    /// 429 where too many wait or it took too long to begin; 500 where the work panicked, which is logged.
    pub async fn run<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        let permit = {
            let _waits = Waits::new(&self.waiting, self.most_waiting).ok_or_else(busy)?;
            let turn = self.turns.clone().acquire_owned();
            tokio::time::timeout(self.patience, turn).await.map_err(|_| busy())?.map_err(Problem::internal)?
        };
        let done = tokio::task::spawn_blocking(move || {
            // Given back when the work ends, also where nobody waits for it any more.
            let _permit = permit;
            catch_unwind(AssertUnwindSafe(work))
        });
        done.await.map_err(Problem::internal)?.map_err(|panic| Problem::internal(panic_text(&*panic)))
    }
}

/// What a panic said.
pub fn panic_text(panic: &(dyn std::any::Any + Send)) -> String {
    let text = panic.downcast_ref::<&str>().map(|s| (*s).to_owned());
    let text = text.or_else(|| panic.downcast_ref::<String>().cloned());
    format!("a panic: {}", text.unwrap_or_else(|| "without words".into()))
}

fn busy() -> Problem {
    Problem::too_many("The server has more to do than it can right now; nothing was changed. Try again in a moment.", 2)
}

/// One change at a time for each account; the next ones wait in the order they came.
#[derive(Clone, Default)]
pub struct AccountTurns(Arc<Mutex<HashMap<Uuid, Turn>>>);

#[derive(Clone)]
struct Turn {
    free: Arc<Semaphore>,
    waiting: Arc<AtomicUsize>,
}

/// Changes of one account that may wait.
const MOST_WAITING: usize = 16;
/// How long one waits.
const TURN_PATIENCE: Duration = Duration::from_secs(10);

impl AccountTurns {
    /// Waits for the account's turn, which is held until the permit is dropped.
    ///
    /// # Errors
    /// 429 where too many wait already.
    pub async fn take(&self, account: Uuid) -> Result<OwnedSemaphorePermit, Problem> {
        let turn = {
            let mut turns = self.0.lock().unwrap_or_else(PoisonError::into_inner);
            // Accounts that nobody waits for are forgotten.
            if turns.len() > 1024 {
                turns.retain(|_, t| Arc::strong_count(&t.free) > 1 || t.free.available_permits() == 0);
            }
            let new = || Turn { free: Arc::new(Semaphore::new(1)), waiting: Arc::default() };
            turns.entry(account).or_insert_with(new).clone()
        };
        let _waits = Waits::new(&turn.waiting, MOST_WAITING).ok_or_else(busy)?;
        let permit = tokio::time::timeout(TURN_PATIENCE, turn.free.acquire_owned()).await.map_err(|_| busy())?;
        permit.map_err(Problem::internal)
    }
}
