//! Names and texts that people write.

use super::repair::repaired_or;
use serde::{Deserialize, Deserializer, Serialize};
use std::fmt;
use std::ops::Deref;
use std::str::FromStr;
use unicode_normalization::{UnicodeNormalization, is_nfc};

/// Text of `MIN` to `MAX` characters in Unicode's composed form (NFC), without white space around it, without
/// control characters and without characters that turn the direction of what stands around them. Letters and
/// signs of every script stay as they are.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(transparent)]
pub struct Text<const MIN: usize, const MAX: usize>(String);

/// What a session is called.
pub type Title = Text<1, 120>;
/// What a voice, a bus, a pattern or a section is called.
pub type Name = Text<1, 80>;
/// A name that may be empty, as of a channel that is called after its voices.
pub type StripName = Text<0, 80>;
/// A musical key as people write it.
pub type KeyName = Text<0, 24>;
/// The pattern of file names.
pub type LabelPattern = Text<1, 200>;
/// The name of a file that came in.
pub type FileName = Text<0, 200>;
/// What a check is known by.
pub type CheckKey = Text<1, 400>;
/// What a template is for.
pub type Purpose = Text<0, 200>;
/// A sentence or two.
pub type Sentence = Text<0, 400>;

/// Why characters are no text.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
pub enum TextError {
    #[error("a text has {given} characters; {min} to {max} are allowed")]
    Length { given: usize, min: usize, max: usize },
    #[error("a text holds the control character U+{code:04X} at place {place}; take it out")]
    Control { code: u32, place: usize },
    #[error(
        "a text holds the character U+{code:04X} at place {place}, which turns the direction of other text; take it out"
    )]
    Direction { code: u32, place: usize },
}

/// Characters that turn the direction of other text (Unicode Standard Annex 9): embeddings, overrides, isolates
/// and marks.
fn turns_direction(c: char) -> bool {
    matches!(c, '\u{061C}' | '\u{200E}' | '\u{200F}' | '\u{202A}'..='\u{202E}' | '\u{2066}'..='\u{2069}')
}

/// Marks that one character may carry before it is composed, generously.
const LONGEST_MARKS: usize = 16;

fn composed(text: &str) -> String {
    let trimmed = text.trim();
    if is_nfc(trimmed) { trimmed.to_owned() } else { trimmed.nfc().collect() }
}

impl<const MIN: usize, const MAX: usize> Text<MIN, MAX> {
    /// Characters at most.
    pub const MAX_CHARS: usize = MAX;

    /// Trims and composes.
    ///
    /// # Errors
    /// [`TextError`] with what is not allowed and its place, counted in characters from 1.
    pub fn new(text: &str) -> Result<Self, TextError> {
        // Composed, a text has as many characters or fewer, of four bytes at most; one far too long is only counted.
        if text.len() > LONGEST_MARKS * 4 * (MAX + 1) {
            return Err(TextError::Length { given: text.chars().count(), min: MIN, max: MAX });
        }
        let text = composed(text);
        for (at, c) in text.chars().enumerate() {
            let (code, place) = (c as u32, at + 1);
            if c.is_control() {
                return Err(TextError::Control { code, place });
            }
            if turns_direction(c) {
                return Err(TextError::Direction { code, place });
            }
        }
        let given = text.chars().count();
        if (MIN..=MAX).contains(&given) { Ok(Text(text)) } else { Err(TextError::Length { given, min: MIN, max: MAX }) }
    }

    /// The nearest text that is allowed: control characters become spaces, what turns direction goes, what is too
    /// long is cut, and a text that would be empty but must not is `otherwise`.
    ///
    /// # Panics
    /// Where `otherwise` itself is no such text.
    pub fn cleaned(text: &str, otherwise: &'static str) -> Self {
        let kept = text.chars().filter(|c| !turns_direction(*c)).map(|c| if c.is_control() { ' ' } else { c });
        let composed: String = composed(&kept.collect::<String>()).chars().take(MAX).collect();
        Text::new(&composed).unwrap_or_else(|_| Text::new(otherwise).expect("the text put in is allowed"))
    }

    /// As it stands.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

impl<'de, const MIN: usize, const MAX: usize> Deserialize<'de> for Text<MIN, MAX> {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let text = String::deserialize(from)?;
        let put_right = |refused: &TextError| {
            let clean = Self::cleaned(&text, if MIN == 0 { "" } else { "Unnamed" });
            let remark = format!("“{}”: {refused}.", clean.0);
            (clean, remark)
        };
        Text::new(&text).or_else(|e| repaired_or(e.clone(), || put_right(&e))).map_err(serde::de::Error::custom)
    }
}

impl<const MIN: usize, const MAX: usize> Deref for Text<MIN, MAX> {
    type Target = str;

    fn deref(&self) -> &str {
        &self.0
    }
}

impl<const MIN: usize, const MAX: usize> fmt::Display for Text<MIN, MAX> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

