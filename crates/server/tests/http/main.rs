//! The interface for programs, in process, on a real database.

mod bounds;
mod changes;
mod common;
mod fair;
mod faults;
mod library;
mod presets;
mod snapshots;
mod templates;

use actix_web::http::{Method, StatusCode};
use actix_web::{App as ActixApp, test, web};
use common::{Caller, Place, wav};
use lane_server::state::FAULTS;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::Duration;

const OTHER: &str = "00000000-0000-4000-8000-000000000000";

#[sqlx::test(migrations = false)]
async fn every_route_with_data_wants_a_sign_in(pool: PgPool) {
    let place = Place::new(pool).await;
    let nobody = Caller::default();
    let routes = [
        (Method::GET, "/api/me".to_owned()),
        (Method::GET, "/api/sessions".into()),
        (Method::POST, "/api/sessions".into()),
        (Method::GET, format!("/api/sessions/{OTHER}")),
        (Method::DELETE, format!("/api/sessions/{OTHER}")),
        (Method::POST, format!("/api/sessions/{OTHER}/edits")),
        (Method::POST, format!("/api/sessions/{OTHER}/undo")),
        (Method::POST, format!("/api/sessions/{OTHER}/redo")),
        (Method::GET, format!("/api/sessions/{OTHER}/changes?after=1")),
        (Method::GET, format!("/api/sessions/{OTHER}/steps/{OTHER}")),
        (Method::GET, format!("/api/sessions/{OTHER}/room?frames=1&channels=1")),
        (Method::POST, format!("/api/sessions/{OTHER}/changes/known")),
        (Method::GET, "/api/holdings".into()),
        (Method::POST, "/api/faults".into()),
        (Method::DELETE, format!("/api/renders/{OTHER}")),
        (Method::GET, format!("/api/sessions/{OTHER}/events")),
        (Method::POST, format!("/api/sessions/{OTHER}/bring-in?name=a.wav")),
        (Method::GET, format!("/api/sessions/{OTHER}/folder")),
        (Method::POST, "/api/session-folders".into()),
        (Method::GET, format!("/api/assets/{}", "ab".repeat(32))),
        (Method::POST, format!("/api/sessions/{OTHER}/renders")),
        (Method::GET, format!("/api/sessions/{OTHER}/renders")),
        (Method::GET, "/api/presets".into()),
        (Method::POST, "/api/presets".into()),
        (Method::PUT, format!("/api/presets/{OTHER}")),
        (Method::DELETE, format!("/api/presets/{OTHER}")),
        (Method::GET, format!("/api/renders/{OTHER}")),
        (Method::POST, format!("/api/renders/{OTHER}/cancel")),
        (Method::GET, format!("/api/renders/{OTHER}/zip")),
        (Method::GET, format!("/api/renders/{OTHER}/files/0")),
    ];
    for (method, path) in routes {
        let answer = place.call(&nobody, method.clone(), &path, json!({})).await;
        assert_eq!(answer.status, StatusCode::UNAUTHORIZED, "{method} {path}");
    }
}

#[sqlx::test(migrations = false)]
async fn what_pages_came_to_grief_over_is_taken_but_not_without_end(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let fault = || json!({ "what": "it is\nnot a function", "whereabouts": "at rows.ts" });
    for _ in 0..FAULTS.get() {
        assert_eq!(place.call(&anna, Method::POST, "/api/faults", fault()).await.status, StatusCode::NO_CONTENT);
    }
    assert_eq!(place.call(&anna, Method::POST, "/api/faults", fault()).await.status, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(place.call(&ben, Method::POST, "/api/faults", fault()).await.status, StatusCode::NO_CONTENT);
}

#[sqlx::test(migrations = false)]
async fn what_belongs_to_somebody_else_is_not_there(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let id = place.new_session(&anna).await;
    let kick = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    let asset = kick["asset"]["id"].as_str().unwrap().to_owned();
    let edit = json!({ "id": OTHER, "step": OTHER, "ids": [], "base_revision": 1, "edit": { "kind": "remove_voices", "voices": [] } });
    for (method, path) in [
        (Method::GET, format!("/api/sessions/{id}")),
        (Method::DELETE, format!("/api/sessions/{id}")),
        (Method::POST, format!("/api/sessions/{id}/edits")),
        (Method::POST, format!("/api/sessions/{id}/undo")),
        (Method::POST, format!("/api/sessions/{id}/redo")),
        (Method::POST, format!("/api/sessions/{id}/changes/known")),
        (Method::GET, format!("/api/sessions/{id}/changes?after=1")),
        (Method::GET, format!("/api/sessions/{id}/events")),
        (Method::GET, format!("/api/sessions/{id}/folder")),
        (Method::POST, format!("/api/sessions/{id}/renders")),
        (Method::GET, format!("/api/assets/{asset}")),
    ] {
        let answer = place.call(&ben, method.clone(), &path, edit.clone()).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{method} {path}");
        assert!(answer.json["detail"].as_str().unwrap().contains("not there"));
    }
    // Naming her audio in a session of his does not give it to him.
    let own = place.new_session(&ben).await;
    let voice = common::one_shot("Kick", &kick["asset"]);
    let refused = place.edit(&ben, &own, 1, voice).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.json["detail"].as_str().unwrap().contains("not yours"));
}

