//! Accounts, sessions, audio and renders in PostgreSQL. Every query names the account it is for.
//!
//! | module | theme |
//! |---|---|
//! | [`documents`] | stored documents read, put right, changed: plain computation, no connection |
//! | `pieces` | a document as rows, and what of them a change writes |
//! | `sessions` | sessions as they stand, and the list of them |
//! | `changes` | edits, undo and redo, each exactly once |
//! | `assets`, `library`, `holdings` | audio, the samples of an account, what it holds and what nothing needs |
//! | `renders` | renders and their queue |
//! | `snapshots` | earlier states of sessions, packed |
//! | `pulse` | whether the database is there, however slow it answers |
//! | `templates`, `presets`, `accounts`, `logins` | what their names say |

mod accounts;
mod assets;
mod changes;
pub mod documents;
mod holdings;
mod library;
mod listen;
mod logins;
mod migrations;
mod pieces;
mod presets;
mod pulse;
mod renders;
mod row;
mod sessions;
mod snapshots;
mod templates;

pub use accounts::Account;
pub use changes::Done;
pub use documents::{Kept, Prepared, Read, Step, Way};
pub use holdings::{HISTORY_BYTES, Holdings, Swept};
pub use library::LibrarySound;
pub use presets::Preset;
pub use renders::{Claim, NewRender, Render, RenderFile, RenderState};
pub use sessions::SessionInfo;
pub use snapshots::{NewSnapshot, PackedSession, SnapshotFigures, SnapshotInfo, StoredSnapshot};
pub use templates::{StoredTemplate, Template};

use lane_document::edit::EditError;
use sqlx::pool::PoolConnection;
use sqlx::postgres::{PgConnectOptions, PgConnection, PgPool, PgPoolOptions, Postgres};
use std::time::Duration;

/// Bytes of one piece of audio or of a file.
pub const CHUNK_BYTES: usize = 1 << 20;

/// The channel on which changed sessions are told: `session id space revision`.
pub const CHANGES: &str = "session_changes";

/// How long an answer is waited for, as long as the database is there ([`pulse`]).
const ANSWER: Duration = Duration::from_secs(15);
/// The same for pieces of audio and files, and for sweeping.
const LONG_ANSWER: Duration = Duration::from_secs(60);
/// Bytes that a large write may take a second longer for.
const SLOWEST: u64 = 256 << 10;

