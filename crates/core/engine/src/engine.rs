//! An engine: what it holds, and how a block is computed.

use crate::following::build::{Gone, Next, STEP};
use crate::following::compile::Compiler;
use crate::strips::connection::{self, Connection};
use crate::strips::listen::{Listened, TakenAway};
use crate::strips::ring::Turn;
use crate::strips::station::{Bypass, Metering, Station};
use crate::strips::strip::{StripState, Time};
use crate::time::clock::Clock;
use crate::time::playhead::{LoopRange, Playhead};
use crate::time::score::{Event, Grid, Lead};
use crate::voices::kept::Kept;
use crate::voices::player::{Kernels, Reading, VoicePlayer};
use lane_document::session::{AssetBank, Audio, Session};
use lane_dsp::{Ramp, Seam};
use lane_units::{Frame, ProcessorId, StripId, VoiceId, db_to_gain};
use std::sync::Arc;

/// Plays one session.
pub struct Engine {
    pub(super) strips: Vec<StripState>,
    pub(super) connections: Vec<Connection>,
    pub(super) players: Vec<VoicePlayer>,
    /// By the players.
    pub(super) leads: Vec<Lead>,
    pub(super) grid: Grid,
    pub(super) turn: Turn,
    pub(super) clock: Clock,
    /// Where the last piece stands, and how long it is.
    pub(super) last: (Turn, usize),
    pub(super) reading: Reading,
    /// Audio by number.
    pub(super) shelf: Vec<Option<Arc<Audio>>>,
    pub(super) listening: Option<(StripId, ProcessorId, Listened)>,
    /// Always there; set aside while a block is rendered.
    pub(super) taken: Option<Box<TakenAway>>,
    pub(super) listen_seam: Seam,
    /// Processors that are passed by, with linear gains.
    pub(super) bypass: Vec<(ProcessorId, f64)>,
    pub(super) monitor: Ramp<1>,
    pub(super) capacity: usize,
    pub(super) sample_rate: u32,
    pub(super) metering: Metering,
    pub(super) playing: bool,
    pub(super) position: u64,
    pub(super) looping: Option<LoopRange>,
    pub(super) hits_until: u64,
    /// Words that are still to be followed, and how far they are.
    pub(super) pending: Vec<f64>,
    pub(super) followed: usize,
    /// The structure that is being made.
    pub(super) next: Option<Box<Next>>,
    /// Counts structures that stood in.
    pub(super) structures: u64,
    pub(super) gone: Vec<Gone>,
}

impl Engine {
    /// An engine at the start of the song, stopped, without a session. Allocates.
    ///
    /// * `max_block` – the largest number of frames computed in one piece, at least 1.
    pub fn empty(sample_rate: u32, max_block: usize, metering: Metering) -> Self {
        Engine::on(Kernels::new(), sample_rate, max_block, metering)
    }

    /// An engine without a session beside another one: with its audio under the same numbers, and where it stands in the
    /// song. Both go on alike from there, as long as they are asked the same. Allocates; what pitched sounds need is the
    /// other one's ([`Engine::reading_of`]).
    pub fn beside(other: &Engine, metering: Metering) -> Self {
        let kernels = Kernels::beside(&other.reading.kernels);
        let mut engine = Engine::on(kernels, other.sample_rate, other.capacity, metering);
        engine.shelf.clone_from(&other.shelf);
        engine.keep_step_with(other);
        engine
    }

    fn on(kernels: Kernels, sample_rate: u32, max_block: usize, metering: Metering) -> Self {
        let turn = Turn { length: 4096.max((max_block + 2048).next_power_of_two()), at: 0 };
        Engine {
            strips: Vec::new(),
            connections: Vec::new(),
            players: Vec::new(),
            leads: Vec::new(),
            grid: Grid::new(),
            turn,
            clock: Clock::new(),
            last: (turn, 0),
            reading: Reading { kernels, kept: Kept::new() },
            shelf: Vec::new(),
            listening: None,
            taken: Some(Box::new(TakenAway::new(max_block.max(1)))),
            listen_seam: Seam::new(sample_rate),
            bypass: Vec::new(),
            monitor: Ramp::at([1.0]),
            capacity: max_block.max(1),
            sample_rate,
            metering,
            playing: false,
            position: 0,
            looping: None,
            hits_until: u64::MAX,
            pending: Vec::with_capacity(8 * STEP),
            followed: 0,
            next: None,
            structures: 0,
            gone: Vec::new(),
        }
    }

    /// An engine with a session, all made and ready. Allocates.
    ///
    /// Voices whose audio is not in the bank are silent.
    pub fn new(session: &Session, bank: &AssetBank, max_block: usize, metering: Metering) -> Self {
        let mut engine = Engine::empty(session.header.sample_rate, max_block, metering);
        let mut compiler = Compiler::new();
        engine.take(compiler.changes(session));
        engine.finish();
        for asset in &session.assets {
            if let Some(audio) = bank.get(&asset.id) {
                engine.shelve(compiler.number(&asset.id), audio.clone());
            }
        }
        engine
    }

