//! Errors as problem details (RFC 9457). What happened inside is logged, not shown.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpResponse, ResponseError};
use lane_files::FileError;
use lane_store::StoreError;
use serde::Serialize;
use std::fmt;
use utoipa::ToSchema;

/// What went wrong and what to do.
#[derive(Serialize, ToSchema)]
pub struct Problem {
    #[serde(rename = "type")]
    pub kind: &'static str,
    pub title: &'static str,
    #[schema(value_type = u16)]
    #[serde(serialize_with = "as_number")]
    pub status: StatusCode,
    pub detail: String,
    /// With 409 on an edit: the session as it stands.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<Object>)]
    pub revision: Option<i64>,
    /// Seconds after which it is worth trying again; also the `Retry-After` header.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub retry_after_s: Option<u32>,
}

/// The type of a problem with an edit that will never go through: it is wrong, not late.
pub const EDIT_REFUSED: &str = "edit-refused";

fn as_number<S: serde::Serializer>(status: &StatusCode, s: S) -> Result<S::Ok, S::Error> {
    s.serialize_u16(status.as_u16())
}

impl Problem {
    pub fn new(status: StatusCode, detail: impl Into<String>) -> Self {
        let title = status.canonical_reason().unwrap_or("Error");
        Problem { kind: "about:blank", title, status, detail: detail.into(), revision: None, retry_after_s: None }
    }

    pub fn bad_request(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::BAD_REQUEST, detail)
    }

    pub fn unprocessable(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::UNPROCESSABLE_ENTITY, detail)
    }

    pub fn not_found(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::NOT_FOUND, detail)
    }

    /// An edit that will never go through.
    pub fn edit_refused(reason: impl fmt::Display) -> Self {
        Problem { kind: EDIT_REFUSED, ..Self::unprocessable(format!("Not done: {reason}.")) }
    }

    /// The document is not what the author of a change saw.
    ///
    /// * `revision` – where it stands.
    pub fn stale(revision: i64) -> Self {
        let detail = "The session was changed meanwhile.";
        Problem { revision: Some(revision), ..Self::new(StatusCode::CONFLICT, detail) }
    }

    pub fn too_many(detail: impl Into<String>, retry_after_s: u32) -> Self {
        Problem { retry_after_s: Some(retry_after_s), ..Self::new(StatusCode::TOO_MANY_REQUESTS, detail) }
    }

    /// The database is away.
    pub fn away(error: impl fmt::Display) -> Self {
        tracing::warn!(%error, "database");
        let detail = "The database does not answer right now. Nothing is lost; try again in a moment.";
        Problem { retry_after_s: Some(1), ..Self::new(StatusCode::SERVICE_UNAVAILABLE, detail) }
    }

    pub fn signed_out() -> Self {
        Self::new(StatusCode::UNAUTHORIZED, "You are not signed in. Sign in and try again.")
    }

    /// A fault of ours: logged whole, shown in one sentence.
    pub fn internal(error: impl fmt::Display) -> Self {
        tracing::error!(%error, "request failed");
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "Something failed on our side; nothing was changed. Try again.")
    }
}

/// As it stands in logs: without the session that it may carry.
impl fmt::Debug for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let detail: String = self.detail.chars().take(300).collect();
        write!(f, "{} {}: {detail}", self.status.as_u16(), self.kind)
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.detail)
    }
}

impl ResponseError for Problem {
    fn status_code(&self) -> StatusCode {
        self.status
    }

    fn error_response(&self) -> HttpResponse {
        let mut answer = HttpResponse::build(self.status);
        if let Some(seconds) = self.retry_after_s {
            answer.insert_header((header::RETRY_AFTER, seconds.to_string()));
        }
        answer.content_type("application/problem+json").json(self)
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound { what } => {
                Self::new(StatusCode::NOT_FOUND, format!("{what} is not there, or belongs to somebody else."))
            }
            StoreError::Exists { .. } | StoreError::NothingTo(_) => {
                Self::new(StatusCode::CONFLICT, format!("{error}."))
            }
            StoreError::Stale => Self::new(StatusCode::CONFLICT, "The session was changed meanwhile. Try again."),
            StoreError::TooManyRenders { waiting } => Self::too_many(
                format!("{waiting} of your renders wait or run already. Wait for one of them, or cancel one."),
                30,
            ),
            StoreError::TooMany { .. } => Self::unprocessable(format!("Not kept: {error}.")),
            StoreError::Edit(error) => Self::edit_refused(error),
            full if full.is_full() => {
                tracing::error!(error = %full, "the database has no room for more");
                let detail = "The server has no room for more right now; nothing was changed. Try again later.";
                Self::new(StatusCode::INSUFFICIENT_STORAGE, detail)
            }
            away if away.is_outage() => Self::away(away),
            other => Self::internal(other),
        }
    }
}

impl From<FileError> for Problem {
    fn from(error: FileError) -> Self {
        match error {
            FileError::Io(error) => Self::internal(error),
            refused => Self::unprocessable(format!("{refused}.")),
        }
    }
}

impl From<actix_web::error::BlockingError> for Problem {
    fn from(error: actix_web::error::BlockingError) -> Self {
        Self::internal(error)
    }
}
