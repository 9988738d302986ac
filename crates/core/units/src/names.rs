//! Names that nothing else has.

use super::Text;
use std::collections::{HashMap, HashSet};

/// Names in use, whatever their case, and where counting goes on for each.
pub struct Names {
    taken: HashSet<String>,
    next: HashMap<String, u32>,
}

impl Names {
    /// Those of some names.
    pub fn of<'a>(names: impl Iterator<Item = &'a str>) -> Self {
        Names { taken: names.map(str::to_lowercase).collect(), next: HashMap::new() }
    }

    /// Whether nothing has the name, whatever its case.
    pub fn is_free<const MIN: usize, const MAX: usize>(&self, name: &Text<MIN, MAX>) -> bool {
        !self.taken.contains(&name.to_lowercase())
    }

    /// The name, with a number behind it where it is taken; taken from now on. A name that would be too long is
    /// cut in front of the number.
    ///
    /// Cost: one look-up for a free name; names of one stem cost as many look-ups as there are of them, all together.
    pub fn take<const MIN: usize, const MAX: usize>(&mut self, name: &Text<MIN, MAX>) -> Text<MIN, MAX> {
        let stem = name.to_lowercase();
        if self.taken.insert(stem.clone()) {
            return name.clone();
        }
        let from = self.next.get(&stem).copied().unwrap_or(2);
        for number in from.. {
            let ending = format!(" {number}");
            let kept: String = name.chars().take(MAX - ending.len()).collect();
            let numbered = format!("{}{ending}", kept.trim_end());
            if self.taken.insert(numbered.to_lowercase()) {
                self.next.insert(stem, number + 1);
                // A text, a space and digits are a text; only what is at hand is cut.
                return Text::new(&numbered).unwrap_or_else(|_| name.clone());
            }
        }
        name.clone()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Name;

    #[test]
    fn names_are_numbered_and_numbers_skip_what_is_taken() {
        let mut names = Names::of(["Kick", "kick 3"].into_iter());
        let mut take = |name: &'static str| names.take(&Name::from(name)).to_string();
        assert_eq!(take("Kick"), "Kick 2");
        assert_eq!(take("KICK"), "KICK 4");
        assert_eq!(take("Snare"), "Snare");
        assert_eq!(take("Kick 3"), "Kick 3 2");
    }

    #[test]
    fn the_longest_name_keeps_its_number() {
        let long = Name::new(&"é".repeat(80)).unwrap();
        let mut names = Names::of([long.as_str()].into_iter());
        for _ in 2..12 {
            names.take(&long);
        }
        let last = names.take(&long);
        assert!(last.ends_with(" 12") && last.chars().count() == 80, "{last}");
    }

    #[test]
    fn many_of_one_name_cost_as_many_steps_as_there_are() {
        let mut names = Names::of(std::iter::empty());
        let all: HashSet<String> = (0..20_000).map(|_| names.take(&Name::from("Tom")).to_string()).collect();
        assert_eq!(all.len(), 20_000);
        assert_eq!(names.next["tom"], 20_001);
    }
}
