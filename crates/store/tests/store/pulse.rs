//! Whether the database is there, told apart from one that is slow.

use crate::common::{account, session, store};
use lane_store::{Store, StoreError};
use sqlx::PgPool;
use std::net::TcpListener;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;

/// Longer than a database that is away is waited for.
const SLOW: f64 = 2.4;

#[sqlx::test(migrations = false)]
async fn an_answer_that_is_slow_is_waited_for_as_long_as_the_database_is_there(pool: PgPool) {
    let store = store(pool.clone()).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    // Somebody holds the row that a change of it waits for.
    let mut tx = pool.begin().await.unwrap();
    sqlx::query("select 1 from sessions for update").execute(&mut *tx).await.unwrap();
    let (store_, owner_) = (store.clone(), owner.id);
    let removing = tokio::spawn(async move { store_.remove_session(owner_, id).await });
    sqlx::query("select pg_sleep($1)").bind(SLOW).execute(&mut *tx).await.unwrap();
    assert!(!removing.is_finished());
    tx.commit().await.unwrap();
    removing.await.unwrap().unwrap();
}

#[sqlx::test(migrations = false)]
async fn whoever_finds_every_connection_in_use_waits_for_one(pool: PgPool) {
    let store = store(pool.clone()).await;
    let owner = account(&store, "a").await;
    let most = pool.options().get_max_connections();
    let held: Vec<_> = (0..most)
        .map(|_| {
            let pool = pool.clone();
            tokio::spawn(async move { sqlx::query("select pg_sleep($1)").bind(SLOW).execute(&pool).await })
        })
        .collect();
    while pool.num_idle() > 0 || pool.size() < most {
        tokio::task::yield_now().await;
    }
    assert_eq!(store.sessions(owner.id, 0, 100).await.unwrap().len(), 0);
    for one in held {
        one.await.unwrap().unwrap();
    }
}

/// Takes connections and says nothing, as behind a cut cable.
fn mute() -> (String, Arc<AtomicUsize>) {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let url = format!("postgres://lane:x@{}/lane", listener.local_addr().unwrap());
    let taken = Arc::new(AtomicUsize::new(0));
    let counted = taken.clone();
    std::thread::spawn(move || {
        let mut held = Vec::new();
        while let Ok((stream, _)) = listener.accept() {
            counted.fetch_add(1, Ordering::SeqCst);
            held.push(stream);
        }
    });
    (url, taken)
}

async fn all_late(store: &Store, times: usize) {
    let ask = |store: Store| async move { tokio::time::timeout(Duration::from_secs(10), store.ready()).await };
    let mut asked = tokio::task::JoinSet::new();
    for _ in 0..times {
        asked.spawn(ask(store.clone()));
    }
    while let Some(answer) = asked.join_next().await {
        let answer = answer.unwrap();
        assert!(matches!(answer, Ok(Err(StoreError::Late))), "{answer:?}");
    }
}

#[tokio::test]
async fn a_database_that_says_nothing_is_away_and_is_connected_to_once_in_a_while() {
    let (url, taken) = mute();
    let store = Store::connect(&url, 4).unwrap();
    all_late(&store, 40).await;
    // Four of the pool, and one that asks whether it is there.
    let connections = taken.load(Ordering::SeqCst);
    assert!(connections <= 5, "{connections} connections");
    all_late(&store, 400).await;
    assert!(taken.load(Ordering::SeqCst) <= connections + 2, "{} connections", taken.load(Ordering::SeqCst));
}
