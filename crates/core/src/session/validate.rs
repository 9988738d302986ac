//! What every document must be, whoever wrote it.

use super::{Hit, Hold, Layer, Processor, Session, Strip, StripKind, VoiceSource};
use crate::units::{SAMPLE_RATES, TICKS_PER_QUARTER};
use std::collections::{HashMap, HashSet};

/// Bounds of a document.
pub mod limits {
    pub const TITLE_CHARS: usize = 120;
    pub const NAME_CHARS: usize = 80;
    pub const VOICES: usize = 512;
    pub const STRIPS: usize = 1024;
    pub const BARS: u32 = 512;
    pub const SECTIONS: usize = 256;
    pub const HITS_IN_PART: usize = 20_000;
    pub const LAYERS: usize = 64;
    pub const PROCESSORS: usize = 32;
    pub const RETURNS: usize = 64;
    pub const TAKES: usize = 64;
    pub const TAKE_NOTES: usize = 200_000;
    pub const LABEL_CHARS: usize = 200;
    pub const DISMISSED: usize = 1000;
    pub const TEMPO_BPM: (f64, f64) = (20.0, 400.0);
    pub const TRIM_DB: (f64, f64) = (crate::units::OFF_DB, 24.0);
    pub const LANE_TARGET_DB: (f64, f64) = (-60.0, 0.0);
    pub const SUM_TARGET_DBTP: (f64, f64) = (-30.0, 0.0);
    pub const FADER_DB: (f64, f64) = (crate::units::OFF_DB, 12.0);
    pub const SLOT_DB: (f64, f64) = (-60.0, 24.0);
    pub const MIX_PERCENT: (f64, f64) = (0.0, 100.0);
    pub const KEY_DB: (f64, f64) = (crate::units::OFF_DB, 24.0);
    pub const KEY_HZ: (f64, f64) = (0.0, 20_000.0);
    pub const PAN_PERCENT: (f64, f64) = (-100.0, 100.0);
    pub const WIDTH_PERCENT: (f64, f64) = (0.0, 200.0);
    pub const SWING_PERCENT: (f64, f64) = (50.0, 75.0);
    pub const TUNE_CT: (f64, f64) = (-4800.0, 4800.0);
    pub const RELEASE_MS: (f64, f64) = (1.0, 5000.0);
    pub const FADE_MS: (f64, f64) = (0.0, 5000.0);
    pub const HOLD_MS: (f64, f64) = (0.0, 10_000.0);
    pub const DECAY_MS: (f64, f64) = (1.0, 10_000.0);
    pub const CURVE_PERCENT: (f64, f64) = (-100.0, 100.0);
    pub const SWEEP_ST: (f64, f64) = (-48.0, 48.0);
    pub const SWEEP_MS: (f64, f64) = (1.0, 2000.0);
    pub const VELOCITY_PERCENT: (f64, f64) = (0.0, 100.0);
    pub const SHIFT_TICKS: (f64, f64) = (-480.0, 480.0);
    pub const REPEATS: (f64, f64) = (1.0, 8.0);
    pub const SLOPE: (f64, f64) = (-60.0, 60.0);
    pub const HUMANISE_MS: (f64, f64) = (0.0, 50.0);
    pub const HUMANISE_DB: (f64, f64) = (0.0, 12.0);
    pub const HUMANISE_CT: (f64, f64) = (0.0, 100.0);
    /// The longest recording in seconds.
    pub const RECORDING_SECONDS: u32 = 1800;
}

