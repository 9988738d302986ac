//! Documents as rows: what a change writes, and that everybody reads the same.

use crate::common::{account, document, edit, session, store, voice, walk};
use lane_core::edit::{Edit, StripChange};
use lane_core::session::{Hit, Session};
use lane_core::units::StripId;
use lane_store::documents::prepare_edit;
use lane_store::{Account, Store, Way};
use sqlx::PgPool;
use uuid::Uuid;

/// What somebody reads who has nothing at hand.
async fn anew(pool: &PgPool, owner: &Account, id: Uuid) -> Session {
    let read = Store::on(pool.clone()).session(owner.id, id).await.unwrap().read().unwrap();
    assert!(read.as_stored);
    read.session
}

fn fader(strip: StripId, db: f64) -> Edit {
    Edit::SetStrips { strips: vec![strip], change: StripChange::FaderDb(db) }
}

#[sqlx::test(migrations = false)]
async fn a_change_writes_the_pieces_that_it_changes(pool: PgPool) {
    let store = store(pool.clone()).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    for n in 0..40 {
        edit(&store, owner.id, id, &voice(&format!("Lane {n}"))).await.unwrap();
    }
    let doc = document(&store, &owner, id).await;
    let (lane, pattern) = (&doc.voices[7], doc.patterns[0].id);
    let writes = async |wanted: &Edit| {
        let kept = store.session(owner.id, id).await.unwrap();
        prepare_edit(&kept, Uuid::new_v4(), wanted).unwrap().writes()
    };
    assert_eq!(writes(&fader(lane.channel, -3.0)).await, (1, 0));
    assert_eq!(writes(&Edit::SetHeader { header: doc.header.clone() }).await, (0, 0));
    let hits = vec![Hit::new(0, 240, 100, 0)];
    // A part, and the order of parts.
    assert_eq!(writes(&Edit::SetHits { pattern, voice: lane.id, hits }).await, (2, 0));
    // A voice, its channel, both orders, the next free id.
    assert_eq!(writes(&voice("More")).await, (5, 0));
    assert_eq!(writes(&Edit::RemoveVoices { voices: vec![lane.id] }).await, (2, 2));
    assert_eq!(writes(&Edit::MoveVoice { voice: lane.id, to: 0 }).await, (1, 0));
}

/// Two servers on one database, each with what it has at hand: everybody reads what was written last.
#[sqlx::test(migrations = false)]
async fn what_is_at_hand_is_trusted_at_its_revision_alone(pool: PgPool) {
    let (one, two) = (store(pool.clone()).await, Store::on(pool.clone()));
    let owner = account(&one, "a").await;
    let id = session(&one, &owner).await;
    let mut seed = 7_u64;
    let mut dice = |sides: u64| {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (seed >> 33) % sides
    };
    for n in 0..120 {
        let at = if dice(2) == 0 { &one } else { &two };
        let doc = document(at, &owner, id).await;
        let any = |dice: u64| doc.voices.get(dice as usize % doc.voices.len().max(1));
        let wanted = match (dice(8), any(dice(99))) {
            (0, _) | (_, None) => voice(&format!("Lane {n}")),
            (1, Some(v)) => Edit::RemoveVoices { voices: vec![v.id] },
            (2, Some(v)) => Edit::MoveVoice { voice: v.id, to: dice(9) as u32 },
            (3, Some(v)) => {
                let hits = (0..dice(4)).map(|at| Hit::new(240 * at as u32, 120, 100, 0)).collect();
                Edit::SetHits { pattern: doc.patterns[0].id, voice: v.id, hits }
            }
            // A number whose shortest form is long.
            (4, Some(v)) => fader(v.channel, -(dice(1_000_000) as f64) / 30_011.0),
            (5, Some(_)) => Edit::AddPattern { name: "B".into(), bars: 1, copy_of: Some(doc.patterns[0].id) },
            (6, Some(_)) => {
                let _ = walk(at, owner.id, id, Way::Undo).await;
                continue;
            }
            _ => {
                let _ = walk(at, owner.id, id, Way::Redo).await;
                continue;
            }
        };
        // Too many patterns are refused, which is no fault here.
        let _ = edit(at, owner.id, id, &wanted).await;
        let now = anew(&pool, &owner, id).await;
        now.validate().unwrap();
        assert_eq!((&document(&one, &owner, id).await, &document(&two, &owner, id).await), (&now, &now));
    }
}

/// Whoever reads while others write gets a document of one revision.
#[sqlx::test(migrations = false)]
async fn a_document_is_never_read_in_parts_of_two_revisions(pool: PgPool) {
    let store = store(pool.clone()).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    for name in ["Kick", "Snare", "Hat"] {
        edit(&store, owner.id, id, &voice(name)).await.unwrap();
    }
    let strips: Vec<StripId> = document(&store, &owner, id).await.voices.iter().map(|v| v.channel).collect();
    let writer = tokio::spawn({
        let store = store.clone();
        async move {
            for n in 1..=60 {
                let change = StripChange::FaderDb(-f64::from(n));
                let all = Edit::SetStrips { strips: strips.clone(), change };
                edit(&store, owner.id, id, &all).await.unwrap();
            }
        }
    });
    let reader = Store::on(pool.clone());
    let mut seen = 0;
    while !writer.is_finished() || seen == 0 {
        // Nothing is at hand there: each look is at the rows.
        let doc = Store::on(pool.clone()).session(owner.id, id).await.unwrap().read().unwrap().session;
        let faders: Vec<f64> = doc.voices.iter().map(|v| doc.strip(v.channel).unwrap().fader_db).collect();
        assert!(faders.iter().all(|db| *db == faders[0]), "{faders:?}");
        let kept = reader.session(owner.id, id).await.unwrap();
        let db = kept.read().unwrap().session.strips.iter().map(|s| s.fader_db).fold(0.0, f64::min);
        assert_eq!(kept.revision, 4 + -db as i64);
        seen += 1;
    }
    writer.await.unwrap();
}
