//! How everything that goes on beside requests hears that the program stops, and how it pauses between tries.

use anyhow::{Context, Result};
use std::time::Duration;
use tokio::sync::watch;

/// Growing pauses between tries.
pub struct Pauses(Duration);

impl Default for Pauses {
    fn default() -> Self {
        Pauses(Duration::from_millis(100))
    }
}

impl Pauses {
    /// The next pause: twice the last one, at most 10 s.
    pub fn grow(&mut self) -> Duration {
        let pause = self.0;
        self.0 = (pause * 2).min(Duration::from_secs(10));
        pause
    }
}

/// Told once, to everything that goes on: the program is to stop.
#[derive(Clone)]
pub struct Stopping(watch::Receiver<bool>);

impl Stopping {
    /// One that is told by the sender; dropping that tells too.
    pub fn new() -> (watch::Sender<bool>, Self) {
        let (tell, told) = watch::channel(false);
        (tell, Stopping(told))
    }

    /// Told by SIGINT or SIGTERM.
    pub fn by_signal() -> Result<Self> {
        use tokio::signal::unix::{SignalKind, signal};
        let mut terminate = signal(SignalKind::terminate()).context("SIGTERM cannot be listened for")?;
        let mut interrupt = signal(SignalKind::interrupt()).context("SIGINT cannot be listened for")?;
        let (tell, stopping) = Self::new();
        tokio::spawn(async move {
            tokio::select! {
                _ = terminate.recv() => {}
                _ = interrupt.recv() => {}
            }
            tracing::info!("stopping");
            let _ = tell.send(true);
        });
        Ok(stopping)
    }

    pub fn told(&self) -> bool {
        *self.0.borrow() || self.0.has_changed().is_err()
    }

    /// Waits until it is told.
    pub async fn wait(&self) {
        let mut told = self.0.clone();
        let _ = told.wait_for(|told| *told).await;
    }

    /// Pauses, unless it is told before.
    pub async fn pause(&self, pause: Duration) {
        let _ = tokio::time::timeout(pause, self.wait()).await;
    }
}
