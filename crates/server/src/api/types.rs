//! What goes over the wire besides the document. TypeScript types are made from these.

use lane_core::edit::{Edit, Made, TakeSound};
use lane_core::session::{AssetRef, Family, Patch, Processor, Session, StripKind, Take, TemplateKeeps};
use lane_core::stems::{Figures, StemSpec, Warning};
use lane_core::tuning::NamedPitch;
use lane_core::units::{Name, Purpose, StripId, Title};
use lane_store::{LibrarySound, Render, RenderState, SessionInfo, SnapshotInfo, Step, Template};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use time::OffsetDateTime;
use ts_rs::TS;
use utoipa::ToSchema;
use uuid::Uuid;

/// Signing up or in.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct Credentials {
    pub email: String,
    /// At least 10 characters.
    pub password: String,
}

/// Who is signed in.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct Me {
    #[ts(type = "string")]
    pub id: Uuid,
    pub email: String,
}

/// What an account holds, in bytes.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct HoldingsLine {
    #[ts(type = "number")]
    pub audio_bytes: i64,
    /// Of the audio, what the library names.
    #[ts(type = "number")]
    pub library_bytes: i64,
    #[ts(type = "number")]
    pub render_bytes: i64,
    /// What it may hold in all.
    #[ts(type = "number")]
    pub quota_bytes: u64,
}

/// One line of the list of sessions.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct SessionLine {
    /// Of its audio, as it is played.
    #[ts(type = "number")]
    pub audio_bytes: i64,
    #[ts(type = "string")]
    pub id: Uuid,
    pub title: String,
    /// RFC 3339.
    #[serde(with = "time::serde::rfc3339")]
    #[ts(type = "string")]
    pub updated_at: OffsetDateTime,
    pub voices: i32,
    pub tempo_bpm: f64,
}

impl From<SessionInfo> for SessionLine {
    fn from(s: SessionInfo) -> Self {
        let SessionInfo { id, title, updated_at, voices, tempo_bpm, audio_bytes, revision: _ } = s;
        SessionLine { id, title, updated_at, voices, tempo_bpm, audio_bytes }
    }
}

/// A session to be made.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct NewSession {
    #[schema(value_type = String)]
    pub title: Title,
    /// 44100, 48000, 88200 or 96000.
    pub sample_rate: u32,
}

/// The id of something new.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct Created {
    #[ts(type = "string")]
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
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct OpenSession {
    #[ts(type = "string")]
    pub id: Uuid,
    #[schema(value_type = Object)]
    #[ts(as = "Session")]
    pub document: Box<RawValue>,
    #[ts(type = "number")]
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
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct StepLine {
    #[ts(type = "string")]
    pub id: Uuid,
    /// What it did, in a few words.
    pub label: String,
    /// The ways there and back; left out of older steps where they are large.
    #[schema(value_type = Option<Object>)]
    #[ts(as = "Option<Patch>")]
    pub there: Option<Box<RawValue>>,
    #[schema(value_type = Option<Object>)]
    #[ts(as = "Option<Patch>")]
    pub back: Option<Box<RawValue>>,
}

impl StepLine {
    /// * `room` – bytes left for patches.
    pub fn new(step: Step, room: &mut usize) -> Result<Self, serde_json::Error> {
        let Step { id, label, there, back } = step;
        let bytes = there.len() + back.len();
        let fits = bytes <= *room;
        // Where one is left out, those behind it are of no use.
        *room = if fits { *room - bytes } else { 0 };
        let raw = |text: String| if fits { RawValue::from_string(text).map(Some) } else { Ok(None) };
        Ok(StepLine { id, label, there: raw(there)?, back: raw(back)? })
    }
}

/// An edit of the revision that its author saw.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct EditRequest {
    /// What its author knows it by; sent again under it, it happens once.
    #[ts(type = "string")]
    pub id: Uuid,
    #[ts(type = "number")]
    pub base_revision: i64,
    #[schema(value_type = Object)]
    #[ts(as = "Edit")]
    pub edit: Box<RawValue>,
}

/// What is asked of a change beside its contents.
#[derive(Debug, Clone, Copy)]
pub struct Change {
    pub id: Uuid,
    pub base_revision: i64,
}

/// A step to be undone or done again.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct StepRequest {
    /// What its author knows this by; sent again under it, it happens once.
    #[ts(type = "string")]
    pub id: Uuid,
    #[ts(type = "number")]
    pub base_revision: i64,
    /// The step that its author saw.
    #[ts(type = "string")]
    pub step: Uuid,
}

/// Changes that may have gone through.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct KnownRequest {
    #[ts(type = "Array<string>")]
    pub ids: Vec<Uuid>,
}

/// What a change did to the steps of a session.
#[derive(Debug, Clone, Copy, Serialize, ToSchema, TS)]
#[serde(rename_all = "snake_case")]
pub enum ChangeKind {
    Edit,
    Undo,
    Redo,
}

