//! References: brought in, changed, removed; in no lane, no template.

use super::*;
use crate::session::Session;
use crate::session::{Reference, TemplateKeeps, Thing, VoiceSource, limits};

fn asset(byte: &str, frames: u32) -> AssetRef {
    AssetRef { id: AssetId(byte.repeat(32)), name: "pier.wav".into(), channels: 2, sample_rate: 48_000, frames }
}

fn with_reference() -> (Session, ReferenceId) {
    let mut s = kit();
    let applied =
        apply(&mut s, &Edit::AddReference(AddReference { name: "Pier".into(), asset: asset("cd", 9000) })).unwrap();
    assert_eq!(applied.label, "Reference Pier");
    assert_eq!(applied.made, [Made { thing: Thing::Reference, id: s.references[0].id.0 }]);
    let id = s.references[0].id;
    (s, id)
}

#[test]
fn a_reference_is_whole_and_in_no_lane_and_no_template() {
    let (s, id) = with_reference();
    let found = s.reference(id).unwrap();
    assert_eq!((found.from_frame, found.to_frame, found.follows), (0, 9000, false));
    assert!(s.named_assets().contains(&found.asset) && !s.voiced_assets().contains(&found.asset));
    let everything = TemplateKeeps { audio: true, patterns: true, levels: true, chains: true };
    let template = s.as_template(everything);
    assert!(template.references.is_empty() && template.assets.is_empty());
}

#[test]
fn its_sound_stays_whatever_is_changed_and_goes_with_it() {
    let (mut s, id) = with_reference();
    let other = Reference {
        name: "Quay".into(),
        asset: AssetId("ef".repeat(32)),
        follows: true,
        start_bar: 4,
        to_frame: 5000,
        ..s.references[0].clone()
    };
    apply(&mut s, &Edit::SetReference(SetReference { reference: other.clone() })).unwrap();
    assert_eq!(s.references, [Reference { asset: asset("cd", 0).id, ..other }]);
    let removed = apply(&mut s, &Edit::RemoveReference(RemoveReference { reference: id })).unwrap();
    assert_eq!((removed.label.as_str(), s.assets.len()), ("Remove reference Quay", 0));
    removed.back.apply(&mut s).unwrap();
    assert_eq!((s.references.len(), s.assets.len()), (1, 1));
    // A lane of the same sound keeps it.
    let source = VoiceSource::Recording { asset: asset("cd", 0).id, start_frame: 0 };
    let new = NewVoice { source, ..voice("Guitar") };
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![new], assets: vec![asset("cd", 9000)] })).unwrap();
    apply(&mut s, &Edit::RemoveReference(RemoveReference { reference: id })).unwrap();
    assert_eq!(s.assets.len(), 1);
}

#[rstest]
#[case::behind_its_end(|r: &mut Reference| r.to_frame = 9001, "the end of Pier")]
#[case::nothing(|r: &mut Reference| r.to_frame = 0, "the end of Pier")]
#[case::turned_round(|r: &mut Reference| (r.from_frame, r.to_frame) = (500, 500), "the start of Pier")]
#[case::far(|r: &mut Reference| r.start_bar = 70_000, "the bar of Pier")]
#[case::gone(|r: &mut Reference| r.id = ReferenceId(900), "reference 900")]
fn what_cannot_be_played_is_refused(#[case] bend: fn(&mut Reference), #[case] said: &str) {
    let (mut s, id) = with_reference();
    let before = s.clone();
    let mut reference = s.reference(id).unwrap().clone();
    bend(&mut reference);
    let error = apply(&mut s, &Edit::SetReference(SetReference { reference })).unwrap_err().to_string();
    assert!(error.contains(said), "{error}");
    assert_eq!(s, before);
}

#[test]
fn of_another_rate_or_too_many_are_refused() {
    let (mut s, _) = with_reference();
    let other = AssetRef { sample_rate: 44_100, ..asset("ee", 100) };
    assert!(apply(&mut s, &Edit::AddReference(AddReference { name: "Other".into(), asset: other })).is_err());
    for n in 1..limits::REFERENCES {
        let asset = AssetRef { id: AssetId(format!("{n:064}")), ..asset("ee", 100) };
        apply(&mut s, &Edit::AddReference(AddReference { name: "One".into(), asset })).unwrap();
    }
    let error =
        apply(&mut s, &Edit::AddReference(AddReference { name: "Pier".into(), asset: asset("cd", 9000) })).unwrap_err();
    assert!(error.to_string().contains("references"), "{error}");
}

#[test]
fn its_id_is_mapped_like_any() {
    let (s, id) = with_reference();
    let mut edits = [
        Edit::SetReference(SetReference { reference: s.references[0].clone() }),
        Edit::RemoveReference(RemoveReference { reference: id }),
        Edit::AddReference(AddReference { name: "New".into(), asset: asset("cd", 9) }),
    ];
    let mut named = Vec::new();
    edits.iter_mut().for_each(|edit| edit.each_id(|id| named.push(*id)));
    assert_eq!(named, [id.0, id.0]);
    let mut brought = 0;
    edits[2].each_asset(|_| brought += 1);
    assert_eq!(brought, 1);
}
