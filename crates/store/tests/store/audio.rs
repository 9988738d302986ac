//! Audio by its address, what accounts hold, and sweeping.

use crate::common::{account, edit, session, store, voice, walk};
use lane_document::edit::{AddVoices, Edit, NewVoice, RemoveVoices};
use lane_document::session::{AssetRef, Family, Hold, Layer, TemplateKeeps, VoiceSource};
use lane_store::{Account, LibrarySound, Store, StoreError, Way};
use lane_units::AssetId;
use rstest::rstest;
use sqlx::PgPool;
use std::io::{self, Cursor, Read};
use std::time::Duration;

fn asset(byte: &str, frames: u32) -> AssetRef {
    AssetRef { id: AssetId(byte.repeat(32)), name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames }
}

async fn put(store: &Store, owner: &Account, asset: &AssetRef) {
    store.put_asset(owner.id, asset, Cursor::new(vec![0; asset.frames as usize * 4])).await.unwrap();
}

fn playing(asset: &AssetRef) -> Edit {
    let source = VoiceSource::OneShot { layers: vec![Layer::new(asset.id.clone())], hold: Hold::Whole };
    let voice = NewVoice { trim_db: 0.0, name: "Kick".into(), family: Family::Low, source, output: None, hits: vec![] };
    Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset.clone()] })
}

#[sqlx::test(migrations = false)]
async fn audio_is_kept_once_in_pieces_and_shared_by_address(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let bytes: Vec<u8> = (0..2_500_000_u32).map(|n| n as u8).collect();
    let asset = asset("ab", 625_000);
    store.put_asset(owner.id, &asset, Cursor::new(bytes.clone())).await.unwrap();
    assert_eq!(store.asset_chunks(owner.id, &asset.id).await.unwrap(), 3);
    assert_eq!(store.asset_bytes(owner.id, &asset.id).await.unwrap(), bytes);
    assert!(store.asset_bytes(other.id, &asset.id).await.is_err());
    assert!(store.assets(other.id, std::slice::from_ref(&asset.id)).await.unwrap().is_empty());
    store.put_asset(other.id, &asset, Cursor::new(bytes.clone())).await.unwrap();
    assert_eq!(store.asset_bytes(other.id, &asset.id).await.unwrap().len(), bytes.len());
    assert_eq!(store.assets(other.id, std::slice::from_ref(&asset.id)).await.unwrap()[&asset.id], asset);
    let count: i64 = sqlx::query_scalar("select count(*) from asset_chunks").fetch_one(store.pool()).await.unwrap();
    assert_eq!(count, 3);
}

/// Gives some bytes and then fails.
struct Breaks(u32);

impl Read for Breaks {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        self.0 = self.0.checked_sub(1).ok_or_else(|| io::Error::other("on purpose"))?;
        Ok(into.len().min(1000))
    }
}

#[sqlx::test(migrations = false)]
async fn audio_that_breaks_off_leaves_nothing_and_can_be_put_again(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let asset = asset("cd", 1000);
    assert!(store.put_asset(owner.id, &asset, Breaks(2)).await.is_err());
    assert!(store.put_asset(owner.id, &asset, Cursor::new(vec![0; 3999])).await.is_err(), "too short");
    assert!(matches!(store.asset_bytes(owner.id, &asset.id).await, Err(StoreError::NotFound { .. })));
    put(&store, &owner, &asset).await;
    assert_eq!(store.asset_bytes(owner.id, &asset.id).await.unwrap().len(), 4000);
}

#[sqlx::test(migrations = false)]
async fn holdings_count_each_piece_once(pool: PgPool) {
    let store = store(pool).await;
    let owner = account(&store, "a").await;
    let (one, two) = (asset("aa", 100), asset("bb", 50));
    for piece in [&one, &two, &one] {
        put(&store, &owner, piece).await;
    }
    let sound = LibrarySound { asset: two, name: "K".into(), family: Family::Low, peak_dbfs: 0.0, pitch_hz: None };
    store.keep_in_library(owner.id, &sound).await.unwrap();
    let held = store.holdings(owner.id).await.unwrap();
    assert_eq!((held.audio_bytes, held.library_bytes, held.render_bytes), (600, 200, 0));
}

