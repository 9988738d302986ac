//! Passwords: argon2id (RFC 9106) on threads of their own.

use crate::problem::Problem;
use crate::work::Crew;
use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};

pub const MIN_PASSWORD_CHARS: usize = 10;
/// A hash that no password has, so that unknown addresses take as long as known ones.
const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$NyLvcGDXjVbHgCg7tVqHJ0p1nOjcKnTbbxhgdcV34Mk";

/// The hash to keep of a password.
pub async fn hash(crew: &Crew, password: String) -> Result<String, Problem> {
    crew.run(move || Argon2::default().hash_password(password.as_bytes()).map(|h| h.to_string()))
        .await?
        .map_err(Problem::internal)
}

/// Whether a password fits a kept hash; without one it never does, and takes as long.
pub async fn verify(crew: &Crew, password: String, kept: Option<String>) -> Result<bool, Problem> {
    let fits = crew.run(move || {
        let text = kept.as_deref().unwrap_or(NOBODY);
        let right = PasswordHash::new(text)
            .is_ok_and(|hash| Argon2::default().verify_password(password.as_bytes(), &hash).is_ok());
        right && kept.is_some()
    });
    fits.await
}
