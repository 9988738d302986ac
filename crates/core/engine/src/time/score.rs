//! The song while it plays: hits turned into sounds a little ahead of the playhead, so that a change of hits, tempo or
//! swing costs what it changes, and not what the song is long.

use lane_document::session::{Hit, Humanise, Manner, Song, Swing, SwingGrid, Voice, VoiceSource};
use lane_dsp::Begin;
use lane_units::{Reader, StripId, Words, db_to_gain};

/// One sound on the time line of the song.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Event {
    /// Frames from bar 1.
    pub at: u64,
    /// Frames it is held.
    pub length: u64,
    /// Linear gain of the velocity.
    pub velocity: f64,
    /// Linear gain beside it.
    pub level: f64,
    /// Cents away from the layers' own tuning.
    pub tune_ct: f64,
    /// The one layer that sounds; all where not said.
    pub layer: Option<u8>,
    /// Where among equals it stands: the start of its part in ticks, then its place in it.
    order: (u64, u32),
}

impl Event {
    /// A sound of its own, now, as long as it likes.
    pub fn now(velocity: f64, tune_ct: f64, layer: Option<u8>) -> Self {
        Event { at: 0, length: u64::MAX, velocity, level: 1.0, tune_ct, layer, order: (0, 0) }
    }

    /// When and how hard it begins.
    ///
    /// * `moves_percent` – how much velocity moves the level of what plays it.
    pub fn begin(&self, moves_percent: u8) -> Begin {
        let velocity = libm::round(127.0 * libm::sqrt(self.velocity)).clamp(1.0, 127.0) as u8;
        Begin { at: self.at, velocity, moves_percent }
    }

    fn before(&self, other: &Event) -> std::cmp::Ordering {
        self.at.cmp(&other.at).then(self.tune_ct.total_cmp(&other.tune_ct)).then(self.order.cmp(&other.order))
    }
}

/// A section of the song.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Stretch {
    pattern: u32,
    /// In ticks from bar 1.
    from: u64,
    to: u64,
    /// Ticks of its pattern.
    whole: u64,
}

/// Where time stands in the song.
#[derive(Debug, Clone, PartialEq)]
pub struct Grid {
    frames_per_tick: f64,
    frames_per_second: f64,
    stretches: Vec<Stretch>,
}

impl Grid {
    pub fn new() -> Self {
        Grid { frames_per_tick: 1.0, frames_per_second: 1.0, stretches: Vec::new() }
    }

    /// Writes the time of a song.
    pub fn write(song: &lane_document::session::Song, words: &mut Vec<f64>) {
        let bar = f64::from(song.bar_ticks());
        words.extend([song.frames_per_tick(), song.frames_per_second()]);
        for s in song.sections() {
            let whole = f64::from(s.pattern_bars.saturating_mul(song.bar_ticks()));
            words.extend([f64::from(s.pattern.0), f64::from(s.span.from) * bar, f64::from(s.span.to) * bar, whole]);
        }
    }

    /// The time of a session. Allocates.
    pub fn of(session: &lane_document::session::Session) -> Self {
        let (mut grid, mut words) = (Grid::new(), Vec::new());
        Grid::write(&Song::new(session), &mut words);
        grid.take(&mut Reader::new(&words));
        grid
    }

    /// Takes over another time. Allocates where there are more sections than ever before.
    pub fn take(&mut self, words: &mut Reader) -> Option<()> {
        [self.frames_per_tick, self.frames_per_second] = words.array()?;
        self.stretches.clear();
        while words.left() > 0 {
            let [pattern, from, to, whole] = words.array()?;
            self.stretches.push(Stretch {
                pattern: pattern as u32,
                from: from as u64,
                to: to as u64,
                whole: whole as u64,
            });
        }
        Some(())
    }

    fn frame_at(&self, ticks: f64) -> u64 {
        libm::round(ticks * self.frames_per_tick).max(0.0) as u64
    }

    fn ticks_per_second(&self) -> f64 {
        self.frames_per_second / self.frames_per_tick
    }
}

/// One sound of a hit, at its place in its part before swing and humanising.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Sound {
    at: f64,
    hit: Hit,
    repeat: u8,
    place: u32,
}

/// What a voice plays in one pattern.
#[derive(Debug, Clone, PartialEq)]
struct ScorePart {
    pattern: u32,
    loop_ticks: Option<u32>,
    humanise: Option<Humanise>,
    /// In order of place.
    sounds: Vec<Sound>,
}

