//! Edits, undo and redo: each exactly once, whoever asks when.

use crate::common::{account, document, edit, labels, session, store, voice, walk};
use lane_document::edit::{Edit, SetStrips, StripChange};
use lane_document::session::Patch;
use lane_store::documents::{prepare_edit, prepare_walk};
use lane_store::{Done, StoreError, Way};
use lane_units::StripId;
use sqlx::PgPool;
use uuid::Uuid;

#[sqlx::test(migrations = false)]
async fn edits_move_the_revision_and_undo_walks_back_and_forth(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let start = document(&store, &owner, id).await;
    assert_eq!(labels(&store, id).await, (vec![], vec![]));
    edit(&store, owner.id, id, &voice("Kick")).await.unwrap();
    let second = edit(&store, owner.id, id, &voice("Snare")).await.unwrap();
    assert_eq!((second.revision, second.label.as_str()), (3, "Add Snare"));
    let both = document(&store, &owner, id).await;

    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    assert_eq!(labels(&store, id).await, (vec!["Add Kick".into()], vec!["Add Snare".into()]));
    let undone = walk(&store, owner.id, id, Way::Undo).await.unwrap();
    assert_eq!(undone.revision, 5);
    let back = document(&store, &owner, id).await;
    // Ids are never given twice, so the next free one stays where it was.
    assert_eq!((back.voices.len(), &back.strips, back.next_id), (0, &start.strips, both.next_id));
    assert!(matches!(walk(&store, owner.id, id, Way::Undo).await, Err(StoreError::NothingTo(_))));

    walk(&store, owner.id, id, Way::Redo).await.unwrap();
    walk(&store, owner.id, id, Way::Redo).await.unwrap();
    assert_eq!(document(&store, &owner, id).await, both);
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    edit(&store, owner.id, id, &voice("Clap")).await.unwrap();
    assert!(matches!(walk(&store, owner.id, id, Way::Redo).await, Err(StoreError::NothingTo(_))));
    let clap = document(&store, &owner, id).await;
    assert!(clap.voices[1].id.0 >= both.next_id, "an undone thing's id is not another thing's");
}

#[sqlx::test(migrations = false)]
async fn what_was_computed_on_an_older_revision_is_not_written(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let seen = store.session(owner.id, id).await.unwrap();
    let late = prepare_edit(&seen, Uuid::new_v4(), &voice("Late")).unwrap();
    edit(&store, owner.id, id, &voice("Kick")).await.unwrap();
    assert!(matches!(store.commit(owner.id, id, late).await, Err(StoreError::Stale)));
    let now = document(&store, &owner, id).await;
    assert_eq!(now.voices.iter().map(|v| v.name.as_str()).collect::<Vec<_>>(), ["Kick"]);
    assert_eq!(labels(&store, id).await.0, ["Add Kick"]);
}

#[sqlx::test(migrations = false)]
async fn a_refused_edit_changes_nothing(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let far = Edit::SetStrips(SetStrips { strips: vec![StripId(2)], change: StripChange::FaderDb(99.0) });
    assert!(matches!(edit(&store, owner.id, id, &far).await, Err(StoreError::Edit(_))));
    assert_eq!(store.session(owner.id, id).await.unwrap().revision, 1);
}

#[sqlx::test(migrations = false)]
async fn of_edits_at_the_same_time_one_goes_through(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let kept = store.session(owner.id, id).await.unwrap();
    let tries = (0..8).map(|n| {
        let (store, kept) = (store.clone(), kept.clone());
        let prepared = prepare_edit(&kept, Uuid::new_v4(), &voice(&format!("V{n}"))).unwrap();
        tokio::spawn(async move { store.commit(owner.id, id, prepared).await.is_ok() })
    });
    let mut went = 0;
    for one in tries.collect::<Vec<_>>() {
        went += usize::from(one.await.unwrap());
    }
    assert_eq!((went, document(&store, &owner, id).await.voices.len()), (1, 1));
}

