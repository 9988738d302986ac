//! Chores: `cargo xtask types` writes what is generated; `cargo xtask check` says whether that is fresh, and whether anything in a crate
//! uses each other in a circle.

mod circles;
mod sources;
mod types;

use std::path::Path;
use std::process::ExitCode;

fn main() -> ExitCode {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let done = match std::env::args().nth(1).as_deref() {
        Some("types") => types::write(&root),
        Some("check") => sources::check(&root).and_then(|()| types::check(&root)),
        _ => Err("usage: cargo xtask types | check".into()),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("{error}");
            ExitCode::FAILURE
        }
    }
}
