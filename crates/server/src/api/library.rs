//! The samples of an account.

use crate::auth::SignedIn;
use crate::changes::document;
use crate::lines;
use crate::problem::Problem;
use crate::sounds::keep_house;
use crate::state::App;
use actix_web::{HttpResponse, delete, get, post, web};
use lane_document::session::{AssetRef, Audio, Family};
use lane_files::asset::{pcm_bytes, pcm_samples};
use lane_files::{asset_id, resampled};
use lane_units::AssetId;
use lane_wire::{BroughtSound, LibraryLine};
use serde::Deserialize;
use uuid::Uuid;

#[derive(Debug, Deserialize)]
pub struct Search {
    #[serde(default)]
    search: String,
    family: Option<Family>,
}

/// Samples by words of their name and by family.
#[utoipa::path(get, path = "/api/library", params(("search" = String, Query), ("family" = Option<String>, Query)), responses((status = 200, body = Vec<LibraryLine>)))]
#[get("/api/library")]
pub async fn search(
    app: web::Data<App>,
    account: SignedIn,
    query: web::Query<Search>,
) -> Result<web::Json<Vec<LibraryLine>>, Problem> {
    let found = app.store.library(account.id(), &query.search, query.family).await?;
    Ok(web::Json(found.into_iter().map(lines::library).collect()))
}

/// Puts our own sounds into the library.
#[utoipa::path(post, path = "/api/library/house", responses((status = 204)))]
#[post("/api/library/house")]
pub async fn house(app: web::Data<App>, account: SignedIn) -> Result<HttpResponse, Problem> {
    keep_house(&app, account.id()).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Takes a sample out of the library; sessions that use it keep it.
#[utoipa::path(delete, path = "/api/library/{asset}", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/api/library/{asset}")]
pub async fn remove(app: web::Data<App>, account: SignedIn, id: web::Path<String>) -> Result<HttpResponse, Problem> {
    app.store.drop_from_library(account.id(), &AssetId(id.into_inner())).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// A sample of the library as a session can use it: at the session's rate.
#[utoipa::path(post, path = "/api/sessions/{id}/sounds/{asset}", responses((status = 200, body = BroughtSound), (status = 404, body = Problem)))]
#[post("/api/sessions/{id}/sounds/{asset}")]
pub async fn use_sound(
    app: web::Data<App>,
    account: SignedIn,
    path: web::Path<(Uuid, String)>,
) -> Result<web::Json<BroughtSound>, Problem> {
    let (session, asset) = path.into_inner();
    let rate = document(&app, account.id(), session).await?.header.sample_rate;
    let sound = app.store.library_sound(account.id(), &AssetId(asset)).await?;
    let asset = at_rate(&app, account.id(), sound.asset, rate).await?;
    let (name, family, peak_dbfs) = (sound.name, sound.family, sound.peak_dbfs);
    Ok(web::Json(BroughtSound { name, family, asset, peak_dbfs, time_reference: None, remarks: vec![] }))
}

/// An account's audio at a sample rate: itself, or converted and kept.
pub async fn at_rate(app: &App, account: Uuid, old: AssetRef, rate: u32) -> Result<AssetRef, Problem> {
    if old.sample_rate == rate {
        return Ok(old);
    }
    let bytes = app.store.asset_bytes(account, &old.id).await?;
    let (channels, from, name) = (old.channels, old.sample_rate, old.name);
    let audio = app
        .sounds
        .run(move || {
            let audio = Audio::new(channels, pcm_samples(&bytes)).map_err(|e| e.to_string())?;
            resampled(&audio, from, rate).map_err(|e| e.to_string())
        })
        .await?
        .map_err(Problem::unprocessable)?;
    let asset = AssetRef {
        id: asset_id(&audio, rate),
        name,
        channels: audio.channels(),
        sample_rate: rate,
        frames: audio.frames() as u32,
    };
    app.store.put_asset(account, &asset, std::io::Cursor::new(pcm_bytes(audio.samples()))).await?;
    Ok(asset)
}
