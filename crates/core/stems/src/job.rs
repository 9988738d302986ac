//! A stem plan made exact: which strips, which frames, which files.

use super::labels::{self, Named};
use lane_document::session::{Depth, Processor, Session, Song, StemRange, StripKind, Tap, VoiceSource};
use lane_dsp::Settings;
use lane_engine::Plan;
use lane_units::StripId;
use serde::{Deserialize, Serialize};

/// Why there is nothing to render.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
pub enum StemsError {
    #[error("no strip is chosen; tick at least one")]
    NoStems,
    #[error("the section of the range is not in the session any more; choose another range")]
    SectionGone,
    #[error("the range starts at bar {from} and has {bars} bars; the song has {song} bars")]
    RangeOutside { from: u32, bars: u32, song: u32 },
    #[error("a 24-bit stem of this length would be over 4 GiB; choose a shorter range")]
    TooLong,
}

/// One stem.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct StemSpec {
    /// The strip.
    pub strip: StripId,
    /// The strip's name.
    pub name: String,
    /// What the strip is.
    pub kind: StripKind,
    /// Where its sound is taken.
    pub tap: Tap,
    /// With its ending.
    pub file_name: String,
}

/// Something worth a look before stems are sent.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Warning {
    /// The strip that it is about, if it is about one.
    pub strip: Option<StripId>,
    /// What is worth knowing.
    pub text: String,
}

/// Everything a render needs to know.
#[derive(Debug, Clone, PartialEq)]
pub struct StemJob {
    /// In the order of the board.
    pub stems: Vec<StemSpec>,
    /// First frame, counted from bar 1 of the song.
    pub from: u64,
    /// End of the range: hits from here on are left out.
    pub hits_until: u64,
    /// End of the files: the range and, if wished, what rings on.
    pub until: u64,
    /// The numbers in the files.
    pub depth: Depth,
    /// What is worth knowing before.
    pub warnings: Vec<Warning>,
    /// Whether main has a limiter that is not in what is written.
    pub limiter_left_out: bool,
}

/// The session as it is written: limiters of main pass sound on where the plan leaves them out.
pub(super) fn as_written(session: &Session) -> Session {
    let mut written = session.clone();
    if leaves_limiter_out(session) {
        let main = written.strips.iter_mut().filter(|s| s.kind == StripKind::Main);
        main.flat_map(|s| s.chain.iter_mut()).filter(|p| limits(p)).for_each(|p| p.on = false);
    }
    written
}

fn limits(processor: &Processor) -> bool {
    processor.on && matches!(processor.settings, Settings::Limiter(_))
}

fn leaves_limiter_out(session: &Session) -> bool {
    !session.stem_plan.with_limiter && session.main().is_some_and(|main| main.chain.iter().any(limits))
}

impl StemJob {
    /// Makes a session's plan exact.
    ///
    /// * `version` – the number that `{version}` stands for.
    ///
    /// # Errors
    /// [`StemsError`] where the plan leaves nothing to render.
    pub fn new(session: &Session, version: u32) -> Result<Self, StemsError> {
        let stems = stems(session, version);
        if stems.is_empty() {
            return Err(StemsError::NoStems);
        }
        let song = Song::new(session);
        let (from_bar, bars) = range_bars(session, &song)?;
        let (from, hits_until) = (song.bar_frame(from_bar), song.bar_frame(from_bar + bars));
        let plan = Plan::new(session);
        let until = if session.stem_plan.tail { plan.rung_out(session, from, hits_until) } else { hits_until };
        if (until - from) * 2 * session.stem_plan.depth.bytes() as u64 > u64::from(u32::MAX) - 4096 {
            return Err(StemsError::TooLong);
        }
        let warnings = warnings(session, &stems);
        let (depth, limiter_left_out) = (session.stem_plan.depth, leaves_limiter_out(session));
        Ok(StemJob { stems, from, hits_until, until, depth, warnings, limiter_left_out })
    }

    /// Length of every file in frames.
    pub fn frames(&self) -> u64 {
        self.until - self.from
    }
}

fn range_bars(session: &Session, song: &Song) -> Result<(u32, u32), StemsError> {
    let (from, bars) = match session.stem_plan.range {
        StemRange::Song => (0, song.bars()),
        StemRange::Section { section } => {
            let placed = song.sections().iter().find(|s| s.id == section).ok_or(StemsError::SectionGone)?;
            (placed.span.from, placed.span.to - placed.span.from)
        }
        StemRange::Bars { from_bar, bars } => (from_bar, bars),
    };
    if bars == 0 || from.checked_add(bars).is_none_or(|to| to > song.bars()) {
        return Err(StemsError::RangeOutside { from: from + 1, bars, song: song.bars() });
    }
    Ok((from, bars))
}

/// Whether a plan holds a strip.
fn is_in(session: &Session, id: StripId, kind: StripKind) -> bool {
    let plan = &session.stem_plan;
    match kind {
        StripKind::Bus => plan.with_buses.contains(&id),
        StripKind::Trigger => false,
        StripKind::Channel | StripKind::Return | StripKind::Main => !plan.without.contains(&id),
    }
}

fn stems(session: &Session, version: u32) -> Vec<StemSpec> {
    let plan = &session.stem_plan;
    let chosen: Vec<_> = session
        .strips_in_board_order()
        .into_iter()
        .filter_map(|id| session.strip(id))
        .filter(|s| is_in(session, s.id, s.kind))
        .map(|s| {
            let own = plan.taps.iter().find(|c| c.strip == s.id).map(|c| c.tap);
            // Main is always taken as it is heard.
            let tap = if s.kind == StripKind::Main { Tap::Channel } else { own.unwrap_or(plan.tap) };
            (s, session.strip_name(s.id), tap)
        })
        .collect();
    let named: Vec<_> = chosen.iter().map(|(_, name, tap)| Named { name, tap: *tap }).collect();
    let file_names = labels::labels(session, version, &named);
    chosen
        .into_iter()
        .zip(file_names)
        .map(|((s, name, tap), file_name)| StemSpec { strip: s.id, name, kind: s.kind, tap, file_name })
        .collect()
}

fn warnings(session: &Session, stems: &[StemSpec]) -> Vec<Warning> {
    let mut warnings = Vec::new();
    let mut warn = |strip, text| warnings.push(Warning { strip, text });
    for field in labels::unknown_fields(&session.stem_plan.label) {
        let known = labels::FIELDS.map(|(field, _)| field).join(", ");
        warn(None, format!("{field} in the label stands for nothing; there are {known}"));
    }
    for strip in &session.strips {
        let name = session.strip_name(strip.id);
        if strip.solo {
            warn(Some(strip.id), format!("{name} is soloed: what is not on its way is silent in the stems"));
        }
        if strip.mute {
            warn(Some(strip.id), format!("{name} is muted: silent after its channel"));
        }
        if !matches!(strip.kind, StripKind::Main | StripKind::Trigger) && strip.output.is_none() {
            warn(Some(strip.id), format!("{name} has no output: it is not in Main"));
        }
    }
    for voice in &session.voices {
        if matches!(voice.source, VoiceSource::Empty) && stems.iter().any(|s| s.strip == voice.channel) {
            warn(Some(voice.channel), format!("{} has no sound yet: its stem is silent", voice.name));
        }
    }
    warnings
}
