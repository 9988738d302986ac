//! Edits of time: header, patterns, hits, sections.

use super::EditError;
use super::intent::Intent;
use super::label::Words;
use super::parts::parts;
use crate::session::{Header, Hit, Humanise, Part, Pattern, Section, Session, Shared};
use lane_units::{Name, Names, PatternId, SectionId, VoiceId};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

pub(super) fn set_header(s: &mut Session, header: &Header) -> Result<(), EditError> {
    if header.sample_rate != s.header.sample_rate {
        return Err(EditError::SampleRateFixed);
    }
    s.header = header.clone();
    drop_hits_outside(s);
    Ok(())
}

pub(super) fn set_hits(
    s: &mut Session,
    pattern: PatternId,
    voice: VoiceId,
    mut hits: Vec<Hit>,
) -> Result<(), EditError> {
    find_pattern(s, pattern)?;
    let found = s.voice(voice).ok_or(EditError::Gone { what: format!("voice {}", voice.0) })?;
    if let Some(leader) = found.follows.and_then(|id| s.voice(id)) {
        return Err(EditError::Follows { name: found.name.to_string(), leader: leader.name.to_string() });
    }
    hits.sort_by_key(|h| (h.at_ticks, h.tune_st));
    let at = s.parts.iter().position(|p| p.pattern == pattern && p.voice == voice);
    match (at, hits.is_empty()) {
        (Some(at), true) => {
            s.parts.remove(at);
        }
        (Some(at), false) => s.parts[at].hits = hits,
        (None, true) => {}
        (None, false) => s.parts.push(Part::new(pattern, voice, hits).into()),
    }
    Ok(())
}

fn find_pattern(s: &Session, id: PatternId) -> Result<usize, EditError> {
    s.patterns.iter().position(|p| p.id == id).ok_or(EditError::Gone { what: format!("pattern {}", id.0) })
}

fn find_section(s: &Session, id: SectionId) -> Result<usize, EditError> {
    s.sections.iter().position(|x| x.id == id).ok_or(EditError::Gone { what: format!("section {}", id.0) })
}

pub(super) fn add_pattern(
    s: &mut Session,
    name: &Name,
    bars: u32,
    copy_of: Option<PatternId>,
) -> Result<(), EditError> {
    let copied: Vec<Shared<Part>> = match copy_of {
        Some(from) => {
            find_pattern(s, from)?;
            s.parts.iter().filter(|p| p.pattern == from).cloned().collect()
        }
        None => Vec::new(),
    };
    let id = PatternId(s.take_id());
    s.patterns.push(Pattern { id, name: name.clone(), bars }.into());
    s.parts.extend(copied.into_iter().map(|p| Shared::new(Part { pattern: id, ..p.into_inner() })));
    drop_hits_outside(s);
    Ok(())
}

pub(super) fn set_pattern(s: &mut Session, pattern: &Pattern) -> Result<(), EditError> {
    let at = find_pattern(s, pattern.id)?;
    *s.patterns[at] = pattern.clone();
    drop_hits_outside(s);
    Ok(())
}

fn drop_hits_outside(s: &mut Session) {
    let bar = s.header.metre.bar_ticks();
    let bars: HashMap<PatternId, u32> = s.patterns.iter().map(|p| (p.id, p.bars)).collect();
    let end = |part: &Part| bars.get(&part.pattern).map_or(u32::MAX, |bars| bars.saturating_mul(bar));
    for part in &mut s.parts {
        let end = end(part);
        if part.hits.iter().any(|h| h.at_ticks >= end) {
            part.hits.retain(|h| h.at_ticks < end);
        }
    }
    s.parts.retain(|p| !p.hits.is_empty());
}

/// Lengthens a pattern to so many bars, and its sections where they were of its length.
pub(super) fn make_room(s: &mut Session, id: PatternId, bars: u32) -> Result<(), EditError> {
    let at = find_pattern(s, id)?;
    let old = s.patterns[at].bars;
    if bars > old {
        s.patterns[at].bars = bars;
        for section in s.sections.iter_mut().filter(|x| x.pattern == id && x.bars < bars) {
            section.bars = bars;
        }
    }
    Ok(())
}

/// A pattern twice as long that plays its hits twice; its sections too where they played it once.
pub(super) fn double_pattern(s: &mut Session, id: PatternId) -> Result<(), EditError> {
    let at = find_pattern(s, id)?;
    let bars = s.patterns[at].bars;
    let ticks = bars.saturating_mul(s.header.metre.bar_ticks());
    for part in s.parts.iter_mut().filter(|p| p.pattern == id && p.loop_ticks.is_none()) {
        let again: Vec<Hit> =
            part.hits.iter().map(|h| Hit { at_ticks: h.at_ticks.saturating_add(ticks), ..*h }).collect();
        part.hits.extend(again);
    }
    s.patterns[at].bars = bars.saturating_mul(2);
    for section in s.sections.iter_mut().filter(|x| x.pattern == id && x.bars == bars) {
        section.bars = bars.saturating_mul(2);
    }
    Ok(())
}

