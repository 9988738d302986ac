//! What an edit does, in a few words, for undo and for sentences about it.

use super::{Edit, HitsChange, MovedValue, ProcessorChange, StripChange};
use crate::session::{Header, Session, StripSend};
use lane_units::{Name, PatternId, ProcessorId, SectionId, StripId, VoiceId};

/// Names told one by one at most; more are counted.
const TOLD: usize = 2;

struct Words<'a>(&'a Session);

fn list(names: Vec<String>, what: &str) -> String {
    match names.len() {
        0 => "nothing".into(),
        n if n <= TOLD => names.join(" and "),
        n => format!("{n} {what}"),
    }
}

impl Words<'_> {
    fn voice(&self, id: VoiceId) -> String {
        self.0.voice(id).map_or_else(|| "a voice".into(), |v| v.name.to_string())
    }

    fn voices(&self, ids: &[VoiceId]) -> String {
        if ids.len() > TOLD {
            format!("{} voices", ids.len())
        } else {
            list(ids.iter().map(|v| self.voice(*v)).collect(), "voices")
        }
    }

    fn strip(&self, id: StripId) -> String {
        if self.0.strip(id).is_some() { self.0.strip_name(id) } else { "a row".into() }
    }

    fn strips(&self, ids: &[StripId]) -> String {
        if ids.len() > TOLD {
            format!("{} rows", ids.len())
        } else {
            list(ids.iter().map(|s| self.strip(*s)).collect(), "rows")
        }
    }

    fn pattern(&self, id: PatternId) -> String {
        self.0.pattern(id).map_or_else(|| "a pattern".into(), |p| format!("pattern {}", p.name))
    }

    fn section(&self, id: SectionId) -> String {
        let found = self.0.sections.iter().find(|s| s.id == id);
        found.map_or_else(|| "a section".into(), |s| format!("section {}", s.name))
    }

    fn processor(&self, strip: StripId, id: ProcessorId) -> String {
        let found = self.0.strip(strip).and_then(|s| s.processor(id));
        found.map_or_else(|| "processor".into(), |p| p.settings.name().to_lowercase())
    }

    fn header(&self, new: &Header) -> &'static str {
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
}

fn value(change: &StripChange) -> &'static str {
    match change {
        StripChange::TrimDb(_) => "Trim",
        StripChange::Polarity(_) => "Polarity",
        StripChange::OffsetFrames(_) => "Offset",
        StripChange::FaderDb(_) => "Fader",
        StripChange::PanPercent(_) => "Pan",
        StripChange::WidthPercent(_) => "Width",
        StripChange::Mute(true) => "Mute",
        StripChange::Mute(false) => "Unmute",
        StripChange::Solo(true) => "Solo",
        StripChange::Solo(false) => "Solo off",
        StripChange::SoloSafe(_) => "Solo safe",
        StripChange::Target(_) => "Target",
    }
}

/// What a moved value is called.
fn moved(value: &MovedValue, session: &Session) -> String {
    let kind = |word: &Name| {
        let all = session.strips.iter().flat_map(|s| &s.chain);
        all.map(|p| &p.settings).find(|s| s.is_called(word.as_str())).map_or("processor", |s| s.name()).to_lowercase()
    };
    match value {
        MovedValue::TrimDb => "Trim".into(),
        MovedValue::FaderDb => "Fader".into(),
        MovedValue::PanPercent => "Pan".into(),
        MovedValue::WidthPercent => "Width".into(),
        MovedValue::SendDb { to } => format!("Send to {}", session.strip_name(*to)),
        MovedValue::SendPanPercent { to } => format!("Pan of the send to {}", session.strip_name(*to)),
        MovedValue::Processor { kind: word, .. } => format!("Settings: {}", kind(word)),
        MovedValue::InputDb { kind: word } => format!("Input gain: {}", kind(word)),
        MovedValue::OutputDb { kind: word } => format!("Output gain: {}", kind(word)),
        MovedValue::MixPercent { kind: word } => format!("Mix: {}", kind(word)),
    }
}

