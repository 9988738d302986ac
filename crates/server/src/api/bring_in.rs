//! Files that a person drops.

use super::types::{BroughtIn, BroughtSound, BroughtTake};
use crate::app::App;
use crate::auth::SignedIn;
use crate::problem::Problem;
use actix_web::http::StatusCode;
use actix_web::{post, web};
use futures_util::StreamExt;
use lane_core::analysis::guess_family;
use lane_core::edit::TakeSound;
use lane_core::midi::{Take, lanes};
use lane_core::session::AssetRef;
use lane_demo::house_sound;
use lane_files::asset::pcm_bytes;
use lane_files::names::voice_name;
use lane_files::{Converted, FileError, asset_id, convert, midi};
use lane_store::Store;
use serde::Deserialize;
use std::fs::File;
use std::io::{Read, Seek, SeekFrom, Write};
use uuid::Uuid;

/// Longer than this in seconds is a recording rather than a one-shot.
const ONE_SHOT_SECONDS: u32 = 8;
/// Bytes of a MIDI file at most.
const MIDI_BYTES: u64 = 16 << 20;
/// Characters kept of a file name.
const FILE_NAME_CHARS: usize = 200;

#[derive(Debug, Deserialize)]
pub struct Named {
    /// The file's name.
    name: String,
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
    let rate = app.store.session(account.id(), *id).await?.document.header.sample_rate;
    let mut file = spool(body, app.upload_bytes).await?;
    let name: String = query.name.chars().take(FILE_NAME_CHARS).collect();
    let mut first = [0; 4];
    let got = file.read(&mut first).map_err(Problem::internal)?;
    file.seek(SeekFrom::Start(0)).map_err(Problem::internal)?;
    if midi::is_midi(&first[..got]) {
        let take = web::block(move || read_midi(&name, file)).await??;
        let sounds = keep_house_sounds(&app.store, account.id(), &take, rate).await?;
        return Ok(web::Json(BroughtIn::Midi(BroughtTake { take, sounds })));
    }
    let converted = web::block(move || convert(file, rate)).await??;
    let Converted { id, channels, sample_rate, frames, head, pcm } = converted;
    let voice = voice_name(&name);
    let family = guess_family(&voice, &head, rate);
    let asset = AssetRef { id, name, channels, sample_rate, frames };
    app.store.put_asset(account.id(), &asset, pcm).await?;
    let long = frames > ONE_SHOT_SECONDS * rate;
    let sound = BroughtSound { name: voice, family, asset };
    Ok(web::Json(if long { BroughtIn::Recording(sound) } else { BroughtIn::OneShot(sound) }))
}

/// Writes an upload to a temporary file, piece by piece.
pub async fn spool(mut body: web::Payload, limit: u64) -> Result<File, Problem> {
    let mut file = tempfile::tempfile().map_err(Problem::internal)?;
    let mut bytes = 0;
    while let Some(piece) = body.next().await {
        let piece =
            piece.map_err(|e| Problem::bad_request(format!("The upload broke off: {e}. Drop the file again.")))?;
        bytes += piece.len() as u64;
        if bytes > limit {
            let detail = format!("The file is larger than {} MiB. Cut it and drop the parts.", limit >> 20);
            return Err(Problem::new(StatusCode::PAYLOAD_TOO_LARGE, detail));
        }
        file.write_all(&piece).map_err(Problem::internal)?;
    }
    file.seek(SeekFrom::Start(0)).map_err(Problem::internal)?;
    Ok(file)
}

fn read_midi(name: &str, file: File) -> Result<Take, FileError> {
    let mut bytes = Vec::new();
    file.take(MIDI_BYTES + 1).read_to_end(&mut bytes)?;
    if bytes.len() as u64 > MIDI_BYTES {
        return Err(FileError::Damaged("it is larger than 16 MiB, which no MIDI file of a song is".into()));
    }
    midi::read_take(name, &bytes)
}

/// House sounds for the lanes of a take, so that it plays at once.
async fn keep_house_sounds(store: &Store, account: Uuid, take: &Take, rate: u32) -> Result<Vec<TakeSound>, Problem> {
    let wanted: Vec<_> = lanes(take).into_iter().map(|l| (house_sound(&l.name, l.family, l.melodic), l.name)).collect();
    let rendered = web::block(move || {
        wanted.into_iter().map(|(sound, lane)| (sound, lane, sound.render(rate))).collect::<Vec<_>>()
    });
    let mut sounds = Vec::new();
    for (sound, lane, audio) in rendered.await? {
        let asset = AssetRef {
            id: asset_id(&audio, rate),
            name: sound.file_name().into(),
            channels: audio.channels(),
            sample_rate: rate,
            frames: audio.frames() as u32,
        };
        store.put_asset(account, &asset, pcm_bytes(audio.samples()).as_slice()).await?;
        sounds.push(TakeSound { lane, asset });
    }
    Ok(sounds)
}
