//! What can be wrong with a document, and how a number is held against its range.

use super::time::NotATime;
use lane_units::TextError;

/// What is wrong with a document: where, what, and what is allowed.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
pub enum DocumentError {
    #[error("the document has schema {given}; this program reads {}", super::limits::SCHEMA)]
    Schema { given: u32 },
    #[error("{what} is {given} {unit}; {min} to {max} {unit} is allowed")]
    OutOfRange { what: String, given: f64, min: f64, max: f64, unit: &'static str },
    #[error("{what} needs a name")]
    Unnamed { what: String },
    #[error("{what}: {given} given, at most {max} allowed")]
    TooMany { what: String, given: usize, max: usize },
    #[error("{what} would last {}; at most {} are allowed. Shorten it, or raise the tempo", minutes(*given), minutes(*max))]
    TooLong { what: String, given: f64, max: f64 },
    #[error(
        "the session's audio would take {given_mib} MiB while it plays; a page can hold {max_mib} MiB. Leave something out, or cut recordings to what is used"
    )]
    TooMuchAudio { given_mib: u64, max_mib: u64 },
    #[error("{what} names {missing}, which is not in the session")]
    Missing { what: String, missing: String },
    #[error("{what} stands twice in the session")]
    Twice { what: String },
    #[error("the sample rate is {given} Hz; 44100, 48000, 88200 or 96000 Hz is allowed")]
    SampleRate { given: u32 },
    #[error(transparent)]
    Time(#[from] NotATime),
    #[error(transparent)]
    Text(#[from] TextError),
    #[error("{what} cannot go to {to}: only buses and main take other strips")]
    Output { what: String, to: String },
    #[error("{what} cannot send to {to}: only returns take sends")]
    Send { what: String, to: String },
    #[error("{what} is a trigger: it goes nowhere but into keys")]
    Trigger { what: String },
    #[error("a {what} takes no key")]
    NoKey { what: &'static str },
    #[error("the points of the beat shape of {strip} have to be there, in the order of their places")]
    Points { strip: String },
    #[error("a session has exactly one main; this one has {given}")]
    Main { given: usize },
    #[error("the mix bus is not a bus of the session, nor its main")]
    MixBus,
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
    #[error("{what} has no bar; it needs at least one")]
    NoBars { what: String },
    #[error("the next free id is {next}, but {used} is in use")]
    NextId { next: u32, used: u32 },
    #[error("this would be a loop: {}", path.join(" to "))]
    Loop { path: Vec<String> },
}

/// A length of time as people say it.
fn minutes(seconds: f64) -> String {
    let whole = libm::ceil(seconds) as u64;
    format!("{} min {:02} s", whole / 60, whole % 60)
}

/// Checks a number against its range; NaN is out of every range. Words are made only for one that is wrong, since a
/// document has many that are not.
pub(crate) fn in_range<W: Into<String>>(
    what: impl InWords<W>,
    given: f64,
    (min, max): (f64, f64),
    unit: &'static str,
) -> Result<(), DocumentError> {
    if given >= min && given <= max {
        Ok(())
    } else {
        Err(DocumentError::OutOfRange { what: what.words().into(), given, min, max, unit })
    }
}

/// Words at hand, or made when they are needed.
pub(crate) trait InWords<W> {
    fn words(self) -> W;
}

impl InWords<&'static str> for &'static str {
    fn words(self) -> &'static str {
        self
    }
}

impl<F: FnOnce() -> String> InWords<String> for F {
    fn words(self) -> String {
        self()
    }
}

/// Checks a number of things against its bound.
pub(crate) fn at_most(what: &str, given: usize, max: usize) -> Result<(), DocumentError> {
    if given <= max { Ok(()) } else { Err(DocumentError::TooMany { what: what.into(), given, max }) }
}
