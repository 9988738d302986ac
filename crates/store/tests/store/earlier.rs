//! What an earlier program kept: a dump of its database, with what it let through.

use crate::common::{Dice, any_edit, edit, voice, walk};
use lane_document::edit::{AddPattern, Applied, apply};
use lane_document::session::{SCHEMA, Session};
use lane_store::documents::read_session;
use lane_store::{Read, Store, Way};
use sqlx::{Executor, PgPool};
use uuid::Uuid;

const EARLIER: &str = include_str!("../data/earlier.sql");
/// Of the last program that kept a document as one text: a session with a take, and edits, some of them undone.
const WHOLE: &str = include_str!("../data/whole_documents.sql");

/// Puts a dump into an empty database.
async fn load(pool: &PgPool, dump: &'static str) {
    // The dump empties the search path for its session, so it gets a connection that is thrown away.
    let mut connection = pool.acquire().await.unwrap().detach();
    connection.execute(dump).await.unwrap();
}

/// The database as it was, brought up to date.
async fn earlier(pool: PgPool) -> (Store, Uuid) {
    load(&pool, EARLIER).await;
    let store = Store::on(pool);
    store.migrate().await.unwrap();
    let owner = store.account_by_email("mixer@demo.invalid").await.unwrap().unwrap().id;
    (store, owner)
}

fn whole(session: &Session) {
    session.validate().unwrap();
    lane_document::routing::order(session).unwrap();
    assert_eq!(session.schema, SCHEMA);
}

#[sqlx::test(migrations = false)]
async fn every_session_opens_can_be_edited_undone_and_is_then_one_of_today(pool: PgPool) {
    let (store, owner) = earlier(pool).await;
    let lines = store.sessions(owner, 0, 100).await.unwrap();
    assert_eq!(lines.len(), 4);
    for line in lines {
        let kept = store.session(owner, line.id).await.unwrap();
        assert!(!kept.read().unwrap().as_stored);
        let Read { session: before, .. } = kept.read().unwrap();
        whole(&before);
        assert_eq!(line.voices as usize, before.voices.len());
        assert_eq!((line.tempo_bpm, line.audio_bytes as u64), (before.header.tempo_bpm.bpm(), before.audio_bytes()));
        edit(&store, owner, line.id, &voice("New")).await.unwrap();
        assert!(store.session(owner, line.id).await.unwrap().read().unwrap().as_stored);
        walk(&store, owner, line.id, Way::Undo).await.unwrap();
        let after = store.session(owner, line.id).await.unwrap().read().unwrap().session;
        whole(&after);
        assert_eq!((&after.voices, &after.strips, &after.parts), (&before.voices, &before.strips, &before.parts));
    }
}

#[sqlx::test(migrations = false)]
async fn all_steps_of_an_earlier_history_walk_back_and_forth(pool: PgPool) {
    let (store, owner) = earlier(pool).await;
    for line in store.sessions(owner, 0, 100).await.unwrap() {
        let now = store.session(owner, line.id).await.unwrap().read().unwrap().session;
        let mut back = 0;
        while walk(&store, owner, line.id, Way::Undo).await.is_ok() {
            back += 1;
            whole(&store.session(owner, line.id).await.unwrap().read().unwrap().session);
        }
        let (undo, redo) = store.steps(line.id, 50, i64::MAX).await.unwrap();
        assert!(undo.is_empty() && redo.len() >= back);
        for _ in 0..back {
            walk(&store, owner, line.id, Way::Redo).await.unwrap();
        }
        let again = store.session(owner, line.id).await.unwrap().read().unwrap().session;
        assert_eq!(Session { next_id: 0, ..again }, Session { next_id: 0, ..now });
    }
}

#[sqlx::test(migrations = false)]
async fn what_was_let_through_is_put_right_and_told(pool: PgPool) {
    let (store, owner) = earlier(pool).await;
    let lines = store.sessions(owner, 0, 100).await.unwrap();
    let harbour = lines.iter().find(|l| l.title.contains("harbour")).unwrap();
    let Read { session, remarks, .. } = store.session(owner, harbour.id).await.unwrap().read().unwrap();
    assert_eq!(session.header.title, "Old harbour");
    let names: Vec<&str> = session.strips.iter().map(|s| s.name.as_str()).collect();
    assert!(names.contains(&"Low end") && names.contains(&"L\u{f6}w tap") && names.contains(&"Tab bed"), "{names:?}");
    assert!(remarks.iter().any(|r| r.contains("U+202E")), "{remarks:?}");
    // More patterns than are allowed today stay, and none is added to them.
    assert!(session.patterns.len() > lane_document::session::limits::PATTERNS);
    let more = lane_document::edit::Edit::AddPattern(AddPattern { name: "More".into(), bars: 1, copy_of: None });
    assert!(edit(&store, owner, harbour.id, &more).await.unwrap_err().to_string().contains("at most"));

    let low = lines.iter().find(|l| l.title == "Low ids").unwrap();
    let Read { session, remarks, .. } = store.session(owner, low.id).await.unwrap().read().unwrap();
    assert!(session.next_id > 300);
    assert!(remarks.iter().any(|r| r.contains("ids that are in use")), "{remarks:?}");
}

