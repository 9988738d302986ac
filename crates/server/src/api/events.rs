//! Changes of a session as they happen, for other open pages (server-sent events).

use crate::app::App;
use crate::auth::SignedIn;
use crate::problem::Problem;
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use lane_store::{CHANGES, Store};
use sqlx::postgres::PgListener;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};
use uuid::Uuid;

/// Changes that a slow page may lag behind before it has to fetch anew, which it does on any event.
const BACKLOG: usize = 256;

/// Tells changes that any server on the database made.
#[derive(Clone)]
pub struct Changes(broadcast::Sender<(Uuid, i64)>);

impl Changes {
    /// Listens from now on, and again after the database was away.
    pub fn listen(store: &Store) -> Self {
        let (sender, _) = broadcast::channel(BACKLOG);
        let (changes, pool) = (Changes(sender.clone()), store.pool().clone());
        tokio::spawn(async move {
            loop {
                if let Err(error) = pass_on(&pool, &sender).await {
                    tracing::warn!(%error, "listening for changes was interrupted");
                }
                tokio::time::sleep(Duration::from_secs(1)).await;
            }
        });
        changes
    }
}

async fn pass_on(pool: &sqlx::PgPool, to: &broadcast::Sender<(Uuid, i64)>) -> Result<(), sqlx::Error> {
    let mut listener = PgListener::connect_with(pool).await?;
    listener.listen(CHANGES).await?;
    loop {
        let change = listener.recv().await?;
        let parsed = change.payload().split_once(' ').and_then(|(id, rev)| Some((id.parse().ok()?, rev.parse().ok()?)));
        if let Some(change) = parsed {
            // Nobody may be looking; that is no fault.
            let _ = to.send(change);
        }
    }
}

/// The newest revision of a session, each time there is one.
#[utoipa::path(get, path = "/api/sessions/{id}/events", responses((status = 200, content_type = "text/event-stream"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/events")]
pub async fn events(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<impl Responder, Problem> {
    let mut changes = app.changes.0.subscribe();
    let mut revision = app.store.session(account.id(), *id).await?.revision;
    let (sender, receiver) = mpsc::channel(8);
    let (store, account, id) = (app.store.clone(), account.id(), *id);
    tokio::spawn(async move {
        loop {
            let event = sse::Event::Data(sse::Data::new(revision.to_string()).event("revision"));
            if sender.send(event).await.is_err() {
                return;
            }
            revision = loop {
                tokio::select! {
                    () = sender.closed() => return,
                    change = changes.recv() => match change {
                        Ok((of, revision)) if of == id => break revision,
                        Ok(_) => {}
                        // Some were missed: ask where it stands.
                        Err(broadcast::error::RecvError::Lagged(_)) => match store.session(account, id).await {
                            Ok(session) => break session.revision,
                            Err(_) => return,
                        },
                        Err(broadcast::error::RecvError::Closed) => return,
                    },
                }
            };
        }
    });
    Ok(sse::Sse::from_infallible_receiver(receiver).with_keep_alive(Duration::from_secs(15)))
}
