//! Renders: what was asked for, how far it is, what came of it.

use crate::{CHUNK_BYTES, Store, StoreError, found};
use lane_core::session::Session;
use serde_json::Value;
use sqlx::types::Json;
use time::OffsetDateTime;
use uuid::Uuid;

/// Where a render stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, sqlx::Type)]
#[sqlx(type_name = "text", rename_all = "snake_case")]
pub enum RenderState {
    Queued,
    Running,
    Done,
    Failed,
    Cancelled,
}

/// One render without its document and files.
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct Render {
    pub id: Uuid,
    pub session_id: Uuid,
    pub version: i32,
    pub state: RenderState,
    pub frames_done: i64,
    pub frames_total: i64,
    pub reason: Option<String>,
    pub report: Option<Value>,
    pub created_at: OffsetDateTime,
    pub finished_at: Option<OffsetDateTime>,
}

/// One finished file.
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct RenderFile {
    pub position: i32,
    pub name: String,
    pub bytes: i64,
    pub sha256: String,
}

const COLUMNS: &str =
    "id, session_id, version, state, frames_done, frames_total, reason, report, created_at, finished_at";

fn select(rest: &str) -> sqlx::AssertSqlSafe<String> {
    sqlx::AssertSqlSafe(format!("select {COLUMNS} from renders {rest}"))
}

impl Store {
    /// The version number of a session's next render.
    pub async fn next_version(&self, account: Uuid, session: Uuid) -> Result<i32, StoreError> {
        let version = sqlx::query_scalar(
            "update sessions set renders_started = renders_started + 1 where id = $1 and account_id = $2 returning renders_started",
        )
        .bind(session)
        .bind(account)
        .fetch_optional(&self.pool)
        .await?;
        found(version, "the session")
    }