impl Edit {
    /// A few words that say what the edit does to a session, as that is before it.
    pub fn label(&self, session: &Session) -> String {
        let words = Words(session);
        match self {
            Edit::SetHeader { header } => words.header(header).into(),
            Edit::AddVoices { voices, .. } | Edit::AddTriggers { voices, .. } => match voices.as_slice() {
                [one] => format!("Add {}", one.name),
                more => format!("Add {} voices", more.len()),
            },
            Edit::RemoveVoices { voices } => format!("Remove {}", words.voices(voices)),
            Edit::RenameVoice { voice, name } => format!("Rename {} to {name}", words.voice(*voice)),
            Edit::SetFamily { voice, .. } => format!("Family of {}", words.voice(*voice)),
            Edit::MoveVoice { voice, .. } => format!("Move {}", words.voice(*voice)),
            Edit::SetSource { voice, .. } => format!("Sound of {}", words.voice(*voice)),
            Edit::SetHits { pattern, voice, .. } => {
                format!("Hits of {} in {}", words.voice(*voice), words.pattern(*pattern))
            }
            Edit::AddPattern { name, .. } => format!("Add pattern {name}"),
            Edit::SetPattern { pattern } => format!("Change {}", words.pattern(pattern.id)),
            Edit::RemovePattern { pattern } => format!("Remove {}", words.pattern(*pattern)),
            Edit::AddSection { name, .. } => format!("Add section {name}"),
            Edit::SetSection { section } => format!("Change {}", words.section(section.id)),
            Edit::GivePattern { section, .. } => format!("Pattern of {}", words.section(*section)),
            Edit::RemoveSection { section } => format!("Remove {}", words.section(*section)),
            Edit::MoveSection { section, .. } => format!("Move {}", words.section(*section)),
            Edit::ChangeHits { voices, change, .. } => {
                let what = match change {
                    HitsChange::Every { .. } => "Hits by rule of",
                    HitsChange::Fill { .. } => "Random fill of",
                    HitsChange::Ghosts { .. } => "Ghost notes of",
                    HitsChange::Clear => "Clear hits of",
                    HitsChange::CopyTo { .. } => "Copy bars of",
                    HitsChange::Straighten => "Straighten",
                };
                format!("{what} {}", words.voices(voices))
            }
            Edit::SetLoop { voices, .. } => format!("Loop of {}", words.voices(voices)),
            Edit::Humanise { voices, .. } => format!("Humanise {}", words.voices(voices)),
            Edit::DoublePattern { pattern } => format!("Double {}", words.pattern(*pattern)),
            Edit::AddTake { take, .. } => format!("Bring in {}", take.name),
            Edit::SplitTake { take, .. } => match session.take(*take) {
                Some(kept) => format!("Split {}", kept.take.name),
                None => "Split a take".into(),
            },
            Edit::RemoveTake { take } => match session.take(*take) {
                Some(kept) => format!("Forget take {}", kept.take.name),
                None => "Forget a take".into(),
            },
            Edit::CutLoop { cut } => format!("Cut {}", words.voice(cut.voice)),
            Edit::SetChoke { voices, .. } => format!("Choke of {}", words.voices(voices)),
            Edit::SetVoiceLate { voices, .. } => format!("Timing of {}", words.voices(voices)),
            Edit::SetVoiceSwing { voices, .. } => format!("Swing of {}", words.voices(voices)),
            Edit::Follow { voice, leader: Some(leader) } => {
                format!("{} follows {}", words.voice(*voice), words.voice(*leader))
            }
            Edit::Follow { voice, leader: None } => format!("Set {} free", words.voice(*voice)),
            Edit::DuplicateVoice { voice, .. } => format!("Copy {}", words.voice(*voice)),
            Edit::RenameStrip { strip, name } if name.is_empty() => {
                format!("Call {} after its voices", words.strip(*strip))
            }
            Edit::RenameStrip { strip, name } => format!("Rename {} to {name}", words.strip(*strip)),
            Edit::SetStrips { strips, change } => format!("{} of {}", value(change), words.strips(strips)),
            Edit::MoveValues { strips, value, .. } => format!("{} of {}", moved(value, session), words.strips(strips)),
            Edit::SetOutput { strips, output } => {
                let to = output.map_or_else(|| "nothing".into(), |to| words.strip(to));
                format!("{} to {to}", words.strips(strips))
            }
            Edit::OwnChannels { voices } => format!("Own channels for {}", words.voices(voices)),
            Edit::ShareChannel { voices, channel } => {
                format!("{} onto the channel of {}", words.voices(voices), words.strip(*channel))
            }
            Edit::NewBus { name, .. } => format!("New bus {name}"),
            Edit::GroupOnBuses { .. } => "Buses by family".into(),
            Edit::NewPath { name, .. } => format!("New parallel path {name}"),
            Edit::NewReturn { name, .. } => format!("New return {name}"),
            Edit::RemoveStrip { strip, .. } => format!("Remove {}", words.strip(*strip)),
            Edit::SetSend { strips, send: StripSend { to, .. } } | Edit::RemoveSends { strips, to } => {
                format!("Send of {} to {}", words.strips(strips), words.strip(*to))
            }
            Edit::SetMixBus { strip } => format!("{} as mix bus", words.strip(*strip)),
            Edit::SetTriggers { voices, trigger: true } => format!("{} as trigger", words.voices(voices)),
            Edit::SetTriggers { voices, trigger: false } => format!("{} as lane", words.voices(voices)),
            Edit::NewTrigger { like, .. } => format!("New trigger like {}", words.voice(*like)),
            Edit::AddProcessor { strips, settings, .. } => {
                format!("Add {} to {}", settings.name().to_lowercase(), words.strips(strips))
            }
            Edit::RemoveProcessors { strip, processors } => match processors.as_slice() {
                [one] => format!("Remove {} of {}", words.processor(*strip, *one), words.strip(*strip)),
                more => format!("Remove {} processors of {}", more.len(), words.strip(*strip)),
            },
            Edit::MoveProcessor { strip, processor, .. } => {
                format!("Move {} of {}", words.processor(*strip, *processor), words.strip(*strip))
            }
            Edit::SetProcessor { strip, processor, change } => {
                let (kind, row) = (words.processor(*strip, *processor), words.strip(*strip));
                let what = match change {
                    ProcessorChange::Settings(_) => "Settings",
                    ProcessorChange::On(true) => "Switch on",
                    ProcessorChange::On(false) => "Switch off",
                    ProcessorChange::InputDb(_) => "Input gain",
                    ProcessorChange::OutputDb(_) => "Output gain",
                    ProcessorChange::MixPercent(_) => "Mix",
                    ProcessorChange::Key(_) => "Key",
                };
                format!("{what}: {kind} of {row}")
            }
            Edit::CopyChain { from, to, .. } => format!("Copy from {} to {}", words.strip(*from), words.strips(to)),
            Edit::InsertProcessors { strips, .. } => format!("Preset on {}", words.strips(strips)),
            Edit::OrderChain { strip, .. } => format!("Order of the chain of {}", words.strip(*strip)),
            Edit::TakeOver { name, .. } => format!("Take over {name}"),
            Edit::SetStemPlan { .. } => "Stem plan".into(),
            Edit::DismissCheck { dismissed: true, .. } => "Put a check out of sight".into(),
            Edit::DismissCheck { dismissed: false, .. } => "Bring a check back".into(),
            Edit::AddReference { name, .. } => format!("Reference {name}"),
            Edit::SetReference { reference } => format!("Change reference {}", reference.name),
            Edit::RemoveReference { reference } => {
                format!("Remove reference {}", session.reference(*reference).map_or("", |r| &r.name))
            }
            Edit::InsertLanes { insertion } => match insertion.voices.len() {
                1 => "Insert a lane".into(),
                n => format!("Insert {n} lanes"),
            },
            Edit::Batch { edits } => match edits.as_slice() {
                [] => "Nothing".into(),
                [one] => one.label(session),
                [first, rest @ ..] => format!("{} and {} more", first.label(session), rest.len()),
            },
        }
    }
}
