//! Presets of an account: processors and chains.

use crate::{Store, StoreError, found};
use lane_core::session::Processor;
use sqlx::types::Json;
use uuid::Uuid;

/// A preset as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct Preset {
    pub id: Uuid,
    pub name: String,
    /// One processor, or a chain.
    pub processors: Vec<Processor>,
}

#[derive(sqlx::FromRow)]
struct Row {
    id: Uuid,
    name: String,
    processors: Json<Vec<Processor>>,
}

impl Store {
    /// Presets of the account by name.
    pub async fn presets(&self, account: Uuid) -> Result<Vec<Preset>, StoreError> {
        let rows: Vec<Row> =
            sqlx::query_as("select id, name, processors from presets where account_id = $1 order by lower(name), id")
                .bind(account)
                .fetch_all(&self.pool)
                .await?;
        Ok(rows.into_iter().map(|r| Preset { id: r.id, name: r.name, processors: r.processors.0 }).collect())
    }

    /// Keeps a new preset.
    pub async fn add_preset(&self, account: Uuid, name: &str, processors: &[Processor]) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        sqlx::query("insert into presets (id, account_id, name, processors) values ($1, $2, $3, $4)")
            .bind(id)
            .bind(account)
            .bind(name)
            .bind(Json(processors))
            .execute(&self.pool)
            .await?;
        Ok(id)
    }

    /// Changes name and, where they are given, processors.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such preset.
    pub async fn set_preset(
        &self,
        account: Uuid,
        id: Uuid,
        name: &str,
        processors: Option<&[Processor]>,
    ) -> Result<(), StoreError> {
        let set = sqlx::query(
            "update presets set name = $3, processors = coalesce($4::json, processors), updated_at = now()
             where id = $2 and account_id = $1",
        )
        .bind(account)
        .bind(id)
        .bind(name)
        .bind(processors.map(Json))
        .execute(&self.pool)
        .await?;
        found((set.rows_affected() == 1).then_some(()), "the preset")
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such preset.
    pub async fn remove_preset(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        let gone = sqlx::query("delete from presets where id = $2 and account_id = $1")
            .bind(account)
            .bind(id)
            .execute(&self.pool)
            .await?;
        found((gone.rows_affected() == 1).then_some(()), "the preset")
    }
}
