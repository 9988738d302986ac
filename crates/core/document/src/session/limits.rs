//! The one table of bounds: of documents, of edits, of what a session holds. Checks, the published schema and the
//! page read it.

use lane_units::{KeyName, LabelPattern, Name, Purpose, Title};
use serde::Serialize;

/// The schema version that this code reads and writes.
pub const SCHEMA: u32 = 4;

/// One bound as other languages read it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[serde(untagged)]
pub enum Limit {
    /// At most so many.
    Most(u64),
    /// From the first to the second.
    Range(f64, f64),
}

macro_rules! limits {
    (
        most { $($(#[$most_doc:meta])* $most:ident: $type:ty = $value:expr;)* }
        ranges { $($(#[$range_doc:meta])* $range:ident = ($least:expr, $up_to:expr);)* }
    ) => {
        $(
            #[doc = concat!("`", stringify!($most), "` at most.")]
            $(#[$most_doc])*
            pub const $most: $type = $value;
        )*
        $(
            #[doc = concat!("`", stringify!($range), "` from and to.")]
            $(#[$range_doc])*
            pub const $range: (f64, f64) = ($least, $up_to);
        )*

        /// Every bound by its name.
        pub fn table() -> Vec<(&'static str, Limit)> {
            vec![
                $((stringify!($most), Limit::Most($most as u64)),)*
                $((stringify!($range), Limit::Range($range.0, $range.1)),)*
            ]
        }
    };
}

limits! {
    most {
        TITLE_CHARS: usize = Title::MAX_CHARS;
        NAME_CHARS: usize = Name::MAX_CHARS;
        KEY_CHARS: usize = KeyName::MAX_CHARS;
        PURPOSE_CHARS: usize = Purpose::MAX_CHARS;
        LABEL_CHARS: usize = LabelPattern::MAX_CHARS;
        VOICES: usize = 512;
        STRIPS: usize = 1024;
        RETURNS: usize = 64;
        /// On one strip.
        PROCESSORS: usize = 32;
        /// Under one voice.
        LAYERS: usize = 64;
        PATTERNS: usize = 256;
        SECTIONS: usize = 256;
        /// Pairs of a pattern and a voice with hits in it.
        PARTS: usize = 16_384;
        HITS_IN_PART: usize = 20_000;
        /// In all patterns together.
        HITS: usize = 200_000;
        TAKES: usize = 64;
        TAKE_NOTES: usize = 200_000;
        /// In all takes together.
        NOTES: usize = 400_000;
        /// Tracks of one take.
        TAKE_TRACKS: usize = 1024;
        /// Checks out of sight.
        DISMISSED: usize = 1000;
        /// Recordings that a mix is held against.
        REFERENCES: usize = 16;
        /// Bar of the song that a reference begins at.
        REFERENCE_BAR: u32 = 65_535;
        /// Pieces of audio that a session names.
        ASSETS: usize = 4096;
        /// Edits in one.
        BATCH_EDITS: usize = 1000;
        /// Rows that all edits of one name together.
        BATCH_ROWS: usize = 16_384;
        /// Pieces that a loop is cut into.
        PIECES: usize = 1024;
        /// The whole song, and every pattern.
        SONG_SECONDS: u32 = 3600;
        /// One recording.
        RECORDING_SECONDS: u32 = 1800;
        /// The audio of one session as it is played, in 32-bit samples: what a page can hold.
        SESSION_AUDIO_BYTES: u64 = 1536 << 20;
        /// Ticks of an hour at the fastest tempo; no position in a song lies behind it.
        SONG_TICKS: u32 = 23_040_000;
        /// Positions of tracks and notes of a take.
        NOTE_TICKS: u32 = u32::MAX / 4;
    }
    ranges {
        TEMPO_BPM = (20.0, 400.0);
        TRIM_DB = (lane_units::OFF_DB, 24.0);
        OFFSET_FRAMES = (-9600.0, 9600.0);
        LANE_TARGET_DB = (-60.0, 0.0);
        SUM_TARGET_DBTP = (-30.0, 0.0);
        FADER_DB = (lane_units::OFF_DB, 12.0);
        SLOT_DB = (-60.0, 24.0);
        MIX_PERCENT = (0.0, 100.0);
        KEY_DB = (lane_units::OFF_DB, 24.0);
        KEY_EVEN_PERCENT = (0.0, 100.0);
        KEY_HZ = (0.0, 20_000.0);
        PAN_PERCENT = (-100.0, 100.0);
        WIDTH_PERCENT = (0.0, 200.0);
        SWING_PERCENT = (50.0, 75.0);
        LATE_MS = (-100.0, 100.0);
        CHOKE_SET = (1.0, 16.0);
        TUNE_CT = (-4800.0, 4800.0);
        RELEASE_MS = (1.0, 5000.0);
        LAYER_DELAY_MS = (0.0, 500.0);
        FADE_MS = (0.0, 5000.0);
        HOLD_MS = (0.0, 10_000.0);
        DECAY_MS = (1.0, 10_000.0);
        CURVE_PERCENT = (-100.0, 100.0);
        SWEEP_ST = (-48.0, 48.0);
        SWEEP_MS = (1.0, 2000.0);
        VELOCITY_PERCENT = (0.0, 100.0);
        VELOCITY = (1.0, 127.0);
        HIT_TUNE_ST = (-48.0, 48.0);
        LENGTH_TICKS = (1.0, SONG_TICKS as f64);
        LOOP_TICKS = (60.0, SONG_TICKS as f64);
        SHIFT_TICKS = (-480.0, 480.0);
        REPEATS = (1.0, 8.0);
        SLOPE = (-60.0, 60.0);
        HUMANISE_MS = (0.0, 50.0);
        HUMANISE_DB = (0.0, 12.0);
        HUMANISE_CT = (0.0, 100.0);
    }
}
