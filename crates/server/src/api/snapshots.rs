//! Snapshots of a session: taken, listed, opened, changed, removed.

use crate::auth::SignedIn;
use crate::changes::document;
use crate::lines;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, delete, get, post, put, web};
use lane_document::json::ToJson;
use lane_store::PackedSession;
use lane_store::StoreError;
use lane_wire::{Created, NewSnapshot, SnapshotChange, SnapshotLine};
use uuid::Uuid;

/// Snapshots of a session, the newest first.
#[utoipa::path(get, path = "/api/sessions/{id}/snapshots", responses((status = 200, body = Vec<SnapshotLine>), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/snapshots")]
pub async fn list(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
) -> Result<web::Json<Vec<SnapshotLine>>, Problem> {
    let all = app.store.snapshots(account.id(), *id).await?;
    Ok(web::Json(all.into_iter().map(lines::snapshot).collect()))
}

/// Takes a snapshot of a session as it stands.
#[utoipa::path(post, path = "/api/sessions/{id}/snapshots", request_body = NewSnapshot, responses((status = 200, body = Created), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/api/sessions/{id}/snapshots")]
pub async fn take(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<NewSnapshot>,
) -> Result<web::Json<Created>, Problem> {
    let NewSnapshot { name, by_hand, figures } = body.into_inner();
    let session = document(&app, account.id(), *id).await?;
    let packed = app.edits.run_for(account.id(), move || PackedSession::of(&session)).await??;
    let new = lane_store::NewSnapshot {
        name: &name,
        by_hand,
        taken_at: None,
        figures: lines::stored_figures(figures),
        document: &packed,
    };
    let made = app.store.add_snapshot(account.id(), *id, &new).await?;
    Ok(web::Json(Created::new(made)))
}

/// The document of a snapshot.
#[utoipa::path(get, path = "/api/sessions/{id}/snapshots/{snapshot}", responses((status = 200, body = lane_wire::described::Session), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/snapshots/{snapshot}")]
pub async fn open(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, Uuid)>,
) -> Result<HttpResponse, Problem> {
    let (session, snapshot) = path.into_inner();
    let stored = app.store.snapshot(account.id(), session, snapshot).await?;
    let json = app.edits.run_for(account.id(), move || Ok::<_, StoreError>(stored.read()?.to_json()?)).await??;
    Ok(HttpResponse::Ok().content_type("application/json").body(json))
}

/// Gives a snapshot another name, or what was measured of it later.
#[utoipa::path(put, path = "/api/sessions/{id}/snapshots/{snapshot}", request_body = SnapshotChange, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/api/sessions/{id}/snapshots/{snapshot}")]
pub async fn change(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, Uuid)>,
    body: web::Json<SnapshotChange>,
) -> Result<HttpResponse, Problem> {
    let (session, snapshot) = path.into_inner();
    let SnapshotChange { name, figures } = body.into_inner();
    let figures = figures.map(lines::stored_figures);
    app.store.change_snapshot(account.id(), session, snapshot, name.as_ref(), figures).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Removes a snapshot.
#[utoipa::path(delete, path = "/api/sessions/{id}/snapshots/{snapshot}", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/api/sessions/{id}/snapshots/{snapshot}")]
pub async fn remove(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, Uuid)>,
) -> Result<HttpResponse, Problem> {
    let (session, snapshot) = path.into_inner();
    app.store.remove_snapshot(account.id(), session, snapshot).await?;
    Ok(HttpResponse::NoContent().finish())
}
