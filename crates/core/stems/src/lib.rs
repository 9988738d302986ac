//! Tracking out: what a plan means for a session, one pass that writes every stem, and the sheet.

#![deny(missing_docs)]

mod job;
pub mod labels;
mod render;
mod sheet;

pub use job::{StemJob, StemSpec, StemsError, Warning};
pub use render::{Figures, RenderStopped, StemFigures, StemSink, render};
pub use sheet::{SheetFile, session_sheet};

#[cfg(test)]
mod tests;