impl<const MIN: usize, const MAX: usize> From<Text<MIN, MAX>> for String {
    fn from(text: Text<MIN, MAX>) -> String {
        text.0
    }
}

impl<const MIN: usize, const MAX: usize> PartialEq<str> for Text<MIN, MAX> {
    fn eq(&self, other: &str) -> bool {
        self.0 == other
    }
}

impl<const MIN: usize, const MAX: usize> PartialEq<&str> for Text<MIN, MAX> {
    fn eq(&self, other: &&str) -> bool {
        self.0 == *other
    }
}

impl<const MAX: usize> Default for Text<0, MAX> {
    fn default() -> Self {
        Text(String::new())
    }
}

impl From<Name> for StripName {
    fn from(name: Name) -> StripName {
        Text(name.0)
    }
}

/// Words of the program itself.
///
/// # Panics
/// Where they are no such text, which a test of what says them finds.
impl<const MIN: usize, const MAX: usize> From<&'static str> for Text<MIN, MAX> {
    fn from(words: &'static str) -> Self {
        Text::new(words).expect("words of the program are a text")
    }
}

impl<const MIN: usize, const MAX: usize> FromStr for Text<MIN, MAX> {
    type Err = TextError;

    fn from_str(words: &str) -> Result<Self, Self::Err> {
        Text::new(words)
    }
}

#[cfg(feature = "describe")]
mod describe {
    use super::Text;
    use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
    use std::borrow::Cow;
    use ts_rs::{Config, TS};

    impl<const MIN: usize, const MAX: usize> TS for Text<MIN, MAX> {
        type WithoutGenerics = Self;
        type OptionInnerType = Self;

        fn name(_: &Config) -> String {
            "string".into()
        }

        fn inline(_: &Config) -> String {
            "string".into()
        }
    }

    impl<const MIN: usize, const MAX: usize> JsonSchema for Text<MIN, MAX> {
        fn inline_schema() -> bool {
            true
        }

        fn schema_name() -> Cow<'static, str> {
            format!("Text{MIN}To{MAX}").into()
        }

        fn json_schema(_: &mut SchemaGenerator) -> Schema {
            json_schema!({ "type": "string", "minLength": MIN, "maxLength": MAX })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::repairing;
    use rstest::rstest;

    #[rstest]
    #[case::plain("Kick", "Kick")]
    #[case::trimmed("  Snare top\t", "Snare top")]
    #[case::composed("Bo\u{0308}se", "B\u{00F6}se")]
    #[case::emoji("🥁 family 👩‍👧", "🥁 family 👩‍👧")]
    #[case::right_to_left("תוף بيس", "תוף بيس")]
    #[case::joined("می‌خواهم", "می‌خواهم")]
    fn letters_of_every_script_are_texts(#[case] given: &str, #[case] kept: &str) {
        assert_eq!(Name::new(given).unwrap(), kept);
        assert_eq!(Name::cleaned(given, "x"), kept);
    }

    #[rstest]
    #[case::nothing("", "0 characters")]
    #[case::blank(" \t\n", "0 characters")]
    #[case::nul("a\0b", "U+0000 at place 2")]
    #[case::line("a\nb", "U+000A")]
    #[case::delete("\u{7f}x", "U+007F at place 1")]
    #[case::c1("x\u{85}y", "U+0085")]
    #[case::override_("abc\u{202e}gpj", "U+202E at place 4")]
    #[case::isolate("\u{2067}abc", "direction")]
    fn what_is_no_text_is_told_with_its_place(#[case] given: &str, #[case] says: &str) {
        let refused = Name::new(given).unwrap_err().to_string();
        assert!(refused.contains(says), "{refused}");
    }

    #[test]
    fn length_counts_characters_not_bytes() {
        assert!(Name::new(&"é".repeat(80)).is_ok());
        assert_eq!(Name::new(&"é".repeat(81)), Err(TextError::Length { given: 81, min: 1, max: 80 }));
    }

    #[rstest]
    #[case::nul("a\0b", "a b")]
    #[case::direction("a\u{202e}b", "ab")]
    #[case::nothing("\0\0", "Voice")]
    fn cleaning_gives_the_nearest_text(#[case] given: &str, #[case] clean: &str) {
        assert_eq!(Name::cleaned(given, "Voice"), clean);
    }

    #[test]
    fn cleaning_cuts_what_is_too_long_and_leaves_no_space_at_the_cut() {
        let long = format!("{} {}", "a".repeat(79), "b".repeat(40));
        assert_eq!(Name::cleaned(&long, "x"), "a".repeat(79).as_str());
    }

    #[test]
    fn a_text_is_refused_when_read_and_put_right_when_repaired() {
        let read = || serde_json::from_str::<Name>("\"a\\u0000b\"");
        assert!(read().unwrap_err().to_string().contains("U+0000"));
        let (name, remarks) = repairing(read);
        assert_eq!(name.unwrap(), "a b");
        assert_eq!(remarks.len(), 1);
        assert!(read().is_err(), "only what runs within repairs");
    }
}
