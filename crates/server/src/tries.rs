//! How often something may be tried.

use governor::clock::{Clock, DefaultClock};
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use std::hash::Hash;
use std::num::NonZeroU32;
use std::time::Duration;

/// Keys remembered before those that are quiet again are forgotten.
const KEYS: usize = 10_000;

/// Tries that are counted by a key: so many at once, then one in so many seconds.
pub struct Tries<K: Hash + Eq + Clone>(DefaultKeyedRateLimiter<K>);

impl<K: Hash + Eq + Clone> Tries<K> {
    pub fn new(seconds: u64, burst: NonZeroU32) -> Self {
        let quota = Quota::with_period(Duration::from_secs(seconds)).expect("the time is not zero");
        Tries(RateLimiter::keyed(quota.allow_burst(burst)))
    }

    /// Counts a try; else says how many seconds to wait.
    pub fn count(&self, key: &K) -> Result<(), u32> {
        if self.0.len() > KEYS {
            self.0.retain_recent();
        }
        let late = self.0.check_key(key);
        late.map_err(|until| until.wait_time_from(DefaultClock::default().now()).as_secs() as u32 + 1)
    }
}
