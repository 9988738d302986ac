//! The one list of kinds, and what is made of it.

use super::kind::{Kind, Mix, Moment, Place, Unit};
use super::parts::{Choice, Param};
use super::processors::{
    beat_shape::{BeatShape, POINTS, ShapePoint},
    clipper::Clipper,
    compressor::{Compressor, Direction},
    crush::Crush,
    delay::Delay,
    enhancer::Enhancer,
    envelope_filter::EnvelopeFilter,
    equaliser::{BANDS, Band, Equaliser},
    gate::Gate,
    limiter::Limiter,
    reverb::Reverb,
    saturation::Saturation,
    steady_db,
    stereo_image::StereoImage,
    transient::Transient,
};
use lane_units::{Frame, Reader, Words};
use serde::{Deserialize, Serialize};

/// The bands of an equaliser.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct BandInfo {
    /// What is allowed of its values.
    pub params: Vec<Param>,
    /// What can be chosen.
    pub choices: Vec<Choice>,
    /// A band as it begins.
    pub default: Band,
    /// Bands at most.
    pub most: usize,
}

/// The points of a shape.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PointInfo {
    /// What is allowed of its values.
    pub params: Vec<Param>,
    /// Points at most.
    pub most: usize,
    /// Shapes to start from, each by its word.
    pub starts: Vec<(&'static str, Vec<ShapePoint>)>,
}

/// One kind of processor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct KindInfo {
    /// The trade's word.
    pub name: &'static str,
    /// What is allowed of its values.
    pub params: Vec<Param>,
    /// What can be chosen.
    pub choices: Vec<Choice>,
    /// Whether it can listen to another sound.
    pub takes_key: bool,
    /// Whether it takes gain away by the level.
    pub reduces: bool,
    /// Whether it moves a filter by the level; how far is counted in semitones.
    pub sweeps: bool,
    /// Whether it goes by the song's place, so that it works without hearing anything.
    pub keeps_time: bool,
    /// What its mix means.
    pub mix: Mix,
    /// Where it has points beside its values.
    pub points: Option<PointInfo>,
    /// Where it has bands instead of values of its own.
    pub bands: Option<BandInfo>,
    /// Settings as they begin.
    pub default: Settings,
}

