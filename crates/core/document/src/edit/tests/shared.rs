//! What an edit leaves alone is shared, and was checked.

use super::*;
use crate::session::Session;
use crate::session::Shared;

proptest! {
    /// Values that were checked before are not looked at again, and that makes no difference: neither to what is taken, nor
    /// to the reason why something is not.
    #[test]
    fn what_was_checked_before_makes_no_difference(
        edits in prop::collection::vec(prop_oneof![any_edit(), any_hits_edit()], 1..24),
        spoilt in prop::option::of((0usize..3, 0usize..4)),
    ) {
        let mut s = kit();
        s.validate().unwrap();
        for edit in &edits {
            // A document that an older program let through: nobody checked it.
            if let Some((lane, what)) = spoilt {
                match what {
                    0 => s.strips.iter_mut().skip(lane).take(1).for_each(|x| x.fader_db = 99.0),
                    1 => s.voices.iter_mut().skip(lane).take(1).for_each(|v| v.late_ms = -1e4),
                    2 => s.parts.iter_mut().for_each(|p| p.hits.iter_mut().for_each(|h| h.at_ticks += 1)),
                    _ => s.header.swing.percent = 2.0,
                }
            }
            let mut fresh: Session = serde_json::from_str(&serde_json::to_string(&s).unwrap()).unwrap();
            prop_assert_eq!(s.validate(), fresh.validate());
            prop_assert_eq!(apply(&mut s, edit), apply(&mut fresh, edit));
            prop_assert_eq!(&s, &fresh);
        }
    }
}

/// How many pieces of a document are not shared with another one.
fn own_pieces(s: &Session, other: &Session) -> usize {
    fn count<T>(s: &[Shared<T>], other: &[Shared<T>]) -> usize {
        s.iter().filter(|x| !other.iter().any(|o| o.is(x))).count()
    }
    count(&s.assets, &other.assets)
        + count(&s.voices, &other.voices)
        + count(&s.strips, &other.strips)
        + count(&s.patterns, &other.patterns)
        + count(&s.parts, &other.parts)
        + count(&s.takes, &other.takes)
        + count(&s.sections, &other.sections)
}

#[rstest]
#[case::a_fader(Edit::SetStrips(SetStrips { strips: vec![channel(&kit(), "Kick")], change: StripChange::FaderDb(-3.0) }), 1)]
#[case::two_faders(
    Edit::SetStrips(SetStrips { strips: vec![channel(&kit(), "Kick"), channel(&kit(), "Snare")], change: StripChange::FaderDb(-3.0) }),
    2
)]
#[case::a_name(Edit::RenameVoice(RenameVoice { voice: named(&kit(), "Kick"), name: "Low kick".into() }), 1)]
#[case::the_tempo(Edit::SetHeader(SetHeader { header: Header { key: "F min".into(), ..kit().header } }), 0)]
#[case::a_bus(Edit::NewBus(NewBus { name: "Low".into(), feeders: vec![] }), 1)]
#[case::a_pattern(Edit::AddPattern(AddPattern { name: "C".into(), bars: 1, copy_of: None }), 1)]
#[case::a_longer_pattern(Edit::SetPattern(SetPattern { pattern: Pattern { bars: 9, ..(*kit().patterns[0]).clone() } }), 1)]
fn an_edit_makes_new_what_it_changes_alone(#[case] edit: Edit, #[case] pieces: usize) {
    let before = kit();
    let mut s = before.clone();
    assert_eq!(own_pieces(&s, &before), 0);
    let applied = apply(&mut s, &edit).unwrap();
    assert_eq!(own_pieces(&s, &before), pieces);
    // Taken back, they are the ones that were there.
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!((own_pieces(&s, &before), s), (0, before));
}
