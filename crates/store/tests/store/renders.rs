//! The queue of renders: turns, heartbeats, take-over, and what is visible when.

use crate::common::{LONG, account, claim, document, queued, session, store};
use lane_store::{NewRender, RenderFile, RenderState, StoreError};
use serde_json::json;
use sqlx::PgPool;
use std::time::Duration;
use uuid::Uuid;

fn files() -> [RenderFile; 1] {
    [RenderFile { position: 0, name: "01.wav".into(), bytes: 10, sha256: "00".into() }]
}

#[sqlx::test(migrations = false)]
async fn a_render_is_visible_only_when_whole(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let render = queued(&store, &owner, session(&store, &owner).await).await;
    let first = claim(&store, LONG).await.unwrap();
    assert_eq!((first.id, first.version, first.attempt, first.deaths), (render, 1, 1, 0));
    store.put_render_chunk(render, 1, (0, 0), &[1; 10]).await.unwrap();
    assert!(store.render_progress(render, 1, 50).await.unwrap());
    assert!(store.render_files(owner.id, render).await.is_err());
    // The worker dies; the next one starts from nothing, and the first cannot write or finish any more.
    let second = claim(&store, Duration::ZERO).await.unwrap();
    assert_eq!((second.attempt, second.deaths), (2, 1));
    assert_eq!(store.render_chunk(render, 0, 0).await.unwrap(), None);
    assert!(matches!(store.put_render_chunk(render, 1, (0, 0), &[3; 10]).await, Err(StoreError::Stale)));
    assert!(!store.render_progress(render, 1, 60).await.unwrap());
    assert!(!store.finish_render(render, 1, &files(), &json!({})).await.unwrap());
    store.put_render_chunk(render, 2, (0, 0), &[2; 10]).await.unwrap();
    // Sent again after a lost answer, a piece is the same piece, and the end the same end.
    store.put_render_chunk(render, 2, (0, 0), &[2; 10]).await.unwrap();
    assert!(store.finish_render(render, 2, &files(), &json!({})).await.unwrap());
    assert!(store.finish_render(render, 2, &files(), &json!({})).await.unwrap());
    assert_eq!(store.render_files(owner.id, render).await.unwrap().len(), 1);
    let line = store.render(owner.id, render).await.unwrap();
    assert_eq!((line.state, line.bytes), (RenderState::Done, 10));
    assert!(claim(&store, Duration::ZERO).await.is_none());
}

/// A kill, or a program that is stopped, is not the fault of what it worked on.
#[sqlx::test(migrations = false)]
async fn a_death_counts_for_none_as_long_as_another_program_works(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    queued(&store, &owner, session(&store, &owner).await).await;
    let (mine, other) = (Uuid::new_v4(), Uuid::new_v4());
    let silence = Duration::from_secs(10);
    let dies_over_it = async || {
        sqlx::query("update renders set heartbeat_at = now() - interval '1 minute'")
            .execute(store.pool())
            .await
            .unwrap();
        store.claim_render(Uuid::new_v4(), mine, silence).await.unwrap().unwrap().deaths
    };
    store.worker_lives(mine).await.unwrap();
    claim(&store, LONG).await.unwrap();
    assert_eq!(dies_over_it().await, 1, "nobody but the one that takes it works");
    store.worker_lives(other).await.unwrap();
    assert_eq!((dies_over_it().await, dies_over_it().await), (1, 1));
    sqlx::query("update workers set seen_at = now() - interval '1 minute' where id = $1")
        .bind(other)
        .execute(store.pool())
        .await
        .unwrap();
    assert_eq!(dies_over_it().await, 2);
}

