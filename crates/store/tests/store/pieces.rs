//! Documents as rows: what a change writes, and that everybody reads the same.

use crate::common::{Dice, account, any_edit, document, edit, fader, session, store, voice, walk};
use lane_document::edit::{Edit, MoveVoice, RemoveVoices, SetHeader, SetHits, SetStrips, StripChange};
use lane_document::session::{Hit, Session};
use lane_store::documents::prepare_edit;
use lane_store::{Account, Store, Way};
use lane_units::StripId;
use sqlx::PgPool;
use uuid::Uuid;

/// What somebody reads who has nothing at hand.
async fn anew(pool: &PgPool, owner: &Account, id: Uuid) -> Session {
    let read = Store::on(pool.clone()).session(owner.id, id).await.unwrap().read().unwrap();
    assert!(read.as_stored);
    read.session
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
    assert_eq!(writes(&Edit::SetHeader(SetHeader { header: doc.header.clone() })).await, (0, 0));
    let hits = vec![Hit::new(0, 240, 100, 0)];
    // A part, and the order of parts.
    assert_eq!(writes(&Edit::SetHits(SetHits { pattern, voice: lane.id, hits })).await, (2, 0));
    // A voice, its channel, both orders, the next free id.
    assert_eq!(writes(&voice("More")).await, (5, 0));
    assert_eq!(writes(&Edit::RemoveVoices(RemoveVoices { voices: vec![lane.id] })).await, (2, 2));
    assert_eq!(writes(&Edit::MoveVoice(MoveVoice { voice: lane.id, to: 0 })).await, (1, 0));
}

/// Two servers on one database, each with what it has at hand: everybody reads what was written last.
#[sqlx::test(migrations = false)]
async fn what_is_at_hand_is_trusted_at_its_revision_alone(pool: PgPool) {
    let (one, two) = (store(pool.clone()).await, Store::on(pool.clone()));
    let owner = account(&one, "a").await;
    let id = session(&one, &owner).await;
    let mut dice = Dice(7);
    for _ in 0..120 {
        let at = if dice.roll(2) == 0 { &one } else { &two };
        // What is refused, or cannot be undone, is no fault here.
        match dice.roll(6) {
            0 => drop(walk(at, owner.id, id, Way::Undo).await),
            1 => drop(walk(at, owner.id, id, Way::Redo).await),
            _ => {
                let wanted = any_edit(&document(at, &owner, id).await, &mut dice);
                drop(edit(at, owner.id, id, &wanted).await);
            }
        }
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
                let all = Edit::SetStrips(SetStrips { strips: strips.clone(), change });
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
