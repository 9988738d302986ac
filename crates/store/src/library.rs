//! The samples of an account, to be found again.

use crate::{Store, StoreError, found};
use lane_document::session::{AssetRef, Family};
use lane_units::{AssetId, FileName, Name};
use sqlx::Row;
use sqlx::postgres::PgRow;
use uuid::Uuid;

/// Rows given at a time.
const MOST: i64 = 500;

/// A sample with what people look for.
#[derive(Debug, Clone, PartialEq)]
pub struct LibrarySound {
    pub asset: AssetRef,
    pub name: Name,
    pub family: Family,
    pub peak_dbfs: f64,
    /// None where it has no clear pitch.
    pub pitch_hz: Option<f64>,
}

const SOUNDS: &str = "select l.name, l.family, l.peak_dbfs, l.pitch_hz, a.id, a.channels, a.sample_rate, a.frames,
            o.name as file_name
     from library_sounds l
     join assets a on a.id = l.asset_id
     join asset_owners o on (o.account_id, o.asset_id) = (l.account_id, l.asset_id)
     where l.account_id = $1";

fn sound(row: &PgRow) -> Result<LibrarySound, StoreError> {
    let family: String = row.try_get("family")?;
    Ok(LibrarySound {
        asset: AssetRef {
            id: AssetId(row.try_get("id")?),
            name: FileName::cleaned(&row.try_get::<String, _>("file_name")?, ""),
            channels: row.try_get::<i16, _>("channels")? as u16,
            sample_rate: row.try_get::<i32, _>("sample_rate")? as u32,
            frames: row.try_get::<i32, _>("frames")? as u32,
        },
        name: Name::cleaned(&row.try_get::<String, _>("name")?, "Sample"),
        family: serde_json::from_value(family.into())?,
        peak_dbfs: row.try_get("peak_dbfs")?,
        pitch_hz: row.try_get("pitch_hz")?,
    })
}

fn family_text(family: Family) -> Result<String, StoreError> {
    Ok(serde_json::to_value(family)?.as_str().unwrap_or_default().to_owned())
}

impl Store {
    /// Keeps a sample that the account owns in its library, under its newest name.
    pub async fn keep_in_library(&self, account: Uuid, sound: &LibrarySound) -> Result<(), StoreError> {
        self.ask(async |c| {
            sqlx::query(
                "insert into library_sounds (account_id, asset_id, name, family, peak_dbfs, pitch_hz)
             values ($1, $2, $3, $4, $5, $6)
             on conflict (account_id, asset_id) do update set name = excluded.name, family = excluded.family",
            )
            .bind(account)
            .bind(&sound.asset.id.0)
            .bind(sound.name.as_str())
            .bind(family_text(sound.family)?)
            .bind(sound.peak_dbfs)
            .bind(sound.pitch_hz)
            .execute(&mut *c)
            .await?;
            Ok(())
        })
        .await
    }

    /// Samples whose name has all words of the search, of a family where one is given, by name.
    pub async fn library(
        &self,
        account: Uuid,
        search: &str,
        family: Option<Family>,
    ) -> Result<Vec<LibrarySound>, StoreError> {
        self.ask(async |c| {
            let words: Vec<String> = search.split_whitespace().map(str::to_lowercase).collect();
            let rows = sqlx::query(sqlx::AssertSqlSafe(format!(
                "{SOUNDS} and ($2::text is null or l.family = $2)
               and not exists (select from unnest($3::text[]) word where position(word in lower(l.name)) = 0)
             order by lower(l.name), l.asset_id limit $4"
            )))
            .bind(account)
            .bind(family.map(family_text).transpose()?)
            .bind(words)
            .bind(MOST)
            .fetch_all(&mut *c)
            .await?;
            rows.iter().map(sound).collect()
        })
        .await
    }

    /// One sample of the library.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such sample.
    pub async fn library_sound(&self, account: Uuid, id: &AssetId) -> Result<LibrarySound, StoreError> {
        self.ask(async |c| {
            let row = sqlx::query(sqlx::AssertSqlSafe(format!("{SOUNDS} and l.asset_id = $2")))
                .bind(account)
                .bind(&id.0)
                .fetch_optional(&mut *c)
                .await?;
            sound(&found(row, "the sample")?)
        })
        .await
    }

    /// Takes a sample out of the library; sessions that use it keep it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such sample.
    pub async fn drop_from_library(&self, account: Uuid, id: &AssetId) -> Result<(), StoreError> {
        self.ask(async |c| {
            let gone = sqlx::query("delete from library_sounds where account_id = $1 and asset_id = $2")
                .bind(account)
                .bind(&id.0)
                .execute(&mut *c)
                .await?;
            found((gone.rows_affected() == 1).then_some(()), "the sample")
        })
        .await
    }
}
