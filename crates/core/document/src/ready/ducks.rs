//! What is ducked by what in most beats, as far as a session has it.

use crate::session::{Family, KEY_SOURCES, Role, Session, Shared, Strip, StripKind, Voice, VoiceSource};
use lane_units::{IdSet, OFF_DB, ProcessorId, StripId};
use serde::Serialize;

/// Something to be ducked, and by what.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct DuckStart {
    /// What it does, in few words; each its own.
    pub text: String,
    /// What the key hears.
    pub sources: Vec<StripId>,
    /// What is ducked.
    pub strips: Vec<StripId>,
}

/// A key and what makes room for it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Pair {
    /// What is heard through.
    pub key: StripId,
    /// What makes room.
    pub target: StripId,
}

/// Whether a voice is the kick, by its name.
fn is_kick(voice: &Voice) -> bool {
    Role::of(&voice.name).part() == Some("kick")
}

/// The starts that a session has something for, without what is ducked so already.
pub fn duck_starts(session: &Session) -> Vec<DuckStart> {
    let heard: Vec<&Voice> = Shared::values(&session.voices)
        .filter(|v| session.strip(v.channel).is_some_and(|s| s.kind == StripKind::Channel))
        .collect();
    let channels = |fits: &dyn Fn(&Voice) -> bool| {
        let mut seen = IdSet::default();
        let of = heard.iter().filter(|v| fits(v)).map(|v| v.channel);
        of.filter(|channel| seen.insert(*channel)).collect::<Vec<_>>()
    };
    let kick: Vec<StripId> = heard.iter().find(|v| is_kick(v)).map(|v| v.channel).into_iter().collect();
    let by_kick = |what: &str, fits: &dyn Fn(&Voice) -> bool| {
        start(session, &kick, &channels(fits), |key| format!("{what} under {key}"))
    };
    let plays = |v: &Voice| matches!(v.family, Family::Bass | Family::Music);
    let firsts = [
        by_kick("everything musical", &plays),
        by_kick("the bass", &|v| v.family == Family::Bass),
        by_kick("recordings", &|v| matches!(v.source, VoiceSource::Recording { .. }) && !plays(v)),
    ];
    let returns = Shared::values(&session.strips).filter(|s| s.kind == StripKind::Return).map(|back| {
        let feeds = |s: &Strip| s.sends.iter().any(|send| send.to == back.id && !send.mute && send.level_db > OFF_DB);
        let feeders: Vec<StripId> =
            Shared::values(&session.strips).filter(|s| feeds(s)).map(|s| s.id).take(KEY_SOURCES).collect();
        let name = session.strip_name(back.id);
        start(session, &feeders, &[back.id], |key| format!("{name} under {key}, which it comes from"))
    });
    firsts.into_iter().chain(returns).flatten().collect()
}

fn start(
    session: &Session,
    sources: &[StripId],
    strips: &[StripId],
    text: impl Fn(&str) -> String,
) -> Option<DuckStart> {
    let free = |id: &StripId| {
        !sources.contains(id) && !sources.iter().all(|source| session.strip(*id).is_some_and(|s| s.ducked_by(*source)))
    };
    let strips: Vec<StripId> = strips.iter().copied().filter(free).collect();
    let names = session.strip_names(sources.iter().copied());
    (!sources.is_empty() && !strips.is_empty()).then(|| DuckStart {
        text: text(&names),
        sources: sources.to_vec(),
        strips,
    })
}

