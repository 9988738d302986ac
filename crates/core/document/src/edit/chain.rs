//! Edits of chains: processors in, out, moved, set, copied, and their keys.

use super::EditError;
use super::find::{strip_mut, with_new_ids};
use crate::session::{Key, Processor, Session, Strip};
use lane_dsp::Settings;
use lane_units::{ProcessorId, StripId};
use serde::{Deserialize, Serialize};

/// A change of one processor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "what", content = "to", rename_all = "snake_case")]
pub enum ProcessorChange {
    /// Of another kind, too: gains, mix and, where that kind takes one, the key stay.
    Settings(Settings),
    /// Whether it acts.
    On(bool),
    /// Gain in front of it, in dB.
    InputDb(f64),
    /// Gain behind it, in dB.
    OutputDb(f64),
    /// What is processed against what is not, in %.
    MixPercent(f64),
    /// What it listens to.
    Key(Option<Key>),
}

fn gone(id: ProcessorId) -> EditError {
    EditError::Gone { what: format!("processor {}", id.0) }
}

fn place(strip: &Strip, id: ProcessorId) -> Result<usize, EditError> {
    strip.chain.iter().position(|p| p.id == id).ok_or_else(|| gone(id))
}

fn new_processor(s: &mut Session, settings: &Settings) -> Processor {
    Processor::new(ProcessorId(s.take_id()), settings.clone())
}

/// A processor at a place of each chain, counted from 0; at the end where not said.
pub(super) fn add(
    s: &mut Session,
    strips: &[StripId],
    settings: &Settings,
    key: Option<Key>,
    at: Option<u32>,
) -> Result<(), EditError> {
    if strips.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in strips {
        let processor = Processor { key, ..new_processor(s, settings) };
        let chain = &mut strip_mut(s, *id)?.chain;
        let at = at.map_or(chain.len(), |at| (at as usize).min(chain.len()));
        chain.insert(at, processor);
    }
    Ok(())
}

pub(super) fn remove(s: &mut Session, strip: StripId, processors: &[ProcessorId]) -> Result<(), EditError> {
    if processors.is_empty() {
        return Err(EditError::Nothing);
    }
    let strip = strip_mut(s, strip)?;
    for id in processors {
        let at = place(strip, *id)?;
        strip.chain.remove(at);
    }
    Ok(())
}

pub(super) fn move_to(s: &mut Session, strip: StripId, processor: ProcessorId, to: u32) -> Result<(), EditError> {
    let strip = strip_mut(s, strip)?;
    place(strip, processor)?;
    super::song::move_within(&mut strip.chain, |p| p.id == processor, to);
    Ok(())
}

pub(super) fn set(
    s: &mut Session,
    strip: StripId,
    processor: ProcessorId,
    change: &ProcessorChange,
) -> Result<(), EditError> {
    let strip = strip_mut(s, strip)?;
    let at = place(strip, processor)?;
    let processor = &mut strip.chain[at];
    match change {
        ProcessorChange::Settings(settings) => {
            processor.settings = settings.clone();
            if !settings.takes_key() {
                processor.key = None;
            }
        }
        ProcessorChange::On(on) => processor.on = *on,
        ProcessorChange::InputDb(db) => processor.input_db = *db,
        ProcessorChange::OutputDb(db) => processor.output_db = *db,
        ProcessorChange::MixPercent(percent) => processor.mix_percent = *percent,
        ProcessorChange::Key(key) => processor.key = *key,
    }
    Ok(())
}

/// Copies processors, all of the chain where none are named, behind what other strips have, or instead of it.
pub(super) fn copy(
    s: &mut Session,
    from: StripId,
    processors: &[ProcessorId],
    to: &[StripId],
    replace: bool,
) -> Result<(), EditError> {
    if to.is_empty() {
        return Err(EditError::Nothing);
    }
    let source = strip_mut(s, from)?;
    for id in processors {
        place(source, *id)?;
    }
    let wanted = |p: &&Processor| processors.is_empty() || processors.contains(&p.id);
    let copied: Vec<Processor> = source.chain.iter().filter(wanted).cloned().collect();
    if copied.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in to.iter().filter(|id| **id != from) {
        let fresh = with_new_ids(s, copied.clone());
        let chain = &mut strip_mut(s, *id)?.chain;
        if replace {
            chain.clear();
        }
        chain.extend(fresh);
    }
    Ok(())
}

/// Processors as they are given, at a place of each chain, at the end where not said, or instead of the chain.
pub(super) fn insert(
    s: &mut Session,
    strips: &[StripId],
    processors: &[Processor],
    at: Option<u32>,
    replace: bool,
) -> Result<(), EditError> {
    if strips.is_empty() || processors.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in strips {
        let fresh = with_new_ids(s, processors.to_vec());
        let chain = &mut strip_mut(s, *id)?.chain;
        if replace {
            chain.clear();
        }
        let at = at.map_or(chain.len(), |at| (at as usize).min(chain.len()));
        chain.splice(at..at, fresh);
    }
    Ok(())
}

pub(super) fn order(s: &mut Session, strip: StripId, order: &[ProcessorId]) -> Result<(), EditError> {
    let strip = strip_mut(s, strip)?;
    if let Some(lost) = strip.chain.iter().find(|p| !order.contains(&p.id)) {
        return Err(gone(lost.id));
    }
    for (to, id) in order.iter().enumerate() {
        let from = place(strip, *id)?;
        // Named twice, it stands at the first place already.
        if from > to {
            strip.chain[to..=from].rotate_right(1);
        }
    }
    Ok(())
}
