//! Audio by the address of its contents.

use crate::holdings::SWEEP;
use crate::pulse::Pulse;
use crate::{CHUNK_BYTES, LONG_ANSWER, Store, StoreError, found};
use lane_document::session::AssetRef;
use lane_units::{AssetId, FileName};
use sqlx::{Connection, PgConnection};
use std::collections::HashMap;
use std::io::Read;
use uuid::Uuid;

/// Pieces that may wait for the database while the next is read.
const WAITING_PIECES: usize = 2;

impl Store {
    /// Keeps audio for an account; contents that are there already are not written again.
    ///
    /// * `pcm` – little-endian 32-bit samples, read in pieces of [`CHUNK_BYTES`] on a thread that may wait.
    ///
    /// # Errors
    /// [`StoreError::Database`], [`StoreError::Late`]; nothing is kept then.
    pub async fn put_asset(
        &self,
        account: Uuid,
        asset: &AssetRef,
        mut pcm: impl Read + Send + 'static,
    ) -> Result<(), StoreError> {
        let (to, mut pieces) = tokio::sync::mpsc::channel::<std::io::Result<Vec<u8>>>(WAITING_PIECES);
        let wanted = self.asset_is_new(&asset.id).await?;
        let reading = tokio::task::spawn_blocking(move || {
            while let Some(chunk) = if wanted { next_chunk(&mut pcm).transpose() } else { None } {
                let failed = chunk.is_err();
                if to.blocking_send(chunk).is_err() || failed {
                    return;
                }
            }
        });
        // One transaction, so that a piece of audio is there whole or not at all; each step has its own time.
        let mut connection = self.connection().await?;
        let kept = write_asset(&self.pulse, &mut connection, account, asset, &mut pieces).await;
        if kept.is_err() {
            drop(connection.detach());
        }
        drop(pieces);
        reading.await.map_err(|e| StoreError::Broken(e.to_string()))?;
        kept
    }

    async fn asset_is_new(&self, id: &AssetId) -> Result<bool, StoreError> {
        self.ask(async |c| {
            let there: Option<i32> =
                sqlx::query_scalar("select 1 from assets where id = $1").bind(&id.0).fetch_optional(c).await?;
            Ok(there.is_none())
        })
        .await
    }

    /// What is known of some pieces of audio of an account; those that it does not have are left out.
    pub async fn assets(&self, account: Uuid, ids: &[AssetId]) -> Result<HashMap<AssetId, AssetRef>, StoreError> {
        let wanted: Vec<&str> = ids.iter().map(|id| id.0.as_str()).collect();
        self.ask(async |c| {
            let rows: Vec<(String, String, i16, i32, i32)> = sqlx::query_as(
                "update asset_owners o set touched_at = now() from assets a
                 where o.account_id = $1 and o.asset_id = any($2) and a.id = o.asset_id
                 returning a.id, o.name, a.channels, a.sample_rate, a.frames",
            )
            .bind(account)
            .bind(wanted)
            .fetch_all(c)
            .await?;
            let asset = |(id, name, channels, rate, frames): (String, String, i16, i32, i32)| {
                let id = AssetId(id);
                let name = FileName::cleaned(&name, "");
                let (channels, sample_rate, frames) = (channels as u16, rate as u32, frames as u32);
                (id.clone(), AssetRef { id, name, channels, sample_rate, frames })
            };
            Ok(rows.into_iter().map(asset).collect())
        })
        .await
    }

    /// Whether an account holds audio of so many frames at a rate; files that are sent again are known by it before they are.
    pub async fn holds_as_long(&self, account: Uuid, frames: u32, sample_rate: u32) -> Result<bool, StoreError> {
        self.ask(async |c| {
            let there: Option<i32> = sqlx::query_scalar(
                "select 1 from asset_owners o join assets a on a.id = o.asset_id
                 where o.account_id = $1 and a.sample_rate = $2 and a.frames between $3 - 1 and $3 + 1 limit 1",
            )
            .bind(account)
            .bind(sample_rate as i32)
            .bind(frames as i32)
            .fetch_optional(c)
            .await?;
            Ok(there.is_some())
        })
        .await
    }