#[sqlx::test(migrations = false)]
async fn signing_up_in_and_out(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    assert_eq!(place.call(&anna, Method::GET, "/api/me", json!(null)).await.json["email"], "anna@example.invalid");
    let out = place.call(&anna, Method::POST, "/api/logout", json!(null)).await;
    assert_eq!(out.status, StatusCode::NO_CONTENT);
    assert_eq!(place.call(&anna, Method::GET, "/api/me", json!(null)).await.status, StatusCode::UNAUTHORIZED);
    let wrong = place.sign_in("anna", "wrong password").await;
    let unknown = place.sign_in("nobody", "wrong password").await;
    assert_eq!((wrong.status, &wrong.json), (StatusCode::UNAUTHORIZED, &unknown.json));
    let right = place.sign_in("anna", common::PASSWORD).await;
    let signed_in = right.cookies.iter().find(|c| c.starts_with("zealous-lane=")).unwrap();
    assert!(signed_in.contains("HttpOnly") && signed_in.contains("SameSite=Lax"), "{signed_in}");
}

/// Guesses lock out whoever guesses, not the one whose account it is.
#[sqlx::test(migrations = false)]
async fn guesses_keep_nobody_out_of_an_account_of_their_own(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let body = |password: &str| json!({ "email": "anna@example.invalid", "password": password });
    let guess = async || {
        let from = Caller { peer: Some("10.0.0.7:1"), ..Caller::default() };
        place.call(&from, Method::POST, "/api/login", body("wrong password")).await
    };
    let mut answers = vec![];
    for _ in 0..15 {
        answers.push(guess().await.status.as_u16());
    }
    assert_eq!((answers[0], answers[14]), (401, 429));
    let signed_in = Caller { peer: Some("10.0.0.8:1"), ..anna };
    assert_eq!(place.call(&signed_in, Method::POST, "/api/login", body(common::PASSWORD)).await.status, StatusCode::OK);
    // From where she signed up, too, without any cookie.
    let at_home = place.sign_in("anna", common::PASSWORD).await;
    assert_eq!(at_home.status, StatusCode::OK);
    let elsewhere = Caller { peer: Some("10.0.0.9:1"), ..Caller::default() };
    let refused = place.call(&elsewhere, Method::POST, "/api/login", body(common::PASSWORD)).await;
    assert_eq!(refused.status, StatusCode::TOO_MANY_REQUESTS);
    assert!(refused.json["detail"].as_str().unwrap().contains("for this account"), "{}", refused.json);
}

#[rstest]
#[case::no_at("anna", "long enough password", "name@place")]
#[case::short("a@b.invalid", "short", "10 to 1024 characters")]
#[case::spaces("a b@c.invalid", "long enough password", "name@place")]
#[actix_web::test]
async fn bad_credentials_are_explained(#[case] email: &str, #[case] password: &str, #[case] says: &str) {
    let place = Place::new(common::empty_database().await).await;
    let body = json!({ "email": email, "password": password });
    let answer = place.call(&Caller::default(), Method::POST, "/api/accounts", body).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.json["detail"].as_str().unwrap().contains(says));
}

#[sqlx::test(migrations = false)]
async fn sign_ins_are_limited_and_other_sites_are_refused(pool: PgPool) {
    let place = Place::new(pool).await;
    let foreign = Caller { origin: Some("https://elsewhere.invalid"), ..Caller::default() };
    let body = json!({ "email": "a@b.invalid", "password": "long enough password" });
    assert_eq!(place.call(&foreign, Method::POST, "/api/accounts", body).await.status, StatusCode::FORBIDDEN);
    let mut last = StatusCode::OK;
    for _ in 0..40 {
        last = place.call(&Caller::default(), Method::POST, "/api/login", json!({})).await.status;
    }
    assert_eq!(last, StatusCode::TOO_MANY_REQUESTS);
}

