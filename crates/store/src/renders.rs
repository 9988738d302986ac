//! Renders: what was asked for, how far it is, what came of it. Their table is their queue: workers claim rows of it,
//! one account after the other, say that they live, and take over what a dead worker left.

use crate::documents::read_session;
use crate::row::row;
use crate::{CHUNK_BYTES, Store, StoreError, found};
use lane_document::session::Session;
use serde_json::Value;
use sqlx::Connection;
use std::time::Duration;
use time::OffsetDateTime;
use uuid::Uuid;

/// Where a render stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum RenderState {
    Queued,
    Running,
    Done,
    Failed,
    Cancelled,
}

impl sqlx::Type<sqlx::Postgres> for RenderState {
    fn type_info() -> sqlx::postgres::PgTypeInfo {
        <String as sqlx::Type<sqlx::Postgres>>::type_info()
    }
}

impl<'r> sqlx::Decode<'r, sqlx::Postgres> for RenderState {
    fn decode(value: sqlx::postgres::PgValueRef<'r>) -> Result<Self, sqlx::error::BoxDynError> {
        match <&str as sqlx::Decode<sqlx::Postgres>>::decode(value)? {
            "queued" => Ok(RenderState::Queued),
            "running" => Ok(RenderState::Running),
            "done" => Ok(RenderState::Done),
            "failed" => Ok(RenderState::Failed),
            "cancelled" => Ok(RenderState::Cancelled),
            other => Err(format!("a render is {other}, which this program does not know").into()),
        }
    }
}

/// One render without its document and files.
#[derive(Debug, Clone)]
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
    /// Of its files.
    pub bytes: i64,
}
row!(Render {
    id,
    session_id,
    version,
    state,
    frames_done,
    frames_total,
    reason,
    report,
    created_at,
    finished_at,
    bytes
});

/// One finished file.
#[derive(Debug, Clone)]
pub struct RenderFile {
    pub position: i32,
    pub name: String,
    pub bytes: i64,
    pub sha256: String,
}
row!(RenderFile { position, name, bytes, sha256 });

const COLUMNS: &str =
    "id, session_id, version, state, frames_done, frames_total, reason, report, created_at, finished_at, bytes";

fn select(rest: &str) -> sqlx::AssertSqlSafe<String> {
    sqlx::AssertSqlSafe(format!("select {COLUMNS} from renders {rest}"))
}

/// A render to be started.
#[derive(Debug)]
pub struct NewRender<'a> {
    pub session: Uuid,
    /// The revision that was looked at.
    pub revision: i64,
    /// JSON.
    pub document: &'a str,
    /// The audio that it needs.
    pub audio: &'a [String],
    pub frames_total: u64,
    /// Renders of the account that may wait or run at a time.
    pub most_waiting: i64,
}

/// A render that a worker has taken on.
#[derive(Debug)]
pub struct Claim {
    pub id: Uuid,
    pub account_id: Uuid,
    pub version: i32,
    document: String,
    /// Times that a worker took it on; what an earlier one still writes is refused.
    pub attempt: i32,
    /// Times that a worker died over it.
    pub deaths: i32,
}
row!(Claim { id, account_id, version, document, attempt, deaths });

impl Claim {
    /// Reads what is to be rendered, which takes a while.
    ///
    /// # Errors
    /// [`StoreError::Document`] where it is no document.
    pub fn session(&self) -> Result<Session, StoreError> {
        Ok(read_session(&self.document)?.0)
    }
}

