//! What can be asked of a session as it is played, and what is answered. One list: a new kind of measuring is a question,
//! its answer, and the two lines below that lead from the one to the other.

use crate::cuts::{LoopCuts, loop_cuts};
use crate::ducking::{
    Ducker, DuckerWaves, Ducking, Focus, Goal, PairFigures, RecordedHits, Room, Solved, make_room, recorded_hits, solve,
};
use crate::levels::{Measured, Measuring, Proposal, Suggestion, SumLine, propose, suggest, sum_repair, sums};
use crate::parallel::{Blend, Comb, FoundBlend, PathReading, Paths, PathsAsked, PressGoal, PressSolved, ReturnBench};
use crate::recording::Way;
use crate::run::{PARTS, SENSITIVITY};
use crate::sides::{Hearing, SideFigures};
use crate::tuning::{Tuning, measure};
use lane_document::checks::Repair;
use lane_document::edit::{self, Edit};
use lane_document::json::{FromJson, JsonError, ToJson};
use lane_document::session::{AssetBank, AssetRef, Audio, Session};
use lane_engine::LoopRange;
use lane_units::{AssetId, ProcessorId, VoiceId};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;
use std::sync::Arc;

/// What is asked.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "about", rename_all = "snake_case")]
pub enum Question {
    /// What every station carries over the loop.
    Levels {
        /// Whether all processors are passed by.
        without: bool,
    },
    /// What duckers do.
    Duckers {
        /// The one that is looked at.
        focus: Option<ProcessorId>,
        /// What it shall do; else all are heard.
        goal: Option<Goal>,
        /// Whether a way to make room is looked for, where it stands and takes nothing away yet.
        room: bool,
    },
    /// How parallel paths lie, and what raising the return that is looked at brings. A question about it is answered alone.
    Paths {
        /// What is looked at.
        asked: PathsAsked,
        /// What its first compressor shall do.
        goal: Option<PressGoal>,
        /// The budget of peak in dB that its highest blend is looked for in.
        budget_db: Option<f64>,
        /// Another level of it in dB, of which the figures are asked for.
        fader_db: Option<f64>,
    },
    /// How the session sounds as a side.
    Side {
        /// Whether all processors are left out.
        without: bool,
    },
    /// How a recording sounds as a side.
    SideRecording {
        /// Its address.
        asset: AssetId,
        /// How it goes along with the song.
        way: Way,
    },
    /// Where a recording hits.
    Recorded {
        /// Whose.
        voice: VoiceId,
    },
    /// What kick and bass sound, and the ways to tune the kick.
    Tuning {
        /// The kick.
        kick: VoiceId,
        /// The bass, where there is one.
        bass: Option<VoiceId>,
    },
    /// Where a loop could be cut.
    Cuts {
        /// Whose sound.
        voice: VoiceId,
        /// How faint a hit is found, 0 to 1.
        sensitivity: f64,
    },
}

/// What is answered.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(tag = "about", rename_all = "snake_case")]
#[expect(missing_docs, reason = "each is the answer to the question of its name")]
pub enum Answer {
    Levels(Levels),
    Duckers(Ducked),
    Paths(Pathed),
    Side(SideFigures),
    SideRecording(SideFigures),
    Recorded { hits: Vec<RecordedHits> },
    Tuning(Tuning),
    Cuts(LoopCuts),
}

/// What a run over all stations found, and what follows from it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Levels {
    /// What every station carries.
    pub measured: Measured,
    /// Trims that bring every lane to its target.
    pub proposal: Proposal,
    /// What comes together, and how loud that is.
    pub sums: Vec<SumLine>,
    /// What is worth a look.
    pub suggestions: Vec<Suggestion>,
    /// What brings the sum to its target, where it is not there.
    pub sum_repair: Option<Repair>,
}

/// What was heard of duckers.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Ducked {
    /// In the order of strips and chains.
    pub duckers: Vec<Ducker>,
    /// Around each of them, in the same order.
    pub waves: Vec<DuckerWaves>,
    /// Settings that were asked for; nothing where its kind has none.
    pub solved: Option<Solved>,
    /// What the one that is looked at does to what it ducks and its key together; nothing beside a question.
    pub pair: Option<PairFigures>,
    /// A way to make room, where that was asked for.
    pub room: Option<Room>,
}

