//! What goes over the wire besides the document. TypeScript types and the description of the interface are made from these.

pub mod described;

use lane_analysis::NamedPitch;
use lane_document::edit::TakeSound;
use lane_document::session::{AssetRef, Family, StripKind, TemplateKeeps};
use lane_stems::{Figures, StemSpec, Warning};
use lane_units::{Name, Purpose, StripId, Title};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// Signing up or in.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Credentials {
    pub email: String,
    /// At least 10 characters.
    pub password: String,
}

/// An account that anybody at this address may use.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct DemoAccount {
    pub email: &'static str,
    pub password: &'static str,
}

/// Who is signed in.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Me {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    pub email: String,
}

/// What a page came to grief over.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PageFault {
    /// What was thrown.
    pub what: String,
    /// Where in the page.
    pub whereabouts: String,
}

/// What an account holds, in bytes.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct HoldingsLine {
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub audio_bytes: i64,
    /// Of the audio, what the library names.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub library_bytes: i64,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub render_bytes: i64,
    /// Steps that can be undone, changes that others can follow, and snapshots.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub history_bytes: i64,
    /// What it may hold in all.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub quota_bytes: u64,
}

/// One line of the list of sessions.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct SessionLine {
    /// Of its audio, as it is played.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub audio_bytes: i64,
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    pub title: String,
    /// RFC 3339.
    #[serde(with = "time::serde::rfc3339")]
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub updated_at: OffsetDateTime,
    pub voices: i32,
    pub tempo_bpm: f64,
}

/// A session to be made.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NewSession {
    #[schema(value_type = String)]
    pub title: Title,
    /// 44100, 48000, 88200 or 96000.
    pub sample_rate: u32,
}

/// The id of something new.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Created {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    /// What was put right in what came, for people.
    pub remarks: Vec<String>,
}

impl Created {
    pub fn new(id: Uuid) -> Self {
        Created { id, remarks: Vec::new() }
    }
}

/// A session as it stands.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct OpenSession {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    #[schema(value_type = described::Session)]
    #[cfg_attr(feature = "describe", ts(as = "lane_document::session::Session"))]
    pub document: Box<RawValue>,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub revision: i64,
    /// Steps that can be undone, the next one first.
    pub undo: Vec<StepLine>,
    /// Steps that can be done again, the next one first.
    pub redo: Vec<StepLine>,
    pub renders_started: i32,
    /// What was put right in the document since an older program let it through, for people.
    pub remarks: Vec<String>,
}

/// A step of a session that can be undone or done again.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct StepLine {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    /// What it did, in a few words.
    pub label: String,
    /// The ways there and back; left out of older steps where they are large, and asked for by id.
    #[schema(value_type = Option<described::Patch>)]
    #[cfg_attr(feature = "describe", ts(as = "Option<lane_document::session::Patch>"))]
    pub there: Option<Box<RawValue>>,
    #[schema(value_type = Option<described::Patch>)]
    #[cfg_attr(feature = "describe", ts(as = "Option<lane_document::session::Patch>"))]
    pub back: Option<Box<RawValue>>,
}

/// An edit of the revision that its author saw.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct EditRequest {
    /// What its author knows it by; sent again under it, it happens once.
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub base_revision: i64,
    #[schema(value_type = described::Edit)]
    #[cfg_attr(feature = "describe", ts(as = "lane_document::edit::Edit"))]
    pub edit: Box<RawValue>,
}

/// A step to be undone or done again.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct StepRequest {
    /// What its author knows this by; sent again under it, it happens once.
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub base_revision: i64,
    /// The step that its author saw.
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub step: Uuid,
}

/// Changes that may have gone through.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct KnownRequest {
    #[cfg_attr(feature = "describe", ts(type = "Array<string>"))]
    pub ids: Vec<Uuid>,
}

/// What a change did to the steps of a session.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum ChangeKind {
    Edit,
    Undo,
    Redo,
}

/// A change that went through.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct EditDone {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    /// The revision that it gave.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub revision: i64,
    pub kind: ChangeKind,
    /// The step that was made, undone or done again.
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub step: Uuid,
    pub label: String,
    /// Left out where it went through too long ago.
    #[schema(value_type = Option<described::Patch>)]
    #[cfg_attr(feature = "describe", ts(as = "Option<lane_document::session::Patch>"))]
    pub patch: Option<Box<RawValue>>,
    /// The way back of an edit.
    #[schema(value_type = Option<described::Patch>)]
    #[cfg_attr(feature = "describe", ts(as = "Option<lane_document::session::Patch>"))]
    pub back: Option<Box<RawValue>>,
    #[schema(value_type = Option<Vec<described::Made>>)]
    #[cfg_attr(feature = "describe", ts(as = "Option<Vec<lane_document::edit::Made>>"))]
    pub made: Option<Box<RawValue>>,
    /// Whether it had gone through before it was asked for now.
    pub again: bool,
}

/// What a dropped file turned out to be.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum BroughtIn {
    /// A short sound.
    OneShot(BroughtSound),
    /// A long one, which runs along with the song.
    Recording(BroughtSound),
    /// Notes, and house sounds for lanes that do not exist yet.
    Midi(BroughtTake),
}

/// Audio that was kept.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct BroughtSound {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = described::Family)]
    pub family: Family,
    #[schema(value_type = described::AssetRef)]
    pub asset: AssetRef,
    /// Its highest sample in dBFS, -200 of silence.
    pub peak_dbfs: f64,
    /// Frames since midnight at which it starts, where a Broadcast Wave file says so.
    #[cfg_attr(feature = "describe", ts(type = "number | null"))]
    pub time_reference: Option<u64>,
    /// What is missing in it or was taken otherwise, for people.
    pub remarks: Vec<String>,
}

