//! The song as time: which bar plays what, and where that is in ticks and sample frames.

use super::{Hit, Session};
use crate::units::{PatternId, SectionId, TICKS_PER_QUARTER, VoiceId};

/// A half-open range of bars, counted from 0.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct BarSpan {
    pub from: u32,
    pub to: u32,
}

/// One section at its place in the song.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PlacedSection {
    pub id: SectionId,
    pub pattern: PatternId,
    pub pattern_bars: u32,
    pub span: BarSpan,
}

/// The time grid of a session.
#[derive(Debug, Clone, PartialEq)]
pub struct Song {
    sections: Vec<PlacedSection>,
    bar_ticks: u32,
    frames_per_tick: f64,
}

impl Song {
    pub fn new(session: &Session) -> Self {
        let header = &session.header;
        let mut at = 0;
        let sections = session
            .sections
            .iter()
            .map(|s| {
                let span = BarSpan { from: at, to: at + s.bars };
                at = span.to;
                let pattern_bars = session.pattern(s.pattern).map_or(1, |p| p.bars.max(1));
                PlacedSection { id: s.id, pattern: s.pattern, pattern_bars, span }
            })
            .collect();
        Song {
            sections,
            bar_ticks: header.metre.bar_ticks(),
            frames_per_tick: f64::from(header.sample_rate) * 60.0 / (header.tempo_bpm * f64::from(TICKS_PER_QUARTER)),
        }
    }

    pub fn sections(&self) -> &[PlacedSection] {
        &self.sections
    }

    /// Bars of the whole song.
    pub fn bars(&self) -> u32 {
        self.sections.last().map_or(0, |s| s.span.to)
    }

    pub fn bar_ticks(&self) -> u32 {
        self.bar_ticks
    }

    pub fn frames_per_tick(&self) -> f64 {
        self.frames_per_tick
    }

    /// The frame nearest to a position in ticks from bar 1; every position is computed from the start, so
    /// that nothing drifts.
    pub fn frame_at(&self, ticks: f64) -> u64 {
        libm::round(ticks * self.frames_per_tick).max(0.0) as u64
    }

    /// The frame at which a bar starts, bars counted from 0.
    pub fn bar_frame(&self, bar: u32) -> u64 {
        self.frame_at(f64::from(bar) * f64::from(self.bar_ticks))
    }

    /// Calls `each` with every hit of a voice in the song, as ticks from bar 1 (written, not swung), in
    /// order of sections and repeats.
    pub fn hits_of(&self, session: &Session, voice: VoiceId, mut each: impl FnMut(u64, Hit)) {
        for section in &self.sections {
            let hits = session.hits(section.pattern, voice);
            if hits.is_empty() {
                continue;
            }
            let span_end = u64::from(section.span.to) * u64::from(self.bar_ticks);
            let mut bar = section.span.from;
            while bar < section.span.to {
                let start = u64::from(bar) * u64::from(self.bar_ticks);
                for hit in hits {
                    let at = start + u64::from(hit.at_ticks);
                    if at < span_end {
                        each(at, *hit);
                    }
                }
                bar += section.pattern_bars;
            }
        }
    }
}
