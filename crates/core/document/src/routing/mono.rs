//! Where both sides of a sound are the same, so that width does nothing to it.

use super::graph::order;
use crate::session::{Session, Shared, Strip};
use lane_units::{AssetId, IdMap, ProcessorId, StripId};
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
///
/// Cost: one pass over voices and connections.
pub fn mono_places(session: &Session) -> MonoPlaces {
    let mut found = MonoPlaces::default();
    let strips: IdMap<StripId, &Strip> = Shared::values(&session.strips).map(|s| (s.id, s)).collect();
    let channels: HashMap<&AssetId, u16> = session.assets.iter().map(|a| (&a.id, a.channels)).collect();
    // Whether all that arrives at a strip is mono, so far; nothing stands there where nothing arrives.
    let mut arrives: IdMap<StripId, bool> = IdMap::default();
    let add = |arrives: &mut IdMap<StripId, bool>, at: StripId, mono: bool| {
        arrives.entry(at).and_modify(|all| *all &= mono).or_insert(mono);
    };
    for voice in &session.voices {
        for channels in voice.source.assets().into_iter().filter_map(|id| channels.get(id)) {
            add(&mut arrives, voice.channel, *channels == 1);
        }
    }
    for id in order(session).unwrap_or_default() {
        let Some(strip) = strips.get(&id) else { continue };
        let mut mono = arrives.get(&id).copied();
        for processor in &strip.chain {
            if mono == Some(true) {
                found.processors.push(processor.id);
            }
            if processor.on && processor.mix_percent > 0.0 && processor.settings.widens() {
                mono = mono.map(|_| false);
            }
        }
        let Some(mono) = mono else { continue };
        if mono {
            found.strips.push(id);
        }
        let centred = strip.pan_percent == 0.0;
        if let Some(to) = strip.output {
            add(&mut arrives, to, mono && centred);
        }
        for send in &strip.sends {
            add(&mut arrives, send.to, mono && send.pan_percent == 0.0 && (centred || !send.is_placed()));
        }
    }
    found
}
