//! Raw edits on documents: bent JSON, not only what could be meant. Whatever is taken leaves a document that hangs
//! together and has its way back; whatever is refused leaves the document as it was.

use crate::mutate::{Dice, NUMBERS, as_json, bend};
use crate::{Found, caught};
use cpu_time::ThreadTime;
use lane_document::edit::{self, Edit};
use lane_document::routing;
use lane_document::session::Session;
use lane_dsp::Settings;
use lane_house::house_templates;
use serde_json::{Value, json};

/// Edits after which a document begins anew.
const LIFE: u64 = 150;

/// Inputs that once did harm, tried first.
pub fn seeds() -> Vec<Value> {
    let bend = |kind: &str, rest: Value| {
        let mut edit = rest;
        edit["kind"] = json!(kind);
        edit
    };
    let header = |beats: u32, unit: u32, tempo: f64| {
        json!({ "header": {
            "title": "x", "tempo_bpm": tempo, "metre": { "beats": beats, "unit": unit },
            "swing": { "percent": 50, "grid": "sixteenth" }, "key": "", "pan_law": "minus3", "sample_rate": 48_000,
        } })
    };
    let take = |metre: Value| {
        json!({ "sounds": [], "take": {
            "name": "t", "tracks": [], "notes": [[0, 9, 36, 100, 0, 60]], "tempo_bpm": null, "metre": metre, "remarks": [],
        } })
    };
    let double = json!({ "kind": "double_pattern", "pattern": 3 });
    let voice = json!({ "name": "Kick", "family": "low", "source": { "kind": "empty" }, "output": null, "hits": [] });
    vec![
        bend("set_header", header(4, 0, 96.0)),
        bend("set_header", header(0, 4, 96.0)),
        bend("set_header", header(32, 16, 20.0)),
        bend("add_take", take(json!({ "beats": 4, "unit": 0 }))),
        bend("add_take", take(json!({ "beats": 0, "unit": 4 }))),
        json!({ "kind": "batch", "edits": vec![double; 40] }),
        json!({ "kind": "batch", "edits": [
            { "kind": "remove_section", "section": 4 },
            { "kind": "remove_pattern", "pattern": 3 },
            bend("add_take", take(Value::Null)),
        ] }),
        json!({ "kind": "add_voices", "assets": [], "voices": vec![voice; 512] }),
        json!({ "kind": "batch", "edits": vec![json!({ "kind": "add_section", "name": "B", "pattern": 3, "bars": 1, "at": 0 }); 1001] }),
        json!({ "kind": "batch", "edits": vec![json!({ "kind": "add_pattern", "name": "B", "bars": 1, "copy_of": 3 }); 300] }),
    ]
}

