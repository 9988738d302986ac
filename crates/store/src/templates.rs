//! Templates of an account.

use crate::documents::read_session;
use crate::row::row;
use crate::{Store, StoreError, found, kept};
use lane_document::json::ToJson;
use lane_document::session::Session;
use lane_units::{Name, Purpose};
use time::OffsetDateTime;
use uuid::Uuid;

/// Templates of one account.
const TEMPLATES: i64 = 1000;

/// A template as it is kept.
#[derive(Debug, Clone)]
pub struct Template {
    pub id: Uuid,
    pub name: Name,
    pub purpose: Purpose,
    pub document: Session,
    pub updated_at: OffsetDateTime,
}

#[derive(Debug)]
struct Row {
    id: Uuid,
    name: String,
    purpose: String,
    document: String,
    updated_at: OffsetDateTime,
}
row!(Row { id, name, purpose, document, updated_at });

impl StoredTemplate {
    /// Reads its document, which takes a while.
    ///
    /// # Errors
    /// [`StoreError::Document`] where it is none.
    pub fn read(self) -> Result<Template, StoreError> {
        let Row { id, name, purpose, document, updated_at } = self.0;
        let document = read_session(&document)?.0;
        let (name, purpose) = (Name::cleaned(&name, "Template"), Purpose::cleaned(&purpose, ""));
        Ok(Template { id, name, purpose, document, updated_at })
    }
}

/// A template whose document is not read yet.
#[derive(Debug)]
pub struct StoredTemplate(Row);

const COLUMNS: &str =
    "select id, name, purpose, document::text as document, updated_at from templates where account_id = $1";

/// The audio that a document needs.
fn audio_of(document: &Session) -> Vec<String> {
    document.assets.iter().map(|asset| asset.id.0.clone()).collect()
}

impl Store {
    /// Templates of the account by name.
    pub async fn templates(&self, account: Uuid) -> Result<Vec<StoredTemplate>, StoreError> {
        self.ask(async |c| {
            let sql = format!("{COLUMNS} order by lower(name), id");
            let rows: Vec<Row> = sqlx::query_as(sqlx::AssertSqlSafe(sql)).bind(account).fetch_all(&mut *c).await?;
            Ok(rows.into_iter().map(StoredTemplate).collect())
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such template.
    pub async fn template(&self, account: Uuid, id: Uuid) -> Result<StoredTemplate, StoreError> {
        self.ask(async |c| {
            let row: Option<Row> = sqlx::query_as(sqlx::AssertSqlSafe(format!("{COLUMNS} and id = $2")))
                .bind(account)
                .bind(id)
                .fetch_optional(&mut *c)
                .await?;
            Ok(StoredTemplate(found(row, "the template")?))
        })
        .await
    }

    /// Keeps a new template. Its audio must belong to the account.
    pub async fn add_template(
        &self,
        account: Uuid,
        name: &Name,
        purpose: &Purpose,
        document: &Session,
    ) -> Result<Uuid, StoreError> {
        let json = document.to_json_text()?;
        let audio = audio_of(document);
        self.ask_for(json.len(), async |c| {
            let id = Uuid::new_v4();
            let made = sqlx::query(
                "insert into templates (id, account_id, name, purpose, document, audio)
                 select $1, $2, $3, $4, $5::json, $6 where (select count(*) from templates where account_id = $2) < $7",
            )
            .bind(id)
            .bind(account)
            .bind(name.as_str())
            .bind(purpose.as_str())
            .bind(&json)
            .bind(&audio)
            .bind(TEMPLATES)
            .execute(&mut *c)
            .await?;
            kept(made.rows_affected(), "templates", TEMPLATES)?;
            Ok(id)
        })
        .await
    }

    /// Changes name and purpose, and what it holds where a document is given.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such template.
    pub async fn set_template(
        &self,
        account: Uuid,
        id: Uuid,
        name: &Name,
        purpose: &Purpose,
        document: Option<&Session>,
    ) -> Result<(), StoreError> {
        let json = document.map(ToJson::to_json_text).transpose()?;
        let audio = document.map(audio_of);
        self.ask(async |c| {
            let set = sqlx::query(
            "update templates set name = $3, purpose = $4, document = coalesce($5::json, document), audio = coalesce($6, audio), updated_at = now()
             where id = $2 and account_id = $1",
        )
        .bind(account)
        .bind(id)
        .bind(name.as_str())
        .bind(purpose.as_str())
        .bind(&json)
        .bind(&audio)
        .execute(&mut *c)
        .await?;
            found((set.rows_affected() == 1).then_some(()), "the template")
        })
        .await
    }

    /// # Errors
    /// [`StoreError::NotFound`] where the account has no such template.
    pub async fn remove_template(&self, account: Uuid, id: Uuid) -> Result<(), StoreError> {
        self.ask(async |c| {
            let gone = sqlx::query("delete from templates where id = $2 and account_id = $1")
                .bind(account)
                .bind(id)
                .execute(&mut *c)
                .await?;
            found((gone.rows_affected() == 1).then_some(()), "the template")
        })
        .await
    }
}
