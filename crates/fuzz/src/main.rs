//! `lane-fuzz edits|files|sounds [TRIES [SEED]]`: without a number of tries it goes on until it is stopped.

use lane_fuzz::{Found, edits, files, quiet, sounds};
use std::process::ExitCode;

/// Tries between two lines about how far it is.
const ROUND: u64 = 1_000;

fn main() -> ExitCode {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let run = match args.first().map(String::as_str) {
        Some("edits") => edits::run,
        Some("files") => files::run,
        Some("sounds") => |tries, seed| sounds::run(tries, seed, sounds::RELEASED_NS),
        _ => {
            eprintln!("usage: lane-fuzz edits|files|sounds [TRIES [SEED]]");
            return ExitCode::FAILURE;
        }
    };
    let number = |at: usize| args.get(at).and_then(|n| n.parse::<u64>().ok());
    let (tries, mut seed) = (number(1).unwrap_or(u64::MAX), number(2).unwrap_or(1));
    quiet();
    let (mut all, mut taken, mut slowest) = (0, 0, std::time::Duration::ZERO);
    while all < tries {
        let Found { tried, taken: some, faults, slowest: slow, slowest_input } = run(ROUND.min(tries - all), seed);
        (all, taken) = (all + tried, taken + some);
        if slow > slowest {
            slowest = slow;
            println!("slowest so far: {slow:?} for {slowest_input}");
        }
        println!("{all} tried, {taken} taken, seed {seed}, slowest {slowest:?}");
        if !faults.is_empty() {
            for fault in faults.iter().take(20) {
                println!("FAULT {fault}");
            }
            return ExitCode::FAILURE;
        }
        seed += 1;
    }
    ExitCode::SUCCESS
}
