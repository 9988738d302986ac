//! Two beats of a mixer at work: "Copper Weather", a finished arrangement, and "Paper Lantern", a first loop.

use crate::sounds::Sound;
use lane_core::dsp::{Compressor, Settings};
use lane_core::edit::{Edit, NewHits, NewVoice, StripChange, apply};
use lane_core::session::{
    AssetBank, AssetRef, Family, Hit, Hold, Key, Layer, Pattern, Section, Session, StripKind, StripSend, VoiceSource,
};
use lane_core::units::{PatternId, StripId};
use lane_files::asset_id;
use std::sync::Arc;

const RATE: u32 = 48_000;
const STEP: u32 = 240;
const BAR: u32 = 16;

/// A session with the audio that it names.
pub struct DemoSession {
    pub session: Session,
    pub bank: AssetBank,
}

/// All demo sessions, the large one first.
pub fn demo_sessions() -> Vec<DemoSession> {
    vec![copper_weather(), paper_lantern()]
}

/// Steps of a bar as text: `X` loud, `x` middle, `o` soft, anything else nothing; bars one after the other.
fn steps(text: &str) -> Vec<Hit> {
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
fn fill(text: &str, bars: u32) -> Vec<Hit> {
    let clean: String = text.chars().filter(|c| !c.is_whitespace()).collect();
    steps(&clean.chars().cycle().take((bars * BAR) as usize).collect::<String>())
}

/// Notes as (step, length in steps, semitones, velocity).
fn notes(list: &[(u32, u32, i8, u8)]) -> Vec<Hit> {
    list.iter()
        .map(|&(at, length, tune_st, velocity)| Hit::new(at * STEP, length * STEP - 20, velocity, tune_st))
        .collect()
}

/// Chords as (step, length in steps, semitones of each note).
fn chords(list: &[(u32, u32, [i8; 4])]) -> Vec<Hit> {
    let mut all = Vec::new();
    for &(at, length, tones) in list {
        for tone in tones {
            all.extend(notes(&[(at, length, tone, 84)]));
        }
    }
    all
}

struct Builder {
    session: Session,
    bank: AssetBank,
}

impl Builder {
    fn new(title: &str, tempo_bpm: f64, key: &str, swing_percent: f64) -> Self {
        let mut session = Session::new(title, RATE);
        session.header.tempo_bpm = tempo_bpm;
        session.header.key = key.into();
        session.header.swing.percent = swing_percent;
        Builder { session, bank: AssetBank::new() }
    }

    fn apply(&mut self, edit: Edit) {
        apply(&mut self.session, &edit).expect("demo edits are valid");
    }

    fn lane(&mut self, sound: Sound, family: Family, level: (f64, f64), parts: Vec<(PatternId, Vec<Hit>)>) {
        let audio = sound.render(RATE);
        let id = asset_id(&audio, RATE);
        let asset = AssetRef {
            id: id.clone(),
            name: sound.file_name().into(),
            channels: audio.channels(),
            sample_rate: RATE,
            frames: audio.frames() as u32,
        };
        self.bank.insert(id.clone(), Arc::new(audio));
        let hold = match sound {
            Sound::SubBass => Hold::Gate { release_ms: 45.0 },
            Sound::Keys => Hold::Gate { release_ms: 220.0 },
            Sound::Pluck => Hold::Gate { release_ms: 300.0 },
            _ => Hold::Whole,
        };
        let voice = NewVoice {
            name: sound.file_name().trim_end_matches(".wav").into(),
            family,
            source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold },
            output: None,
            hits: parts.into_iter().map(|(pattern, hits)| NewHits { pattern, hits }).collect(),
        };
        self.apply(Edit::AddVoices { voices: vec![voice], assets: vec![asset] });
        let channel = self.session.voices.last().expect("just added").channel;
        let (fader_db, pan_percent) = level;
        self.apply(Edit::SetStrips { strips: vec![channel], change: StripChange::FaderDb(fader_db) });
        self.apply(Edit::SetStrips { strips: vec![channel], change: StripChange::PanPercent(pan_percent) });
    }

    /// Puts the channels of voices, by their place on the board, on a new bus.
    fn bus(&mut self, name: &str, voices: &[usize]) {
        let feeders: Vec<StripId> = voices.iter().map(|v| self.session.voices[*v].channel).collect();
        self.apply(Edit::NewBus { name: name.into(), feeders });
    }

    /// A pressed copy of some voices on a return, low beside them.
    fn press(&mut self, voices: &[(usize, f64)]) {
        self.apply(Edit::NewReturn { name: "Press".into(), feeders: vec![], silent: false });
        let to = self.session.strips.iter().find(|s| s.kind == StripKind::Return).expect("just added").id;
        for (voice, level_db) in voices {
            let strips = vec![self.session.voices[*voice].channel];
            self.apply(Edit::SetSend { strips, send: StripSend { level_db: *level_db, ..StripSend::new(to) } });
        }
        let heavy = Compressor {
            threshold_dbfs: -36.0,
            ratio: 10.0,
            attack_ms: 5.0,
            release_ms: 150.0,
            makeup_db: 6.0,
            ..Compressor::default()
        };
        let settings = Settings::Compressor(heavy);
        self.apply(Edit::AddProcessor { strips: vec![to], settings, key: None, at: None });
        self.apply(Edit::SetStrips { strips: vec![to], change: StripChange::FaderDb(-9.0) });
    }

    /// A voice made quieter while the first one sounds.
    fn duck_by_first(&mut self, voice: usize) {
        let duck = Compressor {
            threshold_dbfs: -30.0,
            ratio: 4.0,
            attack_ms: 1.0,
            hold_ms: 15.0,
            release_ms: 90.0,
            range_db: 7.0,
            lookahead_ms: 2.0,
            ..Compressor::default()
        };
        let (strips, key) = (vec![self.session.voices[voice].channel], Key::new(self.session.voices[0].channel));
        self.apply(Edit::AddProcessor { strips, settings: Settings::Compressor(duck), key: Some(key), at: None });
    }

    fn pattern(&mut self, name: &str, bars: u32) -> PatternId {
        self.apply(Edit::AddPattern { name: name.into(), bars, copy_of: None });
        self.session.patterns.last().expect("just added").id
    }

    /// The song as (section name, pattern, bars) instead of the section of a new session.
    fn song(&mut self, list: &[(&str, PatternId, u32)]) {
        for (at, (name, pattern, bars)) in list.iter().enumerate() {
            let (name, pattern, bars) = ((*name).into(), *pattern, *bars);
            if at == 0 {
                let id = self.session.sections[0].id;
                self.apply(Edit::SetSection { section: Section { id, name, pattern, bars } });
            } else {
                self.apply(Edit::AddSection { name, pattern, bars, at: at as u32 });
            }
        }
    }

    /// A mix bus level that leaves the headroom that was asked for.
    fn mix_trim(&mut self, trim_db: f64) {
        let mix: Vec<StripId> =
            self.session.strips.iter().filter(|s| s.kind == StripKind::Channel).map(|s| s.id).collect();
        self.apply(Edit::SetStrips { strips: mix, change: StripChange::TrimDb(trim_db) });
    }

    fn done(self) -> DemoSession {
        DemoSession { session: self.session, bank: self.bank }
    }
}

