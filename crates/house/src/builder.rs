//! How sessions of ours are made: by the edits that a person makes, from phrases written as text.

use crate::presets::house_presets;
use crate::sounds::Sound;
use lane_document::edit::{
    AddPattern, AddProcessor, AddSection, AddVoices, Edit, NewBus, NewHits, NewReturn, NewVoice, ProcessorChange,
    SetProcessor, SetSection, SetSend, SetStrips, StripChange, apply,
};
use lane_document::session::Tempo;
use lane_document::session::{
    AssetBank, AssetRef, Audio, Family, Hit, Hold, Key, Layer, Section, Session, StripKind, StripSend, VoiceSource,
};
use lane_dsp::{Compressor, Settings};
use lane_files::asset_id;
use lane_units::{PatternId, StripId, Title};
use std::sync::Arc;

const STEP: u32 = 240;
const BAR: u32 = 16;

/// A session with the audio that it names.
pub struct DemoSession {
    pub session: Session,
    pub bank: AssetBank,
}

/// Steps of a bar as text: `X` loud, `x` middle, `o` soft, anything else nothing; bars one after the other.
pub fn steps(text: &str) -> Vec<Hit> {
    text.chars()
        .filter(|c| !c.is_whitespace())
        .enumerate()
        .filter_map(|(at, c)| {
            let velocity = match c {
                'X' => 118,
                'x' => 96,
                'o' => 62,
                _ => return None,
            };
            Some(Hit::new(at as u32 * STEP, STEP, velocity, 0))
        })
        .collect()
}

/// A phrase repeated to fill bars.
pub fn fill(text: &'static str, bars: u32) -> Vec<Hit> {
    let clean: String = text.chars().filter(|c| !c.is_whitespace()).collect();
    steps(&clean.chars().cycle().take((bars * BAR) as usize).collect::<String>())
}

/// Notes as (step, length in steps, semitones, velocity).
pub fn notes(list: &[(u32, u32, i8, u8)]) -> Vec<Hit> {
    list.iter()
        .map(|&(at, length, tune_st, velocity)| Hit::new(at * STEP, length * STEP - 20, velocity, tune_st))
        .collect()
}

/// Chords as (step, length in steps, semitones of each note).
pub fn chords(list: &[(u32, u32, [i8; 4])]) -> Vec<Hit> {
    let mut all = Vec::new();
    for &(at, length, tones) in list {
        for tone in tones {
            all.extend(notes(&[(at, length, tone, 84)]));
        }
    }
    all
}

/// A recording of a lane, from bar 1 on.
pub struct Track {
    /// What the lane is called.
    pub name: &'static str,
    /// The name of its file.
    pub file: &'static str,
    pub family: Family,
    pub audio: Audio,
}

pub struct Builder {
    pub session: Session,
    bank: AssetBank,
    rate: u32,
}

impl Builder {
    /// * `rate` – in Hz, one of the session rates.
    pub fn new(title: impl Into<Title>, rate: u32, tempo_bpm: f64, key: &'static str, swing_percent: f64) -> Self {
        let mut session = Session::new(title, rate);
        session.header.tempo_bpm = Tempo::new(tempo_bpm).expect("demo tempi are tempi");
        session.header.key = key.into();
        session.header.swing.percent = swing_percent;
        Builder { session, bank: AssetBank::new(), rate }
    }

    pub fn apply(&mut self, edit: Edit) {
        apply(&mut self.session, &edit).expect("demo edits are valid");
    }

    /// Audio under the name of its file.
    fn asset(&mut self, audio: Arc<Audio>, name: &'static str) -> AssetRef {
        let id = asset_id(&audio, self.rate);
        let asset = AssetRef {
            id: id.clone(),
            name: name.into(),
            channels: audio.channels(),
            sample_rate: self.rate,
            frames: audio.frames() as u32,
        };
        self.bank.insert(id, audio);
        asset
    }