/// What could be meant: an edit of each kind, on ids that documents have.
pub fn meant() -> Vec<Value> {
    let processor = json!({ "id": 1, "on": true, "input_db": 0, "output_db": 0, "mix_percent": 100, "key": null, "settings": { "kind": "stereo_image" } });
    let key = json!({ "source": 5, "tap": "pre_fader", "level_db": 0, "high_pass_hz": 0, "low_pass_hz": 0 });
    let hit =
        json!({ "at_ticks": 0, "length_ticks": 240, "velocity": 100, "tune_st": 0, "shift_ticks": 3, "repeats": 2 });
    let voice = json!({ "name": "Kick", "family": "low", "source": { "kind": "empty" }, "output": null,
        "hits": [{ "pattern": 3, "hits": [hit] }] });
    let mut all = vec![
        json!({ "kind": "set_header", "header": { "title": "x", "tempo_bpm": 96, "metre": { "beats": 4, "unit": 4 },
            "swing": { "percent": 56, "grid": "sixteenth" }, "key": "", "pan_law": "minus3", "sample_rate": 48_000 } }),
        json!({ "kind": "add_voices", "assets": [], "voices": [voice] }),
        json!({ "kind": "add_triggers", "assets": [], "voices": [voice] }),
        json!({ "kind": "move_values", "strips": [5, 7], "value": { "what": "fader_db" }, "by": -3 }),
        json!({ "kind": "move_values", "strips": [5, 7], "by": 1,
            "value": { "what": "processor", "kind": "compressor", "value": "attack_ms" } }),
        json!({ "kind": "give_pattern", "section": 4, "copy": true }),
        json!({ "kind": "set_mix_bus", "strip": 2 }),
        json!({ "kind": "take_over", "name": "Kick", "taken": { "mix_bus": 2,
            "patterns": { "set": [{ "id": 3, "name": "A", "bars": 4 }], "gone": [], "order": [[3, 0]] } } }),
        json!({ "kind": "remove_voices", "voices": [6] }),
        json!({ "kind": "rename_voice", "voice": 6, "name": "Kick" }),
        json!({ "kind": "set_family", "voice": 6, "family": "snare" }),
        json!({ "kind": "move_voice", "voice": 6, "to": 2 }),
        json!({ "kind": "set_source", "voice": 6, "source": { "kind": "recording", "asset": "ab".repeat(32), "start_frame": 0 },
            "assets": [{ "id": "ab".repeat(32), "name": "a.wav", "channels": 1, "sample_rate": 48_000, "frames": 9000 }] }),
        json!({ "kind": "set_hits", "pattern": 3, "voice": 6, "hits": [hit, hit] }),
        json!({ "kind": "add_pattern", "name": "B", "bars": 2, "copy_of": 3 }),
        json!({ "kind": "set_pattern", "pattern": { "id": 3, "name": "A", "bars": 4 } }),
        json!({ "kind": "remove_pattern", "pattern": 3 }),
        json!({ "kind": "add_section", "name": "B", "pattern": 3, "bars": 2, "at": 0 }),
        json!({ "kind": "set_section", "section": { "id": 4, "name": "A", "pattern": 3, "bars": 8 } }),
        json!({ "kind": "remove_section", "section": 4 }),
        json!({ "kind": "move_section", "section": 4, "to": 1 }),
        json!({ "kind": "set_loop", "pattern": 3, "voices": [6, 8], "ticks": 960 }),
        json!({ "kind": "humanise", "pattern": 3, "voices": [6], "by": { "seed": 1, "time_ms": 5, "level_db": 2, "tune_ct": 3 } }),
        json!({ "kind": "double_pattern", "pattern": 3 }),
        json!({ "kind": "add_take", "sounds": [], "take": { "name": "t", "tracks": ["a"], "notes": [[0, 9, 36, 100, 0, 60], [0, 1, 60, 90, 960, 60]], "tempo_bpm": 120, "metre": { "beats": 3, "unit": 4 }, "remarks": [] } }),
        json!({ "kind": "split_take", "take": 30, "splits": [{ "to": { "kind": "voice", "voice": 6 }, "keys": [{ "track": 0, "channel": 9, "key": 36 }] }] }),
        json!({ "kind": "remove_take", "take": 30 }),
        json!({ "kind": "cut_loop", "cut": { "voice": 6, "pattern": 3, "loop_bpm": 96, "grid_ticks": 240, "pieces": [{ "start_frame": 0, "end_frame": 4000, "voice": 0 }], "voices": [{ "name": "Piece", "family": "snare" }] } }),
        json!({ "kind": "set_choke", "voices": [6, 8], "set": 1 }),
        json!({ "kind": "set_voice_late", "voices": [6], "late_ms": -12.5 }),
        json!({ "kind": "set_voice_swing", "voices": [6], "swing": { "percent": 60, "grid": "eighth" } }),
        json!({ "kind": "follow", "voice": 8, "leader": 6 }),
        json!({ "kind": "duplicate_voice", "voice": 6, "with_chain": true, "follows": true }),
        json!({ "kind": "rename_strip", "strip": 2, "name": "Sum" }),
        json!({ "kind": "set_output", "strips": [5, 7], "output": 2 }),
        json!({ "kind": "own_channels", "voices": [6, 8] }),
        json!({ "kind": "share_channel", "voices": [6, 8], "channel": 5 }),
        json!({ "kind": "new_bus", "name": "Drums", "feeders": [5] }),
        json!({ "kind": "group_on_buses", "groups": [{ "name": "Tops", "strips": [5, 7] }] }),
        json!({ "kind": "new_return", "name": "Crush", "feeders": [5], "silent": true }),
        json!({ "kind": "remove_strip", "strip": 30, "feeders_to": 2 }),
        json!({ "kind": "set_send", "strips": [5], "send": { "to": 30, "tap": "post_fader", "level_db": 0, "pan_percent": 0, "mute": false } }),
        json!({ "kind": "new_path", "name": "Press", "feeders": [5], "processors": [] }),
        json!({ "kind": "set_strips", "strips": [5], "change": { "what": "offset_frames", "to": -12 } }),
        json!({ "kind": "remove_sends", "strips": [5], "to": 30 }),
        json!({ "kind": "set_triggers", "voices": [6], "trigger": true }),
        json!({ "kind": "new_trigger", "like": 6, "follows": true }),
        json!({ "kind": "add_processor", "strips": [5, 7], "settings": { "kind": "compressor" }, "key": key, "at": 0 }),
        json!({ "kind": "remove_processors", "strip": 5, "processors": [30] }),
        json!({ "kind": "move_processor", "strip": 5, "processor": 30, "to": 0 }),
        json!({ "kind": "set_processor", "strip": 5, "processor": 30, "change": { "what": "key", "to": key } }),
        json!({ "kind": "copy_chain", "from": 5, "processors": [], "to": [7, 9], "replace": false }),
        json!({ "kind": "insert_processors", "strips": [5], "processors": [processor, processor], "at": null, "replace": false }),
        json!({ "kind": "order_chain", "strip": 5, "order": [30, 31] }),
        json!({ "kind": "set_stem_plan", "plan": { "without": [5], "with_buses": [2], "tap": "dry", "taps": [{ "strip": 5, "tap": "channel" }], "range": { "kind": "song" }, "tail": true, "depth": "int24", "label": "{number}" } }),
        json!({ "kind": "dismiss_check", "key": "mute 5", "dismissed": true }),
        json!({ "kind": "add_reference", "name": "Pier", "asset": { "id": "ab".repeat(32), "name": "a.wav", "channels": 1, "sample_rate": 48_000, "frames": 9000 } }),
        json!({ "kind": "set_reference", "reference": { "id": 40, "name": "Pier", "asset": "ab".repeat(32), "follows": true, "start_bar": 4, "from_frame": 0, "to_frame": 100 } }),
        json!({ "kind": "remove_reference", "reference": 40 }),
    ];
    for what in [
        json!({ "kind": "every", "every_ticks": 960, "offset_ticks": 0, "velocity": 100 }),
        json!({ "kind": "fill", "step_ticks": 240, "density_percent": 50, "velocity_from": 60, "velocity_to": 100, "seed": 1 }),
        json!({ "kind": "ghosts", "step_ticks": 240, "density_percent": 50, "velocity": 30, "seed": 1 }),
        json!({ "kind": "clear" }),
        json!({ "kind": "copy_to", "bar": 1 }),
        json!({ "kind": "straighten" }),
    ] {
        all.push(json!({ "kind": "change_hits", "pattern": 3, "voices": [6, 8], "range": { "from": 0, "bars": 1 }, "change": what }));
    }
    for (what, to) in [
        ("fader_db", json!(-3)),
        ("mute", json!(true)),
        ("polarity", json!("inverted")),
        ("target", json!({ "by": "rms", "db": -20 })),
    ] {
        all.push(json!({ "kind": "set_strips", "strips": [5, 7], "change": { "what": what, "to": to } }));
    }
    for settings in Settings::all() {
        all.push(json!({ "kind": "add_processor", "strips": [5], "settings": settings, "key": null, "at": 0 }));
        let change = json!({ "what": "settings", "to": settings });
        all.push(json!({ "kind": "set_processor", "strip": 5, "processor": 30, "change": change }));
    }
    let from = serde_json::to_value(&house_templates()[0].session).unwrap_or_default();
    all.push(json!({ "kind": "insert_lanes", "insertion": { "from": from, "voices": [6, 8], "map": [{ "from": 2, "to": 2 }], "pattern": 3 } }));
    all
}

