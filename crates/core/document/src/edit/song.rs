//! Edits of time: header, patterns, hits, sections.

use super::EditError;
use crate::session::{Header, Hit, Humanise, Part, Pattern, Section, Session, Shared};
use lane_units::{Name, Names, PatternId, SectionId, VoiceId};
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
