//! Prints the checksums of the frozen sessions, for `frozen/checksums.txt`: after a change that is meant to be heard.
//!
//! `cargo run -p lane-bench --example checksums`

use lane_bench::{Frozen, checksum};
use lane_units::SAMPLE_RATES;

fn main() {
    for frozen in Frozen::ALL {
        for rate in SAMPLE_RATES {
            println!("{} {rate} {}", frozen.name(), checksum(&frozen.play(rate, 128)));
        }
    }
}
