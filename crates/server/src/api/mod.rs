//! The interface for programs: one file a resource.

pub mod accounts;
pub mod assets;
pub mod bring_in;
pub mod events;
pub mod folders;
pub mod health;
pub mod library;
pub mod listening;
pub mod openapi;
pub mod presets;
pub mod renders;
pub mod sessions;
pub mod snapshots;
pub mod templates;
pub mod types;

use crate::problem::Problem;
use crate::state::App;
use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, ResponseError, web};
use futures_util::{Stream, StreamExt};
use std::pin::Pin;
use tokio::sync::mpsc;

/// Any address under `/api` that is none of ours, or one of ours asked for in a way that it does not know.
pub async fn unknown(request: HttpRequest) -> Result<HttpResponse, Problem> {
    let allowed = openapi::methods(request.path());
    if allowed.is_empty() {
        return Err(Problem::not_found(format!("There is nothing at {}.", request.path())));
    }
    let allowed = allowed.join(", ");
    let detail = format!("{} takes {allowed}, not {}.", request.path(), request.method());
    let mut answer = Problem::new(StatusCode::METHOD_NOT_ALLOWED, detail).error_response();
    if let Ok(value) = header::HeaderValue::from_str(&allowed) {
        answer.headers_mut().insert(header::ALLOW, value);
    }
    Ok(answer)
}

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

/// An answer as JSON, written beside the requests.
pub async fn json_of(app: &App, value: impl serde::Serialize + Send + 'static) -> Result<HttpResponse, Problem> {
    let json = app.edits.run(move || serde_json::to_vec(&value)).await?.map_err(Problem::internal)?;
    Ok(HttpResponse::Ok().content_type("application/json").body(json))
}

/// Pieces of a streamed answer.
pub type Pieces = Pin<Box<dyn Stream<Item = Result<actix_web::web::Bytes, std::io::Error>>>>;

/// Pieces that another thread sends.
pub fn received(pieces: mpsc::Receiver<Result<actix_web::web::Bytes, std::io::Error>>) -> Pieces {
    Box::pin(tokio_stream::wrappers::ReceiverStream::new(pieces))
}

/// A writer whose bytes are sent to a streamed answer, from a thread that may wait.
pub struct PieceWriter {
    to: mpsc::Sender<Result<actix_web::web::Bytes, std::io::Error>>,
    waiting: Vec<u8>,
}

/// Bytes sent at a time.
const PIECE_BYTES: usize = 1 << 18;

impl PieceWriter {
    pub fn new(to: mpsc::Sender<Result<actix_web::web::Bytes, std::io::Error>>) -> Self {
        PieceWriter { to, waiting: Vec::new() }
    }

    fn send(&mut self) -> std::io::Result<()> {
        let piece = std::mem::take(&mut self.waiting);
        // The other end is gone when the person stopped the download.
        self.to.blocking_send(Ok(piece.into())).map_err(|_| std::io::ErrorKind::BrokenPipe.into())
    }
}

impl std::io::Write for PieceWriter {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.waiting.extend_from_slice(bytes);
        if self.waiting.len() >= PIECE_BYTES {
            self.send()?;
        }
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        if self.waiting.is_empty() { Ok(()) } else { self.send() }
    }
}

/// The header that makes a browser keep an answer as a file (RFC 6266).
pub fn attachment(name: &str) -> (&'static str, String) {
    let plain: String =
        name.chars().map(|c| if c.is_ascii_alphanumeric() || "-_.# ".contains(c) { c } else { '_' }).collect();
    let coded: String = name
        .bytes()
        .map(|b| {
            if b.is_ascii_alphanumeric() || b"-_.".contains(&b) { (b as char).to_string() } else { format!("%{b:02X}") }
        })
        .collect();
    ("content-disposition", format!("attachment; filename=\"{plain}\"; filename*=UTF-8''{coded}"))
}
