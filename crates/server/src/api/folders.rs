//! Sessions as folders, in ZIP files.

use super::bring_in::spool;
use super::types::Created;
use super::{PieceWriter, attachment, received};
use crate::app::App;
use crate::auth::SignedIn;
use crate::problem::Problem;
use actix_web::{HttpResponse, get, post, web};
use lane_core::session::{AssetRef, Audio};
use lane_core::stems::labels::safe;
use lane_files::FileError;
use lane_files::asset::{pcm_bytes, pcm_samples};
use lane_files::folder::{ZipFolder, ZipSource, read_folder, write_folder};
use lane_store::Store;
use std::io::Write;
use std::sync::Arc;
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use uuid::Uuid;

/// The audio of an account's asset, for threads that may wait.
pub fn load_audio(store: &Store, account: Uuid, asset: &AssetRef, runtime: &Handle) -> Result<Arc<Audio>, FileError> {
    let fault = |reason: String| FileError::Folder { path: asset.name.clone(), reason };
    let bytes = runtime.block_on(store.asset_bytes(account, &asset.id)).map_err(|e| fault(e.to_string()))?;
    Audio::new(asset.channels, pcm_samples(&bytes)).map(Arc::new).map_err(|e| fault(e.to_string()))
}

/// A session with its audio and MIDI, as a ZIP file.
#[utoipa::path(get, path = "/api/sessions/{id}/folder", responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/folder")]
pub async fn export(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let session = app.store.session(account.id(), *id).await?.document;
    let name = format!("{}.zip", safe(&session.header.title));
    let (sender, receiver) = mpsc::channel(4);
    let (store, account, runtime) = (app.store.clone(), account.id(), Handle::current());
    tokio::task::spawn_blocking(move || {
        let failed = sender.clone();
        let mut zip = ZipFolder::new(PieceWriter::new(sender));
        let written = write_folder(&session, |a| load_audio(&store, account, a, &runtime), &mut zip)
            .and_then(|()| zip.finish())
            .and_then(|mut out| Ok(out.flush()?));
        if let Err(error) = written {
            tracing::warn!(%error, "a session folder was not written to its end");
            let _ = failed.blocking_send(Err(std::io::Error::other(error)));
        }
    });
    Ok(HttpResponse::Ok()
        .content_type("application/zip")
        .insert_header(attachment(&name))
        .streaming(received(receiver)))
}

/// Makes a session of a session folder in a ZIP file.
#[utoipa::path(post, path = "/api/session-folders", request_body(content = Vec<u8>, content_type = "application/zip"), responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/session-folders")]
pub async fn import(app: web::Data<App>, account: SignedIn, body: web::Payload) -> Result<web::Json<Created>, Problem> {
    let file = spool(body, app.upload_bytes).await?;
    let (session, bank) = web::block(move || read_folder(&mut ZipSource::new(file)?)).await??;
    for asset in &session.assets {
        let pcm = pcm_bytes(bank[&asset.id].samples());
        app.store.put_asset(account.id(), asset, pcm.as_slice()).await?;
    }
    let id = app.store.add_session(account.id(), &session).await?;
    Ok(web::Json(Created { id }))
}
