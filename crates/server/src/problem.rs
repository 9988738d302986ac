//! Errors as problem details (RFC 9457). What happened inside is logged, not shown.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, ResponseError};
use lane_files::FileError;
use lane_store::StoreError;
use serde::Serialize;
use std::fmt;
use utoipa::ToSchema;

/// What went wrong and what to do.
#[derive(Debug, Serialize, ToSchema)]
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
    pub current: Option<Box<serde_json::Value>>,
}

fn as_number<S: serde::Serializer>(status: &StatusCode, s: S) -> Result<S::Ok, S::Error> {
    s.serialize_u16(status.as_u16())
}

impl Problem {
    pub fn new(status: StatusCode, detail: impl Into<String>) -> Self {
        let title = status.canonical_reason().unwrap_or("Error");
        Problem { kind: "about:blank", title, status, detail: detail.into(), current: None }
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

    pub fn signed_out() -> Self {
        Self::new(StatusCode::UNAUTHORIZED, "You are not signed in. Sign in and try again.")
    }

    /// A fault of ours: logged whole, shown in one sentence.
    pub fn internal(error: impl fmt::Display) -> Self {
        tracing::error!(%error, "request failed");
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "Something failed on our side; nothing was changed. Try again.")
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
        HttpResponse::build(self.status).content_type("application/problem+json").json(self)
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
            StoreError::Stale { ref current } => {
                let detail = "The session was changed meanwhile; here it is as it stands.";
                let current = serde_json::to_value(crate::api::types::OpenSession::from(current.as_ref().clone())).ok();
                Problem { current: current.map(Box::new), ..Self::new(StatusCode::CONFLICT, detail) }
            }
            StoreError::Edit(error) => Self::unprocessable(format!("Not done: {error}.")),
            StoreError::Database(error) => {
                tracing::error!(%error, "database");
                let detail = "The database did not answer; nothing was changed. Try again in a moment.";
                Self::new(StatusCode::SERVICE_UNAVAILABLE, detail)
            }
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
