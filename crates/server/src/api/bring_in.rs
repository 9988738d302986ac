//! Files that a person drops.

use super::next_piece;
use crate::answers::raw;
use crate::auth::SignedIn;
use crate::changes::document;
use crate::problem::Problem;
use crate::sounds::{described, keep_house_sounds};
use crate::state::App;
use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use lane_document::edit::TakeSound;
use lane_document::session::{AssetRef, Take, limits};
use lane_files::names::voice_name;
use lane_files::{Converted, FileError, convert_while, midi};
use lane_store::LibrarySound;
use lane_units::{FileName, Name, TakeId};
use lane_wire::{BroughtIn, BroughtSound, BroughtTake};
use serde::Deserialize;
use std::fs::File;
use std::io::{Read, Seek, SeekFrom, Write};
use uuid::Uuid;

/// Longer than this in seconds is a recording rather than a one-shot.
const ONE_SHOT_SECONDS: u32 = 8;
/// Bytes of a MIDI file at most.
const MIDI_BYTES: u64 = 16 << 20;

#[derive(Debug, Deserialize)]
pub struct Named {
    /// The file's name.
    name: String,
}

/// A sound that is about to be sent, as far as its file says it before.
#[derive(Debug, Deserialize, utoipa::IntoParams)]
pub struct Coming {
    /// At the session's rate.
    frames: u32,
    channels: u16,
}

/// Whether the account has room for a sound, before it is sent: 422 says why not. One that may be there already always has.
#[utoipa::path(get, path = "/api/sessions/{id}/room", params(Coming), responses((status = 204), (status = 422, body = Problem)))]
#[get("/api/sessions/{id}/room")]
pub async fn room(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    coming: web::Query<Coming>,
) -> Result<HttpResponse, Problem> {
    let rate = document(&app, account.id(), *id).await?.header.sample_rate;
    let Coming { frames, channels } = coming.into_inner();
    if !app.store.holds_as_long(account.id(), frames, rate).await? {
        room_for(&app, account.id(), u64::from(frames) * u64::from(channels) * 4).await?;
    }
    Ok(HttpResponse::NoContent().finish())
}

/// Reads one file, keeps its audio, and says what it is. The session is not changed by this.
#[utoipa::path(post, path = "/api/sessions/{id}/bring-in", params(("name" = String, Query)), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = BroughtIn), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/api/sessions/{id}/bring-in")]
pub async fn bring_in(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    query: web::Query<Named>,
    body: web::Payload,
) -> Result<web::Json<BroughtIn>, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let rate = session.header.sample_rate;
    let mut file = spool(body, app.upload_bytes).await?;
    let name = FileName::cleaned(&query.name, "");
    let mut first = [0; 4];
    let got = file.read(&mut first).map_err(Problem::internal)?;
    file.seek(SeekFrom::Start(0)).map_err(Problem::internal)?;
    if midi::is_midi(&first[..got]) {
        let take = app.sounds.run_for(account.id(), move || read_midi(&name, file)).await??;
        let sounds = keep_house_sounds(&app, account.id(), &take, rate).await?;
        return Ok(web::Json(BroughtIn::Midi(BroughtTake { take: raw(&take).map_err(Problem::internal)?, sounds })));
    }
    let (converted, sound) = app
        .sounds
        .run_while_asked(account.id(), move |asked| {
            let converted = convert_while(file, rate, &|| asked.still())?;
            let Converted { ref id, channels, sample_rate, frames, peak, ref head, .. } = converted;
            let voice = Name::cleaned(&voice_name(&name), "Voice");
            let asset = AssetRef { id: id.clone(), name, channels, sample_rate, frames };
            let sound = described(voice, asset, head, peak);
            Ok::<_, FileError>((converted, sound))
        })
        .await??;
    let time_reference = converted.time_reference;
    let remarks = converted.remarks;
    let bytes = sound.asset.bytes();
    let there = session.asset(&sound.asset.id).is_some();
    if !there && session.audio_bytes() + bytes > limits::SESSION_AUDIO_BYTES {
        return Err(Problem::unprocessable(format!(
            "{} would take {} MiB while it plays; this session has room for {} MiB more. Cut it, or leave something out.",
            sound.asset.name,
            bytes.div_ceil(1 << 20),
            limits::SESSION_AUDIO_BYTES.saturating_sub(session.audio_bytes()) >> 20
        )));
    }
    // What is there already takes nothing more.
    if app.store.assets(account.id(), std::slice::from_ref(&sound.asset.id)).await?.is_empty() {
        room_for(&app, account.id(), bytes).await?;
    }
    app.store.put_asset(account.id(), &sound.asset, converted.pcm).await?;
    let long = sound.asset.frames > ONE_SHOT_SECONDS * rate;
    if !long {
        app.store.keep_in_library(account.id(), &sound).await?;
    }
    let LibrarySound { asset, name, family, peak_dbfs, .. } = sound;
    let sound = BroughtSound { name, family, asset, peak_dbfs, time_reference, remarks };
    Ok(web::Json(if long { BroughtIn::Recording(sound) } else { BroughtIn::OneShot(sound) }))
}

