//! What a name says of the part that a sound plays: "Hh closed", "Hat closed" and "CHH" are the same closed hat.

use super::Family;

/// Parts, each by the word that stands for it, with its family and the words that mean it. Where a name says several, the
/// first of the list holds: a sub kick is a kick, a bass key is a bass.
const PARTS: [(&str, Family, &[&str]); 44] = {
    use Family::{Bass, Hats, Low, Music, Percussion, Snare};
    [
        ("kick", Low, &["kick", "kik", "kck", "bd", "bassdrum"]),
        ("bass", Bass, &["subbass", "bassline", "bass"]),
        ("hat", Hats, &["hat", "hh", "hihat"]),
        ("crash", Hats, &["crash"]),
        ("ride", Hats, &["ride"]),
        ("splash", Hats, &["splash"]),
        ("china", Hats, &["china"]),
        ("cymbal", Hats, &["cymbal", "cym"]),
        ("tom", Percussion, &["tom"]),
        ("shaker", Percussion, &["shaker", "shk"]),
        ("tambourine", Percussion, &["tambourine", "tamb"]),
        ("conga", Percussion, &["conga"]),
        ("bongo", Percussion, &["bongo"]),
        ("cowbell", Percussion, &["cowbell"]),
        ("clave", Percussion, &["clave"]),
        ("block", Percussion, &["block", "woodblock"]),
        ("guiro", Percussion, &["guiro"]),
        ("triangle", Percussion, &["triangle"]),
        ("cabasa", Percussion, &["cabasa"]),
        ("maraca", Percussion, &["maraca"]),
        ("agogo", Percussion, &["agogo"]),
        ("timbale", Percussion, &["timbale"]),
        ("whistle", Percussion, &["whistle"]),
        ("cuica", Percussion, &["cuica"]),
        ("perc", Percussion, &["perc", "percussion"]),
        ("snare", Snare, &["snare", "sn", "sd", "snr"]),
        ("clap", Snare, &["clap", "clp", "handclap"]),
        ("rim", Snare, &["rim", "rimshot", "sidestick", "stick"]),
        ("snap", Snare, &["snap"]),
        ("over", Hats, &["over", "overhead", "oh"]),
        ("room", Percussion, &["room", "ambience", "amb"]),
        ("bass", Bass, &["sub"]),
        ("keys", Music, &["key", "piano"]),
        ("organ", Music, &["organ"]),
        ("chords", Music, &["chord"]),
        ("pad", Music, &["pad"]),
        ("strings", Music, &["string"]),
        ("lead", Music, &["lead"]),
        ("pluck", Music, &["pluck"]),
        ("guitar", Music, &["guitar", "gtr"]),
        ("voice", Music, &["vocal", "vox", "voice"]),
        ("arp", Music, &["arp"]),
        ("melody", Music, &["melody"]),
        ("synth", Music, &["synth", "sample"]),
    ]
};

/// Whether a word is one of some, or several of it.
fn means(words: &[&str], word: &str) -> bool {
    let one = word.strip_suffix("drum").or(word.strip_suffix('s')).unwrap_or(word);
    words.contains(&word) || words.contains(&one)
}

/// Words that tell parts of one kind apart, in groups of which a sound is one.
const SIDES: [&[(&str, &[&str])]; 5] = [
    &[("closed", &["closed", "close", "cl", "shut"]), ("open", &["open", "op"]), ("pedal", &["pedal", "ped", "foot"])],
    &[("in", &["in", "inside", "beater"]), ("out", &["out", "outside"])],
    &[("top", &["top", "up"]), ("under", &["under", "bottom", "btm", "bot"])],
    &[("high", &["high", "hi", "rack"]), ("mid", &["mid", "middle"]), ("low", &["low", "lo", "floor", "fl"])],
    &[("left", &["left", "l"]), ("right", &["right", "r"])],
];

/// Words that say two things at once.
const BOTH: [(&str, &str); 6] = [
    ("chh", "closed hat"),
    ("hhc", "closed hat"),
    ("ohh", "open hat"),
    ("hho", "open hat"),
    ("hhp", "pedal hat"),
    ("hhf", "pedal hat"),
];

/// What a name says.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Role {
    /// The kind of part, by the word that stands for it.
    part: Option<&'static str>,
    family: Option<Family>,
    /// Of each group of sides the one it is.
    sides: [Option<&'static str>; SIDES.len()],
    /// The first number in it that is no part of another word.
    number: Option<u32>,
}

