//! Snapshots: kept, thinned with age, of their owner only, and the audio that they need stays.

use crate::common::{account, document, edit, fader, session, store, voice};
use lane_document::edit::{AddProcessor, AddVoices, Edit, NewVoice, apply};
use lane_document::session::{AssetRef, Family, Hit, Hold, Layer, Session, VoiceSource};
use lane_store::{NewSnapshot, PackedSession, SnapshotFigures, SnapshotInfo, Store, StoreError};
use lane_units::{AssetId, Name};
use sqlx::PgPool;
use std::io::Cursor;
use std::time::Duration;
use uuid::Uuid;

const NONE: SnapshotFigures =
    SnapshotFigures { lufs: None, short_term_lufs: None, true_peak_dbtp: None, crest_db: None };

fn by_hand<'a>(name: &'a Name, document: &'a PackedSession) -> NewSnapshot<'a> {
    NewSnapshot { name, by_hand: true, taken_at: None, figures: NONE, document }
}

async fn take(store: &Store, owner: Uuid, id: Uuid, name: &str, by_hand: bool) -> Result<Uuid, StoreError> {
    let document = store.session(owner, id).await?.read()?.session;
    let packed = PackedSession::of(&document)?;
    let name = Name::new(name).unwrap();
    store.add_snapshot(owner, id, &NewSnapshot { by_hand, ..self::by_hand(&name, &packed) }).await
}

async fn names(store: &Store, owner: Uuid, id: Uuid) -> Vec<String> {
    store.snapshots(owner, id).await.unwrap().into_iter().map(|s| s.name.to_string()).collect()
}

#[sqlx::test(migrations = false)]
async fn a_snapshot_keeps_the_session_as_it_was_and_belongs_to_its_owner(pool: PgPool) {
    let store = store(pool).await;
    let (anna, ben) = (account(&store, "anna").await, account(&store, "ben").await);
    let id = session(&store, &anna).await;
    edit(&store, anna.id, id, &voice("Kick")).await.unwrap();
    let before = document(&store, &anna, id).await;
    let figures = SnapshotFigures { lufs: Some(-17.2), true_peak_dbtp: Some(-5.1), ..NONE };
    let packed = PackedSession::of(&before).unwrap();
    let name = "Before".into();
    let new = NewSnapshot { figures, ..by_hand(&name, &packed) };
    let made = store.add_snapshot(anna.id, id, &new).await.unwrap();
    edit(&store, anna.id, id, &fader(before.voices[0].channel, -9.0)).await.unwrap();
    assert_ne!(document(&store, &anna, id).await, before);
    assert_eq!(store.snapshot(anna.id, id, made).await.unwrap().read().unwrap(), before);
    let SnapshotInfo { name, by_hand, figures: kept, bytes, .. } =
        store.snapshots(anna.id, id).await.unwrap().remove(0);
    assert_eq!((name.as_str(), by_hand, kept, bytes as usize), ("Before", true, figures, packed.bytes()));

    let gone = |e: Result<(), StoreError>| assert!(matches!(e, Err(StoreError::NotFound { .. })));
    gone(store.snapshots(ben.id, id).await.map(drop));
    gone(store.snapshot(ben.id, id, made).await.map(drop));
    gone(store.change_snapshot(ben.id, id, made, Some(&"Mine".into()), None).await);
    gone(store.remove_snapshot(ben.id, id, made).await);
    gone(take(&store, ben.id, id, "Mine", true).await.map(drop));
    // Another session of its owner has no such snapshot either.
    let other = session(&store, &anna).await;
    gone(store.snapshot(anna.id, other, made).await.map(drop));

    let measured = SnapshotFigures { crest_db: Some(12.0), ..figures };
    store.change_snapshot(anna.id, id, made, None, Some(measured)).await.unwrap();
    assert_eq!(store.snapshots(anna.id, id).await.unwrap()[0].figures, measured);
    store.change_snapshot(anna.id, id, made, Some(&"Before the clippers".into()), None).await.unwrap();
    assert_eq!(names(&store, anna.id, id).await, ["Before the clippers"]);
    store.remove_snapshot(anna.id, id, made).await.unwrap();
    assert!(names(&store, anna.id, id).await.is_empty());
    gone(store.remove_snapshot(anna.id, id, made).await);
}

/// Kick, snare and so on, a hundred of them with hits and processors.
fn hundred_lanes() -> Session {
    let mut s = Session::new("Large", 48_000);
    let pattern = s.patterns[0].id;
    let lane = |n: usize| {
        let hits =
            (0..16).map(|at| Hit::new(240 * at + n as u32 % 7, 120, 60 + (n as u8 + at as u8) % 60, 0)).collect();
        let name = Name::new(&format!("Lane {n}")).unwrap();
        let hits = vec![lane_document::edit::NewHits { pattern, hits }];
        NewVoice {
            trim_db: -(n as f64) / 7.0,
            name,
            family: Family::Low,
            source: VoiceSource::Empty,
            output: None,
            hits,
        }
    };
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: (0..100).map(lane).collect(), assets: vec![] })).unwrap();
    let strips: Vec<_> = s.voices.iter().map(|v| v.channel).collect();
    for kind in [0, 2, 4] {
        let settings = lane_dsp::Settings::all()[kind].clone();
        apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: strips.clone(), settings, key: None, at: None }))
            .unwrap();
    }
    s
}

