//! MIDI files as they come.

use lane_document::edit::{AddTake, Edit, apply};
use lane_document::session::{Family, Strip, StripKind, Voice, VoiceSource};
use lane_document::session::{Hit, Part, Session};
use lane_files::midi::{read_take, write_song};
use lane_units::{StripId, VoiceId};
use proptest::prelude::*;
use rstest::rstest;

/// A file of one track.
fn smf(format: u8, division: [u8; 2], track: &[u8]) -> Vec<u8> {
    let mut out = vec![b'M', b'T', b'h', b'd', 0, 0, 0, 6, 0, format, 0, 1];
    out.extend(division);
    out.extend(b"MTrk");
    out.extend((track.len() as u32).to_be_bytes());
    out.extend(track);
    out
}

const END: [u8; 4] = [0, 0xFF, 0x2F, 0];

#[rstest]
#[case::type_0(0)]
#[case::type_1(1)]
fn running_status_and_time_bases_are_read(#[case] format: u8) {
    // Note 36 at 0, off by velocity zero after 48 ticks, note 38 at 96, both by running status.
    let track = [&[0, 0x99, 36, 100, 48, 36, 0, 48, 38, 90, 48, 38, 0][..], &END].concat();
    let take = read_take("kit.mid", &smf(format, [0, 96], &track)).unwrap();
    let got: Vec<_> = take.notes.iter().map(|n| (n.channel, n.key, n.velocity, n.at_ticks, n.length_ticks)).collect();
    assert_eq!(got, [(9, 36, 100, 0, 480), (9, 38, 90, 960, 480)]);
    assert!(take.remarks.is_empty());
}

#[test]
fn tempo_and_metre_come_over_and_changes_are_said() {
    let meta = [
        &[0, 0xFF, 0x51, 3, 0x07, 0xA1, 0x20][..],
        &[0, 0xFF, 0x58, 4, 6, 3, 24, 8],
        &[0, 0x99, 36, 100, 10, 36, 0],
        &[0, 0xFF, 0x51, 3, 0x06, 0xA1, 0x20],
        &END,
    ]
    .concat();
    let take = read_take("a.mid", &smf(0, [0, 96], &meta)).unwrap();
    assert_eq!(take.tempo_bpm.map(|t| t.bpm()), Some(120.0));
    assert_eq!(take.metre.map(|m| (m.beats(), m.unit())), Some((6, 8)));
    assert!(take.remarks[0].contains("first tempo counts"));
}

#[rstest]
#[case::garbage_behind_the_end(vec![0xDE, 0xAD, 0xBE, 0xEF, 1, 2, 3], false)]
#[case::nothing(vec![], false)]
fn what_follows_the_end_does_no_harm(#[case] tail: Vec<u8>, #[case] remark: bool) {
    let track = [&[0, 0x99, 36, 100, 48, 36, 0][..], &END].concat();
    let take = read_take("a.mid", &[smf(0, [0, 96], &track), tail].concat()).unwrap();
    assert_eq!((take.notes.len(), !take.remarks.is_empty()), (1, remark));
}

#[test]
fn a_broken_event_keeps_what_came_before_and_says_so() {
    let track = [0, 0x99, 36, 100, 48, 36, 0, 0, 0x99, 38];
    let take = read_take("a.mid", &smf(0, [0, 96], &track)).unwrap();
    assert_eq!(take.notes.len(), 1);
    assert!(take.remarks[0].contains("broken event"), "{:?}", take.remarks);
}

#[rstest]
#[case::alone(0)]
#[case::with_another_behind_it(1)]
fn a_track_that_is_longer_than_it_says_is_read_to_its_end(#[case] others: u8) {
    let note = |key: u8| [0, 0x99, key, 100, 48, key, 0];
    let track = [&note(36)[..], &note(38), &note(42), &END].concat();
    let mut bytes = smf(1, [0, 96], &track);
    bytes[11] += others;
    // It says the length of its first note.
    bytes[21] = 7;
    for _ in 0..others {
        bytes.extend(&smf(1, [0, 96], &[&note(46)[..], &END].concat())[14..]);
    }
    let take = read_take("a.mid", &bytes).unwrap();
    let keys: Vec<u8> = take.notes.iter().map(|n| n.key).collect();
    assert_eq!(keys, if others > 0 { vec![36, 46, 38, 42] } else { vec![36, 38, 42] });
    assert!(take.remarks[0].contains("Track 1 is longer than the file says"), "{:?}", take.remarks);
}

#[test]
fn a_note_that_never_ends_lasts_a_beat() {
    let take = read_take("a.mid", &smf(0, [0, 96], &[&[0, 0x99, 36, 100][..], &END].concat())).unwrap();
    assert_eq!(take.notes[0].length_ticks, 960);
}

