//! Changes of sessions as any server on the database makes them.

use crate::{CHANGES, Store, StoreError};
use sqlx::Executor;
use sqlx::postgres::PgListener;
use std::time::Duration;
use uuid::Uuid;

/// How long nothing is heard before the connection is tried.
const QUIET: Duration = Duration::from_secs(10);

impl Store {
    /// Calls `begun` once it listens, then `each` with every changed session and its revision, until the database is
    /// away. What was changed before it listens is not told.
    pub async fn listen(&self, begun: impl FnOnce(), mut each: impl FnMut(Uuid, i64)) -> StoreError {
        match self.pass_on(begun, &mut each).await {
            Ok(never) => match never {},
            Err(error) => error,
        }
    }

    async fn pass_on(
        &self,
        begun: impl FnOnce(),
        each: &mut impl FnMut(Uuid, i64),
    ) -> Result<std::convert::Infallible, StoreError> {
        let mut listener = self.pulse.wait(QUIET, PgListener::connect_with(&self.pool)).await??;
        // A lost connection is not silently made anew: something may have been missed meanwhile.
        listener.eager_reconnect(false);
        self.pulse.wait(QUIET, listener.listen(CHANGES)).await??;
        begun();
        loop {
            match tokio::time::timeout(QUIET, listener.try_recv()).await {
                Ok(Ok(Some(told))) => {
                    let parsed = told.payload().split_once(' ');
                    if let Some((Ok(id), Ok(revision))) = parsed.map(|(id, revision)| (id.parse(), revision.parse())) {
                        each(id, revision);
                    }
                }
                Ok(Ok(None)) => return Err(StoreError::Late),
                Ok(Err(error)) => return Err(error.into()),
                // A connection that leads nowhere is as quiet as one on which nothing happens.
                Err(_) => {
                    self.pulse.wait(QUIET, listener.execute("select 1")).await??;
                }
            }
        }
    }
}