/// A sample of the library.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct LibraryLine {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = described::Family)]
    pub family: Family,
    #[schema(value_type = described::AssetRef)]
    pub asset: AssetRef,
    pub peak_dbfs: f64,
    /// None where it has no clear pitch.
    #[schema(value_type = Option<described::NamedPitch>)]
    pub pitch: Option<NamedPitch>,
}

/// A MIDI take that was read.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct BroughtTake {
    #[schema(value_type = described::Take)]
    #[cfg_attr(feature = "describe", ts(as = "lane_document::session::Take"))]
    pub take: Box<RawValue>,
    #[schema(value_type = Vec<described::TakeSound>)]
    pub sounds: Vec<TakeSound>,
}

/// Where a render stands.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum RenderStatus {
    Queued,
    Running,
    Done,
    Failed,
    Cancelled,
}

/// What came of a render.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct RenderReport {
    #[schema(value_type = Vec<described::StemSpec>)]
    pub stems: Vec<StemSpec>,
    #[schema(value_type = described::Figures)]
    pub figures: Figures,
    #[schema(value_type = Vec<described::Warning>)]
    pub warnings: Vec<Warning>,
    /// The frame of the song that the files begin at.
    #[serde(default)]
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub from: u64,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub frames: u64,
    /// All files together.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub bytes: u64,
}

/// One render.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct RenderLine {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    pub version: i32,
    pub status: RenderStatus,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub frames_done: i64,
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub frames_total: i64,
    /// Why it failed or stopped.
    pub reason: Option<String>,
    pub report: Option<RenderReport>,
    /// Of its files.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub bytes: i64,
    #[serde(with = "time::serde::rfc3339")]
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub created_at: OffsetDateTime,
}

/// One strip in the picture of a template.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct OutlineStrip {
    #[schema(value_type = u32)]
    pub id: StripId,
    #[schema(value_type = described::StripKind)]
    pub kind: StripKind,
    pub name: String,
    #[schema(value_type = Option<u32>)]
    pub output: Option<StripId>,
    #[schema(value_type = Vec<u32>)]
    pub sends: Vec<StripId>,
}

/// A template in the list: enough for its picture and for choosing.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TemplateLine {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    /// One of ours, which cannot be changed or removed.
    pub house: bool,
    /// Channels, triggers, returns, buses, main, in the order of the board.
    pub strips: Vec<OutlineStrip>,
    pub lanes: usize,
    pub has_audio: bool,
    pub has_patterns: bool,
}

/// A template whole, at the rate of the session that asks for it.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct OpenTemplate {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    #[schema(value_type = described::Session)]
    #[cfg_attr(feature = "describe", ts(as = "lane_document::session::Session"))]
    pub document: Box<RawValue>,
}

/// A template to be made of a session.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NewTemplate {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub session: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    #[schema(value_type = described::TemplateKeeps)]
    pub keeps: TemplateKeeps,
}

/// What a template is called, and a session to take over where one is given.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TemplateChange {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    pub from: Option<TemplateSource>,
}

/// A session to take over into a template, and what of it.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TemplateSource {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub session: Uuid,
    #[schema(value_type = described::TemplateKeeps)]
    pub keeps: TemplateKeeps,
}

/// A processor or a chain, kept.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PresetLine {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    /// One of ours, which cannot be changed or removed.
    pub house: bool,
    /// One for a preset of a processor, more for one of a chain.
    #[schema(value_type = Vec<described::Processor>)]
    #[cfg_attr(feature = "describe", ts(as = "Vec<lane_document::session::Processor>"))]
    pub processors: Box<RawValue>,
}

/// A processor or a chain to be kept. Keys are left out.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NewPreset {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = Vec<described::Processor>)]
    #[cfg_attr(feature = "describe", ts(as = "Vec<lane_document::session::Processor>"))]
    pub processors: Box<RawValue>,
}

/// What a preset is called, and what it holds where that changes.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PresetChange {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = Option<Vec<described::Processor>>)]
    #[cfg_attr(feature = "describe", ts(as = "Option<Vec<lane_document::session::Processor>>"))]
    pub processors: Option<Box<RawValue>>,
}

/// What was measured of main over the loop when a snapshot was taken.
#[derive(Debug, Clone, Copy, Default, Serialize, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(default)]
pub struct SnapshotFigures {
    pub lufs: Option<f64>,
    /// The highest of the loop.
    pub short_term_lufs: Option<f64>,
    pub true_peak_dbtp: Option<f64>,
    pub crest_db: Option<f64>,
}

/// A snapshot in the list.
#[derive(Debug, Serialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct SnapshotLine {
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub id: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    /// Whether somebody took it, rather than the program.
    pub by_hand: bool,
    #[serde(with = "time::serde::rfc3339")]
    #[cfg_attr(feature = "describe", ts(type = "string"))]
    pub taken_at: OffsetDateTime,
    pub figures: SnapshotFigures,
    /// What it takes in the database.
    #[cfg_attr(feature = "describe", ts(type = "number"))]
    pub bytes: i64,
}

/// A snapshot to be taken.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NewSnapshot {
    #[schema(value_type = String)]
    pub name: Name,
    /// Whether somebody takes it, rather than the program.
    pub by_hand: bool,
    #[serde(default)]
    pub figures: SnapshotFigures,
}

/// What changes of a snapshot: its name, or what was measured of it later.
#[derive(Debug, Deserialize, ToSchema)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct SnapshotChange {
    #[schema(value_type = Option<String>)]
    #[serde(default)]
    pub name: Option<Name>,
    #[serde(default)]
    pub figures: Option<SnapshotFigures>,
}
