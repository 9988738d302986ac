//! Templates that ship with the program: routing and chains without a sound in them.

use lane_document::edit::{
    AddProcessor, AddVoices, BusGroup, Edit, GroupOnBuses, NewReturn, NewVoice, SetSend, SetStrips, StripChange, apply,
};
use lane_document::session::{Family, Key, SendTap, Session, StripSend, VoiceSource};
use lane_dsp::{Compressor, Settings, StereoImage};
use lane_units::StripId;

/// One of our templates.
pub struct HouseTemplate {
    pub name: &'static str,
    pub purpose: &'static str,
    pub session: Session,
}

/// Our templates, the plainest first.
pub fn house_templates() -> Vec<HouseTemplate> {
    vec![family_kit(), parallel_kit(), tracked_drums()]
}

struct Builder(Session);

impl Builder {
    fn new(title: &'static str, lanes: &[(&'static str, Family)]) -> Self {
        let mut made = Builder(Session::new(title, 48_000));
        let voice = |(name, family): &(&'static str, Family)| NewVoice {
            trim_db: 0.0,
            name: (*name).into(),
            family: *family,
            source: VoiceSource::Empty,
            output: None,
            hits: vec![],
        };
        made.apply(Edit::AddVoices(AddVoices { voices: lanes.iter().map(voice).collect(), assets: vec![] }));
        made
    }

    fn apply(&mut self, edit: Edit) {
        apply(&mut self.0, &edit).expect("template edits are valid");
    }

    fn named(&self, name: &'static str) -> StripId {
        let found = self.0.strips.iter().map(|s| s.id).find(|id| self.0.strip_name(*id) == name);
        found.expect("a strip of a template")
    }

    fn buses(&mut self, groups: &[(&'static str, &[&'static str])]) {
        let group = |(name, lanes): &(&'static str, &[&'static str])| BusGroup {
            name: (*name).into(),
            strips: lanes.iter().map(|lane| self.named(lane)).collect(),
        };
        let groups = groups.iter().map(group).collect();
        self.apply(Edit::GroupOnBuses(GroupOnBuses { groups }));
    }

    fn parallel(&mut self, name: &'static str, lanes: &[(&'static str, f64)], compressor: Compressor) {
        self.apply(Edit::NewReturn(NewReturn { name: name.into(), feeders: vec![], silent: true }));
        let to = self.named(name);
        for (lane, level_db) in lanes {
            let send = StripSend { level_db: *level_db, tap: SendTap::PostFader, ..StripSend::new(to) };
            self.apply(Edit::SetSend(SetSend { strips: vec![self.named(lane)], send }));
        }
        self.processor(name, Settings::Compressor(compressor), None);
    }

    fn processor(&mut self, strip: &'static str, settings: Settings, key: Option<&'static str>) {
        let key = key.map(|source| Key::new(self.named(source)));
        self.apply(Edit::AddProcessor(AddProcessor { strips: vec![self.named(strip)], settings, key, at: None }));
    }

    fn pan(&mut self, lanes: &[(&'static str, f64)]) {
        for (lane, percent) in lanes {
            let change = StripChange::PanPercent(*percent);
            self.apply(Edit::SetStrips(SetStrips { strips: vec![self.named(lane)], change }));
        }
    }
}

/// One lane a voice, one bus a family, nothing else.
fn family_kit() -> HouseTemplate {
    use Family::{Bass, Hats, Low, Music, Percussion, Snare};
    let mut made = Builder::new(
        "Family kit",
        &[
            ("Kick", Low),
            ("Snare", Snare),
            ("Clap", Snare),
            ("Hat closed", Hats),
            ("Hat open", Hats),
            ("Shaker", Percussion),
            ("Bass", Bass),
            ("Keys", Music),
        ],
    );
    made.buses(&[
        ("Low", &["Kick"]),
        ("Snares and claps", &["Snare", "Clap"]),
        ("Hats and cymbals", &["Hat closed", "Hat open"]),
        ("Percussion", &["Shaker"]),
        ("Bass group", &["Bass"]),
        ("Music", &["Keys"]),
    ]);
    HouseTemplate { name: "Family kit", purpose: "Eight lanes, each family on a bus of its own.", session: made.0 }
}

/// A drum bus with a heavy parallel compressor, and the bass ducked by the kick.
fn parallel_kit() -> HouseTemplate {
    use Family::{Bass, Hats, Low, Music, Snare};
    let mut made = Builder::new(
        "Parallel kit",
        &[("Kick", Low), ("Snare", Snare), ("Clap", Snare), ("Hats", Hats), ("Bass", Bass), ("Chords", Music)],
    );
    made.buses(&[("Drums", &["Kick", "Snare", "Clap", "Hats"])]);
    let heavy = Compressor {
        threshold_dbfs: -34.0,
        ratio: 12.0,
        knee_db: 3.0,
        attack_ms: 4.0,
        release_ms: 140.0,
        ..Compressor::default()
    };
    made.parallel("Press", &[("Kick", 0.0), ("Snare", 0.0), ("Clap", -3.0), ("Hats", -12.0)], heavy);
    let duck = Compressor {
        threshold_dbfs: -30.0,
        ratio: 4.0,
        attack_ms: 1.0,
        hold_ms: 20.0,
        release_ms: 110.0,
        range_db: 8.0,
        ..Compressor::default()
    };
    made.processor("Bass", Settings::Compressor(duck), Some("Kick"));
    made.processor("Bass", Settings::StereoImage(StereoImage { mono_below_hz: 120.0, ..StereoImage::default() }), None);
    HouseTemplate {
        name: "Parallel kit",
        purpose: "Drums beside a pressed copy that waits at zero; the kick ducks the bass.",
        session: made.0,
    }
}

/// Recorded drums: close lanes, a pair of room lanes, and a gentle compressor over them all.
fn tracked_drums() -> HouseTemplate {
    use Family::{Hats, Low, Percussion, Snare};
    let mut made = Builder::new(
        "Tracked drums",
        &[
            ("Kick in", Low),
            ("Kick out", Low),
            ("Snare top", Snare),
            ("Snare under", Snare),
            ("Tom high", Percussion),
            ("Tom low", Percussion),
            ("Hat", Hats),
            ("Over left", Hats),
            ("Over right", Hats),
            ("Room", Percussion),
        ],
    );
    made.buses(&[
        ("Kick sum", &["Kick in", "Kick out"]),
        ("Snare sum", &["Snare top", "Snare under"]),
        ("Toms", &["Tom high", "Tom low"]),
        ("Airs", &["Over left", "Over right", "Room"]),
    ]);
    made.buses(&[("Drums", &["Kick sum", "Snare sum", "Toms", "Hat", "Airs"])]);
    let under = made.named("Snare under");
    let change = StripChange::Polarity(lane_document::session::Polarity::Inverted);
    made.apply(Edit::SetStrips(SetStrips { strips: vec![under], change }));
    made.pan(&[("Tom high", -25.0), ("Tom low", 30.0), ("Over left", -100.0), ("Over right", 100.0)]);
    let gentle = Compressor {
        threshold_dbfs: -16.0,
        ratio: 2.0,
        knee_db: 9.0,
        attack_ms: 30.0,
        release_ms: 180.0,
        ..Compressor::default()
    };
    made.processor("Drums", Settings::Compressor(gentle), None);
    HouseTemplate {
        name: "Tracked drums",
        purpose: "Ten recorded lanes with sums for kick, snare and toms under one drum bus.",
        session: made.0,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::checks::checks;

    #[test]
    fn templates_are_whole_silent_and_in_order() {
        for HouseTemplate { name, purpose, session } in house_templates() {
            session.validate().unwrap();
            lane_document::routing::order(&session).unwrap();
            assert!(session.assets.is_empty() && session.parts.is_empty());
            assert!(!name.is_empty() && !purpose.is_empty());
            // Lanes have no sound yet, so keys have none either; nothing else is left to do.
            let open =
                checks(&session).into_iter().filter(|c| !c.key.starts_with("sound") && !c.key.starts_with("key"));
            assert_eq!(open.count(), 0, "{name}");
        }
    }
}