/// What a voice plays.
#[derive(Debug, Clone, PartialEq)]
pub struct Score {
    swing: Swing,
    /// How much later than written all of it sounds.
    late_ms: f64,
    /// How much velocity moves the level of what plays it.
    pub moves_percent: u8,
    /// In order of pattern.
    parts: Vec<ScorePart>,
    /// The first place of any of its sounds, and the last, in ticks from the start of its part.
    reach: (f64, f64),
}

/// How much velocity moves the level of a voice, in whole %: of its layers, the one that it moves most.
pub(crate) fn moves_percent(voice: &Voice) -> f64 {
    match &voice.source {
        VoiceSource::OneShot { layers, .. } => {
            libm::round(layers.iter().fold(0.0, |most: f64, l| most.max(l.velocity_percent)))
        }
        _ => 0.0,
    }
}

/// Most ticks by which swing and humanising move a sound, beside what humanising does in seconds.
const SWING_TICKS: f64 = 240.0;
const HUMAN_SECONDS: f64 = 0.05;

impl Score {
    pub fn new() -> Self {
        let swing = Swing { percent: 50.0, grid: SwingGrid::Sixteenth };
        Score { swing, late_ms: 0.0, moves_percent: 100, parts: Vec::new(), reach: (0.0, 0.0) }
    }

    /// What a voice of a session plays. Allocates.
    pub fn of(session: &lane_document::session::Session, voice: &lane_document::session::Voice) -> Self {
        let (mut score, mut words) = (Score::new(), Vec::new());
        Score::write_feel(session, voice, &mut words);
        score.take_feel(&mut Reader::new(&words));
        let leader = voice.follows.unwrap_or(voice.id);
        for part in session.parts.iter().filter(|p| p.voice == leader) {
            words.clear();
            Score::write_part(part.pattern.0, Some(part), &mut words);
            score.take_part(&mut Reader::new(&words));
        }
        score
    }

    /// Writes a voice's swing, and how late it plays.
    pub fn write_feel(session: &lane_document::session::Session, voice: &Voice, words: &mut Vec<f64>) {
        let swing = voice.swing.unwrap_or(session.header.swing);
        words.extend([
            voice.late_ms,
            moves_percent(voice),
            swing.percent,
            f64::from(u8::from(swing.grid == SwingGrid::Eighth)),
        ]);
    }

    /// Takes over another swing, and how late it plays.
    pub fn take_feel(&mut self, words: &mut Reader) -> Option<()> {
        self.late_ms = words.number()?;
        self.moves_percent = words.number()? as u8;
        let percent = words.number()?;
        let grid = if words.flag()? { SwingGrid::Eighth } else { SwingGrid::Sixteenth };
        self.swing = Swing { percent, grid };
        Some(())
    }

    /// Writes what a voice plays in a pattern.
    pub fn write_part(pattern: u32, part: Option<&lane_document::session::Part>, words: &mut Vec<f64>) {
        let Some(part) = part else { return words.extend([f64::from(pattern), -1.0]) };
        words.extend([f64::from(pattern), part.loop_ticks.map_or(0.0, f64::from)]);
        let by = part.humanise.unwrap_or(Humanise { seed: 0, time_ms: 0.0, level_db: 0.0, tune_ct: 0.0 });
        words.extend([f64::from(u8::from(part.humanise.is_some())), f64::from(by.seed)]);
        words.extend([by.time_ms, by.level_db, by.tune_ct]);
        part.hits.iter().for_each(|hit| hit.write(words));
    }

    /// Takes over what is played in a pattern. Allocates where a part has more sounds than ever before.
    pub fn take_part(&mut self, words: &mut Reader) -> Option<()> {
        let pattern = words.count()? as u32;
        let found = self.parts.binary_search_by_key(&pattern, |p| p.pattern);
        let loop_ticks = words.number()?;
        if loop_ticks < 0.0 {
            if let Ok(at) = found {
                self.parts.remove(at);
            }
            self.measure();
            return Some(());
        }
        let at = found.unwrap_or_else(|at| {
            self.parts.insert(at, ScorePart { pattern, loop_ticks: None, humanise: None, sounds: Vec::new() });
            at
        });
        let part = &mut self.parts[at];
        part.loop_ticks = (loop_ticks > 0.0).then_some(loop_ticks as u32);
        let [humanised, seed, time_ms, level_db, tune_ct] = words.array()?;
        part.humanise = (humanised != 0.0).then_some(Humanise { seed: seed as u32, time_ms, level_db, tune_ct });
        part.sounds.clear();
        while words.left() > 0 {
            let hit = Hit::read(words)?;
            let each = f64::from(hit.length_ticks) / f64::from(hit.sounds());
            for repeat in 0..hit.sounds() {
                let at = f64::from(hit.at_ticks) + f64::from(hit.shift_ticks) + each * f64::from(repeat);
                part.sounds.push(Sound { at, hit, repeat, place: part.sounds.len() as u32 });
            }
        }
        part.sounds.sort_unstable_by(|a, b| a.at.total_cmp(&b.at).then(a.place.cmp(&b.place)));
        self.measure();
        Some(())
    }

