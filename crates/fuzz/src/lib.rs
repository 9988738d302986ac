//! Input that nobody means well with. What is found is kept as a seed and tried first from then on.
//!
//! | module | theme |
//! |---|---|
//! | [`mutate`] | JSON and bytes bent at random, the same for the same seed |
//! | [`edits`] | raw edits on documents: no panic, no broken document, a way back, in time |
//! | [`files`] | audio, MIDI, session folders, templates: no panic, in time |
//! | [`sounds`] | documents that are accepted, played: no panic, no number that is none, in time |

pub mod edits;
pub mod files;
pub mod mutate;
pub mod sounds;

use std::time::Duration;

/// What a run found.
#[derive(Debug, Default)]
pub struct Found {
    pub tried: u64,
    /// Taken, as opposed to refused.
    pub taken: u64,
    /// What went wrong, with the input that did it.
    pub faults: Vec<String>,
    /// In the processor's time, since machines are shared.
    pub slowest: Duration,
    /// The input that took the longest.
    pub slowest_input: String,
}

impl Found {
    fn note(&mut self, took: Duration, taken: bool, input: impl FnOnce() -> String) {
        self.tried += 1;
        self.taken += u64::from(taken);
        if took > self.slowest {
            self.slowest = took;
            self.slowest_input = input();
        }
    }
}

/// Runs something that may panic; the panic as words where it does.
fn caught<T>(work: impl FnOnce() -> T) -> Result<T, String> {
    std::panic::catch_unwind(std::panic::AssertUnwindSafe(work)).map_err(|panic| {
        let text = panic.downcast_ref::<&str>().map(|s| (*s).to_owned());
        text.or_else(|| panic.downcast_ref::<String>().cloned()).unwrap_or_else(|| "a panic without words".into())
    })
}

/// Keeps panics that are caught from filling the screen.
pub fn quiet() {
    std::panic::set_hook(Box::new(|_| {}));
}
