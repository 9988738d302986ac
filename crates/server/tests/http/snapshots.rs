//! Snapshots over HTTP: taken, opened, what differs taken over, of their owner only.

use crate::common::{self, Place, wav};
use actix_web::http::{Method, StatusCode};
use serde_json::json;
use sqlx::PgPool;
use std::io::{Cursor, Read, Write};

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

#[sqlx::test(migrations = false)]
async fn snapshots_go_along_with_the_folder_of_a_session(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    place.edit(&anna, &id, 1, common::one_shot("Kick", &sound["asset"])).await;
    let list = format!("/api/sessions/{id}/snapshots");
    let figures = json!({ "lufs": -17.2, "short_term_lufs": -15.0 });
    let new = json!({ "name": "With the kick", "by_hand": true, "figures": figures });
    place.call(&anna, Method::POST, &list, new).await;
    // The sound is in no lane any more, but in the snapshot.
    place.edit(&anna, &id, 2, json!({ "kind": "remove_voices", "voices": [6] })).await;
    place.call(&anna, Method::POST, &list, json!({ "name": "Before render 1", "by_hand": false })).await;
    let zip = place.call(&anna, Method::GET, &format!("/api/sessions/{id}/folder"), json!(null)).await.bytes;

    let lines = |list: String| place.call(&anna, Method::GET, list.leak(), json!(null));
    let made = place.send(&anna, Method::POST, "/api/session-folders", zip.clone()).await;
    assert_eq!((made.status, &made.json["remarks"]), (StatusCode::OK, &json!([])), "{}", made.json);
    let copied = format!("/api/sessions/{}/snapshots", made.json["id"].as_str().unwrap());
    let (before, after) = (lines(list.clone()).await.json, lines(copied.clone()).await.json);
    assert_eq!(after.as_array().unwrap().len(), 2);
    for (a, b) in before.as_array().unwrap().iter().zip(after.as_array().unwrap()) {
        assert_eq!((&a["name"], &a["by_hand"], &a["figures"]), (&b["name"], &b["by_hand"], &b["figures"]));
        let documents =
            [(&list, a), (&copied, b)].map(|(list, line)| format!("{list}/{}", line["id"].as_str().unwrap()));
        let [a, b] = documents.map(|path| place.call(&anna, Method::GET, path.leak(), json!(null)));
        assert_eq!(a.await.json, b.await.json);
    }
    let kick = sound["asset"]["id"].as_str().unwrap();
    let heard = place.call(&anna, Method::GET, &format!("/api/assets/{kick}"), json!(null)).await;
    assert_eq!(heard.status, StatusCode::OK);

    // One that is broken is told, and the rest comes in.
    let mut old = zip::ZipArchive::new(Cursor::new(zip)).unwrap();
    let mut bent = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for at in 0..old.len() {
        let mut entry = old.by_index(at).unwrap();
        let name = entry.name().unwrap().into_owned();
        let mut bytes = Vec::new();
        entry.read_to_end(&mut bytes).unwrap();
        bent.start_file(name.as_str(), zip::write::SimpleFileOptions::default()).unwrap();
        bent.write_all(if name == "snapshots/0.json" { b"{}" } else { &bytes }).unwrap();
    }
    let bent = bent.finish().unwrap().into_inner();
    let made = place.send(&anna, Method::POST, "/api/session-folders", bent).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.json);
    let remark = made.json["remarks"][0].as_str().unwrap().to_owned();
    assert!(remark.starts_with("The snapshot Before render 1 was left out: snapshots/0.json"), "{remark}");
    let kept = lines(format!("/api/sessions/{}/snapshots", made.json["id"].as_str().unwrap())).await.json;
    assert_eq!(kept.as_array().unwrap().len(), 1);
}