/// What was heard of parallel paths; of a question, its answer alone.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Pathed {
    /// How every return lies against what feeds it.
    pub returns: Vec<PathReading>,
    /// How lanes lie against the first of them.
    pub lanes: Vec<PathReading>,
    /// What the first two lanes do to each other.
    pub comb: Option<Comb>,
    /// What was found of the return that is looked at.
    pub bench: Option<ReturnBench>,
    /// Settings that were asked for.
    pub solved: Option<PressSolved>,
    /// The highest blend within a budget.
    pub found: Option<FoundBlend>,
    /// The blend at the level that was asked for.
    pub at: Option<Blend>,
}

impl FromJson for Question {
    fn from_json(json: &[u8]) -> Result<Self, JsonError> {
        serde_json::from_slice(json)
    }
}

impl ToJson for Answer {
    fn to_json(&self) -> Result<Vec<u8>, JsonError> {
        serde_json::to_vec(self)
    }
}

/// Why a question has no answer, for people.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct NoAnswer(String);

fn no(error: impl ToString) -> NoAnswer {
    NoAnswer(error.to_string())
}

/// What is heard for a question, on its way.
enum Heard {
    Nothing,
    Levels(Box<Measuring>),
    Duckers(Box<Ducking>),
    Paths(Box<Paths>),
    Side(Box<Hearing>),
}

impl Heard {
    fn step(&mut self, frames: u64) -> f64 {
        match self {
            Heard::Nothing => 1.0,
            Heard::Levels(run) => run.step(frames),
            Heard::Duckers(run) => run.step(frames),
            Heard::Paths(run) => run.step(frames),
            Heard::Side(run) => run.step(frames),
        }
    }
}

impl Question {
    /// The voices whose audio it takes; nothing where it takes all.
    fn voices(&self) -> Option<Vec<VoiceId>> {
        match self {
            Question::Recorded { voice } | Question::Cuts { voice, .. } => Some(vec![*voice]),
            Question::Tuning { kick, bass } => Some([Some(*kick), *bass].into_iter().flatten().collect()),
            Question::SideRecording { .. } => Some(Vec::new()),
            Question::Levels { .. } | Question::Duckers { .. } | Question::Paths { .. } | Question::Side { .. } => None,
        }
    }

    /// Begins what has to be heard.
    fn hear(&self, session: &Session, bank: &AssetBank, range: LoopRange) -> Result<Heard, NoAnswer> {
        Ok(match self {
            Question::Levels { without: false } => Heard::Levels(Box::new(Measuring::new(session, bank, range))),
            Question::Levels { without: true } => Heard::Levels(Box::new(Measuring::without(session, bank, range))),
            Question::Duckers { focus, goal, room } => {
                let focus = match focus {
                    None => Focus::None,
                    // A question is about one alone.
                    Some(id) if goal.is_some() || *room => Focus::Alone(*id),
                    Some(id) => Focus::Beside(*id),
                };
                Heard::Duckers(Box::new(Ducking::new(session, bank, range, focus)))
            }
            Question::Paths { asked, .. } => Heard::Paths(Box::new(Paths::new(session, bank, range, asked))),
            Question::Side { without: false } => Heard::Side(Box::new(Hearing::session(session, bank, range))),
            Question::Side { without: true } => {
                Heard::Side(Box::new(Hearing::session(&session.without_processors(), bank, range)))
            }
            Question::SideRecording { asset, way } => {
                let audio = bank.get(asset).cloned();
                let audio = audio.ok_or_else(|| no("the audio of the recording is gone; bring it in again"))?;
                Heard::Side(Box::new(Hearing::recording(audio, *way, session.header.sample_rate, range)))
            }
            Question::Recorded { .. } | Question::Tuning { .. } | Question::Cuts { .. } => Heard::Nothing,
        })
    }

