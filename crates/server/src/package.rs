//! Stems as files: samples, sums and sheet, the same wherever they go.

use lane_document::session::{AssetBank, Session};
use lane_files::asset::hex;
use lane_files::wav::{encode_frames, header};
use lane_stems::{Figures, RenderStopped, SheetFile, StemJob, StemSink, render, session_sheet};
use lane_units::Frame;
use sha2::{Digest, Sha256};

/// Bytes of a piece of a file.
pub const PIECE_BYTES: usize = 1 << 20;
/// The file that `sha256sum -c` reads.
pub const SUMS_NAME: &str = "SHA256SUMS";

/// Where files go, piece by piece.
pub trait FileOutput {
    type Error;
    /// The next piece of a file.
    fn write(&mut self, file: usize, piece: &[u8]) -> Result<(), Self::Error>;
    /// Frames done; `false` stops the work.
    fn progress(&mut self, frames: u64) -> Result<bool, Self::Error>;
}

/// One finished file.
#[derive(Debug, Clone)]
pub struct PackageFile {
    pub name: String,
    pub bytes: u64,
    pub sha256: String,
}

struct OpenFile {
    waiting: Vec<u8>,
    sum: Sha256,
    bytes: u64,
}

impl OpenFile {
    fn new(start: &[u8]) -> Self {
        OpenFile { waiting: start.to_vec(), sum: Sha256::new(), bytes: 0 }
    }

    /// Hands over whole pieces; with `last`, the rest too.
    fn pass_on<O: FileOutput>(&mut self, at: usize, last: bool, to: &mut O) -> Result<(), O::Error> {
        while self.waiting.len() >= PIECE_BYTES || (last && !self.waiting.is_empty()) {
            let rest = self.waiting.split_off(self.waiting.len().min(PIECE_BYTES));
            let piece = std::mem::replace(&mut self.waiting, rest);
            self.sum.update(&piece);
            self.bytes += piece.len() as u64;
            to.write(at, &piece)?;
        }
        Ok(())
    }

    fn finish(self, name: String) -> PackageFile {
        PackageFile { name, bytes: self.bytes, sha256: hex(&self.sum.finalize()) }
    }
}

struct Sink<'a, O> {
    job: &'a StemJob,
    files: Vec<OpenFile>,
    output: &'a mut O,
}

impl<O: FileOutput> StemSink for Sink<'_, O> {
    type Error = O::Error;

    fn write(&mut self, stem: usize, frames: &[Frame]) -> Result<(), O::Error> {
        encode_frames(self.job.depth, frames, &mut self.files[stem].waiting);
        self.files[stem].pass_on(stem, false, self.output)
    }

    fn progress(&mut self, done: u64) -> Result<bool, O::Error> {
        self.output.progress(done)
    }
}

/// Renders a job into files: stems, then the sheet, then the sums.
///
/// # Errors
/// [`RenderStopped`] where the output stopped it or failed.
pub fn write_package<O: FileOutput>(
    session: &Session,
    bank: &AssetBank,
    job: &StemJob,
    output: &mut O,
) -> Result<(Vec<PackageFile>, Figures), RenderStopped<O::Error>> {
    let start = header(job.depth, session.header.sample_rate, job.frames());
    let files = job.stems.iter().map(|_| OpenFile::new(&start)).collect();
    let mut sink = Sink { job, files, output };
    let figures = render(session, bank, job, &mut sink)?;
    let mut done = Vec::new();
    for (at, mut file) in sink.files.into_iter().enumerate() {
        // Chunks of a RIFF file have even sizes.
        let data = job.frames() * 2 * job.depth.bytes() as u64;
        file.waiting.extend((data % 2 == 1).then_some(0));
        file.pass_on(at, true, output).map_err(RenderStopped::Sink)?;
        done.push(file.finish(job.stems[at].file_name.clone()));
    }
    let sheet = session_sheet(session, job, &figures);
    let mut text = |at: usize, name: &str, content: String| {
        let mut file = OpenFile::new(content.as_bytes());
        file.pass_on(at, true, output).map_err(RenderStopped::Sink)?;
        Ok(file.finish(name.into()))
    };
    done.push(text(done.len(), SheetFile::NAME, sheet)?);
    let sums = done.iter().map(|f| format!("{}  {}\n", f.sha256, f.name)).collect();
    done.push(text(done.len(), SUMS_NAME, sums)?);
    Ok((done, figures))
}