/// What may still need a piece of audio.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Need {
    Session,
    Undo,
    Redo,
    Template,
    Library,
    Render,
    Touched,
    Nothing,
}

#[rstest]
#[case(Need::Session, true)]
#[case(Need::Undo, true)]
#[case(Need::Redo, true)]
#[case(Need::Template, true)]
#[case(Need::Library, true)]
#[case(Need::Render, true)]
#[case(Need::Touched, true)]
#[case(Need::Nothing, false)]
#[tokio::test]
async fn a_sweep_takes_only_what_nothing_needs(#[case] need: Need, #[case] stays: bool) {
    let pool = crate::common::database().await;
    let store = store(pool.clone()).await;
    let owner = account(&store, "a").await;
    let piece = asset("ab", 100);
    put(&store, &owner, &piece).await;
    let id = session(&store, &owner).await;
    if need != Need::Nothing && need != Need::Touched {
        edit(&store, owner.id, id, &playing(&piece)).await.unwrap();
    }
    let document = crate::common::document(&store, &owner, id).await;
    let gone = || async { walk(&store, owner.id, id, Way::Undo).await.map(|_| ()) };
    match need {
        Need::Session | Need::Nothing | Need::Touched => {}
        Need::Undo => {
            let voices = document.voices.iter().map(|v| v.id).collect();
            edit(&store, owner.id, id, &Edit::RemoveVoices(RemoveVoices { voices })).await.unwrap();
        }
        Need::Redo => gone().await.unwrap(),
        Need::Template => {
            let keeps = TemplateKeeps { audio: true, patterns: true, levels: true, chains: true };
            let kept = document.as_template(keeps);
            store.add_template(owner.id, &"Kit".into(), &"".into(), &kept).await.unwrap();
        }
        Need::Library => {
            let asset = piece.clone();
            let sound = LibrarySound { asset, name: "K".into(), family: Family::Low, peak_dbfs: 0.0, pitch_hz: None };
            store.keep_in_library(owner.id, &sound).await.unwrap();
        }
        Need::Render => {
            crate::common::queued(&store, &owner, id).await;
        }
    }
    if matches!(need, Need::Template | Need::Library | Need::Render) {
        // The session itself does not need it any more, nor its steps.
        gone().await.unwrap();
        edit(&store, owner.id, id, &voice("Other")).await.unwrap();
    }
    // Texts say nothing of it: what is needed is known by keys and columns.
    for texts in [
        "update pieces set body = '{}'",
        "update edits set there = '{}', back = '{}'",
        "update templates set document = '{}'",
        "update renders set document = '{}'",
    ] {
        sqlx::query(texts).execute(&pool).await.unwrap();
    }
    let grace = if need == Need::Touched { Duration::from_secs(3600) } else { Duration::ZERO };
    let swept = store.sweep(owner.id, grace).await.unwrap();
    assert_eq!((swept.disowned, swept.removed), if stays { (0, 0) } else { (1, 1) });
    assert_eq!(store.asset_bytes(owner.id, &piece.id).await.is_ok(), stays);
}

#[sqlx::test(migrations = false)]
async fn a_sweep_leaves_what_another_account_holds(pool: PgPool) {
    let store = store(pool).await;
    let (owner, other) = (account(&store, "a").await, account(&store, "b").await);
    let piece = asset("ab", 100);
    put(&store, &owner, &piece).await;
    put(&store, &other, &piece).await;
    let swept = store.sweep(owner.id, Duration::ZERO).await.unwrap();
    assert_eq!((swept.disowned, swept.removed), (1, 0));
    assert!(store.asset_bytes(owner.id, &piece.id).await.is_err());
    assert!(store.asset_bytes(other.id, &piece.id).await.is_ok());
    // Brought in again, it is there again.
    put(&store, &owner, &piece).await;
    assert!(store.asset_bytes(owner.id, &piece.id).await.is_ok());
}