/// A change that went through.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct EditDone {
    #[ts(type = "string")]
    pub id: Uuid,
    /// The revision that it gave.
    #[ts(type = "number")]
    pub revision: i64,
    pub kind: ChangeKind,
    /// The step that was made, undone or done again.
    #[ts(type = "string")]
    pub step: Uuid,
    pub label: String,
    /// Left out where it went through too long ago.
    #[schema(value_type = Option<Object>)]
    #[ts(as = "Option<Patch>")]
    pub patch: Option<Box<RawValue>>,
    /// The way back of an edit.
    #[schema(value_type = Option<Object>)]
    #[ts(as = "Option<Patch>")]
    pub back: Option<Box<RawValue>>,
    #[schema(value_type = Option<Vec<Object>>)]
    #[ts(as = "Option<Vec<Made>>")]
    pub made: Option<Box<RawValue>>,
    /// Whether it had gone through before it was asked for now.
    pub again: bool,
}

/// What a dropped file turned out to be.
#[derive(Debug, Serialize, ToSchema, TS)]
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
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct BroughtSound {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub family: Family,
    #[schema(value_type = Object)]
    pub asset: AssetRef,
    /// Its highest sample in dBFS, -200 of silence.
    pub peak_dbfs: f64,
    /// Frames since midnight at which it starts, where a Broadcast Wave file says so.
    #[ts(type = "number | null")]
    pub time_reference: Option<u64>,
    /// What is missing in it or was taken otherwise, for people.
    pub remarks: Vec<String>,
}

/// A sample of the library.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct LibraryLine {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub family: Family,
    #[schema(value_type = Object)]
    pub asset: AssetRef,
    pub peak_dbfs: f64,
    /// None where it has no clear pitch.
    #[schema(value_type = Option<Object>)]
    pub pitch: Option<NamedPitch>,
}

impl From<LibrarySound> for LibraryLine {
    fn from(s: LibrarySound) -> Self {
        let pitch = s.pitch_hz.map(NamedPitch::of_hz);
        LibraryLine { name: s.name, family: s.family, asset: s.asset, peak_dbfs: s.peak_dbfs, pitch }
    }
}

/// A piece of a loop from one hit to the next.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct LoopPiece {
    pub start_frame: u32,
    pub end_frame: u32,
    /// What its sound speaks for.
    #[schema(value_type = String)]
    pub family: Family,
}

/// A tempo that a loop could have.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct LoopTempoLine {
    pub bpm: f64,
    pub bars: u32,
    /// How well its hits lie on sixteenths, 0 to 1.
    pub fit: f64,
}

/// Where a loop could be cut.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct LoopCuts {
    pub frames: u32,
    /// Peaks of 1200 slices, 0 to 1.
    pub overview: Vec<f32>,
    pub pieces: Vec<LoopPiece>,
    /// The best first.
    pub tempi: Vec<LoopTempoLine>,
}

/// A MIDI take that was read.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct BroughtTake {
    #[schema(value_type = Object)]
    pub take: Take,
    #[schema(value_type = Vec<Object>)]
    pub sounds: Vec<TakeSound>,
}

/// Where a render stands.
#[derive(Debug, Clone, Copy, Serialize, ToSchema, TS)]
#[serde(rename_all = "snake_case")]
pub enum RenderStatus {
    Queued,
    Running,
    Done,
    Failed,
    Cancelled,
}

impl From<RenderState> for RenderStatus {
    fn from(state: RenderState) -> Self {
        match state {
            RenderState::Queued => RenderStatus::Queued,
            RenderState::Running => RenderStatus::Running,
            RenderState::Done => RenderStatus::Done,
            RenderState::Failed => RenderStatus::Failed,
            RenderState::Cancelled => RenderStatus::Cancelled,
        }
    }
}

/// What came of a render.
#[derive(Debug, Serialize, Deserialize, ToSchema, TS)]
pub struct RenderReport {
    #[schema(value_type = Vec<Object>)]
    pub stems: Vec<StemSpec>,
    #[schema(value_type = Object)]
    pub figures: Figures,
    #[schema(value_type = Vec<Object>)]
    pub warnings: Vec<Warning>,
    /// The frame of the song that the files begin at.
    #[serde(default)]
    #[ts(type = "number")]
    pub from: u64,
    #[ts(type = "number")]
    pub frames: u64,
    /// All files together.
    #[ts(type = "number")]
    pub bytes: u64,
}

/// One render.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct RenderLine {
    #[ts(type = "string")]
    pub id: Uuid,
    pub version: i32,
    pub status: RenderStatus,
    #[ts(type = "number")]
    pub frames_done: i64,
    #[ts(type = "number")]
    pub frames_total: i64,
    /// Why it failed or stopped.
    pub reason: Option<String>,
    pub report: Option<RenderReport>,
    /// Of its files.
    #[ts(type = "number")]
    pub bytes: i64,
    #[serde(with = "time::serde::rfc3339")]
    #[ts(type = "string")]
    pub created_at: OffsetDateTime,
}

impl From<Render> for RenderLine {
    fn from(r: Render) -> Self {
        RenderLine {
            id: r.id,
            version: r.version,
            status: r.state.into(),
            frames_done: r.frames_done,
            frames_total: r.frames_total,
            reason: r.reason,
            report: r.report.and_then(|report| serde_json::from_value(report).ok()),
            bytes: r.bytes,
            created_at: r.created_at,
        }
    }
}

