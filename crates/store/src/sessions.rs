//! Sessions as they stand, and the list of them.

use crate::documents::{Document, Kept, Line};
use crate::pieces::{Difference, Piece};
use crate::row::row;
use crate::{Store, StoreError, found, kept};
use lane_document::session::Session;
use time::OffsetDateTime;
use uuid::Uuid;

/// One line of the list of sessions.
#[derive(Debug, Clone)]
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
row!(SessionInfo { id, title, revision, updated_at, voices, tempo_bpm, audio_bytes });

/// Sessions of one account.
const SESSIONS: i64 = 10_000;

impl Store {
    /// Sessions of an account, the last changed first: some of them.
    ///
    /// * `from` – how many are left out in front.
    /// * `most` – how many.
    pub async fn sessions(&self, account: Uuid, from: i64, most: i64) -> Result<Vec<SessionInfo>, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as(
                "select id, title, revision, updated_at, voices, tempo_bpm, audio_bytes
                 from sessions where account_id = $1 order by updated_at desc, id offset $2 limit $3",
            )
            .bind(account)
            .bind(from.max(0))
            .bind(most)
            .fetch_all(c)
            .await?)
        })
        .await
    }

    /// Keeps a new session. Its audio must belong to the account.
    ///
    /// # Errors
    /// [`StoreError::TooMany`] where the account has so many already.
    pub async fn add_session(&self, account: Uuid, document: &Session) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        let line = Line::of(document);
        let (kinds, keys, bodies) = columns(Difference::between(None, document)?.set);
        self.ask_for(bodies.iter().map(String::len).sum(), async |c| {
            let made = sqlx::query(
                "with made as (
                     insert into sessions (id, account_id, title, voices, tempo_bpm, audio_bytes)
                     select $1, $2, $3, $4, $5, $6 where (select count(*) from sessions where account_id = $2) < $10
                     returning id
                 )
                 insert into pieces (session_id, kind, key, body)
                 select made.id, p.kind, p.key, p.body::json
                 from made, unnest($7::text[], $8::text[], $9::text[]) p(kind, key, body)",
            )
            .bind(id)
            .bind(account)
            .bind(&line.title)
            .bind(line.voices)
            .bind(line.tempo_bpm)
            .bind(line.audio_bytes)
            .bind(&kinds)
            .bind(&keys)
            .bind(&bodies)
            .bind(SESSIONS)
            .execute(c)
            .await?;
            // A document has pieces, so one that is kept writes some.
            kept(made.rows_affected(), "sessions", SESSIONS)?;
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
            self.known.forget(id);
            found((gone.rows_affected() == 1).then_some(()), "the session")
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the session is not there or belongs to somebody else.
    pub async fn session(&self, account: Uuid, id: Uuid) -> Result<Kept, StoreError> {
        Ok(self.session_for(account, id, Uuid::nil()).await?.0)
    }

    /// A session that a change is meant for, and whether that went through already.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the session is not there or belongs to somebody else.
    pub async fn session_for(&self, account: Uuid, id: Uuid, change: Uuid) -> Result<(Kept, bool), StoreError> {
        let kept = |revision, renders_started, document| Kept {
            id,
            revision,
            renders_started,
            document,
            known: self.known.clone(),
        };
        self.ask(async |c| {
            let row: Option<(i64, i32, bool)> = sqlx::query_as(
                "select revision, renders_started,
                        exists (select from changes where session_id = $1 and id = $3)
                 from sessions where id = $1 and account_id = $2",
            )
            .bind(id)
            .bind(account)
            .bind(change)
            .fetch_optional(&mut *c)
            .await?;
            let (revision, renders_started, done) = found(row, "the session")?;
            if let Some(session) = self.known.get(id, revision) {
                return Ok((kept(revision, renders_started, Document::Read(Box::new(session))), done));
            }
            // One statement, so that all pieces are of one revision.
            let rows: Vec<Row> = sqlx::query_as(
                "select s.revision, s.renders_started, p.kind, p.key, p.body::text as body
                 from sessions s join pieces p on p.session_id = s.id where s.id = $1 and s.account_id = $2",
            )
            .bind(id)
            .bind(account)
            .fetch_all(c)
            .await?;
            let (revision, renders_started) =
                found(rows.first(), "the session").map(|r| (r.revision, r.renders_started))?;
            let pieces = rows.into_iter().map(|row| row.piece).collect();
            Ok((kept(revision, renders_started, Document::Stored(pieces)), done))
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

struct Row {
    revision: i64,
    renders_started: i32,
    piece: Piece,
}
row!(Row { revision, renders_started; piece });

/// Pieces as columns: kinds, keys, bodies.
pub(crate) fn columns(pieces: Vec<Piece>) -> (Vec<String>, Vec<String>, Vec<String>) {
    let mut columns = (Vec::new(), Vec::new(), Vec::new());
    for Piece { kind, key, body } in pieces {
        columns.0.push(kind);
        columns.1.push(key);
        columns.2.push(body);
    }
    columns
}
