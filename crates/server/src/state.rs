//! What requests share.

use crate::following::Changes;
use crate::stopping::Stopping;
use crate::work::{AccountTurns, Crew};
use lane_store::Store;
use lane_wire::DemoAccount;
use std::time::Duration;

/// The account of `zealous-lane demo`.
pub const DEMO: DemoAccount = DemoAccount { email: "mixer@demo.invalid", password: "copper-weather" };

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
            edits: Crew::new(cores, 256, Duration::from_secs(10)),
            sounds: Crew::new(cores, 256, Duration::from_secs(300)),
            hashing: Crew::new(cores, 16, Duration::from_millis(1500)),
            turns: AccountTurns::default(),
        }
    }
}
