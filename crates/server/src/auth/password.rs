//! Passwords: argon2id (RFC 9106) on threads of their own.

use crate::problem::Problem;
use crate::work::Crew;
use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use std::collections::HashSet;

const MIN_CHARS: usize = 10;
const MAX_BYTES: usize = 1024;
/// Characters that differ, at least: "aaaaaaaaaa" and ten spaces are guessed first.
const MIN_DIFFERENT: usize = 5;
/// A hash that no password has, so that unknown addresses take as long as known ones.
const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$NyLvcGDXjVbHgCg7tVqHJ0p1nOjcKnTbbxhgdcV34Mk";

/// What is wrong with a new password, in a sentence.
pub fn password_fault(password: &str) -> Option<String> {
    let different: HashSet<char> = password.chars().filter(|c| !c.is_whitespace()).collect();
    match password.chars().count() {
        count if count < MIN_CHARS || password.len() > MAX_BYTES => {
            Some(format!("The password must have {MIN_CHARS} to {MAX_BYTES} characters."))
        }
        _ if different.len() < MIN_DIFFERENT => {
            Some(format!("The password must have {MIN_DIFFERENT} different characters at least, beside spaces."))
        }
        _ => None,
    }
}

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

#[cfg(test)]
mod tests {
    use super::password_fault;
    use rstest::rstest;

    #[rstest]
    #[case("long enough password", None)]
    #[case("copper-weather", None)]
    #[case("ключ от дома", None)]
    #[case("short", Some("10 to 1024"))]
    #[case("          ", Some("5 different"))]
    #[case("aaaaaaaaaaaa", Some("5 different"))]
    #[case("a b a b a b a b", Some("5 different"))]
    fn passwords_are_long_and_no_row_of_one_letter(#[case] password: &str, #[case] fault: Option<&str>) {
        let found = password_fault(password);
        assert_eq!(found.is_some(), fault.is_some(), "{found:?}");
        assert!(found.unwrap_or_default().contains(fault.unwrap_or_default()));
    }

    #[test]
    fn none_is_endless() {
        assert!(password_fault(&"abcdefgh".repeat(129)).is_some());
    }
}
