//! The table of routes, and the server around it.

use crate::api;
use crate::auth::{self, LoginStore};
use crate::config::ServeArgs;
use crate::frontend::{self, Pages};
use crate::guard;
use crate::jobs;
use crate::problem::Problem;
use crate::seed;
use crate::sign_in_limit::SignInLimit;
use crate::state::{App, Bounds};
use crate::stopping::{Pauses, Stopping};
use actix_session::SessionMiddleware;
use actix_session::config::PersistentSession;
use actix_web::cookie::time::Duration;
use actix_web::cookie::{Key, SameSite};
use actix_web::dev::ServerHandle;
use actix_web::error::JsonPayloadError;
use actix_web::http::{StatusCode, header};
use actix_web::{App as ActixApp, HttpServer, middleware, web};
use anyhow::Context;
use lane_store::Store;
use lane_wire::DemoAccount;
use std::time::Duration as StdDuration;
use tracing_actix_web::TracingLogger;

/// How long a sign-in lasts without a visit.
const LOGIN_DAYS: i64 = 30;
/// Bytes of a JSON body other than an edit: a chain of presets is the largest.
const JSON_BYTES: usize = 1 << 20;
/// Connections of requests; workers have their own.
const CONNECTIONS: u32 = 12;
/// How long requests that go on are waited for when the program stops.
const STOP_SECONDS: u64 = 4;

/// The cookie. Its key is random and its state lies in the store, so the signing key guards nothing that
/// must outlast a restart; it is derived from the store's address so that several servers agree on it.
pub fn cookie(store: &Store, key: Key, secure: bool) -> SessionMiddleware<LoginStore> {
    SessionMiddleware::builder(LoginStore(store.clone()), key)
        .cookie_name("zealous-lane".into())
        .cookie_http_only(true)
        .cookie_same_site(SameSite::Lax)
        .cookie_secure(secure)
        .session_lifecycle(PersistentSession::default().session_ttl(Duration::days(LOGIN_DAYS)))
        .build()
}

/// What is wrong with a JSON body: a value that is not allowed is another fault than no JSON at all.
fn json_problem(error: &JsonPayloadError) -> Problem {
    let detail = format!("The request cannot be read: {error}.");
    match error {
        JsonPayloadError::Overflow { .. } | JsonPayloadError::OverflowKnownLength { .. } => {
            Problem::new(StatusCode::PAYLOAD_TOO_LARGE, detail)
        }
        JsonPayloadError::Deserialize(fault) if fault.is_data() => Problem::unprocessable(detail),
        _ => Problem::bad_request(detail),
    }
}

/// All routes.
pub fn routes(config: &mut web::ServiceConfig, limit: &SignInLimit, pages: Pages) {
    let json = web::JsonConfig::default().limit(JSON_BYTES).error_handler(|error, _| json_problem(&error).into());
    config
        .app_data(json)
        .app_data(web::Data::new(limit.clone()))
        .app_data(web::Data::new(pages))
        .app_data(web::QueryConfig::default().error_handler(|error, _| {
            Problem::bad_request(format!("The address cannot be understood: {error}.")).into()
        }))
        .app_data(web::PathConfig::default().error_handler(|_, _| {
            Problem::new(actix_web::http::StatusCode::NOT_FOUND, "There is nothing at this address.").into()
        }))
        .configure(api::services)
        .default_service(web::get().to(frontend::page).wrap(middleware::Compress::default()));
}

fn signing_key(database_url: &str) -> Key {
    Key::derive_from(&[database_url.as_bytes(), &[0; 32]].concat())
}

/// Makes the demo account as soon as the database is there.
async fn seed_when_ready(app: &App, demo: DemoAccount, stopping: &Stopping) -> anyhow::Result<()> {
    let mut pauses = Pauses::default();
    while !stopping.told() {
        match seed::seed(app, demo).await {
            Ok(()) => return Ok(()),
            Err(problem) if problem.status == StatusCode::SERVICE_UNAVAILABLE => stopping.pause(pauses.grow()).await,
            Err(problem) => anyhow::bail!("the demo sessions cannot be made: {problem}"),
        }
    }
    Ok(())
}

