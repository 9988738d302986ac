//! Hits of a recording, for a trigger that hits where it does.

use lane_analysis::onsets;
use lane_document::session::{AssetBank, Audio, Hit, Session, Song, VoiceSource, limits};
use lane_units::{PatternId, VoiceId};
use serde::Serialize;

/// Hits that a voice would have in a pattern.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct RecordedHits {
    /// The pattern.
    pub pattern: PatternId,
    /// In order.
    pub hits: Vec<Hit>,
}

/// Length of a hit in ticks: long enough for any click.
const LENGTH_TICKS: u32 = 240;
/// How hard a hit is told by the highest sample within so many seconds.
const LOUD_S: f64 = 0.03;

/// Where a recording hits, by the patterns of the song: of a pattern that comes several times, the first time counts. Their
/// velocity says how loud they are against the loudest. Nothing where the voice is no recording, or its audio is not there.
///
/// * `sensitivity` – 0 (only the strongest hits) to 1 (the faintest too).
///
/// Cost: a transform for every 3 ms of the recording.
pub fn recorded_hits(
    session: &Session,
    bank: &AssetBank,
    voice: VoiceId,
    sensitivity: f64,
) -> Option<Vec<RecordedHits>> {
    let voice = session.voice(voice)?;
    let VoiceSource::Recording { asset, start_frame } = &voice.source else { return None };
    let audio = bank.get(asset)?;
    let rate = session.header.sample_rate;
    let song = Song::new(session);
    let swing = session.header.swing;
    let found = onsets(audio, rate, sensitivity);
    let loud: Vec<f64> = found.iter().map(|at| peak(audio, *at, (LOUD_S * f64::from(rate)) as usize)).collect();
    let most = loud.iter().copied().fold(1e-9, f64::max);
    let mut all: Vec<RecordedHits> = Vec::new();
    for section in song.sections() {
        if all.iter().any(|known| known.pattern == section.pattern) {
            continue;
        }
        let bar = |bar: u32| f64::from(bar) * f64::from(song.bar_ticks());
        let (from, to) = (bar(section.span.from), bar(section.span.to.min(section.span.from + section.pattern_bars)));
        let mut hits: Vec<Hit> = Vec::new();
        for (at, loud) in found.iter().zip(&loud) {
            let ticks = libm::round((*at as f64 + f64::from(*start_frame)) / song.frames_per_tick());
            if !(from..to).contains(&ticks) || hits.len() >= limits::HITS_IN_PART {
                continue;
            }
            let at_ticks = (ticks - from) as u32;
            // A velocity's gain is its square.
            let velocity = libm::round(127.0 * libm::sqrt(loud / most)).clamp(1.0, 127.0) as u8;
            let mut hit = Hit::new(at_ticks, LENGTH_TICKS, velocity, 0);
            // The recording does not swing.
            hit.shift_ticks = -libm::round(swing.shift_ticks(at_ticks)) as i32;
            if hits.last().is_none_or(|last| last.at_ticks < at_ticks) {
                hits.push(hit);
            }
        }
        all.push(RecordedHits { pattern: section.pattern, hits });
    }
    Some(all)
}

fn peak(audio: &Audio, from: usize, frames: usize) -> f64 {
    let loud = |n: usize| audio.frame(n as isize).into_iter().fold(0.0_f32, |most, x| most.max(x.abs()));
    (from..from + frames).map(loud).fold(0.0, |most, x| most.max(f64::from(x)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::edit::{AddTriggers, AddVoices, Edit, NewVoice, apply};
    use lane_document::session::{AssetRef, Family, Hold, Layer, Swing, SwingGrid, Tempo};
    use lane_engine::planned_hits;
    use lane_units::{AssetId, Dice};
    use rstest::rstest;
    use std::sync::Arc;

    /// A trigger made of them hits where the recording does, whatever the tempo and the swing.
    #[rstest]
    fn a_trigger_hits_where_the_recording_does(
        #[values(80.0, 123.4)] bpm: f64,
        #[values(50.0, 66.7)] swing: f64,
        #[values(0, 7000)] start_frame: u32,
    ) {
        let mut session = Session::new("Loop", 48_000);
        session.header.tempo_bpm = Tempo::new(bpm).unwrap();
        session.header.swing = Swing { percent: swing, grid: SwingGrid::Sixteenth };
        session.patterns[0].bars = 1;
        let at = [900_usize, 13_000, 25_500, 38_000, 61_234];
        let mut dice = Dice::new(&[4]);
        let mut samples = vec![0.0_f32; 80_000];
        for (n, start) in at.iter().enumerate() {
            let level = [0.8, 0.4][n % 2];
            for t in 0..6000 {
                samples[start + t] += (level * dice.spread() * libm::exp(-(t as f64) / 900.0)) as f32;
            }
        }
        let frames = samples.len() as u32;
        let id = AssetId("ab".repeat(32));
        let mut bank = AssetBank::new();
        bank.insert(id.clone(), Arc::new(Audio::new(1, samples).unwrap()));
        let asset = AssetRef { id: id.clone(), name: "Loop".into(), channels: 1, sample_rate: 48_000, frames };
        let voice = |name: &str, source, hits| NewVoice {
            trim_db: 0.0,
            name: name.parse().unwrap(),
            family: Family::Percussion,
            source,
            output: None,
            hits,
        };
        let source = VoiceSource::Recording { asset: id.clone(), start_frame };
        let add = Edit::AddVoices(AddVoices { voices: vec![voice("Loop", source, vec![])], assets: vec![asset] });
        apply(&mut session, &add).unwrap();
        let found = recorded_hits(&session, &bank, session.voices[0].id, 0.5).unwrap();
        let hits =
            found.into_iter().map(|h| lane_document::edit::NewHits { pattern: h.pattern, hits: h.hits }).collect();
        let source = VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole };
        apply(
            &mut session,
            &Edit::AddTriggers(AddTriggers { voices: vec![voice("Trigger", source, hits)], assets: vec![] }),
        )
        .unwrap();
        let trigger = session.voices[1].channel;
        let planned = planned_hits(&session, &[trigger], 0, 80_000);
        assert_eq!(planned.len(), at.len(), "{planned:?}");
        for (hit, (n, at)) in planned.iter().zip(at.iter().enumerate()) {
            let wanted = *at as u64 + u64::from(start_frame);
            // A tick is 0.8 ms at 80 bpm; the rise is told to a millisecond.
            assert!(hit.at.abs_diff(wanted) < 144, "{hit:?} for {wanted}");
            let velocity = if n % 2 == 0 { 127.0 } else { 127.0 * libm::sqrt(0.5) };
            assert!((f64::from(hit.velocity) - velocity).abs() < 8.0, "{hit:?}");
        }
        assert_eq!(recorded_hits(&session, &bank, session.voices[1].id, 0.5), None, "it is no recording");
    }
}