/// Tries an edit on a document, and says what is wrong with what came of it; whether it was taken.
fn attempt(session: &mut Session, json: &str) -> Result<bool, String> {
    let Ok(mut edit) = serde_json::from_str::<Edit>(json) else { return Ok(false) };
    edit.each_id(|_| {});
    let before = session.clone();
    let Ok(applied) = edit::apply(session, &edit) else {
        return if *session == before { Ok(false) } else { Err("a refused edit changed the document".into()) };
    };
    session.validate().map_err(|e| format!("it left a broken document: {e}"))?;
    routing::order(session).map_err(|e| format!("it left a loop: {e}"))?;
    let mut back = session.clone();
    applied.back.apply_exactly(&mut back).map_err(|e| format!("it cannot be taken back: {e}"))?;
    if back != before {
        return Err("taking it back gives another document".into());
    }
    Ok(true)
}

/// Places of numbers in JSON.
fn numbers(value: &Value, at: &str, places: &mut Vec<String>) {
    match value {
        Value::Number(_) => places.push(at.to_owned()),
        Value::Array(list) => list.iter().enumerate().for_each(|(n, v)| numbers(v, &format!("{at}/{n}"), places)),
        Value::Object(fields) => fields.iter().for_each(|(name, v)| numbers(v, &format!("{at}/{name}"), places)),
        Value::Null | Value::Bool(_) | Value::String(_) => {}
    }
}

