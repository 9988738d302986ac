//! What a way does to a small steady sound: its gain with its sign, and delays that are meant.

use crate::routing::{Means, Way};
use crate::session::{Polarity, SendTap, Session, Strip};
use lane_dsp::{Mix, Settings};
use lane_units::{counted, db_to_gain};

/// A way in figures. Mute, solo and pan are left out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WayGain {
    /// Linear, negative where it turns the sound round.
    pub gain: f64,
    /// Whether no processor on the way colours the sound.
    pub plain: bool,
    /// Samples that delays on the way add on purpose.
    pub delay: f64,
    /// Whether it goes through a room or echoes, which are never late.
    pub echoes: bool,
}

impl WayGain {
    /// Samples by which this way comes later than another of the same sound, where that combs.
    pub fn late_against(&self, other: &WayGain) -> f64 {
        if self.echoes || other.echoes { 0.0 } else { self.delay - other.delay }
    }
}

/// "240 samples (5.0 ms) later", or earlier where negative.
pub fn later_by(session: &Session, samples: f64) -> String {
    let ms = samples.abs() / f64::from(session.header.sample_rate) * 1000.0;
    let word = if samples > 0.0 { "later" } else { "earlier" };
    format!("{} ({ms:.1} ms) {word}", counted(samples.abs(), "sample"))
}

/// The gain of a way from its first strip's input to the output of its last.
pub fn way_gain(session: &Session, way: &Way) -> WayGain {
    let mut found = WayGain { gain: 1.0, plain: true, delay: 0.0, echoes: false };
    for (at, id) in way.strips.iter().enumerate() {
        let Some(strip) = session.strip(*id) else { continue };
        chain_gain(strip, &mut found);
        let send = match way.means.get(at) {
            Some(Means::Send) => way.strips.get(at + 1).and_then(|to| strip.send_to(*to)),
            _ => None,
        };
        if let Some(send) = send {
            found.gain *= db_to_gain(send.level_db);
        }
        if send.is_none_or(|s| s.tap == SendTap::PostFader) {
            found.gain *= db_to_gain(strip.fader_db);
        }
    }
    found
}

fn chain_gain(strip: &Strip, found: &mut WayGain) {
    let sign = if strip.polarity == Polarity::Inverted { -1.0 } else { 1.0 };
    found.gain *= sign * db_to_gain(strip.trim_db);
    found.delay += f64::from(strip.offset_frames);
    for processor in strip.chain.iter().filter(|p| p.on && p.mix_percent > 0.0) {
        let wet = if processor.settings.mix() == Mix::Gains { 1.0 } else { processor.mix_percent / 100.0 };
        let through = db_to_gain(processor.input_db + processor.output_db) * processor.settings.gain_at_rest();
        found.gain *= 1.0 - wet + wet * through;
        match &processor.settings {
            Settings::StereoImage(image) => found.delay += image.delay_frames,
            Settings::Equaliser(equaliser) if equaliser.bands.is_empty() => {}
            settings => {
                found.plain = false;
                found.echoes |= matches!(settings, Settings::Reverb(_) | Settings::Delay(_));
            }
        }
    }
}