    /// Keeps what is to be rendered, with the document as it is now.
    pub async fn add_render(
        &self,
        account: Uuid,
        session: Uuid,
        version: i32,
        document: &Session,
        frames_total: u64,
    ) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        sqlx::query("insert into renders (id, session_id, account_id, version, document, frames_total) values ($1, $2, $3, $4, $5, $6)")
            .bind(id)
            .bind(session)
            .bind(account)
            .bind(version)
            .bind(Json(document))
            .bind(frames_total as i64)
            .execute(&self.pool)
            .await?;
        Ok(id)
    }

    pub async fn renders(&self, account: Uuid, session: Uuid) -> Result<Vec<Render>, StoreError> {
        let rows = sqlx::query_as(select("where account_id = $1 and session_id = $2 order by version desc limit 50"))
            .bind(account)
            .bind(session)
            .fetch_all(&self.pool)
            .await?;
        Ok(rows)
    }

    pub async fn render(&self, account: Uuid, id: Uuid) -> Result<Render, StoreError> {
        let row = sqlx::query_as(select("where account_id = $1 and id = $2"))
            .bind(account)
            .bind(id)
            .fetch_optional(&self.pool)
            .await?;
        found(row, "the render")
    }

    /// Begins or takes up a render: half-written files are dropped. Gives account, version, document and
    /// attempt; nothing where it is finished or was cancelled.
    pub async fn begin_render(&self, id: Uuid) -> Result<Option<(Uuid, i32, Session, i32)>, StoreError> {
        let mut tx = self.pool.begin().await?;
        let row: Option<(Uuid, i32, Json<Session>, i32)> = sqlx::query_as(
            "update renders set state = 'running', attempts = attempts + 1, frames_done = 0
             where id = $1 and state in ('queued', 'running') returning account_id, version, document, attempts",
        )
        .bind(id)
        .fetch_optional(&mut *tx)
        .await?;
        sqlx::query("delete from render_chunks where render_id = $1").bind(id).execute(&mut *tx).await?;
        sqlx::query("delete from render_files where render_id = $1").bind(id).execute(&mut *tx).await?;
        tx.commit().await?;
        Ok(row.map(|(account, version, document, attempt)| (account, version, document.0, attempt)))
    }

    /// Notes progress; false where the render is to stop.
    pub async fn render_progress(&self, id: Uuid, attempt: i32, frames_done: u64) -> Result<bool, StoreError> {
        let going =
            sqlx::query("update renders set frames_done = $2 where id = $1 and state = 'running' and attempts = $3")
                .bind(id)
                .bind(frames_done as i64)
                .bind(attempt)
                .execute(&self.pool)
                .await?;
        Ok(going.rows_affected() == 1)
    }

    /// Writes one piece of a file, [`CHUNK_BYTES`] at most.
    pub async fn put_render_chunk(&self, id: Uuid, file: i32, position: i32, data: Vec<u8>) -> Result<(), StoreError> {
        debug_assert!(data.len() <= CHUNK_BYTES);
        sqlx::query("insert into render_chunks (render_id, file_position, position, data) values ($1, $2, $3, $4)")
            .bind(id)
            .bind(file)
            .bind(position)
            .bind(data)
            .execute(&self.pool)
            .await?;
        Ok(())
    }

    /// Makes a render and all its files visible at once; false where it was cancelled meanwhile.
    pub async fn finish_render(
        &self,
        id: Uuid,
        attempt: i32,
        files: &[RenderFile],
        report: &Value,
    ) -> Result<bool, StoreError> {
        let mut tx = self.pool.begin().await?;
        let done = sqlx::query(
            "update renders set state = 'done', frames_done = frames_total, report = $2, finished_at = now()
             where id = $1 and state = 'running' and attempts = $3",
        )
        .bind(id)
        .bind(report)
        .bind(attempt)
        .execute(&mut *tx)
        .await?;
        if done.rows_affected() == 0 {
            return Ok(false);
        }
        for file in files {
            sqlx::query(
                "insert into render_files (render_id, position, name, bytes, sha256) values ($1, $2, $3, $4, $5)",
            )
            .bind(id)
            .bind(file.position)
            .bind(&file.name)
            .bind(file.bytes)
            .bind(&file.sha256)
            .execute(&mut *tx)
            .await?;
        }
        tx.commit().await?;
        Ok(true)
    }

    /// Ends a render with a reason; its pieces are dropped.
    pub async fn fail_render(&self, id: Uuid, reason: &str) -> Result<(), StoreError> {
        self.end_render(id, "failed", reason).await.map(|_| ())
    }

    /// Stops a render that is not finished; false where it was.
    pub async fn cancel_render(&self, account: Uuid, id: Uuid) -> Result<bool, StoreError> {
        self.render(account, id).await?;
        self.end_render(id, "cancelled", "You cancelled it.").await
    }

    /// Drops pieces that were still on their way when a render ended without being done.
    pub async fn sweep_render(&self, id: Uuid) -> Result<(), StoreError> {
        sqlx::query(
            "delete from render_chunks where render_id = $1
             and exists (select from renders where id = $1 and state in ('failed', 'cancelled'))",
        )
        .bind(id)
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    async fn end_render(&self, id: Uuid, state: &str, reason: &str) -> Result<bool, StoreError> {
        let mut tx = self.pool.begin().await?;
        let ended = sqlx::query(
            "update renders set state = $2, reason = $3, finished_at = now() where id = $1 and state in ('queued', 'running')",
        )
        .bind(id)
        .bind(state)
        .bind(reason)
        .execute(&mut *tx)
        .await?;
        if ended.rows_affected() == 1 {
            sqlx::query("delete from render_chunks where render_id = $1").bind(id).execute(&mut *tx).await?;
        }
        tx.commit().await?;
        Ok(ended.rows_affected() == 1)
    }

    /// Files of a finished render, in order.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it is not finished or belongs to somebody else.
    pub async fn render_files(&self, account: Uuid, id: Uuid) -> Result<Vec<RenderFile>, StoreError> {
        let files: Vec<RenderFile> = sqlx::query_as(
            "select f.position, f.name, f.bytes, f.sha256 from render_files f join renders r on r.id = f.render_id
             where r.id = $1 and r.account_id = $2 and r.state = 'done' order by f.position",
        )
        .bind(id)
        .bind(account)
        .fetch_all(&self.pool)
        .await?;
        found((!files.is_empty()).then_some(files), "the finished render")
    }

    /// One piece of a file that [`Store::render_files`] listed; nothing behind the last.
    pub async fn render_chunk(&self, id: Uuid, file: i32, position: i32) -> Result<Option<Vec<u8>>, StoreError> {
        let data = sqlx::query_scalar(
            "select data from render_chunks where render_id = $1 and file_position = $2 and position = $3",
        )
        .bind(id)
        .bind(file)
        .bind(position)
        .fetch_optional(&self.pool)
        .await?;
        Ok(data)
    }

    /// How many renders are in each state.
    pub async fn render_counts(&self) -> Result<Vec<(String, i64)>, StoreError> {
        Ok(sqlx::query_as("select state, count(*) from renders group by state").fetch_all(&self.pool).await?)
    }
}
