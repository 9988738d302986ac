//! Snapshots of sessions: documents as they were, packed.

use crate::documents::read_session;
use crate::row::row;
use crate::{Store, StoreError, found};
use flate2::Compression;
use flate2::read::DeflateDecoder;
use flate2::write::DeflateEncoder;
use lane_document::json::ToJson;
use lane_document::session::Session;
use lane_units::Name;
use serde::{Deserialize, Serialize};
use sqlx::types::Json;
use std::io::{Read, Write};
use time::OffsetDateTime;
use uuid::Uuid;

/// Bytes of a document at most, so that one that was bent cannot fill the memory.
const DOCUMENT_BYTES: u64 = 256 << 20;
/// Snapshots of one session that somebody takes by hand.
const BY_HAND: i64 = 1000;
/// Of those that the program took, what stays of the last hour.
pub const LAST_HOUR: i64 = 100;
/// Days for which one a day stays of those that the program took.
pub const DAYS: i32 = 366;

/// What was measured of main when a snapshot was taken; nothing of what was not.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct SnapshotFigures {
    /// Integrated loudness over the loop, in LUFS.
    pub lufs: Option<f64>,
    /// The highest short-term loudness over the loop, in LUFS.
    pub short_term_lufs: Option<f64>,
    /// In dBTP.
    pub true_peak_dbtp: Option<f64>,
    /// Sample peak over the mean, in dB.
    pub crest_db: Option<f64>,
}

/// A document that is packed, with the audio that it needs.
#[derive(Debug, Clone)]
pub struct PackedSession {
    assets: Vec<String>,
    bytes: Vec<u8>,
}

impl PackedSession {
    /// Packs a document, which takes a while.
    ///
    /// # Errors
    /// [`StoreError::Document`] where it cannot be written.
    pub fn of(session: &Session) -> Result<Self, StoreError> {
        let mut to = DeflateEncoder::new(Vec::new(), Compression::default());
        let packed = to.write_all(&session.to_json()?).and_then(|()| to.finish());
        let bytes = packed.map_err(|e| StoreError::Broken(e.to_string()))?;
        Ok(PackedSession { assets: session.assets.iter().map(|a| a.id.0.clone()).collect(), bytes })
    }

    /// What it takes, in bytes.
    pub fn bytes(&self) -> usize {
        self.bytes.len()
    }
}

/// A snapshot to be kept.
#[derive(Debug)]
pub struct NewSnapshot<'a> {
    pub name: &'a Name,
    /// Whether somebody took it, rather than the program.
    pub by_hand: bool,
    /// Now, where not said.
    pub taken_at: Option<OffsetDateTime>,
    pub figures: SnapshotFigures,
    pub document: &'a PackedSession,
}

/// One line of the list of snapshots.
#[derive(Debug, Clone)]
pub struct SnapshotInfo {
    pub id: Uuid,
    pub name: Name,
    /// Whether somebody took it, rather than the program.
    pub by_hand: bool,
    pub taken_at: OffsetDateTime,
    pub figures: SnapshotFigures,
    pub bytes: i64,
}

/// A snapshot whose document is not read yet.
#[derive(Debug)]
pub struct StoredSnapshot(Vec<u8>);

impl StoredSnapshot {
    /// Reads its document, which takes a while.
    ///
    /// # Errors
    /// [`StoreError::Document`] or [`StoreError::Broken`] where it is none.
    pub fn read(self) -> Result<Session, StoreError> {
        let mut text = String::new();
        let unpacked = DeflateDecoder::new(self.0.as_slice()).take(DOCUMENT_BYTES).read_to_string(&mut text);
        unpacked.map_err(|e| StoreError::Broken(e.to_string()))?;
        Ok(read_session(&text)?.0)
    }
}

struct Row {
    id: Uuid,
    name: String,
    by_hand: bool,
    taken_at: OffsetDateTime,
    figures: Option<Json<SnapshotFigures>>,
    bytes: i64,
}
row!(Row { id, name, by_hand, taken_at, figures, bytes });

/// The one place that says whose snapshots they are.
const OWNED: &str = "session_id = $2 and exists (select from sessions s where s.id = $2 and s.account_id = $1)";

impl Store {
    /// Snapshots of a session, the newest first.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such session.
    pub async fn snapshots(&self, account: Uuid, session: Uuid) -> Result<Vec<SnapshotInfo>, StoreError> {
        self.revision(account, session).await?;
        self.ask(async |c| {
            let rows: Vec<Row> = sqlx::query_as(sqlx::AssertSqlSafe(format!(
                "select id, name, by_hand, taken_at, figures, bytes
                 from snapshots where {OWNED} order by taken_at desc, id"
            )))
            .bind(account)
            .bind(session)
            .fetch_all(c)
            .await?;
            let info = |r: Row| SnapshotInfo {
                id: r.id,
                name: Name::cleaned(&r.name, "Snapshot"),
                by_hand: r.by_hand,
                taken_at: r.taken_at,
                figures: r.figures.map(|f| f.0).unwrap_or_default(),
                bytes: r.bytes,
            };
            Ok(rows.into_iter().map(info).collect())
        })
        .await
    }