    fn measure(&mut self) {
        let ends = self.parts.iter().filter_map(|p| Some((p.sounds.first()?.at, p.sounds.last()?.at)));
        self.reach = ends.fold((0.0, 0.0), |reach, (first, last)| (reach.0.min(first), reach.1.max(last)));
    }

    /// Calls `each` with every sound that begins in `from..to`, in no order, until it says that it had enough.
    pub fn sounds_in(&self, grid: &Grid, from: u64, to: u64, each: &mut impl FnMut(Event) -> bool) {
        if self.parts.is_empty() {
            return;
        }
        let moved_s = HUMAN_SECONDS + self.late_ms.abs() * 0.001;
        let margin = SWING_TICKS + moved_s * grid.ticks_per_second() + 1.0;
        // What would begin before the song begins with it.
        let first = if from == 0 { f64::NEG_INFINITY } else { from as f64 / grid.frames_per_tick - margin };
        let last = to as f64 / grid.frames_per_tick + margin;
        let begin = grid.stretches.partition_point(|s| s.to as f64 + self.reach.1 < first);
        for stretch in &grid.stretches[begin..] {
            if stretch.from as f64 + self.reach.0 > last {
                return;
            }
            let Ok(at) = self.parts.binary_search_by_key(&stretch.pattern, |p| p.pattern) else { continue };
            let part = &self.parts[at];
            if !part.sounds_in(stretch, (self.swing, self.late_ms), grid, (first, last), &mut |event| {
                !(from..to).contains(&event.at) || each(event)
            }) {
                return;
            }
        }
    }
}

/// Hits of voices on some channels in order, of those at the same frame the hardest; recordings have none.
pub fn planned_hits(session: &lane_document::session::Session, channels: &[StripId], from: u64, to: u64) -> Vec<Begin> {
    let grid = Grid::of(session);
    let mut found = Vec::new();
    let plays = |v: &&Voice| channels.contains(&v.channel) && matches!(v.source, VoiceSource::OneShot { .. });
    for voice in lane_document::session::Shared::values(&session.voices).filter(plays) {
        let score = Score::of(session, voice);
        score.sounds_in(&grid, from, to, &mut |event| {
            found.push(event.begin(score.moves_percent));
            true
        });
    }
    in_order(&mut found, 0);
    found
}

/// Puts hits in order from a place on, of those at the same frame the hardest. Allocates nothing.
pub(crate) fn in_order(hits: &mut Vec<Begin>, from: usize) {
    hits[from..].sort_unstable_by_key(|hit| (hit.at, std::cmp::Reverse(hit.velocity)));
    let mut kept = from;
    for n in from..hits.len() {
        if kept == from || hits[kept - 1].at != hits[n].at {
            hits[kept] = hits[n];
            kept += 1;
        }
    }
    hits.truncate(kept);
}

impl ScorePart {
    /// False where it was told to stop.
    fn sounds_in(
        &self,
        stretch: &Stretch,
        (swing, late_ms): (Swing, f64),
        grid: &Grid,
        (first, last): (f64, f64),
        each: &mut impl FnMut(Event) -> bool,
    ) -> bool {
        let (Some(begins), Some(ends)) = (self.sounds.first(), self.sounds.last()) else { return true };
        let ticks_per_second = grid.ticks_per_second();
        let manner = Manner { swing: Some(swing), humanise: self.humanise, late_ms, ticks_per_second };
        let period = self.loop_ticks.map_or(stretch.whole, u64::from).max(1);
        let rounds = (first - ends.at - stretch.from as f64) / period as f64;
        let mut start = stretch.from + period * rounds.max(0.0) as u64;
        while start < stretch.to && start as f64 + begins.at <= last {
            let room = period.min(stretch.to - start);
            let near = self.sounds.partition_point(|s| start as f64 + s.at < first);
            for sound in self.sounds[near..].iter().take_while(|s| start as f64 + s.at <= last) {
                if u64::from(sound.hit.at_ticks) >= room {
                    continue;
                }
                let played = sound.hit.sound(start, sound.repeat, &manner);
                let at = grid.frame_at(played.at_ticks);
                let event = Event {
                    at,
                    length: grid.frame_at(played.at_ticks + played.length_ticks).saturating_sub(at),
                    velocity: played.velocity_gain(),
                    level: if played.level_db == 0.0 { 1.0 } else { db_to_gain(played.level_db) },
                    tune_ct: 100.0 * f64::from(played.tune_st) + played.tune_ct,
                    layer: played.layer,
                    order: (start, sound.place),
                };
                if !each(event) {
                    return false;
                }
            }
            start += period;
        }
        true
    }
}

