//! Accounts, cookies, origin.

mod address;
mod login_store;
mod origin;
mod password;

pub use address::is_address;
pub use login_store::LoginStore;
pub use origin::same_origin;
pub use password::{hash, password_fault, verify};

use crate::problem::Problem;
use crate::state::App;
use actix_session::SessionExt;
use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, web};
use lane_store::Account;
use std::future::Future;
use std::pin::Pin;
use uuid::Uuid;

/// What a cookie's state says.
pub const ACCOUNT_KEY: &str = "account";

/// The account that a request comes from; other requests are refused with 401.
pub struct SignedIn(pub Account);

impl SignedIn {
    pub fn id(&self) -> Uuid {
        self.0.id
    }
}

impl FromRequest for SignedIn {
    type Error = Problem;
    type Future = Pin<Box<dyn Future<Output = Result<Self, Problem>>>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let id = request.get_session().get::<Uuid>(ACCOUNT_KEY).ok().flatten();
        let app = request.app_data::<web::Data<App>>().cloned();
        Box::pin(async move {
            let (Some(id), Some(app)) = (id, app) else { return Err(Problem::signed_out()) };
            app.store.account(id).await?.map(SignedIn).ok_or_else(Problem::signed_out)
        })
    }
}
