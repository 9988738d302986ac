//! Changes that any server on the database made, as they happen.

use crate::stopping::{Pauses, Stopping};
use lane_store::Store;
use tokio::sync::broadcast;
use uuid::Uuid;

/// Changes that a slow page may lag behind before it is told just the newest.
const BACKLOG: usize = 256;

/// What open pages are told.
#[derive(Debug, Clone, Copy)]
pub enum Told {
    /// A session, and its revision.
    Changed(Uuid, i64),
    /// A session that is gone.
    Removed(Uuid),
    /// An account that signed out here.
    SignedOut(Uuid),
    /// Changes may have been missed.
    Missed,
}

/// Tells changes that any server on the database made.
#[derive(Clone)]
pub struct Changes {
    told: broadcast::Sender<Told>,
    stopping: Stopping,
}

impl Changes {
    /// Listens from now on, and again after the database was away.
    pub fn listen(store: &Store, stopping: &Stopping) -> Self {
        let (told, _) = broadcast::channel(BACKLOG);
        let changes = Changes { told: told.clone(), stopping: stopping.clone() };
        let (store, stopping) = (store.clone(), stopping.clone());
        tokio::spawn(async move {
            let mut pauses = Pauses::default();
            while !stopping.told() {
                // Nobody may be looking; that is no fault.
                let begun = || {
                    let _ = told.send(Told::Missed);
                };
                let each = |id, revision| {
                    let _ = told.send(Told::Changed(id, revision));
                };
                let error = tokio::select! {
                    error = store.listen(begun, each) => error,
                    () = stopping.wait() => return,
                };
                tracing::warn!(%error, "listening for changes was interrupted");
                stopping.pause(pauses.grow()).await;
            }
        });
        changes
    }

    /// What is told from now on.
    pub fn subscribe(&self) -> broadcast::Receiver<Told> {
        self.told.subscribe()
    }

    /// Tells pages that this server keeps up with.
    pub fn tell(&self, what: Told) {
        // Nobody may be looking; that is no fault.
        let _ = self.told.send(what);
    }

    /// What ends everything that goes on.
    pub fn stopping(&self) -> Stopping {
        self.stopping.clone()
    }
}
