//! Templates: a session as a start for others.

use super::{Pattern, Section, Session, Strip, StripSend, VoiceSource};
use lane_units::{PatternId, SectionId};
use serde::{Deserialize, Serialize};

/// What a template keeps beside lanes, names, routing and the stem plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TemplateKeeps {
    /// The samples of layers, and recordings.
    pub audio: bool,
    /// Patterns, hits, takes and the song.
    pub patterns: bool,
    /// Trims, faders, pans, widths, mutes and send levels.
    pub levels: bool,
    /// Processors.
    pub chains: bool,
}

impl Session {
    /// This session as a template. Solos, dismissed checks and references are of the moment and never kept.
    pub fn as_template(&self, keeps: TemplateKeeps) -> Session {
        let mut made = self.clone();
        made.dismissed.clear();
        made.references.clear();
        if !keeps.audio {
            made.assets.clear();
            made.voices.iter_mut().for_each(|v| v.source = VoiceSource::Empty);
        }
        if !keeps.patterns {
            made.takes.clear();
            made.parts.clear();
            made.voices.iter_mut().for_each(|v| v.follows = None);
            let pattern = self.patterns.first().map_or(PatternId(self.next_id), |p| p.id);
            let section = self.sections.first().map_or(SectionId(self.next_id + 1), |s| s.id);
            made.next_id = self.next_id.max(pattern.0.max(section.0) + 1);
            made.patterns = vec![Pattern { id: pattern, name: "A".into(), bars: 2 }.into()];
            made.sections = vec![Section { id: section, name: "A".into(), pattern, bars: 4 }.into()];
            made.stem_plan.range = super::StemRange::Song;
        }
        let named = made.named_assets();
        made.assets.retain(|a| named.contains(&a.id));
        for strip in made.strips.iter_mut().map(|s| &mut **s) {
            strip.solo = false;
            if !keeps.chains {
                strip.chain.clear();
            }
            if !keeps.levels {
                let Strip { id, kind, solo_safe, output, .. } = *strip;
                let sends = strip.sends.iter().map(|s| StripSend { tap: s.tap, ..StripSend::new(s.to) }).collect();
                let (name, chain) = (std::mem::take(&mut strip.name), std::mem::take(&mut strip.chain));
                *strip = Strip { solo_safe, sends, chain, ..Strip::new(id, kind, name, output) };
            }
        }
        made
    }
}