/// 14 lanes, 24 bars, four sections of two patterns, F minor.
fn copper_weather() -> DemoSession {
    let mut b = Builder::new("Copper Weather", 92.0, "F min", 56.0);
    let verse = b.session.patterns[0].id;
    b.apply(Edit::SetPattern { pattern: Pattern { id: verse, name: "Verse".into(), bars: 2 } });
    let (hook, intro) = (b.pattern("Hook", 4), b.pattern("Intro", 4));
    b.song(&[("Intro", intro, 4), ("Verse", verse, 8), ("Hook", hook, 8), ("Out", intro, 4)]);

    b.lane(
        Sound::Kick,
        Family::Low,
        (-4.0, 0.0),
        vec![(verse, steps("X.....x...X..... X.....x..oX....x")), (hook, fill("X..x..x...X..... X.....x..oX..x..", 4))],
    );
    b.lane(
        Sound::Snare,
        Family::Snare,
        (-6.5, 0.0),
        vec![(verse, fill("....X.......X..o", 2)), (hook, fill("....X..o....X... ....X....o..X.oo", 4))],
    );
    b.lane(Sound::Rim, Family::Snare, (-11.0, 22.0), vec![(verse, steps("..o....x..o..... ..o....x.....o.x"))]);
    b.lane(Sound::Clap, Family::Snare, (-9.5, 0.0), vec![(hook, fill("....X.......X...", 4))]);
    b.lane(
        Sound::HatClosed,
        Family::Hats,
        (-13.0, -18.0),
        vec![(verse, fill("x.o.x.o.x.oox.o.", 2)), (hook, fill("xoo.xoxoxoo.x.xo", 4))],
    );
    b.lane(
        Sound::HatOpen,
        Family::Hats,
        (-16.0, -18.0),
        vec![(verse, fill("..............x.", 2)), (hook, fill("...x.......x....", 4))],
    );
    b.lane(Sound::Ride, Family::Hats, (-18.0, 30.0), vec![(hook, fill("x...x...x...x...", 4))]);
    b.lane(Sound::Crash, Family::Hats, (-15.0, -25.0), vec![(hook, steps("X"))]);
    b.lane(
        Sound::Shaker,
        Family::Percussion,
        (-17.0, 40.0),
        vec![(intro, fill("ooxoooxoooxoooxo", 4)), (hook, fill("oxooxooxoxooxoxo", 4))],
    );
    b.lane(
        Sound::TomLow,
        Family::Percussion,
        (-9.0, 20.0),
        vec![(intro, steps(&format!("{}............x.xX", ".".repeat(48))))],
    );
    b.lane(
        Sound::TomHigh,
        Family::Percussion,
        (-10.0, -20.0),
        vec![(intro, steps(&format!("{}..........xo....", ".".repeat(48))))],
    );
    let line = [
        (0, 5, 0, 110),
        (6, 3, 0, 96),
        (10, 4, 3, 104),
        (16, 5, -2, 110),
        (22, 3, -2, 96),
        (26, 2, -4, 104),
        (28, 4, -5, 100),
    ];
    let lifted =
        [(32, 5, -4, 110), (38, 3, -4, 96), (42, 5, 3, 104), (48, 6, 1, 110), (54, 4, 0, 96), (58, 6, -2, 104)];
    b.lane(
        Sound::SubBass,
        Family::Bass,
        (-7.0, 0.0),
        vec![(verse, notes(&line)), (hook, notes(&[&line[..], &lifted[..]].concat()))],
    );
    let quiet = [(0, 14, [0, 3, 7, 10]), (16, 14, [-2, 1, 5, 8]), (32, 14, [-4, 0, 3, 7]), (48, 15, [-5, -1, 2, 5])];
    let stabs = [(0, 6, [0, 3, 7, 12]), (10, 4, [0, 3, 7, 12]), (16, 6, [-2, 1, 5, 10]), (26, 5, [-4, 0, 3, 8])];
    b.lane(
        Sound::Keys,
        Family::Music,
        (-15.0, -12.0),
        vec![(intro, chords(&quiet)), (verse, chords(&stabs)), (hook, chords(&quiet))],
    );
    let arp = [
        (2, 2, 0, 88),
        (5, 2, 7, 80),
        (8, 2, 10, 92),
        (11, 2, 12, 76),
        (14, 2, 7, 84),
        (18, 2, -2, 88),
        (21, 2, 5, 80),
        (24, 2, 8, 92),
        (27, 2, 10, 76),
        (30, 2, 3, 84),
    ];
    let higher: Vec<_> = arp.iter().map(|&(at, l, st, v)| (at + 32, l, st + if st > 5 { 0 } else { 5 }, v)).collect();
    b.lane(
        Sound::Pluck,
        Family::Music,
        (-14.0, 28.0),
        vec![(intro, notes(&arp[..5])), (hook, notes(&[&arp[..], &higher[..]].concat()))],
    );
    b.bus("Drums", &[0, 1, 2, 3, 9, 10]);
    b.bus("Tops", &[4, 5, 6, 7, 8]);
    b.bus("Music", &[12, 13]);
    b.press(&[(0, 0.0), (1, 0.0), (3, -4.0)]);
    b.duck_by_first(11);
    b.mix_trim(-1.5);
    b.done()
}

