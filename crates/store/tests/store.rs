//! The store on a real database; every test gets an empty one.

use lane_core::dsp::{Gate, Settings, Utility};
use lane_core::edit::{Edit, NewVoice, StripChange};
use lane_core::session::{AssetRef, Family, Processor, Session, VoiceSource};
use lane_core::units::{AssetId, ProcessorId, StripId};
use lane_store::{Account, LibrarySound, Preset, RenderFile, RenderState, Store, StoreError};
use serde_json::json;
use sqlx::PgPool;
use std::collections::HashMap;
use std::time::Duration;
use uuid::Uuid;

async fn store(pool: PgPool) -> Store {
    let store = Store::on(pool);
    store.migrate().await.unwrap();
    store
}

async fn account(store: &Store, name: &str) -> Account {
    store.add_account(&format!("{name}@example.invalid"), "hash").await.unwrap()
}

async fn session(store: &Store, account: &Account) -> Uuid {
    store.add_session(account.id, &Session::new("Beat", 48_000)).await.unwrap()
}

fn voice(name: &str) -> Edit {
    let voice =
        NewVoice { name: name.into(), family: Family::Low, source: VoiceSource::Empty, output: None, hits: vec![] };
    Edit::AddVoices { voices: vec![voice], assets: vec![] }
}

