//! The store on a real database; every test gets an empty one.

mod audio;
mod changes;
mod common;
mod earlier;
mod past;
mod pieces;
mod pulse;
mod renders;
mod snapshots;

use common::{account, session, store};
use lane_document::session::{AssetRef, Family, Processor, Session};
use lane_dsp::{Gate, Settings, StereoImage};
use lane_store::{LibrarySound, Preset, StoreError};
use lane_units::{AssetId, Name, ProcessorId, Purpose};
use sqlx::PgPool;
use std::collections::HashMap;
use std::io::Cursor;
use std::time::Duration;

#[sqlx::test(migrations = false)]
async fn an_address_has_one_account_whatever_its_case(pool: PgPool) {
    let store = store(pool).await;
    let made = store.add_account(" Anna@Example.invalid ", "hash").await.unwrap();
    assert_eq!(store.account_by_email("anna@example.INVALID").await.unwrap().unwrap().id, made.id);
    assert!(matches!(store.add_account("anna@example.invalid", "x").await, Err(StoreError::Exists { .. })));
}

#[sqlx::test(migrations = false)]
async fn sessions_are_listed_from_a_place_on_each_once(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    for _ in 0..5 {
        session(&store, &owner).await;
    }
    // Changed at once, they still have an order.
    sqlx::query("update sessions set updated_at = now()").execute(store.pool()).await.unwrap();
    let listed = async |from, most| {
        let lines = store.sessions(owner.id, from, most).await.unwrap();
        lines.into_iter().map(|line| line.id).collect::<Vec<_>>()
    };
    let all = listed(0, 100).await;
    assert_eq!(all.len(), 5);
    assert_eq!([listed(0, 2).await, listed(2, 2).await, listed(4, 2).await].concat(), all);
    assert!(listed(9, 2).await.is_empty());
}

#[sqlx::test(migrations = false)]
async fn logins_run_out_and_can_be_removed(pool: PgPool) {
    let store = store(pool).await;
    let state = HashMap::from([("account".to_owned(), "1".to_owned())]);
    store.put_login("a", &state, Duration::from_secs(60)).await.unwrap();
    store.put_login("b", &state, Duration::ZERO).await.unwrap();
    assert_eq!(store.login("a").await.unwrap(), Some(state));
    assert_eq!(store.login("b").await.unwrap(), None);
    store.remove_login("a").await.unwrap();
    assert_eq!(store.login("a").await.unwrap(), None);
}

#[sqlx::test(migrations = false)]
async fn nothing_of_somebody_else_is_there(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let id = session(&store, &owner).await;
    let render = common::queued(&store, &owner, id).await;
    let missing = |e: StoreError| assert!(matches!(e, StoreError::NotFound { .. }), "{e}");
    missing(store.session(other.id, id).await.unwrap_err());
    missing(store.revision(other.id, id).await.unwrap_err());
    missing(common::edit(&store, other.id, id, &common::voice("K")).await.unwrap_err());
    missing(store.changes_after(other.id, id, 1, 9, i64::MAX).await.unwrap_err());
    missing(store.changes_known(other.id, id, &[]).await.unwrap_err());
    missing(store.remove_session(other.id, id).await.unwrap_err());
    missing(store.render(other.id, render).await.unwrap_err());
    missing(store.cancel_render(other.id, render).await.unwrap_err());
    missing(store.remove_render(other.id, render).await.unwrap_err());
    missing(store.render_files(other.id, render).await.unwrap_err());
    assert!(store.sessions(other.id, 0, 100).await.unwrap().is_empty());
    assert!(store.renders(other.id, id).await.unwrap().is_empty());
}

