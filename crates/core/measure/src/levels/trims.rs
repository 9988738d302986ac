//! Trims that meet the targets, and what sums should come to.

use super::measure::{Measured, StationLevels};
use lane_document::checks::Repair;
use lane_document::edit::{Edit, SetStrips, StripChange};
use lane_document::session::{LaneTarget, SendTap, Session, Strip, StripKind, TargetBy, limits};
use lane_engine::Station;
use lane_units::{StripId, db_to_gain, gain_to_db};
use serde::Serialize;

/// Changes smaller than this are none, in dB.
const SAME_DB: f64 = 0.05;

/// One lane with the trim that meets its target.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TrimLine {
    /// The strip.
    pub strip: StripId,
    /// Its name.
    pub name: String,
    /// What it is to reach.
    pub target: LaneTarget,
    /// Its trim as it is, in dB.
    pub trim_before_db: f64,
    /// Its trim as proposed, in dB.
    pub trim_after_db: f64,
    /// Level after trim, in what the target is given in.
    pub level_before_db: f64,
    /// Its level with that, in the unit of its target.
    pub level_after_db: f64,
    /// Its sample peak after trim with that, in dBFS: over 0 it overloads what comes next.
    pub peak_after_dbfs: Option<f64>,
    /// Whether the trim would change by enough to be heard of.
    pub changes: bool,
}

/// Trims for every lane that sounds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Proposal {
    /// Strip by strip.
    pub lines: Vec<TrimLine>,
    /// Lanes that were silent over the loop.
    pub silent: Vec<String>,
}

fn level(levels: &StationLevels, by: TargetBy) -> Option<f64> {
    match by {
        TargetBy::Peak => levels.sample_peak_dbfs,
        TargetBy::TruePeak => levels.true_peak_dbtp,
        TargetBy::Rms => levels.sounding_dbfs,
        TargetBy::Loudness => levels.lufs,
    }
}

/// What a strip is to reach: its own target, or the session's.
fn target(session: &Session, strip: &Strip) -> LaneTarget {
    strip.target.unwrap_or(session.header.targets.lane)
}

/// Trims by which every channel meets its target after trim.
pub fn propose(session: &Session, measured: &Measured) -> Proposal {
    let mut proposal = Proposal { lines: Vec::new(), silent: Vec::new() };
    for strip in session.strips.iter().filter(|s| s.kind == StripKind::Channel) {
        let (name, target) = (session.strip_name(strip.id), target(session, strip));
        let levels = measured.at(strip.id, Station::Trimmed);
        let Some(found) = levels.and_then(|s| level(s, target.by)) else {
            proposal.silent.push(name);
            continue;
        };
        let (least, most) = limits::TRIM_DB;
        let wanted = (strip.trim_db + target.db - found).clamp(least, most);
        let to = (wanted * 10.0).round() / 10.0;
        proposal.lines.push(TrimLine {
            strip: strip.id,
            name,
            target,
            trim_before_db: strip.trim_db,
            trim_after_db: to,
            level_before_db: found,
            level_after_db: found + to - strip.trim_db,
            peak_after_dbfs: levels.and_then(|s| s.sample_peak_dbfs).map(|db| db + to - strip.trim_db),
            changes: (to - strip.trim_db).abs() > SAME_DB,
        });
    }
    proposal
}

/// What brings the sum to its target: main's fader, behind all that is not linear.
///
/// Nothing where main is silent, is there already, or its fader would have to go further than it can.
pub fn sum_repair(session: &Session, measured: &Measured) -> Option<Repair> {
    let main = session.main()?;
    let peak = measured.at(main.id, Station::Out)?.true_peak_dbtp?;
    let target = session.header.targets.sum_dbtp;
    // In steps that are shown, and never over it.
    let by = libm::floor(10.0 * (target - peak) + 1e-6) / 10.0;
    let (least, most) = limits::FADER_DB;
    let to = libm::round(100.0 * (main.fader_db + by)) / 100.0;
    if by.abs() < SAME_DB || !(least + 0.1..=most).contains(&to) {
        return None;
    }
    let change = StripChange::FaderDb(to);
    Some(Repair {
        name: format!(
            "Main to {target:.1} dBTP: its fader {} by {:.1} dB",
            if by < 0.0 { "down" } else { "up" },
            by.abs()
        ),
        edit: Edit::SetStrips(SetStrips { strips: vec![main.id], change }),
    })
}

/// What comes together on one strip.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct SumLine {
    /// The bus, return or main.
    pub strip: StripId,
    /// Strips that feed it and sound.
    pub feeders: u32,
    /// RMS that feeders without anything in common would come to, in dBFS.
    pub expected_dbfs: Option<f64>,
    /// RMS that came together.
    pub measured_dbfs: Option<f64>,
    /// True peak after its fader, in dBTP.
    pub true_peak_dbtp: Option<f64>,
}

/// The sums on returns, buses and main, in the order of the board.
pub fn sums(session: &Session, measured: &Measured) -> Vec<SumLine> {
    let power = |id: StripId, station: Station| {
        let rms = measured.at(id, station).and_then(|s| s.rms_dbfs)?;
        Some(db_to_gain(rms) * db_to_gain(rms))
    };
    let before_fader = |strip: &Strip| strip.chain.last().map_or(Station::Trimmed, |p| Station::Processor(p.id));
    let line = |strip: &Strip| {
        let fed = session.strips.iter().flat_map(|s| {
            let output = (s.output == Some(strip.id)).then(|| power(s.id, Station::Out)).flatten();
            let send = s.send_to(strip.id).filter(|send| !send.mute).and_then(|send| {
                let station = if send.tap == SendTap::PreFader { before_fader(s) } else { Station::Out };
                let gain = db_to_gain(send.level_db);
                power(s.id, station).map(|p| p * gain * gain)
            });
            output.into_iter().chain(send)
        });
        let (feeders, sum) = fed.fold((0, 0.0), |(n, sum), p| (n + 1, sum + p));
        SumLine {
            strip: strip.id,
            feeders,
            expected_dbfs: (feeders > 0).then(|| gain_to_db(libm::sqrt(sum))),
            measured_dbfs: measured.at(strip.id, Station::Source).and_then(|s| s.rms_dbfs),
            true_peak_dbtp: measured.at(strip.id, Station::Out).and_then(|s| s.true_peak_dbtp),
        }
    };
    let strips = session.strips_in_board_order().into_iter().filter_map(|id| session.strip(id));
    strips.filter(|s| !s.takes_voices()).map(line).collect()
}
