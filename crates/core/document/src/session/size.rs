//! How large a document is, and how large it may grow.

use super::fault::at_most;
use super::{DocumentError, Session, StripKind, limits};

/// What of a document is bounded. A document that was larger before a bound was set stays as it is, and may shrink.
#[derive(Debug, Clone, PartialEq)]
pub struct Size {
    counts: [(&'static str, usize, usize); 13],
    song_seconds: f64,
    /// The longest pattern: its place, and how long it is.
    longest_pattern: (usize, f64),
    audio_bytes: u64,
}

impl Size {
    /// Cost: a pass over lists, none over hits or notes.
    pub fn of(s: &Session) -> Self {
        let bar = u64::from(s.header.metre.bar_ticks());
        let seconds = |bars: u64| s.header.tempo_bpm.seconds_of(bars.saturating_mul(bar));
        // A new list or field does not compile until it is counted here, or said to be of one size.
        let Session {
            voices,
            strips,
            patterns,
            sections,
            parts,
            takes,
            assets,
            dismissed,
            references,
            schema: _,
            header: _,
            stem_plan: _,
            mix_bus: _,
            next_id: _,
        } = s;
        let returns = strips.iter().filter(|x| x.kind == StripKind::Return).count();
        let longest = patterns.iter().enumerate().max_by_key(|(_, p)| p.bars);
        Size {
            counts: [
                ("voices", voices.len(), limits::VOICES),
                ("strips", strips.len(), limits::STRIPS),
                ("returns", returns, limits::RETURNS),
                ("patterns", patterns.len(), limits::PATTERNS),
                ("sections", sections.len(), limits::SECTIONS),
                ("voices with hits, pattern by pattern", parts.len(), limits::PARTS),
                ("hits", parts.iter().map(|p| p.hits.len()).sum(), limits::HITS),
                ("takes", takes.len(), limits::TAKES),
                ("notes of takes", takes.iter().map(|t| t.take.notes.len()).sum(), limits::NOTES),
                ("notes of one take", takes.iter().map(|t| t.take.notes.len()).max().unwrap_or(0), limits::TAKE_NOTES),
                ("pieces of audio", assets.len(), limits::ASSETS),
                ("checks out of sight", dismissed.len(), limits::DISMISSED),
                ("references", references.len(), limits::REFERENCES),
            ],
            song_seconds: seconds(sections.iter().map(|x| u64::from(x.bars)).sum()),
            longest_pattern: longest.map_or((0, 0.0), |(at, p)| (at, seconds(u64::from(p.bars)))),
            audio_bytes: s.audio_bytes(),
        }
    }

    /// Checks a document that was this large before some change.
    ///
    /// # Errors
    /// The first bound that it passed and was within, or passed less, before.
    pub fn allows(&self, s: &Session) -> Result<(), DocumentError> {
        let now = Size::of(s);
        for ((what, given, max), (_, before, _)) in now.counts.iter().zip(&self.counts) {
            at_most(what, *given, *max.max(before))?;
        }
        let max = f64::from(limits::SONG_SECONDS);
        let (at, pattern) = now.longest_pattern;
        if pattern > max.max(self.longest_pattern.1) {
            let what = s.patterns.get(at).map_or_else(String::new, |p| format!("pattern {}", p.name));
            return Err(DocumentError::TooLong { what, given: pattern, max });
        }
        if now.song_seconds > max.max(self.song_seconds) {
            return Err(DocumentError::TooLong { what: "the song".into(), given: now.song_seconds, max });
        }
        if now.audio_bytes > limits::SESSION_AUDIO_BYTES.max(self.audio_bytes) {
            let (given_mib, max_mib) = (now.audio_bytes.div_ceil(1 << 20), limits::SESSION_AUDIO_BYTES >> 20);
            return Err(DocumentError::TooMuchAudio { given_mib, max_mib });
        }
        Ok(())
    }

    /// Nothing at all: what starts from here has to be within every bound.
    pub fn none() -> Self {
        let nothing = Session { assets: vec![], ..Session::new("Nothing", 48_000) };
        Size::of(&nothing)
    }
}

impl Session {
    /// Bytes of its audio as it is played, in 32-bit samples.
    pub fn audio_bytes(&self) -> u64 {
        self.assets.iter().map(|a| a.bytes()).sum()
    }
}
