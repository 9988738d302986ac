//! The interface for programs: one file a resource.

mod accounts;
mod assets;
mod bring_in;
mod events;
mod faults;
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

pub use health::{metrics, whoever_asks};
pub use routes::services;

use crate::problem::Problem;
use crate::state::App;
use actix_web::http::StatusCode;
use actix_web::web;
use futures_util::StreamExt;
use std::time::Duration;
use tokio::sync::OwnedSemaphorePermit;
use uuid::Uuid;

/// Bytes of a body that an account may send as many of as it likes at once.
const SMALL_BODY: usize = 64 << 10;
/// How long a request may be silent before its body is there.
const SILENCE: Duration = Duration::from_secs(10);

/// The next piece of a request's body; none at its end.
///
/// # Errors
/// 408 where none comes for a while; 400 where it breaks off.
pub async fn next_piece(payload: &mut web::Payload) -> Result<Option<web::Bytes>, Problem> {
    match tokio::time::timeout(SILENCE, payload.next()).await {
        Ok(None) => Ok(None),
        Ok(Some(Ok(piece))) => Ok(Some(piece)),
        Ok(Some(Err(error))) => Err(Problem::bad_request(format!("The request broke off: {error}. Send it again."))),
        Err(_) => {
            let detail =
                format!("Nothing came for {} s, so the request was given up. Send it again.", SILENCE.as_secs());
            Err(Problem::new(StatusCode::REQUEST_TIMEOUT, detail))
        }
    }
}

/// The body of a request, within a limit. Of one account, few large ones are there at a time: what is given with one holds its
/// place until the request is done.
///
/// # Errors
/// 413 where it is larger; 408 and 400 as with [`next_piece`]; 429 where too many large ones wait.
pub async fn body_of(
    app: &App,
    account: Uuid,
    mut payload: web::Payload,
    limit: usize,
) -> Result<(Vec<u8>, Option<OwnedSemaphorePermit>), Problem> {
    let mut body = Vec::new();
    let mut place = None;
    while let Some(piece) = next_piece(&mut payload).await? {
        if body.len() + piece.len() > SMALL_BODY && place.is_none() {
            place = Some(app.large_bodies.take(account).await?);
        }
        if body.len() + piece.len() > limit {
            let detail = format!("The request is larger than {} KiB, which nothing here needs.", limit >> 10);
            return Err(Problem::new(StatusCode::PAYLOAD_TOO_LARGE, detail));
        }
        body.extend_from_slice(&piece);
    }
    Ok((body, place))
}
