//! Accounts, sessions, audio and renders in PostgreSQL. Every query names the account it is for.

mod accounts;
mod assets;
mod library;
mod logins;
mod presets;
mod renders;
mod sessions;
mod templates;

pub use accounts::Account;
pub use library::LibrarySound;
pub use presets::Preset;
pub use renders::{Render, RenderFile, RenderState};
pub use sessions::{Changed, SessionInfo, StoredSession};
pub use templates::Template;

use lane_core::edit::EditError;
use sqlx::postgres::{PgConnectOptions, PgPool, PgPoolOptions};
use std::time::Duration;

/// Bytes of one piece of audio or of a file.
pub const CHUNK_BYTES: usize = 1 << 20;

/// The channel on which changed sessions are told: `session id space revision`.
pub const CHANGES: &str = "session_changes";

/// Connections held at most.
const CONNECTIONS: u32 = 12;

/// What went wrong in the store.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    #[error("{what} is not there")]
    NotFound { what: &'static str },
    #[error("{what} is there already")]
    Exists { what: &'static str },
    /// Another edit came first; here is where the document stands.
    #[error("the session was changed meanwhile")]
    Stale { current: Box<StoredSession> },
    #[error("there is nothing to {0}")]
    NothingTo(&'static str),
    #[error(transparent)]
    Edit(#[from] EditError),
    #[error("a stored document cannot be read: {0}")]
    Document(#[from] serde_json::Error),
    #[error("a stored document does not fit its edits: {0}")]
    Broken(String),
    #[error("the database did not answer: {0}")]
    Database(#[from] sqlx::Error),
    #[error("the database could not be brought up to date: {0}")]
    Migrate(#[from] sqlx::migrate::MigrateError),
}

/// The way to the database.
#[derive(Clone)]
pub struct Store {
    pool: PgPool,
}

impl Store {
    /// Connects, and reconnects by itself after the database was away.
    ///
    /// # Errors
    /// [`StoreError::Database`] where the address is wrong or nobody answers.
    pub async fn connect(url: &str) -> Result<Self, StoreError> {
        let options: PgConnectOptions = url.parse()?;
        let pool = PgPoolOptions::new()
            .max_connections(CONNECTIONS)
            .acquire_timeout(Duration::from_secs(5))
            .connect_with(options)
            .await?;
        Ok(Store { pool })
    }

    /// A store on connections that exist.
    pub fn on(pool: PgPool) -> Self {
        Store { pool }
    }

    /// Creates and updates the tables.
    ///
    /// # Errors
    /// [`StoreError::Migrate`] where the database belongs to a newer program.
    pub async fn migrate(&self) -> Result<(), StoreError> {
        // The job queue keeps tables of its own in this database, so unknown migrations are not ours to judge.
        sqlx::migrate!().set_ignore_missing(true).run(&self.pool).await?;
        Ok(())
    }

    /// Whether the database answers.
    pub async fn ready(&self) -> Result<(), StoreError> {
        sqlx::query("select 1").execute(&self.pool).await?;
        Ok(())
    }

    pub fn pool(&self) -> &PgPool {
        &self.pool
    }
}

/// A missing row as what it means.
fn found<T>(row: Option<T>, what: &'static str) -> Result<T, StoreError> {
    row.ok_or(StoreError::NotFound { what })
}
