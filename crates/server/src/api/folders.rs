//! Sessions as folders, in ZIP files. Audio passes through in pieces, whatever its length.

use super::bring_in::{room_for, spool};
use super::types::Created;
use super::{PieceWriter, attachment, received};
use crate::auth::SignedIn;
use crate::changes::document;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, get, post, web};
use lane_core::session::{AssetRef, Audio, AudioError, Session};
use lane_core::stems::labels::safe;
use lane_files::FileError;
use lane_files::asset::pcm_samples;
use lane_files::folder::{FolderSession, ZipFolder, ZipSource, read_pcm, read_session, write_folder};
use lane_store::{Store, StoreError};
use std::fs::File;
use std::io::Write;
use std::sync::Arc;
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use uuid::Uuid;

/// Why audio is not at hand.
#[derive(Debug, thiserror::Error)]
pub enum LoadError {
    #[error("{0}")]
    Store(#[from] StoreError),
    #[error("the audio {name} is damaged in the store: {reason}")]
    Audio { name: String, reason: AudioError },
}

impl From<LoadError> for Problem {
    fn from(error: LoadError) -> Self {
        match error {
            LoadError::Store(error) => error.into(),
            damaged => Self::internal(damaged),
        }
    }
}

/// The audio of an account's asset, for threads that may wait.
pub fn load_audio(store: &Store, account: Uuid, asset: &AssetRef, runtime: &Handle) -> Result<Arc<Audio>, LoadError> {
    let bytes = runtime.block_on(store.asset_bytes(account, &asset.id))?;
    let damaged = |reason| LoadError::Audio { name: asset.name.to_string(), reason };
    Audio::new(asset.channels, pcm_samples(&bytes)).map(Arc::new).map_err(damaged)
}

/// Writes the samples of an account's asset piece by piece, for threads that may wait.
pub fn stream_audio(
    store: &Store,
    account: Uuid,
    asset: &AssetRef,
    runtime: &Handle,
    to: &mut dyn Write,
) -> Result<(), FileError> {
    let fault = |e: StoreError| FileError::Folder { path: asset.name.to_string(), reason: e.to_string() };
    for position in 0..runtime.block_on(store.asset_chunks(account, &asset.id)).map_err(fault)? {
        to.write_all(&runtime.block_on(store.asset_chunk(&asset.id, position)).map_err(fault)?)?;
    }
    Ok(())
}

/// A session with its audio and MIDI, as a ZIP file.
#[utoipa::path(get, path = "/api/sessions/{id}/folder", responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/folder")]
pub async fn export(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let name = format!("{}.zip", safe(&session.header.title));
    let (sender, receiver) = mpsc::channel(4);
    let (store, account, runtime) = (app.store.clone(), account.id(), Handle::current());
    tokio::task::spawn_blocking(move || {
        let failed = sender.clone();
        let mut zip = ZipFolder::new(PieceWriter::new(sender));
        let audio = |a: &AssetRef, to: &mut dyn Write| stream_audio(&store, account, a, &runtime, to);
        let written =
            write_folder(&session, audio, &mut zip).and_then(|()| zip.finish()).and_then(|mut out| Ok(out.flush()?));
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

/// Opens a ZIP file and reads the document in it.
pub async fn read_zip(app: &App, file: File) -> Result<(ZipSource<File>, FolderSession), Problem> {
    let read = app.sounds.run(move || {
        let mut zip = ZipSource::new(file)?;
        let read = read_session(&mut zip)?;
        Ok::<_, FileError>((zip, read))
    });
    Ok(read.await??)
}

/// Keeps the audio of a folder's session for an account, one piece after the other.
pub async fn keep_folder_audio(
    app: &App,
    account: Uuid,
    mut zip: ZipSource<File>,
    session: &Session,
) -> Result<(), Problem> {
    room_for(app, account, session.audio_bytes()).await?;
    for asset in session.assets.clone() {
        let wanted = asset.clone();
        let read = app.sounds.run(move || {
            let pcm = read_pcm(&mut zip, &wanted);
            (zip, pcm)
        });
        let (back, pcm) = read.await?;
        zip = back;
        app.store.put_asset(account, &asset, pcm?).await?;
    }
    Ok(())
}

/// Makes a session of a session folder in a ZIP file.
#[utoipa::path(post, path = "/api/session-folders", request_body(content = Vec<u8>, content_type = "application/zip"), responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/session-folders")]
pub async fn import(app: web::Data<App>, account: SignedIn, body: web::Payload) -> Result<web::Json<Created>, Problem> {
    let file = spool(body, app.upload_bytes).await?;
    let (zip, FolderSession { session, remarks }) = read_zip(&app, file).await?;
    keep_folder_audio(&app, account.id(), zip, &session).await?;
    let id = app.store.add_session(account.id(), &session).await?;
    Ok(web::Json(Created { id, remarks }))
}