    /// The answer, from what was heard.
    fn answer(&self, heard: &Heard, session: &Session, bank: &AssetBank) -> Result<Answer, NoAnswer> {
        Ok(match (self, heard) {
            (Question::Levels { .. }, Heard::Levels(run)) => {
                let measured = run.read();
                Answer::Levels(Levels {
                    proposal: propose(session, &measured),
                    sums: sums(session, &measured),
                    suggestions: suggest(session, &measured),
                    sum_repair: sum_repair(session, &measured),
                    measured,
                })
            }
            (Question::Duckers { focus, goal, room }, Heard::Duckers(run)) => {
                let duckers = run.read();
                let asks = goal.is_some() || *room;
                Answer::Duckers(Ducked {
                    waves: duckers.iter().filter_map(|d| run.waves(d.processor, PARTS)).collect(),
                    solved: focus.zip(*goal).and_then(|(id, goal)| solve(run, id, goal)),
                    room: focus.filter(|_| *room).and_then(|id| make_room(run, id)),
                    pair: if asks { None } else { run.pair_figures() },
                    duckers,
                })
            }
            (Question::Paths { goal, budget_db, fader_db, .. }, Heard::Paths(run)) => {
                let solved = goal.and_then(|goal| run.solve(goal));
                let found = budget_db.and_then(|db| run.within(db));
                let at = fader_db.and_then(|db| run.blend_at(db));
                let asks = goal.is_some() || budget_db.is_some() || fader_db.is_some();
                Answer::Paths(match asks {
                    true => Pathed { solved, found, at, ..Pathed::default() },
                    false => Pathed {
                        returns: run.returns(),
                        lanes: run.lanes(),
                        comb: run.lanes_comb(),
                        bench: run.bench(),
                        ..Pathed::default()
                    },
                })
            }
            (Question::Side { .. }, Heard::Side(run)) => Answer::Side(run.read()),
            (Question::SideRecording { .. }, Heard::Side(run)) => Answer::SideRecording(run.read()),
            (Question::Recorded { voice }, _) => {
                let hits = recorded_hits(session, bank, *voice, SENSITIVITY);
                Answer::Recorded {
                    hits: hits.ok_or_else(|| no("that lane is no recording, or its audio is not here yet"))?,
                }
            }
            (Question::Tuning { kick, bass }, _) => Answer::Tuning(measure(session, bank, *kick, *bass)),
            (Question::Cuts { voice, sensitivity }, _) => {
                Answer::Cuts(loop_cuts(session, bank, *voice, *sensitivity).map_err(no)?)
            }
            _ => return Err(no("something else was heard")),
        })
    }
}

/// What answers questions about a session: one at a time, in pieces.
#[derive(Default)]
pub struct Gauge {
    session: Option<Session>,
    bank: AssetBank,
    asked: Option<(Question, LoopRange)>,
    heard: Option<Heard>,
    /// A recording that no voice plays: kept for one question.
    borrowed: Option<AssetId>,
}

impl Gauge {
    /// Opens the session that is asked about, with edits that are made of it beforehand.
    ///
    /// # Errors
    /// [`NoAnswer`] where an edit is refused.
    pub fn open(&mut self, mut session: Session, edits: &[Edit]) -> Result<(), NoAnswer> {
        (self.session, self.heard) = (None, None);
        self.give_back();
        for edit in edits {
            edit::apply(&mut session, edit).map_err(no)?;
        }
        self.session = Some(session);
        Ok(())
    }

    /// Takes audio.
    pub fn keep(&mut self, id: AssetId, audio: Arc<Audio>) {
        self.bank.insert(id, audio);
    }

    /// Asks something; gives the audio of the session that it takes and that is not here. What stays missing is silent.
    ///
    /// * `range` – in frames, not empty.
    ///
    /// # Errors
    /// [`NoAnswer`] where no session is open.
    pub fn ask(&mut self, question: Question, range: LoopRange) -> Result<Vec<AssetRef>, NoAnswer> {
        let session = self.session.as_ref().ok_or_else(|| no("no session is open"))?;
        if range.to <= range.from {
            return Err(no("the loop is empty; choose at least one bar"));
        }
        let named: HashSet<&AssetId> = match &question {
            Question::SideRecording { asset, .. } => HashSet::from([asset]),
            _ => {
                let voices = question.voices();
                let takes = |id| voices.as_ref().is_none_or(|of| of.contains(&id));
                session.voices.iter().filter(|v| takes(v.id)).flat_map(|v| v.source.assets()).collect()
            }
        };
        let missing = session.assets.iter().filter(|a| named.contains(&a.id) && !self.bank.contains_key(&a.id));
        let missing = missing.map(|asset| (**asset).clone()).collect();
        self.borrowed = match &question {
            Question::SideRecording { asset, .. } => {
                let played = session.voices.iter().any(|v| v.source.assets().contains(&asset));
                (!played).then(|| asset.clone())
            }
            _ => None,
        };
        self.asked = Some((question, range));
        Ok(missing)
    }

