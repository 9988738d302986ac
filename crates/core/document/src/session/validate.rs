//! What every document must be, whoever wrote it.

use super::fault::{DocumentError, at_most, in_range};
use super::{
    AssetRef, Hold, Key, Layer, Part, Pattern, Processor, Reference, Session, Strip, StripKind, Voice, VoiceSource,
    limits,
};
use lane_units::{AssetId, IdMap, IdSet, PatternId, SAMPLE_RATES, StripId, VoiceId};
use std::collections::HashMap;

fn unique<T: std::hash::Hash + Eq>(what: &str, ids: impl Iterator<Item = T>) -> Result<(), DocumentError> {
    let mut seen = IdSet::default();
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

/// Where things of a document stand, to be found at once.
struct Index<'a> {
    strips: IdMap<StripId, &'a Strip>,
    voices: IdMap<VoiceId, &'a Voice>,
    patterns: IdMap<PatternId, &'a Pattern>,
    assets: HashMap<&'a AssetId, &'a AssetRef>,
}

impl<'a> Index<'a> {
    fn of(s: &'a Session) -> Self {
        Index {
            strips: s.strips.iter().map(|x| (x.id, &**x)).collect(),
            voices: s.voices.iter().map(|x| (x.id, &**x)).collect(),
            patterns: s.patterns.iter().map(|x| (x.id, &**x)).collect(),
            assets: s.assets.iter().map(|x| (&x.id, &**x)).collect(),
        }
    }
}

impl Session {
    /// Checks everything but routing loops, which [`crate::routing::order`] finds, and growth, which
    /// [`super::Size`] bounds.
    ///
    /// # Errors
    /// The first fault found, with its place and what is allowed.
    pub fn validate(&self) -> Result<(), DocumentError> {
        if self.schema != super::SCHEMA {
            return Err(DocumentError::Schema { given: self.schema });
        }
        self.validate_header()?;
        let index = Index::of(self);
        self.references(&index)?;
        // Values of a piece that was checked before, in this document or in one that shares it, are not looked at again.
        for strip in &self.strips {
            strip.sound(|strip| self.validate_strip(strip).map(|()| 0))?;
        }
        for voice in &self.voices {
            voice.sound(|voice| validate_voice(voice).map(|()| 0))?;
            validate_cuts(voice, &index)?;
        }
        self.references.iter().try_for_each(|reference| validate_reference(reference, &index))?;
        self.validate_song(&index)
    }

    /// Checks that every id stands once and that what is named is there.
    ///
    /// # Errors
    /// The first that is not.
    pub fn validate_references(&self) -> Result<(), DocumentError> {
        self.references(&Index::of(self))
    }

    fn references(&self, index: &Index) -> Result<(), DocumentError> {
        unique("an asset", self.assets.iter().map(|a| &a.id))?;
        unique("a strip's id", self.strips.iter().map(|s| s.id))?;
        unique("a processor's id", self.strips.iter().flat_map(|s| &s.chain).map(|p| p.id))?;
        unique("a voice's id", self.voices.iter().map(|v| v.id))?;
        unique("a pattern's id", self.patterns.iter().map(|p| p.id))?;
        unique("a section's id", self.sections.iter().map(|s| s.id))?;
        unique("a take's id", self.takes.iter().map(|t| t.id))?;
        unique("a reference's id", self.references.iter().map(|r| r.id))?;
        unique("a part", self.parts.iter().map(|p| (p.pattern, p.voice)))?;
        if self.patterns.is_empty() || self.sections.is_empty() {
            return Err(DocumentError::NoSong);
        }
        let mains = self.strips.iter().filter(|s| s.kind == StripKind::Main).count();
        if mains != 1 {
            return Err(DocumentError::Main { given: mains });
        }
        if !index.strips.get(&self.mix_bus).is_some_and(|s| s.takes_outputs()) {
            return Err(DocumentError::MixBus);
        }
        if let Some(most) = self.largest_id().filter(|most| *most >= self.next_id) {
            return Err(DocumentError::NextId { next: self.next_id, used: most });
        }
        self.strips.iter().try_for_each(|strip| self.strip_references(strip, index))?;
        for voice in &self.voices {
            if !index.strips.get(&voice.channel).is_some_and(|s| s.takes_voices()) {
                return Err(missing(&*voice.name, format!("channel {}", voice.channel.0)));
            }
            if let Some(asset) = voice.source.assets().into_iter().find(|a| !index.assets.contains_key(a)) {
                return Err(missing(&*voice.name, format!("audio {}", asset.0)));
            }
            let Some(leader) = voice.follows else { continue };
            let who = || format!("{}, which follows,", voice.name);
            let leader = index.voices.get(&leader).ok_or_else(|| missing(who(), format!("voice {}", leader.0)))?;
            if leader.follows.is_some() || leader.id == voice.id {
                let (voice, leader) = (voice.name.to_string(), leader.name.to_string());
                return Err(DocumentError::Follow { voice, leader });
            }
        }
        for reference in &self.references {
            if !index.assets.contains_key(&reference.asset) {
                return Err(missing(&*reference.name, format!("audio {}", reference.asset.0)));
            }
        }
        let pattern = |what: &dyn Fn() -> String, id: PatternId| match index.patterns.contains_key(&id) {
            true => Ok(()),
            false => Err(missing(what(), format!("pattern {}", id.0))),
        };
        let voice = |what: &dyn Fn() -> String, id: VoiceId| match index.voices.contains_key(&id) {
            true => Ok(()),
            false => Err(missing(what(), format!("voice {}", id.0))),
        };
        for section in &self.sections {
            pattern(&|| format!("section {}", section.name), section.pattern)?;
        }
        for part in &self.parts {
            pattern(&|| "a part".into(), part.pattern)?;
            voice(&|| "a part".into(), part.voice)?;
        }
        for kept in &self.takes {
            let what = || format!("take {}", kept.take.name);
            pattern(&what, kept.pattern)?;
            kept.groups.iter().try_for_each(|g| voice(&what, g.voice))?;
        }
        Ok(())
    }

