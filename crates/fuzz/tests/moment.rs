//! A moment of what `lane-fuzz` does without end, and everything that it once found.

use lane_document::edit::Edit;
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

#[test]
fn an_edit_of_every_kind_is_bent() {
    // What is told of a kind that there is none of names those that there are.
    let told = serde_json::from_str::<Edit>(r#"{ "kind": "no such kind" }"#).unwrap_err().to_string();
    let meant = edits::meant();
    let kinds: Vec<&str> = told.split('`').skip(3).step_by(2).collect();
    assert!(kinds.len() > 50, "{told}");
    let missing: Vec<_> = kinds.iter().filter(|k| **k != "batch" && !meant.iter().any(|e| e["kind"] == **k)).collect();
    assert!(missing.is_empty(), "{missing:?}");
    for edit in &meant {
        serde_json::from_value::<Edit>(edit.clone()).unwrap_or_else(|e| panic!("{e}: {edit}"));
    }
}

#[test]
fn edits_of_every_kind_with_every_number_at_its_limits_do_no_harm() {
    let found = edits::at_limits();
    nothing_found(&found);
    assert!(found.taken > found.tried / 10, "{} of {}", found.taken, found.tried);
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
