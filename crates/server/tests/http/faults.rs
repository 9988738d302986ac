//! What goes wrong around requests: characters, methods, panics, limits, and a database that is away.

use crate::common::{self, Caller, Place, wav};
use actix_web::http::{Method, StatusCode};
use lane_fuzz::edits;
use lane_fuzz::mutate::Dice;
use lane_store::Store;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::{Duration, Instant};

const OTHER: &str = "00000000-0000-4000-8000-000000000000";

/// Every failure is a problem document that says its status.
fn is_problem(answer: &common::Answer) {
    assert_eq!(answer.json["status"], answer.status.as_u16(), "{:?}", String::from_utf8_lossy(&answer.bytes));
    assert!(answer.json["detail"].as_str().is_some_and(|d| !d.is_empty()));
}

#[rstest]
#[case::title(Method::POST, "/api/sessions", json!({ "title": "a\0b", "sample_rate": 48_000 }))]
#[case::sign_up(Method::POST, "/api/accounts", json!({ "email": "a\0@b.invalid", "password": "long enough password" }))]
#[case::sign_in(Method::POST, "/api/login", json!({ "email": "a\0@b.invalid", "password": "long\0 enough password" }))]
#[case::search(Method::GET, "/api/library?search=a%00b", Value::Null)]
#[case::id(Method::GET, "/api/sessions/%00", Value::Null)]
#[case::asset(Method::GET, "/api/assets/ab%00", Value::Null)]
#[case::file(Method::POST, "/api/sessions/00000000-0000-4000-8000-000000000000/bring-in?name=a%00.wav", json!({}))]
#[case::template(Method::POST, "/api/templates", json!({
    "session": OTHER, "name": "a\0", "purpose": "", "keeps": { "audio": true, "patterns": true, "levels": true, "chains": true }
}))]
#[case::purpose(Method::PUT, "/api/templates/00000000-0000-4000-8000-000000000000", json!({ "name": "a", "purpose": "\0x", "from": null }))]
#[case::preset(Method::POST, "/api/presets", json!({ "name": "\0x", "processors": [] }))]
#[actix_web::test]
async fn a_nul_anywhere_is_the_callers_fault(#[case] method: Method, #[case] path: &str, #[case] body: Value) {
    let place = Place::new(common::empty_database().await).await;
    let anna = place.sign_up("anna").await;
    let answer = place.call(&anna, method, path, body).await;
    assert!(answer.status.is_client_error(), "{}", answer.status);
    is_problem(&answer);
}

#[rstest]
#[case::wrong_method(Method::PATCH, "/api/sessions", StatusCode::METHOD_NOT_ALLOWED)]
#[case::wrong_method_of_one(Method::POST, "/api/me", StatusCode::METHOD_NOT_ALLOWED)]
#[case::wrong_method_with_id(
    Method::PUT,
    "/api/sessions/00000000-0000-4000-8000-000000000000",
    StatusCode::METHOD_NOT_ALLOWED
)]
#[case::nothing_there(Method::GET, "/api/nothing", StatusCode::NOT_FOUND)]
#[case::no_id(Method::GET, "/api/sessions/not-an-id", StatusCode::NOT_FOUND)]
#[case::no_query(Method::GET, "/api/sessions/00000000-0000-4000-8000-000000000000/changes", StatusCode::BAD_REQUEST)]
#[case::no_body(Method::POST, "/api/sessions", StatusCode::BAD_REQUEST)]
#[case::wrong_family(Method::GET, "/api/library?family=brass", StatusCode::BAD_REQUEST)]
#[actix_web::test]
async fn wrong_requests_are_answered_in_words(#[case] method: Method, #[case] path: &str, #[case] status: StatusCode) {
    let place = Place::new(common::empty_database().await).await;
    let anna = place.sign_up("anna").await;
    let answer = place.call(&anna, method, path, Value::Null).await;
    assert_eq!(answer.status, status, "{}", answer.json);
    is_problem(&answer);
}

#[sqlx::test(migrations = false)]
async fn a_panic_ends_one_request_and_says_nothing_of_itself(pool: PgPool) {
    let place = Place::new(pool).await;
    let answer = place.call(&Caller::default(), Method::GET, "/api/panics", Value::Null).await;
    assert_eq!(answer.status, StatusCode::INTERNAL_SERVER_ERROR);
    is_problem(&answer);
    assert!(!answer.json["detail"].as_str().unwrap().contains("purpose"));
    assert_eq!(place.call(&Caller::default(), Method::GET, "/healthz", Value::Null).await.status, StatusCode::OK);
}

