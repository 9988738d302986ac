//! Tracking out.

use super::bring_in::room_for;
use crate::answers::{PieceWriter, Pieces, WAITING_PIECES, attachment, download, received};
use crate::auth::SignedIn;
use crate::changes::document;
use crate::lines;
use crate::problem::Problem;
use crate::state::App;
use actix_web::http::StatusCode;
use actix_web::{HttpResponse, delete, get, post, web};
use lane_document::json::ToJson;
use lane_files::FileError;
use lane_files::folder::{FolderWriter, ZipFolder};
use lane_stems::StemJob;
use lane_stems::labels::safe;
use lane_store::{NewRender, RenderFile, Store, StoreError};
use lane_wire::{Created, RenderLine};
use std::io::Write;
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use uuid::Uuid;

/// Puts a render of the session, as it is now, in the queue.
#[utoipa::path(post, path = "/api/sessions/{id}/renders", responses((status = 200, body = Created), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/api/sessions/{id}/renders")]
pub async fn start(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<web::Json<Created>, Problem> {
    let kept = app.store.session(account.id(), *id).await?;
    let (revision, document, audio, job) = app
        .edits
        .run(move || {
            let session = kept.read()?.session;
            // The plan is checked before a number is taken, so that a refusal leaves no gap.
            let job = StemJob::new(&session, 1).map(|job| (job.frames(), job.stems.len(), job.depth.bytes()));
            let audio: Vec<String> = session.assets.iter().map(|asset| asset.id.0.clone()).collect();
            Ok::<_, StoreError>((kept.revision, session.to_json_text()?, audio, job))
        })
        .await??;
    let (frames, stems, sample_bytes) = job.map_err(|e| Problem::unprocessable(format!("Not started: {e}.")))?;
    room_for(&app, account.id(), frames * stems as u64 * 2 * sample_bytes as u64).await?;
    let new = NewRender {
        session: *id,
        revision,
        document: &document,
        audio: &audio,
        frames_total: frames,
        most_waiting: app.waiting_renders,
    };
    Ok(web::Json(Created::new(app.store.start_render(account.id(), &new).await?)))
}

/// The last renders of a session, the newest first.
#[utoipa::path(get, path = "/api/sessions/{id}/renders", responses((status = 200, body = Vec<RenderLine>)))]
#[get("/api/sessions/{id}/renders")]
pub async fn list(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
) -> Result<web::Json<Vec<RenderLine>>, Problem> {
    let renders = app.store.renders(account.id(), *id).await?;
    Ok(web::Json(renders.into_iter().map(lines::render).collect()))
}

/// One render.
#[utoipa::path(get, path = "/api/renders/{id}", responses((status = 200, body = RenderLine), (status = 404, body = Problem)))]
#[get("/api/renders/{id}")]
pub async fn one(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
) -> Result<web::Json<RenderLine>, Problem> {
    Ok(web::Json(lines::render(app.store.render(account.id(), *id).await?)))
}

/// Stops a render that is not finished.
#[utoipa::path(post, path = "/api/renders/{id}/cancel", responses((status = 204), (status = 409, body = Problem)))]
#[post("/api/renders/{id}/cancel")]
pub async fn cancel(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    if app.store.cancel_render(account.id(), *id).await? {
        Ok(HttpResponse::NoContent().finish())
    } else {
        Err(Problem::new(StatusCode::CONFLICT, "The render has ended already."))
    }
}

/// Removes a render that has ended, with its files.
#[utoipa::path(delete, path = "/api/renders/{id}", responses((status = 204), (status = 404, body = Problem), (status = 409, body = Problem)))]
#[delete("/api/renders/{id}")]
pub async fn remove(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    app.store.remove_render(account.id(), *id).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// All files of a finished render, as a ZIP file of stored entries.
#[utoipa::path(get, path = "/api/renders/{id}/zip", responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/api/renders/{id}/zip")]
pub async fn whole(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let files = app.store.render_files(account.id(), *id).await?;
    let render = app.store.render(account.id(), *id).await?;
    let title = document(&app, account.id(), render.session_id).await?.header.title;
    let name = format!("{}_v{}.zip", safe(&title), render.version);
    let place = download(&app, account.id())?;
    let (sender, receiver) = mpsc::channel(WAITING_PIECES);
    let (store, runtime, id) = (app.store.clone(), Handle::current(), *id);
    tokio::task::spawn_blocking(move || {
        let failed = sender.clone();
        if let Err(error) = write_zip(&store, &runtime, id, &files, PieceWriter::new(sender)) {
            tracing::warn!(%error, "a ZIP file was not written to its end");
            let _ = failed.blocking_send(Err(std::io::Error::other(error)));
        }
    });
    Ok(HttpResponse::Ok()
        .content_type("application/zip")
        .insert_header(attachment(&name))
        .streaming(received(receiver, place)))
}

fn write_zip(
    store: &Store,
    runtime: &Handle,
    id: Uuid,
    files: &[RenderFile],
    to: PieceWriter,
) -> Result<(), FileError> {
    let mut zip = ZipFolder::new(to);
    for file in files {
        let out = zip.begin(&file.name)?;
        for position in 0.. {
            let chunk = runtime
                .block_on(store.render_chunk(id, file.position, position))
                .map_err(|e| FileError::Folder { path: file.name.clone(), reason: e.to_string() })?;
            let Some(chunk) = chunk else { break };
            out.write_all(&chunk)?;
        }
    }
    Ok(zip.finish()?.flush()?)
}

/// One file of a finished render, by its place from 0.
#[utoipa::path(get, path = "/api/renders/{id}/files/{position}", responses((status = 200, content_type = "application/octet-stream"), (status = 404, body = Problem)))]
#[get("/api/renders/{id}/files/{position}")]
pub async fn single(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, i32)>,
) -> Result<HttpResponse, Problem> {
    let (id, position) = path.into_inner();
    let files = app.store.render_files(account.id(), id).await?;
    let file = files
        .into_iter()
        .find(|f| f.position == position)
        .ok_or_else(|| Problem::new(StatusCode::NOT_FOUND, "The render has no such file."))?;
    let place = download(&app, account.id())?;
    // Pieces as they are stored are large.
    let (sender, receiver) = mpsc::channel(1);
    let store = app.store.clone();
    tokio::spawn(async move {
        for chunk in 0.. {
            let piece = match store.render_chunk(id, position, chunk).await {
                Ok(Some(data)) => Ok(data.into()),
                Ok(None) => return,
                Err(error) => Err(std::io::Error::other(error)),
            };
            let broken = piece.is_err();
            if sender.send(piece).await.is_err() || broken {
                return;
            }
        }
    });
    let pieces: Pieces = received(receiver, place);
    let kind = mime_guess::from_path(&file.name).first_or_octet_stream();
    Ok(HttpResponse::Ok()
        .content_type(kind.as_ref())
        .insert_header(attachment(&file.name))
        .insert_header(("content-length", file.bytes.to_string()))
        .streaming(pieces))
}
