//! Audio for playing.

use crate::answers::{Pieces, received};
use crate::auth::SignedIn;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, get, web};
use lane_units::AssetId;
use tokio::sync::mpsc;

/// The samples of an asset: little-endian 32-bit floats, interleaved.
#[utoipa::path(get, path = "/api/assets/{id}", responses((status = 200, content_type = "application/octet-stream"), (status = 404, body = Problem)))]
#[get("/api/assets/{id}")]
pub async fn pcm(app: web::Data<App>, account: SignedIn, id: web::Path<String>) -> Result<HttpResponse, Problem> {
    let id = AssetId(id.into_inner());
    let chunks = app.store.asset_chunks(account.id(), &id).await?;
    let place = app.playing.take(account.id()).await?;
    let (sender, receiver) = mpsc::channel(1);
    let store = app.store.clone();
    tokio::spawn(async move {
        for position in 0..chunks {
            let chunk = store.asset_chunk(&id, position).await.map(Into::into).map_err(std::io::Error::other);
            let broken = chunk.is_err();
            if sender.send(chunk).await.is_err() || broken {
                return;
            }
        }
    });
    let pieces: Pieces = received(receiver, place);
    Ok(HttpResponse::Ok()
        .content_type("application/octet-stream")
        // What stands under a content address never changes.
        .insert_header(("cache-control", "private, max-age=31536000, immutable"))
        .streaming(pieces))
}
