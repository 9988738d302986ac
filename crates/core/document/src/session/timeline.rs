//! What screens draw of a session's time: its bars, and the hits of a lane on their grid.

use super::{BarSpan, Hit, Session, Song, limits};
use lane_units::{PatternId, SectionId, StripId, VoiceId};
use serde::Serialize;

/// The time grid of a session, for screens.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Timeline {
    /// Ticks in a beat of the metre.
    pub beat_ticks: u32,
    /// Ticks in a bar.
    pub bar_ticks: u32,
    /// Sample frames that a tick takes.
    pub frames_per_tick: f64,
    /// Bars that a song, a section or a pattern may have in this metre.
    pub most_bars: u32,
    /// Bars of the song in order.
    pub bars: Vec<BarPlace>,
}

/// One bar of the song, and where its hits come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct BarPlace {
    /// The section that it lies in.
    pub section: SectionId,
    /// The pattern that plays in it.
    pub pattern: PatternId,
    /// The pattern's bar, counted from 0.
    pub pattern_bar: u32,
}

/// What a strip is called.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct NameLine {
    /// The strip.
    pub strip: StripId,
    /// Its name; a channel without one of its own is called after its voices.
    pub name: String,
}

/// A lane over some bars of the song.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct LaneGrid {
    /// The voice whose hits are shown and changed: itself, or the one that it follows.
    pub leader: VoiceId,
    /// Where each bar's ticks lie in what the leader plays.
    pub bars: Vec<LaneBar>,
    /// Hits in the bars; those of a loop of its own come again and again.
    pub hits: Vec<PlacedHit>,
}

/// A bar of a lane.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct LaneBar {
    /// The pattern that plays in it.
    pub pattern: PatternId,
    /// The tick of the pattern at which the bar begins.
    pub from_ticks: u32,
    /// Ticks after which what the lane plays comes again: a tick of the bar is one of the pattern modulo this.
    pub period_ticks: u32,
}

/// A hit on the grid.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PlacedHit {
    /// As it is written.
    pub hit: Hit,
    /// Ticks from the start of the first bar, with its shift.
    pub at_ticks: i32,
    /// Whether it is written there, rather than repeated by a loop of the voice's own.
    pub written: bool,
}

impl Timeline {
    /// Cost: linear in the bars of the song.
    pub fn new(session: &Session) -> Self {
        let song = Song::new(session);
        let bars = song.sections().iter().flat_map(|section| {
            (0..section.span.to - section.span.from).map(|bar| BarPlace {
                section: section.id,
                pattern: section.pattern,
                pattern_bar: bar % section.pattern_bars,
            })
        });
        let bar_ticks = song.bar_ticks();
        Timeline {
            beat_ticks: session.header.metre.beat_ticks(),
            bar_ticks,
            frames_per_tick: song.frames_per_tick(),
            most_bars: limits::SONG_TICKS / bar_ticks,
            bars: bars.collect(),
        }
    }
}

impl Session {
    /// The names of all strips, in the order of the document.
    ///
    /// Cost: linear in the strips times the voices.
    pub fn names(&self) -> Vec<NameLine> {
        self.strips.iter().map(|s| NameLine { strip: s.id, name: self.strip_name(s.id) }).collect()
    }

