//! Sessions as folders, in ZIP files. Audio passes through in pieces, whatever its length.

use super::bring_in::{room_for, spool};
use crate::answers::{PieceWriter, WAITING_PIECES, attachment, download, received};
use crate::auth::SignedIn;
use crate::changes::document;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, get, post, web};
use lane_document::session::{AssetRef, Session};
use lane_files::FileError;
use lane_files::folder::{
    FolderSession, FolderWriter, SnapshotCard, ZipFolder, ZipSource, read_pcm, read_session, read_snapshot,
    read_snapshots, write_audio, write_folder, write_snapshot, write_snapshots,
};
use lane_stems::labels::safe;
use lane_store::{NewSnapshot, PackedSession, SnapshotInfo, Store, StoreError};
use lane_units::AssetId;
use lane_wire::Created;
use std::collections::HashSet;
use std::fs::File;
use std::io::Write;
use time::OffsetDateTime;
use tokio::runtime::Handle;
use tokio::sync::mpsc;
use uuid::Uuid;

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

/// Writes the snapshots of a session into its folder, with the audio that they need beside its own.
fn write_kept(
    (session, kept): (Uuid, &[SnapshotInfo]),
    now: &Session,
    stored: impl Fn(Uuid, Uuid) -> Result<Session, StoreError>,
    mut audio: impl FnMut(&AssetRef, &mut dyn Write) -> Result<(), FileError>,
    to: &mut dyn FolderWriter,
) -> Result<(), FileError> {
    let mut written: HashSet<_> = now.assets.iter().map(|a| a.id.clone()).collect();
    let mut cards = Vec::new();
    for info in kept {
        // One that was removed meanwhile is left out.
        let document = match stored(session, info.id) {
            Err(StoreError::NotFound { .. }) => continue,
            other => other.map_err(|e| FileError::Folder { path: info.name.to_string(), reason: e.to_string() })?,
        };
        write_snapshot(cards.len(), &document, to)?;
        for asset in document.assets.iter().filter(|a| written.insert(a.id.clone())) {
            write_audio(asset, &mut audio, to)?;
        }
        cards.push(SnapshotCard {
            name: info.name.clone(),
            by_hand: info.by_hand,
            taken_at_us: (info.taken_at.unix_timestamp_nanos() / 1000) as i64,
            figures: serde_json::to_value(info.figures).unwrap_or_default(),
        });
    }
    if cards.is_empty() { Ok(()) } else { write_snapshots(&cards, to) }
}

