//! Templates: sessions as a start for others, of the account and of the house.

use super::bring_in::spool;
use super::folders::{keep_folder_audio, read_zip, stream_audio};
use super::library::at_rate;
use crate::answers::{PieceWriter, WAITING_PIECES, attachment, download, raw, received};
use crate::auth::SignedIn;
use crate::changes::document as document_of;
use crate::lines;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, delete, get, post, put, web};
use lane_document::session::{Session, TemplateKeeps, VoiceSource};
use lane_files::folder::{FolderSession, TemplateCard, ZipFolder, read_card, write_card, write_folder};
use lane_house::house_templates;
use lane_stems::labels::safe;
use lane_store::{StoreError, Template};
use lane_units::AssetId;
use lane_wire::{Created, NewSession, NewTemplate, OpenTemplate, TemplateChange, TemplateLine};
use serde::Deserialize;
use std::collections::HashMap;
use std::io::Write;
use time::OffsetDateTime;
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use uuid::Uuid;

/// Our own templates, under ids that stay the same.
fn house() -> Vec<Template> {
    let kept = |(at, t): (usize, lane_house::HouseTemplate)| Template {
        id: Uuid::from_u128(at as u128 + 1),
        name: t.name.into(),
        purpose: t.purpose.into(),
        document: t.session,
        updated_at: OffsetDateTime::UNIX_EPOCH,
    };
    house_templates().into_iter().enumerate().map(kept).collect()
}

/// One of the house's or of the account's.
async fn template(app: &App, account: Uuid, id: Uuid) -> Result<Template, Problem> {
    if let Some(ours) = app.edits.run_for(account, move || house().into_iter().find(|t| t.id == id)).await? {
        return Ok(ours);
    }
    let stored = app.store.template(account, id).await?;
    Ok(app.edits.run_for(account, move || stored.read()).await??)
}

async fn made_of(app: &App, account: Uuid, session: Uuid, keeps: TemplateKeeps) -> Result<Session, Problem> {
    let kept = app.store.session(account, session).await?;
    let made = app.edits.run_for(account, move || {
        let made = kept.read()?.session.as_template(keeps);
        Ok::<_, StoreError>(made.validate().map(|()| made))
    });
    made.await??.map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))
}

/// A document at another sample rate, its audio converted and kept for the account.
async fn converted(app: &App, account: Uuid, mut document: Session, rate: u32) -> Result<Session, Problem> {
    let old_rate = document.header.sample_rate;
    if old_rate == rate {
        return Ok(document);
    }
    let mut frames: HashMap<AssetId, (AssetId, u32)> = HashMap::new();
    for asset in &mut document.assets {
        let new = at_rate(app, account, (**asset).clone(), rate).await?;
        frames.insert(asset.id.clone(), (new.id.clone(), new.frames));
        **asset = new;
    }
    let scaled =
        |frame: u32| u32::try_from(u64::from(frame) * u64::from(rate) / u64::from(old_rate)).unwrap_or(u32::MAX);
    for voice in &mut document.voices {
        match &mut voice.source {
            VoiceSource::Empty => {}
            VoiceSource::OneShot { layers, .. } => {
                for layer in layers {
                    let Some((id, length)) = frames.get(&layer.asset) else { continue };
                    layer.asset = id.clone();
                    layer.start_frame = scaled(layer.start_frame).min(length.saturating_sub(1));
                    layer.end_frame = layer.end_frame.map(|end| scaled(end).max(layer.start_frame + 1).min(*length));
                }
            }
            VoiceSource::Recording { asset, start_frame } => {
                if let Some((id, _)) = frames.get(asset) {
                    *asset = id.clone();
                }
                *start_frame = scaled(*start_frame);
            }
        }
    }
    document.header.sample_rate = rate;
    Ok(document)
}

/// Our own templates, then the account's by name.
#[utoipa::path(get, path = "/api/templates", responses((status = 200, body = Vec<TemplateLine>)))]
#[get("/api/templates")]
pub async fn list(app: web::Data<App>, account: SignedIn) -> Result<web::Json<Vec<TemplateLine>>, Problem> {
    let own = app.store.templates(account.id()).await?;
    let lines = app.edits.run_for(account.id(), move || {
        let ours = house().into_iter().map(|t| lines::template(&t, true));
        // One that cannot be read does not take the others along.
        let theirs = own.into_iter().filter_map(|t| t.read().ok()).map(|t| lines::template(&t, false));
        ours.chain(theirs).collect::<Vec<_>>()
    });
    Ok(web::Json(lines.await?))
}

#[derive(Debug, Deserialize)]
pub struct ForSession {
    session: Option<Uuid>,
}

