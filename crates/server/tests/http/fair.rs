//! What one account does holds no other off.

use crate::common::{Caller, Place};
use actix_web::body::to_bytes;
use actix_web::http::{Method, StatusCode};
use lane_server::state::{DOWNLOADS, FOLLOWERS};
use lane_server::work::Crew;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::sync::{Arc, Mutex, mpsc};
use std::time::Duration;
use uuid::Uuid;

const LONG: Duration = Duration::from_secs(20);

#[rstest]
#[case::two(2)]
#[case::three(3)]
#[case::nine(9)]
#[actix_web::test]
async fn an_account_with_much_to_do_leaves_a_thread_to_others(#[case] threads: usize) {
    let crew = Crew::new(threads, 64, LONG);
    let (anna, ben) = (Uuid::from_u128(1), Uuid::from_u128(2));
    let (free, held) = mpsc::channel::<()>();
    let held = Arc::new(Mutex::new(held));
    let busy: Vec<_> = (0..2 * threads)
        .map(|_| {
            let (crew, held) = (crew.clone(), held.clone());
            // Ends once `free` is dropped.
            tokio::spawn(async move { crew.run_for(anna, move || held.lock().unwrap().recv().is_err()).await })
        })
        .collect();
    tokio::task::yield_now().await;
    let quick = tokio::time::timeout(LONG, crew.run_for(ben, || 7)).await;
    assert_eq!(quick.expect("Ben waits for Anna").unwrap(), 7);
    drop(free);
    for work in busy {
        work.await.unwrap().unwrap();
    }
}

#[actix_web::test]
async fn work_hears_that_nobody_waits_for_it_any_more() {
    let crew = Crew::new(2, 4, LONG);
    let (began, has_begun) = tokio::sync::oneshot::channel();
    let (told, hears) = tokio::sync::oneshot::channel();
    let asking = tokio::spawn(async move {
        let work = crew.run_while_asked(Uuid::from_u128(1), move |asked| {
            let _ = began.send(asked.still());
            while asked.still() {
                std::thread::yield_now();
            }
            let _ = told.send(());
        });
        work.await
    });
    assert!(has_begun.await.unwrap(), "somebody waits yet");
    asking.abort();
    tokio::time::timeout(LONG, hears).await.expect("it goes on for nobody").unwrap();
}

#[sqlx::test(migrations = false)]
async fn an_edit_whose_body_never_comes_holds_no_other_off(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let session = place.new_session(&anna).await;
    let others = async {
        for revision in 1..5 {
            let edit = json!({ "kind": "add_pattern", "name": "B", "bars": 1, "copy_of": null });
            assert_eq!(place.edit(&anna, &session, revision, edit).await.status, StatusCode::OK);
        }
    };
    tokio::select! {
        biased;
        status = place.stalled_edit(&anna, &session) => panic!("answered with {status} before its body was there"),
        () = others => {}
    }
}

#[sqlx::test(migrations = false)]
async fn large_edits_of_an_account_come_a_few_at_a_time_and_small_ones_pass_them(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let session = place.new_session(&anna).await;
    let account = place.app.store.account_by_email("anna@example.invalid").await.unwrap().unwrap().id;
    // Two large ones are on their way.
    let large = &place.app.large_bodies;
    let taken = [large.take(account).await.unwrap(), large.take(account).await.unwrap()];
    let edit = |name: &str| json!({ "kind": "add_pattern", "name": name, "bars": 1, "copy_of": null });
    let long = "B".repeat(70);
    let many = json!({ "kind": "batch", "edits": (0..900).map(|_| edit(&long)).collect::<Vec<_>>() });
    let late = async { place.edit(&anna, &session, 2, many).await.status };
    let passes = async {
        let small = place.edit(&anna, &session, 1, edit("A")).await.status;
        drop(taken);
        small
    };
    let (late, small) = futures_util::join!(late, passes);
    assert_eq!(small, StatusCode::OK);
    // Its turn came; that it holds more patterns than a session may is another thing.
    assert_ne!(late, StatusCode::TOO_MANY_REQUESTS);
}

/// Asks until an address is answered with 200: places are free again a moment after nobody reads any more.
async fn until_open(place: &Place, caller: &Caller, path: &str) {
    let again = async { while place.begin(caller, path).await.0 != StatusCode::OK {} };
    tokio::time::timeout(LONG, again).await.expect("no place became free");
}

#[rstest]
#[case::events("events", FOLLOWERS)]
#[case::downloads("folder", DOWNLOADS)]
#[actix_web::test]
async fn what_nobody_reads_is_bounded_by_account(#[case] what: &str, #[case] most: usize) {
    let place = Place::new(crate::common::empty_database().await).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let (session, bens) = (place.new_session(&anna).await, place.new_session(&ben).await);
    let path = format!("/api/sessions/{session}/{what}");
    let mut open = Vec::new();
    for _ in 0..most {
        let (status, body) = place.begin(&anna, &path).await;
        assert_eq!(status, StatusCode::OK);
        open.push(body);
    }
    assert_eq!(place.begin(&anna, &path).await.0, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(place.begin(&ben, &format!("/api/sessions/{bens}/{what}")).await.0, StatusCode::OK);
    open.pop();
    until_open(&place, &anna, &path).await;
}

#[rstest]
#[case::signed_out(Method::POST, "/api/logout")]
#[case::removed(Method::DELETE, "/api/sessions/SESSION")]
#[actix_web::test]
async fn a_page_stops_following_with_its_account_and_its_session(#[case] method: Method, #[case] path: &str) {
    let place = Place::new(crate::common::empty_database().await).await;
    let anna = place.sign_up("anna").await;
    let session = place.new_session(&anna).await;
    let (_, body) = place.begin(&anna, &format!("/api/sessions/{session}/events")).await;
    let gone = place.call(&anna, method, &path.replace("SESSION", &session), Value::Null).await;
    assert_eq!(gone.status, StatusCode::NO_CONTENT);
    let told = tokio::time::timeout(LONG, to_bytes(body)).await.expect("it is followed on").unwrap();
    assert!(told.starts_with(b"event: revision"), "{told:?}");
}

#[sqlx::test(migrations = false)]
async fn pages_are_only_asked_for(pool: PgPool) {
    let place = Place::new(pool).await;
    for method in [Method::PUT, Method::DELETE, Method::PATCH, Method::TRACE, Method::POST] {
        for path in ["/", "/sessions", "/assets/page-ab12.js"] {
            let answer = place.call(&Caller::default(), method.clone(), path, Value::Null).await;
            assert_eq!(answer.status, StatusCode::METHOD_NOT_ALLOWED, "{method} {path}");
        }
    }
}