/// Tells figures for those who run the program on an address of their own.
fn figures(app: &App, listen: &str) -> anyhow::Result<ServerHandle> {
    let app = app.clone();
    let server = HttpServer::new(move || ActixApp::new().app_data(web::Data::new(app.clone())).service(api::metrics))
        .workers(1)
        .disable_signals()
        .bind(listen)
        .with_context(|| format!("cannot listen on {listen} for figures; is another program there?"))?;
    tracing::info!(address = %server.addrs()[0], "figures");
    let running = server.run();
    let handle = running.handle();
    tokio::spawn(running);
    Ok(handle)
}

/// Serves until stopped. A database that is away ends nothing: what needs it is answered with 503 until it is back.
pub async fn serve(args: ServeArgs, demo: Option<DemoAccount>, pages: Pages) -> anyhow::Result<()> {
    let url = args.database.url()?;
    let store = Store::connect(url, CONNECTIONS).context("the database's address cannot be understood")?;
    let stopping = Stopping::by_signal()?;
    let bounds = Bounds {
        upload_bytes: args.upload_mib << 20,
        account_bytes: args.account_gib << 30,
        waiting_renders: i64::from(args.waiting_renders),
    };
    let app = App::new(store.clone(), demo, bounds, &stopping);
    let (key, secure) = (signing_key(url), args.secure_cookies);
    let limit = SignInLimit::new(key.clone(), secure, &args.proxies);
    let shared = app.clone();
    let server = HttpServer::new(move || {
        ActixApp::new()
            .app_data(web::Data::new(shared.clone()))
            .wrap(cookie(&shared.store, key.clone(), secure))
            .wrap(middleware::from_fn(api::whoever_asks))
            .wrap(middleware::from_fn(auth::same_origin))
            .wrap(middleware::from_fn(guard::answered))
            .wrap(middleware::Condition::new(
                secure,
                middleware::DefaultHeaders::new().add((header::STRICT_TRANSPORT_SECURITY, "max-age=31536000")),
            ))
            .wrap(
                middleware::DefaultHeaders::new()
                    // Pages know by it that nothing on the way answers in our place.
                    .add(("x-zealous-lane", "1"))
                    .add(("x-content-type-options", "nosniff"))
                    .add(("referrer-policy", "same-origin"))
                    .add((
                        "content-security-policy",
                        "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; \
                         img-src 'self' data:; frame-ancestors 'none'; base-uri 'self'; form-action 'self'",
                    )),
            )
            .wrap(TracingLogger::default())
            .configure(|c| routes(c, &limit, pages))
    })
    .workers(4)
    .disable_signals()
    .shutdown_timeout(STOP_SECONDS)
    .bind(&args.listen)
    .with_context(|| format!("cannot listen on {}; is another program there?", args.listen))?;
    let figures = args.metrics_listen.as_deref().map(|listen| figures(&app, listen)).transpose()?;
    let address = server.addrs()[0];
    let running = server.run();
    let handle = running.handle();
    let serving = tokio::spawn(running);
    tracing::info!(%address, "serving");
    if demo.is_none() {
        println!("http://{address}");
    }
    jobs::prepare(&store, &stopping).await?;
    if let Some(demo) = demo {
        seed_when_ready(&app, demo, &stopping).await?;
        println!("http://{address}");
    }
    let work = if args.no_worker {
        None
    } else {
        let (store, at_a_time) = (jobs::connect(&args.database)?, args.database.renders_at_a_time);
        Some(tokio::spawn(jobs::work(store, at_a_time, jobs::days(args.database.sweep_days), stopping.clone())))
    };
    stopping.wait().await;
    if let Some(figures) = figures {
        figures.stop(false).await;
    }
    // Streams have been told and end by themselves; the rest has a few seconds.
    handle.stop(true).await;
    if let Some(work) = work {
        let _ = tokio::time::timeout(StdDuration::from_secs(STOP_SECONDS), work).await;
    }
    serving.await?.context("serving failed")
}
