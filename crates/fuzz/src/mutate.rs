//! JSON and bytes bent at random, the same for the same seed.

use serde_json::{Map, Number, Value, json};

/// Random numbers of the core, with choices made by them.
pub struct Dice(lane_units::Dice);

impl Dice {
    pub fn new(seed: u64) -> Self {
        Dice(lane_units::Dice::new(&[seed]))
    }

    pub fn roll(&mut self) -> u64 {
        self.0.roll()
    }

    /// From 0 up to, but not `below`, which is at least 1.
    pub fn below(&mut self, below: usize) -> usize {
        (self.roll() % below.max(1) as u64) as usize
    }

    pub fn pick<'a, T>(&mut self, list: &'a [T]) -> &'a T {
        &list[self.below(list.len())]
    }
}

/// Numbers at and beyond what fields can hold.
pub const NUMBERS: [f64; 22] = [
    0.0,
    -1.0,
    1.0,
    2.0,
    0.5,
    -0.5,
    127.0,
    128.0,
    255.0,
    256.0,
    1000.0,
    65_535.0,
    2_147_483_647.0,
    2_147_483_648.0,
    4_294_967_295.0,
    4_294_967_296.0,
    9_007_199_254_740_991.0,
    1e308,
    -1e308,
    1e-308,
    -100.0,
    960.0,
];

fn number(dice: &mut Dice) -> Value {
    let x = match dice.below(3) {
        0 => *dice.pick(&NUMBERS),
        1 => dice.below(60) as f64,
        _ => dice.below(8000) as f64 - 4000.0,
    };
    as_json(x)
}

/// A number as JSON writes it: whole ones without a point.
pub fn as_json(x: f64) -> Value {
    if x.fract() == 0.0 && x.abs() <= 9_007_199_254_740_991.0 {
        json!(x as i64)
    } else {
        Number::from_f64(x).map_or(json!(0), Value::Number)
    }
}

fn text(dice: &mut Dice) -> Value {
    let texts = [
        "",
        " ",
        "Kick",
        "a\0b",
        "\u{202e}gpj",
        "Bo\u{308}se",
        "🥁👩‍👧",
        "../../x",
        "name 5",
        "key 9",
        "{number}_{voice}",
        "\n\t",
        "00",
    ];
    match dice.below(6) {
        0 => json!("x".repeat(dice.below(20_000))),
        1 => json!("é".repeat(dice.below(200))),
        _ => json!(*dice.pick(&texts)),
    }
}

/// Every node of a value, counted.
fn nodes(value: &Value) -> usize {
    1 + match value {
        Value::Array(list) => list.iter().map(nodes).sum(),
        Value::Object(map) => map.values().map(nodes).sum(),
        _ => 0,
    }
}

/// The node at a place, counted as [`nodes`] does.
fn node_at(value: &mut Value, at: usize) -> &mut Value {
    if at == 0 {
        return value;
    }
    let mut left = at - 1;
    let children: Vec<&mut Value> = match value {
        Value::Array(list) => list.iter_mut().collect(),
        Value::Object(map) => map.values_mut().collect(),
        // The count and the walk agree, so a leaf is never asked for a child.
        other => return other,
    };
    for child in children {
        let size = nodes(child);
        if left < size {
            return node_at(child, left);
        }
        left -= size;
    }
    unreachable!("the place lies within the value")
}

/// Bends one node of a value; some bends take parts of other values.
pub fn bend(value: &mut Value, others: &[Value], dice: &mut Dice) {
    let at = dice.below(nodes(value));
    let node = node_at(value, at);
    match node {
        Value::Number(_) => *node = number(dice),
        Value::String(_) if dice.below(2) == 0 => *node = text(dice),
        Value::Bool(b) => *b = !*b,
        Value::Array(list) => bend_list(list, dice),
        Value::Object(map) => bend_object(map, others, dice),
        _ => {
            *node = match dice.below(6) {
                0 => Value::Null,
                1 => number(dice),
                2 => text(dice),
                3 => json!([]),
                4 => json!({}),
                _ => part(others, dice),
            }
        }
    }
}

fn part(others: &[Value], dice: &mut Dice) -> Value {
    let mut other = dice.pick(others).clone();
    let at = dice.below(nodes(&other));
    node_at(&mut other, at).take()
}

fn bend_list(list: &mut Vec<Value>, dice: &mut Dice) {
    match dice.below(5) {
        0 => list.clear(),
        1 if !list.is_empty() => {
            let copied = dice.pick(list).clone();
            let many = [1, 2, 40, 600, 3000];
            list.extend(std::iter::repeat_n(copied, *dice.pick(&many)));
        }
        2 if !list.is_empty() => {
            let at = dice.below(list.len());
            list.remove(at);
        }
        3 if list.len() > 1 => {
            let (a, b) = (dice.below(list.len()), dice.below(list.len()));
            list.swap(a, b);
        }
        _ => {
            let new = number(dice);
            list.push(new);
        }
    }
}

fn bend_object(map: &mut Map<String, Value>, others: &[Value], dice: &mut Dice) {
    let keys: Vec<String> = map.keys().cloned().collect();
    match dice.below(3) {
        0 if !keys.is_empty() => {
            map.remove(dice.pick(&keys));
        }
        1 if !keys.is_empty() => {
            let new = part(others, dice);
            map.insert(dice.pick(&keys).clone(), new);
        }
        _ => {
            map.insert("unknown".into(), number(dice));
        }
    }
}

/// Bends bytes in one to several places.
pub fn bend_bytes(bytes: &mut Vec<u8>, dice: &mut Dice) {
    for _ in 0..=dice.below(4) {
        let at = dice.below(bytes.len() + 1);
        match dice.below(8) {
            0 | 1 if at < bytes.len() => bytes[at] ^= 1 << dice.below(8),
            2 if at < bytes.len() => bytes[at] = *dice.pick(&[0, 1, 0x7F, 0x80, 0xFF]),
            3 if at + 4 <= bytes.len() => {
                let extreme = *dice.pick(&[0_u32, 1, 0x7FFF_FFFF, 0x8000_0000, u32::MAX, 0x0100_0000, 7]);
                let words = if dice.below(2) == 0 { extreme.to_le_bytes() } else { extreme.to_be_bytes() };
                bytes[at..at + 4].copy_from_slice(&words);
            }
            4 => bytes.truncate(at),
            5 => {
                let many = dice.below(64);
                let noise: Vec<u8> = (0..many).map(|_| dice.roll() as u8).collect();
                bytes.splice(at..at, noise);
            }
            6 => {
                let to = (at + dice.below(64)).min(bytes.len());
                bytes.drain(at..to);
            }
            _ => {
                let to = (at + dice.below(256)).min(bytes.len());
                let again = bytes[at..to].to_vec();
                let place = dice.below(bytes.len() + 1);
                bytes.splice(place..place, again);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_same_seed_bends_the_same() {
        let bent = |seed| {
            let mut dice = Dice::new(seed);
            let mut value = json!({ "kind": "x", "list": [1, 2, { "deep": "a" }], "no": null });
            let others = [value.clone()];
            let mut bytes = vec![7; 100];
            for _ in 0..20 {
                bend(&mut value, &others, &mut dice);
                bend_bytes(&mut bytes, &mut dice);
            }
            (value, bytes)
        };
        assert_eq!(bent(3), bent(3));
        assert_ne!(bent(3), bent(4));
    }
}
