//! What the store says as pages get it.

use crate::problem::Problem;
use lane_analysis::NamedPitch;
use lane_store::{Done, LibrarySound, Render, RenderState, SessionInfo, SnapshotInfo, Step, Template};
use lane_wire::{
    ChangeKind, EditDone, LibraryLine, OutlineStrip, RenderLine, RenderStatus, SessionLine, SnapshotFigures,
    SnapshotLine, StepLine, TemplateLine,
};
use serde_json::value::RawValue;

pub fn session(s: SessionInfo) -> SessionLine {
    let SessionInfo { id, title, updated_at, voices, tempo_bpm, audio_bytes, revision: _ } = s;
    SessionLine { id, title, updated_at, voices, tempo_bpm, audio_bytes }
}

pub fn step(step: Step) -> Result<StepLine, serde_json::Error> {
    let raw = |text: Option<String>| text.map(RawValue::from_string).transpose();
    let Step { id, label, there, back } = step;
    Ok(StepLine { id, label, there: raw(there)?, back: raw(back)? })
}

/// A change that went through just now, or, `again`, before it was asked for.
pub fn done(done: Done, again: bool) -> Result<EditDone, Problem> {
    let raw = |text: Option<String>| text.map(RawValue::from_string).transpose().map_err(Problem::internal);
    let Done { id, revision, kind, step, label, patch, back, made } = done;
    let kind = match kind.as_str() {
        "undo" => ChangeKind::Undo,
        "redo" => ChangeKind::Redo,
        _ => ChangeKind::Edit,
    };
    Ok(EditDone { id, revision, kind, step, label, patch: raw(patch)?, back: raw(back)?, made: raw(made)?, again })
}

pub fn library(s: LibrarySound) -> LibraryLine {
    let pitch = s.pitch_hz.map(NamedPitch::of_hz);
    LibraryLine { name: s.name, family: s.family, asset: s.asset, peak_dbfs: s.peak_dbfs, pitch }
}

pub fn render(r: Render) -> RenderLine {
    let status = match r.state {
        RenderState::Queued => RenderStatus::Queued,
        RenderState::Running => RenderStatus::Running,
        RenderState::Done => RenderStatus::Done,
        RenderState::Failed => RenderStatus::Failed,
        RenderState::Cancelled => RenderStatus::Cancelled,
    };
    RenderLine {
        id: r.id,
        version: r.version,
        status,
        frames_done: r.frames_done,
        frames_total: r.frames_total,
        reason: r.reason,
        report: r.report.and_then(|report| serde_json::from_value(report).ok()),
        bytes: r.bytes,
        created_at: r.created_at,
    }
}

pub fn template(template: &Template, house: bool) -> TemplateLine {
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

pub fn stored_figures(f: SnapshotFigures) -> lane_store::SnapshotFigures {
    let SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db } = f;
    lane_store::SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db }
}

pub fn snapshot(s: SnapshotInfo) -> SnapshotLine {
    let SnapshotInfo { id, name, by_hand, taken_at, figures, bytes } = s;
    let lane_store::SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db } = figures;
    let figures = SnapshotFigures { lufs, short_term_lufs, true_peak_dbtp, crest_db };
    SnapshotLine { id, name, by_hand, taken_at, figures, bytes }
}
