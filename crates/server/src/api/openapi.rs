//! Descriptions of the interface and of the document.

use super::{
    accounts, assets, bring_in, events, folders, health, library, listening, presets, renders, sessions, snapshots,
    templates,
};
use actix_web::{HttpResponse, Responder, get, web};
use lane_core::session::{
    Session,
    limits::{self, Limit},
};
use std::collections::BTreeMap;
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
        accounts::holdings,
        sessions::list,
        sessions::create,
        sessions::open,
        sessions::remove,
        sessions::edit,
        sessions::undo,
        sessions::redo,
        sessions::changes_after,
        sessions::known,
        snapshots::list,
        snapshots::take,
        snapshots::open,
        snapshots::change,
        snapshots::remove,
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
        renders::remove,
        renders::whole,
        renders::single,
        health::healthz,
        health::readyz,
        health::metrics
    )
)]
struct Api;

/// The methods that an address takes; none where there is nothing at it.
pub fn methods(path: &str) -> Vec<&'static str> {
    let parts: Vec<&str> = path.split('/').collect();
    let fits = |template: &str| {
        let wanted: Vec<&str> = template.split('/').collect();
        wanted.len() == parts.len() && wanted.iter().zip(&parts).all(|(w, p)| w == p || w.starts_with('{'))
    };
    let item = Api::openapi().paths.paths.into_iter().find(|(template, _)| fits(template)).map(|(_, item)| item);
    let Some(item) = item else { return Vec::new() };
    let known = [
        ("GET", item.get.is_some()),
        ("POST", item.post.is_some()),
        ("PUT", item.put.is_some()),
        ("DELETE", item.delete.is_some()),
    ];
    known.into_iter().filter(|(_, there)| *there).map(|(method, _)| method).collect()
}

/// The interface as OpenAPI.
#[get("/api/openapi.json")]
pub async fn interface() -> impl Responder {
    web::Json(Api::openapi())
}

/// The one table of bounds, by names as other languages write them.
pub fn limits() -> BTreeMap<String, Limit> {
    limits::table().into_iter().map(|(name, limit)| (name.to_lowercase(), limit)).collect()
}

/// The JSON Schema of the document.
pub fn schema() -> serde_json::Value {
    let mut schema = schemars::schema_for!(Session).to_value();
    if let Some(object) = schema.as_object_mut() {
        // Bounds that are of the whole document rather than of one value.
        object.insert("x-limits".into(), serde_json::json!(limits()));
    }
    schema
}

/// The document as JSON Schema.
#[get("/api/session.schema.json")]
pub async fn session_schema() -> HttpResponse {
    HttpResponse::Ok().content_type("application/schema+json").json(schema())
}