/// The kinds in the order in which they are offered, each with what documents called it before.
macro_rules! kinds {
    ($($kind:ident $(= $before:literal)?;)*) => {
        /// What a processor is and how it is set.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
        #[serde(tag = "kind", rename_all = "snake_case")]
        pub enum Settings {
            $(
                #[doc = concat!("See [`", stringify!($kind), "`].")]
                $(#[serde(alias = $before)])?
                $kind($kind),
            )*
        }

        impl Settings {
            /// One of each kind at its defaults, in the order in which they are offered.
            pub fn all() -> Vec<Settings> {
                vec![$(Settings::$kind($kind::default()),)*]
            }

            /// The kind as documents name it.
            pub fn word(&self) -> String {
                let name = match self { $(Settings::$kind(_) => stringify!($kind),)* };
                let mut word = String::new();
                for (at, letter) in name.char_indices() {
                    if letter.is_uppercase() && at > 0 {
                        word.push('_');
                    }
                    word.extend(letter.to_lowercase());
                }
                word
            }

            /// Whether documents name the kind so, today or before.
            pub fn is_called(&self, word: &str) -> bool {
                let before: &[&str] = match self { $(Settings::$kind(_) => &[$($before)?],)* };
                self.word() == word || before.contains(&word)
            }

            /// The kind in the trade's word.
            pub fn name(&self) -> &'static str {
                match self { $(Settings::$kind(_) => $kind::NAME,)* }
            }

            /// Its values with what is allowed of them.
            pub fn values(&self) -> Vec<(&'static Param, f64)> {
                match self { $(Settings::$kind(s) => s.values(),)* }
            }

            /// Sets a value by its name in the declaration; false where there is none of that name. Of bands, all are
            /// set.
            pub fn set(&mut self, name: &str, value: f64) -> bool {
                match self { $(Settings::$kind(s) => s.set(name, value),)* }
            }

            /// What one at work follows, as numbers: which kind, then its course. Allocates, and takes its time.
            pub fn write_course(&self, place: Place, words: &mut Vec<f64>) {
                words.push(f64::from(self.number()));
                match self { $(Settings::$kind(s) => s.course(place).write(words),)* }
            }

            fn number(&self) -> u8 {
                Number::from(self) as u8
            }

            fn choices(&self) -> Vec<Choice> {
                match self { $(Settings::$kind(_) => $kind::choices(),)* }
            }

            /// Whether it can listen to another sound than the one it works on.
            pub fn takes_key(&self) -> bool {
                match self { $(Settings::$kind(_) => $kind::TAKES_KEY,)* }
            }

            /// Whether it follows the tempo.
            pub fn follows_tempo(&self) -> bool {
                match self { $(Settings::$kind(s) => Kind::follows_tempo(s),)* }
            }

            /// Whether it takes gain away by the level.
            pub fn reduces(&self) -> bool {
                match self { $(Settings::$kind(_) => $kind::REDUCES,)* }
            }

            /// Whether it moves a filter by the level.
            pub fn sweeps(&self) -> bool {
                match self { $(Settings::$kind(_) => $kind::SWEEPS,)* }
            }

            /// Whether it goes by the song's place, so that it works without hearing anything.
            pub fn keeps_time(&self) -> bool {
                match self { $(Settings::$kind(_) => $kind::KEEPS_TIME,)* }
            }

            /// What its mix means.
            pub fn mix(&self) -> Mix {
                match self { $(Settings::$kind(_) => $kind::MIX,)* }
            }

            /// With a part of its gains, of kinds whose mix is that.
            pub fn in_part(&self, part: f64) -> Option<Settings> {
                match self { $(Settings::$kind(s) => Kind::in_part(s, part).map(Settings::$kind),)* }
            }

            /// Frames by which the sound comes out later.
            pub fn latency(&self, sample_rate: u32) -> usize {
                match self { $(Settings::$kind(s) => Kind::latency(s, sample_rate),)* }
            }

            /// Frames for which it rings on after its input has ended, its latency not counted.
            pub fn tail(&self, place: Place) -> usize {
                match self { $(Settings::$kind(s) => Kind::tail(s, place),)* }
            }

            /// Whether both sides of a sound that has them alike come out different.
            pub fn widens(&self) -> bool {
                match self { $(Settings::$kind(s) => Kind::widens(s),)* }
            }

            /// Linear gain, with its sign, that a small steady signal meets, where that can be said of it.
            pub fn gain_at_rest(&self) -> f64 {
                match self { $(Settings::$kind(s) => Kind::gain_at_rest(s),)* }
            }
        }

        /// The place of each kind in the list.
        #[derive(Debug, Clone, Copy, PartialEq)]
        enum Number { $($kind,)* }

        impl Number {
            const ALL: &[Number] = &[$(Number::$kind,)*];
        }

        impl From<&Settings> for Number {
            fn from(settings: &Settings) -> Number {
                match settings { $(Settings::$kind(_) => Number::$kind,)* }
            }
        }

        /// What a processor of any kind follows.
        #[derive(Debug, Clone)]
        #[allow(clippy::large_enum_variant, reason = "it is read and taken over on the spot, and never kept")]
        pub(super) enum AnyCourse {
            $($kind(<$kind as Kind>::Course),)*
        }

        impl AnyCourse {
            /// Reads what [`Settings::write_course`] wrote. Fit for the audio thread.
            pub fn read(words: &mut Reader) -> Option<Self> {
                Some(match Number::ALL.get(words.count()?)? {
                    $(Number::$kind => AnyCourse::$kind(Words::read(words)?),)*
                })
            }
        }

        /// A processor of any kind at work.
        #[derive(Debug, Clone)]
        pub(super) enum AnyUnit {
            $($kind(Box<<$kind as Kind>::Unit>),)*
        }

        impl AnyUnit {
            pub fn new(course: &AnyCourse, place: Place) -> Self {
                match course { $(AnyCourse::$kind(c) => AnyUnit::$kind(Box::new(Unit::new(c, place))),)* }
            }

            /// Whether it can follow another course.
            pub fn fits(&self, course: &AnyCourse, place: Place) -> bool {
                match (self, course) {
                    $((AnyUnit::$kind(unit), AnyCourse::$kind(c)) => Unit::fits(unit.as_ref(), c, place),)*
                    _ => false,
                }
            }

            /// Follows another course that fits.
            pub fn set(&mut self, course: &AnyCourse, place: Place) {
                match (self, course) {
                    $((AnyUnit::$kind(unit), AnyCourse::$kind(c)) => Unit::set(unit.as_mut(), c, place),)*
                    _ => {}
                }
            }

            /// Takes over what it can of one of the same kind.
            pub fn inherit(&mut self, old: AnyUnit) {
                match (self, old) {
                    $((AnyUnit::$kind(unit), AnyUnit::$kind(old)) => Unit::<<$kind as Kind>::Course>::inherit(unit.as_mut(), *old),)*
                    _ => {}
                }
            }

            pub fn keeps_time(&self) -> bool {
                match self { $(AnyUnit::$kind(_) => $kind::KEEPS_TIME,)* }
            }

            pub fn memory(&self) -> usize {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::memory(unit.as_ref()),)* }
            }

            pub fn rests(&self, silent: usize) -> bool {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::rests(unit.as_ref(), silent),)* }
            }

            pub fn pass(&mut self, frames: usize, now: &Moment) {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::pass(unit.as_mut(), frames, now),)* }
            }

            pub fn process_at(&mut self, frames: &mut [Frame], key: Option<&[Frame]>, now: &Moment) {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::process_at(unit.as_mut(), frames, key, now),)* }
            }

            pub fn feed(&mut self, frames: &[Frame], gain: f64) {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::feed(unit.as_mut(), frames, gain),)* }
            }

            pub fn take_reduction_db(&mut self) -> f64 {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::take_reduction_db(unit.as_mut()),)* }
            }

            pub fn reset(&mut self) {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::reset(unit.as_mut()),)* }
            }

            pub fn fall_idle(&mut self) {
                match self { $(AnyUnit::$kind(unit) => Unit::<<$kind as Kind>::Course>::fall_idle(unit.as_mut()),)* }
            }
        }
    };
}

