//! Who is signed in: state by the hash of a cookie's key.

use crate::{Store, StoreError};
use sqlx::types::Json;
use std::collections::HashMap;
use std::time::Duration;

type State = HashMap<String, String>;

impl Store {
    pub async fn login(&self, key_hash: &str) -> Result<Option<State>, StoreError> {
        self.ask(async |c| {
            let row: Option<Json<State>> =
                sqlx::query_scalar("select state from logins where key_hash = $1 and expires_at > now()")
                    .bind(key_hash)
                    .fetch_optional(&mut *c)
                    .await?;
            Ok(row.map(|Json(state)| state))
        })
        .await
    }

    /// Keeps or replaces a login, and forgets those that have run out.
    pub async fn put_login(&self, key_hash: &str, state: &State, lasts: Duration) -> Result<(), StoreError> {
        self.ask(async |c| {
            sqlx::query("delete from logins where expires_at < now()").execute(&mut *c).await?;
            sqlx::query(
                "insert into logins (key_hash, state, expires_at) values ($1, $2, now() + make_interval(secs => $3))
             on conflict (key_hash) do update set state = excluded.state, expires_at = excluded.expires_at",
            )
            .bind(key_hash)
            .bind(Json(state))
            .bind(lasts.as_secs_f64())
            .execute(&mut *c)
            .await?;
            Ok(())
        })
        .await
    }

    pub async fn keep_login(&self, key_hash: &str, lasts: Duration) -> Result<(), StoreError> {
        self.ask(async |c| {
            sqlx::query("update logins set expires_at = now() + make_interval(secs => $2) where key_hash = $1")
                .bind(key_hash)
                .bind(lasts.as_secs_f64())
                .execute(&mut *c)
                .await?;
            Ok(())
        })
        .await
    }

    pub async fn remove_login(&self, key_hash: &str) -> Result<(), StoreError> {
        self.ask(async |c| {
            sqlx::query("delete from logins where key_hash = $1").bind(key_hash).execute(&mut *c).await?;
            Ok(())
        })
        .await
    }
}