/// Frames that are looked ahead.
const AHEAD: u64 = 4096;
/// Sounds known ahead at most.
const MOST: usize = 256;

/// The next sounds of a voice.
#[derive(Debug, Clone)]
pub struct Upcoming {
    /// In order of time; those before `next` are over.
    events: Vec<Event>,
    next: usize,
    /// Sounds are known from here to there; nothing is known where they are equal.
    from: u64,
    to: u64,
}

impl Upcoming {
    /// Allocates.
    pub fn new() -> Self {
        Upcoming { events: Vec::with_capacity(MOST + 1), next: 0, from: 0, to: 0 }
    }

    /// What was known holds no more.
    pub fn forget(&mut self) {
        (self.from, self.to, self.next) = (0, 0, 0);
        self.events.clear();
    }

    /// Looks ahead from a frame where nothing is known of it; gives the frame up to which everything is known now.
    pub fn look(&mut self, score: &Score, grid: &Grid, position: u64) -> u64 {
        if self.from < self.to && (self.from..self.to).contains(&position) {
            return self.to;
        }
        self.events.clear();
        self.look_on(score, grid, position);
        self.from = position;
        self.to
    }

    /// Looks on from where everything is known; gives the frame up to which everything is known now.
    pub fn extend(&mut self, score: &Score, grid: &Grid) -> u64 {
        self.events.drain(..self.next);
        self.look_on(score, grid, self.to);
        self.to
    }

    fn look_on(&mut self, score: &Score, grid: &Grid, position: u64) {
        let known = self.events.len();
        let mut ahead = AHEAD;
        loop {
            self.events.truncate(known);
            score.sounds_in(grid, position, position + ahead, &mut |event| {
                self.events.push(event);
                self.events.len() <= MOST
            });
            if self.events.len() <= MOST {
                break;
            }
            // Of too many at once the last few cannot be heard in any case.
            if ahead == 1 {
                self.events.truncate(MOST);
                break;
            }
            ahead /= 2;
        }
        self.events[known..].sort_unstable_by(Event::before);
        (self.to, self.next) = (position + ahead, 0);
    }

    /// Sounds that are still to come.
    pub fn events(&self) -> &[Event] {
        &self.events[self.next..]
    }

    /// Lets go of what begins before a frame.
    pub fn pass(&mut self, position: u64) {
        while self.events.get(self.next).is_some_and(|e| e.at < position) {
            self.next += 1;
        }
        self.from = self.from.max(position.min(self.to));
    }
}

/// What a voice plays, and where it goes.
pub struct Lead {
    pub score: Score,
    pub upcoming: Upcoming,
    /// Index of its channel.
    pub strip: usize,
    pub choke_set: Option<u8>,
}

