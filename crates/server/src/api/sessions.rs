//! Sessions, their edits, undo and redo.

use super::body_of;
use crate::answers::json_of;
use crate::auth::SignedIn;
use crate::changes;
use crate::following::Told;
use crate::lines;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, delete, get, post, web};
use lane_document::session::Session;
use lane_store::Way;
use lane_wire::{
    Created, EditDone, EditRequest, KnownRequest, NewSession, OpenSession, SessionLine, StepLine, StepRequest,
};
use serde::Deserialize;
use uuid::Uuid;

/// Bytes of an edit: a take with as many notes as one may have, written out.
const EDIT_BYTES: usize = 16 << 20;
/// Bytes of a request that only names things.
const SMALL_BYTES: usize = 256 << 10;
/// Changes asked for at once.
const KNOWN: usize = 2000;

/// Sessions that a page lists at once.
const LISTED: i64 = 100;

#[derive(Deserialize, utoipa::IntoParams)]
pub struct From {
    /// How many are listed already.
    #[serde(default)]
    from: u32,
}

/// Sessions of the account, the last changed first: a hundred of them, from a place on.
#[utoipa::path(get, path = "/api/sessions", params(From), responses((status = 200, body = Vec<SessionLine>)))]
#[get("/api/sessions")]
pub async fn list(
    app: web::Data<App>,
    account: SignedIn,
    asked: web::Query<From>,
) -> Result<web::Json<Vec<SessionLine>>, Problem> {
    let sessions = app.store.sessions(account.id(), i64::from(asked.from), LISTED).await?;
    Ok(web::Json(sessions.into_iter().map(lines::session).collect()))
}

/// Makes an empty session.
#[utoipa::path(post, path = "/api/sessions", request_body = NewSession, responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/sessions")]
pub async fn create(
    app: web::Data<App>,
    account: SignedIn,
    body: web::Json<NewSession>,
) -> Result<web::Json<Created>, Problem> {
    let NewSession { title, sample_rate } = body.into_inner();
    let session = Session::new(title, sample_rate);
    session.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    let id = app.store.add_session(account.id(), &session).await?;
    Ok(web::Json(Created::new(id)))
}

/// A session as it stands.
#[utoipa::path(get, path = "/api/sessions/{id}", responses((status = 200, body = OpenSession), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}")]
pub async fn open(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let kept = app.store.session(account.id(), *id).await?;
    let session = changes::opened(&app, account.id(), kept).await?;
    json_of(&app, account.id(), session).await
}

/// Removes a session with its renders.
#[utoipa::path(delete, path = "/api/sessions/{id}", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/api/sessions/{id}")]
pub async fn remove(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    app.store.remove_session(account.id(), *id).await?;
    app.changes.tell(Told::Removed(*id));
    Ok(HttpResponse::NoContent().finish())
}

/// Applies an edit to the revision that its author saw. One that is sent again gets the same answer; 409 says where the
/// session stands.
#[utoipa::path(post, path = "/api/sessions/{id}/edits", request_body = EditRequest, responses((status = 200, body = EditDone), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/api/sessions/{id}/edits")]
pub async fn edit(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Payload,
) -> Result<HttpResponse, Problem> {
    // A body that never comes holds nobody off.
    let (body, _place) = body_of(&app, account.id(), body, EDIT_BYTES).await?;
    let _turn = app.turns.take(account.id()).await?;
    changes::edit(&app, account.id(), *id, body).await
}

/// Takes a step back that its author saw as the last one.
#[utoipa::path(post, path = "/api/sessions/{id}/undo", request_body = StepRequest, responses((status = 200, body = EditDone), (status = 409, body = Problem)))]
#[post("/api/sessions/{id}/undo")]
pub async fn undo(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<StepRequest>,
) -> Result<HttpResponse, Problem> {
    changes::walk(&app, account.id(), *id, Way::Undo, body.into_inner()).await
}

/// Does a step again that its author saw as the next one.
#[utoipa::path(post, path = "/api/sessions/{id}/redo", request_body = StepRequest, responses((status = 200, body = EditDone), (status = 409, body = Problem)))]
#[post("/api/sessions/{id}/redo")]
pub async fn redo(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<StepRequest>,
) -> Result<HttpResponse, Problem> {
    changes::walk(&app, account.id(), *id, Way::Redo, body.into_inner()).await
}

/// A step that can be undone or done again, with its ways there and back; 404 where it is forgotten.
#[utoipa::path(get, path = "/api/sessions/{id}/steps/{step}", responses((status = 200, body = StepLine), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/steps/{step}")]
pub async fn step(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, Uuid)>,
) -> Result<HttpResponse, Problem> {
    let (id, step) = path.into_inner();
    let step = app.store.step(account.id(), id, step).await?;
    json_of(&app, account.id(), lines::step(step).map_err(Problem::internal)?).await
}

/// Changes that a page gets at once, and about how many bytes of patches with them.
const FOLLOWED: i64 = 200;
const FOLLOWED_BYTES: i64 = 4 << 20;

#[derive(Deserialize, utoipa::IntoParams)]
pub struct After {
    /// The revision that the page has.
    after: i64,
}

/// The changes behind a revision, in their order, for pages that follow: the first of them where they are many; 404 where
/// they were made too long ago.
#[utoipa::path(get, path = "/api/sessions/{id}/changes", params(After), responses((status = 200, body = Vec<EditDone>), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/changes")]
pub async fn changes_after(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    asked: web::Query<After>,
) -> Result<HttpResponse, Problem> {
    let done = app.store.changes_after(account.id(), *id, asked.after, FOLLOWED, FOLLOWED_BYTES).await?;
    let changes: Vec<EditDone> = done.into_iter().map(|done| lines::done(done, false)).collect::<Result<_, _>>()?;
    json_of(&app, account.id(), changes).await
}

/// Which of some changes went through, and what they gave.
#[utoipa::path(post, path = "/api/sessions/{id}/changes/known", request_body = KnownRequest, responses((status = 200, body = Vec<EditDone>), (status = 404, body = Problem)))]
#[post("/api/sessions/{id}/changes/known")]
pub async fn known(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Payload,
) -> Result<HttpResponse, Problem> {
    let (body, _place) = body_of(&app, account.id(), body, SMALL_BYTES).await?;
    let KnownRequest { ids } = serde_json::from_slice(&body).map_err(changes::unreadable)?;
    if ids.len() > KNOWN {
        return Err(Problem::unprocessable(format!("{} changes asked for; {KNOWN} at a time are allowed.", ids.len())));
    }
    let done = app.store.changes_known(account.id(), *id, &ids).await?;
    let changes: Vec<EditDone> = done.into_iter().map(|done| lines::done(done, true)).collect::<Result<_, _>>()?;
    json_of(&app, account.id(), changes).await
}