/// House sounds for a take that is kept, to split it again.
#[utoipa::path(get, path = "/api/sessions/{id}/takes/{take}/sounds", responses((status = 200, body = Vec<lane_wire::described::TakeSound>), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/takes/{take}/sounds")]
pub async fn take_sounds(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, u32)>,
) -> Result<web::Json<Vec<TakeSound>>, Problem> {
    let (id, take) = path.into_inner();
    let session = document(&app, account.id(), id).await?;
    let kept = session.take(TakeId(take));
    let kept = kept.ok_or_else(|| Problem::not_found("The take is not in the session any more."))?;
    let rate = session.header.sample_rate;
    Ok(web::Json(keep_house_sounds(&app, account.id(), &kept.take, rate).await?))
}

/// A temporary file that could not be written: most often a full disk.
fn no_room(error: std::io::Error) -> Problem {
    tracing::error!(%error, "an upload could not be kept");
    let detail = "The server has no room for uploads right now; nothing was changed. Try again later.";
    Problem::new(StatusCode::INSUFFICIENT_STORAGE, detail)
}

/// Writes an upload to a temporary file, piece by piece.
pub async fn spool(mut body: web::Payload, limit: u64) -> Result<File, Problem> {
    let mut file = tempfile::tempfile().map_err(Problem::internal)?;
    let mut bytes = 0;
    while let Some(piece) = next_piece(&mut body).await? {
        bytes += piece.len() as u64;
        if bytes > limit {
            let detail = format!("The file is larger than {} MiB. Cut it and drop the parts.", limit >> 20);
            return Err(Problem::new(StatusCode::PAYLOAD_TOO_LARGE, detail));
        }
        file.write_all(&piece).map_err(no_room)?;
    }
    file.seek(SeekFrom::Start(0)).map_err(Problem::internal)?;
    Ok(file)
}

/// Refuses what would be more than the account may hold.
pub async fn room_for(app: &App, account: Uuid, bytes: u64) -> Result<(), Problem> {
    let held = app.store.holdings(account).await?.bytes();
    if held + bytes <= app.account_bytes {
        return Ok(());
    }
    let mib = |bytes: u64| bytes.div_ceil(1 << 20);
    Err(Problem::unprocessable(format!(
        "Your account holds {} of {} MiB, and this takes {} more. Remove renders, snapshots, sessions or samples that you do not need.",
        mib(held),
        mib(app.account_bytes),
        mib(bytes)
    )))
}

fn read_midi(name: &str, file: File) -> Result<Take, FileError> {
    let mut bytes = Vec::new();
    file.take(MIDI_BYTES + 1).read_to_end(&mut bytes)?;
    if bytes.len() as u64 > MIDI_BYTES {
        return Err(FileError::Damaged("it is larger than 16 MiB, which no MIDI file of a song is".into()));
    }
    midi::read_take(name, &bytes)
}
