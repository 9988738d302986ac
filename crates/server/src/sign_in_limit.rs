//! How often sign-ins and sign-ups may be tried: from one address, and for one account from whoever was not let in to it before,
//! so that guesses from many addresses get no more tries than guesses from one. Whoever was let in before, by browser or by
//! address, has tries apart, so that guesses keep nobody out of an account of their own.

use crate::problem::Problem;
use crate::tries::Tries;
use actix_web::body::MessageBody;
use actix_web::cookie::time::Duration as CookieDuration;
use actix_web::cookie::{Cookie, CookieJar, Key, SameSite};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::HeaderMap;
use actix_web::middleware::Next;
use actix_web::{Error, HttpRequest, web};
use moka::sync::Cache;
use std::collections::HashSet;
use std::net::{IpAddr, Ipv6Addr};
use std::num::NonZeroU32;
use std::sync::Arc;
use std::time::Duration;
use uuid::Uuid;

/// From one address, or of one that was let in before: this many at once, then one in so many seconds.
pub const BURST: NonZeroU32 = NonZeroU32::new(20).unwrap();
const SECONDS: u64 = 3;
/// For one account, from whoever was not let in before.
pub const GUESSES: NonZeroU32 = NonZeroU32::new(10).unwrap();
const GUESS_SECONDS: u64 = 60;
/// Addresses that were let in, and for how long they are remembered.
const LET_IN: u64 = 100_000;
const LET_IN_FOR: Duration = Duration::from_secs(90 * 86_400);
/// The cookie by which a browser is known again: not who is signed in, only who was.
const KNOWN: &str = "zealous-lane-known";
const KNOWN_DAYS: i64 = 365;
/// Accounts that one browser is known for.
const KNOWN_ACCOUNTS: usize = 8;

/// The limit, shared by all threads.
#[derive(Clone)]
pub struct SignInLimit(Arc<Limits>);

struct Limits {
    addresses: Tries<IpAddr>,
    accounts: Tries<String>,
    browsers: Tries<Uuid>,
    homes: Tries<(String, IpAddr)>,
    let_in: Cache<(String, IpAddr), ()>,
    key: Key,
    secure: bool,
    proxies: HashSet<IpAddr>,
}

/// A browser as it is known: an id of its own, and accounts that it was let in to.
#[derive(Debug, Clone, PartialEq, Eq)]
struct Browser {
    id: Uuid,
    accounts: Vec<Uuid>,
}

impl SignInLimit {
    /// Nobody has tried yet.
    ///
    /// * `key` – signs what browsers are known by.
    /// * `secure` – whether that is sent over HTTPS only.
    /// * `proxies` – whose word is taken for where a request comes from.
    pub fn new(key: Key, secure: bool, proxies: &[IpAddr]) -> Self {
        SignInLimit(Arc::new(Limits {
            addresses: Tries::new(SECONDS, BURST),
            accounts: Tries::new(GUESS_SECONDS, GUESSES),
            browsers: Tries::new(SECONDS, BURST),
            homes: Tries::new(SECONDS, BURST),
            let_in: Cache::builder().max_capacity(LET_IN).time_to_idle(LET_IN_FOR).build(),
            key,
            secure,
            proxies: proxies.iter().copied().collect(),
        }))
    }

    /// Counts a try from an address.
    ///
    /// # Errors
    /// A problem that says how long to wait.
    pub fn count(&self, from: IpAddr) -> Result<(), Problem> {
        self.0.addresses.count(&household(from)).map_err(|wait| {
            Problem::too_many(format!("Too many tries from this address. Try again in {wait} s."), wait)
        })
    }

    /// Counts a try to sign in to an account.
    ///
    /// * `email` – as it was typed, whether there is such an account or not.
    /// * `account` – the account, if there is one.
    ///
    /// # Errors
    /// A problem that says how long to wait.
    pub fn count_for(&self, request: &HttpRequest, email: &str, account: Option<Uuid>) -> Result<(), Problem> {
        let email = same(email);
        let home = self.origin(request.peer_addr().map(|a| a.ip()), request.headers()).map(household);
        let browser = self.browser(request);
        if let Some(browser) = browser.filter(|b| account.is_some_and(|a| b.accounts.contains(&a))) {
            return self.0.browsers.count(&browser.id).map_err(too_soon);
        }
        if let Some(home) = home.map(|home| (email.clone(), home)).filter(|home| self.0.let_in.contains_key(home)) {
            return self.0.homes.count(&home).map_err(too_soon);
        }
        self.0.accounts.count(&email).map_err(|wait| {
            let detail = format!(
                "Too many tries for this account from where nobody was let in to it before. Use a browser that was, or try again in {wait} s."
            );
            Problem::too_many(detail, wait)
        })
    }