/// What went wrong in the store.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    #[error("{what} is not there")]
    NotFound { what: &'static str },
    #[error("{what} is there already")]
    Exists { what: &'static str },
    /// Another change came first.
    #[error("the session was changed meanwhile")]
    Stale,
    #[error("there is nothing to {0}")]
    NothingTo(&'static str),
    #[error("there are {most} {what} already; remove some first")]
    TooMany { what: &'static str, most: i64 },
    #[error("{waiting} renders are waiting already")]
    TooManyRenders { waiting: i64 },
    #[error(transparent)]
    Edit(#[from] EditError),
    #[error("a stored document cannot be read: {0}")]
    Document(#[from] serde_json::Error),
    #[error("a stored document does not fit its edits: {0}")]
    Broken(String),
    #[error("the database did not answer: {0}")]
    Database(#[from] sqlx::Error),
    #[error("the database did not answer in time")]
    Late,
    #[error("the database could not be brought up to date: {0}")]
    Migrate(#[from] sqlx::migrate::MigrateError),
}

impl StoreError {
    /// Whether the database is away, so that trying again later helps.
    pub fn is_outage(&self) -> bool {
        match self {
            StoreError::Late => true,
            StoreError::Database(error) => match error {
                sqlx::Error::Database(e) => e.code().is_some_and(|code| is_outage_code(&code)),
                sqlx::Error::RowNotFound | sqlx::Error::ColumnNotFound(_) | sqlx::Error::ColumnDecode { .. } => false,
                _ => true,
            },
            _ => false,
        }
    }
}

impl StoreError {
    /// Whether the database has no room for more (code 53100).
    pub fn is_full(&self) -> bool {
        matches!(self, StoreError::Database(sqlx::Error::Database(e)) if e.code().as_deref() == Some("53100"))
    }
}

/// Codes of PostgreSQL that pass: connection exceptions, lack of resources (a full disk too), intervention of an
/// operator, deadlocks and serialisation, and tables that are not there yet.
fn is_outage_code(code: &str) -> bool {
    ["08", "40", "53", "57", "58"].iter().any(|class| code.starts_with(class)) || code == "42P01" || code == "3D000"
}

/// The way to the database.
#[derive(Clone)]
pub struct Store {
    pool: PgPool,
    pulse: pulse::Pulse,
    known: documents::Known,
}

impl Store {
    /// A way to a database that need not be there yet; it is connected to when it is asked something.
    ///
    /// # Errors
    /// [`StoreError::Database`] where the address cannot be understood.
    pub fn connect(url: &str, connections: u32) -> Result<Self, StoreError> {
        let options: PgConnectOptions = url.parse()?;
        let pool = PgPoolOptions::new()
            .max_connections(connections)
            // Whether the database is there at all is asked beside it.
            .acquire_timeout(ANSWER)
            // A connection that was idle may lead nowhere any more.
            .test_before_acquire(true)
            .max_lifetime(Duration::from_secs(1800))
            .connect_lazy_with(options);
        Ok(Store::on(pool))
    }

    /// A store on connections that exist.
    pub fn on(pool: PgPool) -> Self {
        let pulse = pulse::Pulse::new(pool.connect_options());
        Store { pool, pulse, known: documents::Known::new() }
    }

    /// Creates and updates the tables.
    ///
    /// # Errors
    /// [`StoreError::Migrate`] where the database belongs to a newer program; an outage where it is away.
    pub async fn migrate(&self) -> Result<(), StoreError> {
        match migrations::migrator().run(&self.pool).await {
            Err(sqlx::migrate::MigrateError::Execute(error)) => Err(StoreError::Database(error)),
            done => Ok(done?),
        }
    }

    /// Makes the connection on which it is asked whether the database is there, before that is in doubt.
    pub async fn begin(&self) {
        self.pulse.begin().await;
    }

    /// Whether the database answers.
    pub async fn ready(&self) -> Result<(), StoreError> {
        self.ask(async |c| Ok(sqlx::query("select 1 from sessions limit 1").execute(c).await.map(|_| ())?)).await
    }

    pub fn pool(&self) -> &PgPool {
        &self.pool
    }

    /// Asks the database something that it answers at once.
    async fn ask<T>(
        &self,
        work: impl AsyncFnOnce(&mut PgConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        self.within(ANSWER, work).await
    }

    /// Writes, or reads, as many bytes.
    async fn ask_for<T>(
        &self,
        bytes: usize,
        work: impl AsyncFnOnce(&mut PgConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        self.within(ANSWER + Duration::from_secs(bytes as u64 / SLOWEST), work).await
    }

    /// Moves pieces of audio or files, or sweeps.
    async fn move_bytes<T>(
        &self,
        work: impl AsyncFnOnce(&mut PgConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        self.within(LONG_ANSWER, work).await
    }

    /// A connection, in its turn.
    async fn connection(&self) -> Result<PoolConnection<Postgres>, StoreError> {
        Ok(self.pulse.wait(ANSWER, self.pool.acquire()).await??)
    }

    async fn within<T>(
        &self,
        limit: Duration,
        work: impl AsyncFnOnce(&mut PgConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        let mut connection = self.connection().await?;
        match self.pulse.wait(limit, work(&mut connection)).await {
            Ok(done) => done,
            Err(late) => {
                // What it was asked may still be under way, so nobody else gets it.
                drop(connection.detach());
                Err(late)
            }
        }
    }
}

/// A missing row as what it means.
fn found<T>(row: Option<T>, what: &'static str) -> Result<T, StoreError> {
    row.ok_or(StoreError::NotFound { what })
}

/// What was not written since there are so many already.
fn kept(rows: u64, what: &'static str, most: i64) -> Result<(), StoreError> {
    if rows > 0 { Ok(()) } else { Err(StoreError::TooMany { what, most }) }
}
