//! Whether the database is there. An answer that is slow says little: the machine may be busy, a write large, every connection
//! in use. So it is asked something that costs nothing, on a connection that is kept for that alone.

use crate::StoreError;
use sqlx::Connection;
use sqlx::postgres::{PgConnectOptions, PgConnection};
use std::future::poll_fn;
use std::pin::pin;
use std::sync::{Arc, Mutex, PoisonError};
use std::task::Poll;
use std::time::{Duration, Instant};

/// How long an answer is waited for until it is asked whether the database is there at all, and then until it is asked again.
const PATIENCE: Duration = Duration::from_millis(750);
/// A database that does not answer the simplest question for so long is away.
const ANSWER: Duration = Duration::from_millis(1500);
/// How long a connection to ask on may take to be made: much longer where the machine is busy, and then it says nothing yet.
const CONNECT: Duration = Duration::from_secs(5);
/// How long that holds; so one that is away is connected to once in a while, not once a request.
const HOLDS: Duration = Duration::from_secs(1);

/// A connection that is kept to ask whether the database is there.
#[derive(Clone)]
pub(crate) struct Pulse(Arc<Inner>);

struct Inner {
    options: Arc<PgConnectOptions>,
    /// Held while it is asked, so that it is asked once for all who wait.
    connection: tokio::sync::Mutex<Option<PgConnection>>,
    /// When it was asked last, and whether it was there.
    last: Mutex<Option<(Instant, bool)>>,
}

impl Pulse {
    pub fn new(options: Arc<PgConnectOptions>) -> Self {
        Pulse(Arc::new(Inner { options, connection: tokio::sync::Mutex::default(), last: Mutex::default() }))
    }

    /// Waits for work with the database as long as that is there.
    ///
    /// * `limit` – however busy everything is.
    ///
    /// # Errors
    /// [`StoreError::Late`] where it is away, or nothing came of it within the limit.
    pub async fn wait<T>(&self, limit: Duration, work: impl Future<Output = T>) -> Result<T, StoreError> {
        if self.0.was_away() && !self.there().await {
            return Err(StoreError::Late);
        }
        let began = Instant::now();
        let mut work = pin!(work);
        // Where one who waits heard that it is away, the next in turn begins nothing.
        let mut work = poll_fn(|context| {
            if self.0.was_away() { Poll::Ready(Err(StoreError::Late)) } else { work.as_mut().poll(context).map(Ok) }
        });
        loop {
            if let Ok(done) = tokio::time::timeout(PATIENCE, &mut work).await {
                return done;
            }
            let there = tokio::select! {
                done = &mut work => return done,
                there = self.there() => there,
            };
            if !there || began.elapsed() >= limit {
                return Err(StoreError::Late);
            }
        }
    }

    /// Asks once, so that there is a connection to ask on before it is needed.
    pub async fn begin(&self) {
        self.there().await;
    }

    /// Asks, or waits for whoever asks.
    async fn there(&self) -> bool {
        let inner = self.0.clone();
        // By itself, so that it is heard out even where nobody waits for it any more.
        tokio::spawn(async move { inner.ask().await }).await.unwrap_or(false)
    }
}

impl Inner {
    fn last(&self) -> Option<bool> {
        let last = *self.last.lock().unwrap_or_else(PoisonError::into_inner);
        last.filter(|(at, _)| at.elapsed() < HOLDS).map(|(_, there)| there)
    }

    /// Whether it was away when it was asked last, however long ago that is.
    fn was_away(&self) -> bool {
        self.last.lock().unwrap_or_else(PoisonError::into_inner).is_some_and(|(_, there)| !there)
    }

    async fn ask(&self) -> bool {
        let mut connection = match self.connection.try_lock() {
            Ok(free) => free,
            // It was away, and somebody asks whether it still is: nobody else waits for that.
            Err(_) if self.was_away() => return false,
            Err(_) => self.connection.lock().await,
        };
        if let Some(there) = self.last() {
            return there;
        }
        let kept = match connection.take() {
            Some(c) => Some(c),
            None => {
                let made = PgConnection::connect_with(&self.options);
                tokio::time::timeout(CONNECT, made).await.ok().and_then(Result::ok)
            }
        };
        if let Some(mut c) = kept {
            let asked = tokio::time::timeout(ANSWER, sqlx::query("select 1").execute(&mut c)).await;
            *connection = matches!(asked, Ok(Ok(_))).then_some(c);
        }
        let there = connection.is_some();
        *self.last.lock().unwrap_or_else(PoisonError::into_inner) = Some((Instant::now(), there));
        there
    }
}
