//! Sessions and the way of their documents.

use crate::{CHANGES, Store, StoreError, found};
use lane_core::edit::{self, Edit};
use lane_core::session::{Patch, Session};
use sqlx::types::Json;
use sqlx::{Postgres, Transaction};
use time::OffsetDateTime;
use uuid::Uuid;

/// Edits that can be undone at most; older ones are forgotten.
const UNDO_STEPS: i64 = 1000;

/// One line of the list of sessions.
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct SessionInfo {
    pub id: Uuid,
    pub title: String,
    pub revision: i64,
    pub updated_at: OffsetDateTime,
    pub voices: i32,
    pub tempo_bpm: f64,
}

/// A session as it stands.
#[derive(Debug, Clone)]
pub struct StoredSession {
    pub id: Uuid,
    pub document: Session,
    pub revision: i64,
    pub can_undo: bool,
    pub can_redo: bool,
    /// Renders started so far.
    pub renders_started: i32,
}

/// A change that went through.
#[derive(Debug, Clone)]
pub struct Changed {
    pub revision: i64,
    pub there: Patch,
    pub can_undo: bool,
    pub can_redo: bool,
}

#[derive(sqlx::FromRow)]
struct Row {
    document: Json<Session>,
    revision: i64,
    renders_started: i32,
}

type Tx<'a> = Transaction<'a, Postgres>;

impl Store {
    pub async fn sessions(&self, account: Uuid) -> Result<Vec<SessionInfo>, StoreError> {
        let rows = sqlx::query_as(
            "select id, title, revision, updated_at, json_array_length(document->'voices') as voices,
                    (document->'header'->>'tempo_bpm')::float8 as tempo_bpm
             from sessions where account_id = $1 order by updated_at desc",
        )
        .bind(account)
        .fetch_all(&self.pool)
        .await?;
        Ok(rows)
    }

    /// Keeps a new session. Its audio must belong to the account.
    pub async fn add_session(&self, account: Uuid, document: &Session) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        sqlx::query("insert into sessions (id, account_id, title, document) values ($1, $2, $3, $4)")
            .bind(id)
            .bind(account)
            .bind(&document.header.title)
            .bind(Json(document))
            .execute(&self.pool)
            .await?;
        Ok(id)
    }

    pub async fn remove_session(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        let gone = sqlx::query("delete from sessions where id = $1 and account_id = $2")
            .bind(id)
            .bind(account)
            .execute(&self.pool)
            .await?;
        found((gone.rows_affected() == 1).then_some(()), "the session")
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the session is not there or belongs to somebody else.
    pub async fn session(&self, account: Uuid, id: Uuid) -> Result<StoredSession, StoreError> {
        let mut tx = self.pool.begin().await?;
        let row = fetch(&mut tx, account, id, "").await?;
        stored(&mut tx, id, row).await
    }

    /// Applies an edit to the revision that its author saw, in one transaction.
    ///
    /// # Errors
    /// [`StoreError::Stale`] with the newer document where there is one; [`StoreError::Edit`] where the
    /// core refuses.
    pub async fn edit(&self, account: Uuid, id: Uuid, base: i64, edit: &Edit) -> Result<Changed, StoreError> {
        let mut tx = self.pool.begin().await?;
        let row = fetch(&mut tx, account, id, "for update").await?;
        if row.revision != base {
            let current = Box::new(stored(&mut tx, id, row).await?);
            return Err(StoreError::Stale { current });
        }
        let mut document = row.document.0;
        let applied = edit::apply(&mut document, edit)?;
        sqlx::query("delete from edits where session_id = $1 and undone").bind(id).execute(&mut *tx).await?;
        sqlx::query(
            "insert into edits (session_id, position, there, back)
             values ($1, coalesce((select max(position) from edits where session_id = $1), 0) + 1, $2, $3)",
        )
        .bind(id)
        .bind(Json(&applied.there))
        .bind(Json(&applied.back))
        .execute(&mut *tx)
        .await?;
        sqlx::query(
            "delete from edits where session_id = $1 and position <=
                 (select max(position) from edits where session_id = $1) - $2",
        )
        .bind(id)
        .bind(UNDO_STEPS)
        .execute(&mut *tx)
        .await?;
        finish(tx, id, row.revision, document, applied.there).await
    }

    /// Takes the last edit back.
    ///
    /// # Errors
    /// [`StoreError::NothingTo`] where there is none.
    pub async fn undo(&self, account: Uuid, id: Uuid) -> Result<Changed, StoreError> {
        self.walk(
            account,
            id,
            "update edits set undone = true where session_id = $1 and position =
                 (select max(position) from edits where session_id = $1 and not undone) returning back",
            "undo",
        )
        .await
    }

    /// Does the edit that was undone last again.
    ///
    /// # Errors
    /// [`StoreError::NothingTo`] where there is none.
    pub async fn redo(&self, account: Uuid, id: Uuid) -> Result<Changed, StoreError> {
        self.walk(
            account,
            id,
            "update edits set undone = false where session_id = $1 and position =
                 (select min(position) from edits where session_id = $1 and undone) returning there",
            "redo",
        )
        .await
    }

    async fn walk(
        &self,
        account: Uuid,
        id: Uuid,
        step: &'static str,
        what: &'static str,
    ) -> Result<Changed, StoreError> {
        let mut tx = self.pool.begin().await?;
        let row = fetch(&mut tx, account, id, "for update").await?;
        let patch: Option<Json<Patch>> = sqlx::query_scalar(step).bind(id).fetch_optional(&mut *tx).await?;
        let Json(patch) = patch.ok_or(StoreError::NothingTo(what))?;
        let mut document = row.document.0;
        patch.apply(&mut document).map_err(|e| StoreError::Broken(e.to_string()))?;
        finish(tx, id, row.revision, document, patch).await
    }
}