#[sqlx::test(migrations = false)]
async fn edits_undo_and_a_stale_revision(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let rename = |name: &str| json!({ "kind": "rename_strip", "strip": 2, "name": name });
    let done = place.edit(&anna, &id, 1, rename("Sum")).await;
    assert_eq!((done.status, done.json["revision"].as_i64()), (StatusCode::OK, Some(2)));
    assert_eq!(done.json["patch"]["strips"]["set"][0]["name"], "Sum");
    let stale = place.edit(&anna, &id, 1, rename("Other")).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    assert_eq!(stale.json["revision"], 2);
    let refused = place.edit(&anna, &id, 2, json!({ "kind": "set_output", "strips": [2], "output": 2 })).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.json["detail"].as_str().unwrap().contains("Sum to Sum"), "{}", refused.json);
    assert_eq!(refused.json["type"], "edit-refused");
    let opened = place.call(&anna, Method::GET, &format!("/api/sessions/{id}"), json!(null)).await.json;
    assert_eq!(opened["undo"][0]["label"], "Rename Mix bus to Sum");
    let undo = json!({ "id": OTHER, "base_revision": 2, "step": opened["undo"][0]["id"] });
    let undone = place.call(&anna, Method::POST, &format!("/api/sessions/{id}/undo"), undo).await;
    assert_eq!(undone.json["patch"]["strips"]["set"][0]["name"], "Mix bus");
    let nonsense =
        place.call(&anna, Method::POST, &format!("/api/sessions/{id}/edits"), json!({ "base_revision": "x" })).await;
    assert_eq!(nonsense.status, StatusCode::BAD_REQUEST);
}

#[sqlx::test(migrations = false)]
async fn files_are_told_apart_and_bad_ones_refused(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let short = place.bring_in(&anna, &id, "01_kick deep.wav", wav(4800)).await.json;
    assert_eq!(
        (&short["kind"], &short["name"], &short["family"]),
        (&json!("one_shot"), &json!("Kick deep"), &json!("low"))
    );
    let long = place.bring_in(&anna, &id, "guitar.wav", wav(48_000 * 9)).await.json;
    assert_eq!(long["kind"], "recording");
    let midi = [&b"MThd\0\0\0\x06\0\0\0\x01\0\x60MTrk\0\0\0\x0b"[..], &[0, 0x99, 36, 100, 48, 36, 0, 0, 0xFF, 0x2F, 0]]
        .concat();
    let take = place.bring_in(&anna, &id, "take.mid", midi).await.json;
    assert_eq!((&take["kind"], &take["sounds"][0]["key"]["key"]), (&json!("midi"), &json!(36)));
    let added =
        place.edit(&anna, &id, 1, json!({ "kind": "add_take", "take": take["take"], "sounds": take["sounds"] })).await;
    assert_eq!(added.status, StatusCode::OK, "{}", added.json);
    for (name, bytes) in [("../../etc/🥁.wav", b"RIFF".to_vec()), ("", vec![]), ("note.txt", b"hello, mixer".to_vec())]
    {
        let bad = place.bring_in(&anna, &id, name, bytes).await;
        assert_eq!(bad.status, StatusCode::UNPROCESSABLE_ENTITY, "{name}");
        assert!(bad.json["detail"].is_string());
    }
    let large = place.bring_in(&anna, &id, "big.wav", vec![0; common::UPLOAD_BYTES as usize + 1]).await;
    assert_eq!(large.status, StatusCode::PAYLOAD_TOO_LARGE);
}

#[sqlx::test(migrations = false)]
async fn stems_from_click_to_zip(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    place.edit(&anna, &id, 1, common::one_shot("Kick", &sound["asset"])).await;
    let stop = place.start_worker();
    let started = place.call(&anna, Method::POST, &format!("/api/sessions/{id}/renders"), json!(null)).await;
    let render = started.json["id"].as_str().unwrap().to_owned();
    let line = place.until_ended(&anna, &render).await;
    assert_eq!(line["status"], "done", "{line}");
    assert!(line["report"]["figures"]["sum_minus_main_dbfs"].as_f64().unwrap() <= -105.0);
    let zip = place.call(&anna, Method::GET, &format!("/api/renders/{render}/zip"), json!(null)).await;
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(zip.bytes)).unwrap();
    let names: Vec<String> = archive.file_names().map(|n| n.unwrap().into_owned()).collect();
    assert_eq!(names, ["01_Kick_Beat_96bpm.wav", "02_Main_Beat_96bpm.wav", "session-sheet.md", "SHA256SUMS"]);
    let file = place.call(&anna, Method::GET, &format!("/api/renders/{render}/files/0"), json!(null)).await;
    let mut entry = Vec::new();
    std::io::Read::read_to_end(&mut archive.by_index(0).unwrap(), &mut entry).unwrap();
    assert_eq!(entry, file.bytes);
    let cancelled = place.call(&anna, Method::POST, &format!("/api/renders/{render}/cancel"), json!(null)).await;
    assert_eq!(cancelled.status, StatusCode::CONFLICT);
    drop(stop);
}

