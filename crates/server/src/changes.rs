//! What becomes of changes: read, computed beside the requests, written once, answered.

use crate::answers::{json_of, raw};
use crate::lines;
use crate::problem::Problem;
use crate::state::App;
use actix_web::HttpResponse;
use lane_document::edit::Edit;
use lane_document::json::FromJson;
use lane_document::session::{AssetRef, Session};
use lane_store::documents::{self, Prepared};
use lane_store::{Kept, StoreError, Way};
use lane_units::AssetId;
use lane_wire::{EditRequest, OpenSession, StepRequest};
use uuid::Uuid;

/// Steps that a page holds.
const PAGE_STEPS: i64 = 50;
/// Bytes of patches that a page gets with its steps; those of older ones are asked for when they are wanted.
const STEP_BYTES: i64 = 1 << 20;

/// What is asked of a change beside its contents.
#[derive(Debug, Clone, Copy)]
pub struct Change {
    pub id: Uuid,
    pub base_revision: i64,
}

/// A session's document, read beside the requests.
///
/// # Errors
/// 404 where the account has no such session.
pub async fn document(app: &App, account: Uuid, id: Uuid) -> Result<Session, Problem> {
    let kept = app.store.session(account, id).await?;
    Ok(app.edits.run_for(account, move || kept.read()).await??.session)
}

/// A session as pages get it.
pub async fn opened(app: &App, account: Uuid, kept: Kept) -> Result<OpenSession, Problem> {
    let (undo, redo) = app.store.steps(kept.id, PAGE_STEPS, STEP_BYTES).await?;
    let made = app.edits.run_for(account, move || {
        let read = kept.read()?;
        let Kept { id, revision, renders_started, .. } = kept;
        let undo = undo.into_iter().map(lines::step).collect::<Result<_, _>>()?;
        let redo = redo.into_iter().map(lines::step).collect::<Result<_, _>>()?;
        let (document, remarks) = (raw(&read.session)?, read.remarks);
        Ok::<_, StoreError>(OpenSession { id, document, revision, undo, redo, renders_started, remarks })
    });
    Ok(made.await??)
}

/// Applies an edit that stands in the body of a request. The account's turn is taken already.
///
/// # Errors
/// 409 where its author saw another revision; 422 where the edit is refused.
pub async fn edit(app: &App, account: Uuid, id: Uuid, body: Vec<u8>) -> Result<HttpResponse, Problem> {
    let (change, edit) = app.edits.run_for(account, move || read_edit(&body)).await??;
    let (kept, known) = app.store.session_for(account, id, change.id).await?;
    if known && let Some(done) = app.store.change(id, change.id).await? {
        return json_of(app, account, lines::done(done, true)?).await;
    }
    if kept.revision != change.base_revision {
        return Err(Problem::stale(kept.revision));
    }
    let edit = with_own_assets(app, account, edit?).await?;
    let prepared = app.edits.run_for(account, move || documents::prepare_edit(&kept, change.id, &edit)).await??;
    commit(app, account, id, change.id, prepared).await
}

/// What is asked, and the edit in it, which may be none while the rest can be understood.
fn read_edit(body: &[u8]) -> Result<(Change, Result<Edit, Problem>), Problem> {
    let EditRequest { id, base_revision, edit } = serde_json::from_slice(body).map_err(unreadable)?;
    let edit = Edit::from_json(edit.get().as_bytes()).map_err(Problem::edit_refused);
    Ok((Change { id, base_revision }, edit))
}

/// A request that is no JSON, or not what is asked for.
pub fn unreadable(error: serde_json::Error) -> Problem {
    Problem::bad_request(format!("The request cannot be read: {error}."))
}

async fn commit(
    app: &App,
    account: Uuid,
    session: Uuid,
    change: Uuid,
    prepared: Prepared,
) -> Result<HttpResponse, Problem> {
    match app.store.commit(account, session, prepared).await {
        Ok(done) => json_of(app, account, lines::done(done, false)?).await,
        Err(StoreError::Stale) => {
            // Sent twice at once, it may have gone through on the other way.
            if let Some(done) = app.store.change(session, change).await? {
                return json_of(app, account, lines::done(done, true)?).await;
            }
            Err(Problem::stale(app.store.revision(account, session).await?))
        }
        Err(error) => Err(error.into()),
    }
}

/// Walks a step back or forth.
///
/// # Errors
/// 409 where its author saw another revision or another step.
pub async fn walk(app: &App, account: Uuid, id: Uuid, way: Way, asked: StepRequest) -> Result<HttpResponse, Problem> {
    let _turn = app.turns.take(account).await?;
    let (kept, known) = app.store.session_for(account, id, asked.id).await?;
    if known && let Some(done) = app.store.change(id, asked.id).await? {
        return json_of(app, account, lines::done(done, true)?).await;
    }
    let next = app.store.next_step(id, way).await?;
    let next = next.filter(|step| step.id == asked.step && kept.revision == asked.base_revision);
    let Some(step) = next else { return Err(Problem::stale(kept.revision)) };
    let change = asked.id;
    let prepared = app.edits.run_for(account, move || documents::prepare_walk(&kept, change, way, &step)).await??;
    commit(app, account, id, change, prepared).await
}

/// The edit with what the store knows of the audio that it names, whatever the request said of it.
async fn with_own_assets(app: &App, account: Uuid, mut edit: Edit) -> Result<Edit, Problem> {
    let mut ids: Vec<AssetId> = Vec::new();
    edit.each_asset(|asset| ids.push(asset.id.clone()));
    if ids.is_empty() {
        return Ok(edit);
    }
    let known = app.store.assets(account, &ids).await?;
    let mut unknown = None;
    edit.each_asset(|asset| match known.get(&asset.id) {
        // Each session calls it what it came as there.
        Some(own) => {
            let name = if asset.name.is_empty() { own.name.clone() } else { asset.name.clone() };
            *asset = AssetRef { name, ..own.clone() };
        }
        None => {
            unknown.get_or_insert(if asset.name.is_empty() { asset.id.0.clone() } else { asset.name.to_string() });
        }
    });
    if let Some(what) = unknown {
        return Err(Problem::edit_refused(format!("the audio {what} is not yours or was never brought in")));
    }
    Ok(edit)
}
