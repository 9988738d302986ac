//! What the store's tests share: an empty database each, accounts, sessions, changes.

use lane_document::edit::{
    AddPattern, AddProcessor, AddVoices, Edit, MoveVoice, NewBus, NewVoice, RemoveVoices, SetHits, SetStrips,
    StripChange,
};
use lane_document::session::{Family, Hit, Session, VoiceSource};
use lane_dsp::equaliser::Band;
use lane_dsp::{Equaliser, Settings};
use lane_store::documents::{prepare_edit, prepare_walk};
use lane_store::{Account, Claim, Done, NewRender, Step, Store, StoreError, Way};
use lane_units::{Name, StripId};
use sqlx::PgPool;
use std::time::Duration;
use uuid::Uuid;

pub async fn store(pool: PgPool) -> Store {
    let store = Store::on(pool);
    store.migrate().await.unwrap();
    store
}

pub async fn account(store: &Store, name: &str) -> Account {
    store.add_account(&format!("{name}@example.invalid"), "hash").await.unwrap()
}

pub async fn session(store: &Store, account: &Account) -> Uuid {
    store.add_session(account.id, &Session::new("Beat", 48_000)).await.unwrap()
}

pub fn voice(name: &str) -> Edit {
    let name = Name::new(name).unwrap();
    let voice =
        NewVoice { trim_db: 0.0, name, family: Family::Low, source: VoiceSource::Empty, output: None, hits: vec![] };
    Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![] })
}

/// The document as it stands.
pub async fn document(store: &Store, owner: &Account, id: Uuid) -> Session {
    store.session(owner.id, id).await.unwrap().read().unwrap().session
}

/// An edit, as a request makes it: looked at, computed, written.
pub async fn edit(store: &Store, owner: Uuid, id: Uuid, edit: &Edit) -> Result<Done, StoreError> {
    let kept = store.session(owner, id).await?;
    store.commit(owner, id, prepare_edit(&kept, Uuid::new_v4(), edit)?).await
}

/// Labels of what can be undone and done again, the next first.
pub async fn labels(store: &Store, id: Uuid) -> (Vec<String>, Vec<String>) {
    let names = |steps: Vec<Step>| steps.into_iter().map(|s| s.label).collect();
    let (undo, redo) = store.steps(id, 50, i64::MAX).await.unwrap();
    (names(undo), names(redo))
}

pub async fn walk(store: &Store, owner: Uuid, id: Uuid, way: Way) -> Result<Done, StoreError> {
    let kept = store.session(owner, id).await?;
    let step = store.next_step(id, way).await?.ok_or(StoreError::NothingTo("walk"))?;
    store.commit(owner, id, prepare_walk(&kept, Uuid::new_v4(), way, &step)?).await
}

/// A render in the queue.
pub async fn queued(store: &Store, owner: &Account, session: Uuid) -> Uuid {
    let kept = store.session(owner.id, session).await.unwrap();
    let read = kept.read().unwrap().session;
    let audio: Vec<String> = read.assets.iter().map(|asset| asset.id.0.clone()).collect();
    let document = serde_json::to_string(&read).unwrap();
    let (document, audio) = (document.as_str(), audio.as_slice());
    let new = NewRender { session, revision: kept.revision, document, audio, frames_total: 100, most_waiting: 50 };
    store.start_render(owner.id, &new).await.unwrap()
}

/// A worker's claim; silence for so long counts as death.
pub async fn claim(store: &Store, silence: Duration) -> Option<Claim> {
    store.claim_render(Uuid::new_v4(), Uuid::new_v4(), silence).await.unwrap()
}

/// Longer than any test.
pub const LONG: Duration = Duration::from_secs(600);

/// A database for tests that cannot be given one.
pub async fn database() -> PgPool {
    let url = std::env::var("DATABASE_URL").expect("DATABASE_URL is set by ./test");
    let admin = PgPool::connect(&url).await.unwrap();
    let name = format!("t{}", Uuid::new_v4().simple());
    sqlx::query(sqlx::AssertSqlSafe(format!("create database {name}"))).execute(&admin).await.unwrap();
    let (base, _) = url.rsplit_once('/').unwrap();
    PgPool::connect(&format!("{base}/{name}")).await.unwrap()
}

/// Numbers that are the same for the same seed.
pub struct Dice(pub u64);

impl Dice {
    pub fn roll(&mut self, sides: u64) -> u64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % sides
    }
}

pub fn fader(strip: StripId, db: f64) -> Edit {
    Edit::SetStrips(SetStrips { strips: vec![strip], change: StripChange::FaderDb(db) })
}

/// An edit that a document may or may not take.
pub fn any_edit(doc: &Session, dice: &mut Dice) -> Edit {
    let at = dice.roll(99) as usize;
    let Some(v) = doc.voices.get(at % doc.voices.len().max(1)) else { return voice("First") };
    let name = format!("New {}", dice.roll(1000));
    match dice.roll(9) {
        0 | 1 => voice(&name),
        2 => Edit::RemoveVoices(RemoveVoices { voices: vec![v.id] }),
        3 => Edit::MoveVoice(MoveVoice { voice: v.id, to: dice.roll(9) as u32 }),
        4 => {
            let hits = (0..dice.roll(4)).map(|at| Hit::new(240 * at as u32, 120, 100, 0)).collect();
            Edit::SetHits(SetHits { pattern: doc.patterns[0].id, voice: v.id, hits })
        }
        // Numbers whose shortest form is long.
        5 => fader(v.channel, -(dice.roll(1_000_000) as f64) / 30_011.0),
        6 => Edit::AddPattern(AddPattern { name: "B".into(), bars: 1, copy_of: Some(doc.patterns[0].id) }),
        7 => Edit::NewBus(NewBus { name: Name::new(&name).unwrap(), feeders: vec![v.channel] }),
        _ => {
            let settings = Settings::Equaliser(Equaliser { bands: vec![Band::default(); dice.roll(3) as usize] });
            Edit::AddProcessor(AddProcessor { strips: vec![v.channel], settings, key: None, at: None })
        }
    }
}
