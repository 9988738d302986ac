//! What bounds and stops the program, by itself.

use actix_web::cookie::Key;
use lane_server::sign_in_limit::{BURST, SignInLimit};
use lane_server::stopping::{Pauses, Stopping};
use lane_server::work::{AccountTurns, Crew};
use rstest::rstest;
use std::net::IpAddr;
use std::sync::mpsc;
use std::time::Duration;
use uuid::Uuid;

#[actix_web::test]
async fn a_panic_is_an_answer_and_the_next_work_runs() {
    let crew = Crew::new(1, 4, Duration::from_secs(5));
    let failed = crew.run(|| panic!("on purpose")).await.map(|(): ()| ()).unwrap_err();
    assert_eq!(failed.status, 500);
    assert!(!failed.detail.contains("on purpose"), "internals are logged, not shown");
    assert_eq!(crew.run(|| 7).await.unwrap(), 7);
}

#[actix_web::test]
async fn who_finds_no_room_is_told_when_to_come_back() {
    let crew = Crew::new(1, 1, Duration::from_millis(50));
    let (free, held) = mpsc::channel::<()>();
    let (begun, begins) = tokio::sync::oneshot::channel();
    let busy_crew = crew.clone();
    let first = tokio::spawn(async move {
        busy_crew
            .run(move || {
                let _ = begun.send(());
                held.recv()
            })
            .await
    });
    begins.await.unwrap();
    let late = crew.run(|| ()).await.unwrap_err();
    assert_eq!((late.status.as_u16(), late.retry_after_s), (429, Some(2)));
    free.send(()).unwrap();
    first.await.unwrap().unwrap().unwrap();
    crew.run(|| ()).await.unwrap();
}

#[actix_web::test]
async fn one_account_has_one_turn_and_holds_up_no_other() {
    let turns = AccountTurns::new(1, 16, Duration::from_secs(10));
    let (anna, ben) = (Uuid::from_u128(1), Uuid::from_u128(2));
    let held = turns.take(anna).await.unwrap();
    drop(turns.take(ben).await.unwrap());
    assert!(tokio::time::timeout(Duration::from_millis(20), turns.take(anna)).await.is_err());
    drop(held);
    drop(turns.take(anna).await.unwrap());
}

#[rstest]
#[case("10.0.0.1", "10.0.0.2", false)]
#[case("10.0.0.1", "10.0.0.1", true)]
#[case("2001:db8:1:2::1", "2001:db8:1:2:ffff::9", true)]
#[case("2001:db8:1:2::1", "2001:db8:1:3::1", false)]
fn tries_are_counted_by_household(#[case] first: IpAddr, #[case] second: IpAddr, #[case] together: bool) {
    let limit = SignInLimit::new(Key::generate(), false, &[]);
    for _ in 0..BURST.get() {
        assert!(limit.count(first).is_ok());
    }
    assert!(limit.count(first).is_err());
    assert_eq!(limit.count(second).is_err(), together);
}

#[test]
fn pauses_grow_to_ten_seconds() {
    let mut pauses = Pauses::default();
    let all: Vec<u128> = (0..9).map(|_| pauses.grow().as_millis()).collect();
    assert_eq!(all, [100, 200, 400, 800, 1600, 3200, 6400, 10_000, 10_000]);
}

#[tokio::test]
async fn whoever_pauses_is_woken_to_stop() {
    let (tell, stopping) = Stopping::new();
    let waits = {
        let s = stopping.clone();
        tokio::spawn(async move { s.pause(Duration::from_secs(600)).await })
    };
    assert!(!stopping.told());
    tell.send(true).unwrap();
    waits.await.unwrap();
    assert!(stopping.told());
}