async fn fetch(tx: &mut Tx<'_>, account: Uuid, id: Uuid, lock: &str) -> Result<Row, StoreError> {
    let mut query = sqlx::QueryBuilder::new("select document, revision, renders_started from sessions where id = ");
    query.push_bind(id).push(" and account_id = ").push_bind(account).push(" ").push(lock);
    let row = query.build_query_as().fetch_optional(&mut **tx).await?;
    found(row, "the session")
}

async fn ways(tx: &mut Tx<'_>, id: Uuid) -> Result<(bool, bool), StoreError> {
    let ways = sqlx::query_as(
        "select exists (select from edits where session_id = $1 and not undone),
                exists (select from edits where session_id = $1 and undone)",
    )
    .bind(id)
    .fetch_one(&mut **tx)
    .await?;
    Ok(ways)
}

async fn stored(tx: &mut Tx<'_>, id: Uuid, row: Row) -> Result<StoredSession, StoreError> {
    let (can_undo, can_redo) = ways(tx, id).await?;
    let Row { document, revision, renders_started } = row;
    Ok(StoredSession { id, document: document.0, revision, can_undo, can_redo, renders_started })
}

async fn finish(mut tx: Tx<'_>, id: Uuid, before: i64, document: Session, there: Patch) -> Result<Changed, StoreError> {
    let revision = before + 1;
    sqlx::query("update sessions set document = $2, title = $3, revision = $4, updated_at = now() where id = $1")
        .bind(id)
        .bind(Json(&document))
        .bind(&document.header.title)
        .bind(revision)
        .execute(&mut *tx)
        .await?;
    sqlx::query("select pg_notify($1, $2)").bind(CHANGES).bind(format!("{id} {revision}")).execute(&mut *tx).await?;
    let (can_undo, can_redo) = ways(&mut tx, id).await?;
    tx.commit().await?;
    Ok(Changed { revision, there, can_undo, can_redo })
}