kinds! {
    Equaliser;
    Compressor;
    Gate;
    BeatShape;
    Transient;
    Saturation;
    Clipper;
    Enhancer;
    Limiter;
    EnvelopeFilter;
    Crush;
    Delay;
    Reverb;
    StereoImage = "utility";
}

/// Gains in dB over frequency, for pictures.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Response {
    /// Of what stays below, in dB.
    pub rest: Vec<f64>,
    /// With everything that follows the level as far as it goes.
    pub moved: Vec<f64>,
}

impl Settings {
    /// Whether what it does by the level is to bring up what is soft.
    pub fn lifts(&self) -> bool {
        matches!(self, Settings::Compressor(s) if s.direction == Direction::Up)
    }

    /// The level in dBFS that a steady one comes out at, of processors that go by the level.
    pub fn steady_db(&self, level_dbfs: f64) -> Option<f64> {
        match self {
            Settings::Compressor(s) => Some(level_dbfs - s.reduction_db(level_dbfs) + s.makeup_db),
            Settings::Gate(s) => Some(level_dbfs - s.reduction_db(level_dbfs)),
            Settings::Limiter(s) => Some(s.steady_db(level_dbfs)),
            Settings::Clipper(s) => Some(steady_db(s, level_dbfs)),
            Settings::Saturation(s) => Some(steady_db(s, level_dbfs)),
            _ => None,
        }
    }

    /// Gains in dB at some frequencies in Hz, at rest and as far as the level moves it, of what is a filter.
    pub fn response_db(&self, freqs_hz: &[f64], sample_rate: u32) -> Option<Response> {
        let (rest, moved) = match self {
            Settings::Equaliser(s) => {
                (s.response_db(freqs_hz, sample_rate), s.moved().response_db(freqs_hz, sample_rate))
            }
            Settings::EnvelopeFilter(s) => {
                (s.response_db(freqs_hz, 0.0, sample_rate), s.response_db(freqs_hz, 1.0, sample_rate))
            }
            _ => return None,
        };
        Some(Response { rest, moved })
    }

    /// What each kind is, for screens.
    pub fn kinds() -> Vec<KindInfo> {
        Settings::all()
            .into_iter()
            .map(|default| KindInfo {
                name: default.name(),
                params: default.values().into_iter().map(|(param, _)| *param).collect(),
                choices: default.choices(),
                takes_key: default.takes_key(),
                reduces: default.reduces(),
                sweeps: default.sweeps(),
                keeps_time: default.keeps_time(),
                mix: default.mix(),
                points: matches!(default, Settings::BeatShape(_)).then(|| PointInfo {
                    params: ShapePoint::PARAMS.to_vec(),
                    most: POINTS,
                    starts: BeatShape::starts(),
                }),
                bands: matches!(default, Settings::Equaliser(_)).then(|| BandInfo {
                    params: Band::PARAMS.to_vec(),
                    choices: Band::choices(),
                    default: Band::default(),
                    most: BANDS,
                }),
                default,
            })
            .collect()
    }
}