/// The loop of a voice within a pattern; the pattern's own where not said.
pub(super) fn set_loop(
    s: &mut Session,
    pattern: PatternId,
    voices: &[VoiceId],
    ticks: Option<u32>,
) -> Result<(), EditError> {
    change_parts(s, pattern, voices, |part| part.loop_ticks = ticks)
}

pub(super) fn humanise(
    s: &mut Session,
    pattern: PatternId,
    voices: &[VoiceId],
    by: Option<Humanise>,
) -> Result<(), EditError> {
    change_parts(s, pattern, voices, |part| part.humanise = by)
}

fn change_parts(
    s: &mut Session,
    pattern: PatternId,
    voices: &[VoiceId],
    change: impl Fn(&mut Part),
) -> Result<(), EditError> {
    find_pattern(s, pattern)?;
    let mut found = false;
    for part in s.parts.iter_mut().filter(|p| p.pattern == pattern && voices.contains(&p.voice)) {
        change(part);
        found = true;
    }
    if found { Ok(()) } else { Err(EditError::NoHits) }
}

pub(super) fn remove_pattern(s: &mut Session, id: PatternId) -> Result<(), EditError> {
    let at = find_pattern(s, id)?;
    if let Some(section) = s.sections.iter().find(|x| x.pattern == id) {
        return Err(EditError::PatternInUse {
            name: s.patterns[at].name.to_string(),
            section: section.name.to_string(),
        });
    }
    s.patterns.remove(at);
    s.parts.retain(|p| p.pattern != id);
    s.takes.retain(|t| t.pattern != id);
    Ok(())
}

pub(super) fn add_section(
    s: &mut Session,
    name: &Name,
    pattern: PatternId,
    bars: u32,
    at: u32,
) -> Result<(), EditError> {
    find_pattern(s, pattern)?;
    let id = SectionId(s.take_id());
    let at = (at as usize).min(s.sections.len());
    s.sections.insert(at, Section { id, name: name.clone(), pattern, bars }.into());
    Ok(())
}

/// The longest that an empty pattern is made for a section, in bars.
const NEW_PATTERN_BARS: u32 = 4;

/// A pattern of its own for a section: empty, or what it plays now once more.
pub(super) fn give_pattern(s: &mut Session, section: SectionId, copy: bool) -> Result<(), EditError> {
    let at = find_section(s, section)?;
    let Section { pattern, bars, .. } = *s.sections[at];
    let bars = if copy { s.patterns[find_pattern(s, pattern)?].bars } else { bars.min(NEW_PATTERN_BARS) };
    let mut names = Names::of(s.patterns.iter().map(|p| p.name.as_str()));
    let letters = ('A'..='Z').filter_map(|letter| Name::new(&letter.to_string()).ok());
    let name = letters.into_iter().find(|letter| names.is_free(letter)).unwrap_or_else(|| names.take(&"Z".into()));
    add_pattern(s, &name, bars, copy.then_some(pattern))?;
    if let Some(made) = s.patterns.last() {
        s.sections[at].pattern = made.id;
    }
    Ok(())
}

pub(super) fn set_section(s: &mut Session, section: &Section) -> Result<(), EditError> {
    let at = find_section(s, section.id)?;
    *s.sections[at] = section.clone();
    Ok(())
}

pub(super) fn remove_section(s: &mut Session, id: SectionId) -> Result<(), EditError> {
    let at = find_section(s, id)?;
    s.sections.remove(at);
    Ok(())
}

pub(super) fn move_section(s: &mut Session, id: SectionId, to: u32) -> Result<(), EditError> {
    find_section(s, id)?;
    move_within(&mut s.sections, |x| x.id == id, to);
    Ok(())
}

/// Moves the item that `is` finds to a place, or to the end where the place lies behind it.
pub(super) fn move_within<T>(list: &mut Vec<T>, is: impl Fn(&T) -> bool, to: u32) {
    if let Some(from) = list.iter().position(is) {
        let item = list.remove(from);
        let to = (to as usize).min(list.len());
        list.insert(to, item);
    }
}

/// Title, tempo, metre, swing, key, pan law. The sample rate stays.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetHeader {
    /// As it is to be.
    pub header: Header,
}
parts!(SetHeader { header });

impl Intent for SetHeader {
    fn label(&self, words: &Words) -> String {
        words.header(&self.header).into()
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_header(s, &self.header)
    }
}

/// All hits of a voice in a pattern.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetHits {
    /// The pattern.
    pub pattern: PatternId,
    /// The voice; one that follows has none of its own.
    pub voice: VoiceId,
    /// All that it is to play.
    pub hits: Vec<Hit>,
}
parts!(SetHits { pattern, voice, hits });