    /// Begins what has to be heard for what was asked.
    ///
    /// * `again` – answers from what was heard last, where that is of the same kind.
    ///
    /// # Errors
    /// [`NoAnswer`] where it cannot be heard.
    pub fn begin(&mut self, again: bool) -> Result<(), NoAnswer> {
        let (Some(session), Some((question, range))) = (&self.session, &self.asked) else {
            return Err(no("nothing was asked"));
        };
        if again && self.heard.is_some() {
            return Ok(());
        }
        self.heard = None;
        self.heard = Some(question.hear(session, &self.bank, *range)?);
        Ok(())
    }

    /// Goes on for about so many frames; gives how far it is, 1 at its end.
    pub fn step(&mut self, frames: u64) -> f64 {
        self.heard.as_mut().map_or(1.0, |heard| heard.step(frames))
    }

    /// The answer to what was asked. A recording that no voice plays is let go of.
    ///
    /// # Errors
    /// [`NoAnswer`] where it has none.
    pub fn answer(&mut self) -> Result<Answer, NoAnswer> {
        let (Some(session), Some((question, _)), Some(heard)) = (&self.session, &self.asked, &self.heard) else {
            return Err(no("nothing was asked"));
        };
        let answer = question.answer(heard, session, &self.bank);
        self.give_back();
        answer
    }

    /// Lets go of a recording that was heard, or was to be and was called off.
    fn give_back(&mut self) {
        if let Some(id) = self.borrowed.take() {
            self.bank.remove(&id);
            self.heard = None;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_units::SAMPLE_RATES;
    use rstest::rstest;

    /// A gauge with an empty session and a recording that is none of its own.
    fn lent(rate: u32) -> (Gauge, Question) {
        let mut gauge = Gauge::default();
        gauge.open(Session::new("Beat", rate), &[]).unwrap();
        let asset = AssetId("ab".repeat(32));
        let samples = (0..rate).map(|n| libm::sinf(n as f32 * 0.1)).collect();
        gauge.keep(asset.clone(), Arc::new(Audio::new(1, samples).unwrap()));
        let way = Way { follows: false, start: 0, from: 0, to: u64::from(rate) };
        (gauge, Question::SideRecording { asset, way })
    }
    const RANGE: LoopRange = LoopRange { from: 0, to: 4800 };

    #[rstest]
    fn a_recording_that_is_lent_is_heard_once_and_let_go_of(#[values(0, 1, 3)] rate: usize) {
        let (mut gauge, question) = lent(SAMPLE_RATES[rate]);
        assert_eq!(gauge.ask(question.clone(), RANGE).unwrap(), []);
        gauge.begin(false).unwrap();
        while gauge.step(1000) < 1.0 {}
        let Answer::SideRecording(figures) = gauge.answer().unwrap() else { panic!("another answer") };
        assert!(figures.lufs.is_some_and(|lufs| lufs > -10.0), "{figures:?}");
        assert!(gauge.bank.is_empty());
        gauge.ask(question, RANGE).unwrap();
        assert!(gauge.begin(false).unwrap_err().to_string().contains("is gone"));
    }

    #[test]
    fn a_recording_whose_run_is_called_off_is_let_go_of_as_well() {
        let (mut gauge, question) = lent(48_000);
        gauge.ask(question, RANGE).unwrap();
        gauge.begin(false).unwrap();
        gauge.step(1000);
        gauge.open(Session::new("Beat", 48_000), &[]).unwrap();
        assert!(gauge.bank.is_empty());
        assert_eq!(gauge.step(1000), 1.0, "nothing is heard any more");
    }

    #[rstest]
    #[case(0, 0)]
    #[case(10, 10)]
    #[case(10, 9)]
    fn an_empty_range_is_refused(#[case] from: u64, #[case] to: u64) {
        let (mut gauge, _) = lent(48_000);
        let refused = gauge.ask(Question::Levels { without: false }, LoopRange { from, to });
        assert!(refused.unwrap_err().to_string().contains("the loop is empty"));
    }
}
