//! File names of stems: a pattern with fields, safe on every file system, no two alike.

use lane_document::session::{Session, Tap};
use std::collections::HashSet;

/// Fields that a label pattern may hold, with what they stand for.
pub const FIELDS: [(&str, &str); 7] = [
    ("{number}", "01, 02 …"),
    ("{voice}", "the strip's name"),
    ("{tap}", "dry or channel"),
    ("{title}", "the session's title"),
    ("{tempo}", "quarter notes a minute"),
    ("{key}", "the key"),
    ("{version}", "v1, v2 …"),
];

/// Bytes of a file name at most, its ending included; well under the 255 of common file systems.
const NAME_BYTES: usize = 180;
/// Names that one file system or another keeps for devices.
const RESERVED: [&str; 22] = [
    "con", "prn", "aux", "nul", "com1", "com2", "com3", "com4", "com5", "com6", "com7", "com8", "com9", "lpt1", "lpt2",
    "lpt3", "lpt4", "lpt5", "lpt6", "lpt7", "lpt8", "lpt9",
];

/// Text as it may stand in a file name: letters, digits, `#`, `-`, `_` and single dots; spaces become hyphens.
pub fn safe(text: &str) -> String {
    let mut out = String::new();
    for c in text.trim().chars() {
        match c {
            c if c.is_alphanumeric() || c == '_' || c == '#' => out.push(c),
            '.' if !out.is_empty() && !out.ends_with('.') => out.push('.'),
            _ if out.is_empty() || out.ends_with('-') => {}
            _ => out.push('-'),
        }
    }
    out.trim_end_matches(['-', '.']).to_owned()
}

/// The tempo as people write it: no digits behind the point that say nothing.
pub fn tempo_text(tempo_bpm: f64) -> String {
    let text = format!("{tempo_bpm:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// One stem to be named.
pub struct Named<'a> {
    /// The strip's name.
    pub name: &'a str,
    /// Where its sound is taken.
    pub tap: Tap,
}

/// File names for stems in their order, with the ending `.wav`.
///
/// Fields without a value vanish with the separator before them. Where two names are alike but for case, the
/// later one gets a number.
pub fn labels(session: &Session, version: u32, stems: &[Named]) -> Vec<String> {
    let header = &session.header;
    let digits = stems.len().to_string().len().max(2);
    let mut taken: HashSet<String> = HashSet::new();
    stems
        .iter()
        .enumerate()
        .map(|(at, stem)| {
            let tap = match stem.tap {
                Tap::Dry => "dry",
                Tap::Channel => "channel",
            };
            let filled = session
                .stem_plan
                .label
                .replace("{number}", &format!("{:0digits$}", at + 1))
                .replace("{voice}", &safe(stem.name))
                .replace("{tap}", tap)
                .replace("{title}", &safe(&header.title))
                .replace("{tempo}", &tempo_text(header.tempo_bpm.bpm()))
                .replace("{key}", &safe(&header.key))
                // Who writes the v has it once.
                .replace("v{version}", "{version}")
                .replace("V{version}", "{version}")
                .replace("{version}", &format!("v{version}"));
            unlike(tidy(&filled, at + 1), &mut taken)
        })
        .collect()
}

/// What stands in braces in a label pattern and is none of the [`FIELDS`], each once.
pub fn unknown_fields(pattern: &str) -> Vec<&str> {
    let mut unknown: Vec<&str> = Vec::new();
    for (at, _) in pattern.match_indices('{') {
        let Some(length) = pattern[at..].find('}') else { break };
        let field = &pattern[at..=at + length];
        if !FIELDS.iter().any(|(known, _)| *known == field) && !unknown.contains(&field) {
            unknown.push(field);
        }
    }
    unknown
}

/// A safe file name without ending: no empty fields, not too long, no reserved word.
fn tidy(filled: &str, number: usize) -> String {
    let mut name = safe(&filled.split('_').filter(|part| !part.trim().is_empty()).collect::<Vec<_>>().join("_"));
    while name.len() > NAME_BYTES - 10 {
        name.pop();
    }
    let stem = name.split('.').next().unwrap_or_default().to_lowercase();
    if name.is_empty() || RESERVED.contains(&stem.as_str()) {
        name = format!("{number:02}_{name}").trim_end_matches('_').to_owned();
    }
    name
}

fn unlike(name: String, taken: &mut HashSet<String>) -> String {
    let mut unique = name.clone();
    let mut count = 2;
    while taken.contains(&unique.to_lowercase()) {
        unique = format!("{name}-{count}");
        count += 1;
    }
    taken.insert(unique.to_lowercase());
    format!("{unique}.wav")
}
