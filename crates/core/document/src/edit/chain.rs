//! Edits of chains: processors in, out, moved, set, copied, and their keys.

use super::EditError;
use super::find::{strip_mut, with_new_ids};
use super::intent::Intent;
use super::label::Words;
use super::moved::{Moved, merged};
use super::parts::{Look, Parts, Room, parts};
use crate::session::{DocumentError, Key, Processor, Session, Strip};
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
    /// Some values of the kind that it is; what others set meanwhile stays.
    Moved(Moved),
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

impl Parts for ProcessorChange {
    fn look(&mut self, at: &mut Look) {
        match self {
            ProcessorChange::Key(key) => key.look(at),
            ProcessorChange::Settings(_)
            | ProcessorChange::Moved(_)
            | ProcessorChange::On(_)
            | ProcessorChange::InputDb(_)
            | ProcessorChange::OutputDb(_)
            | ProcessorChange::MixPercent(_) => {}
        }
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
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
        ProcessorChange::Moved(Moved { from, to }) => {
            if processor.settings.word() != to.word() {
                return Err(EditError::OtherKind { name: processor.settings.name() });
            }
            processor.settings = merged(&processor.settings, from, to).map_err(|_| gone(processor.id))?;
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

/// The same processor in one or more chains, at a place counted from 0, or at their ends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddProcessor {
    /// The strips.
    pub strips: Vec<StripId>,
    /// What it is and how it is set.
    pub settings: Settings,
    /// What it listens to.
    pub key: Option<Key>,
    /// The place, from 0; the end where not said.
    pub at: Option<u32>,
}
parts!(AddProcessor { strips, settings, key, at });

impl Intent for AddProcessor {
    fn label(&self, words: &Words) -> String {
        format!("Add {} to {}", self.settings.name().to_lowercase(), words.strips(&self.strips))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add(s, &self.strips, &self.settings, self.key, self.at)
    }
}

/// Processors of a chain, taken out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveProcessors {
    /// The strip.
    pub strip: StripId,
    /// Those to go.
    pub processors: Vec<ProcessorId>,
}
parts!(RemoveProcessors { strip, processors });

impl Intent for RemoveProcessors {
    fn label(&self, words: &Words) -> String {
        match self.processors.as_slice() {
            [one] => format!("Remove {} of {}", words.processor(self.strip, *one), words.strip(self.strip)),
            more => format!("Remove {} processors of {}", more.len(), words.strip(self.strip)),
        }
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove(s, self.strip, &self.processors)
    }
}

/// Moves a processor to a place of its chain, counted from 0.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct MoveProcessor {
    /// The strip.
    pub strip: StripId,
    /// The processor.
    pub processor: ProcessorId,
    /// Its place, from 0.
    pub to: u32,
}
parts!(MoveProcessor { strip, processor, to });

impl Intent for MoveProcessor {
    fn label(&self, words: &Words) -> String {
        format!("Move {} of {}", words.processor(self.strip, self.processor), words.strip(self.strip))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        move_to(s, self.strip, self.processor, self.to)
    }
}

/// A value of a processor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetProcessor {
    /// The strip.
    pub strip: StripId,
    /// The processor.
    pub processor: ProcessorId,
    /// What changes.
    pub change: ProcessorChange,
}
parts!(SetProcessor { strip, processor, change });

impl Intent for SetProcessor {
    fn label(&self, words: &Words) -> String {
        let (kind, row) = (words.processor(self.strip, self.processor), words.strip(self.strip));
        let what = match &self.change {
            ProcessorChange::Settings(_) | ProcessorChange::Moved(_) => "Settings",
            ProcessorChange::On(true) => "Switch on",
            ProcessorChange::On(false) => "Switch off",
            ProcessorChange::InputDb(_) => "Input gain",
            ProcessorChange::OutputDb(_) => "Output gain",
            ProcessorChange::MixPercent(_) => "Mix",
            ProcessorChange::Key(_) => "Key",
        };
        format!("{what}: {kind} of {row}")
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set(s, self.strip, self.processor, &self.change)
    }
}

/// Processors, all of a chain where none are named, onto other strips: behind what they have, or instead.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct CopyChain {
    /// The strip that has them.
    pub from: StripId,
    /// Which of them; all where none are named.
    pub processors: Vec<ProcessorId>,
    /// The strips that get them.
    pub to: Vec<StripId>,
    /// Instead of what these have.
    pub replace: bool,
}
parts!(CopyChain { from, processors, to, replace });

impl Intent for CopyChain {
    fn label(&self, words: &Words) -> String {
        format!("Copy from {} to {}", words.strip(self.from), words.strips(&self.to))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        copy(s, self.from, &self.processors, &self.to, self.replace)
    }
}

/// Processors as they are given, under ids of their own, in one or more chains: at a place counted from 0, or at
/// their ends, or instead of what is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct InsertProcessors {
    /// The strips.
    pub strips: Vec<StripId>,
    /// As they are given.
    pub processors: Vec<Processor>,
    /// The place, from 0; the end where not said.
    pub at: Option<u32>,
    /// Instead of what is there.
    pub replace: bool,
}
parts!(InsertProcessors { strips, processors, at, replace });

impl Intent for InsertProcessors {
    fn label(&self, words: &Words) -> String {
        format!("Preset on {}", words.strips(&self.strips))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        insert(s, &self.strips, &self.processors, self.at, self.replace)
    }
}

/// Another order of a chain: all of its processors, each once.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct OrderChain {
    /// The strip.
    pub strip: StripId,
    /// All of its processors in the new order.
    pub order: Vec<ProcessorId>,
}
parts!(OrderChain { strip, order });

impl Intent for OrderChain {
    fn label(&self, words: &Words) -> String {
        format!("Order of the chain of {}", words.strip(self.strip))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        order(s, self.strip, &self.order)
    }
}