#[sqlx::test(migrations = false)]
async fn too_many_sign_ins_are_told_when_to_come_back(pool: PgPool) {
    let place = Place::new(pool).await;
    let body = json!({ "email": "a@b.invalid", "password": "long enough password" });
    let nobody = Caller::default();
    let tries = (0..60).map(|_| place.call(&nobody, Method::POST, "/api/login", body.clone()));
    let answers = futures_util::future::join_all(tries).await;
    let late: Vec<_> = answers.iter().filter(|a| a.status == StatusCode::TOO_MANY_REQUESTS).collect();
    assert!(!late.is_empty() && answers.iter().all(|a| a.status.is_client_error()));
    for answer in late {
        is_problem(answer);
        assert!(answer.json["retry_after_s"].as_u64().is_some_and(|s| s > 0));
    }
}

#[actix_web::test]
async fn while_the_database_is_away_every_route_says_so_within_two_seconds_and_recovers() {
    // A port on which nobody listens.
    let free = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().port();
    let store = Store::connect(&format!("postgres://lane:x@127.0.0.1:{free}/lane"), 4).unwrap();
    let place = Place::of(store);
    let signed_in = Caller { cookie: Some("zealous-lane=whatever".into()), ..Caller::default() };
    let session = format!("/api/sessions/{OTHER}");
    for (method, path, body) in [
        (Method::GET, "/readyz".to_owned(), Value::Null),
        (Method::POST, "/api/login".into(), json!({ "email": "a@b.invalid", "password": "long enough password" })),
        (Method::POST, "/api/accounts".into(), json!({ "email": "a@b.invalid", "password": "long enough password" })),
    ] {
        let began = Instant::now();
        let answer = place.call(&Caller::default(), method, &path, body).await;
        assert_eq!(answer.status, StatusCode::SERVICE_UNAVAILABLE, "{path}");
        is_problem(&answer);
        assert!(began.elapsed() < Duration::from_secs(3), "{path}: {:?}", began.elapsed());
    }
    // A cookie that cannot be looked up is no reason to sign anybody out.
    let answer = place.call(&signed_in, Method::GET, &session, Value::Null).await;
    assert!(answer.status == StatusCode::SERVICE_UNAVAILABLE || answer.status == StatusCode::UNAUTHORIZED);
    for asks in [&Caller::default(), &signed_in] {
        assert_eq!(place.call(asks, Method::GET, "/healthz", Value::Null).await.status, StatusCode::OK);
    }
}

/// A disk that is full, as the database says it, in the middle of whatever is written.
#[rstest]
#[case::of_an_edit("pieces")]
#[case::of_the_change("changes")]
#[case::of_an_upload("asset_chunks")]
#[case::of_a_render("renders")]
#[actix_web::test]
async fn a_database_without_room_says_so_keeps_nothing_partial_and_is_well_again_by_itself(#[case] table: &str) {
    let pool = common::empty_database().await;
    let place = Place::new(pool.clone()).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    place.edit(&anna, &id, 1, common::one_shot("Kick", &sound["asset"])).await;
    let tried = async || {
        let edit = place.edit(&anna, &id, 2, json!({ "kind": "new_bus", "name": "Drums", "feeders": [] })).await;
        let upload = place.bring_in(&anna, &id, "long.wav", wav(48_000)).await;
        let render = place.call(&anna, Method::POST, &format!("/api/sessions/{id}/renders"), Value::Null).await;
        [edit, upload, render]
    };
    let state = async || {
        let open = place.call(&anna, Method::GET, &format!("/api/sessions/{id}"), Value::Null).await.json;
        let held = place.call(&anna, Method::GET, "/api/holdings", Value::Null).await.json;
        (open, held["audio_bytes"].clone())
    };
    sqlx::raw_sql(sqlx::AssertSqlSafe(format!(
        "create function no_room() returns trigger language plpgsql as
             $$ begin raise exception 'could not extend file' using errcode = '53100'; end $$;
         create trigger no_room before insert or update on {table} execute function no_room()"
    )))
    .execute(&pool)
    .await
    .unwrap();
    let before = state().await;
    let answers = tried().await;
    let full: Vec<_> = answers.iter().filter(|a| a.status == StatusCode::INSUFFICIENT_STORAGE).collect();
    assert!(!full.is_empty(), "{:?}", answers.map(|a| a.status));
    for answer in &full {
        is_problem(answer);
        assert!(answer.json["detail"].as_str().unwrap().contains("no room for more"), "{}", answer.json);
    }
    if full.len() == answers.len() {
        assert_eq!(state().await, before);
    }
    sqlx::raw_sql(sqlx::AssertSqlSafe(format!("drop trigger no_room on {table}"))).execute(&pool).await.unwrap();
    let revision = state().await.0["revision"].as_i64().unwrap();
    let edit = place.edit(&anna, &id, revision, json!({ "kind": "new_bus", "name": "Tops", "feeders": [] })).await;
    assert_eq!(edit.status, StatusCode::OK, "{}", edit.json);
    assert_eq!(place.bring_in(&anna, &id, "long.wav", wav(48_000)).await.status, StatusCode::OK);
}