/// The words of a name: apart at signs, capitals inside a word and figures.
fn words(name: &str) -> Vec<String> {
    let mut spaced = String::new();
    let mut last = ' ';
    for c in name.chars() {
        let turns = (last.is_lowercase() && c.is_uppercase())
            || (last.is_alphabetic() && c.is_numeric())
            || (last.is_numeric() && c.is_alphabetic());
        if turns {
            spaced.push(' ');
        }
        spaced.extend(if c.is_alphanumeric() { c } else { ' ' }.to_lowercase());
        last = c;
    }
    let spaced = format!(" {} ", spaced.split_whitespace().collect::<Vec<_>>().join(" "))
        .replace(" hi hat", " hat")
        .replace(" bass drum ", " kick ")
        .replace(" side stick ", " rim ");
    spaced.split_whitespace().map(str::to_owned).collect()
}

impl Role {
    /// Reads a name.
    pub fn of(name: &str) -> Role {
        let mut role = Role::default();
        let mut all = words(name);
        if let Some((at, both)) = all
            .iter()
            .enumerate()
            .find_map(|(at, word)| BOTH.iter().find(|(short, _)| short == word).map(|(_, both)| (at, *both)))
        {
            all.splice(at..=at, both.split(' ').map(str::to_owned));
        }
        if all.iter().any(|word| word.contains("kick")) {
            all.push("kick".to_owned());
        }
        (role.part, role.family) = PARTS
            .iter()
            .find(|(_, _, same)| all.iter().any(|word| means(same, word)))
            .map_or((None, None), |(part, family, _)| (Some(*part), Some(*family)));
        for word in &all {
            for (side, group) in role.sides.iter_mut().zip(SIDES) {
                *side = side
                    .or_else(|| group.iter().find(|(_, same)| same.contains(&word.as_str())).map(|(side, _)| *side));
            }
            role.number = role.number.or_else(|| word.parse().ok());
        }
        role
    }

    /// The kind of part that it is, where it is known.
    pub fn part(&self) -> Option<&'static str> {
        self.part
    }

    /// The family that it speaks for, if it speaks for one.
    pub fn family(&self) -> Option<Family> {
        self.family
    }

    /// How well another name means the same part: nothing where it means another one. More is better.
    pub fn likeness(&self, other: &Role) -> Option<u32> {
        if self.part.is_none() || self.part != other.part {
            return None;
        }
        let mut likeness = 10;
        for (a, b) in self.sides.iter().zip(&other.sides) {
            match (a, b) {
                (Some(a), Some(b)) if a == b => likeness += 4,
                (Some(_), Some(_)) => return None,
                (None, None) => likeness += 1,
                _ => {}
            }
        }
        Some(likeness + u32::from(self.number == other.number))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("Kick 808x", "kick", &[], Some(808))]
    #[case("Hh closed", "hat", &["closed"], None)]
    #[case("hi-hat open", "hat", &["open"], None)]
    #[case("CHH", "hat", &["closed"], None)]
    #[case("Crash16", "crash", &[], Some(16))]
    #[case("OH", "over", &[], None)]
    #[case("Overhead L", "over", &["left"], None)]
    #[case("Room", "room", &[], None)]
    #[case("FloorTom", "tom", &["low"], None)]
    #[case("Bass drum in", "kick", &["in"], None)]
    #[case("snare_btm", "snare", &["under"], None)]
    #[case("Sub bass", "bass", &[], None)]
    #[case("Sub Kick", "kick", &[], None)]
    fn names_say_what_they_are(
        #[case] name: &str,
        #[case] part: &str,
        #[case] sides: &[&str],
        #[case] number: Option<u32>,
    ) {
        let role = Role::of(name);
        assert_eq!(role.part(), Some(part));
        assert_eq!(role.sides.iter().flatten().copied().collect::<Vec<_>>(), sides);
        assert_eq!(role.number, number);
    }

    #[rstest]
    #[case("Loop 3")]
    #[case("")]
    #[case("Overdrive")]
    fn other_names_say_nothing(#[case] name: &str) {
        assert_eq!(Role::of(name).part(), None);
    }

    #[rstest]
    #[case("Hat", "Hat closed", true)]
    #[case("Hat open", "Hat closed", false)]
    #[case("Tom 1", "Toms", true)]
    #[case("Kick", "Snare", false)]
    #[case("Loop", "Loop", false)]
    fn only_the_same_part_is_alike(#[case] a: &str, #[case] b: &str, #[case] alike: bool) {
        assert_eq!(Role::of(a).likeness(&Role::of(b)).is_some(), alike);
        assert_eq!(Role::of(b).likeness(&Role::of(a)), Role::of(a).likeness(&Role::of(b)));
    }

    #[test]
    fn what_agrees_more_is_more_alike() {
        let closed = Role::of("hat_closed 2");
        let likeness = |name: &str| closed.likeness(&Role::of(name)).unwrap();
        assert!(likeness("Hat closed 2") > likeness("Hat closed"));
        assert!(likeness("Hat closed") > likeness("Hat"));
    }
}