#[sqlx::test(migrations = false)]
async fn an_address_has_one_account_whatever_its_case(pool: PgPool) {
    let store = store(pool).await;
    let made = store.add_account(" Anna@Example.invalid ", "hash").await.unwrap();
    assert_eq!(store.account_by_email("anna@example.INVALID").await.unwrap().unwrap().id, made.id);
    assert!(matches!(store.add_account("anna@example.invalid", "x").await, Err(StoreError::Exists { .. })));
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
async fn edits_move_the_revision_and_undo_walks_back_and_forth(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let start = store.session(owner.id, id).await.unwrap();
    assert!(!start.can_undo && !start.can_redo);
    store.edit(owner.id, id, 1, &voice("Kick")).await.unwrap();
    let second = store.edit(owner.id, id, 2, &voice("Snare")).await.unwrap();
    assert_eq!((second.revision, second.can_undo, second.can_redo), (3, true, false));
    let both = store.session(owner.id, id).await.unwrap().document;

    assert!(store.undo(owner.id, id).await.unwrap().can_redo);
    let undone = store.undo(owner.id, id).await.unwrap();
    assert_eq!((undone.revision, undone.can_undo), (5, false));
    assert_eq!(store.session(owner.id, id).await.unwrap().document, start.document);
    assert!(matches!(store.undo(owner.id, id).await, Err(StoreError::NothingTo("undo"))));

    store.redo(owner.id, id).await.unwrap();
    store.redo(owner.id, id).await.unwrap();
    assert_eq!(store.session(owner.id, id).await.unwrap().document, both);
    store.undo(owner.id, id).await.unwrap();
    store.edit(owner.id, id, 8, &voice("Clap")).await.unwrap();
    assert!(matches!(store.redo(owner.id, id).await, Err(StoreError::NothingTo("redo"))));
}

#[sqlx::test(migrations = false)]
async fn a_stale_edit_gets_the_newer_document_and_a_refused_one_changes_nothing(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    store.edit(owner.id, id, 1, &voice("Kick")).await.unwrap();
    match store.edit(owner.id, id, 1, &voice("Snare")).await {
        Err(StoreError::Stale { current }) => {
            assert_eq!((current.revision, current.document.voices.len()), (2, 1));
        }
        other => panic!("{other:?}"),
    }
    let far = Edit::SetStrips { strips: vec![StripId(2)], change: StripChange::FaderDb(99.0) };
    assert!(matches!(store.edit(owner.id, id, 2, &far).await, Err(StoreError::Edit(_))));
    assert_eq!(store.session(owner.id, id).await.unwrap().revision, 2);
}

#[sqlx::test(migrations = false)]
async fn of_edits_at_the_same_time_one_goes_through(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let tries = (0..8).map(|n| {
        let store = store.clone();
        tokio::spawn(async move { store.edit(owner.id, id, 1, &voice(&format!("V{n}"))).await.is_ok() })
    });
    let mut went = 0;
    for one in tries.collect::<Vec<_>>() {
        went += usize::from(one.await.unwrap());
    }
    assert_eq!(went, 1);
}

#[sqlx::test(migrations = false)]
async fn nothing_of_somebody_else_is_there(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let id = session(&store, &owner).await;
    let document = store.session(owner.id, id).await.unwrap().document;
    let render = store.add_render(owner.id, id, 1, &document, 10).await.unwrap();
    let missing = |e: StoreError| assert!(matches!(e, StoreError::NotFound { .. }), "{e}");
    missing(store.session(other.id, id).await.unwrap_err());
    missing(store.edit(other.id, id, 1, &voice("K")).await.unwrap_err());
    missing(store.undo(other.id, id).await.unwrap_err());
    missing(store.remove_session(other.id, id).await.unwrap_err());
    missing(store.next_version(other.id, id).await.unwrap_err());
    missing(store.render(other.id, render).await.unwrap_err());
    missing(store.cancel_render(other.id, render).await.unwrap_err());
    missing(store.render_files(other.id, render).await.unwrap_err());
    assert!(store.sessions(other.id).await.unwrap().is_empty());
    assert!(store.renders(other.id, id).await.unwrap().is_empty());
}

#[sqlx::test(migrations = false)]
async fn audio_is_kept_once_in_pieces_and_shared_by_address(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let bytes: Vec<u8> = (0..2_500_000_u32).map(|n| n as u8).collect();
    let id = AssetId("ab".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames: 625_000 };
    store.put_asset(owner.id, &asset, bytes.as_slice()).await.unwrap();
    assert_eq!(store.asset_chunks(owner.id, &id).await.unwrap(), 3);
    assert_eq!(store.asset_bytes(owner.id, &id).await.unwrap(), bytes);
    assert!(store.asset_bytes(other.id, &id).await.is_err());
    assert_eq!(store.missing_assets(other.id, std::slice::from_ref(&id)).await.unwrap(), std::slice::from_ref(&id));
    store.put_asset(other.id, &asset, bytes.as_slice()).await.unwrap();
    assert_eq!(store.asset_bytes(other.id, &id).await.unwrap().len(), bytes.len());
    let count: i64 = sqlx::query_scalar("select count(*) from asset_chunks").fetch_one(store.pool()).await.unwrap();
    assert_eq!(count, 3);
}

#[sqlx::test(migrations = false)]
async fn a_render_is_visible_only_when_whole(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let document = store.session(owner.id, id).await.unwrap().document;
    let version = store.next_version(owner.id, id).await.unwrap();
    let render = store.add_render(owner.id, id, version, &document, 100).await.unwrap();
    let (_, _, _, attempt) = store.begin_render(render).await.unwrap().unwrap();
    store.put_render_chunk(render, 0, 0, vec![1; 10]).await.unwrap();
    assert!(store.render_progress(render, attempt, 50).await.unwrap());
    assert!(store.render_files(owner.id, render).await.is_err());
    // The worker dies; the next one starts from nothing, and the first cannot finish any more.
    let (_, _, _, second) = store.begin_render(render).await.unwrap().unwrap();
    assert_eq!(second, 2);
    assert_eq!(store.render_chunk(render, 0, 0).await.unwrap(), None);
    let files = [RenderFile { position: 0, name: "01.wav".into(), bytes: 10, sha256: "00".into() }];
    assert!(!store.finish_render(render, attempt, &files, &json!({})).await.unwrap());
    store.put_render_chunk(render, 0, 0, vec![2; 10]).await.unwrap();
    assert!(store.finish_render(render, second, &files, &json!({})).await.unwrap());
    assert_eq!(store.render_files(owner.id, render).await.unwrap().len(), 1);
    assert_eq!(store.render(owner.id, render).await.unwrap().state, RenderState::Done);
    assert!(store.begin_render(render).await.unwrap().is_none());
}

#[sqlx::test(migrations = false)]
async fn a_cancelled_render_stops_and_leaves_nothing(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let id = session(&store, &owner).await;
    let document = store.session(owner.id, id).await.unwrap().document;
    let render = store.add_render(owner.id, id, 1, &document, 100).await.unwrap();
    let (_, _, _, attempt) = store.begin_render(render).await.unwrap().unwrap();
    store.put_render_chunk(render, 0, 0, vec![1; 10]).await.unwrap();
    assert!(store.cancel_render(owner.id, render).await.unwrap());
    assert!(!store.render_progress(render, attempt, 60).await.unwrap());
    assert!(!store.finish_render(render, attempt, &[], &json!({})).await.unwrap());
    assert!(!store.cancel_render(owner.id, render).await.unwrap());
    store.put_render_chunk(render, 0, 0, vec![1; 10]).await.unwrap();
    store.sweep_render(render).await.unwrap();
    assert_eq!(store.render_chunk(render, 0, 0).await.unwrap(), None);
    assert_eq!(store.render(owner.id, render).await.unwrap().state, RenderState::Cancelled);
}

#[sqlx::test(migrations = false)]
async fn a_library_keeps_the_newest_name_and_gives_nothing_to_others(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let id = AssetId("ab".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "k.wav".into(), channels: 1, sample_rate: 48_000, frames: 2 };
    store.put_asset(owner.id, &asset, [0_u8; 8].as_slice()).await.unwrap();
    let sound = |name: &str| LibrarySound {
        asset: asset.clone(),
        name: name.into(),
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
    let id = store.add_template(owner.id, "Kit", "For a start", &document).await.unwrap();
    assert_eq!(store.templates(owner.id).await.unwrap().len(), 1);
    assert!(store.templates(other.id).await.unwrap().is_empty());
    assert!(matches!(store.template(other.id, id).await, Err(StoreError::NotFound { .. })));
    let newer = Session::new("Newer", 44_100);
    let refused = store.set_template(other.id, id, "Mine", "", Some(&newer)).await;
    assert!(matches!(refused, Err(StoreError::NotFound { .. })));
    store.set_template(owner.id, id, "Set", "Now", None).await.unwrap();
    let kept = store.template(owner.id, id).await.unwrap();
    assert_eq!((kept.name.as_str(), kept.purpose.as_str(), &kept.document), ("Set", "Now", &document));
    store.set_template(owner.id, id, "Set", "Now", Some(&newer)).await.unwrap();
    assert_eq!(store.template(owner.id, id).await.unwrap().document, newer);
    assert!(matches!(store.remove_template(other.id, id).await, Err(StoreError::NotFound { .. })));
    store.remove_template(owner.id, id).await.unwrap();
    assert!(store.templates(owner.id).await.unwrap().is_empty());
}

#[sqlx::test(migrations = false)]
async fn presets_belong_to_their_account(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let kept = [Processor::new(ProcessorId(1), Settings::Gate(Gate::default()))];
    let id = store.add_preset(owner.id, "Shut", &kept).await.unwrap();
    assert_eq!(store.presets(owner.id).await.unwrap(), [Preset { id, name: "Shut".into(), processors: kept.to_vec() }]);
    assert!(store.presets(other.id).await.unwrap().is_empty());
    assert!(matches!(store.set_preset(other.id, id, "Mine", None).await, Err(StoreError::NotFound { .. })));
    assert!(matches!(store.remove_preset(other.id, id).await, Err(StoreError::NotFound { .. })));
    let chain = [kept[0].clone(), Processor::new(ProcessorId(2), Settings::Utility(Utility::default()))];
    store.set_preset(owner.id, id, "Shut and wide", Some(&chain)).await.unwrap();
    store.set_preset(owner.id, id, "Shut", None).await.unwrap();
    let now = store.presets(owner.id).await.unwrap();
    assert_eq!((now[0].name.as_str(), now[0].processors.len()), ("Shut", 2));
    store.remove_preset(owner.id, id).await.unwrap();
    assert!(store.presets(owner.id).await.unwrap().is_empty());
}
