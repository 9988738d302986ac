//! Signing up, in and out.

use crate::auth::{ACCOUNT_KEY, SignedIn, hash, is_address, password_fault, verify};
use crate::following::Told;
use crate::problem::Problem;
use crate::sign_in_limit::{SignInLimit, limited};
use crate::state::App;
use actix_session::Session as Cookie;
use actix_web::http::StatusCode;
use actix_web::middleware::from_fn;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use lane_store::{Account, Holdings};
use lane_wire::DemoAccount;
use lane_wire::{Credentials, HoldingsLine, Me};

fn sign_in_as(
    limit: &SignInLimit,
    request: &HttpRequest,
    cookie: &Cookie,
    account: &Account,
) -> Result<HttpResponse, Problem> {
    // A new key, so that one planted before signing in is worth nothing.
    cookie.renew();
    cookie.insert(ACCOUNT_KEY, account.id).map_err(Problem::internal)?;
    let known = limit.let_in(request, &account.email, account.id);
    Ok(HttpResponse::Ok().cookie(known).json(Me { id: account.id, email: account.email.clone() }))
}

/// Makes an account and signs in. Whether an address has an account is told (409): nobody can be asked by mail here.
#[utoipa::path(post, path = "/api/accounts", request_body = Credentials, responses((status = 200, body = Me), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/api/accounts", wrap = "from_fn(limited)")]
pub async fn sign_up(
    app: web::Data<App>,
    limit: web::Data<SignInLimit>,
    request: HttpRequest,
    cookie: Cookie,
    body: web::Json<Credentials>,
) -> Result<HttpResponse, Problem> {
    let Credentials { email, password } = body.into_inner();
    if !is_address(email.trim()) {
        return Err(Problem::unprocessable("The e-mail address must look like name@place."));
    }
    if let Some(fault) = password_fault(&password) {
        return Err(Problem::unprocessable(fault));
    }
    let account = app.store.add_account(&email, &hash(&app.hashing, password).await?).await?;
    sign_in_as(&limit, &request, &cookie, &account)
}

/// Signs in.
#[utoipa::path(post, path = "/api/login", request_body = Credentials, responses((status = 200, body = Me), (status = 401, body = Problem), (status = 429)))]
#[post("/api/login", wrap = "from_fn(limited)")]
pub async fn sign_in(
    app: web::Data<App>,
    limit: web::Data<SignInLimit>,
    request: HttpRequest,
    cookie: Cookie,
    body: web::Json<Credentials>,
) -> Result<HttpResponse, Problem> {
    let Credentials { email, password } = body.into_inner();
    // No account has an address that the database could not hold.
    let account = if email.contains(char::is_control) { None } else { app.store.account_by_email(&email).await? };
    limit.count_for(&request, &email, account.as_ref().map(|a| a.id))?;
    let fits = verify(&app.hashing, password, account.as_ref().map(|a| a.password_hash.clone())).await?;
    match account {
        Some(account) if fits => sign_in_as(&limit, &request, &cookie, &account),
        _ => Err(Problem::new(StatusCode::UNAUTHORIZED, "E-mail address and password do not fit. Check both.")),
    }
}

/// Signs out.
#[utoipa::path(post, path = "/api/logout", responses((status = 204)))]
#[post("/api/logout")]
pub async fn sign_out(app: web::Data<App>, cookie: Cookie) -> HttpResponse {
    // Pages that follow end with it; those of another browser come back by themselves.
    if let Ok(Some(account)) = cookie.get(ACCOUNT_KEY) {
        app.changes.tell(Told::SignedOut(account));
    }
    cookie.purge();
    HttpResponse::NoContent().finish()
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/me", responses((status = 200, body = Me), (status = 401, body = Problem)))]
#[get("/api/me")]
pub async fn me(account: SignedIn) -> web::Json<Me> {
    web::Json(Me { id: account.0.id, email: account.0.email })
}

/// The demo account, where this server has one.
#[utoipa::path(get, path = "/api/demo-account", responses((status = 200, body = DemoAccount), (status = 404, body = Problem)))]
#[get("/api/demo-account")]
pub async fn demo_account(app: web::Data<App>) -> Result<web::Json<DemoAccount>, Problem> {
    app.demo.map(web::Json).ok_or_else(|| Problem::new(StatusCode::NOT_FOUND, "This server has no demo account."))
}

/// What the account holds, and what it may.
#[utoipa::path(get, path = "/api/holdings", responses((status = 200, body = HoldingsLine), (status = 401, body = Problem)))]
#[get("/api/holdings")]
pub async fn holdings(app: web::Data<App>, account: SignedIn) -> Result<web::Json<HoldingsLine>, Problem> {
    let Holdings { audio_bytes, library_bytes, render_bytes, history_bytes } = app.store.holdings(account.id()).await?;
    Ok(web::Json(HoldingsLine {
        audio_bytes,
        library_bytes,
        render_bytes,
        history_bytes,
        quota_bytes: app.account_bytes,
    }))
}
