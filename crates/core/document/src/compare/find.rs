//! The differences between two states of a session.

use super::difference::{Difference, DifferenceKind};
use super::items::{Item, items};
use super::taking::{groups, with};
use super::words::{name_of, words};
use crate::edit::{Edit, TakeOver, Taken};
use crate::session::Session;
use lane_units::{Name, StripId};

/// What differs between a session and another state of it, row by row in the order of the board.
///
/// Cost: a look at each piece of both, and for each difference what differs.
pub fn differences(now: &Session, then: &Session) -> Vec<Difference> {
    let all = items(now, then);
    let mut found: Vec<Difference> = groups(now, then, &all)
        .into_iter()
        .filter_map(|group| {
            let members: Vec<&Item> = group.iter().map(|at| &all[*at]).collect();
            difference(now, then, &members)
        })
        .collect();
    let board = now.strips_in_board_order();
    let other = then.strips_in_board_order();
    let place = |d: &Difference| {
        let at = d.strip.map(|id| board.iter().chain(&other).position(|x| *x == id).unwrap_or(usize::MAX));
        (at.map_or(0, |at| at + 1), d.kind)
    };
    found.sort_by_key(place);
    found
}

fn difference(now: &Session, then: &Session, items: &[&Item]) -> Option<Difference> {
    let first = items.first()?;
    let mut rows: Vec<StripId> = Vec::new();
    // What is there on one side alone leads; then what stands first.
    let leading = items.iter().find(|item| item.kind() == DifferenceKind::Rows).unwrap_or(first);
    rows.extend(leading.strip(now, then));
    for id in items.iter().filter_map(|item| item.strip(now, then)) {
        if !rows.contains(&id) {
            rows.push(id);
        }
    }
    let (mut is, mut was) = (Vec::new(), Vec::new());
    for item in items {
        let [a, b] = words(item, now, then);
        is.extend(a);
        was.extend(b);
    }
    let name = rows.first().map_or_else(|| "the song".to_owned(), |id| name_of(now, then, *id));
    let what = format!("{name}: {}", was.first().map_or("as it was", String::as_str));
    let taken = Taken::between(now, &with(now, then, items));
    Some(Difference {
        key: items.iter().map(|item| item.key()).collect::<Vec<_>>().join(" "),
        strip: rows.first().copied(),
        also: rows.into_iter().skip(1).collect(),
        kind: leading.kind(),
        now: is.join(" · "),
        then: was.join(" · "),
        edit: Edit::TakeOver(TakeOver { name: Name::cleaned(&what, "a difference"), taken: Box::new(taken) }),
    })
}

/// What makes another state of a session of it, as one edit. References stay: they are no part of the mix.
pub fn go_back(now: &Session, then: &Session, name: &Name) -> Edit {
    let taken = Taken { references: None, ..Taken::between(now, then) };
    Edit::TakeOver(TakeOver { name: name.clone(), taken: Box::new(taken) })
}
