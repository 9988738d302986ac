//! The program in process: its routes, its cookie, its worker, a database of its own.

use actix_web::body::{BoxBody, to_bytes};
use actix_web::cookie::Key;
use actix_web::dev::{Payload, ServiceResponse};
use actix_web::error::PayloadError;
use actix_web::http::{Method, StatusCode, header};
use actix_web::{App as ActixApp, middleware, test, web};
use futures_util::StreamExt;
use futures_util::stream::LocalBoxStream;
use lane_document::session::Layer;
use lane_server::app;
use lane_server::jobs;
use lane_server::sign_in_limit::SignInLimit;
use lane_server::state::{App, Bounds};
use lane_server::stopping::Stopping;
use lane_server::{api, auth, guard};
use lane_store::Store;
use lane_units::AssetId;
use serde_json::{Value, json};
use sqlx::{Executor, PgPool};
use std::borrow::Cow;
use std::time::Duration;
use tokio::sync::watch;

pub const PASSWORD: &str = "a password for tests";
pub const UPLOAD_BYTES: u64 = 4 << 20;
pub const ACCOUNT_BYTES: u64 = 30 << 20;

/// A route with a fault in it.
async fn panics() -> &'static str {
    panic!("on purpose")
}

/// Who calls, and from which page.
#[derive(Default, Clone)]
pub struct Caller {
    pub cookie: Option<String>,
    pub origin: Option<&'static str>,
    /// Its address, where that matters.
    pub peer: Option<&'static str>,
}

pub struct Answer {
    pub status: StatusCode,
    pub bytes: Vec<u8>,
    pub json: Value,
    /// What is to be kept as cookies.
    pub cookies: Vec<String>,
}

impl Answer {
    /// The cookies as a browser sends them again.
    pub fn kept(&self) -> String {
        self.cookies.iter().filter_map(|c| c.split(';').next()).collect::<Vec<_>>().join("; ")
    }
}

pub struct Place {
    pub app: App,
    limit: SignInLimit,
    key: Key,
    _stop: watch::Sender<bool>,
}

/// A database for tests that cannot be given one.
pub async fn empty_database() -> PgPool {
    let url = std::env::var("DATABASE_URL").expect("DATABASE_URL is set by ./test");
    let admin = PgPool::connect(&url).await.unwrap();
    let name = format!("t{}", uuid::Uuid::new_v4().simple());
    admin.execute(sqlx::AssertSqlSafe(format!("create database {name}"))).await.unwrap();
    let (base, _) = url.rsplit_once('/').unwrap();
    PgPool::connect(&format!("{base}/{name}")).await.unwrap()
}

/// A front end of two files.
fn pages(path: &str) -> Option<Cow<'static, [u8]>> {
    let file: &[u8] = match path {
        "index.html" => b"<!doctype html>",
        "assets/page-ab12.js" => b"let it;",
        _ => return None,
    };
    Some(Cow::Borrowed(file))
}

impl Place {
    pub async fn new(pool: PgPool) -> Self {
        let store = Store::on(pool);
        store.migrate().await.unwrap();
        Place::of(store)
    }

    /// On a store that need not answer.
    pub fn of(store: Store) -> Self {
        let bounds = Bounds { upload_bytes: UPLOAD_BYTES, account_bytes: ACCOUNT_BYTES, waiting_renders: 3 };
        let (stop, stopping) = Stopping::new();
        let app = App::new(store, None, bounds, &stopping);
        let key = Key::generate();
        Place { app, limit: SignInLimit::new(key.clone(), false, &[]), key, _stop: stop }
    }

    async fn answered(
        &self,
        caller: &Caller,
        request: test::TestRequest,
        payload: Option<Payload>,
    ) -> Result<ServiceResponse, actix_web::Error> {
        let service = test::init_service(
            ActixApp::new()
                .app_data(web::Data::new(self.app.clone()))
                .wrap(app::cookie(&self.app.store, self.key.clone(), false))
                .wrap(middleware::from_fn(api::whoever_asks))
                .wrap(middleware::from_fn(auth::same_origin))
                .wrap(middleware::from_fn(guard::answered))
                .service(web::resource("/api/panics").to(panics))
                .configure(|c| app::routes(c, &self.limit, pages)),
        )
        .await;
        let mut request = request
            .peer_addr(caller.peer.unwrap_or("127.0.0.1:9").parse().unwrap())
            .insert_header((header::HOST, "lane.invalid"));
        if let Some(cookie) = &caller.cookie {
            request = request.insert_header((header::COOKIE, cookie.clone()));
        }
        if let Some(origin) = caller.origin {
            request = request.insert_header((header::ORIGIN, origin));
        }
        let mut request = request.to_request();
        if let Some(payload) = payload {
            request = request.replace_payload(payload).0;
        }
        test::try_call_service(&service, request).await.map(ServiceResponse::map_into_boxed_body)
    }

    async fn request(&self, caller: &Caller, request: test::TestRequest) -> Answer {
        let (status, cookies, body) = match self.answered(caller, request, None).await {
            Ok(answer) => {
                let cookies = answer.headers().get_all(header::SET_COOKIE);
                let cookies = cookies.map(|c| c.to_str().unwrap().to_owned()).collect();
                (answer.status(), cookies, to_bytes(answer.into_body()).await.unwrap_or_default())
            }
            Err(error) => {
                let answer = error.error_response();
                (answer.status(), Vec::new(), to_bytes(answer.into_body()).await.unwrap_or_default())
            }
        };
        let bytes = body.to_vec();
        Answer { status, json: serde_json::from_slice(&bytes).unwrap_or(Value::Null), bytes, cookies }
    }