    /// Keeps a snapshot of a session. Those that the program took are thinned with age meanwhile: of the last hour the newest
    /// [`LAST_HOUR`] stay, of the last day one an hour, of the time before one a day, the newest of each, for [`DAYS`] days.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such session; [`StoreError::TooMany`].
    pub async fn add_snapshot(&self, account: Uuid, session: Uuid, new: &NewSnapshot<'_>) -> Result<Uuid, StoreError> {
        let NewSnapshot { name, by_hand, taken_at, figures, document } = *new;
        let id = Uuid::new_v4();
        self.revision(account, session).await?;
        self.ask(async |c| {
            let made = sqlx::query(sqlx::AssertSqlSafe(format!(
                "with thinned as (
                     delete from snapshots where not by_hand and {OWNED} and id in (
                         select id from (
                             select id, taken_at, row_number() over (partition by
                                 case when taken_at > now() - interval '1 hour' then 'the last hour'
                                      when taken_at > now() - interval '1 day'
                                          then date_trunc('hour', taken_at)::text
                                      else date_trunc('day', taken_at)::text end
                                 order by taken_at desc) as place
                             from snapshots where session_id = $2 and not by_hand
                         ) ranked
                         where place > case when taken_at > now() - interval '1 hour' then $11 else 1 end
                             or taken_at < now() - make_interval(days => $12)
                     )
                 )
                 insert into snapshots (id, session_id, name, by_hand, figures, assets, document, taken_at)
                 select $3, id, $4, $5, $6, $7, $8, coalesce($10, now()) from sessions
                 where id = $2 and account_id = $1
                     and (not $5 or (select count(*) from snapshots where session_id = $2 and by_hand) < $9)"
            )))
            .bind(account)
            .bind(session)
            .bind(id)
            .bind(name.as_str())
            .bind(by_hand)
            .bind(Json(figures))
            .bind(&document.assets)
            .bind(&document.bytes)
            .bind(BY_HAND)
            .bind(taken_at)
            .bind(LAST_HOUR)
            .bind(DAYS)
            .execute(c)
            .await?;
            if made.rows_affected() == 1 {
                Ok(id)
            } else {
                Err(StoreError::TooMany { what: "snapshots of the session", most: BY_HAND })
            }
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such snapshot.
    pub async fn snapshot(&self, account: Uuid, session: Uuid, id: Uuid) -> Result<StoredSnapshot, StoreError> {
        self.ask(async |c| {
            let row = sqlx::query_scalar(sqlx::AssertSqlSafe(format!(
                "select document from snapshots where id = $3 and {OWNED}"
            )))
            .bind(account)
            .bind(session)
            .bind(id)
            .fetch_optional(c)
            .await?;
            Ok(StoredSnapshot(found(row, "the snapshot")?))
        })
        .await
    }

    /// Gives a snapshot another name, or what was measured of it later; one that the program took and that gets a name is then
    /// kept like one that somebody took.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such snapshot.
    pub async fn change_snapshot(
        &self,
        account: Uuid,
        session: Uuid,
        id: Uuid,
        name: Option<&Name>,
        figures: Option<SnapshotFigures>,
    ) -> Result<(), StoreError> {
        self.ask(async |c| {
            let set = sqlx::query(sqlx::AssertSqlSafe(format!(
                "update snapshots set name = coalesce($4, name), by_hand = by_hand or $4 is not null,
                                      figures = coalesce($5::json, figures) where id = $3 and {OWNED}"
            )))
            .bind(account)
            .bind(session)
            .bind(id)
            .bind(name.map(Name::as_str))
            .bind(figures.map(Json))
            .execute(c)
            .await?;
            found((set.rows_affected() == 1).then_some(()), "the snapshot")
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such snapshot.
    pub async fn remove_snapshot(&self, account: Uuid, session: Uuid, id: Uuid) -> Result<(), StoreError> {
        self.ask(async |c| {
            let gone = sqlx::query(sqlx::AssertSqlSafe(format!("delete from snapshots where id = $3 and {OWNED}")))
                .bind(account)
                .bind(session)
                .bind(id)
                .execute(c)
                .await?;
            found((gone.rows_affected() == 1).then_some(()), "the snapshot")
        })
        .await
    }
}
