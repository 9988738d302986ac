//! Templates of an account.

use crate::{Store, StoreError, found};
use lane_core::session::Session;
use sqlx::types::Json;
use time::OffsetDateTime;
use uuid::Uuid;

/// A template as it is kept.
#[derive(Debug, Clone)]
pub struct Template {
    pub id: Uuid,
    pub name: String,
    pub purpose: String,
    pub document: Session,
    pub updated_at: OffsetDateTime,
}

#[derive(sqlx::FromRow)]
struct Row {
    id: Uuid,
    name: String,
    purpose: String,
    document: Json<Session>,
    updated_at: OffsetDateTime,
}

impl From<Row> for Template {
    fn from(row: Row) -> Self {
        let Row { id, name, purpose, document, updated_at } = row;
        Template { id, name, purpose, document: document.0, updated_at }
    }
}

const COLUMNS: &str = "select id, name, purpose, document, updated_at from templates where account_id = $1";

impl Store {
    /// Templates of the account by name.
    pub async fn templates(&self, account: Uuid) -> Result<Vec<Template>, StoreError> {
        let sql = format!("{COLUMNS} order by lower(name), id");
        let rows: Vec<Row> = sqlx::query_as(sqlx::AssertSqlSafe(sql)).bind(account).fetch_all(&self.pool).await?;
        Ok(rows.into_iter().map(Into::into).collect())
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such template.
    pub async fn template(&self, account: Uuid, id: Uuid) -> Result<Template, StoreError> {
        let row: Option<Row> = sqlx::query_as(sqlx::AssertSqlSafe(format!("{COLUMNS} and id = $2")))
            .bind(account)
            .bind(id)
            .fetch_optional(&self.pool)
            .await?;
        Ok(found(row, "the template")?.into())
    }

    /// Keeps a new template. Its audio must belong to the account.
    pub async fn add_template(
        &self,
        account: Uuid,
        name: &str,
        purpose: &str,
        document: &Session,
    ) -> Result<Uuid, StoreError> {
        let id = Uuid::new_v4();
        sqlx::query("insert into templates (id, account_id, name, purpose, document) values ($1, $2, $3, $4, $5)")
            .bind(id)
            .bind(account)
            .bind(name)
            .bind(purpose)
            .bind(Json(document))
            .execute(&self.pool)
            .await?;
        Ok(id)
    }

    /// Changes name and purpose, and what it holds where a document is given.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such template.
    pub async fn set_template(
        &self,
        account: Uuid,
        id: Uuid,
        name: &str,
        purpose: &str,
        document: Option<&Session>,
    ) -> Result<(), StoreError> {
        let set = sqlx::query(
            "update templates set name = $3, purpose = $4, document = coalesce($5::json, document), updated_at = now()
             where id = $2 and account_id = $1",
        )
        .bind(account)
        .bind(id)
        .bind(name)
        .bind(purpose)
        .bind(document.map(Json))
        .execute(&self.pool)
        .await?;
        found((set.rows_affected() == 1).then_some(()), "the template")
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such template.
    pub async fn remove_template(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        let gone = sqlx::query("delete from templates where id = $2 and account_id = $1")
            .bind(account)
            .bind(id)
            .execute(&self.pool)
            .await?;
        found((gone.rows_affected() == 1).then_some(()), "the template")
    }
}
