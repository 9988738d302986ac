//! Templates over HTTP: saved, begun from, at another rate, as files, of their owner only.

use crate::common::{Caller, Place, one_shot, wav};
use actix_web::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;

async fn get(place: &Place, caller: &Caller, path: &str) -> Value {
    place.call(caller, Method::GET, path, json!(null)).await.json
}

async fn save(place: &Place, caller: &Caller, session: &str, name: &str, audio: bool) -> crate::common::Answer {
    let keeps = json!({ "audio": audio, "patterns": true, "levels": true, "chains": true });
    let body = json!({ "session": session, "name": name, "purpose": "To begin with", "keeps": keeps });
    place.call(caller, Method::POST, "/api/templates", body).await
}

/// A session with one lane that sounds.
async fn lane(place: &Place, caller: &Caller) -> String {
    let id = place.new_session(caller).await;
    let brought = place.bring_in(caller, &id, "kick.wav", wav(4800)).await;
    let edited = place.edit(caller, &id, 1, one_shot("Kick", &brought.json["asset"])).await;
    assert_eq!(edited.status, StatusCode::OK, "{}", edited.json);
    id
}

#[sqlx::test(migrations = false)]
async fn a_template_starts_sessions_at_any_rate(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let session = lane(&place, &anna).await;
    let made = save(&place, &anna, &session, "Kit", true).await;
    assert_eq!(made.status, StatusCode::OK);
    let id = made.json["id"].as_str().unwrap().to_owned();
    let list = get(&place, &anna, "/api/templates").await;
    let own: Vec<_> = list.as_array().unwrap().iter().filter(|t| t["house"] == false).collect();
    assert_eq!((own.len(), &own[0]["name"], &own[0]["has_audio"]), (1, &json!("Kit"), &json!(true)));
    assert_eq!(list.as_array().unwrap().len(), 4, "three are ours");

    // Brought up to date from a session without its audio, under another name.
    let keeps = json!({ "audio": false, "patterns": false, "levels": true, "chains": true });
    let from = json!({ "session": session, "keeps": keeps });
    let update = json!({ "name": "Bare kit", "purpose": "", "from": from });
    let path = format!("/api/templates/{id}");
    let bare = save(&place, &anna, &session, "Other", true).await.json["id"].as_str().unwrap().to_owned();
    let answer = place.call(&anna, Method::PUT, &format!("/api/templates/{bare}"), update).await;
    assert_eq!(answer.status, StatusCode::NO_CONTENT, "{}", answer.json);
    let updated = get(&place, &anna, &format!("/api/templates/{bare}")).await;
    assert_eq!((&updated["name"], &updated["document"]["assets"]), (&json!("Bare kit"), &json!([])));
    assert_eq!(get(&place, &anna, &path).await["name"], "Kit", "the other one stays");

    let begin = json!({ "title": "Second", "sample_rate": 44_100 });
    let begun = place.call(&anna, Method::POST, &format!("/api/templates/{id}/sessions"), begin).await;
    assert_eq!(begun.status, StatusCode::OK, "{}", begun.json);
    let opened = get(&place, &anna, &format!("/api/sessions/{}", begun.json["id"].as_str().unwrap())).await;
    let asset = &opened["document"]["assets"][0];
    assert_eq!((&asset["sample_rate"], &opened["document"]["header"]["title"]), (&json!(44_100), &json!("Second")));
    assert_eq!(asset["frames"], 4410);
    let bad = json!({ "title": "Second", "sample_rate": 12 });
    let refused = place.call(&anna, Method::POST, &format!("/api/templates/{id}/sessions"), bad).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[sqlx::test(migrations = false)]
async fn a_template_goes_out_as_a_file_and_comes_back_to_somebody_else(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let session = lane(&place, &anna).await;
    let id = save(&place, &anna, &session, "Kit", true).await.json["id"].as_str().unwrap().to_owned();
    let file = place.call(&anna, Method::GET, &format!("/api/templates/{id}/file"), json!(null)).await;
    assert_eq!(file.status, StatusCode::OK);
    let taken = place.send(&ben, Method::POST, "/api/template-files", file.bytes.clone()).await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.json);
    let theirs = get(&place, &ben, &format!("/api/templates/{}", taken.json["id"].as_str().unwrap())).await;
    let ours = get(&place, &anna, &format!("/api/templates/{id}")).await;
    assert_eq!(theirs, ours);
    let cut = file.bytes[..file.bytes.len() / 2].to_vec();
    let refused = place.send(&ben, Method::POST, "/api/template-files", cut).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(get(&place, &ben, "/api/templates").await.as_array().unwrap().len(), 4, "nothing half-done");
}

#[sqlx::test(migrations = false)]
async fn templates_are_of_their_owner_only_and_ours_stay(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let session = lane(&place, &anna).await;
    let id = save(&place, &anna, &session, "Kit", false).await.json["id"].as_str().unwrap().to_owned();
    assert_eq!(save(&place, &ben, &session, "Stolen", true).await.status, StatusCode::NOT_FOUND);
    assert_eq!(save(&place, &anna, &session, "  ", true).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let path = format!("/api/templates/{id}");
    let rename = json!({ "name": "Mine", "purpose": "", "from": null });
    let begin = json!({ "title": "T", "sample_rate": 48_000 });
    let nobody = Caller { cookie: None, ..ben.clone() };
    for (method, path, body) in [
        (Method::GET, path.clone(), json!(null)),
        (Method::PUT, path.clone(), rename.clone()),
        (Method::DELETE, path.clone(), json!(null)),
        (Method::GET, format!("{path}/file"), json!(null)),
        (Method::POST, format!("{path}/sessions"), begin),
    ] {
        let answer = place.call(&ben, method.clone(), &path, body.clone()).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{method} {path}");
        let answer = place.call(&nobody, method.clone(), &path, body).await;
        assert_eq!(answer.status, StatusCode::UNAUTHORIZED, "{method} {path}");
    }
    assert_eq!(place.call(&anna, Method::PUT, &path, rename.clone()).await.status, StatusCode::NO_CONTENT);
    assert_eq!(get(&place, &anna, &path).await["name"], "Mine");
    // Ours can be opened by everybody and changed by nobody.
    let list = get(&place, &anna, "/api/templates").await;
    let house = format!("/api/templates/{}", list[0]["id"].as_str().unwrap());
    assert_eq!(get(&place, &ben, &house).await["name"], list[0]["name"]);
    assert_eq!(place.call(&anna, Method::PUT, &house, rename).await.status, StatusCode::NOT_FOUND);
    assert_eq!(place.call(&anna, Method::DELETE, &house, json!(null)).await.status, StatusCode::NOT_FOUND);
    assert_eq!(place.call(&anna, Method::DELETE, &path, json!(null)).await.status, StatusCode::NO_CONTENT);
}

#[sqlx::test(migrations = false)]
async fn lanes_whose_audio_is_somebody_elses_cannot_be_inserted(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let session = lane(&place, &anna).await;
    let from = get(&place, &anna, &format!("/api/sessions/{session}")).await["document"].clone();
    let voices = json!([from["voices"][0]["id"]]);
    let insertion = json!({ "from": from, "voices": voices, "map": [], "pattern": null });
    let own = place.new_session(&ben).await;
    let edit = json!({ "kind": "insert_lanes", "insertion": insertion });
    let answer = place.edit(&ben, &own, 1, edit).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.json["detail"].as_str().unwrap().contains("not yours"), "{}", answer.json);
}