    /// Follows what a [`Compiler`] said, as much as a block has time for, and goes on with the rest in the blocks that
    /// come. Fit for the audio thread, where no new structure is among it and no part has more hits than ever.
    pub fn take(&mut self, words: &[f64]) {
        self.pending.extend_from_slice(words);
        self.go_on(STEP);
    }

    /// Sets aside the room that pitched sounds may come to need, so that none has to be found while something plays.
    /// Allocates.
    pub fn reserve(&mut self) {
        self.reading.kept.reserve();
    }

    /// Lets this engine work with the pitched sounds that another one keeps: the bits are the same, the memory is shared, and
    /// what one has read is there for both. Audio has the same numbers in both. Fit for the audio thread.
    pub fn reading_of<T>(&mut self, other: &mut Engine, work: impl FnOnce(&mut Engine) -> T) -> T {
        std::mem::swap(&mut self.reading, &mut other.reading);
        let done = work(self);
        std::mem::swap(&mut self.reading, &mut other.reading);
        done
    }

    /// Nothing that sounds goes by what was kept so far.
    pub fn forget_kept(&mut self) {
        self.players.iter_mut().for_each(VoicePlayer::forget_places);
    }

    /// Whether something that was taken is not followed yet.
    pub fn is_busy(&self) -> bool {
        self.followed < self.pending.len()
    }

    /// Counts new structures that stand; [`Engine::meter_layout`] changes with it.
    pub fn structures(&self) -> u64 {
        self.structures
    }

    /// Follows everything that was taken, now. Allocates.
    pub fn finish(&mut self) {
        while self.is_busy() {
            self.go_on(usize::MAX);
        }
        while !self.reading.kernels.go_on(usize::MAX / 2) {}
        self.gone.clear();
    }

    /// Puts audio on the shelf under the number that the compiler gave it. Allocates where the shelf has to grow.
    pub fn shelve(&mut self, number: usize, audio: Arc<Audio>) {
        if self.shelf.len() <= number {
            self.shelf.resize(number + 1, None);
        }
        self.shelf[number] = Some(audio);
        self.players.iter_mut().filter(|p| p.uses(number)).for_each(VoicePlayer::forget_places);
        self.reading.kept.forget(number);
    }

    /// Keeps what is after trim of every strip, for [`Engine::tap`]. Allocates.
    pub fn keep_dry(&mut self) {
        self.strips.iter_mut().for_each(|s| s.keep_dry(self.capacity));
    }

    /// Computes silence like sound, which gives the same bits, to be compared.
    pub fn stay_awake(&mut self) {
        self.strips.iter_mut().for_each(|s| s.awake = true);
    }

    /// Passes processors by, and no others, within 5 ms and without a gap. They work on unheard.
    pub fn pass_by(&mut self, bypass: &Bypass) {
        self.bypass = bypass.processors.iter().map(|(id, db)| (*id, db_to_gain(*db))).collect();
        self.strips.iter_mut().for_each(|s| s.pass_by(&self.bypass));
        self.monitor.go_to([db_to_gain(bypass.main_db)], self.sample_rate);
    }

    /// Plays on from where it stands. Fit for the audio thread.
    pub fn play(&mut self) {
        self.playing = true;
    }

    /// Hits that are known of voices hold no more.
    pub(super) fn forget_hits(&mut self) {
        self.leads.iter_mut().for_each(|l| l.upcoming.forget());
        for keeping in self.strips.iter_mut().flat_map(|s| &mut s.slots).filter_map(|s| s.keeping.as_mut()) {
            keeping.forget();
        }
    }

    /// Stands where another engine stands in the song, in its loop, playing or not.
    fn keep_step_with(&mut self, other: &Engine) {
        self.playing = other.playing;
        self.position = other.position;
        self.looping = other.looping;
        self.hits_until = other.hits_until;
    }

    /// Lets go of the audio of a number.
    pub fn unshelve(&mut self, number: usize) {
        if let Some(place) = self.shelf.get_mut(number) {
            *place = None;
        }
    }

    /// The audio of a number, where it is there.
    pub fn shelved(&self, number: usize) -> Option<&Arc<Audio>> {
        self.shelf.get(number)?.as_ref()
    }

    /// Where the song stands before the next frame.
    pub fn playhead(&self) -> Playhead {
        Playhead { playing: self.playing, position: self.position, looping: self.looping }
    }