    fn strip_references(&self, strip: &Strip, index: &Index) -> Result<(), DocumentError> {
        let name = || self.strip_name(strip.id);
        if let Some(to) = strip.output {
            match index.strips.get(&to) {
                None => return Err(missing(format!("the output of {}", name()), format!("strip {}", to.0))),
                Some(_) if strip.kind == StripKind::Trigger => return Err(DocumentError::Trigger { what: name() }),
                Some(target) if strip.kind == StripKind::Main || !target.takes_outputs() => {
                    return Err(DocumentError::Output { what: name(), to: self.strip_name(to) });
                }
                Some(_) => {}
            }
        }
        if !strip.sends.is_empty() && strip.kind == StripKind::Trigger {
            return Err(DocumentError::Trigger { what: name() });
        }
        if strip.sends.len() > 1 {
            unique("a send", strip.sends.iter().map(|s| s.to))?;
        }
        for send in &strip.sends {
            match index.strips.get(&send.to) {
                None => return Err(missing(format!("a send of {}", name()), format!("strip {}", send.to.0))),
                Some(to) if to.kind != StripKind::Return || strip.kind == StripKind::Main => {
                    return Err(DocumentError::Send { what: name(), to: self.strip_name(send.to) });
                }
                Some(_) => {}
            }
        }
        for source in strip.chain.iter().filter_map(|p| p.key).flat_map(Key::sources) {
            if !index.strips.contains_key(&source) {
                return Err(missing(format!("a key of {}", name()), format!("strip {}", source.0)));
            }
        }
        Ok(())
    }

    fn validate_header(&self) -> Result<(), DocumentError> {
        let h = &self.header;
        in_range("swing", h.swing.percent, limits::SWING_PERCENT, "%")?;
        in_range("the target of lanes", h.targets.lane.db, limits::LANE_TARGET_DB, "dB")?;
        in_range("the target of the sum", h.targets.sum_dbtp, limits::SUM_TARGET_DBTP, "dBTP")?;
        if !SAMPLE_RATES.contains(&h.sample_rate) {
            return Err(DocumentError::SampleRate { given: h.sample_rate });
        }
        for asset in &self.assets {
            if !asset.id.is_well_formed() {
                return Err(missing(format!("asset {}", asset.name), "a content address of 64 hexadecimal digits"));
            }
            in_range(|| format!("channels of {}", asset.name), f64::from(asset.channels), (1.0, 2.0), "channels")?;
            if asset.sample_rate != h.sample_rate {
                let (given, session) = (asset.sample_rate, h.sample_rate);
                return Err(DocumentError::AssetRate { what: asset.name.to_string(), given, session });
            }
        }
        Ok(())
    }

