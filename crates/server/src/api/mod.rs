//! The interface for programs: one file a resource.

mod accounts;
mod assets;
mod bring_in;
mod events;
mod folders;
mod health;
mod library;
mod presets;
mod renders;
mod routes;
mod schema;
mod sessions;
mod snapshots;
mod templates;

pub use routes::services;

use crate::problem::Problem;
use actix_web::http::StatusCode;
use actix_web::web;
use futures_util::StreamExt;

/// The body of a request, within a limit.
///
/// # Errors
/// 413 where it is larger; 400 where it breaks off.
pub async fn body_of(mut payload: web::Payload, limit: usize) -> Result<Vec<u8>, Problem> {
    let mut body = Vec::new();
    while let Some(piece) = payload.next().await {
        let piece = piece.map_err(|e| Problem::bad_request(format!("The request broke off: {e}. Send it again.")))?;
        if body.len() + piece.len() > limit {
            let detail = format!("The request is larger than {} KiB, which nothing here needs.", limit >> 10);
            return Err(Problem::new(StatusCode::PAYLOAD_TOO_LARGE, detail));
        }
        body.extend_from_slice(&piece);
    }
    Ok(body)
}