/// The pair for which room is made first: what is looked at makes room for the kick, or for the key of a ducker that is
/// looked at; where it is that itself, or nothing is looked at, the bass does.
///
/// * `looked_at` – the chosen strip, if it is there.
/// * `ducker` – the chosen ducker, if it is there.
pub fn usual_pair(session: &Session, looked_at: StripId, ducker: ProcessorId) -> Pair {
    let strips = || Shared::values(&session.strips);
    let voices = || Shared::values(&session.voices);
    let ducked = strips().find_map(|s| Some((s.id, s.processor(ducker)?.key?.source)));
    let low = || voices().find(|v| v.family == Family::Low);
    let kick = || voices().find(|v| is_kick(v)).or_else(low).map(|v| v.channel);
    let bass = || voices().find(|v| v.family == Family::Bass).map(|v| v.channel);
    let first = || strips().next().map_or(StripId(0), |s| s.id);
    let key = ducked.and_then(|(_, source)| source).or_else(kick).unwrap_or_else(first);
    let takes = |kind: StripKind| !matches!(kind, StripKind::Trigger | StripKind::Main);
    let fits = session.strip(looked_at).filter(|s| takes(s.kind) && s.id != key).map(|s| s.id);
    let another = || strips().find(|s| s.id != key).map(|s| s.id);
    let target = fits.or(ducked.map(|(id, _)| id)).or_else(bass).or_else(another).unwrap_or_else(first);
    Pair { key, target }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edit::{AddProcessor, AddVoices, Edit, NewReturn, NewVoice, apply};
    use crate::session::Key;
    use lane_dsp::{Compressor, Settings};
    use rstest::{fixture, rstest};

    fn lanes(of: &[(&str, Family)]) -> Session {
        let mut session = Session::new("Copper", 48_000);
        let voice = |(name, family): &(&str, Family)| NewVoice {
            trim_db: 0.0,
            name: name.parse().unwrap(),
            family: *family,
            source: VoiceSource::Empty,
            output: None,
            hits: vec![],
        };
        let voices = of.iter().map(voice).collect();
        apply(&mut session, &Edit::from(AddVoices { voices, assets: vec![] })).unwrap();
        session
    }

    #[fixture]
    fn beat() -> Session {
        use Family::{Bass, Low, Music, Snare};
        lanes(&[("Kick", Low), ("Clap", Snare), ("Sub", Bass), ("Keys", Music)])
    }

    fn channel(session: &Session, name: &str) -> StripId {
        Shared::values(&session.voices).find(|v| v.name == name).unwrap().channel
    }

    fn duck(session: &mut Session, to: &str, by: &str) -> ProcessorId {
        let (to, by) = (channel(session, to), channel(session, by));
        let edit = AddProcessor {
            strips: vec![to],
            settings: Settings::Compressor(Compressor::default()),
            key: Some(Key::new(by)),
            at: None,
        };
        apply(session, &Edit::from(edit)).unwrap();
        session.strip(to).unwrap().chain.last().unwrap().id
    }

    fn fed(session: &mut Session, feeders: &[&str]) {
        let feeders = feeders.iter().map(|name| channel(session, name)).collect();
        apply(session, &Edit::from(NewReturn { name: "Room".into(), feeders, silent: false })).unwrap();
    }

    fn said(session: &Session) -> Vec<String> {
        let on = |s: &DuckStart| format!("{}: {}", s.text, session.strip_names(s.strips.iter().copied()));
        duck_starts(session).iter().map(on).collect()
    }

    #[rstest]
    fn starts_are_what_the_session_has_something_for(beat: Session) {
        assert_eq!(said(&beat), ["everything musical under Kick: Sub and Keys", "the bass under Kick: Sub"]);
        assert!(said(&Session::new("Copper", 48_000)).is_empty());
        assert!(said(&lanes(&[("Clap", Family::Snare), ("Sub", Family::Bass)])).is_empty());
    }

    #[rstest]
    #[case("BD 909x")]
    #[case("kickdrum")]
    #[case("Bass drum in")]
    fn a_kick_is_known_by_any_name_that_means_it(#[case] name: &str) {
        let session = lanes(&[(name, Family::Percussion), ("Sub", Family::Bass)]);
        assert_eq!(said(&session).len(), 2);
    }

    #[rstest]
    fn what_is_ducked_so_already_is_left_out(mut beat: Session) {
        duck(&mut beat, "Sub", "Kick");
        assert_eq!(said(&beat), ["everything musical under Kick: Keys"]);
    }

    #[rstest]
    fn a_return_is_ducked_by_all_that_feed_it_as_far_as_a_key_hears_them(mut beat: Session) {
        fed(&mut beat, &["Clap", "Keys"]);
        assert_eq!(said(&beat)[2], "Room under Clap and Keys, which it comes from: Room");
        let names = ["a", "b", "c", "d", "e"];
        let mut many = lanes(&names.map(|name| (name, Family::Percussion)));
        fed(&mut many, &names);
        assert_eq!(said(&many), ["Room under a, b, c and d, which it comes from: Room"]);
        let mut unfed = lanes(&[("Clap", Family::Snare)]);
        fed(&mut unfed, &[]);
        assert!(said(&unfed).is_empty());
    }

    #[rstest]
    fn the_pair_is_the_kick_and_what_is_looked_at(beat: Session) {
        let (kick, keys, sub) = (channel(&beat, "Kick"), channel(&beat, "Keys"), channel(&beat, "Sub"));
        let none = ProcessorId(0);
        assert_eq!(usual_pair(&beat, keys, none), Pair { key: kick, target: keys });
        for looked_at in [kick, beat.main().unwrap().id, StripId(0)] {
            assert_eq!(usual_pair(&beat, looked_at, none), Pair { key: kick, target: sub });
        }
    }

    #[rstest]
    fn the_pair_is_that_of_a_ducker_that_is_looked_at(mut beat: Session) {
        let ducker = duck(&mut beat, "Keys", "Clap");
        let pair = Pair { key: channel(&beat, "Clap"), target: channel(&beat, "Keys") };
        assert_eq!(usual_pair(&beat, StripId(0), ducker), pair);
    }

    #[test]
    fn an_empty_session_has_a_pair_that_names_nothing_else() {
        let empty = Session::new("Copper", 48_000);
        let Pair { key, target } = usual_pair(&empty, StripId(0), ProcessorId(0));
        assert!(empty.strip(key).is_some() && empty.strip(target).is_some());
    }
}