/// A template whole; with a session, at that session's sample rate.
#[utoipa::path(get, path = "/api/templates/{id}", params(("session" = Option<Uuid>, Query)), responses((status = 200, body = OpenTemplate), (status = 404, body = Problem)))]
#[get("/api/templates/{id}")]
pub async fn open(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    query: web::Query<ForSession>,
) -> Result<web::Json<OpenTemplate>, Problem> {
    let Template { name, purpose, mut document, .. } = template(&app, account.id(), *id).await?;
    if let Some(session) = query.session {
        let rate = document_of(&app, account.id(), session).await?.header.sample_rate;
        document = converted(&app, account.id(), document, rate).await?;
    }
    let document = app.edits.run_for(account.id(), move || raw(&document)).await?.map_err(Problem::internal)?;
    Ok(web::Json(OpenTemplate { name, purpose, document }))
}

/// Makes a template of a session.
#[utoipa::path(post, path = "/api/templates", request_body = NewTemplate, responses((status = 200, body = Created), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/api/templates")]
pub async fn create(
    app: web::Data<App>,
    account: SignedIn,
    body: web::Json<NewTemplate>,
) -> Result<web::Json<Created>, Problem> {
    let NewTemplate { session, name, purpose, keeps } = body.into_inner();
    let document = made_of(&app, account.id(), session, keeps).await?;
    let id = app.store.add_template(account.id(), &name, &purpose, &document).await?;
    Ok(web::Json(Created::new(id)))
}

/// Changes name, purpose and, where a session is given, what a template holds.
#[utoipa::path(put, path = "/api/templates/{id}", request_body = TemplateChange, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/api/templates/{id}")]
pub async fn change(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<TemplateChange>,
) -> Result<HttpResponse, Problem> {
    let document = match &body.from {
        Some(from) => Some(made_of(&app, account.id(), from.session, from.keeps).await?),
        None => None,
    };
    app.store.set_template(account.id(), *id, &body.name, &body.purpose, document.as_ref()).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Removes a template of the account; sessions begun from it stay.
#[utoipa::path(delete, path = "/api/templates/{id}", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/api/templates/{id}")]
pub async fn remove(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    app.store.remove_template(account.id(), *id).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Begins a session from a template.
#[utoipa::path(post, path = "/api/templates/{id}/sessions", request_body = NewSession, responses((status = 200, body = Created), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/api/templates/{id}/sessions")]
pub async fn start(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<NewSession>,
) -> Result<web::Json<Created>, Problem> {
    let document = template(&app, account.id(), *id).await?.document;
    // The rate is checked before anything is converted to it.
    let NewSession { title, sample_rate } = body.into_inner();
    let asked = Session::new(title, sample_rate);
    asked.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    let mut document = converted(&app, account.id(), document, sample_rate).await?;
    document.header.title = asked.header.title;
    document.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    let id = app.store.add_session(account.id(), &document).await?;
    Ok(web::Json(Created::new(id)))
}

/// A template with its audio as a file.
#[utoipa::path(get, path = "/api/templates/{id}/file", responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/api/templates/{id}/file")]
pub async fn export(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let Template { name, purpose, document, .. } = template(&app, account.id(), *id).await?;
    let file_name = format!("{} (template).zip", safe(&name));
    let place = download(&app, account.id())?;
    let (sender, receiver) = mpsc::channel(WAITING_PIECES);
    let (store, account, runtime) = (app.store.clone(), account.id(), Handle::current());
    tokio::task::spawn_blocking(move || {
        let failed = sender.clone();
        let mut zip = ZipFolder::new(PieceWriter::new(sender));
        let written = write_card(&TemplateCard { name, purpose }, &mut zip)
            .and_then(|()| write_folder(&document, |a, to| stream_audio(&store, account, a, &runtime, to), &mut zip))
            .and_then(|()| zip.finish())
            .and_then(|mut out| Ok(out.flush()?));
        if let Err(error) = written {
            tracing::warn!(%error, "a template was not written to its end");
            let _ = failed.blocking_send(Err(std::io::Error::other(error)));
        }
    });
    Ok(HttpResponse::Ok()
        .content_type("application/zip")
        .insert_header(attachment(&file_name))
        .streaming(received(receiver, place)))
}

/// Takes in a template's file, or a session folder as a template.
#[utoipa::path(post, path = "/api/template-files", request_body(content = Vec<u8>, content_type = "application/zip"), responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/template-files")]
pub async fn import(app: web::Data<App>, account: SignedIn, body: web::Payload) -> Result<web::Json<Created>, Problem> {
    let file = spool(body, app.upload_bytes).await?;
    let (zip, FolderSession { session, remarks }) = read_zip(&app, account.id(), file).await?;
    let (zip, card) = {
        let session = session.clone();
        let read = move || {
            let mut zip = zip;
            let card = read_card(&mut zip, &session)?;
            Ok::<_, lane_files::FileError>((zip, card))
        };
        app.sounds.run_for(account.id(), read).await??
    };
    keep_folder_audio(&app, account.id(), zip, &session).await?;
    let id = app.store.add_template(account.id(), &card.name, &card.purpose, &session).await?;
    Ok(web::Json(Created { id, remarks }))
}