    /// Remembers who was let in; gives the cookie by which the browser is known again.
    pub fn let_in(&self, request: &HttpRequest, email: &str, account: Uuid) -> Cookie<'static> {
        if let Some(from) = self.origin(request.peer_addr().map(|a| a.ip()), request.headers()) {
            self.0.let_in.insert((same(email), household(from)), ());
        }
        let Browser { id, accounts } =
            self.browser(request).unwrap_or_else(|| Browser { id: Uuid::new_v4(), accounts: Vec::new() });
        let others = accounts.into_iter().filter(|other| *other != account).take(KNOWN_ACCOUNTS - 1);
        let ids: Vec<String> = [id, account].into_iter().chain(others).map(|id| id.simple().to_string()).collect();
        let mut jar = CookieJar::new();
        jar.signed_mut(&self.0.key).add(Cookie::new(KNOWN, ids.join(".")));
        let signed = jar.get(KNOWN).map(|c| c.value().to_owned()).unwrap_or_default();
        Cookie::build(KNOWN, signed)
            .path("/api")
            .http_only(true)
            .same_site(SameSite::Strict)
            .secure(self.0.secure)
            .max_age(CookieDuration::days(KNOWN_DAYS))
            .finish()
    }

    fn browser(&self, request: &HttpRequest) -> Option<Browser> {
        let mut jar = CookieJar::new();
        jar.add_original(request.cookie(KNOWN)?);
        let known = jar.signed(&self.0.key).get(KNOWN)?;
        let mut ids = known.value().split('.').map(|id| id.parse().ok());
        Some(Browser { id: ids.next()??, accounts: ids.collect::<Option<_>>()? })
    }

    /// Where a request comes from: of those that proxies of ours pass on, the last address that is none of them.
    fn origin(&self, peer: Option<IpAddr>, headers: &HeaderMap) -> Option<IpAddr> {
        let proxies = &self.0.proxies;
        let peer = peer?;
        if !proxies.contains(&peer) {
            return Some(peer);
        }
        let lines: Vec<&str> = headers.get_all("x-forwarded-for").filter_map(|line| line.to_str().ok()).collect();
        let listed = lines.iter().flat_map(|line| line.split(',')).map(str::trim);
        let mut nearest = peer;
        for address in listed.rev() {
            let Ok(address) = address.parse() else { break };
            nearest = address;
            if !proxies.contains(&address) {
                break;
            }
        }
        Some(nearest)
    }
}

fn too_soon(wait: u32) -> Problem {
    Problem::too_many(format!("Too many tries. Try again in {wait} s."), wait)
}

/// An e-mail address as accounts are looked up by it.
fn same(email: &str) -> String {
    email.trim().to_lowercase()
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
    let from = limit.origin(request.peer_addr().map(|a| a.ip()), request.headers());
    limit.count(from.ok_or_else(|| Problem::bad_request("Nobody knows where this comes from."))?)?;
    next.call(request).await
}

#[cfg(test)]
mod tests {
    use super::*;
    use actix_web::test::TestRequest;
    use rstest::rstest;

    fn limit(proxies: &[&str]) -> SignInLimit {
        let proxies: Vec<IpAddr> = proxies.iter().map(|p| p.parse().unwrap()).collect();
        SignInLimit::new(Key::from(&[7; 64]), false, &proxies)
    }

    fn from(peer: &str) -> TestRequest {
        TestRequest::default().peer_addr(format!("{peer}:9").parse().unwrap())
    }

