//! A moment of what `lane-fuzz` does without end, and everything that it once found.

use lane_fuzz::{Found, edits, files, sounds};
use rstest::rstest;

fn nothing_found(found: &Found) {
    assert!(found.faults.is_empty(), "{:#?}", found.faults);
}

#[rstest]
#[case(1)]
#[case(2)]
#[case(3)]
fn bent_edits_do_no_harm(#[case] seed: u64) {
    let found = edits::run(4000, seed);
    nothing_found(&found);
    assert!(found.taken > 200, "most are refused, but not all: {}", found.taken);
}

#[rstest]
#[case(1)]
#[case(2)]
fn bent_files_do_no_harm(#[case] seed: u64) {
    let found = files::run(1200, seed);
    nothing_found(&found);
    assert!(found.taken > 50, "{}", found.taken);
}

/// What is played here is not built as well as what is released, and beside other tests.
#[test]
fn bent_documents_that_are_accepted_play() {
    let found = sounds::run(200, 1, 50.0 * sounds::RELEASED_NS);
    nothing_found(&found);
    assert!(found.taken > 5, "{}", found.taken);
}

#[test]
fn good_files_are_good() {
    let kinds = files::good();
    assert!(kinds.iter().all(|(_, bytes)| !bytes.is_empty()));
}
