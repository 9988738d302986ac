//! Sessions as they stand, and the list of them.

use crate::documents::{Kept, Row};
use crate::{Store, StoreError, found};
use lane_core::session::Session;
use time::OffsetDateTime;
use uuid::Uuid;

/// One line of the list of sessions.
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct SessionInfo {
    pub id: Uuid,
    pub title: String,
    pub revision: i64,
    pub updated_at: OffsetDateTime,
    pub voices: i32,
    pub tempo_bpm: f64,
    /// Of its audio, as it is played.
    pub audio_bytes: i64,
}

impl Store {
    pub async fn sessions(&self, account: Uuid) -> Result<Vec<SessionInfo>, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as(
                "select id, title, revision, updated_at, voices, tempo_bpm, audio_bytes
                 from sessions where account_id = $1 order by updated_at desc",
            )
            .bind(account)
            .fetch_all(c)
            .await?)
        })
        .await
    }

    /// Keeps a new session. Its audio must belong to the account.
    pub async fn add_session(&self, account: Uuid, document: &Session) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        let row = Row::of(document)?;
        self.ask(async |c| {
            sqlx::query(
                "insert into sessions (id, account_id, title, document, voices, tempo_bpm, audio_bytes)
                 values ($1, $2, $3, $4::json, $5, $6, $7)",
            )
            .bind(id)
            .bind(account)
            .bind(&row.title)
            .bind(&row.document)
            .bind(row.voices)
            .bind(row.tempo_bpm)
            .bind(row.audio_bytes)
            .execute(c)
            .await?;
            Ok(id)
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the session is not there or belongs to somebody else.
    pub async fn remove_session(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        // Stems go with it, which takes a while.
        self.move_bytes(async |c| {
            let gone = sqlx::query("delete from sessions where id = $1 and account_id = $2")
                .bind(id)
                .bind(account)
                .execute(c)
                .await?;
            found((gone.rows_affected() == 1).then_some(()), "the session")
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the session is not there or belongs to somebody else.
    pub async fn session(&self, account: Uuid, id: Uuid) -> Result<Kept, StoreError> {
        self.ask(async |c| {
            let row = sqlx::query_as(
                "select id, document::text as document, revision, renders_started
                 from sessions where id = $1 and account_id = $2",
            )
            .bind(id)
            .bind(account)
            .fetch_optional(c)
            .await?;
            found(row, "the session")
        })
        .await
    }

    /// The newest revision of a session.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the session is not there or belongs to somebody else.
    pub async fn revision(&self, account: Uuid, id: Uuid) -> Result<i64, StoreError> {
        self.ask(async |c| {
            let revision = sqlx::query_scalar("select revision from sessions where id = $1 and account_id = $2")
                .bind(id)
                .bind(account)
                .fetch_optional(c)
                .await?;
            found(revision, "the session")
        })
        .await
    }
}
