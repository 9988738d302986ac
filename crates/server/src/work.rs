//! Work that takes a while, beside requests: so many at a time, so many that wait, and no longer than people would.

use crate::problem::Problem;
use std::collections::HashMap;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError, Weak};
use std::time::Duration;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use uuid::Uuid;

/// Threads that share one kind of work. Of one account, all but one of them at most work at a time, so that whoever asks
/// for little is not held off by whoever asks for much.
#[derive(Clone)]
pub struct Crew {
    turns: Arc<Semaphore>,
    of_accounts: AccountTurns,
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

/// Whether somebody still waits for a piece of work: a request ends with its connection.
pub struct Asked(Weak<()>);

impl Asked {
    pub fn still(&self) -> bool {
        self.0.strong_count() > 0
    }
}

impl Crew {
    /// * `threads` – pieces of work at a time.
    /// * `most_waiting` – pieces of work that may wait for a thread.
    /// * `patience` – how long one waits.
    pub fn new(threads: usize, most_waiting: usize, patience: Duration) -> Self {
        Crew {
            turns: Arc::new(Semaphore::new(threads.max(1))),
            of_accounts: AccountTurns::new(threads.saturating_sub(1).max(1), most_waiting, patience),
            waiting: Arc::default(),
            most_waiting,
            patience,
        }
    }

    /// As [`Crew::run`], in the turn of an account.
    ///
    /// # Errors
    /// As with `run`; 429 where too much of this account waits already.
    pub async fn run_for<T: Send + 'static>(
        &self,
        account: Uuid,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        // Goes along with the work, which may outlast whoever asked for it.
        let turn = self.of_accounts.take(account).await?;
        self.run(move || {
            let _turn = turn;
            work()
        })
        .await
    }

    /// As [`Crew::run_for`], for work that looks whether it is still waited for.
    ///
    /// # Errors
    /// As with `run_for`.
    pub async fn run_while_asked<T: Send + 'static>(
        &self,
        account: Uuid,
        work: impl FnOnce(&Asked) -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let waits = Arc::new(());
        let asked = Asked(Arc::downgrade(&waits));
        let done = self.run_for(account, move || work(&asked)).await;
        drop(waits);
        done
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

/// So much at a time for each account; what comes then waits in the order it came.
#[derive(Clone)]
pub struct AccountTurns {
    turns: Arc<Mutex<HashMap<Uuid, Turn>>>,
    at_a_time: usize,
    most_waiting: usize,
    patience: Duration,
}

#[derive(Clone)]
struct Turn {
    free: Arc<Semaphore>,
    waiting: Arc<AtomicUsize>,
}

/// Accounts that are remembered before those that nobody waits for are forgotten.
const ACCOUNTS: usize = 1024;

impl AccountTurns {
    /// * `at_a_time` – of one account.
    /// * `most_waiting` – of one account.
    /// * `patience` – how long one waits.
    pub fn new(at_a_time: usize, most_waiting: usize, patience: Duration) -> Self {
        AccountTurns { turns: Arc::default(), at_a_time, most_waiting, patience }
    }

    fn of(&self, account: Uuid) -> Turn {
        let mut turns = self.turns.lock().unwrap_or_else(PoisonError::into_inner);
        if turns.len() > ACCOUNTS {
            turns.retain(|_, t| Arc::strong_count(&t.free) > 1 || t.free.available_permits() < self.at_a_time);
        }
        let new = || Turn { free: Arc::new(Semaphore::new(self.at_a_time)), waiting: Arc::default() };
        turns.entry(account).or_insert_with(new).clone()
    }

    /// Takes a place of the account's, or none where all are taken: for what may last.
    pub fn at_once(&self, account: Uuid) -> Option<OwnedSemaphorePermit> {
        self.of(account).free.try_acquire_owned().ok()
    }

    /// Waits for the account's turn, which is held until the permit is dropped.
    ///
    /// # Errors
    /// 429 where too many wait already.
    pub async fn take(&self, account: Uuid) -> Result<OwnedSemaphorePermit, Problem> {
        let turn = self.of(account);
        let _waits = Waits::new(&turn.waiting, self.most_waiting).ok_or_else(busy)?;
        let permit = tokio::time::timeout(self.patience, turn.free.acquire_owned()).await.map_err(|_| busy())?;
        permit.map_err(Problem::internal)
    }
}