/// A session with its snapshots, audio and MIDI, as a ZIP file.
#[utoipa::path(get, path = "/api/sessions/{id}/folder", responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/folder")]
pub async fn export(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let kept = app.store.snapshots(account.id(), *id).await?;
    let name = format!("{}.zip", safe(&session.header.title));
    let place = download(&app, account.id())?;
    let (sender, receiver) = mpsc::channel(WAITING_PIECES);
    let (store, account, runtime, id) = (app.store.clone(), account.id(), Handle::current(), *id);
    tokio::task::spawn_blocking(move || {
        let failed = sender.clone();
        let mut zip = ZipFolder::new(PieceWriter::new(sender));
        let audio = |a: &AssetRef, to: &mut dyn Write| stream_audio(&store, account, a, &runtime, to);
        let stored = |session: Uuid, id: Uuid| runtime.block_on(store.snapshot(account, session, id))?.read();
        let written = write_folder(&session, audio, &mut zip)
            .and_then(|()| write_kept((id, &kept), &session, stored, audio, &mut zip))
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
        .streaming(received(receiver, place)))
}

/// Opens a ZIP file and reads the document in it.
pub async fn read_zip(app: &App, account: Uuid, file: File) -> Result<(ZipSource<File>, FolderSession), Problem> {
    let read = app.sounds.run_for(account, move || {
        let mut zip = ZipSource::new(file)?;
        let read = read_session(&mut zip)?;
        Ok::<_, FileError>((zip, read))
    });
    Ok(read.await??)
}

/// Keeps the audio of a folder's session for an account, one piece after the other; gives the folder back.
pub async fn keep_folder_audio(
    app: &App,
    account: Uuid,
    mut zip: ZipSource<File>,
    session: &Session,
) -> Result<ZipSource<File>, Problem> {
    // What is there already takes nothing more.
    let ids: Vec<_> = session.assets.iter().map(|asset| asset.id.clone()).collect();
    let there = app.store.assets(account, &ids).await?;
    let new = session.assets.iter().filter(|asset| !there.contains_key(&asset.id));
    room_for(app, account, new.map(|asset| asset.bytes()).sum()).await?;
    for asset in session.assets.clone() {
        let wanted = asset.clone();
        let read = app.sounds.run_for(account, move || {
            let pcm = read_pcm(&mut zip, &wanted);
            (zip, pcm)
        });
        let (back, pcm) = read.await?;
        zip = back;
        app.store.put_asset(account, &asset, pcm?).await?;
    }
    Ok(zip)
}

/// Keeps one snapshot of a folder, with the audio that is not kept yet.
async fn keep_snapshot(
    app: &App,
    (account, id): (Uuid, Uuid),
    zip: ZipSource<File>,
    (place, card): (usize, &SnapshotCard),
    (rate, kept): (u32, &mut HashSet<AssetId>),
) -> Result<(ZipSource<File>, Option<Problem>), Problem> {
    let read = app.edits.run_for(account, move || {
        let mut zip = zip;
        let read = read_snapshot(&mut zip, place).and_then(|session| {
            let packed = PackedSession::of(&session)
                .map_err(|e| FileError::Folder { path: format!("snapshot {place}"), reason: e.to_string() })?;
            Ok((session, packed))
        });
        (zip, read)
    });
    let (zip, read) = read.await?;
    let (mut session, packed) = match read {
        Ok((session, _)) if session.header.sample_rate != rate => {
            return Ok((zip, Some(Problem::unprocessable("it has another sample rate than the session"))));
        }
        Ok(read) => read,
        Err(error) => return Ok((zip, Some(error.into()))),
    };
    session.assets.retain(|a| !kept.contains(&a.id));
    let zip = keep_folder_audio(app, account, zip, &session).await?;
    kept.extend(session.assets.iter().map(|a| a.id.clone()));
    let new = NewSnapshot {
        name: &card.name,
        by_hand: card.by_hand,
        taken_at: OffsetDateTime::from_unix_timestamp_nanos(i128::from(card.taken_at_us) * 1000).ok(),
        figures: serde_json::from_value(card.figures.clone()).unwrap_or_default(),
        document: &packed,
    };
    app.store.add_snapshot(account, id, &new).await?;
    Ok((zip, None))
}

/// Makes a session of a session folder in a ZIP file.
#[utoipa::path(post, path = "/api/session-folders", request_body(content = Vec<u8>, content_type = "application/zip"), responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/session-folders")]
pub async fn import(app: web::Data<App>, account: SignedIn, body: web::Payload) -> Result<web::Json<Created>, Problem> {
    let file = spool(body, app.upload_bytes).await?;
    let (zip, FolderSession { session, mut remarks }) = read_zip(&app, account.id(), file).await?;
    let mut zip = keep_folder_audio(&app, account.id(), zip, &session).await?;
    let id = app.store.add_session(account.id(), &session).await?;
    let listed = app.sounds.run_for(account.id(), move || {
        let cards = read_snapshots(&mut zip);
        (zip, cards)
    });
    let (mut zip, cards) = listed.await?;
    let cards = cards.unwrap_or_else(|error| {
        remarks.push(format!("Its snapshots were left out: {error}."));
        Vec::new()
    });
    let mut kept: HashSet<AssetId> = session.assets.iter().map(|a| a.id.clone()).collect();
    for (place, card) in cards.iter().enumerate() {
        let of = (session.header.sample_rate, &mut kept);
        // The session is there; a snapshot that is not is told.
        match keep_snapshot(&app, (account.id(), id), zip, (place, card), of).await {
            Ok((back, problem)) => {
                zip = back;
                remarks.extend(problem.map(|p| format!("The snapshot {} was left out: {p}", card.name)));
            }
            Err(problem) => {
                remarks.push(format!("The snapshot {} and those behind it were left out: {problem}", card.name));
                break;
            }
        }
    }
    Ok(web::Json(Created { id, remarks }))
}

/// Everything that a session plays, as a MIDI file with a track for each voice.
#[utoipa::path(get, path = "/api/sessions/{id}/midi", responses((status = 200, content_type = "audio/midi"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/midi")]
pub async fn midi(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let name = format!("{}.mid", safe(&session.header.title));
    let bytes = app.edits.run_for(account.id(), move || lane_files::midi::write_song(&session)).await?;
    Ok(HttpResponse::Ok().content_type("audio/midi").insert_header(attachment(&name)).body(bytes))
}
