//! Where a loop could be cut, and which tempo it could have.

use lane_analysis::{LoopTempo, guess_family, loop_tempi, onsets};
use lane_document::session::{AssetBank, Audio, Family, Session, VoiceSource};
use lane_units::VoiceId;
use serde::Serialize;

/// The longest loop that is listened to, in seconds.
const LOOP_SECONDS: u32 = 120;
/// Values of the picture of a loop.
const OVERVIEW: usize = 1200;
/// What of a piece says what was hit, in parts of a second; the rest is often what still rings.
const HEARD: u32 = 6;

/// A piece of a loop from one hit to the next.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct LoopPiece {
    /// Its first frame.
    pub start_frame: u32,
    /// The frame behind its last.
    pub end_frame: u32,
    /// What its sound speaks for.
    pub family: Family,
}

/// Where a loop could be cut.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct LoopCuts {
    /// How long it is.
    pub frames: u32,
    /// Peaks of 1200 slices, 0 to 1.
    pub overview: Vec<f32>,
    /// From each hit to the next.
    pub pieces: Vec<LoopPiece>,
    /// The best first.
    pub tempi: Vec<LoopTempo>,
}

/// Why a voice has no cuts, for people.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[expect(missing_docs, reason = "its messages say what each is")]
pub enum NoCuts {
    #[error("voice {0} is not in the session any more")]
    Gone(u32),
    #[error("{0} has no sound that could be cut")]
    NoSound(String),
    #[error("{0} is longer than {LOOP_SECONDS} s; cut a shorter piece of it and drop that")]
    TooLong(String),
    #[error("the audio of {0} is missing; bring it in again")]
    Missing(String),
}

/// Where the sound of a voice could be cut; of layers, the first one's.
///
/// * `sensitivity` – 0 (only the strongest hits) to 1 (the faintest too).
///
/// # Errors
/// [`NoCuts`] where the voice has no sound, a longer one than a loop, or one that is not at hand.
pub fn loop_cuts(session: &Session, bank: &AssetBank, voice: VoiceId, sensitivity: f64) -> Result<LoopCuts, NoCuts> {
    let found = session.voice(voice).ok_or(NoCuts::Gone(voice.0))?;
    let name = || found.name.to_string();
    let asset = match &found.source {
        VoiceSource::Empty => None,
        VoiceSource::OneShot { layers, .. } => layers.first().and_then(|l| session.asset(&l.asset)),
        VoiceSource::Recording { asset, .. } => session.asset(asset),
    };
    let asset = asset.ok_or_else(|| NoCuts::NoSound(name()))?;
    let rate = asset.sample_rate;
    if asset.frames > LOOP_SECONDS * rate {
        return Err(NoCuts::TooLong(name()));
    }
    let audio = bank.get(&asset.id).ok_or_else(|| NoCuts::Missing(name()))?;
    let mut hits = onsets(audio, rate, sensitivity);
    if let Some(first) = hits.first_mut().filter(|first| **first < (rate / WITHIN) as usize) {
        *first = 0;
    }
    Ok(LoopCuts {
        frames: asset.frames,
        overview: overview(audio),
        pieces: pieces(audio, &hits, rate),
        tempi: loop_tempi(audio.frames(), &hits, rate, session.header.metre),
    })
}

fn overview(audio: &Audio) -> Vec<f32> {
    let frames = audio.frames();
    (0..OVERVIEW)
        .map(|n| {
            let (from, to) = (n * frames / OVERVIEW, ((n + 1) * frames / OVERVIEW).max(n * frames / OVERVIEW + 1));
            let peak = (from..to).flat_map(|at| audio.frame(at as isize)).fold(0.0, |p: f32, s| p.max(s.abs()));
            libm::roundf(peak * 1000.0) / 1000.0
        })
        .collect()
}

/// A loop whose first hit begins within such a part of a second is cut from its first frame, which loses nothing of it.
const WITHIN: u32 = 100;

