//! Circles between the files of a crate: none may lead back to itself, however long the way. A parent that only declares
//! and hands on what is inside it uses nothing.

use std::collections::{BTreeMap, BTreeSet};

/// A module by its path; empty for the root.
pub type Module = Vec<String>;

/// The code of a crate by module, without tests and comments.
pub type Sources = BTreeMap<Module, String>;

/// Paths that code names, from where it stands: `crate::a::{b, c::D}` gives two.
pub fn paths(code: &str) -> Vec<Vec<String>> {
    let tokens = tokens(code);
    let mut found = Vec::new();
    let mut at = 0;
    while at < tokens.len() {
        let begins = matches!(tokens[at].as_str(), "crate" | "super" | "self") && after(&tokens, at) == Some("::");
        let inside = at > 0 && tokens[at - 1] == "::";
        if begins && !inside {
            at = tree(&tokens, at, &[], &mut found);
        } else {
            at += 1;
        }
    }
    found
}

fn after(tokens: &[String], at: usize) -> Option<&str> {
    tokens.get(at + 1).map(String::as_str)
}

/// Reads one tree of a path; gives where it ends.
fn tree(tokens: &[String], mut at: usize, before: &[String], found: &mut Vec<Vec<String>>) -> usize {
    let mut path = before.to_vec();
    while at < tokens.len() {
        match tokens[at].as_str() {
            "{" => {
                at += 1;
                while at < tokens.len() && tokens[at] != "}" {
                    // What is no tree at all, such as words in a text, is passed over.
                    at = if tokens[at] == "," { at + 1 } else { tree(tokens, at, &path, found).max(at + 1) };
                }
                return at + 1;
            }
            "::" => at += 1,
            // Generic arguments are no part of the path.
            word if word == "*" || word.chars().all(|c| c.is_alphanumeric() || c == '_') => {
                path.push(word.to_owned());
                at += 1;
                match tokens.get(at).map(String::as_str) {
                    Some("::") => {}
                    Some("as") => {
                        found.push(path);
                        return at + 2;
                    }
                    _ => break,
                }
            }
            _ => break,
        }
    }
    found.push(path);
    at.max(1)
}

fn tokens(code: &str) -> Vec<String> {
    let mut tokens: Vec<String> = Vec::new();
    let mut word = String::new();
    let mut chars = code.chars().peekable();
    while let Some(c) = chars.next() {
        if c.is_alphanumeric() || c == '_' {
            word.push(c);
            continue;
        }
        if !word.is_empty() {
            tokens.push(std::mem::take(&mut word));
        }
        if c == ':' && chars.peek() == Some(&':') {
            chars.next();
            tokens.push("::".into());
        } else if !c.is_whitespace() {
            tokens.push(c.to_string());
        }
    }
    tokens.extend((!word.is_empty()).then_some(word));
    tokens
}

/// The module that a path leads to, seen from one: through what modules hand on, to where the thing stands.
fn target(sources: &Sources, from: &Module, path: &[String]) -> Option<Module> {
    let mut at = from.clone();
    let mut rest = path.iter().map(String::as_str).peekable();
    match rest.next()? {
        "crate" => at.clear(),
        "super" => {
            at.pop()?;
            while rest.next_if_eq(&"super").is_some() {
                at.pop()?;
            }
        }
        _ => {}
    }
    follow(sources, at, &rest.collect::<Vec<_>>(), 0)
}

fn follow(sources: &Sources, at: Module, rest: &[&str], depth: usize) -> Option<Module> {
    let Some((first, more)) = rest.split_first() else { return Some(at) };
    let child: Module = at.iter().cloned().chain([(*first).to_owned()]).collect();
    if sources.contains_key(&child) {
        return follow(sources, child, more, depth);
    }
    // What stands here may come from inside: `pub use child::Thing`.
    let handed = handed_on(sources.get(&at)?).into_iter().find(|path| path.last().is_some_and(|l| l == first));
    match handed {
        Some(path) if depth < 8 => {
            let names: Vec<&str> = path.iter().map(String::as_str).collect();
            follow(sources, at, &names, depth + 1)
        }
        _ => Some(at),
    }
}

/// Paths to things inside that a module hands on or uses by name.
fn handed_on(code: &str) -> Vec<Vec<String>> {
    let mut found = Vec::new();
    for line in code.split(';') {
        let Some(used) = line.split("use ").nth(1) else { continue };
        let tokens = tokens(used);
        if tokens.first().is_some_and(|t| !matches!(t.as_str(), "crate" | "super" | "self" | "std")) {
            tree(&tokens, 0, &[], &mut found);
        }
    }
    found
}

