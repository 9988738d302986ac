//! Edits over HTTP: exactly once, refused with reasons, and never more than they may be.

use crate::common::{self, Caller, Place, one_shot, wav};
use actix_web::http::{Method, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::{Duration, Instant};
use uuid::Uuid;

fn bus(name: &str) -> Value {
    json!({ "kind": "new_bus", "name": name, "feeders": [] })
}

async fn opened(place: &Place, caller: &Caller, id: &str) -> Value {
    place.call(caller, Method::GET, &format!("/api/sessions/{id}"), json!(null)).await.json
}

fn buses(opened: &Value) -> usize {
    opened["document"]["strips"].as_array().unwrap().iter().filter(|s| s["kind"] == "bus").count()
}

#[sqlx::test(migrations = false)]
async fn an_edit_that_is_sent_again_happens_once_and_gets_the_same_answer(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let change = Uuid::new_v4();
    let first = place.edit_as(&anna, &id, 1, change, bus("Drums")).await.json;
    place.edit(&anna, &id, 2, bus("Tops")).await;
    // The answer was lost, so the page sends it again on the revision that it knows.
    let again = place.edit_as(&anna, &id, 1, change, bus("Drums")).await;
    assert_eq!((again.status, &again.json["again"]), (StatusCode::OK, &json!(true)));
    for field in ["id", "revision", "label", "patch", "made"] {
        assert_eq!(again.json[field], first[field], "{field}");
    }
    assert_eq!(first["made"], json!([{ "thing": "strip", "id": 5 }]));
    assert_eq!(buses(&opened(&place, &anna, &id).await), 3);
    let known = json!({ "ids": [change, Uuid::new_v4()] });
    let known = place.call(&anna, Method::POST, &format!("/api/sessions/{id}/changes/known"), known).await.json;
    assert_eq!(known.as_array().unwrap().len(), 1);
    let after = async |revision: &str| {
        place.call(&anna, Method::GET, &format!("/api/sessions/{id}/changes?after={revision}"), json!(null)).await
    };
    let told = after("1").await.json;
    assert_eq!(told.as_array().unwrap().len(), 2);
    assert_eq!((&told[1]["revision"], &told[1]["label"]), (&json!(3), &json!("New bus Tops")));
    assert_eq!(after("3").await.json, json!([]));
    assert_eq!(after("soon").await.status, StatusCode::BAD_REQUEST);
}

#[sqlx::test(migrations = false)]
async fn an_edit_that_is_sent_many_times_at_once_happens_once(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let change = Uuid::new_v4();
    let tries = (0..8).map(|_| place.edit_as(&anna, &id, 1, change, bus("Drums")));
    let answers = futures_util::future::join_all(tries).await;
    assert!(
        answers.iter().all(|a| a.status == StatusCode::OK),
        "{:?}",
        answers.iter().map(|a| a.status).collect::<Vec<_>>()
    );
    assert_eq!(answers.iter().filter(|a| a.json["again"] == false).count(), 1);
    assert_eq!(buses(&opened(&place, &anna, &id).await), 2);
}

/// However much a session has behind it, opening it costs the document.
#[sqlx::test(migrations = false)]
async fn large_steps_are_left_out_of_what_opens_and_asked_for_by_themselves(pool: PgPool) {
    let place = Place::new(pool.clone()).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let id = place.new_session(&anna).await;
    for (revision, name) in [(1, "A"), (2, "B"), (3, "C")] {
        place.edit(&anna, &id, revision, bus(name)).await;
    }
    let large = "update edits set bytes = 2 << 20 where position = (select max(position) - 1 from edits)";
    sqlx::query(large).execute(&pool).await.unwrap();
    let steps = opened(&place, &anna, &id).await["undo"].clone();
    let with_ways: Vec<bool> = steps.as_array().unwrap().iter().map(|s| s["back"].is_object()).collect();
    assert_eq!(with_ways, [true, false, false]);
    let path = format!("/api/sessions/{id}/steps/{}", steps[1]["id"].as_str().unwrap());
    let whole = place.call(&anna, Method::GET, &path, json!(null)).await;
    assert_eq!((whole.status, &whole.json["label"]), (StatusCode::OK, &json!("New bus B")));
    assert!(whole.json["there"].is_object() && whole.json["back"].is_object());
    assert_eq!(place.call(&ben, Method::GET, &path, json!(null)).await.status, StatusCode::NOT_FOUND);
    for (step, revision) in [(0, 4), (1, 5)] {
        let undo = json!({ "id": Uuid::new_v4(), "base_revision": revision, "step": steps[step]["id"] });
        let undone = place.call(&anna, Method::POST, &format!("/api/sessions/{id}/undo"), undo).await;
        assert_eq!(undone.status, StatusCode::OK, "{}", undone.json);
    }
    assert_eq!(buses(&opened(&place, &anna, &id).await), 2);
}

#[sqlx::test(migrations = false)]
async fn an_undo_names_its_step_and_revision_and_is_dropped_where_they_passed(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let step = Uuid::new_v4();
    place.edit_as(&anna, &id, 1, step, bus("Drums")).await;
    let undo = |change: Uuid, base: i64| json!({ "id": change, "base_revision": base, "step": step });
    let path = format!("/api/sessions/{id}/undo");
    // Another tab adds something first.
    place.edit(&anna, &id, 2, bus("Tops")).await;
    let stale = place.call(&anna, Method::POST, &path, undo(Uuid::new_v4(), 2)).await;
    assert_eq!((stale.status, &stale.json["revision"]), (StatusCode::CONFLICT, &json!(3)));
    let other = place.call(&anna, Method::POST, &path, undo(Uuid::new_v4(), 3)).await;
    assert_eq!(other.status, StatusCode::CONFLICT, "it is not the last step any more");
    assert_eq!(buses(&opened(&place, &anna, &id).await), 3);
    // Sent twice, an undo goes one step.
    let last = opened(&place, &anna, &id).await["undo"][0]["id"].clone();
    let change = Uuid::new_v4();
    for _ in 0..2 {
        let body = json!({ "id": change, "base_revision": 3, "step": last });
        assert_eq!(place.call(&anna, Method::POST, &path, body).await.status, StatusCode::OK);
    }
    let now = opened(&place, &anna, &id).await;
    assert_eq!((buses(&now), now["redo"][0]["label"].as_str()), (2, Some("New bus Tops")));
}

fn batch(edits: Vec<Value>) -> Value {
    json!({ "kind": "batch", "edits": edits })
}

fn header(metre: Value, tempo: Value) -> Value {
    json!({ "kind": "set_header", "header": {
        "title": "Beat", "tempo_bpm": tempo, "metre": metre, "swing": { "percent": 50, "grid": "sixteenth" }, "key": "",
        "pan_law": "minus3", "sample_rate": 48_000,
    } })
}

fn take(metre: Value) -> Value {
    json!({ "kind": "add_take", "sounds": [], "take": {
        "name": "Take", "tracks": [], "notes": [[0, 9, 36, 100, 0, 60]], "tempo_bpm": null, "metre": metre, "remarks": [],
    } })
}

#[rstest]
#[case::no_unit(header(json!({ "beats": 4, "unit": 0 }), json!(96)), "1 to 32 beats")]
#[case::no_beats(header(json!({ "beats": 0, "unit": 4 }), json!(96)), "1 to 32 beats")]
#[case::no_tempo(header(json!({ "beats": 4, "unit": 4 }), json!(0)), "20 to 400 bpm")]
#[case::take_unit(take(json!({ "beats": 4, "unit": 0 })), "1 to 32 beats")]
#[case::take_beats(take(json!({ "beats": 0, "unit": 4 })), "1 to 32 beats")]
#[case::doubled(batch((0..40).map(|_| json!({ "kind": "double_pattern", "pattern": 3 })).collect()), "pattern A would last")]
#[case::no_song(
    batch(vec![
        json!({ "kind": "remove_section", "section": 4 }),
        json!({ "kind": "remove_pattern", "pattern": 3 }),
        take(json!(null)),
    ]),
    "at least one pattern and one section"
)]
#[case::voices(
    json!({ "kind": "add_voices", "assets": [], "voices": (0..2000).map(|_| json!({
        "name": "Kick", "family": "low", "source": { "kind": "empty" }, "output": null, "hits": [],
    })).collect::<Vec<_>>() }),
    "2000 given, at most 512"
)]
#[case::sections(
    batch((0..100_000).map(|_| json!({ "kind": "add_section", "name": "B", "pattern": 3, "bars": 1, "at": 0 })).collect()),
    "more than 1000 edits in one"
)]
#[case::patterns(
    batch((0..300).map(|n| json!({ "kind": "add_pattern", "name": format!("P{n}"), "bars": 1, "copy_of": null })).collect()),
    "patterns: 257 given, at most 256"
)]
#[case::long(json!({ "kind": "add_section", "name": "B", "pattern": 3, "bars": 4_000_000_000_u32, "at": 0 }), "the song would last")]
#[case::nul(bus("a\0b"), "U+0000 at place 2")]
#[case::direction(bus("abc\u{202e}"), "U+202E")]
#[case::unknown_kind(json!({ "kind": "explode" }), "unknown variant")]
#[case::no_edit(json!(null), "Not done")]
#[case::nested((0..100).fold(bus("B"), |inner, _| batch(vec![inner])), "recursion limit")]
#[actix_web::test]
async fn edits_that_would_hurt_are_refused_at_once_and_change_nothing(#[case] edit: Value, #[case] says: &str) {
    let place = Place::new(common::empty_database().await).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let began = Instant::now();
    let refused = place.edit(&anna, &id, 1, edit).await;
    assert_eq!((refused.status, &refused.json["type"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("edit-refused")));
    assert!(refused.json["detail"].as_str().unwrap().contains(says), "{}", refused.json["detail"]);
    assert!(began.elapsed() < Duration::from_secs(10), "{:?}", began.elapsed());
    assert_eq!(opened(&place, &anna, &id).await["revision"], 1);
}

#[sqlx::test(migrations = false)]
async fn what_an_edit_says_of_audio_does_not_count(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let sound = place.bring_in(&anna, &id, "kick.wav", wav(4800)).await.json;
    let mut told = sound["asset"].clone();
    told["frames"] = json!(4_000_000_000_u32);
    told["channels"] = json!(2);
    let done = place.edit(&anna, &id, 1, one_shot("Kick", &told)).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.json);
    assert_eq!(opened(&place, &anna, &id).await["document"]["assets"][0], sound["asset"]);
}

#[sqlx::test(migrations = false)]
async fn an_edit_as_large_as_a_take_may_be_goes_through(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let mut edit = take(json!(null));
    edit["take"]["notes"] = (0..19_000).map(|n| json!([0, 9, 36, 100, n * 240, 60])).collect();
    let done = place.edit(&anna, &id, 1, edit).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.json["detail"]);
    let large = place.send(&anna, Method::POST, &format!("/api/sessions/{id}/edits"), vec![b' '; 17 << 20]).await;
    assert_eq!(large.status, StatusCode::PAYLOAD_TOO_LARGE);
}