/// From each beginning to the next, with the family that its sound speaks for.
fn pieces(audio: &Audio, onsets: &[usize], sample_rate: u32) -> Vec<LoopPiece> {
    let ends = onsets.iter().skip(1).copied().chain([audio.frames()]);
    let side = usize::from(audio.channels());
    onsets
        .iter()
        .zip(ends)
        .filter(|(start, end)| *start < end)
        .map(|(start, end)| {
            let heard = (*start + (sample_rate / HEARD) as usize).min(end);
            let samples = audio.samples()[start * side..heard * side].to_vec();
            let family = Audio::new(audio.channels(), samples)
                .map_or(Family::Percussion, |piece| guess_family("", &piece, sample_rate));
            LoopPiece { start_frame: *start as u32, end_frame: end as u32, family }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::edit::{AddVoices, Edit, NewVoice, apply};
    use lane_document::session::{AssetRef, Hold, Layer};
    use lane_units::{AssetId, SAMPLE_RATES};
    use rstest::rstest;
    use std::sync::Arc;

    /// A session with one lane that plays a sound, at 120 bpm.
    fn playing(audio: Audio, rate: u32) -> (Session, AssetBank) {
        let mut session = Session::new("Loop", rate);
        let id = AssetId("aa".repeat(32));
        let frames = audio.frames() as u32;
        let asset = AssetRef { id: id.clone(), name: "loop.wav".into(), channels: 1, sample_rate: rate, frames };
        let voice = NewVoice {
            trim_db: 0.0,
            name: "Loop".into(),
            family: Family::Percussion,
            source: VoiceSource::OneShot { layers: vec![Layer::new(id.clone())], hold: Hold::Whole },
            output: None,
            hits: vec![],
        };
        apply(&mut session, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
        (session, AssetBank::from([(id, Arc::new(audio))]))
    }

    /// Bursts of noise every so many frames.
    fn clicks(every: usize, count: usize) -> Audio {
        let mut samples = vec![0.0; every * count];
        let mut noise: u32 = 1;
        for (n, sample) in samples.iter_mut().enumerate() {
            noise = noise.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            let white = f64::from(noise >> 8) / f64::from(1 << 23) - 1.0;
            *sample = (0.6 * white * libm::exp(-((n % every) as f64) / 600.0)) as f32;
        }
        Audio::new(1, samples).unwrap()
    }

    #[rstest]
    fn a_loop_says_where_it_can_be_cut_and_its_tempo(#[values(0, 1, 3)] rate: usize) {
        let rate = SAMPLE_RATES[rate];
        // Eight quarters at 120 bpm.
        let quarter = rate as usize / 2;
        let (session, bank) = playing(clicks(quarter, 8), rate);
        let cuts = loop_cuts(&session, &bank, session.voices[0].id, 0.6).unwrap();
        let starts: Vec<i64> = cuts.pieces.iter().map(|p| i64::from(p.start_frame)).collect();
        assert_eq!(starts.len(), 8, "{starts:?}");
        let near = i64::from(rate / 100);
        assert!(starts.iter().enumerate().all(|(n, at)| (at - (n * quarter) as i64).abs() < near), "{starts:?}");
        assert_eq!(starts[0], 0, "the first hit is whole");
        assert!(cuts.pieces.windows(2).all(|p| p[0].end_frame == p[1].start_frame));
        assert_eq!((cuts.tempi[0].bpm, cuts.tempi[0].bars, cuts.frames), (120.0, 2, 8 * quarter as u32));
        assert!(cuts.overview.len() == OVERVIEW && cuts.overview[0] > 0.3);
    }

    #[test]
    fn silence_has_no_cuts() {
        let (session, bank) = playing(Audio::new(1, vec![0.0; 48_000]).unwrap(), 48_000);
        assert!(loop_cuts(&session, &bank, session.voices[0].id, 1.0).unwrap().pieces.is_empty());
    }

    #[test]
    fn what_cannot_be_cut_says_why() {
        let (session, bank) = playing(Audio::new(1, vec![0.0; 44_100 * 121]).unwrap(), 44_100);
        let voice = session.voices[0].id;
        let reason = |found: Result<LoopCuts, NoCuts>| found.unwrap_err().to_string();
        assert!(reason(loop_cuts(&session, &bank, voice, 0.6)).starts_with("Loop is longer than 120 s"));
        assert!(reason(loop_cuts(&session, &bank, VoiceId(999), 0.6)).contains("not in the session any more"));
        let (session, _) = playing(clicks(100, 2), 48_000);
        assert!(reason(loop_cuts(&session, &AssetBank::new(), voice, 0.6)).contains("missing"));
    }
}