/// One strip in the picture of a template.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct OutlineStrip {
    #[schema(value_type = u32)]
    pub id: StripId,
    #[schema(value_type = String)]
    pub kind: StripKind,
    pub name: String,
    #[schema(value_type = Option<u32>)]
    pub output: Option<StripId>,
    #[schema(value_type = Vec<u32>)]
    pub sends: Vec<StripId>,
}

/// A template in the list: enough for its picture and for choosing.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct TemplateLine {
    #[ts(type = "string")]
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

impl TemplateLine {
    pub fn new(template: &Template, house: bool) -> Self {
        let session = &template.document;
        let strips = session
            .strips_in_board_order()
            .into_iter()
            .filter_map(|id| session.strip(id))
            .map(|s| OutlineStrip {
                id: s.id,
                kind: s.kind,
                name: session.strip_name(s.id),
                output: s.output,
                sends: s.sends.iter().map(|send| send.to).collect(),
            })
            .collect();
        TemplateLine {
            id: template.id,
            name: template.name.clone(),
            purpose: template.purpose.clone(),
            house,
            strips,
            lanes: session.voices.len(),
            has_audio: !session.assets.is_empty(),
            has_patterns: !session.parts.is_empty(),
        }
    }
}

/// A template whole, at the rate of the session that asks for it.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct OpenTemplate {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    #[schema(value_type = Object)]
    pub document: Session,
}

/// A template to be made of a session.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct NewTemplate {
    #[ts(type = "string")]
    pub session: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    #[schema(value_type = Object)]
    pub keeps: TemplateKeeps,
}

/// What a template is called, and a session to take over where one is given.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct TemplateChange {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = String)]
    pub purpose: Purpose,
    #[schema(value_type = Option<Object>)]
    pub from: Option<TemplateSource>,
}

/// A session to take over into a template, and what of it.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct TemplateSource {
    #[ts(type = "string")]
    pub session: Uuid,
    #[schema(value_type = Object)]
    pub keeps: TemplateKeeps,
}

/// A processor or a chain, kept.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct PresetLine {
    #[ts(type = "string")]
    pub id: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    /// One of ours, which cannot be changed or removed.
    pub house: bool,
    /// One for a preset of a processor, more for one of a chain.
    #[schema(value_type = Vec<Object>)]
    pub processors: Vec<Processor>,
}

/// A processor or a chain to be kept. Keys are left out.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct NewPreset {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = Vec<Object>)]
    pub processors: Vec<Processor>,
}

/// What a preset is called, and what it holds where that changes.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct PresetChange {
    #[schema(value_type = String)]
    pub name: Name,
    #[schema(value_type = Option<Vec<Object>>)]
    pub processors: Option<Vec<Processor>>,
}

/// What was measured of main over the loop when a snapshot was taken.
#[derive(Debug, Clone, Copy, Default, Serialize, Deserialize, ToSchema, TS)]
#[serde(default)]
pub struct SnapshotFigures {
    pub lufs: Option<f64>,
    /// The highest of the loop.
    pub short_term_lufs: Option<f64>,
    pub true_peak_dbtp: Option<f64>,
    pub crest_db: Option<f64>,
}

impl From<SnapshotFigures> for lane_store::SnapshotFigures {
    fn from(f: SnapshotFigures) -> Self {
        let SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db } = f;
        lane_store::SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db }
    }
}

/// A snapshot in the list.
#[derive(Debug, Serialize, ToSchema, TS)]
pub struct SnapshotLine {
    #[ts(type = "string")]
    pub id: Uuid,
    #[schema(value_type = String)]
    pub name: Name,
    /// Whether somebody took it, rather than the program.
    pub by_hand: bool,
    #[serde(with = "time::serde::rfc3339")]
    #[ts(type = "string")]
    pub taken_at: OffsetDateTime,
    pub figures: SnapshotFigures,
    /// What it takes in the database.
    #[ts(type = "number")]
    pub bytes: i64,
}

impl From<SnapshotInfo> for SnapshotLine {
    fn from(s: SnapshotInfo) -> Self {
        let SnapshotInfo { id, name, by_hand, taken_at, figures, bytes } = s;
        let lane_store::SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db } = figures;
        let figures = SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db };
        SnapshotLine { id, name, by_hand, taken_at, figures, bytes }
    }
}

/// A snapshot to be taken.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct NewSnapshot {
    #[schema(value_type = String)]
    pub name: Name,
    /// Whether somebody takes it, rather than the program.
    pub by_hand: bool,
    #[serde(default)]
    pub figures: SnapshotFigures,
}

/// What changes of a snapshot: its name, or what was measured of it later.
#[derive(Debug, Deserialize, ToSchema, TS)]
pub struct SnapshotChange {
    #[schema(value_type = Option<String>)]
    #[serde(default)]
    pub name: Option<Name>,
    #[serde(default)]
    pub figures: Option<SnapshotFigures>,
}
