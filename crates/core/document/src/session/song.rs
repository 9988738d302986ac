//! The song as time: which bar plays what, and where that is in ticks and sample frames.

use super::{Hit, Humanise, Session, Swing};
use lane_units::{Dice, PatternId, SectionId, TICKS_PER_QUARTER, VoiceId};

/// A half-open range of bars, counted from 0.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct BarSpan {
    /// The first.
    pub from: u32,
    /// The first one behind.
    pub to: u32,
}

/// One section at its place in the song.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PlacedSection {
    /// The section.
    pub id: SectionId,
    /// What it plays.
    pub pattern: PatternId,
    /// The pattern's length.
    pub pattern_bars: u32,
    /// The bars of the song that it takes.
    pub span: BarSpan,
}

/// How hits become sounds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Feel {
    /// As written, with shifts and repeats.
    Written,
    /// With swing and humanising too.
    Played,
}

/// One sound of a hit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Played {
    /// Ticks from bar 1.
    pub at_ticks: f64,
    /// How long it sounds where it is held.
    pub length_ticks: f64,
    /// 1 to 127.
    pub velocity: u8,
    /// Beside velocity.
    pub level_db: f64,
    /// Semitones.
    pub tune_st: i8,
    /// Beside semitones.
    pub tune_ct: f64,
    /// The one layer that sounds; all where not said.
    pub layer: Option<u8>,
}

impl Played {
    /// Linear gain of the velocity: (v / 127)².
    pub fn velocity_gain(self) -> f64 {
        let v = f64::from(self.velocity) / 127.0;
        v * v
    }
}

/// The time grid of a session.
#[derive(Debug, Clone, PartialEq)]
pub struct Song {
    sections: Vec<PlacedSection>,
    bar_ticks: u32,
    frames_per_tick: f64,
    frames_per_second: f64,
}

impl Song {
    /// The time grid of a session.
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
            frames_per_second: f64::from(header.sample_rate),
            frames_per_tick: f64::from(header.sample_rate) * 60.0
                / (header.tempo_bpm.bpm() * f64::from(TICKS_PER_QUARTER)),
        }
    }

    /// Sections in order.
    pub fn sections(&self) -> &[PlacedSection] {
        &self.sections
    }

    /// Bars of the whole song.
    pub fn bars(&self) -> u32 {
        self.sections.last().map_or(0, |s| s.span.to)
    }

    /// Ticks in a bar.
    pub fn bar_ticks(&self) -> u32 {
        self.bar_ticks
    }

    /// Sample frames that a tick takes.
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

    /// Calls `each` with every sound of a voice in the song, in order of sections and repeats.
    pub fn sounds_of(&self, session: &Session, voice: VoiceId, feel: Feel, mut each: impl FnMut(Played)) {
        let Some(voice) = session.voice(voice) else { return };
        let leader = voice.follows.unwrap_or(voice.id);
        let swing = voice.swing.unwrap_or(session.header.swing);
        let bar = u64::from(self.bar_ticks);
        for section in &self.sections {
            let Some(part) = session.part(section.pattern, leader) else { continue };
            let played = feel == Feel::Played;
            let manner = Manner {
                swing: played.then_some(swing),
                humanise: part.humanise.filter(|_| played),
                late_ms: if played { voice.late_ms } else { 0.0 },
                ticks_per_second: self.ticks_per_second(),
            };
            let whole = section.pattern_bars.saturating_mul(self.bar_ticks);
            let period = u64::from(part.loop_ticks.unwrap_or(whole).max(1));
            let end = u64::from(section.span.to) * bar;
            let mut start = u64::from(section.span.from) * bar;
            while start < end {
                for hit in part.hits.iter().filter(|h| u64::from(h.at_ticks) < period.min(end - start)) {
                    (0..hit.sounds()).for_each(|repeat| each(hit.sound(start, repeat, &manner)));
                }
                start += period;
            }
        }
    }

    /// The sample rate in Hz.
    pub fn frames_per_second(&self) -> f64 {
        self.frames_per_second
    }

    /// Ticks in a second.
    pub fn ticks_per_second(&self) -> f64 {
        self.frames_per_second / self.frames_per_tick
    }
}

/// What decides how a hit of a part sounds in the song.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Manner {
    /// None where sounds are given as written.
    pub swing: Option<Swing>,
    /// None where sounds are not to vary.
    pub humanise: Option<Humanise>,
    /// How much later all of them sound.
    pub late_ms: f64,
    /// Ticks in a second.
    pub ticks_per_second: f64,
}

impl Hit {
    /// Sounds within it.
    pub fn sounds(&self) -> u8 {
        self.repeats.clamp(1, 8)
    }

    /// One of its sounds where the part begins at a tick of the song.
    pub fn sound(&self, start: u64, repeat: u8, manner: &Manner) -> Played {
        let written = start + u64::from(self.at_ticks);
        let mut at = written as f64 + f64::from(self.shift_ticks);
        if let Some(swing) = manner.swing {
            at += swing.shift_ticks(self.at_ticks);
        }
        if manner.late_ms != 0.0 {
            at += manner.late_ms * 0.001 * manner.ticks_per_second;
        }
        let each_ticks = f64::from(self.length_ticks) / f64::from(self.sounds());
        let velocity = i32::from(self.velocity) + i32::from(self.slope) * i32::from(repeat);
        let mut sound = Played {
            at_ticks: at + each_ticks * f64::from(repeat),
            length_ticks: each_ticks,
            velocity: velocity.clamp(1, 127) as u8,
            level_db: 0.0,
            tune_st: self.tune_st,
            tune_ct: 0.0,
            layer: self.layer,
        };
        if let Some(h) = manner.humanise {
            let mut dice = Dice::new(&[u64::from(h.seed), written, self.tune_st as u64, u64::from(repeat)]);
            sound.at_ticks += dice.spread() * h.time_ms * 0.001 * manner.ticks_per_second;
            sound.level_db = dice.spread() * h.level_db;
            sound.tune_ct = dice.spread() * h.tune_ct;
        }
        sound.at_ticks = sound.at_ticks.max(0.0);
        sound
    }
}
