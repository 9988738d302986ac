//! Presets over HTTP: ours and one's own, kept, changed, of their owner only.

use crate::common::Place;
use actix_web::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;

fn processor(settings: &Value) -> Value {
    json!({
        "id": 7, "on": true, "input_db": 0.0, "output_db": -1.5, "mix_percent": 80.0,
        "key": { "source": 5, "tap": "pre_fader", "level_db": -3.0, "high_pass_hz": 90.0, "low_pass_hz": 0.0 },
        "settings": settings,
    })
}

#[sqlx::test(migrations = false)]
async fn a_preset_is_kept_without_what_its_key_hears_and_belongs_to_its_owner(pool: PgPool) {
    let place = Place::new(pool).await;
    let (anna, ben) = (place.sign_up("anna").await, place.sign_up("ben").await);
    let gate = processor(&json!({ "kind": "gate", "threshold_dbfs": -28.0 }));
    let body = json!({ "name": " Shut ", "processors": [gate] });
    let made = place.call(&anna, Method::POST, "/api/presets", body.clone()).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.json);
    let path = format!("/api/presets/{}", made.json["id"].as_str().unwrap());

    let list = place.call(&anna, Method::GET, "/api/presets", json!(null)).await.json;
    let (house, own): (Vec<_>, Vec<_>) = list.as_array().unwrap().iter().partition(|p| p["house"] == true);
    assert!(house.len() > 20 && own.len() == 1);
    assert_eq!(own[0]["name"], "Shut");
    // Another session has other strips; how it is heard goes along.
    let key = &own[0]["processors"][0]["key"];
    assert_eq!((&key["source"], &key["level_db"], &key["high_pass_hz"]), (&json!(null), &json!(-3.0), &json!(90.0)));
    // What was not said has its default.
    assert_eq!(own[0]["processors"][0]["settings"]["hold_ms"], 30.0);

    for (method, answer) in [(Method::PUT, body.clone()), (Method::DELETE, json!(null))] {
        let refused = place.call(&ben, method, &path, answer).await;
        assert_eq!(refused.status, StatusCode::NOT_FOUND);
    }
    let renamed = place.call(&anna, Method::PUT, &path, json!({ "name": "Shut fast" })).await;
    assert_eq!(renamed.status, StatusCode::NO_CONTENT, "{}", renamed.json);
    let gone = place.call(&anna, Method::DELETE, &path, json!(null)).await;
    assert_eq!(gone.status, StatusCode::NO_CONTENT);
}

#[sqlx::test(migrations = false)]
async fn a_bad_preset_is_refused_with_what_is_allowed(pool: PgPool) {
    let place = Place::new(pool).await;
    let anna = place.sign_up("anna").await;
    let gate = |threshold: f64| processor(&json!({ "kind": "gate", "threshold_dbfs": threshold }));
    for (body, says) in [
        (json!({ "name": "", "processors": [gate(-20.0)] }), "1 to 80 are allowed"),
        (json!({ "name": "Empty", "processors": [] }), "nothing was chosen"),
        (json!({ "name": "Loud", "processors": [gate(40.0)] }), "-80 to 0 dBFS"),
        (json!({ "name": "Many", "processors": vec![gate(-20.0); 40] }), "processors"),
    ] {
        let answer = place.call(&anna, Method::POST, "/api/presets", body).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(answer.json["detail"].as_str().unwrap().contains(says), "{}", answer.json);
    }
}