    /// A lane over some bars of the song; nothing of a voice that is not there.
    ///
    /// Cost: linear in the bars and the hits that lie in them.
    pub fn lane_grid(&self, voice: VoiceId, span: BarSpan) -> Option<LaneGrid> {
        let voice = self.voice(voice)?;
        let leader = voice.follows.unwrap_or(voice.id);
        let song = Song::new(self);
        let bar = song.bar_ticks();
        let mut grid = LaneGrid { leader, bars: Vec::new(), hits: Vec::new() };
        for section in song.sections() {
            let part = self.part(section.pattern, leader);
            let whole = section.pattern_bars.saturating_mul(bar);
            let period = part.and_then(|p| p.loop_ticks).unwrap_or(whole).max(1);
            let own = part.is_some_and(|p| p.loop_ticks.is_some());
            for at in section.span.from.max(span.from)..section.span.to.min(span.to) {
                // Ticks from where the section's hits begin: they come again after each period.
                let begun = u64::from(at - section.span.from) * u64::from(bar);
                let from = (begun % u64::from(period)) as u32;
                grid.bars.push(LaneBar { pattern: section.pattern, from_ticks: from, period_ticks: period });
                let left = i64::from(at - span.from) * i64::from(bar);
                for hit in part.map_or(&[][..], |p| &p.hits).iter().filter(|h| h.at_ticks < period) {
                    let first = (u64::from(hit.at_ticks) + u64::from(period) - u64::from(from)) % u64::from(period);
                    let mut tick = first;
                    while tick < u64::from(bar) {
                        let at_ticks = left + tick as i64 + i64::from(hit.shift_ticks);
                        let written = !own || begun + tick == u64::from(hit.at_ticks);
                        grid.hits.push(PlacedHit { hit: *hit, at_ticks: at_ticks as i32, written });
                        tick += u64::from(period);
                    }
                }
            }
        }
        Some(grid)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::session::{Family, Feel, Metre, Part, Pattern, Section, Strip, StripKind, Voice, VoiceSource};
    use proptest::prelude::*;
    use rstest::rstest;

    const KICK: VoiceId = VoiceId(20);

    /// A verse of three bars of a pattern of two, a hook of two bars of a pattern of one.
    fn song() -> Session {
        let mut s = Session::new("Song", 48_000);
        s.patterns.push(Pattern { id: PatternId(9), name: "B".into(), bars: 1 }.into());
        s.sections = vec![
            Section { id: SectionId(4), name: "Verse".into(), pattern: PatternId(3), bars: 3 }.into(),
            Section { id: SectionId(5), name: "Hook".into(), pattern: PatternId(9), bars: 2 }.into(),
        ];
        s.strips.push(Strip::new(StripId(21), StripKind::Channel, "".into(), Some(s.mix_bus)).into());
        s.voices.push(Voice::new(KICK, "Kick".into(), Family::Low, VoiceSource::Empty, StripId(21)).into());
        s.next_id = 30;
        s
    }

    fn at(session: &Session, from: u32, to: u32) -> Vec<(i32, bool)> {
        let grid = session.lane_grid(KICK, BarSpan { from, to }).unwrap();
        grid.hits.iter().map(|h| (h.at_ticks, h.written)).collect()
    }

    #[test]
    fn sections_follow_each_other_and_patterns_repeat_or_are_cut_in_them() {
        let time = Timeline::new(&song());
        let bars: Vec<_> = time.bars.iter().map(|b| (b.section.0, b.pattern.0, b.pattern_bar)).collect();
        assert_eq!(bars, [(4, 3, 0), (4, 3, 1), (4, 3, 0), (5, 9, 0), (5, 9, 0)]);
        assert!((960.0 * time.frames_per_tick - 30_000.0).abs() < 1e-9, "a quarter at 96 bpm");
    }

    #[rstest]
    #[case::common(4, 4, 960, 3840)]
    #[case::seven_eighths(7, 8, 480, 3360)]
    fn a_bar_has_the_ticks_of_its_beats(#[case] beats: u32, #[case] unit: u32, #[case] beat: u32, #[case] bar: u32) {
        let mut s = song();
        s.header.metre = Metre::new(beats, unit).unwrap();
        let time = Timeline::new(&s);
        assert_eq!((time.beat_ticks, time.bar_ticks), (beat, bar));
        assert_eq!(time.most_bars, limits::SONG_TICKS / bar);
    }

    #[test]
    fn a_channel_without_a_name_is_called_after_its_voices() {
        let mut s = song();
        s.voices.push(Voice { id: VoiceId(22), name: "Click".into(), ..(*s.voices[0]).clone() }.into());
        let names: Vec<_> = s.names().into_iter().map(|n| (n.strip.0, n.name)).collect();
        assert_eq!(names, [(1, "Main".into()), (2, "Mix bus".into()), (21, "Kick + Click".into())]);
    }

    #[test]
    fn hits_lie_where_their_pattern_is_played() {
        let mut s = song();
        s.parts =
            vec![Part::new(PatternId(3), KICK, vec![Hit::new(0, 240, 100, 0), Hit::new(4800, 240, 90, 0)]).into()];
        assert_eq!(at(&s, 0, 4), [(0, true), (4800, true), (7680, true)]);
        assert_eq!(at(&s, 1, 2), [(960, true)]);
        let grid = s.lane_grid(KICK, BarSpan { from: 1, to: 5 }).unwrap();
        let from: Vec<_> = grid.bars.iter().map(|b| (b.pattern.0, b.from_ticks)).collect();
        assert_eq!(from, [(3, 3840), (3, 0), (9, 0), (9, 0)]);
    }

    #[test]
    fn a_loop_of_its_own_goes_on_over_bars_and_says_what_is_written() {
        let mut s = song();
        let part = Part::new(PatternId(3), KICK, vec![Hit::new(0, 240, 100, 0)]);
        s.parts = vec![Part { loop_ticks: Some(2880), ..part }.into()];
        assert_eq!(at(&s, 0, 3), [(0, true), (2880, false), (5760, false), (8640, false)]);
        assert_eq!(at(&s, 2, 3), [(960, false)]);
        let bars = s.lane_grid(KICK, BarSpan { from: 0, to: 3 }).unwrap().bars;
        assert_eq!(bars.iter().map(|b| b.from_ticks).collect::<Vec<_>>(), [0, 960, 1920]);
    }

    #[test]
    fn a_voice_that_follows_shows_the_hits_of_its_leader() {
        let mut s = song();
        s.parts = vec![Part::new(PatternId(9), KICK, vec![Hit::new(480, 240, 100, 0)]).into()];
        s.voices.push(Voice { id: VoiceId(23), follows: Some(KICK), ..(*s.voices[0]).clone() }.into());
        let grid = s.lane_grid(VoiceId(23), BarSpan { from: 3, to: 4 }).unwrap();
        assert_eq!((grid.leader, grid.hits[0].at_ticks), (KICK, 480));
        assert_eq!(s.lane_grid(VoiceId(99), BarSpan { from: 0, to: 1 }), None);
    }

    proptest! {
        #![proptest_config(ProptestConfig { cases: 200, ..ProptestConfig::default() })]
        /// What is drawn is what is played: the same ticks as the song's own way gives.
        #[test]
        fn the_grid_shows_what_the_song_plays(
            hits in prop::collection::vec((0u32..7680, -200i32..200), 0..12),
            own in prop::option::of(1u32..6000),
        ) {
            let mut s = song();
            let hits = hits.into_iter().map(|(at, shift_ticks)| {
                Hit { shift_ticks: shift_ticks.max(-(at as i32)) as _, ..Hit::new(at, 60, 100, 0) }
            });
            s.parts = vec![Part { loop_ticks: own, ..Part::new(PatternId(3), KICK, hits.collect()) }.into()];
            let mut played = Vec::new();
            Song::new(&s).sounds_of(&s, KICK, Feel::Written, |sound| played.push(sound.at_ticks as i32));
            let mut drawn: Vec<i32> = at(&s, 0, 5).into_iter().map(|(at, _)| at).collect();
            played.sort_unstable();
            drawn.sort_unstable();
            prop_assert_eq!(drawn, played);
        }
    }
}
