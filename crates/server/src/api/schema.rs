//! The published description of the document.

use actix_web::{HttpResponse, get};

/// The document as JSON Schema.
#[utoipa::path(get, path = "/api/session.schema.json", responses((status = 200, content_type = "application/schema+json")))]
#[get("/api/session.schema.json")]
pub async fn session_schema() -> HttpResponse {
    const PUBLISHED: &str = include_str!("../../../../docs/session.schema.json");
    HttpResponse::Ok().content_type("application/schema+json").body(PUBLISHED)
}
