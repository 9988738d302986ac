//! How answers are written: as JSON beside the requests, or in pieces as they come.

use crate::problem::Problem;
use crate::state::{App, DOWNLOADS};
use actix_web::HttpResponse;
use futures_util::{Stream, StreamExt};
use lane_document::json::{JsonError, ToJson};
use serde_json::value::RawValue;
use std::pin::Pin;
use tokio::sync::{OwnedSemaphorePermit, mpsc};
use uuid::Uuid;

/// An answer as JSON, written beside the requests.
pub async fn json_of(
    app: &App,
    account: Uuid,
    value: impl serde::Serialize + Send + 'static,
) -> Result<HttpResponse, Problem> {
    let json = app.edits.run_for(account, move || serde_json::to_vec(&value)).await?.map_err(Problem::internal)?;
    Ok(HttpResponse::Ok().content_type("application/json").body(json))
}

/// A document or what follows from it, as it is put into an answer.
pub fn raw(value: &impl ToJson) -> Result<Box<RawValue>, JsonError> {
    RawValue::from_string(value.to_json_text()?)
}

/// Pieces of a streamed answer.
pub type Pieces = Pin<Box<dyn Stream<Item = Result<actix_web::web::Bytes, std::io::Error>>>>;

/// Pieces that another thread sends; the place that they take is free again once nobody waits for more.
pub fn received(
    pieces: mpsc::Receiver<Result<actix_web::web::Bytes, std::io::Error>>,
    place: OwnedSemaphorePermit,
) -> Pieces {
    Box::pin(tokio_stream::wrappers::ReceiverStream::new(pieces).map(move |piece| {
        let _ = &place;
        piece
    }))
}

/// A place for a file that is sent to an account.
///
/// # Errors
/// 429 where so many are under way that nobody reads them.
pub fn download(app: &App, account: Uuid) -> Result<OwnedSemaphorePermit, Problem> {
    app.downloads.at_once(account).ok_or_else(|| {
        let detail = format!("{DOWNLOADS} downloads of this account are under way. Wait for one, or stop one.");
        Problem::too_many(detail, 10)
    })
}

/// Pieces of a download that wait to be read.
pub const WAITING_PIECES: usize = 3;

/// A writer whose bytes are sent to a streamed answer, from a thread that may wait.
pub struct PieceWriter {
    to: mpsc::Sender<Result<actix_web::web::Bytes, std::io::Error>>,
    waiting: Vec<u8>,
}

/// Bytes sent at a time.
const PIECE_BYTES: usize = 1 << 14;

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