/// Tries an edit of each kind with each of its numbers in turn at and beyond what numbers can be, on documents that hold what
/// the edits speak of.
pub fn at_limits() -> Found {
    let mut found = Found::default();
    let meant = meant();
    for template in house_templates() {
        let mut start = template.session;
        for edit in &meant {
            // What takes away would leave the rest without what it speaks of.
            let takes_away = edit["kind"].as_str().is_some_and(|kind| kind.starts_with("remove"));
            if let (false, Ok(edit)) = (takes_away, serde_json::from_value::<Edit>(edit.clone())) {
                let _ = edit::apply(&mut start, &edit);
            }
        }
        for edit in &meant {
            let mut places = Vec::new();
            numbers(edit, "", &mut places);
            for (place, x) in places.iter().flat_map(|place| NUMBERS.map(|x| (place, x))) {
                let mut edit = edit.clone();
                if let Some(number) = edit.pointer_mut(place) {
                    *number = as_json(x);
                }
                let json = edit.to_string();
                let mut session = start.clone();
                let began = ThreadTime::now();
                let tried = caught(|| attempt(&mut session, &json));
                found.note(began.elapsed(), matches!(tried, Ok(Ok(true))), || json.clone());
                if let Ok(Err(fault)) | Err(fault) = tried {
                    found.faults.push(format!("{fault}: {json}"));
                }
            }
        }
    }
    found
}

/// An edit or a batch of them, with up to three things bent.
pub fn bent(meant: &[Value], dice: &mut Dice) -> Value {
    let mut edit = dice.pick(meant).clone();
    if dice.below(8) == 0 {
        let many = 1 + dice.below(6);
        let edits: Vec<Value> = (0..many).map(|_| dice.pick(meant).clone()).collect();
        edit = json!({ "kind": "batch", "edits": edits });
    }
    for _ in 0..dice.below(4) {
        bend(&mut edit, meant, dice);
    }
    edit
}

/// Tries so many edits.
pub fn run(tries: u64, seed: u64) -> Found {
    let mut found = Found::default();
    let mut dice = Dice::new(seed);
    let meant = meant();
    let starts: Vec<Session> =
        house_templates().into_iter().map(|t| t.session).chain([Session::new("New", 48_000)]).collect();
    let mut session = starts[0].clone();
    let seeds = seeds();
    for n in 0..tries {
        if n % LIFE == 0 {
            session = dice.pick(&starts).clone();
        }
        let edit = seeds.get(n as usize).cloned().unwrap_or_else(|| bent(&meant, &mut dice));
        let json = edit.to_string();
        let before = session.clone();
        let began = ThreadTime::now();
        let tried = caught(|| attempt(&mut session, &json));
        let took = began.elapsed();
        let short = || json.chars().take(400).collect::<String>();
        match tried {
            Ok(Ok(taken)) => found.note(took, taken, short),
            Ok(Err(fault)) | Err(fault) => {
                found.note(took, false, short);
                found.faults.push(format!("{fault}: {}", short()));
                session = before;
            }
        }
    }
    found
}
