//! Where both sides of a sound are the same, so that width does nothing to it.

use super::graph::order;
use crate::session::{SendTap, Session, Strip};
use crate::units::{ProcessorId, StripId};
use serde::Serialize;
use std::collections::HashMap;

/// What gets the same sound on both sides, whatever is played.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct MonoPlaces {
    /// Strips whose width gets it.
    pub strips: Vec<StripId>,
    /// Processors whose input gets it.
    pub processors: Vec<ProcessorId>,
}

/// The places of a session where only mono sound arrives; those where nothing does are not among them.
pub fn mono_places(session: &Session) -> MonoPlaces {
    let mut found = MonoPlaces::default();
    // What is known of each strip behind its chain: whether it is mono, nothing where nothing arrives.
    let mut behind: HashMap<StripId, Option<bool>> = HashMap::new();
    for id in order(session).unwrap_or_default() {
        let Some(strip) = session.strip(id) else { continue };
        let mut mono = arrives(session, strip, &behind);
        for processor in &strip.chain {
            if mono == Some(true) {
                found.processors.push(processor.id);
            }
            if processor.on && processor.mix_percent > 0.0 && processor.settings.widens() {
                mono = mono.map(|_| false);
            }
        }
        if mono == Some(true) {
            found.strips.push(id);
        }
        behind.insert(id, mono);
    }
    found
}

fn arrives(session: &Session, strip: &Strip, behind: &HashMap<StripId, Option<bool>>) -> Option<bool> {
    let assets = session.voices.iter().filter(|v| v.channel == strip.id).flat_map(|v| v.source.assets());
    let voices = assets.filter_map(|id| session.asset(id)).map(|asset| asset.channels == 1);
    let fed = session.strips.iter().flat_map(|from| {
        let mono = behind.get(&from.id).copied().flatten();
        let output = (from.output == Some(strip.id)).then_some(from.pan_percent == 0.0);
        let sends = from.sends.iter().filter(|send| send.to == strip.id).map(|send| {
            let placed = send.tap == SendTap::PostFader && from.pan_percent != 0.0;
            send.pan_percent == 0.0 && !placed
        });
        output.into_iter().chain(sends).filter_map(move |centred| mono.map(|mono| mono && centred)).collect::<Vec<_>>()
    });
    voices.chain(fed).reduce(|all, one| all && one)
}
