//! A document as rows, one for each of its pieces, so that a change writes what it changed.
//!
//! | kind | key | body |
//! |---|---|---|
//! | `top` | | schema, next free id, mix bus |
//! | `header`, `stem_plan`, `dismissed`, `references` | | that field |
//! | `assets`, `voices`, … | its id; of a part, pattern and voice | one entity of that list |
//! | `order` | the name of a list | the keys of the list in its order |

use crate::StoreError;
use crate::row::row;
use lane_document::held;
use lane_document::json::{JsonError, ToJson};
use lane_document::session::{self, Session, Shared};
use serde::Serialize;
use std::collections::{HashMap, HashSet};
use std::fmt::Write;

/// One piece as it is stored.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Piece {
    pub kind: String,
    pub key: String,
    /// JSON.
    pub body: String,
}
row!(Piece { kind, key, body });

/// What of a stored document becomes other.
#[derive(Debug, Default, PartialEq)]
pub(crate) struct Difference {
    /// New pieces, and such as have another body now.
    pub set: Vec<Piece>,
    /// Kinds and keys of those that are gone.
    pub gone: Vec<(String, String)>,
}

macro_rules! names {
    (lists { $($list:ident),+ } fields { $($field:ident),+ } numbers { $($number:ident),+ }) => {
        /// Fields with a row of their own.
        const FIELDS: &[&str] = &[$(stringify!($field)),+];
        /// Lists, whose entities have rows.
        const LISTS: &[&str] = &[$(stringify!($list)),+];
    };
}
held!(names);

#[derive(PartialEq, Serialize)]
struct Top {
    schema: u32,
    next_id: u32,
    mix_bus: u32,
}

impl ToJson for Top {
    fn to_json(&self) -> Result<Vec<u8>, JsonError> {
        serde_json::to_vec(self)
    }
}

/// Keys of a list in their order.
struct Order(Vec<String>);

impl ToJson for Order {
    fn to_json(&self) -> Result<Vec<u8>, JsonError> {
        serde_json::to_vec(&self.0)
    }
}

impl Top {
    fn of(s: &Session) -> Self {
        Top { schema: s.schema, next_id: s.next_id, mix_bus: s.mix_bus.0 }
    }
}

impl Difference {
    /// What makes `now` of `before`, or all of it where nothing is stored.
    ///
    /// Cost: a look at each piece; those that both share are not read.
    pub fn between(before: Option<&Session>, now: &Session) -> Result<Self, StoreError> {
        let mut found = Difference::default();
        found.field("top", before.map(Top::of).as_ref(), &Top::of(now))?;
        macro_rules! put {
            (lists { $($list:ident),+ } fields { $($field:ident),+ } numbers { $($number:ident),+ }) => {
                $(found.field(stringify!($field), before.map(|s| &s.$field), &now.$field)?;)+
                $(found.list(stringify!($list), before.map(|s| &s.$list), &now.$list)?;)+
            };
        }
        held!(put);
        Ok(found)
    }

    fn put(&mut self, kind: &str, key: String, value: &impl ToJson) -> Result<(), StoreError> {
        self.set.push(Piece { kind: kind.into(), key, body: value.to_json_text()? });
        Ok(())
    }

    fn field<T: PartialEq + ToJson>(&mut self, kind: &str, before: Option<&T>, now: &T) -> Result<(), StoreError> {
        if before == Some(now) { Ok(()) } else { self.put(kind, String::new(), now) }
    }

    fn list<T: session::Piece + ToJson>(
        &mut self,
        kind: &str,
        before: Option<&Vec<Shared<T>>>,
        now: &[Shared<T>],
    ) -> Result<(), StoreError> {
        let was = before.map_or(&[][..], Vec::as_slice);
        let in_place = |(o, n): (&Shared<T>, &Shared<T>)| o.is(n) || o.key() == n.key();
        if before.is_some() && was.len() == now.len() && was.iter().zip(now).all(in_place) {
            let changed = was.iter().zip(now).filter(|(o, n)| o != n);
            return changed.into_iter().try_for_each(|(_, n)| self.put(kind, n.key_text(), &**n));
        }
        let known: HashMap<String, &Shared<T>> = was.iter().map(|o| (o.key_text(), o)).collect();
        let keys: Vec<String> = now.iter().map(|n| n.key_text()).collect();
        for (key, n) in keys.iter().zip(now) {
            if known.get(key).is_none_or(|o| *o != n) {
                self.put(kind, key.clone(), &**n)?;
            }
        }
        let stay: HashSet<&String> = keys.iter().collect();
        self.gone.extend(known.into_keys().filter(|key| !stay.contains(key)).map(|key| (kind.to_owned(), key)));
        self.put("order", kind.into(), &Order(keys))
    }
}

