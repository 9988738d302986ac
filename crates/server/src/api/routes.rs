//! Every address, once: who answers at it and how it is described follow from this list.

use super::{
    accounts, assets, bring_in, events, faults, folders, health, library, presets, renders, schema, sessions,
    snapshots, templates,
};
use crate::problem::Problem;
use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, ResponseError, get, web};
use std::sync::LazyLock;
use utoipa::OpenApi;

macro_rules! routes {
    ($($room:ident: $($answer:ident),+;)+) => {
        /// Answers at every address under `/api`, and says where there is nothing.
        pub fn services(config: &mut web::ServiceConfig) {
            config$($(.service($room::$answer))+)+.service(interface).route("/api/{rest:.*}", web::to(unknown));
        }

        #[derive(OpenApi)]
        #[openapi(
            info(
                title = "Zealous Lane",
                description = "Sessions, edits, audio and stems. Errors are problem details (RFC 9457)."
            ),
            paths($($($room::$answer),+),+, interface)
        )]
        struct Api;
    };
}

routes! {
    accounts: sign_up, sign_in, sign_out, me, demo_account, holdings;
    sessions: list, create, open, remove, edit, undo, redo, changes_after, step, known;
    events: events;
    bring_in: bring_in, room, take_sounds;
    library: search, house, remove, use_sound;
    snapshots: list, take, open, change, remove;
    presets: list, create, change, remove;
    templates: list, open, create, change, remove, start, export, import;
    folders: export, import, midi;
    assets: pcm;
    renders: start, list, one, cancel, remove, whole, single;
    faults: told;
    health: healthz, readyz;
    schema: session_schema;
}

static DESCRIPTION: LazyLock<utoipa::openapi::OpenApi> = LazyLock::new(Api::openapi);

/// The interface as OpenAPI.
#[utoipa::path(get, path = "/api/openapi.json", responses((status = 200)))]
#[get("/api/openapi.json")]
pub async fn interface() -> web::Json<&'static utoipa::openapi::OpenApi> {
    web::Json(&DESCRIPTION)
}

/// Any address under `/api` that is none of ours, or one of ours asked for in a way that it does not know.
async fn unknown(request: HttpRequest) -> Result<HttpResponse, Problem> {
    let allowed = methods(request.path());
    if allowed.is_empty() {
        return Err(Problem::not_found(format!("There is nothing at {}.", request.path())));
    }
    let allowed = allowed.join(", ");
    let detail = format!("{} takes {allowed}, not {}.", request.path(), request.method());
    let mut answer = Problem::new(StatusCode::METHOD_NOT_ALLOWED, detail).error_response();
    if let Ok(value) = header::HeaderValue::from_str(&allowed) {
        answer.headers_mut().insert(header::ALLOW, value);
    }
    Ok(answer)
}

/// The methods that an address takes; none where there is nothing at it.
fn methods(path: &str) -> Vec<&'static str> {
    let parts: Vec<&str> = path.split('/').collect();
    let fits = |template: &str| {
        let wanted: Vec<&str> = template.split('/').collect();
        wanted.len() == parts.len() && wanted.iter().zip(&parts).all(|(w, p)| w == p || w.starts_with('{'))
    };
    let Some((_, item)) = DESCRIPTION.paths.paths.iter().find(|(template, _)| fits(template)) else {
        return Vec::new();
    };
    let known = [
        ("GET", item.get.is_some()),
        ("POST", item.post.is_some()),
        ("PUT", item.put.is_some()),
        ("DELETE", item.delete.is_some()),
    ];
    known.into_iter().filter(|(_, there)| *there).map(|(method, _)| method).collect()
}