    /// A lane that plays a recording from bar 1 on.
    ///
    /// * `level` – fader in dB and pan in %.
    pub fn recording(&mut self, track: Track, level: (f64, f64)) {
        let asset = self.asset(Arc::new(track.audio), track.file);
        let source = VoiceSource::Recording { asset: asset.id.clone(), start_frame: 0 };
        self.voice(
            NewVoice {
                trim_db: 0.0,
                name: track.name.into(),
                family: track.family,
                source,
                output: None,
                hits: vec![],
            },
            asset,
            level,
        );
    }

    /// A lane that plays a sound of ours.
    ///
    /// * `level` – fader in dB and pan in %.
    pub fn lane(&mut self, sound: Sound, family: Family, level: (f64, f64), parts: Vec<(PatternId, Vec<Hit>)>) {
        let asset = self.asset(sound.kept(self.rate), sound.file_name());
        let id = asset.id.clone();
        let hold = match sound {
            Sound::SubBass => Hold::Gate { release_ms: 45.0 },
            Sound::Keys => Hold::Gate { release_ms: 220.0 },
            Sound::Pluck => Hold::Gate { release_ms: 300.0 },
            Sound::Pad => Hold::Gate { release_ms: 250.0 },
            _ => Hold::Whole,
        };
        let voice = NewVoice {
            trim_db: 0.0,
            name: sound.file_name().trim_end_matches(".wav").into(),
            family,
            source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold },
            output: None,
            hits: parts.into_iter().map(|(pattern, hits)| NewHits { pattern, hits }).collect(),
        };
        self.voice(voice, asset, level);
    }

    fn voice(&mut self, voice: NewVoice, asset: AssetRef, level: (f64, f64)) {
        self.apply(Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] }));
        let channel = self.session.voices.last().expect("just added").channel;
        let (fader_db, pan_percent) = level;
        self.apply(Edit::SetStrips(SetStrips { strips: vec![channel], change: StripChange::FaderDb(fader_db) }));
        self.apply(Edit::SetStrips(SetStrips { strips: vec![channel], change: StripChange::PanPercent(pan_percent) }));
    }

    /// Puts the channels of voices, by their place on the board, on a new bus.
    pub fn bus(&mut self, name: &'static str, voices: &[usize]) {
        let feeders: Vec<StripId> = voices.iter().map(|v| self.session.voices[*v].channel).collect();
        self.apply(Edit::NewBus(NewBus { name: name.into(), feeders }));
    }

    /// A new return with a processor, to which voices send at levels in dB.
    pub fn send_to(&mut self, name: &'static str, voices: &[(usize, f64)], settings: Settings) -> StripId {
        self.apply(Edit::NewReturn(NewReturn { name: name.into(), feeders: vec![], silent: false }));
        let to = self.session.strips.iter().rfind(|s| s.kind == StripKind::Return).expect("just added").id;
        for (voice, level_db) in voices {
            let strips = vec![self.session.voices[*voice].channel];
            self.apply(Edit::SetSend(SetSend {
                strips,
                send: StripSend { level_db: *level_db, ..StripSend::new(to) },
            }));
        }
        self.apply(Edit::AddProcessor(AddProcessor { strips: vec![to], settings, key: None, at: None }));
        to
    }

    /// Processors at the end of the chain of a voice.
    pub fn chain(&mut self, voice: usize, settings: Vec<Settings>) {
        let strips = vec![self.session.voices[voice].channel];
        for settings in settings {
            self.apply(Edit::AddProcessor(AddProcessor { strips: strips.clone(), settings, key: None, at: None }));
        }
    }

    /// Processors at the end of the chain of a return.
    pub fn return_chain(&mut self, name: &str, settings: Vec<Settings>) {
        let found = self.session.strips.iter().find(|s| s.kind == StripKind::Return && s.name == name);
        let strips = vec![found.expect("it was made").id];
        for settings in settings {
            self.apply(Edit::AddProcessor(AddProcessor { strips: strips.clone(), settings, key: None, at: None }));
        }
    }

    /// One of our chains at the end of that of a voice.
    pub fn house_chain(&mut self, voice: usize, name: &'static str) {
        let preset = house_presets().into_iter().find(|p| p.name == name).expect("it is one of ours");
        self.chain(voice, preset.processors.into_iter().map(|p| p.settings).collect());
    }

    /// Trims a voice, and moves what goes by the level in its chain and its fader so that it sounds the same: with room
    /// over every processor.
    pub fn with_room(&mut self, voice: usize, trim_db: f64) {
        let id = self.session.voices[voice].channel;
        let strip = self.session.strip(id).expect("a voice has a channel").clone();
        self.apply(Edit::SetStrips(SetStrips { strips: vec![id], change: StripChange::TrimDb(trim_db) }));
        self.apply(Edit::SetStrips(SetStrips {
            strips: vec![id],
            change: StripChange::FaderDb(strip.fader_db - trim_db),
        }));
        for processor in &strip.chain {
            let mut settings = processor.settings.clone();
            let levels = settings.values().into_iter().filter(|(param, _)| param.unit == "dBFS");
            for (name, value) in levels.map(|(param, value)| (param.name, value)).collect::<Vec<_>>() {
                settings.set(name, value + trim_db);
            }
            let change = ProcessorChange::Settings(settings);
            self.apply(Edit::SetProcessor(SetProcessor { strip: id, processor: processor.id, change }));
        }
    }

    /// A pressed copy of some voices on a return, low beside them.
    pub fn press(&mut self, voices: &[(usize, f64)]) {
        let heavy = Compressor {
            threshold_dbfs: -36.0,
            ratio: 10.0,
            attack_ms: 5.0,
            release_ms: 150.0,
            makeup_db: 6.0,
            ..Compressor::default()
        };
        let to = self.send_to("Press", voices, Settings::Compressor(heavy));
        self.apply(Edit::SetStrips(SetStrips { strips: vec![to], change: StripChange::FaderDb(-14.0) }));
    }

    /// A voice made quieter while the first one sounds.
    pub fn duck_by_first(&mut self, voice: usize) {
        let duck = Compressor {
            threshold_dbfs: -38.0,
            ratio: 4.0,
            attack_ms: 1.0,
            hold_ms: 15.0,
            release_ms: 90.0,
            range_db: 7.0,
            lookahead_ms: 2.0,
            ..Compressor::default()
        };
        self.duck(voice, 0, Settings::Compressor(duck));
    }

    /// A voice that makes room for another.
    pub fn duck(&mut self, voice: usize, by: usize, settings: Settings) {
        let (strips, key) = (vec![self.session.voices[voice].channel], Key::new(self.session.voices[by].channel));
        self.apply(Edit::AddProcessor(AddProcessor { strips, settings, key: Some(key), at: None }));
    }

    pub fn pattern(&mut self, name: &'static str, bars: u32) -> PatternId {
        self.apply(Edit::AddPattern(AddPattern { name: name.into(), bars, copy_of: None }));
        self.session.patterns.last().expect("just added").id
    }

    /// The song as (section name, pattern, bars) instead of the section of a new session.
    pub fn song(&mut self, list: &[(&'static str, PatternId, u32)]) {
        for (at, (name, pattern, bars)) in list.iter().enumerate() {
            let (name, pattern, bars) = ((*name).into(), *pattern, *bars);
            if at == 0 {
                let id = self.session.sections[0].id;
                self.apply(Edit::SetSection(SetSection { section: Section { id, name, pattern, bars } }));
            } else {
                self.apply(Edit::AddSection(AddSection { name, pattern, bars, at: at as u32 }));
            }
        }
    }

    pub fn done(self) -> DemoSession {
        DemoSession { session: self.session, bank: self.bank }
    }
}