    fn validate_strip(&self, strip: &Strip) -> Result<(), DocumentError> {
        let of = |what: &'static str| move || format!("{what} of {}", self.strip_name(strip.id));
        if !strip.takes_voices() && strip.name.is_empty() {
            let what = if strip.kind == StripKind::Return { "a return" } else { "a bus" };
            return Err(DocumentError::Unnamed { what: what.into() });
        }
        in_range(of("trim"), strip.trim_db, limits::TRIM_DB, "dB")?;
        let offsets = if strip.kind == StripKind::Main { (0.0, 0.0) } else { limits::OFFSET_FRAMES };
        in_range(of("offset"), f64::from(strip.offset_frames), offsets, "frames")?;
        if let Some(target) = strip.target {
            in_range(of("target"), target.db, limits::LANE_TARGET_DB, "dB")?;
        }
        in_range(of("fader"), strip.fader_db, limits::FADER_DB, "dB")?;
        in_range(of("pan"), strip.pan_percent, limits::PAN_PERCENT, "%")?;
        in_range(of("width"), strip.width_percent, limits::WIDTH_PERCENT, "%")?;
        for send in &strip.sends {
            in_range(of("a send"), send.level_db, limits::FADER_DB, "dB")?;
            in_range(of("pan of a send"), send.pan_percent, limits::PAN_PERCENT, "%")?;
        }
        if strip.chain.len() > limits::PROCESSORS {
            at_most(&of("processors")(), strip.chain.len(), limits::PROCESSORS)?;
        }
        strip.chain.iter().try_for_each(|p| self.validate_processor(p, strip.id))
    }

    fn validate_processor(&self, processor: &Processor, strip: StripId) -> Result<(), DocumentError> {
        let kind = processor.settings.name();
        let of = |what: &'static str| {
            move || format!("{} of the {} of {}", what.to_lowercase(), kind.to_lowercase(), self.strip_name(strip))
        };
        in_range(of("input gain"), processor.input_db, limits::SLOT_DB, "dB")?;
        in_range(of("output gain"), processor.output_db, limits::SLOT_DB, "dB")?;
        in_range(of("mix"), processor.mix_percent, limits::MIX_PERCENT, "%")?;
        for (param, value) in processor.settings.values() {
            in_range(of(param.label), value, (param.min, param.max), param.unit)?;
        }
        if let lane_dsp::Settings::Equaliser(equaliser) = &processor.settings {
            at_most("bands of an equaliser", equaliser.bands.len(), lane_dsp::equaliser::BANDS)?;
        }
        if let lane_dsp::Settings::BeatShape(shape) = &processor.settings {
            at_most("points of a beat shape", shape.points.len(), lane_dsp::beat_shape::POINTS)?;
            for (param, value) in shape.points.iter().flat_map(|p| p.values()) {
                in_range(of(param.label), value, (param.min, param.max), param.unit)?;
            }
            if shape.points.is_empty() || !shape.points.is_sorted_by(|a, b| a.at_percent <= b.at_percent) {
                return Err(DocumentError::Points { strip: self.strip_name(strip) });
            }
        }
        let Some(key) = &processor.key else { return Ok(()) };
        if !processor.settings.takes_key() {
            return Err(DocumentError::NoKey { what: kind });
        }
        in_range(of("key level"), key.level_db, limits::KEY_DB, "dB")?;
        in_range(of("evenness of the key"), key.even_percent, limits::KEY_EVEN_PERCENT, "%")?;
        in_range(of("least velocity of the key"), f64::from(key.least_velocity), limits::VELOCITY, "")?;
        in_range(of("key high-pass"), key.high_pass_hz, limits::KEY_HZ, "Hz")?;
        in_range(of("key low-pass"), key.low_pass_hz, limits::KEY_HZ, "Hz")
    }

    fn validate_song(&self, index: &Index) -> Result<(), DocumentError> {
        let bar = self.header.metre.bar_ticks();
        let whole = |what: &dyn Fn() -> String, bars: u32| match bars {
            0 => Err(DocumentError::NoBars { what: what() }),
            _ => Ok(()),
        };
        self.patterns.iter().try_for_each(|p| whole(&|| format!("pattern {}", p.name), p.bars))?;
        self.sections.iter().try_for_each(|s| whole(&|| format!("section {}", s.name), s.bars))?;
        for part in &self.parts {
            let voice = index.voices[&part.voice];
            let pattern = index.patterns[&part.pattern];
            let end = pattern.bars.saturating_mul(bar);
            let reach = part.sound(|part| validate_part(part, voice))?;
            if reach > end {
                let (voice, pattern) = (voice.name.to_string(), pattern.name.to_string());
                return Err(DocumentError::HitOutside { voice, pattern, at: reach - 1, end });
            }
        }
        Ok(())
    }
}