#[sqlx::test(migrations = false)]
async fn a_change_is_known_by_its_id_with_what_it_gave(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let kept = store.session(owner.id, id).await.unwrap();
    let change = Uuid::new_v4();
    assert_eq!(store.change(id, change).await.unwrap(), None);
    let done = store.commit(owner.id, id, prepare_edit(&kept, change, &voice("Kick")).unwrap()).await.unwrap();
    assert_eq!(store.change(id, change).await.unwrap(), Some(done.clone()));
    let asked = [Uuid::new_v4(), change];
    // Of several, what they made, without their patches.
    let known = Done { patch: None, back: None, ..done };
    assert_eq!(store.changes_known(owner.id, id, &asked).await.unwrap(), [known]);
}

#[sqlx::test(migrations = false)]
async fn those_who_follow_get_the_changes_behind_their_revision(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let start = document(&store, &owner, id).await;
    for name in ["Kick", "Snare"] {
        edit(&store, owner.id, id, &voice(name)).await.unwrap();
    }
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    let after = async |revision, most| store.changes_after(owner.id, id, revision, most, i64::MAX).await;
    let all = after(1, 9).await.unwrap();
    let told: Vec<_> = all.iter().map(|c| (c.revision, c.kind.as_str(), c.label.as_str())).collect();
    assert_eq!(told, [(2, "edit", "Add Kick"), (3, "edit", "Add Snare"), (4, "undo", "Add Snare")]);
    // With their patches alone they get what the others have.
    let mut followed = start;
    for change in &all {
        let patch: Patch = serde_json::from_str(change.patch.as_ref().unwrap()).unwrap();
        patch.apply(&mut followed).unwrap();
    }
    assert_eq!(followed, document(&store, &owner, id).await);
    assert_eq!(after(2, 1).await.unwrap(), all[1..2]);
    assert_eq!(after(4, 9).await.unwrap(), []);
    // What is not kept any more is not told in part.
    sqlx::query("update changes set patch = null where revision = 2").execute(store.pool()).await.unwrap();
    assert!(matches!(after(1, 9).await, Err(StoreError::NotFound { .. })));
    assert_eq!(after(2, 9).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = false)]
async fn a_step_that_is_not_the_next_any_more_is_not_walked(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    edit(&store, owner.id, id, &voice("Kick")).await.unwrap();
    let (undo, _) = store.steps(id, 1, i64::MAX).await.unwrap();
    edit(&store, owner.id, id, &voice("Snare")).await.unwrap();
    let kept = store.session(owner.id, id).await.unwrap();
    let walked = prepare_walk(&kept, Uuid::new_v4(), Way::Undo, &undo[0]);
    // The patch may not even fit the document; where it does, the store refuses the step.
    if let Ok(prepared) = walked {
        assert!(matches!(store.commit(owner.id, id, prepared).await, Err(StoreError::Stale)));
    }
    assert_eq!(labels(&store, id).await.0, ["Add Snare", "Add Kick"]);
}

#[sqlx::test(migrations = false)]
async fn the_list_says_what_documents_hold(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    edit(&store, owner.id, id, &voice("Kick")).await.unwrap();
    edit(&store, owner.id, id, &voice("Snare")).await.unwrap();
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    let line = &store.sessions(owner.id, 0, 100).await.unwrap()[0];
    assert_eq!((line.voices, line.tempo_bpm, line.audio_bytes, line.revision), (1, 96.0, 0, 4));
}

#[sqlx::test(migrations = false)]
async fn steps_that_are_cut_off_count_for_none_of_those_that_can_be_undone(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    for n in 0..20 {
        edit(&store, owner.id, id, &voice(&format!("A{n}"))).await.unwrap();
        edit(&store, owner.id, id, &voice(&format!("B{n}"))).await.unwrap();
        walk(&store, owner.id, id, Way::Undo).await.unwrap();
        walk(&store, owner.id, id, Way::Undo).await.unwrap();
        edit(&store, owner.id, id, &voice(&format!("C{n}"))).await.unwrap();
    }
    let places: Vec<i64> =
        sqlx::query_scalar("select position from edits order by position").fetch_all(store.pool()).await.unwrap();
    assert_eq!(places, (1..=20).collect::<Vec<i64>>());
    let (undo, redo) = labels(&store, id).await;
    assert_eq!((undo.len(), undo[0].as_str(), redo.len()), (20, "Add C19", 0));
}
