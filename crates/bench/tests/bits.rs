//! What is not meant to change keeps its bits.

use lane_bench::{Frozen, Moment, checksum};
use lane_units::SAMPLE_RATES;
use rstest::rstest;

fn moments_of(frozen: Frozen) -> Vec<Moment> {
    Frozen::moments().into_iter().filter(|m| m.frozen == frozen).collect()
}

#[rstest]
fn frozen_sessions_play_the_same_bits_at_every_rate_and_block_size(
    #[values(Frozen::Large, Frozen::Small, Frozen::Heavy, Frozen::Palette)] frozen: Frozen,
    #[values(128, 1000)] block: usize,
) {
    let moments = moments_of(frozen);
    assert_eq!(moments.len(), SAMPLE_RATES.len(), "a checksum for every rate");
    for Moment { sample_rate, checksum: known, .. } in moments {
        let out = frozen.play(sample_rate, block);
        assert!(out.iter().any(|f| f[0].abs() > 1e-3), "it sounds");
        assert_eq!(checksum(&out), known, "{} at {sample_rate} Hz, blocks of {block}", frozen.name());
    }
}

#[test]
fn frozen_sessions_are_valid() {
    for frozen in Frozen::ALL {
        frozen.session(48_000).session.validate().unwrap();
    }
}