/// Code without what it hands on: `pub use`.
fn without_declarations(code: &str) -> String {
    let kept = code.split_inclusive(';').filter(|statement| {
        let words = statement.trim_start();
        !(words.starts_with("pub use ") || words.starts_with("pub(crate) use ") || words.starts_with("pub(super) use "))
    });
    kept.collect()
}

/// Every circle, as the modules on it.
pub fn find(sources: &Sources) -> Vec<Vec<String>> {
    let mut uses: BTreeMap<&Module, BTreeSet<&Module>> = BTreeMap::new();
    for (module, code) in sources {
        // A parent that only declares and hands on what is inside it uses nothing; what it names of it, it uses.
        let own = without_declarations(code);
        let words: BTreeSet<String> = tokens(&own).into_iter().collect();
        let named = handed_on(code).into_iter().filter(|path| path.last().is_some_and(|name| words.contains(name)));
        let inside = named.map(|path| [vec!["self".to_owned()], path].concat());
        for path in paths(&own).into_iter().chain(inside) {
            let Some(to) = target(sources, module, &path).and_then(|to| sources.get_key_value(&to)) else { continue };
            if to.0 != module {
                uses.entry(module).or_default().insert(to.0);
            }
        }
    }
    let reach = |from: &Module| {
        let mut open = vec![from];
        let mut seen: BTreeSet<&Module> = BTreeSet::new();
        while let Some(at) = open.pop() {
            open.extend(uses.get(at).into_iter().flatten().copied().filter(|to| seen.insert(to)));
        }
        seen.into_iter().cloned().collect::<BTreeSet<Module>>()
    };
    let reached: BTreeMap<&Module, BTreeSet<Module>> = sources.keys().map(|m| (m, reach(m))).collect();
    let mut circles: BTreeSet<Vec<String>> = BTreeSet::new();
    for module in sources.keys().filter(|m| reached[m].contains(*m)) {
        let on = sources.keys().filter(|other| reached[module].contains(*other) && reached[other].contains(module));
        circles.insert(on.map(|m| m.join("::")).collect());
    }
    circles.into_iter().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(list: &[(&str, &str)]) -> Sources {
        let module = |path: &str| path.split("::").filter(|s| !s.is_empty()).map(str::to_owned).collect();
        list.iter().map(|(path, code)| (module(path), (*code).to_owned())).collect()
    }

    #[test]
    fn paths_come_out_of_trees_and_expressions() {
        let found = paths("use crate::{a::B, c::{self, D as E}}; fn f(x: super::G<crate::h::I>) { std::j() }");
        let found: Vec<String> = found.iter().map(|p| p.join("::")).collect();
        assert_eq!(found, ["crate::a::B", "crate::c::self", "crate::c::D", "super::G", "crate::h::I"]);
    }

    #[test]
    fn texts_with_words_of_the_language_come_to_an_end() {
        let found = handed_on("format!(\"its points use {:.0} % of it\"); pub use child::Thing;");
        assert!(found.contains(&vec!["child".to_owned(), "Thing".to_owned()]), "{found:?}");
    }

    #[test]
    fn two_that_use_each_other_are_a_circle() {
        let sources = of(&[("", "mod a; mod b;"), ("a", "use crate::b::B;"), ("b", "use super::a::A;")]);
        assert_eq!(find(&sources), [["a", "b"]]);
    }

    #[test]
    fn what_is_handed_on_leads_to_where_it_stands() {
        let sources = of(&[
            ("", ""),
            ("x", "mod a; mod b; pub use a::{A, C};"),
            ("x::a", "use super::b::B;"),
            ("x::b", "use super::A;"),
        ]);
        assert_eq!(find(&sources), [["x::a", "x::b"]]);
    }

    #[test]
    fn a_parent_and_what_is_inside_it_can_be_a_circle_unless_it_only_hands_on() {
        let inside = ("a::b", "use super::A; pub struct B;");
        let circle = of(&[("", ""), ("a", "mod b; use b::B; pub struct A(B);"), inside]);
        assert_eq!(find(&circle), [["a", "a::b"]]);
        let named = of(&[("", ""), ("a", "mod b; pub use b::B; pub struct A(B);"), inside]);
        assert_eq!(find(&named), [["a", "a::b"]]);
        let none = of(&[("", ""), ("a", "mod b; pub use b::B; pub struct A;"), inside]);
        assert!(find(&none).is_empty());
    }

    #[test]
    fn three_in_a_row_are_none_and_a_module_may_use_its_parent() {
        let sources = of(&[
            ("", ""),
            ("a", "use crate::{b::B, c};"),
            ("b", "use crate::c::C;"),
            ("c", ""),
            ("c::d", "use super::C;"),
        ]);
        assert!(find(&sources).is_empty());
    }
}