#[sqlx::test(migrations = false)]
async fn an_account_holds_so_much_and_says_what_it_holds(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let held = |json: Value| json["audio_bytes"].as_u64().unwrap();
    for n in 0..8 {
        let kept = place.bring_in(&anna, &id, &format!("{n}.wav"), wav(900_000 + n)).await;
        assert_eq!(kept.status, StatusCode::OK, "{}", kept.json);
    }
    assert_eq!(held(place.call(&anna, Method::GET, "/api/holdings", Value::Null).await.json), 4 * (7_200_000 + 28));
    let full = place.bring_in(&anna, &id, "full.wav", wav(900_008)).await;
    assert_eq!(full.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(full.json["detail"].as_str().unwrap().contains("of 30 MiB"), "{}", full.json["detail"]);
    // It is told before anything is sent; what is there already is never refused.
    let room = async |frames: u32| {
        let path = format!("/api/sessions/{id}/room?frames={frames}&channels=2");
        place.call(&anna, Method::GET, &path, Value::Null).await
    };
    let told = room(10_900_008).await;
    assert_eq!((told.status, &told.json["title"]), (StatusCode::UNPROCESSABLE_ENTITY, &full.json["title"]));
    assert_eq!(room(900_003).await.status, StatusCode::NO_CONTENT);
    let again = place.bring_in(&anna, &id, "again.wav", wav(900_003)).await;
    assert_eq!(again.status, StatusCode::OK, "{}", again.json);
}

#[sqlx::test(migrations = false)]
async fn so_many_renders_wait_and_ended_ones_can_be_removed(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    place.edit(&anna, &id, 1, common::one_shot("Kick", &sound["asset"])).await;
    let path = format!("/api/sessions/{id}/renders");
    let mut started = Vec::new();
    for _ in 0..3 {
        started.push(place.call(&anna, Method::POST, &path, Value::Null).await.json["id"].as_str().unwrap().to_owned());
    }
    let refused = place.call(&anna, Method::POST, &path, Value::Null).await;
    assert_eq!(refused.status, StatusCode::TOO_MANY_REQUESTS);
    is_problem(&refused);
    let one = format!("/api/renders/{}", started[0]);
    let going = place.call(&anna, Method::DELETE, &one, Value::Null).await;
    assert_eq!(going.status, StatusCode::CONFLICT);
    place.call(&anna, Method::POST, &format!("{one}/cancel"), Value::Null).await;
    assert_eq!(place.call(&anna, Method::DELETE, &one, Value::Null).await.status, StatusCode::NO_CONTENT);
    assert_eq!(place.call(&anna, Method::GET, &one, Value::Null).await.status, StatusCode::NOT_FOUND);
}

/// As many as BENT_EDITS says, 100 without it.
#[sqlx::test(migrations = false)]
async fn bent_edits_are_taken_or_are_the_callers_fault(pool: PgPool) {
    let tries = std::env::var("BENT_EDITS").ok().and_then(|n| n.parse().ok()).unwrap_or(100);
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let (meant, mut dice) = (edits::meant(), Dice::new(11));
    let (mut id, mut revision, mut taken) = (String::new(), 1, 0);
    for n in 0..tries {
        if n % 100 == 0 {
            (id, revision) = (place.new_session(&anna).await, 1);
        }
        let edit = edits::bent(&meant, &mut dice);
        let answer = place.edit(&anna, &id, revision, edit.clone()).await;
        match answer.json["revision"].as_i64() {
            Some(now) if answer.status.is_success() => (revision, taken) = (now, taken + 1),
            _ => {
                assert!(answer.status.is_client_error(), "{} after {edit}", answer.status);
                is_problem(&answer);
            }
        }
    }
    assert!(taken > 0 && taken < tries, "{taken} of {tries} taken");
    assert_eq!(
        place.call(&anna, Method::GET, &format!("/api/sessions/{id}"), Value::Null).await.json["revision"],
        revision
    );
}

/// The front end routes on its own; a file of ours that is missing is a fault, and never the page.
#[rstest]
#[case::start("/", StatusCode::OK, "<!doctype html>")]
#[case::a_route_of_the_page("/session/none", StatusCode::OK, "<!doctype html>")]
#[case::a_file("/assets/page-ab12.js", StatusCode::OK, "let it;")]
#[case::a_file_of_an_older_page("/assets/page-cd34.js", StatusCode::NOT_FOUND, "There is nothing at this address.")]
#[actix_web::test]
async fn pages_are_served_and_missing_files_are_not(
    #[case] path: &str,
    #[case] status: StatusCode,
    #[case] body: &str,
) {
    let place = Place::of(Store::connect("postgres://nobody@127.0.0.1:9/none", 1).unwrap());
    let answer = place.call(&Caller::default(), Method::GET, path, Value::Null).await;
    let found = String::from_utf8(answer.bytes).unwrap();
    assert!(answer.status == status && found.contains(body), "{} {found}", answer.status);
}