#[sqlx::test(migrations = false)]
async fn a_hundred_snapshots_of_a_hundred_lanes_are_small(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let large = hundred_lanes();
    let id = store.add_session(owner.id, &large).await.unwrap();
    let packed = PackedSession::of(&large).unwrap();
    assert!(packed.bytes() < 20 << 10, "{} bytes", packed.bytes());
    for n in 0..100 {
        let name = Name::new(&format!("State {n}")).unwrap();
        store.add_snapshot(owner.id, id, &by_hand(&name, &packed)).await.unwrap();
    }
    let list = store.snapshots(owner.id, id).await.unwrap();
    assert_eq!((list.len(), list[0].name.as_str()), (100, "State 99"));
    assert_eq!(store.snapshot(owner.id, id, list[50].id).await.unwrap().read().unwrap(), large);
}

#[sqlx::test(migrations = false)]
async fn snapshots_of_the_program_are_bounded_within_an_hour_and_end_after_a_year(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let old = take(&store, owner.id, id, "old", false).await.unwrap();
    let kept = take(&store, owner.id, id, "old, by hand", true).await.unwrap();
    sqlx::query("update snapshots set taken_at = now() - interval '400 days'").execute(store.pool()).await.unwrap();
    for n in 0..105 {
        take(&store, owner.id, id, &format!("{n}"), false).await.unwrap();
    }
    let left = store.snapshots(owner.id, id).await.unwrap();
    // The newest is not thinned by its own taking.
    assert_eq!(left.iter().filter(|s| !s.by_hand).count(), 101);
    assert!(left[0].name.as_str() == "104" && !left.iter().any(|s| s.id == old || s.name.as_str() == "3"));
    assert!(left.iter().any(|s| s.id == kept));
    let bytes: i64 = left.iter().map(|s| s.bytes).sum();
    assert_eq!(store.holdings(owner.id).await.unwrap().history_bytes, bytes);
}

/// Those of the program: all of an hour, one an hour of a day, one a day beyond; those taken by hand all stay.
#[sqlx::test(migrations = false)]
async fn snapshots_of_the_program_are_thinned_with_age(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let ages = [
        ("now 1", "2 minutes"),
        ("now 2", "3 minutes"),
        ("hour newer", "5 hours 1 minute"),
        ("hour older", "5 hours 2 minutes"),
        ("day newer", "50 hours 1 minute"),
        ("day older", "50 hours 2 minutes"),
    ];
    for by_hand in [false, true] {
        for (name, age) in ages {
            let name = format!("{name}{}", if by_hand { ", by hand" } else { "" });
            let made = take(&store, owner.id, id, &name, by_hand).await.unwrap();
            // From the start of an hour and a day, so that what belongs together is in one.
            let at = "update snapshots set taken_at = case when $2 like '% hours %' and $2 not like '5 %'
                          then date_trunc('day', now() - interval '2 days') - $2::interval + interval '50 hours 30 minutes'
                      when $2 like '5 %' then date_trunc('hour', now()) - $2::interval + interval '30 minutes'
                      else now() - $2::interval end where id = $1";
            sqlx::query(at).bind(made).bind(age).execute(store.pool()).await.unwrap();
        }
    }
    take(&store, owner.id, id, "the last", false).await.unwrap();
    let left = names(&store, owner.id, id).await;
    let by_program: Vec<&str> = left.iter().map(String::as_str).filter(|n| !n.ends_with("by hand")).collect();
    assert_eq!(by_program, ["the last", "now 1", "now 2", "hour newer", "day newer"]);
    assert_eq!(left.len() - by_program.len(), ages.len());
    // One that got a name is kept like one that somebody took.
    let lines = store.snapshots(owner.id, id).await.unwrap();
    let day = lines.iter().find(|s| s.name.as_str() == "day newer").unwrap();
    store.change_snapshot(owner.id, id, day.id, None, Some(NONE)).await.unwrap();
    assert!(store.snapshots(owner.id, id).await.unwrap().iter().any(|s| s.id == day.id && !s.by_hand));
    store.change_snapshot(owner.id, id, day.id, Some(&"Kept".into()), None).await.unwrap();
    assert!(store.snapshots(owner.id, id).await.unwrap().iter().any(|s| s.name.as_str() == "Kept" && s.by_hand));
}

#[sqlx::test(migrations = false)]
async fn audio_that_a_snapshot_needs_is_not_swept(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let asset =
        AssetRef { id: AssetId("ab".repeat(32)), name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames: 10 };
    store.put_asset(owner.id, &asset, Cursor::new(vec![0; 40])).await.unwrap();
    let mut session = Session::new("Beat", 48_000);
    let source = VoiceSource::OneShot { layers: vec![Layer::new(asset.id.clone())], hold: Hold::Whole };
    let voice = NewVoice { trim_db: 0.0, name: "Kick".into(), family: Family::Low, source, output: None, hits: vec![] };
    apply(&mut session, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset.clone()] })).unwrap();
    let id = store.add_session(owner.id, &Session::new("Other", 48_000)).await.unwrap();
    let packed = PackedSession::of(&session).unwrap();
    let made = store.add_snapshot(owner.id, id, &by_hand(&"Then".into(), &packed)).await.unwrap();
    let swept = store.sweep(owner.id, Duration::ZERO).await.unwrap();
    assert_eq!((swept.disowned, swept.removed), (0, 0));
    store.remove_snapshot(owner.id, id, made).await.unwrap();
    assert_eq!(store.sweep(owner.id, Duration::ZERO).await.unwrap().disowned, 1);
}

#[sqlx::test(migrations = false)]
async fn a_snapshot_goes_with_its_session(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    take(&store, owner.id, id, "Then", true).await.unwrap();
    store.remove_session(owner.id, id).await.unwrap();
    let left: i64 = sqlx::query_scalar("select count(*) from snapshots").fetch_one(store.pool()).await.unwrap();
    assert_eq!(left, 0);
}
