//! Chores: `cargo xtask types` writes what is generated, `cargo xtask borders` checks who imports whom.

mod borders;
mod circles;
mod types;

use std::path::Path;
use std::process::ExitCode;

fn main() -> ExitCode {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let done = match std::env::args().nth(1).as_deref() {
        Some("types") => types::write(&root),
        Some("types-check") => types::check(&root),
        Some("borders") => borders::check(&root),
        _ => Err("usage: cargo xtask types | types-check | borders".into()),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("{error}");
            ExitCode::FAILURE
        }
    }
}
