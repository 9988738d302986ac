//! Changes of a session as they happen, for other open pages (server-sent events).

use crate::auth::SignedIn;
use crate::following::Told;
use crate::problem::Problem;
use crate::state::{App, FOLLOWERS};
use actix_web::{Responder, get, web};
use actix_web_lab::sse;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc};
use tokio::time::Instant;
use uuid::Uuid;

/// How often a page that follows is told where the session stands, so that it knows that it is still told.
const BEATS: Duration = Duration::from_secs(20);
/// At every so many of them it is asked of the database: another server may have changed or removed it.
const LOOKS: u32 = 3;

fn event(name: &'static str, data: String) -> sse::Event {
    sse::Event::Data(sse::Data::new(data).event(name))
}

/// The newest revision of a session, each time there is one, as `revision`; `closing` when the server stops.
#[utoipa::path(get, path = "/api/sessions/{id}/events", responses((status = 200, content_type = "text/event-stream"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/events")]
pub async fn events(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<impl Responder, Problem> {
    let place = app.followers.at_once(account.id()).ok_or_else(|| {
        let detail = format!("{FOLLOWERS} pages of this account follow sessions already. Close one.");
        Problem::too_many(detail, 10)
    })?;
    let mut told = app.changes.subscribe();
    let stopping = app.changes.stopping();
    let mut revision = app.store.revision(account.id(), *id).await?;
    let (sender, receiver) = mpsc::channel(8);
    let (store, account, id) = (app.store.clone(), account.id(), *id);
    tokio::spawn(async move {
        let _place = place;
        let mut beats = tokio::time::interval_at(Instant::now() + BEATS, BEATS);
        let mut beat = 0_u32;
        loop {
            if sender.send(event("revision", revision.to_string())).await.is_err() {
                return;
            }
            revision = loop {
                tokio::select! {
                    () = sender.closed() => return,
                    () = stopping.wait() => {
                        let _ = sender.send(event("closing", String::new())).await;
                        return;
                    }
                    change = told.recv() => match change {
                        Ok(Told::Changed(of, revision)) if of == id => break revision,
                        Ok(Told::Removed(of)) if of == id => return,
                        Ok(Told::SignedOut(of)) if of == account => return,
                        Ok(Told::Changed(..) | Told::Removed(_) | Told::SignedOut(_)) => {}
                        // Some were missed: ask where it stands.
                        Ok(Told::Missed) | Err(broadcast::error::RecvError::Lagged(_)) => {
                            match store.revision(account, id).await {
                                Ok(revision) => break revision,
                                Err(error) if error.is_outage() => {}
                                Err(_) => return,
                            }
                        }
                        Err(broadcast::error::RecvError::Closed) => return,
                    },
                    _ = beats.tick() => {
                        beat = (beat + 1) % LOOKS;
                        if beat != 0 {
                            break revision;
                        }
                        match store.revision(account, id).await {
                            Ok(now) => break now,
                            Err(error) if error.is_outage() => {}
                            Err(_) => return,
                        }
                    }
                }
            };
        }
    });
    Ok(sse::Sse::from_infallible_receiver(receiver).with_keep_alive(Duration::from_secs(15)))
}