    pub async fn call(&self, caller: &Caller, method: Method, path: &str, body: Value) -> Answer {
        let request = test::TestRequest::default().method(method).uri(path);
        self.request(caller, if body.is_null() { request } else { request.set_json(body) }).await
    }

    /// Begins to be sent something: its status, and its body as far as somebody reads it.
    pub async fn begin(&self, caller: &Caller, path: &str) -> (StatusCode, BoxBody) {
        match self.answered(caller, test::TestRequest::get().uri(path), None).await {
            Ok(answer) => (answer.status(), answer.into_body()),
            Err(error) => (error.as_response_error().status_code(), BoxBody::new(())),
        }
    }

    /// Sends an edit whose body begins and never goes on.
    pub async fn stalled_edit(&self, caller: &Caller, session: &str) -> StatusCode {
        let request = test::TestRequest::post().uri(&format!("/api/sessions/{session}/edits"));
        let begins = futures_util::stream::once(async { Ok(web::Bytes::from_static(b"{\"id\":")) });
        let payload: LocalBoxStream<Result<web::Bytes, PayloadError>> =
            Box::pin(begins.chain(futures_util::stream::pending()));
        match self.answered(caller, request, Some(Payload::Stream { payload })).await {
            Ok(answer) => answer.status(),
            Err(error) => error.as_response_error().status_code(),
        }
    }

    pub async fn send(&self, caller: &Caller, method: Method, path: &str, body: Vec<u8>) -> Answer {
        self.request(caller, test::TestRequest::default().method(method).uri(path).set_payload(body)).await
    }

    pub async fn sign_in(&self, name: &str, password: &str) -> Answer {
        let body = json!({ "email": format!("{name}@example.invalid"), "password": password });
        self.call(&Caller::default(), Method::POST, "/api/login", body).await
    }

    pub async fn sign_up(&self, name: &str) -> Caller {
        let body = json!({ "email": format!("{name}@example.invalid"), "password": PASSWORD });
        let answer = self.call(&Caller::default(), Method::POST, "/api/accounts", body).await;
        assert_eq!(answer.status, StatusCode::OK, "{}", answer.json);
        Caller { cookie: Some(answer.kept()), ..Caller::default() }
    }

    pub async fn new_session(&self, caller: &Caller) -> String {
        let made =
            self.call(caller, Method::POST, "/api/sessions", json!({ "title": "Beat", "sample_rate": 48_000 })).await;
        made.json["id"].as_str().unwrap().to_owned()
    }

    pub async fn edit(&self, caller: &Caller, session: &str, base_revision: i64, edit: Value) -> Answer {
        self.edit_as(caller, session, base_revision, uuid::Uuid::new_v4(), edit).await
    }

    /// An edit under an id of its own.
    pub async fn edit_as(
        &self,
        caller: &Caller,
        session: &str,
        base_revision: i64,
        id: uuid::Uuid,
        edit: Value,
    ) -> Answer {
        let body = json!({ "id": id, "base_revision": base_revision, "edit": edit });
        self.call(caller, Method::POST, &format!("/api/sessions/{session}/edits"), body).await
    }

    pub async fn bring_in(&self, caller: &Caller, session: &str, name: &str, bytes: Vec<u8>) -> Answer {
        let coded: String = name.bytes().map(|b| format!("%{b:02X}")).collect();
        self.send(caller, Method::POST, &format!("/api/sessions/{session}/bring-in?name={coded}"), bytes).await
    }

    /// A worker that stops when what is given back is dropped.
    pub fn start_worker(&self) -> watch::Sender<bool> {
        let (stop, stopping) = Stopping::new();
        tokio::spawn(jobs::work(self.app.store.clone(), 1, jobs::days(7), stopping));
        stop
    }

    /// Asks until a render is neither queued nor running.
    pub async fn until_ended(&self, caller: &Caller, render: &str) -> Value {
        for _ in 0..600 {
            let line = self.call(caller, Method::GET, &format!("/api/renders/{render}"), Value::Null).await.json;
            if !matches!(line["status"].as_str(), Some("queued" | "running")) {
                return line;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("the render did not end within 30 s");
    }
}

/// A mono WAV file of a soft 100 Hz tone.
pub fn wav(frames: u32) -> Vec<u8> {
    let mut out = lane_files::wav::float_header(1, 48_000, u64::from(frames)).to_vec();
    for n in 0..frames {
        out.extend((0.3 * (f64::from(n) * 0.0131).sin() as f32).to_le_bytes());
    }
    out
}

/// The edit that adds a voice with one hit a bar.
pub fn one_shot(name: &str, asset: &Value) -> Value {
    json!({
        "kind": "add_voices",
        "assets": [asset],
        "voices": [{
            "name": name,
            "family": "low",
            "source": {
                "kind": "one_shot",
                "layers": [Layer::new(AssetId(asset["id"].as_str().unwrap().into()))],
                "hold": { "kind": "whole" }
            },
            "output": null,
            "hits": [{ "pattern": 3, "hits": [{ "at_ticks": 0, "length_ticks": 240, "velocity": 120, "tune_st": 0 }] }]
        }]
    })
}