#[sqlx::test(migrations = false)]
async fn a_library_keeps_the_newest_name_and_gives_nothing_to_others(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let id = AssetId("ab".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "k.wav".into(), channels: 1, sample_rate: 48_000, frames: 2 };
    store.put_asset(owner.id, &asset, Cursor::new([0_u8; 8])).await.unwrap();
    let sound = |name: &str| LibrarySound {
        asset: asset.clone(),
        name: Name::new(name).unwrap(),
        family: Family::Low,
        peak_dbfs: -3.0,
        pitch_hz: None,
    };
    store.keep_in_library(owner.id, &sound("Old name")).await.unwrap();
    store.keep_in_library(owner.id, &sound("Kick")).await.unwrap();
    assert_eq!(store.library(owner.id, "", None).await.unwrap(), [sound("Kick")]);
    assert!(store.library(other.id, "", None).await.unwrap().is_empty());
    assert!(matches!(store.keep_in_library(other.id, &sound("Kick")).await, Err(StoreError::Database(_))));
    assert!(matches!(store.library_sound(other.id, &id).await, Err(StoreError::NotFound { .. })));
    assert!(matches!(store.drop_from_library(other.id, &id).await, Err(StoreError::NotFound { .. })));
    store.drop_from_library(owner.id, &id).await.unwrap();
    assert!(store.library(owner.id, "", None).await.unwrap().is_empty());
    // The audio itself stays for the sessions that use it.
    assert_eq!(store.asset_bytes(owner.id, &id).await.unwrap(), [0; 8]);
}

#[sqlx::test(migrations = false)]
async fn templates_belong_to_their_account(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let document = Session::new("Start", 48_000);
    let id = store.add_template(owner.id, &"Kit".into(), &"For a start".into(), &document).await.unwrap();
    assert_eq!(store.templates(owner.id).await.unwrap().len(), 1);
    assert!(store.templates(other.id).await.unwrap().is_empty());
    assert!(matches!(store.template(other.id, id).await, Err(StoreError::NotFound { .. })));
    let newer = Session::new("Newer", 44_100);
    let refused = store.set_template(other.id, id, &"Mine".into(), &Purpose::default(), Some(&newer)).await;
    assert!(matches!(refused, Err(StoreError::NotFound { .. })));
    store.set_template(owner.id, id, &"Set".into(), &"Now".into(), None).await.unwrap();
    let kept = store.template(owner.id, id).await.unwrap().read().unwrap();
    assert_eq!((kept.name.as_str(), kept.purpose.as_str(), &kept.document), ("Set", "Now", &document));
    store.set_template(owner.id, id, &"Set".into(), &"Now".into(), Some(&newer)).await.unwrap();
    assert_eq!(store.template(owner.id, id).await.unwrap().read().unwrap().document, newer);
    assert!(matches!(store.remove_template(other.id, id).await, Err(StoreError::NotFound { .. })));
    store.remove_template(owner.id, id).await.unwrap();
    assert!(store.templates(owner.id).await.unwrap().is_empty());
}

#[sqlx::test(migrations = false)]
async fn presets_belong_to_their_account(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let kept = [Processor::new(ProcessorId(1), Settings::Gate(Gate::default()))];
    let id = store.add_preset(owner.id, &"Shut".into(), &kept).await.unwrap();
    assert_eq!(store.presets(owner.id).await.unwrap(), [Preset { id, name: "Shut".into(), processors: kept.to_vec() }]);
    assert!(store.presets(other.id).await.unwrap().is_empty());
    assert!(matches!(store.set_preset(other.id, id, &"Mine".into(), None).await, Err(StoreError::NotFound { .. })));
    assert!(matches!(store.remove_preset(other.id, id).await, Err(StoreError::NotFound { .. })));
    let chain = [kept[0].clone(), Processor::new(ProcessorId(2), Settings::StereoImage(StereoImage::default()))];
    store.set_preset(owner.id, id, &"Shut and wide".into(), Some(&chain)).await.unwrap();
    store.set_preset(owner.id, id, &"Shut".into(), None).await.unwrap();
    let now = store.presets(owner.id).await.unwrap();
    assert_eq!((now[0].name.as_str(), now[0].processors.len()), ("Shut", 2));
    store.remove_preset(owner.id, id).await.unwrap();
    assert!(store.presets(owner.id).await.unwrap().is_empty());
}
