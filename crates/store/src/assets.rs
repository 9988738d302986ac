//! Audio by the address of its contents.

use crate::{CHUNK_BYTES, Store, StoreError, found};
use lane_core::session::AssetRef;
use lane_core::units::AssetId;
use std::io::Read;
use uuid::Uuid;

impl Store {
    /// Keeps audio for an account; contents that are there already are not written again.
    ///
    /// * `pcm` – little-endian 32-bit samples, read in pieces of [`CHUNK_BYTES`].
    ///
    /// # Errors
    /// [`StoreError::Database`]; nothing is kept then.
    pub async fn put_asset(&self, account: Uuid, asset: &AssetRef, pcm: impl Read + Send) -> Result<(), StoreError> {
        let mut tx = self.pool.begin().await?;
        let added = sqlx::query(
            "insert into assets (id, channels, sample_rate, frames) values ($1, $2, $3, $4) on conflict do nothing",
        )
        .bind(&asset.id.0)
        .bind(asset.channels as i16)
        .bind(asset.sample_rate as i32)
        .bind(asset.frames as i32)
        .execute(&mut *tx)
        .await?;
        if added.rows_affected() == 1 {
            let mut pcm = pcm;
            for position in 0.. {
                let mut chunk = Vec::with_capacity(CHUNK_BYTES);
                (&mut pcm).take(CHUNK_BYTES as u64).read_to_end(&mut chunk).map_err(sqlx::Error::from)?;
                if chunk.is_empty() {
                    break;
                }
                sqlx::query("insert into asset_chunks (asset_id, position, data) values ($1, $2, $3)")
                    .bind(&asset.id.0)
                    .bind(position)
                    .bind(chunk)
                    .execute(&mut *tx)
                    .await?;
            }
        }
        sqlx::query("insert into asset_owners (account_id, asset_id, name) values ($1, $2, $3) on conflict do nothing")
            .bind(account)
            .bind(&asset.id.0)
            .bind(&asset.name)
            .execute(&mut *tx)
            .await?;
        tx.commit().await?;
        Ok(())
    }

    /// Which of some assets an account does not have.
    pub async fn missing_assets(&self, account: Uuid, ids: &[AssetId]) -> Result<Vec<AssetId>, StoreError> {
        let wanted: Vec<&str> = ids.iter().map(|id| id.0.as_str()).collect();
        let rows: Vec<String> = sqlx::query_scalar(
            "select wanted from unnest($2::text[]) wanted
             where not exists (select from asset_owners where account_id = $1 and asset_id = wanted)",
        )
        .bind(account)
        .bind(wanted)
        .fetch_all(&self.pool)
        .await?;
        Ok(rows.into_iter().map(AssetId).collect())
    }

    /// Pieces of an asset, if it belongs to the account.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it does not.
    pub async fn asset_chunks(&self, account: Uuid, id: &AssetId) -> Result<i64, StoreError> {
        let chunks = sqlx::query_scalar(
            "select count(*) from asset_owners o join asset_chunks c using (asset_id)
             where o.account_id = $1 and o.asset_id = $2 having count(*) > 0",
        )
        .bind(account)
        .bind(&id.0)
        .fetch_optional(&self.pool)
        .await?;
        found(chunks, "the audio")
    }

    /// One piece of an asset that [`Store::asset_chunks`] allowed.
    pub async fn asset_chunk(&self, id: &AssetId, position: i64) -> Result<Vec<u8>, StoreError> {
        let data = sqlx::query_scalar("select data from asset_chunks where asset_id = $1 and position = $2")
            .bind(&id.0)
            .bind(position as i32)
            .fetch_optional(&self.pool)
            .await?;
        found(data, "the audio")
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