    /// Goes on as another engine was asked to: where it stands, in its loop, playing or not, with what is listened to and
    /// what is passed by. Allocates where something is passed by.
    pub fn go_on_like(&mut self, other: &Engine) {
        self.keep_step_with(other);
        self.listen(other.listening);
        self.bypass.clone_from(&other.bypass);
        self.monitor = other.monitor.clone();
    }

    /// Stops the song; what sounds fades within 5 ms.
    pub fn stop(&mut self) {
        self.playing = false;
        self.players.iter_mut().for_each(VoicePlayer::release_all);
    }

    /// Whether it plays.
    pub fn is_playing(&self) -> bool {
        self.playing
    }

    /// Frames from bar 1. Where a loop has just come to its end this is its start, which sounds next.
    pub fn position(&self) -> u64 {
        match self.looping {
            Some(range) if self.playing && self.position == range.to => range.from,
            _ => self.position,
        }
    }

    /// Jumps to a frame; what sounds fades within 5 ms.
    pub fn seek(&mut self, frame: u64) {
        self.position = frame;
        for (player, lead) in self.players.iter_mut().zip(&mut self.leads) {
            player.release_all();
            lead.upcoming.forget();
        }
    }

    /// Repeats a range; an empty one is ignored. A position behind its end goes on without repeating.
    pub fn set_loop(&mut self, range: Option<LoopRange>) {
        self.looping = range.filter(|r| r.to > r.from);
    }

    /// Plays into a loop from so many frames before its end on, so that all rings as it will once the loop begins.
    ///
    /// * `ring` – at most the length of the loop.
    pub fn play_into(&mut self, range: LoopRange, ring: u64) {
        self.set_loop(Some(range));
        self.seek(range.to.saturating_sub(ring));
        self.play();
    }

    /// Hits at and after this frame are not played any more, while what sounds rings on.
    pub fn set_hits_until(&mut self, frame: u64) {
        self.hits_until = frame;
    }

    /// Plays one hit of a voice now, whether the song runs or not: all its layers or one, at a tuning that
    /// hits of the song have. The rest of its choke set ends.
    pub fn audition(&mut self, voice: VoiceId, velocity: f64, layer: Option<u8>, tune_st: i32) {
        let hit = Event::now(velocity, 100.0 * f64::from(tune_st), layer);
        let set = self.players.iter().zip(&self.leads).find(|(p, _)| p.id == voice).and_then(|(_, l)| l.choke_set);
        for (player, lead) in self.players.iter_mut().zip(&self.leads) {
            if player.id == voice {
                player.start(&hit, &self.shelf, &mut self.reading);
            } else if set.is_some() && lead.choke_set == set {
                player.choke();
            }
        }
    }

    /// What [`Engine::process`] gives: main, or something of a processor. Fit for the audio thread.
    pub fn listen(&mut self, of: Option<(StripId, ProcessorId, Listened)>) {
        if self.listening == of {
            return;
        }
        self.listening = of;
        self.listen_seam.arm();
        if let Some(taken) = &mut self.taken {
            let taken_of = of.filter(|(.., what)| *what == Listened::Taken);
            taken.begin(taken_of.map(|(strip, processor, _)| (strip, processor)));
        }
    }

    /// Renders the next frames of main, any number of them.
    pub fn process(&mut self, main: &mut [Frame]) {
        self.process_heard(main, &mut |_, _, _| ());
    }

    /// The same; `hear` gets what sounds at every station, in pieces.
    pub fn process_heard(&mut self, main: &mut [Frame], hear: &mut impl FnMut(StripId, Station, &[Frame])) {
        let mut done = 0;
        while done < main.len() {
            let frames = self.process_piece_heard(main.len() - done, hear);
            let piece = &mut main[done..done + frames];
            match (self.listened(), self.strips.last()) {
                (Some(key), _) => piece.copy_from_slice(&key[..frames]),
                // Adding nothing leaves one zero only.
                (None, Some(main)) => {
                    let (turn, count) = self.last;
                    let main = main.out.now(turn, count);
                    piece.iter_mut().zip(main).for_each(|(to, [l, r])| *to = [l + 0.0, r + 0.0]);
                }
                (None, None) => piece.fill([0.0; 2]),
            }
            self.monitor.run_on(piece, |[gain], [l, r]| [l * gain, r * gain]);
            self.listen_seam.run(piece);
            done += frames;
        }
    }

    fn listened(&self) -> Option<&[Frame]> {
        let (strip, processor, what) = self.listening?;
        if what == Listened::Taken {
            return self.taken.as_ref().map(|taken| &taken.frames[..]);
        }
        let strip = self.strips.iter().find(|s| s.id == strip)?;
        let key = strip.slots.iter().find(|s| s.id == processor)?.key.as_ref()?;
        Some(&key.frames)
    }

