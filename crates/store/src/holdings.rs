//! What an account holds, and what nothing needs any more.

use crate::row::row;
use crate::{Store, StoreError};
use sqlx::Connection;
use std::time::Duration;
use uuid::Uuid;

/// The lock that sweeping takes alone and that bringing in shares.
pub(crate) const SWEEP: i64 = 0x007a_6c73_7765_6570;

/// What an account holds, in bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Holdings {
    /// Audio, each piece once.
    pub audio_bytes: i64,
    /// Audio that the library names.
    pub library_bytes: i64,
    /// Files of renders.
    pub render_bytes: i64,
    /// Steps that can be undone, changes that others can follow, and snapshots.
    pub history_bytes: i64,
}
row!(Holdings { audio_bytes, library_bytes, render_bytes, history_bytes });

impl Holdings {
    /// All of it.
    pub fn bytes(self) -> u64 {
        (self.audio_bytes + self.render_bytes + self.history_bytes).unsigned_abs()
    }
}

/// Bytes of steps that a session keeps to be undone, at least the newest; older ones are forgotten as it is swept. Of changes
/// that others can follow, a quarter of it.
pub const HISTORY_BYTES: i64 = 256 << 20;

/// What a sweep took away.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Swept {
    /// Pieces of audio that accounts do not hold any more.
    pub disowned: u64,
    /// Pieces of audio that nobody holds any more.
    pub removed: u64,
}

impl Store {
    pub async fn holdings(&self, account: Uuid) -> Result<Holdings, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as(
                "select coalesce(sum(a.frames::bigint * a.channels * 4), 0)::bigint as audio_bytes,
                        coalesce(sum(a.frames::bigint * a.channels * 4) filter (where exists
                            (select from library_sounds l where l.account_id = $1 and l.asset_id = a.id)), 0)::bigint
                            as library_bytes,
                        (select coalesce(sum(bytes), 0)::bigint from renders where account_id = $1) as render_bytes,
                        (select coalesce(sum(history_bytes), 0)::bigint from sessions where account_id = $1)
                            + (select coalesce(sum(n.bytes), 0)::bigint
                               from snapshots n join sessions s on s.id = n.session_id where s.account_id = $1)
                            as history_bytes
                 from asset_owners o join assets a on a.id = o.asset_id where o.account_id = $1",
            )
            .bind(account)
            .fetch_one(c)
            .await?)
        })
        .await
    }

    /// Accounts, for what is done one after the other.
    pub async fn account_ids(&self) -> Result<Vec<Uuid>, StoreError> {
        self.ask(async |c| Ok(sqlx::query_scalar("select id from accounts order by id").fetch_all(c).await?)).await
    }

    /// Forgets what a session keeps of its past beyond a number of bytes, the oldest first, and counts what is left.
    ///
    /// * `bytes` – of steps; of changes that others can follow, a quarter of it. The newest of both stays.
    pub async fn forget_past(&self, account: Uuid, bytes: i64) -> Result<(), StoreError> {
        self.move_bytes(async |c| {
            let mut tx = c.begin().await?;
            sqlx::query(
                "with summed as (
                     select e.session_id, e.position, e.bytes,
                            sum(e.bytes) over (partition by e.session_id order by e.position desc) - e.bytes as before
                     from edits e join sessions s on s.id = e.session_id where s.account_id = $1 and s.history_bytes > $2 / 4
                 )
                 delete from edits e using summed
                 where e.session_id = summed.session_id and e.position = summed.position and summed.before >= $2",
            )
            .bind(account)
            .bind(bytes)
            .execute(&mut *tx)
            .await?;
            sqlx::query(
                "with summed as (
                     select c.session_id, c.revision, c.bytes,
                            sum(c.bytes) over (partition by c.session_id order by c.revision desc) - c.bytes as before
                     from changes c join sessions s on s.id = c.session_id
                     where s.account_id = $1 and s.history_bytes > $2 / 4 and c.patch is not null
                 )
                 update changes c set patch = null, made = null, bytes = 0 from summed
                 where c.session_id = summed.session_id and c.revision = summed.revision and summed.before >= $2 / 4",
            )
            .bind(account)
            .bind(bytes)
            .execute(&mut *tx)
            .await?;
            sqlx::query(
                "update sessions s set history_bytes = held.bytes from (
                     select s.id, coalesce((select sum(e.bytes) from edits e where e.session_id = s.id), 0)
                         + coalesce((select sum(c.bytes) from changes c where c.session_id = s.id), 0) as bytes
                     from sessions s where s.account_id = $1 and s.history_bytes > $2 / 4
                 ) held where s.id = held.id and s.history_bytes <> held.bytes",
            )
            .bind(account)
            .bind(bytes)
            .execute(&mut *tx)
            .await?;
            Ok(tx.commit().await?)
        })
        .await
    }

    /// Takes away what an account's audio is not needed for by any of its sessions, their undo and redo, templates,
    /// library, or renders that are not done, and that was not touched for some time; then the audio that nobody
    /// holds. Nothing is taken while something is being brought in.
    pub async fn sweep(&self, account: Uuid, grace: Duration) -> Result<Swept, StoreError> {
        self.move_bytes(async |c| {
            let mut tx = c.begin().await?;
            let alone: bool =
                sqlx::query_scalar("select pg_try_advisory_xact_lock($1)").bind(SWEEP).fetch_one(&mut *tx).await?;
            if !alone {
                return Ok(Swept { disowned: 0, removed: 0 });
            }
            let disowned = sqlx::query(
                "with used as (
                     select p.key as id from pieces p join sessions s on s.id = p.session_id
                         where s.account_id = $1 and p.kind = 'assets'
                     union select unnest(e.audio) from edits e join sessions s on s.id = e.session_id where s.account_id = $1
                     union select unnest(audio) from templates where account_id = $1
                     union select unnest(audio) from renders
                         where account_id = $1 and state in ('queued', 'running')
                     union select asset_id from library_sounds where account_id = $1
                     union select unnest(n.assets)
                         from snapshots n join sessions s on s.id = n.session_id where s.account_id = $1
                 )
                 delete from asset_owners o where o.account_id = $1
                     and o.touched_at < now() - make_interval(secs => $2)
                     and not exists (select from used where used.id = o.asset_id)",
            )
            .bind(account)
            .bind(grace.as_secs_f64())
            .execute(&mut *tx)
            .await?
            .rows_affected();
            let removed = sqlx::query(
                "delete from assets a where not exists (select from asset_owners o where o.asset_id = a.id)",
            )
            .execute(&mut *tx)
            .await?
            .rows_affected();
            tx.commit().await?;
            Ok(Swept { disowned, removed })
        })
        .await
    }
}