#[rstest]
#[case::frames([0xE7, 40])]
#[case::drop_frames([0xE3, 80])]
fn frame_based_time_bases_are_taken_as_seconds(#[case] division: [u8; 2]) {
    let track = [&[0, 0x99, 36, 100, 10, 36, 0][..], &END].concat();
    let take = read_take("a.mid", &smf(0, division, &track)).unwrap();
    assert_eq!((take.notes.len(), take.tempo_bpm.map(|t| t.bpm())), (1, Some(120.0)));
    assert!(take.remarks[0].contains("frames, not in beats"), "{:?}", take.remarks);
}

#[rstest]
#[case::one_whole([1, 0], Some((4, 4)), "1/1 was taken as 4/4")]
#[case::two_wholes([2, 0], Some((8, 4)), "2/1 was taken as 8/4")]
#[case::thirty_seconds([3, 5], None, "3/32 cannot be used")]
#[case::no_beats([0, 2], None, "0/4 cannot be used")]
#[case::far([4, 255], None, "cannot be used")]
fn odd_metres_are_taken_or_told(#[case] metre: [u8; 2], #[case] expected: Option<(u32, u32)>, #[case] says: &str) {
    let track = [&[0, 0xFF, 0x58, 4, metre[0], metre[1], 24, 8][..], &[0, 0x99, 36, 100, 48, 36, 0], &END].concat();
    let take = read_take("a.mid", &smf(0, [0, 96], &track)).unwrap();
    assert_eq!(take.metre.map(|m| (m.beats(), m.unit())), expected);
    assert!(take.remarks.iter().any(|r| r.contains(says)), "{:?}", take.remarks);
}

#[test]
fn pieces_of_a_format_2_file_and_missing_tracks_are_told() {
    let track = [&[0, 0x99, 36, 100, 48, 36, 0][..], &END].concat();
    let mut two = smf(2, [0, 96], &track);
    two[11] = 2;
    let second = smf(2, [0, 96], &track)[14..].to_vec();
    let take = read_take("a.mid", &[two.clone(), second].concat()).unwrap();
    assert!(take.remarks[0].contains("begin together"), "{:?}", take.remarks);
    let cut = read_take("a.mid", &two).unwrap();
    assert!(cut.remarks[0].contains("says 2 tracks, and 1 are there"), "{:?}", cut.remarks);
}

#[test]
fn as_many_notes_at_one_instant_as_a_take_may_have_are_read() {
    let note = |on: bool| [0, 0x99, 36, if on { 100 } else { 0 }];
    let mut track: Vec<u8> = (0..200_000).flat_map(|_| note(true)).collect();
    track.extend([0x81, 0x40, 0x99, 36, 0]);
    track.extend((1..200_000).flat_map(|_| note(false)));
    track.extend(END);
    let take = read_take("wall.mid", &smf(0, [0, 96], &track)).unwrap();
    assert_eq!(take.notes.len(), 200_000);
    assert!(take.notes.iter().all(|n| (n.at_ticks, n.length_ticks) == (0, 1920)));
}

#[test]
fn what_is_broken_before_its_first_note_is_damaged_and_not_without_notes() {
    let broken = smf(0, [0, 96], &[0, 0x99, 36]);
    assert!(read_take("a.mid", &broken).unwrap_err().to_string().contains("broken before its first note"));
}

#[rstest]
#[case::no_notes(smf(0, [0, 96], &END), "no notes")]
#[case::zero_division(smf(0, [0, 0], &END), "time base is zero")]
#[case::cut(b"MThd\0\0".to_vec(), "cut off")]
#[case::cut_early(smf(0, [0, 96], &[0, 0x99, 36, 100])[..20].to_vec(), "cut off before its first note")]
#[case::no_such_frames(smf(0, [0x80, 40], &END), "128 frames a second is none")]
#[case::odd_frames(smf(0, [0xFF, 40], &END), "1 frames a second is none")]
#[case::no_ticks(smf(0, [0xE7, 0], &END), "no ticks in a frame")]
fn bad_files_are_refused(#[case] bytes: Vec<u8>, #[case] says: &str) {
    let message = read_take("a.mid", &bytes).unwrap_err().to_string();
    assert!(message.contains(says), "{message}");
}

#[test]
fn no_cut_and_no_flipped_byte_panics() {
    let track = [&[0, 0xFF, 0x51, 3, 7, 0xA1, 0x20, 0, 0x99, 36, 100, 48, 36, 0][..], &END].concat();
    let good = smf(1, [0, 96], &track);
    for at in 0..good.len() {
        let _ = read_take("a.mid", &good[..at]);
        for bits in [0xFF, 0x80, 0x10] {
            let mut bent = good.clone();
            bent[at] ^= bits;
            let _ = read_take("a.mid", &bent);
        }
    }
}