impl Intent for SetHits {
    fn label(&self, words: &Words) -> String {
        format!("Hits of {} in {}", words.voice(self.voice), words.pattern(self.pattern))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_hits(s, self.pattern, self.voice, self.hits.clone())
    }
}

/// A new pattern; with `copy_of`, its hits too.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddPattern {
    /// What it is called.
    pub name: Name,
    /// How long it is.
    pub bars: u32,
    /// Whose hits it begins with.
    pub copy_of: Option<PatternId>,
}
parts!(AddPattern { name, bars, copy_of });

impl Intent for AddPattern {
    fn label(&self, _: &Words) -> String {
        format!("Add pattern {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add_pattern(s, &self.name, self.bars, self.copy_of)
    }
}

/// Name and length of a pattern; hits behind a new end are dropped.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetPattern {
    /// As it is to be.
    pub pattern: Pattern,
}
parts!(SetPattern { pattern });

impl Intent for SetPattern {
    fn label(&self, words: &Words) -> String {
        format!("Change {}", words.pattern(self.pattern.id))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_pattern(s, &self.pattern)
    }
}

/// A pattern that no section plays.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemovePattern {
    /// That to go.
    pub pattern: PatternId,
}
parts!(RemovePattern { pattern });

impl Intent for RemovePattern {
    fn label(&self, words: &Words) -> String {
        format!("Remove {}", words.pattern(self.pattern))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove_pattern(s, self.pattern)
    }
}

/// A new section at a place of the song, counted from 0.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddSection {
    /// What it is called.
    pub name: Name,
    /// What it plays.
    pub pattern: PatternId,
    /// How long it is.
    pub bars: u32,
    /// Its place, from 0.
    pub at: u32,
}
parts!(AddSection { name, pattern, bars, at });

impl Intent for AddSection {
    fn label(&self, _: &Words) -> String {
        format!("Add section {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add_section(s, &self.name, self.pattern, self.bars, self.at)
    }
}

/// Name, pattern and length of a section.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetSection {
    /// As it is to be.
    pub section: Section,
}
parts!(SetSection { section });

impl Intent for SetSection {
    fn label(&self, words: &Words) -> String {
        format!("Change {}", words.section(self.section.id))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_section(s, &self.section)
    }
}

/// A new pattern for a section, empty or as the one that it plays, called by the next free letter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct GivePattern {
    /// The section.
    pub section: SectionId,
    /// Whether it begins with the hits of the one before.
    pub copy: bool,
}
parts!(GivePattern { section, copy });

impl Intent for GivePattern {
    fn label(&self, words: &Words) -> String {
        format!("Pattern of {}", words.section(self.section))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        give_pattern(s, self.section, self.copy)
    }
}

/// A section; the song has at least one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveSection {
    /// That to go.
    pub section: SectionId,
}
parts!(RemoveSection { section });

impl Intent for RemoveSection {
    fn label(&self, words: &Words) -> String {
        format!("Remove {}", words.section(self.section))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove_section(s, self.section)
    }
}

/// A section at another place of the song.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct MoveSection {
    /// The section.
    pub section: SectionId,
    /// Its place, from 0.
    pub to: u32,
}
parts!(MoveSection { section, to });

impl Intent for MoveSection {
    fn label(&self, words: &Words) -> String {
        format!("Move {}", words.section(self.section))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        move_section(s, self.section, self.to)
    }
}

/// A loop of their own for voices within a pattern, or the pattern's again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetLoop {
    /// The pattern.
    pub pattern: PatternId,
    /// Whose loop it is.
    pub voices: Vec<VoiceId>,
    /// Its length; the pattern's where not said.
    pub ticks: Option<u32>,
}
parts!(SetLoop { pattern, voices, ticks });

impl Intent for SetLoop {
    fn label(&self, words: &Words) -> String {
        format!("Loop of {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_loop(s, self.pattern, &self.voices, self.ticks)
    }
}

/// Small variations of voices within a pattern, or none.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct HumaniseHits {
    /// The pattern.
    pub pattern: PatternId,
    /// Whose hits vary.
    pub voices: Vec<VoiceId>,
    /// How much; not at all where not said.
    pub by: Option<Humanise>,
}
parts!(HumaniseHits { pattern, voices, by });

impl Intent for HumaniseHits {
    fn label(&self, words: &Words) -> String {
        format!("Humanise {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        humanise(s, self.pattern, &self.voices, self.by)
    }
}

/// A pattern twice as long that plays its hits twice.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct DoublePattern {
    /// That to grow.
    pub pattern: PatternId,
}
parts!(DoublePattern { pattern });

impl Intent for DoublePattern {
    fn label(&self, words: &Words) -> String {
        format!("Double {}", words.pattern(self.pattern))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        double_pattern(s, self.pattern)
    }
}