#[sqlx::test(migrations = false)]
async fn a_cancelled_render_stops_and_leaves_nothing(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let render = queued(&store, &owner, session(&store, &owner).await).await;
    let attempt = claim(&store, LONG).await.unwrap().attempt;
    store.put_render_chunk(render, attempt, (0, 0), &[1; 10]).await.unwrap();
    assert!(matches!(store.remove_render(owner.id, render).await, Err(StoreError::NothingTo(_))));
    assert!(store.cancel_render(owner.id, render).await.unwrap());
    assert!(!store.render_progress(render, attempt, 60).await.unwrap());
    assert!(!store.finish_render(render, attempt, &[], &json!({})).await.unwrap());
    assert!(!store.cancel_render(owner.id, render).await.unwrap());
    assert!(store.put_render_chunk(render, attempt, (0, 0), &[1; 10]).await.is_err());
    assert_eq!(store.render_chunk(render, 0, 0).await.unwrap(), None);
    assert_eq!(store.render(owner.id, render).await.unwrap().state, RenderState::Cancelled);
    store.remove_render(owner.id, render).await.unwrap();
    assert!(matches!(store.render(owner.id, render).await, Err(StoreError::NotFound { .. })));
}

#[sqlx::test(migrations = false)]
async fn accounts_take_turns_however_many_renders_one_of_them_has(pool: PgPool) {
    let store = store(pool).await;
    let (busy, other) = (account(&store, "a").await, account(&store, "b").await);
    let many = session(&store, &busy).await;
    for _ in 0..5 {
        queued(&store, &busy, many).await;
    }
    let late = queued(&store, &other, session(&store, &other).await).await;
    let first = claim(&store, LONG).await.unwrap();
    let second = claim(&store, LONG).await.unwrap();
    assert_eq!((first.account_id, first.version), (busy.id, 1));
    assert_eq!(second.id, late, "the other account is next");
    assert_eq!(claim(&store, LONG).await.unwrap().version, 2, "then the first one's, in their order");
}

#[sqlx::test(migrations = false)]
async fn two_workers_never_take_the_same_render(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    for _ in 0..8 {
        queued(&store, &owner, id).await;
    }
    let workers = (0..16).map(|_| {
        let store = store.clone();
        tokio::spawn(async move { claim(&store, LONG).await.map(|c| c.id) })
    });
    let mut taken: Vec<Uuid> = Vec::new();
    for worker in workers.collect::<Vec<_>>() {
        taken.extend(worker.await.unwrap());
    }
    // A worker that came while others were choosing may have found nothing; none found what another has.
    while let Some(left) = claim(&store, LONG).await {
        taken.push(left.id);
    }
    taken.sort();
    taken.dedup();
    assert_eq!(taken.len(), 8);
}

#[sqlx::test(migrations = false)]
async fn a_fault_of_the_store_puts_a_render_back_and_counts_as_no_death(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let render = queued(&store, &owner, session(&store, &owner).await).await;
    for attempt in 1..=6 {
        let taken = claim(&store, LONG).await.unwrap();
        assert_eq!((taken.attempt, taken.deaths), (attempt, 0));
        store.release_render(render, attempt, Duration::ZERO).await.unwrap();
    }
    let taken = claim(&store, LONG).await.unwrap();
    store.release_render(render, taken.attempt, LONG).await.unwrap();
    assert!(claim(&store, LONG).await.is_none(), "it rests");
    assert_eq!(store.render(owner.id, render).await.unwrap().state, RenderState::Queued);
}

#[sqlx::test(migrations = false)]
async fn so_many_renders_of_an_account_wait_and_no_version_is_lost(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let document = serde_json::to_string(&document(&store, &owner, id).await).unwrap();
    let document = document.as_str();
    let new = |revision| NewRender { session: id, revision, document, audio: &[], frames_total: 1, most_waiting: 2 };
    store.start_render(owner.id, &new(1)).await.unwrap();
    assert!(matches!(store.start_render(owner.id, &new(9)).await, Err(StoreError::Stale)));
    store.start_render(owner.id, &new(1)).await.unwrap();
    let refused = store.start_render(owner.id, &new(1)).await;
    assert!(matches!(refused, Err(StoreError::TooManyRenders { waiting: 2 })));
    let first = claim(&store, LONG).await.unwrap();
    store.fail_render(first.id, first.attempt, "On purpose.").await.unwrap();
    store.start_render(owner.id, &new(1)).await.unwrap();
    let versions: Vec<i32> = store.renders(owner.id, id).await.unwrap().iter().map(|r| r.version).collect();
    assert_eq!(versions, [3, 2, 1]);
}
