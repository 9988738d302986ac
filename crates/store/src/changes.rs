//! Changes of sessions: each exactly once, by the id that its author gave it.
//!
//! A change is computed without a connection ([`crate::documents`]) and written only where the document still stands at
//! the revision that it was computed on; nothing is locked meanwhile.

use crate::documents::{Kind, Prepared, Step, Way};
use crate::{CHANGES, Store, StoreError, found};
use sqlx::{Connection, PgConnection};
use uuid::Uuid;

/// Edits that can be undone at most; older ones are forgotten.
const UNDO_STEPS: i64 = 1000;
/// Changes whose patches are kept for other pages and for those that are sent again.
const KEPT_PATCHES: i64 = 1000;

/// A change that went through.
#[derive(Debug, Clone, PartialEq, sqlx::FromRow)]
pub struct Done {
    pub id: Uuid,
    pub revision: i64,
    /// `edit`, `undo` or `redo`.
    pub kind: String,
    /// The step that was made, undone or done again.
    pub step: Uuid,
    pub label: String,
    /// JSON; none where it was made too long ago.
    pub patch: Option<String>,
    /// The way back of an edit, JSON; none where it is not known any more.
    pub back: Option<String>,
    /// What it made, JSON.
    pub made: Option<String>,
}

const DONE: &str = "select c.id, c.revision, c.kind, c.step, c.label, c.patch::text as patch, c.made::text as made,
            e.back::text as back
     from changes c left join edits e on c.kind = 'edit' and e.session_id = c.session_id and e.id = c.step";

impl Store {
    /// A change that went through already, by its id.
    pub async fn change(&self, session: Uuid, id: Uuid) -> Result<Option<Done>, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as(sqlx::AssertSqlSafe(format!("{DONE} where c.session_id = $1 and c.id = $2")))
                .bind(session)
                .bind(id)
                .fetch_optional(c)
                .await?)
        })
        .await
    }

    /// Those of some changes that went through, in their order. The session must be the account's.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it is not.
    pub async fn changes_known(&self, account: Uuid, session: Uuid, ids: &[Uuid]) -> Result<Vec<Done>, StoreError> {
        self.revision(account, session).await?;
        self.ask(async |c| {
            let sql = format!("{DONE} where c.session_id = $1 and c.id = any($2) order by c.revision");
            Ok(sqlx::query_as(sqlx::AssertSqlSafe(sql)).bind(session).bind(ids).fetch_all(c).await?)
        })
        .await
    }

    /// The change that gave a revision.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the session is not the account's, or the change was made too long ago.
    pub async fn change_to(&self, account: Uuid, session: Uuid, revision: i64) -> Result<Done, StoreError> {
        self.revision(account, session).await?;
        self.ask(async |c| {
            let sql = format!("{DONE} where c.session_id = $1 and c.revision = $2 and c.patch is not null");
            let row = sqlx::query_as(sqlx::AssertSqlSafe(sql)).bind(session).bind(revision).fetch_optional(c).await?;
            found(row, "the change")
        })
        .await
    }

    /// The newest steps that can be undone, and those that can be done again, the next one first.
    pub async fn steps(&self, session: Uuid, most: i64) -> Result<(Vec<Step>, Vec<Step>), StoreError> {
        self.ask(async |c| {
            let undo = sqlx::query_as(
                "select id, label, there::text as there, back::text as back from edits
                 where session_id = $1 and not undone order by position desc limit $2",
            )
            .bind(session)
            .bind(most)
            .fetch_all(&mut *c)
            .await?;
            let redo = sqlx::query_as(
                "select id, label, there::text as there, back::text as back from edits
                 where session_id = $1 and undone order by position limit $2",
            )
            .bind(session)
            .bind(most)
            .fetch_all(&mut *c)
            .await?;
            Ok((undo, redo))
        })
        .await
    }

    /// Writes a change where the session still stands as it was when the change was computed.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where it does not, or a step is not the next one any more.
    pub async fn commit(&self, account: Uuid, session: Uuid, change: &Prepared) -> Result<Done, StoreError> {
        self.ask(async |c| {
            let mut tx = c.begin().await?;
            let done = write(&mut tx, account, session, change).await?;
            tx.commit().await?;
            Ok(done)
        })
        .await
    }
}