    /// Renders at most `frames` frames in one piece and says how many; then [`Engine::tap`] has them.
    pub fn process_piece(&mut self, frames: usize) -> usize {
        self.process_piece_heard(frames, &mut |_, _, _| ())
    }

    fn process_piece_heard(&mut self, frames: usize, hear: &mut impl FnMut(StripId, Station, &[Frame])) -> usize {
        if self.is_busy() {
            self.go_on(STEP);
        }
        self.tend();
        let mut count = frames.min(self.capacity).min(self.turn.room());
        if self.playing
            && let Some(range) = self.looping
        {
            if self.position == range.to {
                self.jump_back(range.from);
            }
            if self.position < range.to {
                count = count.min((range.to - self.position) as usize);
            }
        }
        self.render_heard(count, hear);
        if self.playing {
            self.position += count as u64;
        }
        count
    }

    fn jump_back(&mut self, to: u64) {
        self.position = to;
        for (player, lead) in self.players.iter_mut().zip(&mut self.leads) {
            player.jump();
            lead.upcoming.forget();
        }
    }

    fn render_heard(&mut self, count: usize, hear: &mut impl FnMut(StripId, Station, &[Frame])) {
        let mut taken = self.taken.take();
        match taken.as_deref_mut().and_then(|taken| taken.of.map(|of| (of, taken))) {
            Some(((strip, processor), taken)) => {
                let around = self.around(strip, processor);
                self.render(count, &mut |of, station, frames| {
                    if of == strip {
                        taken.hear(around, station, frames);
                    }
                    hear(of, station, frames);
                });
            }
            None => self.render(count, hear),
        }
        self.taken = taken;
    }

    fn render(&mut self, count: usize, hear: &mut impl FnMut(StripId, Station, &[Frame])) {
        let turn = self.turn;
        self.clock.note(self.playing, self.position);
        self.strips.iter_mut().for_each(StripState::begin);
        self.render_voices(count);
        let time = Time { clock: &self.clock, grid: &self.grid, leads: &self.leads, hits_until: self.hits_until };
        let mut connections = self.connections.iter_mut().peekable();
        for at in 0..self.strips.len() {
            let (before, after) = self.strips.split_at_mut(at + 1);
            let strip = &mut before[at];
            let id = strip.id;
            strip.run(turn, count, self.metering, time, &mut |station, frames| hear(id, station, frames));
            // Strips stand in order, so what a strip feeds comes behind it.
            while let Some(connection) = connections.next_if(|c| c.from == at) {
                let ring = match connection.source {
                    connection::Source::Out => &strip.out,
                    connection::Source::AfterChain => &strip.pre,
                };
                let Some(to) = connection.to.checked_sub(at + 1).and_then(|to| after.get_mut(to)) else { continue };
                let meeting = match connection.slot {
                    Some(slot) => to.slots.get_mut(slot).and_then(|s| s.key.as_mut()),
                    None => Some(&mut to.input),
                };
                if let Some(meeting) = meeting {
                    connection.run(ring, turn, meeting, count);
                }
            }
        }
        self.last = (turn, count);
        self.clock.pass(count);
        self.turn.pass(count);
    }

    fn render_voices(&mut self, count: usize) {
        let turn = self.turn;
        let span = self.playing.then_some((self.position, self.hits_until));
        if let Some((position, _)) = span {
            for Lead { score, upcoming, .. } in &mut self.leads {
                let mut known = upcoming.look(score, &self.grid, position);
                // What is known may end within the block.
                while known < position + count as u64 {
                    known = upcoming.extend(score, &self.grid);
                }
            }
        }
        for strip in &mut self.strips {
            if let Some(ring) = &mut strip.voices {
                ring.silence(turn, count);
                ring.sounding = false;
            }
        }
        for (at, (player, lead)) in self.players.iter_mut().zip(&self.leads).enumerate() {
            let Some(ring) = self.strips.get_mut(lead.strip).and_then(|s| s.voices.as_mut()) else { continue };
            let events = if span.is_some() { lead.upcoming.events() } else { &[] };
            let choked = |from: u64| {
                let set = lead.choke_set?;
                let others = self.leads.iter().enumerate().filter(|(n, l)| *n != at && l.choke_set == Some(set));
                others.filter_map(|(_, l)| l.upcoming.events().iter().map(|e| e.at).find(|at| *at >= from)).min()
            };
            if !player.is_silent(span, events, count, &self.shelf) {
                ring.sounding = true;
                player.render(span, events, choked, ring.block(turn, count), &self.shelf, &mut self.reading);
            }
        }
        if let Some((position, _)) = span {
            self.leads.iter_mut().for_each(|l| l.upcoming.pass(position + count as u64));
        }
        for strip in &mut self.strips {
            if let Some(ring) = &mut strip.voices {
                ring.made(count, !ring.sounding);
            }
            strip.take_voices(turn, count);
        }
    }
}