#[sqlx::test(migrations = false)]
async fn a_render_whose_worker_died_is_taken_up_again(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    place.edit(&anna, &id, 1, common::one_shot("Kick", &sound["asset"])).await;
    let started = place.call(&anna, Method::POST, &format!("/api/sessions/{id}/renders"), json!(null)).await;
    let render = started.json["id"].as_str().unwrap().to_owned();
    // A worker begins, writes a piece, and is gone.
    let uuid = render.parse().unwrap();
    let taken = place.app.store.claim_render(uuid, uuid, Duration::ZERO).await.unwrap().unwrap();
    place.app.store.put_render_chunk(uuid, taken.attempt, (0, 0), &[9; 9]).await.unwrap();
    let dead = "update renders set heartbeat_at = now() - interval '1 hour'";
    sqlx::query(dead).execute(place.app.store.pool()).await.unwrap();
    let half = place.call(&anna, Method::GET, &format!("/api/renders/{render}/zip"), json!(null)).await;
    assert_eq!(half.status, StatusCode::NOT_FOUND);
    let stop = place.start_worker();
    assert_eq!(place.until_ended(&anna, &render).await["status"], "done");
    drop(stop);
}

#[sqlx::test(migrations = false)]
async fn a_session_folder_comes_back_the_same(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    place.edit(&anna, &id, 1, common::one_shot("Kick", &sound["asset"])).await;
    let zip = place.call(&anna, Method::GET, &format!("/api/sessions/{id}/folder"), json!(null)).await.bytes;
    let made = place.send(&anna, Method::POST, "/api/session-folders", zip).await;
    let copy = made.json["id"].as_str().unwrap();
    let of = |id: String| place.call(&anna, Method::GET, format!("/api/sessions/{id}").leak(), json!(null));
    assert_eq!(of(id.clone()).await.json["document"], of(copy.to_owned()).await.json["document"]);
    let bad = place.send(&anna, Method::POST, "/api/session-folders", b"PK no".to_vec()).await;
    assert_eq!(bad.status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[sqlx::test(migrations = false)]
async fn descriptions_and_health_are_served(pool: PgPool) {
    let place = Place::new(pool).await;
    let nobody = Caller::default();
    let openapi = place.call(&nobody, Method::GET, "/api/openapi.json", json!(null)).await.json;
    assert!(openapi["paths"]["/api/sessions/{id}/edits"]["post"].is_object());
    let schema: Value = place.call(&nobody, Method::GET, "/api/session.schema.json", json!(null)).await.json;
    assert!(schema["properties"]["voices"].is_object());
    for path in ["/healthz", "/readyz"] {
        assert_eq!(place.call(&nobody, Method::GET, path, json!(null)).await.status, StatusCode::OK, "{path}");
    }
    // Figures are told on an address of their own alone.
    let figures = place.call(&nobody, Method::GET, "/metrics", json!(null)).await;
    assert!(!String::from_utf8_lossy(&figures.bytes).contains("zealous_lane_"));
    let own = ActixApp::new().app_data(web::Data::new(place.app.clone())).service(lane_server::api::metrics);
    let own = test::init_service(own).await;
    let told = test::call_and_read_body(&own, test::TestRequest::get().uri("/metrics").to_request()).await;
    assert!(String::from_utf8_lossy(&told).contains("zealous_lane_database_connections{state=\"open\"}"), "{told:?}");
    let unknown = place.call(&nobody, Method::GET, "/api/nothing", json!(null)).await;
    assert_eq!((unknown.status, unknown.json["status"].as_i64()), (StatusCode::NOT_FOUND, Some(404)));
    let odd = place.call(&nobody, Method::GET, "/api/demo-account", json!(null)).await;
    assert_eq!(odd.status, StatusCode::NOT_FOUND);
}