/// What is wrong with a document: where, what, and what is allowed.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum DocumentError {
    #[error("the document has schema {given}; this program reads {}", super::SCHEMA)]
    Schema { given: u32 },
    #[error("{what} is {given} {unit}; {min} to {max} {unit} is allowed")]
    OutOfRange { what: String, given: f64, min: f64, max: f64, unit: &'static str },
    #[error("{what} has {given} characters; 1 to {max} are allowed")]
    NameLength { what: String, given: usize, max: usize },
    #[error("{what}: {given} given, at most {max} allowed")]
    TooMany { what: String, given: usize, max: usize },
    #[error("{what} names {missing}, which is not in the session")]
    Missing { what: String, missing: String },
    #[error("{what} stands twice in the session")]
    Twice { what: String },
    #[error("the sample rate is {given} Hz; 44100, 48000, 88200 or 96000 Hz is allowed")]
    SampleRate { given: u32 },
    #[error("the metre is {beats}/{unit}; 1 to 32 beats of 2, 4, 8 or 16 are allowed")]
    Metre { beats: u32, unit: u32 },
    #[error("{what} cannot go to {to}: only buses and main take other strips")]
    Output { what: String, to: String },
    #[error("{what} cannot send to {to}: only returns take sends")]
    Send { what: String, to: String },
    #[error("{what} is a trigger: it goes nowhere but into keys")]
    Trigger { what: String },
    #[error("a {what} takes no key")]
    NoKey { what: &'static str },
    #[error("a session has exactly one main; this one has {given}")]
    Main { given: usize },
    #[error("a session has at least one pattern and one section")]
    NoSong,
    #[error("a hit of {voice} in pattern {pattern} lies at tick {at}, behind the pattern's end at {end}")]
    HitOutside { voice: String, pattern: String, at: u32, end: u32 },
    #[error("{what} runs at {given} Hz and the session at {session} Hz; bring the file in again")]
    AssetRate { what: String, given: u32, session: u32 },
    #[error(
        "a layer of {voice} would start at frame {start} and end at {end}; it has to start before its end, and the sample has {frames} frames"
    )]
    LayerCut { voice: String, start: u32, end: u32, frames: u32 },
    #[error("{voice} cannot follow {leader}: only a voice that follows none can be followed, and none follows itself")]
    Follow { voice: String, leader: String },
    #[error("this would be a loop: {}", path.join(" to "))]
    Loop { path: Vec<String> },
}

/// Checks a number against its range; NaN is out of every range.
pub(crate) fn in_range(
    what: impl Into<String>,
    given: f64,
    (min, max): (f64, f64),
    unit: &'static str,
) -> Result<(), DocumentError> {
    if given >= min && given <= max {
        Ok(())
    } else {
        Err(DocumentError::OutOfRange { what: what.into(), given, min, max, unit })
    }
}

pub(crate) fn name_length(what: &str, name: &str, max: usize) -> Result<(), DocumentError> {
    let given = name.trim().chars().count();
    if (1..=max).contains(&given) { Ok(()) } else { Err(DocumentError::NameLength { what: what.into(), given, max }) }
}

fn at_most(what: &str, given: usize, max: usize) -> Result<(), DocumentError> {
    if given <= max { Ok(()) } else { Err(DocumentError::TooMany { what: what.into(), given, max }) }
}

fn unique<T: std::hash::Hash + Eq>(what: &str, ids: impl Iterator<Item = T>) -> Result<(), DocumentError> {
    let mut seen = HashSet::new();
    for id in ids {
        if !seen.insert(id) {
            return Err(DocumentError::Twice { what: what.into() });
        }
    }
    Ok(())
}

fn missing(what: impl Into<String>, missing: impl Into<String>) -> DocumentError {
    DocumentError::Missing { what: what.into(), missing: missing.into() }
}

/// Ticks of a hit or a loop at most.
const LONGEST_TICKS: f64 = (limits::BARS * 32 * 2 * TICKS_PER_QUARTER) as f64;

/// What is allowed of the numbers of a hit: what it is, its value, its range and unit.
fn hit_ranges(hit: &Hit) -> [(&'static str, f64, (f64, f64), &'static str); 6] {
    [
        ("a velocity", f64::from(hit.velocity), (1.0, 127.0), ""),
        ("a hit's tuning", f64::from(hit.tune_st), (-48.0, 48.0), "st"),
        ("a hit's length", f64::from(hit.length_ticks), (1.0, LONGEST_TICKS), "ticks"),
        ("a hit's shift", f64::from(hit.shift_ticks), limits::SHIFT_TICKS, "ticks"),
        ("repeats", f64::from(hit.repeats), limits::REPEATS, ""),
        ("a velocity slope", f64::from(hit.slope), limits::SLOPE, ""),
    ]
}

