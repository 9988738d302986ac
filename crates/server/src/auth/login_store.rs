//! Cookies' states in PostgreSQL. The database holds only a hash of each key.

use actix_session::storage::{LoadError, SaveError, SessionKey, SessionStore, UpdateError, generate_session_key};
use actix_web::cookie::time::Duration;
use lane_files::asset::hex;
use lane_store::Store;
use sha2::{Digest, Sha256};
use std::collections::HashMap;

type State = HashMap<String, String>;

/// Keeps logins in the store.
#[derive(Clone)]
pub struct LoginStore(pub Store);

fn key_hash(key: &SessionKey) -> String {
    hex(&Sha256::digest(key.as_ref().as_bytes()))
}

fn lasts(ttl: &Duration) -> std::time::Duration {
    std::time::Duration::from_secs(ttl.whole_seconds().max(0).unsigned_abs())
}

impl SessionStore for LoginStore {
    async fn load(&self, key: &SessionKey) -> Result<Option<State>, LoadError> {
        self.0.login(&key_hash(key)).await.map_err(|e| LoadError::Other(e.into()))
    }

    async fn save(&self, state: State, ttl: &Duration) -> Result<SessionKey, SaveError> {
        let key = generate_session_key();
        self.0.put_login(&key_hash(&key), &state, lasts(ttl)).await.map_err(|e| SaveError::Other(e.into()))?;
        Ok(key)
    }

    async fn update(&self, key: SessionKey, state: State, ttl: &Duration) -> Result<SessionKey, UpdateError> {
        self.0.put_login(&key_hash(&key), &state, lasts(ttl)).await.map_err(|e| UpdateError::Other(e.into()))?;
        Ok(key)
    }

    async fn update_ttl(&self, key: &SessionKey, ttl: &Duration) -> Result<(), anyhow::Error> {
        Ok(self.0.keep_login(&key_hash(key), lasts(ttl)).await?)
    }

    async fn delete(&self, key: &SessionKey) -> Result<(), anyhow::Error> {
        Ok(self.0.remove_login(&key_hash(key)).await?)
    }
}