impl Store {
    /// Takes a version number and puts a render in the queue, in one transaction.
    ///
    /// # Errors
    /// [`StoreError::TooManyRenders`] where so many of the account wait already; [`StoreError::Stale`] where the
    /// session was changed since it was looked at.
    pub async fn start_render(&self, account: Uuid, new: &NewRender<'_>) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        self.ask(async |c| {
            let mut tx = c.begin().await?;
            // One at a time for an account, so that its waiting renders are counted right.
            sqlx::query("select 1 from accounts where id = $1 for update").bind(account).execute(&mut *tx).await?;
            let waiting: i64 = sqlx::query_scalar(
                "select count(*) from renders where account_id = $1 and state in ('queued', 'running')",
            )
            .bind(account)
            .fetch_one(&mut *tx)
            .await?;
            if waiting >= new.most_waiting {
                return Err(StoreError::TooManyRenders { waiting });
            }
            let version: Option<i32> = sqlx::query_scalar(
                "update sessions set renders_started = renders_started + 1
                 where id = $1 and account_id = $2 and revision = $3 returning renders_started",
            )
            .bind(new.session)
            .bind(account)
            .bind(new.revision)
            .fetch_optional(&mut *tx)
            .await?;
            let version = version.ok_or(StoreError::Stale)?;
            sqlx::query(
                "insert into renders (id, session_id, account_id, version, document, frames_total, audio)
                 values ($1, $2, $3, $4, $5::json, $6, $7)",
            )
            .bind(id)
            .bind(new.session)
            .bind(account)
            .bind(version)
            .bind(new.document)
            .bind(new.frames_total as i64)
            .bind(new.audio)
            .execute(&mut *tx)
            .await?;
            tx.commit().await?;
            Ok(id)
        })
        .await
    }

    pub async fn renders(&self, account: Uuid, session: Uuid) -> Result<Vec<Render>, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as(select("where account_id = $1 and session_id = $2 order by version desc limit 50"))
                .bind(account)
                .bind(session)
                .fetch_all(c)
                .await?)
        })
        .await
    }

    pub async fn render(&self, account: Uuid, id: Uuid) -> Result<Render, StoreError> {
        self.ask(async |c| {
            let row = sqlx::query_as(select("where account_id = $1 and id = $2"))
                .bind(account)
                .bind(id)
                .fetch_optional(c)
                .await?;
            found(row, "the render")
        })
        .await
    }

    /// Says that a program is there to work on renders; those that were not heard of for a day are forgotten.
    pub async fn worker_lives(&self, program: Uuid) -> Result<(), StoreError> {
        self.ask(async |c| {
            sqlx::query(
                "with gone as (delete from workers where seen_at < now() - interval '1 day')
                 insert into workers (id) values ($1) on conflict (id) do update set seen_at = now()",
            )
            .bind(program)
            .execute(c)
            .await?;
            Ok(())
        })
        .await
    }

    /// Takes on the next render: of the account that was served longest ago, its oldest first; or one whose worker
    /// was not heard of for `silence`. Its death is counted where no other program works any more: as long as one does, the
    /// render is hardly what ends them. Half-written files are dropped. None where nothing waits.
    ///
    /// * `program` – whose worker it is ([`Store::worker_lives`]).
    pub async fn claim_render(
        &self,
        worker: Uuid,
        program: Uuid,
        silence: Duration,
    ) -> Result<Option<Claim>, StoreError> {
        self.move_bytes(async |c| {
            let mut tx = c.begin().await?;
            let claim: Option<Claim> = sqlx::query_as(
                "with next as (
                     select r.id, r.state from renders r
                     where (r.state = 'queued' and r.not_before <= now())
                        or (r.state = 'running' and coalesce(r.heartbeat_at, r.created_at) < now() - make_interval(secs => $2))
                     order by (select max(o.started_at) from renders o where o.account_id = r.account_id) nulls first,
                              r.created_at, r.id
                     limit 1 for update skip locked
                 )
                 update renders r set state = 'running', worker = $1, attempts = attempts + 1, frames_done = 0,
                        started_at = now(), heartbeat_at = now(),
                        deaths = deaths + (next.state = 'running' and not exists (
                            select from workers w
                            where w.id <> $3 and w.seen_at > now() - make_interval(secs => $2)))::integer
                 from next where r.id = next.id
                 returning r.id, r.account_id, r.version, r.document::text as document, r.attempts as attempt, r.deaths",
            )
            .bind(worker)
            .bind(silence.as_secs_f64())
            .bind(program)
            .fetch_optional(&mut *tx)
            .await?;
            if let Some(claim) = &claim {
                sqlx::query("delete from render_chunks where render_id = $1").bind(claim.id).execute(&mut *tx).await?;
                sqlx::query("delete from render_files where render_id = $1").bind(claim.id).execute(&mut *tx).await?;
            }
            tx.commit().await?;
            Ok(claim)
        })
        .await
    }

    /// Says that the worker lives, and how far it is; false where the render is to stop.
    pub async fn render_progress(&self, id: Uuid, attempt: i32, frames_done: u64) -> Result<bool, StoreError> {
        self.ask(async |c| {
            let going = sqlx::query(
                "update renders set frames_done = greatest(frames_done, $2), heartbeat_at = now()
                 where id = $1 and state = 'running' and attempts = $3",
            )
            .bind(id)
            .bind(frames_done as i64)
            .bind(attempt)
            .execute(c)
            .await?;
            Ok(going.rows_affected() == 1)
        })
        .await
    }

    /// Writes one piece of a file, [`CHUNK_BYTES`] at most.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where another worker has taken the render on, or it was ended.
    pub async fn put_render_chunk(
        &self,
        id: Uuid,
        attempt: i32,
        (file, position): (i32, i32),
        data: &[u8],
    ) -> Result<(), StoreError> {
        debug_assert!(data.len() <= CHUNK_BYTES);
        self.move_bytes(async |c| {
            // Sent again after an answer was lost, it is the same piece.
            let written = sqlx::query(
                "insert into render_chunks (render_id, file_position, position, data)
                 select r.id, $2, $3, $4 from renders r where r.id = $1 and r.state = 'running' and r.attempts = $5
                 for share of r
                 on conflict (render_id, file_position, position) do update set data = excluded.data",
            )
            .bind(id)
            .bind(file)
            .bind(position)
            .bind(data)
            .bind(attempt)
            .execute(c)
            .await?;
            if written.rows_affected() == 1 { Ok(()) } else { Err(StoreError::Stale) }
        })
        .await
    }

    /// Makes a render and all its files visible at once; false where it was ended meanwhile, or taken over.
    pub async fn finish_render(
        &self,
        id: Uuid,
        attempt: i32,
        files: &[RenderFile],
        report: &Value,
    ) -> Result<bool, StoreError> {
        self.move_bytes(async |c| {
            let mut tx = c.begin().await?;
            let done = sqlx::query(
                "update renders set state = 'done', frames_done = frames_total, report = $2, finished_at = now(),
                        bytes = $4
                 where id = $1 and state = 'running' and attempts = $3",
            )
            .bind(id)
            .bind(report)
            .bind(attempt)
            .bind(files.iter().map(|f| f.bytes).sum::<i64>())
            .execute(&mut *tx)
            .await?;
            if done.rows_affected() == 0 {
                // The answer to an earlier try may have been lost.
                let mine = sqlx::query("select 1 from renders where id = $1 and state = 'done' and attempts = $2")
                    .bind(id)
                    .bind(attempt)
                    .fetch_optional(&mut *tx)
                    .await?;
                return Ok(mine.is_some());
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
        })
        .await
    }

    /// Puts a render back in the queue that could not be worked on, for some time, through no fault of its own: it
    /// does not count as an attempt.
    pub async fn release_render(&self, id: Uuid, attempt: i32, pause: Duration) -> Result<(), StoreError> {
        self.ask(async |c| {
            sqlx::query(
                "update renders set state = 'queued', worker = null, frames_done = 0, faults = faults + 1,
                        not_before = now() + make_interval(secs => $3)
                 where id = $1 and state = 'running' and attempts = $2",
            )
            .bind(id)
            .bind(attempt)
            .bind(pause.as_secs_f64())
            .execute(c)
            .await?;
            Ok(())
        })
        .await
    }

    /// Ends a render with a reason; its pieces are dropped.
    pub async fn fail_render(&self, id: Uuid, attempt: i32, reason: &str) -> Result<(), StoreError> {
        self.end_render(id, Some(attempt), "failed", reason).await.map(|_| ())
    }

    /// Stops a render that is not finished; false where it was.
    pub async fn cancel_render(&self, account: Uuid, id: Uuid) -> Result<bool, StoreError> {
        self.render(account, id).await?;
        self.end_render(id, None, "cancelled", "You cancelled it.").await
    }

    /// Removes a render that has ended, with its files.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none; [`StoreError::NothingTo`] where it still goes on.
    pub async fn remove_render(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        self.render(account, id).await?;
        self.move_bytes(async |c| {
            let gone = sqlx::query(
                "delete from renders where id = $1 and account_id = $2 and state not in ('queued', 'running')",
            )
            .bind(id)
            .bind(account)
            .execute(c)
            .await?;
            if gone.rows_affected() == 1 {
                Ok(())
            } else {
                Err(StoreError::NothingTo("remove: cancel the render first"))
            }
        })
        .await
    }

    async fn end_render(&self, id: Uuid, attempt: Option<i32>, state: &str, reason: &str) -> Result<bool, StoreError> {
        self.move_bytes(async |c| {
            let mut tx = c.begin().await?;
            let ended = sqlx::query(
                "update renders set state = $2, reason = $3, finished_at = now()
                 where id = $1 and state in ('queued', 'running') and ($4::integer is null or attempts = $4)",
            )
            .bind(id)
            .bind(state)
            .bind(reason)
            .bind(attempt)
            .execute(&mut *tx)
            .await?;
            if ended.rows_affected() == 1 {
                sqlx::query("delete from render_chunks where render_id = $1").bind(id).execute(&mut *tx).await?;
            }
            tx.commit().await?;
            Ok(ended.rows_affected() == 1)
        })
        .await
    }

    /// Files of a finished render, in order.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it is not finished or belongs to somebody else.
    pub async fn render_files(&self, account: Uuid, id: Uuid) -> Result<Vec<RenderFile>, StoreError> {
        self.ask(async |c| {
            let files: Vec<RenderFile> = sqlx::query_as(
                "select f.position, f.name, f.bytes, f.sha256 from render_files f join renders r on r.id = f.render_id
                 where r.id = $1 and r.account_id = $2 and r.state = 'done' order by f.position",
            )
            .bind(id)
            .bind(account)
            .fetch_all(c)
            .await?;
            found((!files.is_empty()).then_some(files), "the finished render")
        })
        .await
    }

    /// One piece of a file that [`Store::render_files`] listed; nothing behind the last.
    pub async fn render_chunk(&self, id: Uuid, file: i32, position: i32) -> Result<Option<Vec<u8>>, StoreError> {
        self.move_bytes(async |c| {
            Ok(sqlx::query_scalar(
                "select data from render_chunks where render_id = $1 and file_position = $2 and position = $3",
            )
            .bind(id)
            .bind(file)
            .bind(position)
            .fetch_optional(c)
            .await?)
        })
        .await
    }

    /// How many renders are in each state.
    pub async fn render_counts(&self) -> Result<Vec<(String, i64)>, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as("select state, count(*) from renders group by state").fetch_all(c).await?)
        })
        .await
    }
}
