//! What mends something, as an edit with its name.

use crate::edit::{Edit, ProcessorChange, SetProcessor, SetStrips, StripChange};
use crate::routing::Way;
use crate::session::{Polarity, Session, Strip};
use lane_dsp::stereo_image::Polarities;
use lane_dsp::{Settings, StereoImage};
use lane_units::StripId;
use serde::Serialize;

/// What can be done about a finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Repair {
    /// A short command, such as "Unmute Tops".
    pub name: String,
    /// What mends it.
    pub edit: Edit,
}

/// An edit that takes back the strip's turned polarity.
pub fn turn_back(strip: &Strip, session: &Session) -> Option<(String, Edit)> {
    let name = format!("Turn {} the right way round", session.strip_name(strip.id));
    if strip.polarity == Polarity::Inverted {
        let change = StripChange::Polarity(Polarity::Normal);
        return Some((name, Edit::SetStrips(SetStrips { strips: vec![strip.id], change })));
    }
    let turned = strip.chain.iter().find(|p| p.on && p.settings.gain_at_rest() < 0.0)?;
    let Settings::StereoImage(image) = &turned.settings else { return None };
    let polarity = Polarities::Neither;
    let settings = Settings::StereoImage(StereoImage { polarity, ..image.clone() });
    let change = ProcessorChange::Settings(settings);
    Some((name, Edit::SetProcessor(SetProcessor { strip: strip.id, processor: turned.id, change })))
}

/// An edit that turns a strip round.
pub fn turn_round(session: &Session, strip: StripId) -> (String, Edit) {
    let polarity = session.strip(strip).map_or(Polarity::Inverted, |s| s.polarity.other());
    let change = StripChange::Polarity(polarity);
    (format!("Turn {} round", session.strip_name(strip)), Edit::SetStrips(SetStrips { strips: vec![strip], change }))
}

/// An edit that takes a meant delay off a way, where it does not share it with another.
pub fn undelayed_way(session: &Session, later: &Way, sooner: &Way) -> Option<(String, Edit)> {
    let own = later.strips.iter().filter(|id| !sooner.strips.contains(id));
    own.filter_map(|id| session.strip(*id)).find_map(|strip| undelayed(session, strip))
}

/// An edit that takes a meant delay off a strip.
pub fn undelayed(session: &Session, strip: &Strip) -> Option<(String, Edit)> {
    strip.chain.iter().filter(|p| p.on).find_map(|p| match &p.settings {
        Settings::StereoImage(image) if image.delay_frames > 0.0 => {
            let to = Settings::StereoImage(StereoImage { delay_frames: 0.0, ..image.clone() });
            let change = ProcessorChange::Settings(to);
            let name = format!("Take the delay of {} off", session.strip_name(strip.id));
            Some((name, Edit::SetProcessor(SetProcessor { strip: strip.id, processor: p.id, change })))
        }
        _ => None,
    })
}