fn fits(hit: &Hit, end: u32) -> bool {
    hit.at_ticks < end && hit_ranges(hit).iter().all(|(_, x, (min, max), _)| x >= min && x <= max)
}

fn hit_fault(hit: &Hit, end: u32, voice: &str, pattern: String) -> DocumentError {
    let wrong = hit_ranges(hit)
        .into_iter()
        .find_map(|(what, x, range, unit)| in_range(format!("{what} of {voice}"), x, range, unit).err());
    wrong.unwrap_or(DocumentError::HitOutside { voice: voice.into(), pattern, at: hit.at_ticks, end })
}

impl Session {
    /// Checks everything but routing loops, which [`crate::routing::order`] finds.
    ///
    /// # Errors
    /// The first fault found, with its place and what is allowed.
    pub fn validate(&self) -> Result<(), DocumentError> {
        if self.schema != super::SCHEMA {
            return Err(DocumentError::Schema { given: self.schema });
        }
        self.validate_header()?;
        self.validate_strips()?;
        self.validate_voices()?;
        self.validate_song()?;
        self.validate_takes()?;
        self.validate_plan()
    }

    fn validate_header(&self) -> Result<(), DocumentError> {
        let h = &self.header;
        name_length("the title", &h.title, limits::TITLE_CHARS)?;
        at_most("characters of the key", h.key.chars().count(), 24)?;
        in_range("the tempo", h.tempo_bpm, limits::TEMPO_BPM, "bpm")?;
        in_range("swing", h.swing.percent, limits::SWING_PERCENT, "%")?;
        in_range("the target of lanes", h.targets.lane.db, limits::LANE_TARGET_DB, "dB")?;
        in_range("the target of the sum", h.targets.sum_dbtp, limits::SUM_TARGET_DBTP, "dBTP")?;
        if !(1..=32).contains(&h.metre.beats) || ![2, 4, 8, 16].contains(&h.metre.unit) {
            return Err(DocumentError::Metre { beats: h.metre.beats, unit: h.metre.unit });
        }
        if !SAMPLE_RATES.contains(&h.sample_rate) {
            return Err(DocumentError::SampleRate { given: h.sample_rate });
        }
        unique("an asset", self.assets.iter().map(|a| &a.id))?;
        for asset in &self.assets {
            if !asset.id.is_well_formed() {
                return Err(missing(format!("asset {}", asset.name), "a content address of 64 hexadecimal digits"));
            }
            in_range(format!("channels of {}", asset.name), f64::from(asset.channels), (1.0, 2.0), "channels")?;
            if asset.sample_rate != h.sample_rate {
                let (given, session) = (asset.sample_rate, h.sample_rate);
                return Err(DocumentError::AssetRate { what: asset.name.clone(), given, session });
            }
        }
        Ok(())
    }

