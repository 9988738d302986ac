//! Accounts.

use crate::row::row;
use crate::{Store, StoreError};
use uuid::Uuid;

/// Somebody who works here.
#[derive(Debug, Clone)]
pub struct Account {
    pub id: Uuid,
    /// Lower case.
    pub email: String,
    pub password_hash: String,
}
row!(Account { id, email, password_hash });

impl Store {
    /// # Errors
    /// [`StoreError::Exists`] where the address is taken.
    pub async fn add_account(&self, email: &str, password_hash: &str) -> Result<Account, StoreError> {
        self.ask(async |c| {
            let account =
                Account { id: Uuid::new_v4(), email: email.trim().to_lowercase(), password_hash: password_hash.into() };
            let added = sqlx::query(
                "insert into accounts (id, email, password_hash) values ($1, $2, $3) on conflict do nothing",
            )
            .bind(account.id)
            .bind(&account.email)
            .bind(&account.password_hash)
            .execute(&mut *c)
            .await?;
            if added.rows_affected() == 1 {
                Ok(account)
            } else {
                Err(StoreError::Exists { what: "an account with this e-mail address" })
            }
        })
        .await
    }

    pub async fn account_by_email(&self, email: &str) -> Result<Option<Account>, StoreError> {
        self.ask(async |c| {
            let row = sqlx::query_as("select id, email, password_hash from accounts where email = $1")
                .bind(email.trim().to_lowercase())
                .fetch_optional(&mut *c)
                .await?;
            Ok(row)
        })
        .await
    }

    pub async fn account(&self, id: Uuid) -> Result<Option<Account>, StoreError> {
        self.ask(async |c| {
            let row = sqlx::query_as("select id, email, password_hash from accounts where id = $1")
                .bind(id)
                .fetch_optional(&mut *c)
                .await?;
            Ok(row)
        })
        .await
    }
}