/// The document that some pieces make, as JSON.
///
/// # Errors
/// [`StoreError::Broken`] where one is missing.
pub(crate) fn assembled(pieces: &[Piece]) -> Result<String, StoreError> {
    let missing = |kind: &str, key: &str| StoreError::Broken(format!("{kind} {key} is missing"));
    let by_name: HashMap<(&str, &str), &str> =
        pieces.iter().map(|p| ((p.kind.as_str(), p.key.as_str()), p.body.as_str())).collect();
    let body = |kind: &str, key: &str| by_name.get(&(kind, key)).copied().ok_or_else(|| missing(kind, key));
    let top = body("top", "")?.trim_end().strip_suffix('}').ok_or_else(|| missing("top", ""))?;
    let mut json = String::with_capacity(pieces.iter().map(|p| p.body.len() + 16).sum());
    json.push_str(top);
    for field in FIELDS {
        let _ = write!(json, ",\"{field}\":{}", body(field, "")?);
    }
    for list in LISTS {
        let _ = write!(json, ",\"{list}\":[");
        let keys: Vec<String> = serde_json::from_str(body("order", list)?)?;
        for (n, key) in keys.iter().enumerate() {
            if n > 0 {
                json.push(',');
            }
            json.push_str(body(list, key)?);
        }
        json.push(']');
    }
    json.push('}');
    Ok(json)
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_document::session::Hit;
    use rstest::rstest;

    fn all(session: &Session) -> Vec<Piece> {
        Difference::between(None, session).unwrap().set
    }

    fn read(pieces: &[Piece]) -> Session {
        serde_json::from_str(&assembled(pieces).unwrap()).unwrap()
    }

    #[test]
    fn a_document_in_pieces_is_the_same_whatever_their_order() {
        let session = Session::new("Beat", 48_000);
        let mut pieces = all(&session);
        assert_eq!(read(&pieces), session);
        pieces.reverse();
        assert_eq!(read(&pieces), session);
    }

    #[test]
    fn as_text_it_is_what_one_text_would_be() {
        let session = Session::new("Be\"at\u{e9}", 44_100);
        let text: serde_json::Value = serde_json::from_str(&assembled(&all(&session)).unwrap()).unwrap();
        assert_eq!(text, serde_json::to_value(&session).unwrap());
    }

    #[test]
    fn what_is_shared_or_equal_is_not_written_again() {
        let session = Session::new("Beat", 48_000);
        assert_eq!(Difference::between(Some(&session), &session.clone()).unwrap(), Difference::default());
        let read_anew = read(&all(&session));
        assert_eq!(Difference::between(Some(&session), &read_anew).unwrap(), Difference::default());
    }

    #[test]
    fn a_part_is_known_by_its_pattern_and_voice() {
        let before = Session::new("Beat", 48_000);
        let mut now = before.clone();
        let (pattern, voice) = (before.patterns[0].id, lane_units::VoiceId(9));
        let part = lane_document::session::Part::new(pattern, voice, vec![Hit::new(0, 1, 1, 0)]);
        now.parts.push(part.into());
        let there = Difference::between(Some(&before), &now).unwrap();
        let keys: Vec<_> = there.set.iter().map(|p| (p.kind.as_str(), p.key.as_str())).collect();
        assert_eq!(keys, [("parts", "3.9"), ("order", "parts")]);
        assert_eq!(Difference::between(Some(&now), &before).unwrap().gone, [("parts".into(), "3.9".into())]);
    }

    #[rstest]
    #[case::a_field("header", "")]
    #[case::an_entity("strips", "1")]
    #[case::an_order("order", "takes")]
    #[case::the_top("top", "")]
    fn a_missing_piece_is_named(#[case] kind: &str, #[case] key: &str) {
        let mut pieces = all(&Session::new("Beat", 48_000));
        let count = pieces.len();
        pieces.retain(|p| (p.kind.as_str(), p.key.as_str()) != (kind, key));
        assert_eq!(pieces.len(), count - 1);
        let error = assembled(&pieces).unwrap_err().to_string();
        assert!(error.contains(&format!("{kind} {key} is missing")), "{error}");
    }
}