impl Lead {
    pub fn new() -> Self {
        Lead { score: Score::new(), upcoming: Upcoming::new(), strip: 0, choke_set: None }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::session::{Feel, Part, Section, Session, Song, Tempo};
    use lane_units::{Dice, PatternId, SectionId, VoiceId};

    /// A session of one voice with hits of every sort, and its score.
    fn random(seed: u64) -> (Session, Grid, Score) {
        let mut dice = Dice::new(&[seed]);
        let mut upto = |n: u64| dice.roll() % n;
        let mut s = Session::new("Random", 48_000);
        s.header.tempo_bpm = Tempo::new(40.0 + upto(200) as f64).unwrap();
        s.header.swing.percent = 50.0 + upto(25) as f64;
        let (family, source) = (lane_document::session::Family::Low, lane_document::session::VoiceSource::Empty);
        let voice = lane_document::session::Voice::new(VoiceId(90), "V".into(), family, source, lane_units::StripId(1));
        s.voices.push(voice.into());
        s.patterns.push(lane_document::session::Pattern { id: PatternId(50), name: "B".into(), bars: 1 }.into());
        s.voices.last_mut().unwrap().late_ms = [0.0, -100.0, 62.5][upto(3) as usize];
        s.sections = (0..4)
            .map(|n| {
                let pattern = if upto(2) == 0 { PatternId(50) } else { s.patterns[0].id };
                Section { id: SectionId(60 + n), name: "S".into(), pattern, bars: 1 + upto(3) as u32 }.into()
            })
            .collect();
        for pattern in [s.patterns[0].id, PatternId(50)] {
            let mut hits: Vec<Hit> = (0..upto(40))
                .map(|_| Hit {
                    shift_ticks: upto(900) as i32 - 450,
                    repeats: 1 + upto(8) as u8,
                    slope: upto(40) as i8 - 20,
                    layer: (upto(4) == 0).then_some(upto(3) as u8),
                    ..Hit::new(upto(7680) as u32, 1 + upto(4000) as u32, 1 + upto(127) as u8, upto(24) as i8 - 12)
                })
                .collect();
            hits.sort_by_key(|h| (h.at_ticks, h.tune_st));
            let humanise = (upto(2) == 0).then(|| Humanise {
                seed: upto(99) as u32,
                time_ms: upto(50) as f64,
                level_db: 3.0,
                tune_ct: 20.0,
            });
            let loop_ticks = (upto(3) == 0).then(|| 240 + upto(4000) as u32);
            s.parts.push(Part { loop_ticks, humanise, ..Part::new(pattern, VoiceId(90), hits) }.into());
        }
        let (mut grid, mut score, mut words) = (Grid::new(), Score::new(), Vec::new());
        Grid::write(&Song::new(&s), &mut words);
        grid.take(&mut Reader::new(&words)).unwrap();
        words.clear();
        Score::write_feel(&s, s.voice(VoiceId(90)).unwrap(), &mut words);
        score.take_feel(&mut Reader::new(&words)).unwrap();
        for part in &s.parts {
            words.clear();
            Score::write_part(part.pattern.0, Some(part), &mut words);
            score.take_part(&mut Reader::new(&words)).unwrap();
        }
        (s, grid, score)
    }

    /// Frame and tuning of every sound of the song, by the song itself.
    fn expected(s: &Session) -> Vec<(u64, f64, f64)> {
        let song = Song::new(s);
        let mut all = Vec::new();
        song.sounds_of(s, VoiceId(90), Feel::Played, |x| {
            all.push((song.frame_at(x.at_ticks), 100.0 * f64::from(x.tune_st) + x.tune_ct, x.velocity_gain()));
        });
        all.sort_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)));
        all
    }

    #[test]
    fn what_is_seen_ahead_is_what_the_song_says_whatever_the_steps() {
        for seed in 0..60 {
            let (s, grid, score) = random(seed);
            let expected = expected(&s);
            let mut steps = Dice::new(&[seed, 7]);
            let (mut upcoming, mut found, mut at) = (Upcoming::new(), Vec::new(), 0);
            let end = expected.last().map_or(0, |e| e.0) + 10;
            while at < end {
                let known = upcoming.look(&score, &grid, at);
                let to = (at + 1 + steps.roll() % 3000).min(known);
                let due = upcoming.events().iter().take_while(|e| e.at < to);
                found.extend(due.map(|e| (e.at, e.tune_ct, e.velocity)));
                upcoming.pass(to);
                at = to;
            }
            assert_eq!(found, expected, "seed {seed}");
        }
    }

    #[test]
    fn entered_anywhere_it_plays_what_begins_from_there_on() {
        for seed in 0..40 {
            let (s, grid, score) = random(seed);
            let expected = expected(&s);
            let from = expected.get(expected.len() / 2).map_or(0, |e| e.0);
            let mut upcoming = Upcoming::new();
            let to = upcoming.look(&score, &grid, from);
            let found: Vec<_> = upcoming.events().iter().map(|e| (e.at, e.tune_ct, e.velocity)).collect();
            let wanted: Vec<_> = expected.iter().filter(|e| (from..to).contains(&e.0)).copied().collect();
            assert_eq!(found, wanted, "seed {seed}");
        }
    }

    #[test]
    fn more_sounds_than_are_looked_at_shorten_the_look() {
        let (_, grid, mut score) = random(1);
        let roll = |n| Hit { repeats: 8, ..Hit::new(n, 8, 100, 0) };
        let hits: Vec<Hit> = (0..4000).map(roll).collect();
        let mut words = Vec::new();
        for pattern in [3, 50] {
            words.clear();
            let part = Part::new(PatternId(pattern), VoiceId(90), Vec::clone(&hits));
            Score::write_part(pattern, Some(&part), &mut words);
            score.take_part(&mut Reader::new(&words)).unwrap();
        }
        let mut upcoming = Upcoming::new();
        let to = upcoming.look(&score, &grid, 0);
        assert!(to < AHEAD && upcoming.events().len() <= MOST);
    }
}
