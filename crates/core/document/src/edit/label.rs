//! The words by which edits call what they name: for undo, and for sentences about them.

use crate::session::{Header, Session};
use lane_units::{PatternId, ProcessorId, SectionId, StripId, VoiceId};

/// Names told one by one at most; more are counted.
const TOLD: usize = 2;

/// A session, as that is before an edit.
pub(super) struct Words<'a>(pub(super) &'a Session);

fn list(names: Vec<String>, what: &str) -> String {
    match names.len() {
        0 => "nothing".into(),
        n if n <= TOLD => names.join(" and "),
        n => format!("{n} {what}"),
    }
}

impl Words<'_> {
    pub(super) fn voice(&self, id: VoiceId) -> String {
        self.0.voice(id).map_or_else(|| "a voice".into(), |v| v.name.to_string())
    }

    pub(super) fn voices(&self, ids: &[VoiceId]) -> String {
        if ids.len() > TOLD {
            format!("{} voices", ids.len())
        } else {
            list(ids.iter().map(|v| self.voice(*v)).collect(), "voices")
        }
    }

    pub(super) fn strip(&self, id: StripId) -> String {
        if self.0.strip(id).is_some() { self.0.strip_name(id) } else { "a row".into() }
    }

    pub(super) fn strips(&self, ids: &[StripId]) -> String {
        if ids.len() > TOLD {
            format!("{} rows", ids.len())
        } else {
            list(ids.iter().map(|s| self.strip(*s)).collect(), "rows")
        }
    }

    pub(super) fn pattern(&self, id: PatternId) -> String {
        self.0.pattern(id).map_or_else(|| "a pattern".into(), |p| format!("pattern {}", p.name))
    }

    pub(super) fn section(&self, id: SectionId) -> String {
        let found = self.0.sections.iter().find(|s| s.id == id);
        found.map_or_else(|| "a section".into(), |s| format!("section {}", s.name))
    }

    pub(super) fn processor(&self, strip: StripId, id: ProcessorId) -> String {
        let found = self.0.strip(strip).and_then(|s| s.processor(id));
        found.map_or_else(|| "processor".into(), |p| p.settings.name().to_lowercase())
    }

    pub(super) fn header(&self, new: &Header) -> &'static str {
        let old = &self.0.header;
        match () {
            () if old.title != new.title => "Title",
            () if old.tempo_bpm != new.tempo_bpm => "Tempo",
            () if old.metre != new.metre => "Metre",
            () if old.swing != new.swing => "Swing",
            () if old.key != new.key => "Key",
            () if old.targets != new.targets => "Targets",
            () if old.pan_law != new.pan_law => "Pan law",
            () => "Session settings",
        }
    }

    pub(super) fn send(&self, strips: &[StripId], to: StripId) -> String {
        format!("Send of {} to {}", self.strips(strips), self.strip(to))
    }
}