    #[rstest]
    #[case::straight(&[], "10.0.0.1", &[], "10.0.0.1")]
    #[case::a_header_of_nobody_in_particular(&[], "10.0.0.1", &["1.2.3.4"], "10.0.0.1")]
    #[case::through_a_proxy(&["10.0.0.1"], "10.0.0.1", &["1.2.3.4"], "1.2.3.4")]
    #[case::with_what_the_caller_made_up(&["10.0.0.1"], "10.0.0.1", &["6.6.6.6, 1.2.3.4"], "1.2.3.4")]
    #[case::through_two(&["10.0.0.1", "10.0.0.2"], "10.0.0.1", &["6.6.6.6", "1.2.3.4, 10.0.0.2"], "1.2.3.4")]
    #[case::nothing_said(&["10.0.0.1"], "10.0.0.1", &[], "10.0.0.1")]
    #[case::nonsense(&["10.0.0.1"], "10.0.0.1", &["1.2.3.4, unknown"], "10.0.0.1")]
    fn only_named_proxies_say_where_a_request_comes_from(
        #[case] proxies: &[&str],
        #[case] peer: &str,
        #[case] said: &[&str],
        #[case] origin: &str,
    ) {
        let mut request = from(peer);
        for line in said {
            request = request.append_header(("x-forwarded-for", *line));
        }
        let request = request.to_http_request();
        let found = limit(proxies).origin(request.peer_addr().map(|a| a.ip()), request.headers());
        assert_eq!(found, Some(origin.parse().unwrap()));
    }

    /// Guesses from as many addresses as there are.
    fn guess_until_refused(limit: &SignInLimit, account: Uuid) -> u32 {
        let mut tries = 0;
        while limit
            .count_for(
                &from(&format!("10.1.{}.{}", tries / 200, tries % 200)).to_http_request(),
                "a@b.invalid",
                Some(account),
            )
            .is_ok()
        {
            tries += 1;
            assert!(tries < 1000, "nobody is ever refused");
        }
        tries
    }

    #[test]
    fn guesses_from_many_addresses_get_no_more_tries() {
        let (limit, account) = (limit(&[]), Uuid::from_u128(1));
        assert_eq!(guess_until_refused(&limit, account), GUESSES.get());
        // Neither by another spelling, and whether there is such an account or not.
        let other = |email, account| limit.count_for(&from("10.2.0.1").to_http_request(), email, account);
        assert!(other(" A@B.invalid", Some(account)).is_err() && other("a@b.invalid", None).is_err());
        assert!(other("b@b.invalid", Some(Uuid::from_u128(2))).is_ok());
    }

    #[test]
    fn a_browser_and_an_address_that_were_let_in_before_still_get_in() {
        let (limit, account) = (limit(&[]), Uuid::from_u128(1));
        let known = limit.let_in(&from("10.9.0.1").to_http_request(), "a@b.invalid", account);
        guess_until_refused(&limit, account);
        let at_home = from("10.9.0.1").to_http_request();
        assert!(limit.count_for(&at_home, "A@b.invalid", Some(account)).is_ok());
        let travelling = from("10.9.9.9").cookie(known.clone()).to_http_request();
        assert!(limit.count_for(&travelling, "a@b.invalid", Some(account)).is_ok());
        // For that account alone, as signed, and not without end.
        assert!(limit.count_for(&from("10.9.9.9").to_http_request(), "a@b.invalid", Some(account)).is_err());
        let forged = Cookie::new(KNOWN, format!("x{}", known.value()));
        let forged = from("10.9.9.9").cookie(forged).to_http_request();
        assert!(limit.count_for(&forged, "a@b.invalid", Some(account)).is_err());
        let tries = (0..100).filter(|_| limit.count_for(&travelling, "a@b.invalid", Some(account)).is_ok()).count();
        assert!(tries < BURST.get() as usize, "{tries}");
    }

    #[test]
    fn a_browser_is_known_for_the_accounts_that_it_was_let_in_to_last() {
        let limit = limit(&[]);
        let mut known = None;
        for n in 1..=20 {
            let mut request = from("10.9.0.1");
            if let Some(cookie) = known.take() {
                request = request.cookie(cookie);
            }
            known = Some(limit.let_in(&request.to_http_request(), "a@b.invalid", Uuid::from_u128(n)));
        }
        let browser = limit.browser(&from("10.9.0.1").cookie(known.unwrap()).to_http_request()).unwrap();
        let last: Vec<Uuid> = (13..=20).rev().map(Uuid::from_u128).collect();
        assert_eq!(browser.accounts, last);
    }
}
