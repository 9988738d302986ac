//! How often sign-ins and sign-ups may be tried from one address.

use crate::problem::Problem;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use actix_web::{Error, web};
use governor::clock::{Clock, DefaultClock};
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use std::net::{IpAddr, Ipv6Addr};
use std::num::NonZeroU32;
use std::sync::Arc;
use std::time::Duration;

/// This many at once, then one in so many seconds.
pub const BURST: NonZeroU32 = NonZeroU32::new(20).unwrap();
const SECONDS: u64 = 3;
/// Addresses remembered before those that are quiet again are forgotten.
const ADDRESSES: usize = 10_000;

/// The limit, shared by all threads.
#[derive(Clone)]
pub struct SignInLimit(Arc<DefaultKeyedRateLimiter<IpAddr>>);

impl SignInLimit {
    /// Nobody has tried yet.
    pub fn new() -> Self {
        let quota = Quota::with_period(Duration::from_secs(SECONDS)).expect("the time is not zero");
        SignInLimit(Arc::new(RateLimiter::keyed(quota.allow_burst(BURST))))
    }

    /// Counts a try.
    ///
    /// # Errors
    /// A problem that says how long to wait.
    pub fn count(&self, from: IpAddr) -> Result<(), Problem> {
        if self.0.len() > ADDRESSES {
            self.0.retain_recent();
        }
        self.0.check_key(&household(from)).map_err(|until| {
            let wait = until.wait_time_from(DefaultClock::default().now()).as_secs() as u32 + 1;
            Problem::too_many(format!("Too many tries from this address. Try again in {wait} s."), wait)
        })
    }
}

impl Default for SignInLimit {
    fn default() -> Self {
        Self::new()
    }
}

/// Of version 6, one household has all addresses that share their first half.
fn household(address: IpAddr) -> IpAddr {
    match address {
        IpAddr::V4(_) => address,
        IpAddr::V6(address) => {
            let [a, b, c, d, ..] = address.segments();
            IpAddr::V6(Ipv6Addr::new(a, b, c, d, 0, 0, 0, 0))
        }
    }
}

/// Lets a request through, or answers that there were too many.
///
/// # Errors
/// See [`SignInLimit`]; 400 where the address is not known.
pub async fn limited(
    limit: web::Data<SignInLimit>,
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    let from = request.peer_addr().ok_or_else(|| Problem::bad_request("Nobody knows where this comes from."))?;
    limit.count(from.ip())?;
    next.call(request).await
}
