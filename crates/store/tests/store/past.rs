//! What sessions keep of their past: read within bounds, forgotten within bounds, counted.

use crate::common::{account, document, edit, session, store, voice, walk};
use lane_store::{Step, Store, StoreError, Way};
use sqlx::PgPool;
use uuid::Uuid;

async fn with_lanes(store: &Store, owner: Uuid, id: Uuid, names: &[&str]) {
    for name in names {
        edit(store, owner, id, &voice(name)).await.unwrap();
    }
}

fn ways(steps: &[Step]) -> Vec<bool> {
    steps.iter().map(|s| s.there.is_some() && s.back.is_some()).collect()
}

async fn bytes_of_steps(store: &Store) -> Vec<i64> {
    sqlx::query_scalar("select bytes from edits order by position desc").fetch_all(store.pool()).await.unwrap()
}

async fn history(store: &Store, owner: Uuid) -> i64 {
    store.holdings(owner).await.unwrap().history_bytes
}

#[sqlx::test(migrations = false)]
async fn steps_come_with_their_ways_as_far_as_bytes_allow_and_whole_one_by_one(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let id = session(&store, &owner).await;
    with_lanes(&store, owner.id, id, &["Kick", "Snare", "Hat", "Clap"]).await;
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    let sizes = bytes_of_steps(&store).await;
    let (undo, redo) = store.steps(id, 50, sizes[1] + sizes[2]).await.unwrap();
    assert_eq!((ways(&undo), ways(&redo)), (vec![true, true, false], vec![true]));
    let (undo, redo) = store.steps(id, 50, 1).await.unwrap();
    assert_eq!((ways(&undo), ways(&redo)), (vec![false; 3], vec![false]));
    // What is walked is whole, however large.
    let whole = store.step(owner.id, id, undo[0].id).await.unwrap();
    let next = store.next_step(id, Way::Undo).await.unwrap().unwrap();
    assert_eq!((whole.label.as_str(), &whole.back), ("Add Hat", &next.back));
    assert!(next.there.is_some() && next.back.is_some());
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    walk(&store, owner.id, id, Way::Redo).await.unwrap();
    for gone in [store.step(other.id, id, whole.id).await, store.step(owner.id, id, Uuid::new_v4()).await] {
        assert!(matches!(gone, Err(StoreError::NotFound { .. })));
    }
}

#[sqlx::test(migrations = false)]
async fn those_who_follow_get_at_least_one_change_and_no_more_than_about_so_many_bytes(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    with_lanes(&store, owner.id, id, &["Kick", "Snare", "Hat"]).await;
    let told = async |after, bytes| {
        let done = store.changes_after(owner.id, id, after, 200, bytes).await.unwrap();
        done.iter().map(|c| c.revision).collect::<Vec<_>>()
    };
    let first: i64 =
        sqlx::query_scalar("select bytes from changes where revision = 2").fetch_one(store.pool()).await.unwrap();
    assert_eq!(told(1, 1).await, [2]);
    assert_eq!(told(1, first).await, [2]);
    assert_eq!(told(1, first + 1).await, [2, 3]);
    assert_eq!(told(1, i64::MAX).await, [2, 3, 4]);
    assert_eq!(told(3, 1).await, [4]);
    assert_eq!(told(4, 1).await, [0_i64; 0]);
}

/// Counted with each change, and anew where something is forgotten.
#[sqlx::test(migrations = false)]
async fn the_past_is_counted_and_forgotten_from_its_beginning(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let id = session(&store, &owner).await;
    with_lanes(&store, owner.id, id, &["Kick", "Snare", "Hat"]).await;
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    let held: i64 = sqlx::query_scalar(
        "select ((select sum(octet_length(there::text) + octet_length(back::text)) from edits)
             + (select sum(octet_length(c.patch::text) + coalesce(octet_length(e.back::text), 0))
                from changes c left join edits e on c.kind = 'edit' and e.id = c.step))::bigint",
    )
    .fetch_one(store.pool())
    .await
    .unwrap();
    assert_eq!(history(&store, owner.id).await, held);
    // Nothing of another account, and nothing where all of it fits.
    store.forget_past(other.id, 1).await.unwrap();
    store.forget_past(owner.id, 4 * held).await.unwrap();
    assert_eq!((history(&store, owner.id).await, bytes_of_steps(&store).await.len()), (held, 3));
    let now = document(&store, &owner, id).await;
    let sizes = bytes_of_steps(&store).await;
    store.forget_past(owner.id, sizes[0] + 1).await.unwrap();
    assert_eq!(bytes_of_steps(&store).await, sizes[..2]);
    store.forget_past(owner.id, 1).await.unwrap();
    assert_eq!(bytes_of_steps(&store).await, sizes[..1]);
    assert!(history(&store, owner.id).await < held);
    // The session itself is as it was, what is left can be walked, and changes go on.
    assert_eq!(document(&store, &owner, id).await, now);
    walk(&store, owner.id, id, Way::Redo).await.unwrap();
    walk(&store, owner.id, id, Way::Undo).await.unwrap();
    assert!(walk(&store, owner.id, id, Way::Undo).await.is_err());
    edit(&store, owner.id, id, &voice("Clap")).await.unwrap();
}
