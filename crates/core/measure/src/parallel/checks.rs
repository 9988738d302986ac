//! What is worth a look at parallel paths and buses, once they were heard.

use super::align::whole_frames;
use super::mend::{HeardAlignment, HeardPath, mend};
use lane_document::checks::{Check, Repair};
use lane_document::session::Session;
use lane_dsp::Settings;
use lane_units::{CheckKey, ProcessorId, StripId};
use serde::Deserialize;

/// So much over a budget is none, in dB: under what anybody hears of a level.
const NEAR_DB: f64 = 0.05;

/// What was heard of parallel paths: some of the answer to that question.
#[derive(Debug, Clone, Deserialize)]
pub struct HeardPaths {
    /// Returns against what feeds them.
    pub returns: Vec<HeardPath>,
    /// What is looked at, if anything is.
    pub bench: Option<HeardBench>,
}

/// Some of [`super::ReturnBench`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardBench {
    /// The strip.
    pub strip: StripId,
    /// What its compressor does, if it has one.
    pub press: Option<HeardPress>,
}

/// Some of [`super::Press`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardPress {
    /// The compressor.
    pub processor: ProcessorId,
    /// The most that it takes away, in dB; below 0 where it lifts.
    pub deepest_db: f64,
}

/// Returns that lie off what feeds them, and a compressor that takes more than its budget.
pub fn path_checks(session: &Session, heard: &HeardPaths) -> Vec<Check> {
    let off = heard.returns.iter().filter_map(|path| off(session, path));
    off.chain(heard.bench.and_then(|bench| over_budget(session, &bench))).collect()
}

fn check(session: &Session, key: &str, sentence: String, repair: Option<Repair>) -> Check {
    let key = CheckKey::cleaned(key, "check");
    Check { dismissed: session.dismissed.contains(&key), key, sentence, repair }
}

fn off(session: &Session, path: &HeardPath) -> Option<Check> {
    let edit = mend(session, path)?;
    let how = lies(path.alignment);
    let name = session.strip_name(path.strip);
    let lost = path.alignment.gain_db;
    let sentence = format!("{name} is {how} beside what feeds it: together they lose {lost:.1} dB.");
    let repair = Repair { name: "Mend it".into(), edit };
    Some(check(session, &format!("off {}", path.strip.0), sentence, Some(repair)))
}

/// "37 samples late, inverted".
fn lies(alignment: HeardAlignment) -> String {
    let frames = whole_frames(alignment.delay_frames);
    let samples = |n: u32| format!("{n} sample{}", if n == 1 { "" } else { "s" });
    let when = match frames {
        0 => None,
        late @ 1.. => Some(format!("{} late", samples(late.unsigned_abs()))),
        early => Some(format!("{} early", samples(early.unsigned_abs()))),
    };
    let turned = alignment.inverted.then(|| "inverted".to_owned());
    when.into_iter().chain(turned).collect::<Vec<_>>().join(", ")
}

fn over_budget(session: &Session, bench: &HeardBench) -> Option<Check> {
    let press = bench.press?;
    let processor = session.strip(bench.strip)?.processor(press.processor)?;
    let Settings::Compressor(compressor) = &processor.settings else { return None };
    let (taken, budget) = (press.deepest_db.abs(), compressor.budget_db);
    if budget == 0.0 || taken <= budget + NEAR_DB {
        return None;
    }
    let name = format!("The {} of {}", processor.settings.name().to_lowercase(), session.strip_name(bench.strip));
    let sentence = format!("{name} takes {taken:.1} dB in the loop; its budget is {budget:.1}.");
    Some(check(session, &format!("over budget {}", processor.id.0), sentence, None))
}
