//! How answers are written: as JSON beside the requests, or in pieces as they come.

use crate::problem::Problem;
use crate::state::App;
use actix_web::HttpResponse;
use futures_util::Stream;
use lane_document::json::{JsonError, ToJson};
use serde_json::value::RawValue;
use std::pin::Pin;
use tokio::sync::mpsc;

/// An answer as JSON, written beside the requests.
pub async fn json_of(app: &App, value: impl serde::Serialize + Send + 'static) -> Result<HttpResponse, Problem> {
    let json = app.edits.run(move || serde_json::to_vec(&value)).await?.map_err(Problem::internal)?;
    Ok(HttpResponse::Ok().content_type("application/json").body(json))
}

/// A document or what follows from it, as it is put into an answer.
pub fn raw(value: &impl ToJson) -> Result<Box<RawValue>, JsonError> {
    RawValue::from_string(value.to_json_text()?)
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
