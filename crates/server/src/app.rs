//! What requests share, and the table of routes.

use crate::api;
use crate::auth::{self, LoginStore};
use crate::config::ServeArgs;
use crate::frontend;
use crate::jobs::{self, Queue};
use crate::problem::Problem;
use crate::seed::{self, DemoAccount};
use actix_governor::governor::middleware::NoOpMiddleware;
use actix_governor::{Governor, GovernorConfig, GovernorConfigBuilder, PeerIpKeyExtractor};
use actix_session::SessionMiddleware;
use actix_session::config::PersistentSession;
use actix_web::cookie::time::Duration;
use actix_web::cookie::{Key, SameSite};
use actix_web::{App as ActixApp, HttpServer, middleware, web};
use anyhow::Context;
use lane_store::Store;
use tracing_actix_web::TracingLogger;

/// How long a sign-in lasts without a visit.
const LOGIN_DAYS: i64 = 30;
/// Sign-ins and sign-ups from one address: this many at once, then one in [`SIGN_IN_SECONDS`].
const SIGN_IN_BURST: u32 = 20;
const SIGN_IN_SECONDS: u64 = 3;
/// Bytes of an edit or another JSON body.
const JSON_BYTES: usize = 16 << 20;

/// What requests share.
#[derive(Clone)]
pub struct App {
    pub store: Store,
    pub queue: Queue,
    pub changes: api::events::Changes,
    pub demo: Option<DemoAccount>,
    pub upload_bytes: u64,
}

/// The limit on sign-ins, shared by all threads.
pub type SignInLimit = GovernorConfig<PeerIpKeyExtractor, NoOpMiddleware>;

pub fn sign_in_limit() -> SignInLimit {
    GovernorConfigBuilder::default()
        .seconds_per_request(SIGN_IN_SECONDS)
        .burst_size(SIGN_IN_BURST)
        .finish()
        .expect("the limit's figures are not zero")
}

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

/// All routes.
pub fn routes(config: &mut web::ServiceConfig, limit: &SignInLimit) {
    let json = web::JsonConfig::default()
        .limit(JSON_BYTES)
        .error_handler(|error, _| Problem::bad_request(format!("The request cannot be read: {error}.")).into());
    config
        .app_data(json)
        .app_data(web::PathConfig::default().error_handler(|_, _| {
            Problem::new(actix_web::http::StatusCode::NOT_FOUND, "There is nothing at this address.").into()
        }))
        .service(web::scope("/api/accounts").wrap(Governor::new(limit)).service(api::accounts::sign_up))
        .service(web::scope("/api/login").wrap(Governor::new(limit)).service(api::accounts::sign_in))
        .service(api::accounts::sign_out)
        .service(api::accounts::me)
        .service(api::accounts::demo_account)
        .service(api::sessions::list)
        .service(api::sessions::create)
        .service(api::sessions::open)
        .service(api::sessions::remove)
        .service(api::sessions::edit)
        .service(api::sessions::undo)
        .service(api::sessions::redo)
        .service(api::events::events)
        .service(api::bring_in::bring_in)
        .service(api::bring_in::take_sounds)
        .service(api::library::search)
        .service(api::library::house)
        .service(api::library::remove)
        .service(api::library::use_sound)
        .service(api::listening::tuning)
        .service(api::listening::loop_cuts)
        .service(api::listening::midi)
        .service(api::presets::list)
        .service(api::presets::create)
        .service(api::presets::change)
        .service(api::presets::remove)
        .service(api::templates::list)
        .service(api::templates::open)
        .service(api::templates::create)
        .service(api::templates::change)
        .service(api::templates::remove)
        .service(api::templates::start)
        .service(api::templates::export)
        .service(api::templates::import)
        .service(api::folders::export)
        .service(api::folders::import)
        .service(api::assets::pcm)
        .service(api::renders::start)
        .service(api::renders::list)
        .service(api::renders::one)
        .service(api::renders::cancel)
        .service(api::renders::whole)
        .service(api::renders::single)
        .service(api::health::healthz)
        .service(api::health::readyz)
        .service(api::health::metrics)
        .service(api::openapi::interface)
        .service(api::openapi::session_schema)
        .route("/api/{rest:.*}", web::to(api::unknown))
        .default_service(web::get().to(frontend::page).wrap(middleware::Compress::default()));
}

fn signing_key(database_url: &str) -> Key {
    Key::derive_from(&[database_url.as_bytes(), &[0; 32]].concat())
}

/// Serves until stopped.
pub async fn serve(args: ServeArgs, demo: Option<DemoAccount>) -> anyhow::Result<()> {
    let store = jobs::connect(args.database.url()?).await?;
    if let Some(demo) = demo {
        seed::seed(&store, demo).await.map_err(|e| anyhow::anyhow!("{e}"))?;
    }
    let app = App {
        queue: Queue::new(&store),
        changes: api::events::Changes::listen(&store),
        demo,
        upload_bytes: args.upload_mib << 20,
        store: store.clone(),
    };
    let (limit, key) = (sign_in_limit(), signing_key(args.database.url()?));
    let secure = args.secure_cookies;
    let server = HttpServer::new(move || {
        ActixApp::new()
            .app_data(web::Data::new(app.clone()))
            .wrap(cookie(&app.store, key.clone(), secure))
            .wrap(middleware::from_fn(auth::same_origin))
            .wrap(
                middleware::DefaultHeaders::new()
                    .add(("x-content-type-options", "nosniff"))
                    .add(("referrer-policy", "same-origin"))
                    .add((
                        "content-security-policy",
                        "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; \
                         img-src 'self' data:; frame-ancestors 'none'; base-uri 'self'; form-action 'self'",
                    )),
            )
            .wrap(TracingLogger::default())
            .configure(|c| routes(c, &limit))
    })
    .workers(4)
    .shutdown_timeout(5)
    .bind(&args.listen)
    .with_context(|| format!("cannot listen on {}; is another program there?", args.listen))?;
    let address = server.addrs()[0];
    let running = server.run();
    tracing::info!(%address, "serving");
    println!("http://{address}");
    if args.no_worker {
        running.await?;
        return Ok(());
    }
    let work = jobs::work(store, args.database.renders_at_a_time, std::future::pending());
    tokio::select! {
        served = running => served?,
        worked = work => worked?,
    }
    Ok(())
}
