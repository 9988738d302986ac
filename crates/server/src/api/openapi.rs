//! Descriptions of the interface and of the document.

use super::{
    accounts, assets, bring_in, events, folders, health, library, listening, presets, renders, sessions, templates,
};
use actix_web::{HttpResponse, Responder, get, web};
use lane_core::session::Session;
use utoipa::OpenApi;

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Zealous Lane",
        description = "Sessions, edits, audio and stems. Errors are problem details (RFC 9457)."
    ),
    paths(
        accounts::sign_up,
        accounts::sign_in,
        accounts::sign_out,
        accounts::me,
        accounts::demo_account,
        sessions::list,
        sessions::create,
        sessions::open,
        sessions::remove,
        sessions::edit,
        sessions::undo,
        sessions::redo,
        events::events,
        bring_in::bring_in,
        bring_in::take_sounds,
        library::search,
        library::house,
        library::remove,
        library::use_sound,
        listening::tuning,
        listening::loop_cuts,
        listening::midi,
        presets::list,
        presets::create,
        presets::change,
        presets::remove,
        templates::list,
        templates::open,
        templates::create,
        templates::change,
        templates::remove,
        templates::start,
        templates::export,
        templates::import,
        folders::export,
        folders::import,
        assets::pcm,
        renders::start,
        renders::list,
        renders::one,
        renders::cancel,
        renders::whole,
        renders::single,
        health::healthz,
        health::readyz,
        health::metrics
    )
)]
struct Api;

/// The interface as OpenAPI.
#[get("/api/openapi.json")]
pub async fn interface() -> impl Responder {
    web::Json(Api::openapi())
}

/// The JSON Schema of the document.
pub fn schema() -> serde_json::Value {
    schemars::schema_for!(Session).to_value()
}

/// The document as JSON Schema.
#[get("/api/session.schema.json")]
pub async fn session_schema() -> HttpResponse {
    HttpResponse::Ok().content_type("application/schema+json").json(schema())
}