    /// Pieces of an asset, if it belongs to the account.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it does not.
    pub async fn asset_chunks(&self, account: Uuid, id: &AssetId) -> Result<i64, StoreError> {
        self.ask(async |c| {
            let chunks = sqlx::query_scalar(
                "select count(*) from asset_owners o join asset_chunks c using (asset_id)
                 where o.account_id = $1 and o.asset_id = $2 having count(*) > 0",
            )
            .bind(account)
            .bind(&id.0)
            .fetch_optional(c)
            .await?;
            found(chunks, "the audio")
        })
        .await
    }

    /// One piece of an asset that [`Store::asset_chunks`] allowed.
    pub async fn asset_chunk(&self, id: &AssetId, position: i64) -> Result<Vec<u8>, StoreError> {
        self.move_bytes(async |c| {
            let data = sqlx::query_scalar("select data from asset_chunks where asset_id = $1 and position = $2")
                .bind(&id.0)
                .bind(position as i32)
                .fetch_optional(c)
                .await?;
            found(data, "the audio")
        })
        .await
    }

    /// All bytes of an asset of an account.
    pub async fn asset_bytes(&self, account: Uuid, id: &AssetId) -> Result<Vec<u8>, StoreError> {
        let mut bytes = Vec::new();
        for position in 0..self.asset_chunks(account, id).await? {
            bytes.extend(self.asset_chunk(id, position).await?);
        }
        Ok(bytes)
    }
}

/// The next piece of a reader; none at its end.
fn next_chunk(pcm: &mut impl Read) -> std::io::Result<Option<Vec<u8>>> {
    let mut chunk = Vec::new();
    pcm.take(CHUNK_BYTES as u64).read_to_end(&mut chunk)?;
    Ok((!chunk.is_empty()).then_some(chunk))
}

/// Runs a step of a longer transaction, within the time of one step.
async fn step<T>(pulse: &Pulse, work: impl Future<Output = Result<T, sqlx::Error>>) -> Result<T, StoreError> {
    Ok(pulse.wait(LONG_ANSWER, work).await??)
}

async fn write_asset(
    pulse: &Pulse,
    c: &mut PgConnection,
    account: Uuid,
    asset: &AssetRef,
    pieces: &mut tokio::sync::mpsc::Receiver<std::io::Result<Vec<u8>>>,
) -> Result<(), StoreError> {
    let mut tx = step(pulse, c.begin()).await?;
    // What is brought in anew must not be swept away meanwhile.
    step(pulse, sqlx::query("select pg_advisory_xact_lock_shared($1)").bind(SWEEP).execute(&mut *tx)).await?;
    let added = sqlx::query(
        "insert into assets (id, channels, sample_rate, frames) values ($1, $2, $3, $4) on conflict do nothing",
    )
    .bind(&asset.id.0)
    .bind(asset.channels as i16)
    .bind(asset.sample_rate as i32)
    .bind(asset.frames as i32)
    .execute(&mut *tx);
    if step(pulse, added).await?.rows_affected() == 1 {
        let mut bytes = 0;
        for position in 0.. {
            let Some(piece) = pieces.recv().await else { break };
            let piece = piece.map_err(sqlx::Error::from)?;
            bytes += piece.len() as u64;
            let chunk = sqlx::query("insert into asset_chunks (asset_id, position, data) values ($1, $2, $3)")
                .bind(&asset.id.0)
                .bind(position)
                .bind(piece)
                .execute(&mut *tx);
            step(pulse, chunk).await?;
        }
        // It was there a moment ago, so that nobody read it for us; or its reader came to grief.
        if bytes != asset.bytes() {
            return Err(StoreError::Late);
        }
    }
    let owned = sqlx::query(
        "insert into asset_owners (account_id, asset_id, name) values ($1, $2, $3)
         on conflict (account_id, asset_id) do update set touched_at = now()",
    )
    .bind(account)
    .bind(&asset.id.0)
    .bind(asset.name.as_str())
    .execute(&mut *tx);
    step(pulse, owned).await?;
    step(pulse, tx.commit()).await
}