async fn write(c: &mut PgConnection, account: Uuid, session: Uuid, change: &Prepared) -> Result<Done, StoreError> {
    let Prepared { id, base, row, kind, patch, label, made } = change;
    let revision = base + 1;
    let written = sqlx::query(
        "update sessions set document = $4::json, title = $5, voices = $6, tempo_bpm = $7, audio_bytes = $8,
                revision = $3 + 1, updated_at = now()
         where id = $1 and account_id = $2 and revision = $3",
    )
    .bind(session)
    .bind(account)
    .bind(base)
    .bind(&row.document)
    .bind(&row.title)
    .bind(row.voices)
    .bind(row.tempo_bpm)
    .bind(row.audio_bytes)
    .execute(&mut *c)
    .await?;
    if written.rows_affected() == 0 {
        return Err(StoreError::Stale);
    }
    let (what, step, back) = match kind {
        Kind::Edit { back } => {
            add_step(c, session, *id, label, patch, back).await?;
            ("edit", *id, Some(back.clone()))
        }
        Kind::Walk { way, step } => {
            walk(c, session, *way, *step).await?;
            (if *way == Way::Undo { "undo" } else { "redo" }, *step, None)
        }
    };
    sqlx::query(
        "insert into changes (session_id, revision, id, kind, step, label, patch, made)
         values ($1, $2, $3, $4, $5, $6, $7::json, $8::json)",
    )
    .bind(session)
    .bind(revision)
    .bind(id)
    .bind(what)
    .bind(step)
    .bind(label)
    .bind(patch)
    .bind(made)
    .execute(&mut *c)
    .await?;
    sqlx::query("update changes set patch = null, made = null where session_id = $1 and revision = $2")
        .bind(session)
        .bind(revision - KEPT_PATCHES)
        .execute(&mut *c)
        .await?;
    sqlx::query("select pg_notify($1, $2)")
        .bind(CHANGES)
        .bind(format!("{session} {revision}"))
        .execute(&mut *c)
        .await?;
    Ok(Done {
        id: *id,
        revision,
        kind: what.into(),
        step,
        label: label.clone(),
        patch: Some(patch.clone()),
        back,
        made: Some(made.clone()),
    })
}

async fn add_step(
    c: &mut PgConnection,
    session: Uuid,
    id: Uuid,
    label: &str,
    there: &str,
    back: &str,
) -> Result<(), StoreError> {
    sqlx::query("delete from edits where session_id = $1 and undone").bind(session).execute(&mut *c).await?;
    let position: i64 = sqlx::query_scalar(
        "insert into edits (session_id, position, id, label, there, back)
         values ($1, coalesce((select max(position) from edits where session_id = $1), 0) + 1, $2, $3, $4::json, $5::json)
         returning position",
    )
    .bind(session)
    .bind(id)
    .bind(label)
    .bind(there)
    .bind(back)
    .fetch_one(&mut *c)
    .await?;
    sqlx::query("delete from edits where session_id = $1 and position <= $2")
        .bind(session)
        .bind(position - UNDO_STEPS)
        .execute(&mut *c)
        .await?;
    Ok(())
}

async fn walk(c: &mut PgConnection, session: Uuid, way: Way, step: Uuid) -> Result<(), StoreError> {
    let sql = match way {
        Way::Undo => {
            "update edits set undone = true where session_id = $1 and id = $2 and position =
                 (select max(position) from edits where session_id = $1 and not undone)"
        }
        Way::Redo => {
            "update edits set undone = false where session_id = $1 and id = $2 and position =
                 (select min(position) from edits where session_id = $1 and undone)"
        }
    };
    let walked = sqlx::query(sql).bind(session).bind(step).execute(&mut *c).await?;
    if walked.rows_affected() == 1 { Ok(()) } else { Err(StoreError::Stale) }
}