#[sqlx::test(migrations = false)]
async fn templates_presets_and_waiting_renders_go_on(pool: PgPool) {
    let (store, owner) = earlier(pool).await;
    let templates = store.templates(owner).await.unwrap();
    for template in templates {
        let template = template.read().unwrap();
        assert_eq!(template.name, "Kept  template");
        whole(&template.document);
    }
    assert_eq!(store.presets(owner).await.unwrap()[0].name, "Odd preset");
    let mut taken = 0;
    while let Some(claim) = crate::common::claim(&store, crate::common::LONG).await {
        whole(&claim.session().unwrap());
        store.fail_render(claim.id, claim.attempt, "Seen.").await.unwrap();
        taken += 1;
    }
    assert_eq!(taken, 2);
}

#[sqlx::test(migrations = false)]
async fn documents_that_were_one_text_are_the_same_as_pieces_with_their_history(pool: PgPool) {
    load(&pool, WHOLE).await;
    let (id, text): (Uuid, String) =
        sqlx::query_as("select id, document::text from sessions").fetch_one(&pool).await.unwrap();
    let was = read_session(&text).unwrap().0;
    let store = Store::on(pool.clone());
    store.migrate().await.unwrap();
    let owner = store.account_by_email("mixer@demo.invalid").await.unwrap().unwrap().id;
    let kept = store.session(owner, id).await.unwrap();
    let read = kept.read().unwrap();
    assert!(read.as_stored, "it is one of today, so that its first change writes what that changes");
    assert_eq!((kept.revision, read.session), (13, was.clone()));

    // All the way back, all the way again, each time as rows have it.
    let mut trail = vec![was];
    while walk(&store, owner, id, Way::Undo).await.is_ok() {
        trail.push(Store::on(pool.clone()).session(owner, id).await.unwrap().read().unwrap().session);
    }
    assert_eq!(trail.len(), 9);
    assert!(trail.last().unwrap().takes.is_empty());
    for before in trail.iter().rev().skip(1) {
        walk(&store, owner, id, Way::Redo).await.unwrap();
        let now = Store::on(pool.clone()).session(owner, id).await.unwrap().read().unwrap().session;
        assert_eq!(Session { next_id: 0, ..now }, Session { next_id: 0, ..before.clone() });
    }
    edit(&store, owner, id, &voice("New")).await.unwrap();
    whole(&store.session(owner, id).await.unwrap().read().unwrap().session);
}

/// Any document with any history, as the last program kept them, comes through with all its steps.
#[sqlx::test(migrations = false)]
async fn any_document_that_was_one_text_comes_through_with_its_steps(pool: PgPool) {
    load(&pool, WHOLE).await;
    let mut kept = Vec::new();
    for seed in 1..=12 {
        let (id, mut dice) = (Uuid::new_v4(), Dice(seed));
        let mut trail = vec![Session::new("Any", 48_000)];
        let mut steps: Vec<Applied> = Vec::new();
        for _ in 0..40 {
            let mut next = trail.last().unwrap().clone();
            let edit = any_edit(&next, &mut dice);
            if let Ok(step) = apply(&mut next, &edit) {
                trail.push(next);
                steps.push(step);
            }
        }
        let text = serde_json::to_string(trail.last().unwrap()).unwrap();
        sqlx::query(
            "insert into sessions (id, account_id, title, document) select $1, a.id, 'Any', $2::json from accounts a",
        )
        .bind(id)
        .bind(text)
        .execute(&pool)
        .await
        .unwrap();
        for (at, step) in steps.iter().enumerate() {
            sqlx::query(
                "insert into edits (session_id, position, label, there, back) values ($1, $2, $3, $4::json, $5::json)",
            )
            .bind(id)
            .bind(at as i64 + 1)
            .bind(&step.label)
            .bind(serde_json::to_string(&step.there).unwrap())
            .bind(serde_json::to_string(&step.back).unwrap())
            .execute(&pool)
            .await
            .unwrap();
        }
        kept.push((id, trail));
    }
    let store = Store::on(pool);
    store.migrate().await.unwrap();
    let owner = store.account_by_email("mixer@demo.invalid").await.unwrap().unwrap().id;
    for (id, trail) in kept {
        assert!(trail.len() > 20);
        assert_eq!(store.session(owner, id).await.unwrap().read().unwrap().session, *trail.last().unwrap());
        for before in trail.iter().rev().skip(1) {
            walk(&store, owner, id, Way::Undo).await.unwrap();
            let now = store.session(owner, id).await.unwrap().read().unwrap().session;
            assert_eq!(Session { next_id: 0, ..now }, Session { next_id: 0, ..before.clone() });
        }
    }
}
