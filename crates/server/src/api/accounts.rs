//! Signing up, in and out.

use super::types::{Credentials, Me};
use crate::app::App;
use crate::auth::{ACCOUNT_KEY, MIN_PASSWORD_CHARS, SignedIn, hash, verify};
use crate::problem::Problem;
use crate::seed::DemoAccount;
use actix_session::Session as Cookie;
use actix_web::http::StatusCode;
use actix_web::{HttpResponse, get, post, web};
use lane_store::Account;

fn sign_in_as(cookie: &Cookie, account: &Account) -> Result<HttpResponse, Problem> {
    // A new key, so that one planted before signing in is worth nothing.
    cookie.renew();
    cookie.insert(ACCOUNT_KEY, account.id).map_err(Problem::internal)?;
    Ok(HttpResponse::Ok().json(Me { email: account.email.clone() }))
}

/// Makes an account and signs in.
#[utoipa::path(post, path = "/api/accounts", request_body = Credentials, responses((status = 200, body = Me), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("")]
pub async fn sign_up(
    app: web::Data<App>,
    cookie: Cookie,
    body: web::Json<Credentials>,
) -> Result<HttpResponse, Problem> {
    let Credentials { email, password } = body.into_inner();
    let (name, host) = email.trim().split_once('@').unwrap_or_default();
    if name.is_empty() || host.is_empty() || email.len() > 254 || email.contains(char::is_whitespace) {
        return Err(Problem::unprocessable("The e-mail address must look like name@place."));
    }
    if password.chars().count() < MIN_PASSWORD_CHARS || password.len() > 1024 {
        return Err(Problem::unprocessable(format!("The password must have {MIN_PASSWORD_CHARS} to 1024 characters.")));
    }
    let account = app.store.add_account(&email, &hash(password).await?).await?;
    sign_in_as(&cookie, &account)
}

/// Signs in.
#[utoipa::path(post, path = "/api/login", request_body = Credentials, responses((status = 200, body = Me), (status = 401, body = Problem), (status = 429)))]
#[post("")]
pub async fn sign_in(
    app: web::Data<App>,
    cookie: Cookie,
    body: web::Json<Credentials>,
) -> Result<HttpResponse, Problem> {
    let Credentials { email, password } = body.into_inner();
    let account = app.store.account_by_email(&email).await?;
    let fits = verify(password, account.as_ref().map(|a| a.password_hash.clone())).await?;
    match account {
        Some(account) if fits => sign_in_as(&cookie, &account),
        _ => Err(Problem::new(StatusCode::UNAUTHORIZED, "E-mail address and password do not fit. Check both.")),
    }
}

/// Signs out.
#[utoipa::path(post, path = "/api/logout", responses((status = 204)))]
#[post("/api/logout")]
pub async fn sign_out(cookie: Cookie) -> HttpResponse {
    cookie.purge();
    HttpResponse::NoContent().finish()
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/me", responses((status = 200, body = Me), (status = 401, body = Problem)))]
#[get("/api/me")]
pub async fn me(account: SignedIn) -> web::Json<Me> {
    web::Json(Me { email: account.0.email })
}

/// The demo account, where this server has one.
#[utoipa::path(get, path = "/api/demo-account", responses((status = 200, body = DemoAccount), (status = 404, body = Problem)))]
#[get("/api/demo-account")]
pub async fn demo_account(app: web::Data<App>) -> Result<web::Json<DemoAccount>, Problem> {
    app.demo.map(web::Json).ok_or_else(|| Problem::new(StatusCode::NOT_FOUND, "This server has no demo account."))
}