    fn validate_strips(&self) -> Result<(), DocumentError> {
        at_most("strips", self.strips.len(), limits::STRIPS)?;
        unique("a strip's id", self.strips.iter().map(|s| s.id))?;
        let mains = self.strips.iter().filter(|s| s.kind == StripKind::Main).count();
        if mains != 1 {
            return Err(DocumentError::Main { given: mains });
        }
        let returns = self.strips.iter().filter(|s| s.kind == StripKind::Return).count();
        at_most("returns", returns, limits::RETURNS)?;
        for strip in &self.strips {
            let name = self.strip_name(strip.id);
            at_most(&format!("characters of the name {name}"), strip.name.chars().count(), limits::NAME_CHARS)?;
            if !strip.takes_voices() {
                name_length("a bus's name", &strip.name, limits::NAME_CHARS)?;
            }
            in_range(format!("trim of {name}"), strip.trim_db, limits::TRIM_DB, "dB")?;
            if let Some(target) = strip.target {
                in_range(format!("target of {name}"), target.db, limits::LANE_TARGET_DB, "dB")?;
            }
            in_range(format!("fader of {name}"), strip.fader_db, limits::FADER_DB, "dB")?;
            in_range(format!("pan of {name}"), strip.pan_percent, limits::PAN_PERCENT, "%")?;
            in_range(format!("width of {name}"), strip.width_percent, limits::WIDTH_PERCENT, "%")?;
            if let Some(to) = strip.output {
                match self.strip(to) {
                    None => return Err(missing(format!("the output of {name}"), format!("strip {}", to.0))),
                    Some(_) if strip.kind == StripKind::Trigger => return Err(DocumentError::Trigger { what: name }),
                    Some(target) if strip.kind == StripKind::Main || !target.takes_outputs() => {
                        return Err(DocumentError::Output { what: name, to: self.strip_name(to) });
                    }
                    Some(_) => {}
                }
            }
            self.validate_sends(strip, &name)?;
            at_most(&format!("processors of {name}"), strip.chain.len(), limits::PROCESSORS)?;
            strip.chain.iter().try_for_each(|p| self.validate_processor(p, &name))?;
        }
        unique("a processor's id", self.strips.iter().flat_map(|s| &s.chain).map(|p| p.id))
    }

    fn validate_sends(&self, strip: &Strip, name: &str) -> Result<(), DocumentError> {
        if !strip.sends.is_empty() && strip.kind == StripKind::Trigger {
            return Err(DocumentError::Trigger { what: name.into() });
        }
        unique(&format!("a send of {name}"), strip.sends.iter().map(|s| s.to))?;
        for send in &strip.sends {
            match self.strip(send.to) {
                None => return Err(missing(format!("a send of {name}"), format!("strip {}", send.to.0))),
                Some(to) if to.kind != StripKind::Return || strip.kind == StripKind::Main => {
                    return Err(DocumentError::Send { what: name.into(), to: self.strip_name(send.to) });
                }
                Some(_) => {}
            }
            in_range(format!("a send of {name}"), send.level_db, limits::FADER_DB, "dB")?;
            in_range(format!("pan of a send of {name}"), send.pan_percent, limits::PAN_PERCENT, "%")?;
        }
        Ok(())
    }

    fn validate_processor(&self, processor: &Processor, strip: &str) -> Result<(), DocumentError> {
        let kind = processor.settings.name();
        let of = |what: &str| format!("{what} of the {} of {strip}", kind.to_lowercase());
        in_range(of("input gain"), processor.input_db, limits::SLOT_DB, "dB")?;
        in_range(of("output gain"), processor.output_db, limits::SLOT_DB, "dB")?;
        in_range(of("mix"), processor.mix_percent, limits::MIX_PERCENT, "%")?;
        for (param, value) in processor.settings.values() {
            in_range(of(&param.label.to_lowercase()), value, (param.min, param.max), param.unit)?;
        }
        if let crate::dsp::Settings::Equaliser(equaliser) = &processor.settings {
            at_most(&of("bands"), equaliser.bands.len(), crate::dsp::equaliser::BANDS)?;
        }
        let Some(key) = &processor.key else { return Ok(()) };
        if !processor.settings.takes_key() {
            return Err(DocumentError::NoKey { what: kind });
        }
        in_range(of("key level"), key.level_db, limits::KEY_DB, "dB")?;
        in_range(of("key high-pass"), key.high_pass_hz, limits::KEY_HZ, "Hz")?;
        in_range(of("key low-pass"), key.low_pass_hz, limits::KEY_HZ, "Hz")?;
        match key.source {
            Some(source) if self.strip(source).is_none() => Err(missing(of("the key"), format!("strip {}", source.0))),
            _ => Ok(()),
        }
    }

