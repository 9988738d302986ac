//! What requests share.

use crate::following::Changes;
use crate::stopping::Stopping;
use crate::tries::Tries;
use crate::work::{AccountTurns, Crew};
use lane_store::Store;
use lane_wire::DemoAccount;
use std::num::NonZeroU32;
use std::sync::Arc;
use std::time::Duration;
use uuid::Uuid;

/// The account of `zealous-lane demo`.
pub const DEMO: DemoAccount = DemoAccount { email: "mixer@demo.invalid", password: "copper-weather" };

/// Files that one account may be sent at a time.
pub const DOWNLOADS: usize = 8;
/// Pages of one account that may follow sessions at a time.
pub const FOLLOWERS: usize = 40;

/// What pages of one account may write into the log at once, and then in so many seconds.
pub const FAULTS: NonZeroU32 = NonZeroU32::new(10).unwrap();
const FAULT_SECONDS: u64 = 60;

/// What requests share.
#[derive(Clone)]
pub struct App {
    pub store: Store,
    pub changes: Changes,
    pub demo: Option<DemoAccount>,
    pub upload_bytes: u64,
    pub account_bytes: u64,
    pub waiting_renders: i64,
    /// Threads that read, change and write documents.
    pub edits: Crew,
    /// Threads that read, convert and listen to audio.
    pub sounds: Crew,
    /// Threads that hash passwords.
    pub hashing: Crew,
    /// One change at a time for each account.
    pub turns: AccountTurns,
    /// Requests whose bodies are large, until they are done.
    pub large_bodies: AccountTurns,
    /// Files that are sent.
    pub downloads: AccountTurns,
    /// Audio that is fetched for playing.
    pub playing: AccountTurns,
    /// Pages that follow a session.
    pub followers: AccountTurns,
    /// What pages tell for the log, by account.
    pub page_faults: Arc<Tries<Uuid>>,
}

/// Bounds that a server is started with.
#[derive(Debug, Clone, Copy)]
pub struct Bounds {
    pub upload_bytes: u64,
    pub account_bytes: u64,
    pub waiting_renders: i64,
}

impl App {
    pub fn new(store: Store, demo: Option<DemoAccount>, bounds: Bounds, stopping: &Stopping) -> Self {
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        let Bounds { upload_bytes, account_bytes, waiting_renders } = bounds;
        App {
            changes: Changes::listen(&store, stopping),
            store,
            demo,
            upload_bytes,
            account_bytes,
            waiting_renders,
            // One thread more than there are cores, so that no account has all of them.
            edits: Crew::new(cores + 1, 256, Duration::from_secs(10)),
            sounds: Crew::new(cores + 1, 256, Duration::from_secs(300)),
            // A core stays free for answers.
            hashing: Crew::new(cores.saturating_sub(1), 16, Duration::from_millis(1500)),
            turns: AccountTurns::new(1, 16, Duration::from_secs(10)),
            large_bodies: AccountTurns::new(2, 16, Duration::from_secs(30)),
            downloads: AccountTurns::new(DOWNLOADS, 0, Duration::ZERO),
            playing: AccountTurns::new(32, 512, Duration::from_secs(60)),
            followers: AccountTurns::new(FOLLOWERS, 0, Duration::ZERO),
            page_faults: Arc::new(Tries::new(FAULT_SECONDS, FAULTS)),
        }
    }
}
