//! Presets of an account: processors and chains.

use crate::documents::read;
use crate::row::row;
use crate::{Store, StoreError, found, kept};
use lane_document::json::ToJson;
use lane_document::session::Processor;
use lane_units::Name;
use uuid::Uuid;

/// A preset as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct Preset {
    pub id: Uuid,
    pub name: Name,
    /// One processor, or a chain.
    pub processors: Vec<Processor>,
}

/// Presets of one account.
const PRESETS: i64 = 5000;

struct Row {
    id: Uuid,
    name: String,
    processors: String,
}
row!(Row { id, name, processors });

impl Row {
    fn preset(self) -> Result<Preset, StoreError> {
        Ok(Preset { id: self.id, name: Name::cleaned(&self.name, "Preset"), processors: read(&self.processors)?.0 })
    }
}

impl Store {
    /// Presets of the account by name.
    pub async fn presets(&self, account: Uuid) -> Result<Vec<Preset>, StoreError> {
        self.ask(async |c| {
        let rows: Vec<Row> =
            sqlx::query_as("select id, name, processors::text as processors from presets where account_id = $1 order by lower(name), id")
                .bind(account)
                .fetch_all(&mut *c)
                .await?;
        rows.into_iter().map(Row::preset).collect()
        })
        .await
    }

    /// Keeps a new preset.
    ///
    /// # Errors
    /// [`StoreError::TooMany`] where the account has so many already.
    pub async fn add_preset(&self, account: Uuid, name: &Name, processors: &[Processor]) -> Result<Uuid, StoreError> {
        let json = processors.to_json_text()?;
        self.ask(async |c| {
            let id = Uuid::new_v4();
            let made = sqlx::query(
                "insert into presets (id, account_id, name, processors)
                 select $1, $2, $3, $4::json where (select count(*) from presets where account_id = $2) < $5",
            )
            .bind(id)
            .bind(account)
            .bind(name.as_str())
            .bind(&json)
            .bind(PRESETS)
            .execute(&mut *c)
            .await?;
            kept(made.rows_affected(), "presets", PRESETS)?;
            Ok(id)
        })
        .await
    }

    /// Changes name and, where they are given, processors.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such preset.
    pub async fn set_preset(
        &self,
        account: Uuid,
        id: Uuid,
        name: &Name,
        processors: Option<&[Processor]>,
    ) -> Result<(), StoreError> {
        let json = processors.map(ToJson::to_json_text).transpose()?;
        self.ask(async |c| {
            let set = sqlx::query(
                "update presets set name = $3, processors = coalesce($4::json, processors), updated_at = now()
             where id = $2 and account_id = $1",
            )
            .bind(account)
            .bind(id)
            .bind(name.as_str())
            .bind(&json)
            .execute(&mut *c)
            .await?;
            found((set.rows_affected() == 1).then_some(()), "the preset")
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such preset.
    pub async fn remove_preset(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        self.ask(async |c| {
            let gone = sqlx::query("delete from presets where id = $2 and account_id = $1")
                .bind(account)
                .bind(id)
                .execute(&mut *c)
                .await?;
            found((gone.rows_affected() == 1).then_some(()), "the preset")
        })
        .await
    }
}
