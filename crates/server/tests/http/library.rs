//! The library of an account, the sounds of takes, and songs as notes.

use crate::common::{self, Caller, Place};
use actix_web::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;

const RATE: u32 = 48_000;

/// A mono 16-bit file.
fn wav(samples: &[f64], rate: u32) -> Vec<u8> {
    let data: Vec<u8> = samples.iter().flat_map(|s| ((s * 32_767.0) as i16).to_le_bytes()).collect();
    let mut out = b"RIFF".to_vec();
    out.extend((36 + data.len() as u32).to_le_bytes());
    out.extend(b"WAVEfmt ");
    for word in [16_u32, 0x0001_0001, rate, rate * 2, 0x0010_0002] {
        out.extend(word.to_le_bytes());
    }
    out.extend(b"data");
    out.extend((data.len() as u32).to_le_bytes());
    out.extend(data);
    out
}

fn tone(hz: f64, frames: usize, rate: u32) -> Vec<u8> {
    let sample = |n: usize| {
        let t = n as f64 / f64::from(rate);
        0.7 * (std::f64::consts::TAU * hz * t).sin() * (-3.0 * t).exp()
    };
    wav(&(0..frames).map(sample).collect::<Vec<_>>(), rate)
}

async fn get(place: &Place, caller: &Caller, path: &str) -> common::Answer {
    place.call(caller, Method::GET, path, json!(null)).await
}

fn names(list: &Value) -> Vec<&str> {
    list.as_array().unwrap().iter().map(|s| s["name"].as_str().unwrap()).collect()
}

#[sqlx::test(migrations = false)]
async fn a_library_is_searched_by_its_owner_only(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let id = place.new_session(&anna).await;
    place.bring_in(&anna, &id, "Kick deep.wav", tone(55.0, 24_000, RATE)).await;
    place.bring_in(&anna, &id, "kit/kick_dry.wav", tone(60.0, 20_000, RATE)).await;
    place.bring_in(&anna, &id, "Hat.wav", tone(7000.0, 4000, RATE)).await;
    let all = get(&place, &anna, "/api/library").await.json;
    assert_eq!(names(&all), ["Hat", "Kick deep", "Kick dry"]);
    let deep = &all[1];
    assert_eq!((&deep["family"], &deep["pitch"]["note"]), (&json!("low"), &json!("A1")));
    assert!((deep["peak_dbfs"].as_f64().unwrap() + 3.1).abs() < 0.3, "{}", deep["peak_dbfs"]);
    assert_eq!(names(&get(&place, &anna, "/api/library?search=DRY%20kick").await.json), ["Kick dry"]);
    assert_eq!(names(&get(&place, &anna, "/api/library?family=hats").await.json), ["Hat"]);
    assert_eq!(names(&get(&place, &anna, "/api/library?search=%25").await.json), Vec::<&str>::new());
    assert_eq!(get(&place, &anna, "/api/library?family=brass").await.status, StatusCode::BAD_REQUEST);

    assert_eq!(names(&get(&place, &ben, "/api/library").await.json), Vec::<&str>::new());
    let own = place.new_session(&ben).await;
    let asset = deep["asset"]["id"].as_str().unwrap();
    let steal = place.call(&ben, Method::POST, &format!("/api/sessions/{own}/sounds/{asset}"), json!(null)).await;
    assert_eq!(steal.status, StatusCode::NOT_FOUND);
    let delete = |who: Caller| {
        let (place, path) = (&place, format!("/api/library/{asset}"));
        async move { place.call(&who, Method::DELETE, &path, json!(null)).await.status }
    };
    assert_eq!(delete(ben).await, StatusCode::NOT_FOUND);
    assert_eq!(delete(anna.clone()).await, StatusCode::NO_CONTENT);
    assert_eq!(names(&get(&place, &anna, "/api/library").await.json), ["Hat", "Kick dry"]);
    assert_eq!(get(&place, &Caller::default(), "/api/library").await.status, StatusCode::UNAUTHORIZED);
}

#[sqlx::test(migrations = false)]
async fn a_sample_is_used_at_the_rate_of_the_session(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    place.call(&anna, Method::POST, "/api/library/house", json!(null)).await;
    let library = get(&place, &anna, "/api/library?search=kick").await.json;
    let asset = &library[0]["asset"];
    let body = json!({ "title": "High", "sample_rate": 96_000 });
    let made = place.call(&anna, Method::POST, "/api/sessions", body).await.json;
    let id = made["id"].as_str().unwrap();
    let path = format!("/api/sessions/{id}/sounds/{}", asset["id"].as_str().unwrap());
    let used = place.call(&anna, Method::POST, &path, json!(null)).await.json;
    assert_eq!(used["asset"]["sample_rate"], 96_000);
    assert_eq!(used["asset"]["frames"].as_u64().unwrap(), 2 * asset["frames"].as_u64().unwrap());
    let edit = place.edit(&anna, id, 1, common::one_shot("Kick", &used["asset"])).await;
    assert_eq!(edit.status, StatusCode::OK, "{}", edit.json);
}

#[sqlx::test(migrations = false)]
async fn a_take_gives_its_sounds_again_and_the_song_its_notes(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let id = place.new_session(&anna).await;
    let track = [0, 0x99, 36, 100, 48, 36, 0, 0, 42, 90, 48, 42, 0, 0, 0xFF, 0x2F, 0];
    let midi = [&b"MThd\0\0\0\x06\0\0\0\x01\0\x60MTrk\0\0\0\x11"[..], &track].concat();
    let brought = place.bring_in(&anna, &id, "take.mid", midi).await.json;
    let add = json!({ "kind": "add_take", "take": brought["take"], "sounds": brought["sounds"] });
    assert_eq!(place.edit(&anna, &id, 1, add).await.status, StatusCode::OK);
    let session = get(&place, &anna, &format!("/api/sessions/{id}")).await.json;
    let take = &session["document"]["takes"][0]["id"];
    let sounds = get(&place, &anna, &format!("/api/sessions/{id}/takes/{take}/sounds")).await.json;
    assert_eq!(sounds, brought["sounds"]);
    assert_eq!(get(&place, &anna, &format!("/api/sessions/{id}/takes/999/sounds")).await.status, StatusCode::NOT_FOUND);
    let song = get(&place, &anna, &format!("/api/sessions/{id}/midi")).await;
    let again = lane_files::midi::read_take("song.mid", &song.bytes).unwrap();
    // The section plays its pattern of one bar four times over.
    assert!(again.notes.len() >= 2);
    assert_eq!(again.tracks[1..], ["Kick", "Hat closed"]);
    let ben = place.sign_up("ben").await;
    assert_eq!(get(&place, &ben, &format!("/api/sessions/{id}/midi")).await.status, StatusCode::NOT_FOUND);
    assert_eq!(
        get(&place, &ben, &format!("/api/sessions/{id}/takes/{take}/sounds")).await.status,
        StatusCode::NOT_FOUND
    );
}