    fn validate_voices(&self) -> Result<(), DocumentError> {
        at_most("voices", self.voices.len(), limits::VOICES)?;
        unique("a voice's id", self.voices.iter().map(|v| v.id))?;
        let channels: HashSet<_> = self.strips.iter().filter(|s| s.takes_voices()).map(|s| s.id).collect();
        let assets: HashSet<_> = self.assets.iter().map(|a| &a.id).collect();
        for voice in &self.voices {
            name_length("a voice's name", &voice.name, limits::NAME_CHARS)?;
            if !channels.contains(&voice.channel) {
                return Err(missing(&voice.name, format!("channel {}", voice.channel.0)));
            }
            for asset in voice.source.assets() {
                if !assets.contains(asset) {
                    return Err(missing(&voice.name, format!("audio {}", asset.0)));
                }
            }
            if let VoiceSource::OneShot { layers, hold } = &voice.source {
                at_most(&format!("layers of {}", voice.name), layers.len(), limits::LAYERS)?;
                for layer in layers {
                    self.validate_layer(&voice.name, layer)?;
                }
                if let Hold::Gate { release_ms } = hold {
                    in_range(format!("release of {}", voice.name), *release_ms, limits::RELEASE_MS, "ms")?;
                }
            }
            if let Some(set) = voice.choke_set {
                in_range(format!("the choke set of {}", voice.name), f64::from(set), (1.0, 16.0), "")?;
            }
            if let Some(swing) = voice.swing {
                in_range(format!("swing of {}", voice.name), swing.percent, limits::SWING_PERCENT, "%")?;
            }
            if let Some(leader) = voice.follows {
                let leader = self
                    .voice(leader)
                    .ok_or_else(|| missing(format!("{}, which follows,", voice.name), format!("voice {}", leader.0)))?;
                if leader.follows.is_some() || leader.id == voice.id {
                    let (voice, leader) = (voice.name.clone(), leader.name.clone());
                    return Err(DocumentError::Follow { voice, leader });
                }
            }
        }
        Ok(())
    }

    fn validate_layer(&self, voice: &str, layer: &Layer) -> Result<(), DocumentError> {
        let of = |what: &str| format!("{what} of {voice}");
        in_range(of("layer gain"), layer.gain_db, limits::TRIM_DB, "dB")?;
        in_range(of("layer tuning"), layer.tune_ct, limits::TUNE_CT, "ct")?;
        in_range(of("fade-in"), layer.fade_in.ms, limits::FADE_MS, "ms")?;
        in_range(of("fade-in curve"), layer.fade_in.curve_percent, limits::CURVE_PERCENT, "%")?;
        in_range(of("velocity to gain"), layer.velocity_percent, limits::VELOCITY_PERCENT, "%")?;
        if let Some(decay) = layer.decay {
            in_range(of("hold"), decay.hold_ms, limits::HOLD_MS, "ms")?;
            in_range(of("decay"), decay.ms, limits::DECAY_MS, "ms")?;
            in_range(of("decay curve"), decay.curve_percent, limits::CURVE_PERCENT, "%")?;
        }
        if let Some(sweep) = layer.sweep {
            in_range(of("pitch sweep"), sweep.depth_st, limits::SWEEP_ST, "st")?;
            in_range(of("pitch sweep"), sweep.ms, limits::SWEEP_MS, "ms")?;
        }
        let frames = self.asset(&layer.asset).map_or(0, |a| a.frames);
        let (start, end) = (layer.start_frame, layer.end_frame.unwrap_or(frames));
        // A sample without a frame has no other cut.
        if (start < end && end <= frames) || (frames == 0 && start == 0 && end == 0) {
            Ok(())
        } else {
            Err(DocumentError::LayerCut { voice: voice.into(), start, end, frames })
        }
    }

