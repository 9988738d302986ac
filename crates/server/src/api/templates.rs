//! Templates: sessions as a start for others, of the account and of the house.

use super::bring_in::spool;
use super::folders::load_audio;
use super::library::at_rate;
use super::types::{Created, NewSession, NewTemplate, OpenTemplate, TemplateChange, TemplateLine};
use super::{PieceWriter, attachment, received};
use crate::app::App;
use crate::auth::SignedIn;
use crate::problem::Problem;
use actix_web::{HttpResponse, delete, get, post, put, web};
use lane_core::session::{Session, TemplateKeeps, VoiceSource};
use lane_core::stems::labels::safe;
use lane_core::units::AssetId;
use lane_demo::house_templates;
use lane_files::asset::pcm_bytes;
use lane_files::folder::{TemplateCard, ZipFolder, ZipSource, read_card, read_folder, write_card, write_folder};
use lane_store::{Store, StoreError, Template};
use serde::Deserialize;
use std::collections::HashMap;
use std::io::Write;
use time::OffsetDateTime;
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use uuid::Uuid;

/// Characters of a name and of a purpose at most.
const NAME_CHARS: usize = 80;
const PURPOSE_CHARS: usize = 200;

/// Our own templates, under ids that stay the same.
fn house() -> Vec<Template> {
    let kept = |(at, t): (usize, lane_demo::HouseTemplate)| Template {
        id: Uuid::from_u128(at as u128 + 1),
        name: t.name.into(),
        purpose: t.purpose.into(),
        document: t.session,
        updated_at: OffsetDateTime::UNIX_EPOCH,
    };
    house_templates().into_iter().enumerate().map(kept).collect()
}

/// One of the house's or of the account's.
async fn template(store: &Store, account: Uuid, id: Uuid) -> Result<Template, StoreError> {
    match house().into_iter().find(|t| t.id == id) {
        Some(template) => Ok(template),
        None => store.template(account, id).await,
    }
}

fn checked(name: &str, purpose: &str) -> Result<(String, String), Problem> {
    let (name, purpose) = (name.trim(), purpose.trim());
    let chars = name.chars().count();
    if !(1..=NAME_CHARS).contains(&chars) {
        let text = format!("The name of a template has {chars} characters; 1 to {NAME_CHARS} are allowed.");
        return Err(Problem::unprocessable(text));
    }
    if purpose.chars().count() > PURPOSE_CHARS {
        return Err(Problem::unprocessable(format!("The purpose is longer than {PURPOSE_CHARS} characters.")));
    }
    Ok((name.to_owned(), purpose.to_owned()))
}

async fn made_of(app: &App, account: Uuid, session: Uuid, keeps: TemplateKeeps) -> Result<Session, Problem> {
    let made = app.store.session(account, session).await?.document.as_template(keeps);
    made.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    Ok(made)
}

/// A document at another sample rate, its audio converted and kept for the account.
async fn converted(store: &Store, account: Uuid, mut document: Session, rate: u32) -> Result<Session, Problem> {
    let old_rate = document.header.sample_rate;
    if old_rate == rate {
        return Ok(document);
    }
    let mut frames: HashMap<AssetId, (AssetId, u32)> = HashMap::new();
    for asset in &mut document.assets {
        let new = at_rate(store, account, asset.clone(), rate).await?;
        frames.insert(asset.id.clone(), (new.id.clone(), new.frames));
        *asset = new;
    }
    let scaled = |frame: u32| (u64::from(frame) * u64::from(rate) / u64::from(old_rate)) as u32;
    for voice in &mut document.voices {
        match &mut voice.source {
            VoiceSource::Empty => {}
            VoiceSource::OneShot { layers, .. } => {
                for layer in layers {
                    let Some((id, length)) = frames.get(&layer.asset) else { continue };
                    layer.asset = id.clone();
                    layer.start_frame = scaled(layer.start_frame).min(length.saturating_sub(1));
                    layer.end_frame = layer.end_frame.map(|end| scaled(end).clamp(layer.start_frame + 1, *length));
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
    let lines = house().iter().map(|t| TemplateLine::new(t, true)).collect::<Vec<_>>();
    Ok(web::Json(lines.into_iter().chain(own.iter().map(|t| TemplateLine::new(t, false))).collect()))
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
    let Template { name, purpose, mut document, .. } = template(&app.store, account.id(), *id).await?;
    if let Some(session) = query.session {
        let rate = app.store.session(account.id(), session).await?.document.header.sample_rate;
        document = converted(&app.store, account.id(), document, rate).await?;
    }
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
    let (name, purpose) = checked(&body.name, &body.purpose)?;
    let document = made_of(&app, account.id(), body.session, body.keeps).await?;
    let id = app.store.add_template(account.id(), &name, &purpose, &document).await?;
    Ok(web::Json(Created { id }))
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
    let (name, purpose) = checked(&body.name, &body.purpose)?;
    let document = match &body.from {
        Some(from) => Some(made_of(&app, account.id(), from.session, from.keeps).await?),
        None => None,
    };
    app.store.set_template(account.id(), *id, &name, &purpose, document.as_ref()).await?;
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
    let document = template(&app.store, account.id(), *id).await?.document;
    // The rate is checked before anything is converted to it.
    let asked = Session::new(body.title.trim(), body.sample_rate);
    asked.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    let mut document = converted(&app.store, account.id(), document, body.sample_rate).await?;
    document.header.title = asked.header.title;
    document.validate().map_err(|e| Problem::unprocessable(format!("Not made: {e}.")))?;
    let id = app.store.add_session(account.id(), &document).await?;
    Ok(web::Json(Created { id }))
}

/// A template with its audio as a file.
#[utoipa::path(get, path = "/api/templates/{id}/file", responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/api/templates/{id}/file")]
pub async fn export(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let Template { name, purpose, document, .. } = template(&app.store, account.id(), *id).await?;
    let file_name = format!("{} (template).zip", safe(&name));
    let (sender, receiver) = mpsc::channel(4);
    let (store, account, runtime) = (app.store.clone(), account.id(), Handle::current());
    tokio::task::spawn_blocking(move || {
        let failed = sender.clone();
        let mut zip = ZipFolder::new(PieceWriter::new(sender));
        let written = write_card(&TemplateCard { name, purpose }, &mut zip)
            .and_then(|()| write_folder(&document, |a| load_audio(&store, account, a, &runtime), &mut zip))
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
        .streaming(received(receiver)))
}

/// Takes in a template's file, or a session folder as a template.
#[utoipa::path(post, path = "/api/template-files", request_body(content = Vec<u8>, content_type = "application/zip"), responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/template-files")]
pub async fn import(app: web::Data<App>, account: SignedIn, body: web::Payload) -> Result<web::Json<Created>, Problem> {
    let file = spool(body, app.upload_bytes).await?;
    let (card, session, bank) = web::block(move || {
        let mut zip = ZipSource::new(file)?;
        let (session, bank) = read_folder(&mut zip)?;
        Ok::<_, lane_files::FileError>((read_card(&mut zip, &session)?, session, bank))
    })
    .await??;
    let (name, purpose) = checked(&card.name, &card.purpose)?;
    for asset in &session.assets {
        let pcm = pcm_bytes(bank[&asset.id].samples());
        app.store.put_asset(account.id(), asset, pcm.as_slice()).await?;
    }
    let id = app.store.add_template(account.id(), &name, &purpose, &session).await?;
    Ok(web::Json(Created { id }))
}
