//! Snapshots over HTTP: taken, opened, what differs taken over, of their owner only.

use crate::common::Place;
use actix_web::http::{Method, StatusCode};
use serde_json::json;
use sqlx::PgPool;

#[sqlx::test(migrations = false)]
async fn a_snapshot_is_taken_opened_renamed_and_removed_by_its_owner_alone(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let made =
        place.call(&anna, Method::POST, "/api/sessions", json!({ "title": "Beat", "sample_rate": 48_000 })).await;
    let session = format!("/api/sessions/{}", made.json["id"].as_str().unwrap());
    let list = format!("{session}/snapshots");
    let body = json!({ "name": "Before the clippers", "by_hand": true, "figures": { "lufs": -17.2 } });
    let taken = place.call(&anna, Method::POST, &list, body.clone()).await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.json);
    let one = format!("{list}/{}", taken.json["id"].as_str().unwrap());

    let lines = place.call(&anna, Method::GET, &list, json!(null)).await.json;
    assert_eq!((&lines[0]["name"], &lines[0]["figures"]["lufs"]), (&json!("Before the clippers"), &json!(-17.2)));
    assert_eq!(lines[0]["figures"]["crest_db"], json!(null));
    let now = place.call(&anna, Method::GET, &session, json!(null)).await.json;
    assert_eq!(place.call(&anna, Method::GET, &one, json!(null)).await.json, now["document"]);

    for (method, path, body) in [
        (Method::GET, &list, json!(null)),
        (Method::POST, &list, body.clone()),
        (Method::GET, &one, json!(null)),
        (Method::PUT, &one, json!({ "name": "Mine" })),
        (Method::DELETE, &one, json!(null)),
    ] {
        assert_eq!(place.call(&ben, method, path, body).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    let renamed = place.call(&anna, Method::PUT, &one, json!({ "name": "Then" })).await;
    assert_eq!(renamed.status, StatusCode::NO_CONTENT, "{}", renamed.json);
    let refused = place.call(&anna, Method::POST, &list, json!({ "name": "", "by_hand": true })).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", refused.json);
    assert_eq!(place.call(&anna, Method::DELETE, &one, json!(null)).await.status, StatusCode::NO_CONTENT);
    assert_eq!(place.call(&anna, Method::GET, &one, json!(null)).await.status, StatusCode::NOT_FOUND);
}
