//! File names as names of voices.

/// Characters of a name at most.
const NAME_CHARS: usize = 60;

/// A file name as people would say it: without folders, ending, numbering and underscores.
///
/// ```
/// assert_eq!(lane_files::names::voice_name("kit/01_Kick-deep.wav"), "Kick deep");
/// ```
pub fn voice_name(file_name: &str) -> String {
    let base = file_name.rsplit(['/', '\\']).next().unwrap_or_default();
    let stem = match base.rsplit_once('.') {
        Some((stem, ending)) if !stem.is_empty() && ending.len() <= 5 => stem,
        _ => base,
    };
    let spaced: String =
        stem.chars().map(|c| if matches!(c, '_' | '-' | '.') || c.is_control() { ' ' } else { c }).collect();
    let mut words: Vec<&str> = spaced.split_whitespace().collect();
    while words.len() > 1 && is_order(words[0]) {
        words.remove(0);
    }
    let joined: String = words.join(" ").chars().take(NAME_CHARS).collect();
    let mut chars = joined.trim().chars();
    match chars.next() {
        Some(first) => first.to_uppercase().chain(chars).collect(),
        None => "Voice".into(),
    }
}

/// Whether a number in front says the order of files, and not what is in them: "03" and "12", not "808".
fn is_order(word: &str) -> bool {
    word.chars().all(|c| c.is_ascii_digit()) && (word.len() < 3 || word.starts_with('0'))
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("hat_closed.wav", "Hat closed")]
    #[case("a\\b/03 - Snare top.AIFF", "Snare top")]
    #[case("808.wav", "808")]
    #[case("808 long.wav", "808 long")]
    #[case("007_Hat.wav", "Hat")]
    #[case("12 01 Ride.wav", "Ride")]
    #[case("🥁.flac", "🥁")]
    #[case(".wav", "Wav")]
    #[case("", "Voice")]
    #[case("Kick v1.2 final", "Kick v1 2 final")]
    fn file_names_become_names(#[case] file: &str, #[case] name: &str) {
        assert_eq!(voice_name(file), name);
    }

    #[test]
    fn a_name_of_300_characters_is_cut() {
        assert_eq!(voice_name(&format!("{}.wav", "é".repeat(300))).chars().count(), NAME_CHARS);
    }
}