fn validate_voice(voice: &Voice) -> Result<(), DocumentError> {
    let of = |what: &'static str| move || format!("{what} of {}", voice.name);
    if let VoiceSource::OneShot { layers, hold } = &voice.source {
        if layers.len() > limits::LAYERS {
            at_most(&of("layers")(), layers.len(), limits::LAYERS)?;
        }
        layers.iter().try_for_each(|layer| validate_layer(voice, layer))?;
        if let Hold::Gate { release_ms } = hold {
            in_range(of("release"), *release_ms, limits::RELEASE_MS, "ms")?;
        }
    }
    if let Some(set) = voice.choke_set {
        in_range(of("the choke set"), f64::from(set), limits::CHOKE_SET, "")?;
    }
    in_range(of("timing"), voice.late_ms, limits::LATE_MS, "ms")?;
    match voice.swing {
        Some(swing) => in_range(of("swing"), swing.percent, limits::SWING_PERCENT, "%"),
        None => Ok(()),
    }
}

fn validate_layer(voice: &Voice, layer: &Layer) -> Result<(), DocumentError> {
    let of = |what: &'static str| move || format!("{what} of {}", voice.name);
    in_range(of("layer gain"), layer.gain_db, limits::TRIM_DB, "dB")?;
    in_range(of("layer tuning"), layer.tune_ct, limits::TUNE_CT, "ct")?;
    in_range(of("delay"), layer.delay_ms, limits::LAYER_DELAY_MS, "ms")?;
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
    Ok(())
}

/// Checks that layers play what is in their samples.
fn validate_reference(reference: &Reference, index: &Index) -> Result<(), DocumentError> {
    let of = |what: &'static str| move || format!("{what} of {}", reference.name);
    let frames = index.assets.get(&reference.asset).map_or(0, |a| a.frames);
    let bars = f64::from(limits::REFERENCE_BAR);
    in_range(of("the bar"), f64::from(reference.start_bar), (0.0, bars), "bars")?;
    in_range(of("the end"), f64::from(reference.to_frame), (1.0, f64::from(frames)), "frames")?;
    let last = f64::from(reference.to_frame) - 1.0;
    in_range(of("the start"), f64::from(reference.from_frame), (0.0, last), "frames")
}

fn validate_cuts(voice: &Voice, index: &Index) -> Result<(), DocumentError> {
    let VoiceSource::OneShot { layers, .. } = &voice.source else { return Ok(()) };
    for layer in layers {
        let frames = index.assets.get(&layer.asset).map_or(0, |a| a.frames);
        let (start, end) = (layer.start_frame, layer.end_frame.unwrap_or(frames));
        // A sample without a frame has no other cut.
        if !((start < end && end <= frames) || (frames == 0 && start == 0 && end == 0)) {
            return Err(DocumentError::LayerCut { voice: voice.name.to_string(), start, end, frames });
        }
    }
    Ok(())
}

/// How long a pattern has to be at least for a part, in ticks: one more than where its last hit begins.
fn validate_part(part: &Part, voice: &Voice) -> Result<u32, DocumentError> {
    let of = |what: &'static str| move || format!("{what} of {}", voice.name);
    if part.hits.len() > limits::HITS_IN_PART {
        at_most(&of("hits in one pattern")(), part.hits.len(), limits::HITS_IN_PART)?;
    }
    if let Some(fault) = part.hits.iter().find_map(|h| h.fault()) {
        return Err(fault);
    }
    if let Some(ticks) = part.loop_ticks {
        in_range(of("the loop"), f64::from(ticks), limits::LOOP_TICKS, "ticks")?;
    }
    if let Some(h) = part.humanise {
        in_range(of("humanised time"), h.time_ms, limits::HUMANISE_MS, "ms")?;
        in_range(of("humanised level"), h.level_db, limits::HUMANISE_DB, "dB")?;
        in_range(of("humanised tuning"), h.tune_ct, limits::HUMANISE_CT, "ct")?;
    }
    Ok(part.hits.iter().map(|h| h.at_ticks.saturating_add(1)).max().unwrap_or(0))
}
