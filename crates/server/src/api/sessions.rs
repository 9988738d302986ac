//! Sessions and their edits.

use super::types::{Created, EditDone, EditRequest, NewSession, OpenSession, SessionLine};
use crate::app::App;
use crate::auth::SignedIn;
use crate::problem::Problem;
use actix_web::{HttpResponse, delete, get, post, web};
use lane_core::edit::{Edit, SplitTarget};
use lane_core::session::{AssetRef, Session};
use lane_core::units::AssetId;
use uuid::Uuid;

/// Sessions of the account, the last changed first.
#[utoipa::path(get, path = "/api/sessions", responses((status = 200, body = Vec<SessionLine>)))]
#[get("/api/sessions")]
pub async fn list(app: web::Data<App>, account: SignedIn) -> Result<web::Json<Vec<SessionLine>>, Problem> {
    let sessions = app.store.sessions(account.id()).await?;
    Ok(web::Json(sessions.into_iter().map(Into::into).collect()))
}

/// Makes an empty session.
#[utoipa::path(post, path = "/api/sessions", request_body = NewSession, responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/sessions")]
pub async fn create(
    app: web::Data<App>,
    account: SignedIn,
    body: web::Json<NewSession>,
) -> Result<web::Json<Created>, Problem> {
    let session = Session::new(body.title.trim(), body.sample_rate);
    session.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    let id = app.store.add_session(account.id(), &session).await?;
    Ok(web::Json(Created { id }))
}

/// A session as it stands.
#[utoipa::path(get, path = "/api/sessions/{id}", responses((status = 200, body = OpenSession), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}")]
pub async fn open(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
) -> Result<web::Json<OpenSession>, Problem> {
    Ok(web::Json(app.store.session(account.id(), *id).await?.into()))
}

/// Removes a session with its renders.
#[utoipa::path(delete, path = "/api/sessions/{id}", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/api/sessions/{id}")]
pub async fn remove(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    app.store.remove_session(account.id(), *id).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Applies an edit to the revision that its author saw; 409 holds the newer session.
#[utoipa::path(post, path = "/api/sessions/{id}/edits", request_body = EditRequest, responses((status = 200, body = EditDone), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/api/sessions/{id}/edits")]
pub async fn edit(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<EditRequest>,
) -> Result<web::Json<EditDone>, Problem> {
    own_assets(&app, &account, &body.edit).await?;
    let changed = app.store.edit(account.id(), *id, body.base_revision, &body.edit).await?;
    Ok(web::Json(changed.into()))
}

/// Takes the last edit back.
#[utoipa::path(post, path = "/api/sessions/{id}/undo", responses((status = 200, body = EditDone), (status = 409, body = Problem)))]
#[post("/api/sessions/{id}/undo")]
pub async fn undo(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<web::Json<EditDone>, Problem> {
    Ok(web::Json(app.store.undo(account.id(), *id).await?.into()))
}

/// Does the edit that was undone last again.
#[utoipa::path(post, path = "/api/sessions/{id}/redo", responses((status = 200, body = EditDone), (status = 409, body = Problem)))]
#[post("/api/sessions/{id}/redo")]
pub async fn redo(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<web::Json<EditDone>, Problem> {
    Ok(web::Json(app.store.redo(account.id(), *id).await?.into()))
}

/// Refuses an edit that brings in audio of somebody else.
async fn own_assets(app: &App, account: &SignedIn, wanted: &Edit) -> Result<(), Problem> {
    let ids: Vec<AssetId> = assets_of(wanted).into_iter().map(|a| a.id.clone()).collect();
    if ids.is_empty() {
        return Ok(());
    }
    match app.store.missing_assets(account.id(), &ids).await?.first() {
        None => Ok(()),
        Some(id) => Err(Problem::unprocessable(format!("The audio {} is not yours or was never brought in.", id.0))),
    }
}

fn assets_of(wanted: &Edit) -> Vec<&AssetRef> {
    match wanted {
        Edit::AddVoices { assets, .. } | Edit::SetSource { assets, .. } => assets.iter().collect(),
        Edit::AddTake { sounds, .. } => sounds.iter().map(|s| &s.asset).collect(),
        Edit::SplitTake { splits, .. } => splits
            .iter()
            .filter_map(|s| match &s.to {
                SplitTarget::New { sound, .. } => sound.as_ref(),
                SplitTarget::Voice { .. } => None,
            })
            .collect(),
        Edit::InsertLanes { insertion } => insertion.from.assets.iter().collect(),
        Edit::Batch { edits } => edits.iter().flat_map(assets_of).collect(),
        _ => Vec::new(),
    }
}
