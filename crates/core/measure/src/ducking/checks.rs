//! What is worth a look at duckers, once they were heard.

use lane_document::checks::{Check, Repair};
use lane_document::edit::{ProcessorChange, SetProcessor};
use lane_document::session::Session;
use lane_units::{CheckKey, ProcessorId, StripId};
use serde::Deserialize;

/// A ducker that takes no more than this away does nothing, in dB: under what anybody hears of a level.
const LEAST_DB: f64 = 0.05;

/// Of what was heard of a ducker, what is worth a look: some of [`super::Ducker`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardDucker {
    /// Whose sound is ducked.
    pub strip: StripId,
    /// The processor.
    pub processor: ProcessorId,
    /// What it does.
    pub figures: HeardFigures,
    /// Whether its key sounds at all.
    pub keyed: bool,
    /// Whether there is any sound to duck.
    pub sounds: bool,
}

/// Some of [`super::DuckFigures`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardFigures {
    /// The most that is ever taken away, in dB.
    pub depth_db: f64,
    /// Whether one is never back.
    pub stuck: bool,
    /// Of one that its key opens: how.
    pub opening: Option<HeardOpening>,
}

/// Some of [`super::Opening`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardOpening {
    /// Hits after which it opens.
    pub opened: u32,
}

/// Duckers that never do anything, and such that are never back, though they have something to hear and to duck.
pub fn heard_checks(session: &Session, heard: &[HeardDucker]) -> Vec<Check> {
    heard.iter().filter_map(|ducker| check(session, ducker)).collect()
}

fn check(session: &Session, heard: &HeardDucker) -> Option<Check> {
    let processor = session.strip(heard.strip)?.processor(heard.processor)?;
    let never = heard.figures.depth_db < LEAST_DB;
    let shut = heard.figures.opening.is_some_and(|opening| opening.opened == 0);
    if !(processor.on && heard.keyed && heard.sounds) || !(never || shut || heard.figures.stuck) {
        return None;
    }
    let name = format!("The {} of {}", processor.settings.name().to_lowercase(), session.strip_name(heard.strip));
    let (word, sentence) = if never {
        ("never ducks", format!("{name} does nothing in the loop, though its key sounds."))
    } else if shut {
        ("never opens", format!("{name} never opens in the loop: its key does not reach its threshold."))
    } else {
        ("never back", format!("{name} is never back in the loop: it makes the sound softer instead of making room."))
    };
    let key = CheckKey::cleaned(&format!("{word} {}", heard.processor.0), "check");
    let off = SetProcessor { strip: heard.strip, processor: heard.processor, change: ProcessorChange::On(false) };
    let repair = Some(Repair { name: "Switch it off".into(), edit: off.into() });
    Some(Check { dismissed: session.dismissed.contains(&key), key, sentence, repair })
}