#[test]
fn a_song_written_reads_back_with_its_hits() {
    let mut s = Session::new("Song", 48_000);
    s.sections[0].bars = 2;
    s.strips.push(Strip::new(StripId(20), StripKind::Channel, "".into(), Some(StripId(2))).into());
    s.voices.push(Voice::new(VoiceId(21), "Keys".into(), Family::Music, VoiceSource::Empty, StripId(20)).into());
    let hits: Vec<_> = (0..8).map(|i| Hit::new(i * 700, 333, 60 + i as u8, i as i8)).collect();
    s.parts.push(Part::new(s.patterns[0].id, VoiceId(21), hits.clone()).into());
    let take = read_take("song.mid", &write_song(&s)).unwrap();
    let keys: Vec<_> = take.notes.iter().map(|n| n.note_key()).collect();
    assert_eq!(lane_document::midi::Sorted::new(&take).hits(&keys, true), hits);
    assert_eq!(take.tracks[1], "Keys");
    assert_eq!(take.tempo_bpm.map(|t| t.bpm()), Some(96.0));
}

#[test]
fn overlapping_and_empty_notes_are_kept_apart() {
    // Two notes of the same key overlap: the first end ends the first. A note of no length lasts a tick.
    let track = [&[0, 0x99, 36, 100, 24, 36, 90, 24, 36, 0, 24, 36, 0, 0, 0x99, 38, 80, 0, 38, 0][..], &END].concat();
    let take = read_take("a.mid", &smf(0, [0, 96], &track)).unwrap();
    let got: Vec<_> = take.notes.iter().map(|n| (n.key, n.at_ticks, n.length_ticks)).collect();
    assert_eq!(got, [(36, 0, 480), (36, 240, 480), (38, 720, 1)]);
}

#[rstest]
#[case(24)]
#[case(96)]
#[case(480)]
#[case(960)]
fn every_time_base_gives_the_same_places(#[case] division: u16) {
    // A quarter of rest, as a variable-length number, before the second note.
    let quarter =
        if division < 128 { vec![division as u8] } else { vec![0x80 | (division >> 7) as u8, (division & 127) as u8] };
    let track = [&[0, 0x99, 36, 100][..], &quarter, &[36, 0, 0, 38, 100], &quarter, &[38, 0], &END].concat();
    let take = read_take("a.mid", &smf(0, division.to_be_bytes(), &track)).unwrap();
    assert_eq!(take.notes.iter().map(|n| (n.at_ticks, n.length_ticks)).collect::<Vec<_>>(), [(0, 960), (960, 960)]);
}

/// Hits of one voice, no two of the same pitch overlapping.
fn any_hits() -> impl Strategy<Value = Vec<Hit>> {
    prop::collection::vec((0u32..64, 1u32..=240, 1u8..=127, -20i8..20), 1..40).prop_map(|list| {
        let mut hits: Vec<Hit> = list.into_iter().map(|(step, l, v, st)| Hit::new(step * 240, l, v, st)).collect();
        hits.sort_by_key(|h| (h.at_ticks, h.tune_st));
        hits.dedup_by_key(|h| (h.at_ticks, h.tune_st));
        hits
    })
}

proptest! {
    #[test]
    fn from_pattern_to_midi_to_pattern_nothing_changes(hits in any_hits(), drum in any::<bool>()) {
        let mut hits = hits;
        if drum {
            hits.iter_mut().for_each(|h| h.tune_st = 0);
            hits.dedup_by_key(|h| h.at_ticks);
        }
        let mut s = Session::new("Song", 48_000);
        (s.patterns[0].bars, s.sections[0].bars) = (4, 4);
        s.strips.push(Strip::new(StripId(20), StripKind::Channel, "".into(), Some(StripId(2))).into());
        let (name, family) = if drum { ("Snare", Family::Snare) } else { ("Keys", Family::Music) };
        s.voices.push(Voice::new(VoiceId(21), name.into(), family, VoiceSource::Empty, StripId(20)).into());
        s.parts.push(Part::new(s.patterns[0].id, VoiceId(21), hits.clone()).into());
        let take = read_take("song.mid", &write_song(&s)).unwrap();
        let mut again = Session::new("Again", 48_000);
        apply(&mut again, &Edit::AddTake(AddTake { take, sounds: vec![], to: vec![] })).unwrap();
        prop_assert_eq!(again.voices.len(), 1);
        prop_assert_eq!(again.voices[0].name.as_str(), name);
        prop_assert_eq!(again.hits(again.patterns[0].id, again.voices[0].id), &hits[..]);
        prop_assert_eq!(again.header.tempo_bpm, s.header.tempo_bpm);
    }
}