/// 5 lanes, 8 bars, one pattern, everything still straight into the mix bus.
fn paper_lantern() -> DemoSession {
    let mut b = Builder::new("Paper Lantern", 124.0, "A min", 50.0);
    let loop_ = b.session.patterns[0].id;
    b.apply(Edit::SetPattern { pattern: Pattern { id: loop_, name: "Loop".into(), bars: 2 } });
    b.song(&[("Loop", loop_, 8)]);
    b.lane(Sound::Kick, Family::Low, (-4.0, 0.0), vec![(loop_, fill("X...X...X...X...", 2))]);
    b.lane(Sound::Clap, Family::Snare, (-8.0, 0.0), vec![(loop_, fill("....X.......X...", 2))]);
    b.lane(Sound::HatClosed, Family::Hats, (-14.0, 10.0), vec![(loop_, fill("x.oox.oox.oox.oo", 2))]);
    b.lane(Sound::HatOpen, Family::Hats, (-15.0, 10.0), vec![(loop_, fill("..x...x...x...x.", 2))]);
    let line = [
        (2, 2, 4, 108),
        (6, 2, 4, 100),
        (10, 2, 7, 104),
        (14, 2, 4, 100),
        (18, 2, 2, 108),
        (22, 2, 2, 100),
        (26, 4, -1, 104),
    ];
    b.lane(Sound::SubBass, Family::Bass, (-7.0, 0.0), vec![(loop_, notes(&line))]);
    b.done()
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_core::stems::{StemJob, render};

    #[test]
    fn demo_sessions_are_whole_and_mixed_with_headroom() {
        for DemoSession { session, bank } in demo_sessions() {
            session.validate().unwrap();
            assert!(session.assets.iter().all(|a| bank.contains_key(&a.id)));
            let figures = render(&session, &bank, &StemJob::new(&session, 1).unwrap(), &mut ()).unwrap();
            let title = &session.header.title;
            assert!((-9.0..=-1.0).contains(&figures.main_true_peak_dbtp), "{title} {}", figures.main_true_peak_dbtp);
            assert!(figures.stems.iter().all(|s| s.peak_dbfs > -60.0), "{title} has a silent stem");
            assert!(figures.sum_minus_main_dbfs.unwrap() < -105.0, "{title}");
        }
    }

    #[test]
    fn the_large_one_is_large_and_the_small_one_small() {
        let sizes: Vec<_> = demo_sessions()
            .iter()
            .map(|d| (d.session.voices.len(), d.session.sections.iter().map(|s| s.bars).sum::<u32>()))
            .collect();
        assert_eq!(sizes, [(14, 24), (5, 8)]);
    }
}