    fn validate_song(&self) -> Result<(), DocumentError> {
        if self.patterns.is_empty() || self.sections.is_empty() {
            return Err(DocumentError::NoSong);
        }
        at_most("sections", self.sections.len(), limits::SECTIONS)?;
        unique("a pattern's id", self.patterns.iter().map(|p| p.id))?;
        unique("a section's id", self.sections.iter().map(|s| s.id))?;
        unique("a part", self.parts.iter().map(|p| (p.pattern, p.voice)))?;
        let bars = (1.0, f64::from(limits::BARS));
        for pattern in &self.patterns {
            name_length("a pattern's name", &pattern.name, limits::NAME_CHARS)?;
            in_range(format!("length of pattern {}", pattern.name), f64::from(pattern.bars), bars, "bars")?;
        }
        for section in &self.sections {
            name_length("a section's name", &section.name, limits::NAME_CHARS)?;
            in_range(format!("length of section {}", section.name), f64::from(section.bars), bars, "bars")?;
            if self.pattern(section.pattern).is_none() {
                return Err(missing(format!("section {}", section.name), format!("pattern {}", section.pattern.0)));
            }
        }
        let ends: HashMap<_, _> =
            self.patterns.iter().map(|p| (p.id, p.bars * self.header.metre.bar_ticks())).collect();
        let names: HashMap<_, _> = self.voices.iter().map(|v| (v.id, &v.name)).collect();
        for part in &self.parts {
            let voice = *names.get(&part.voice).ok_or_else(|| missing("a part", format!("voice {}", part.voice.0)))?;
            let end =
                *ends.get(&part.pattern).ok_or_else(|| missing("a part", format!("pattern {}", part.pattern.0)))?;
            at_most(&format!("hits of {voice} in one pattern"), part.hits.len(), limits::HITS_IN_PART)?;
            // Words are made only for a hit that is wrong; a document has many that are not.
            if let Some(hit) = part.hits.iter().find(|h| !fits(h, end)) {
                let pattern = self.pattern(part.pattern).map_or_else(String::new, |p| p.name.clone());
                return Err(hit_fault(hit, end, voice, pattern));
            }
            if let Some(ticks) = part.loop_ticks {
                in_range(format!("the loop of {voice}"), f64::from(ticks), (60.0, LONGEST_TICKS), "ticks")?;
            }
            if let Some(h) = part.humanise {
                in_range(format!("humanised time of {voice}"), h.time_ms, limits::HUMANISE_MS, "ms")?;
                in_range(format!("humanised level of {voice}"), h.level_db, limits::HUMANISE_DB, "dB")?;
                in_range(format!("humanised tuning of {voice}"), h.tune_ct, limits::HUMANISE_CT, "ct")?;
            }
        }
        Ok(())
    }

    fn validate_takes(&self) -> Result<(), DocumentError> {
        at_most("dismissed checks", self.dismissed.len(), limits::DISMISSED)?;
        if let Some(long) = self.dismissed.iter().find(|key| key.len() > 400) {
            return Err(DocumentError::TooMany {
                what: "characters of a check's key".into(),
                given: long.len(),
                max: 400,
            });
        }
        at_most("takes", self.takes.len(), limits::TAKES)?;
        unique("a take's id", self.takes.iter().map(|t| t.id))?;
        for kept in &self.takes {
            let what = format!("take {}", kept.take.name);
            name_length("a take's name", &kept.take.name, limits::TITLE_CHARS)?;
            at_most(&format!("notes of {what}"), kept.take.notes.len(), limits::TAKE_NOTES)?;
            if self.pattern(kept.pattern).is_none() {
                return Err(missing(&what, format!("pattern {}", kept.pattern.0)));
            }
            for voice in kept.groups.iter().map(|g| g.voice) {
                if self.voice(voice).is_none() {
                    return Err(missing(&what, format!("voice {}", voice.0)));
                }
            }
        }
        Ok(())
    }

    fn validate_plan(&self) -> Result<(), DocumentError> {
        name_length("the label pattern", &self.stem_plan.label, limits::LABEL_CHARS)
    }
}
