//! The exports as the page and the worklet call them: bytes in, JSON or numbers out, never a panic.

use lane_bench::{DemoSession, Frozen, palette_session};
use lane_document::session::Session;
use lane_dsp::Settings;
use lane_wasm as _;
use serde_json::{Value, json};

unsafe extern "C" {
    fn input(bytes: usize) -> *mut u8;
    fn output() -> *const u8;
    fn desk_open() -> usize;
    fn desk_apply() -> usize;
    fn desk_kinds() -> usize;
    fn desk_curve() -> usize;
    fn desk_transfer() -> usize;
    fn desk_decay() -> usize;
    fn desk_echoes() -> usize;
    fn desk_spectrum() -> usize;
    fn gauge_open() -> usize;
    fn gauge_asset(channels: u32) -> usize;
    fn gauge_ask(from: f64, to: f64) -> usize;
    fn gauge_begin(again: u32) -> usize;
    fn gauge_step(frames: u32) -> f64;
    fn gauge_answer() -> usize;
    fn desk_engine(fresh: u32) -> usize;
    fn desk_number() -> usize;
    fn player_start(sample_rate: u32);
    fn player_words(count: usize) -> *mut f64;
    fn player_take(side: usize);
    fn player_finish(side: usize);
    fn player_busy(side: usize) -> u32;
    fn player_room(bytes: usize) -> u32;
    fn player_side_bytes() -> usize;
    fn player_side_session(side: usize);
    fn player_side_recording(side: usize, number: usize, follows: u32, start: f64, from: f64, to: f64) -> u32;
    fn player_side_nothing(side: usize);
    fn player_hear(side: usize, now_db: f64, first_db: f64, second_db: f64);
    fn player_exact() -> *const [f64; 2];
    fn desk_side(side: u32) -> usize;
    fn desk_side_engine(side: u32, fresh: u32) -> usize;
    fn desk_offsets() -> usize;
    fn desk_blind(seed: u32, round: u32, sides: usize) -> usize;
    fn desk_chance(right: u32, rounds: u32) -> usize;
    fn player_structures() -> f64;
    fn player_incoming(number: usize, channels: u32, frames: usize) -> usize;
    fn player_piece(frames: usize) -> *mut f32;
    fn player_came() -> u32;
    fn player_play();
    fn player_seek(frame: f64);
    fn player_loop(from: f64, to: f64);
    fn player_position() -> f64;
    fn player_process(frames: usize) -> *const f32;
    fn player_meters() -> *const f32;
    fn player_meter_values() -> usize;
    fn player_strips() -> usize;
    fn player_watch(strip: u32, processor: u32);
    fn player_watched() -> *const f32;
    fn player_watched_frames() -> usize;
    fn player_pass_by() -> usize;
    fn player_true_peak() -> f64;
    fn player_short_term_lufs() -> f64;
}

fn give(parts: &[&[u8]]) {
    let whole = parts.concat();
    // SAFETY: the export has made room for as many bytes.
    unsafe { std::slice::from_raw_parts_mut(input(whole.len()), whole.len()) }.copy_from_slice(&whole);
}

fn give_json(value: &impl serde::Serialize) {
    give(&[&serde_json::to_vec(value).unwrap()]);
}

fn said(length: usize) -> Value {
    // SAFETY: the answer is as long as the export said.
    serde_json::from_slice(unsafe { std::slice::from_raw_parts(output(), length) }).unwrap()
}

/// Calls an export that answers in JSON.
fn ask(export: unsafe extern "C" fn() -> usize) -> Value {
    // SAFETY: every export takes what stands in the input, whatever it is.
    said(unsafe { export() })
}

fn error_of(answer: &Value) -> &str {
    answer["error"].as_str().unwrap_or_else(|| panic!("no error in {answer}"))
}

fn open(export: unsafe extern "C" fn() -> usize, session: &Session) {
    give_json(session);
    let answer = ask(export);
    assert!(answer.get("error").is_none(), "{answer}");
}

fn give_audio(export: unsafe extern "C" fn(u32) -> usize, DemoSession { session, bank }: &DemoSession) {
    for asset in &session.assets {
        let pcm: Vec<u8> = bank[&asset.id].samples().iter().flat_map(|x| x.to_le_bytes()).collect();
        give(&[asset.id.0.as_bytes(), &pcm]);
        // SAFETY: as above.
        assert_eq!(said(unsafe { export(u32::from(asset.channels)) }), Value::Null);
    }
}

/// Puts what is new on the desk into the player, on a side, 0 for now; gives how many words that took.
fn follow_on(side: u32, fresh: u32) -> usize {
    // SAFETY: the exports make room for as much as they were asked for.
    unsafe {
        let length = if side == 0 { desk_engine(fresh) } else { desk_side_engine(side, fresh) };
        let bytes = std::slice::from_raw_parts(output(), length).to_vec();
        let words: Vec<f64> = bytes.as_chunks::<8>().0.iter().map(|b| f64::from_le_bytes(*b)).collect();
        std::slice::from_raw_parts_mut(player_words(words.len()), words.len()).copy_from_slice(&words);
        player_take(side as usize);
        words.len()
    }
}

fn follow(fresh: u32) -> usize {
    follow_on(0, fresh)
}

/// Opens what is on the desk in the player, audio in pieces.
fn start_player(DemoSession { session, bank }: &DemoSession) {
    // SAFETY: as above.
    unsafe {
        player_start(session.header.sample_rate);
        follow(1);
        player_finish(0);
        for asset in &session.assets {
            give_json(&asset.id.0);
            let number = ask(desk_number).as_u64().unwrap() as usize;
            let audio = &bank[&asset.id];
            assert_eq!(said(player_incoming(number, u32::from(asset.channels), audio.frames())), Value::Null);
            let pieces = audio.samples().chunks(7000 * usize::from(audio.channels()));
            let came: Vec<u32> = pieces
                .map(|piece| {
                    std::slice::from_raw_parts_mut(player_piece(7000), piece.len()).copy_from_slice(piece);
                    player_came()
                })
                .collect();
            let (last, before) = came.split_last().unwrap();
            assert!(*last == 1 && before.iter().all(|c| *c == 0));
        }
    }
}

#[test]
fn nothing_open_is_said_and_broken_input_too() {
    for export in [desk_open, desk_apply, desk_curve, desk_transfer, desk_decay, desk_echoes, gauge_open, desk_number] {
        give(&[b"{ not json"]);
        assert!(error_of(&ask(export)).contains("line 1"), "where it is broken");
    }
    give_json(&json!({ "settings": { "kind": "equaliser", "bands": [] }, "freqs_hz": [100.0] }));
    assert_eq!(error_of(&ask(desk_curve)), "no session is open");
    assert_eq!(error_of(&ask(gauge_answer)), "nothing was asked");
    assert_eq!(error_of(&question(&json!({ "about": "levels", "without": false }), 0.0, 10.0)), "no session is open");
    // SAFETY: as above; without a session there is nothing to point to.
    unsafe {
        assert!(player_process(128).is_null() && player_meters().is_null() && player_watched().is_null());
        player_play();
    }
}

#[test]
fn every_kind_is_described_with_words_units_and_ranges() {
    let kinds = ask(desk_kinds);
    let kinds = kinds.as_array().unwrap();
    assert_eq!(kinds.len(), Settings::all().len());
    for kind in kinds {
        let params = if kind["bands"].is_object() { &kind["bands"]["params"] } else { &kind["params"] };
        for param in params.as_array().unwrap() {
            let (min, max) = (param["min"].as_f64().unwrap(), param["max"].as_f64().unwrap());
            assert!(min < max && !param["label"].as_str().unwrap().is_empty(), "{param}");
        }
    }
}

#[test]
fn pictures_are_computed_at_the_rate_and_tempo_of_the_session() {
    let mut session = Session::new("Pictures", 96_000);
    session.header.tempo_bpm = lane_document::session::Tempo::new(100.0).unwrap();
    open(desk_open, &session);
    let bell = json!({ "shape": "bell", "freq_hz": 1000.0, "gain_db": 6.0 });
    give_json(&json!({ "settings": { "kind": "equaliser", "bands": [bell] }, "freqs_hz": [20.0, 1000.0] }));
    let curve = ask(desk_curve);
    let rest: Vec<f64> = serde_json::from_value(curve["rest"].clone()).unwrap();
    assert!(rest[0].abs() < 0.1 && (rest[1] - 6.0).abs() < 0.01, "{rest:?}");
    give_json(&json!({ "settings": { "kind": "limiter" }, "freqs_hz": [100.0] }));
    assert_eq!(ask(desk_curve), Value::Null, "a limiter is no filter");
    let compressor = json!({ "kind": "compressor", "threshold_dbfs": -20.0, "ratio": 2.0, "knee_db": 0.0 });
    give_json(&json!({ "settings": compressor, "levels_dbfs": [-40.0, -10.0] }));
    assert_eq!(ask(desk_transfer), json!([-40.0, -15.0]));
    give_json(&json!({ "reverb": { "decay_s": 2.0 }, "freqs_hz": [1000.0] }));
    let seconds = ask(desk_decay)[0].as_f64().unwrap();
    assert!((seconds - 2.0).abs() < 0.2, "{seconds}");
    give_json(&json!({ "note": "1/4", "feedback_percent": 0.0 }));
    assert_eq!(ask(desk_echoes), json!([{ "at_s": 0.6, "level_db": 0.0, "side": 0 }]));
    let tone: Vec<u8> = (0..16_384)
        .flat_map(|n| (0.5 * (f64::from(n) * std::f64::consts::TAU * 2000.0 / 96_000.0).sin() as f32).to_le_bytes())
        .collect();
    give(&[&tone]);
    let spectrum = ask(desk_spectrum);
    let db: Vec<f64> = serde_json::from_value(spectrum["db"].clone()).unwrap();
    let loudest = (0..db.len()).max_by(|a, b| db[*a].total_cmp(&db[*b])).unwrap();
    assert!((spectrum["hz"][loudest].as_f64().unwrap() / 2000.0 - 1.0).abs() < 0.06);
}

/// Asks something over a range; gives the audio that it takes and that is not here.
fn question(about: &Value, from: f64, to: f64) -> Value {
    give_json(about);
    // SAFETY: as above.
    said(unsafe { gauge_ask(from, to) })
}

/// What is answered to a question over a range, and how far it was after each piece.
fn answered(about: &Value, from: f64, to: f64) -> (Value, Vec<f64>) {
    assert_eq!(question(about, from, to), json!([]));
    let mut parts = vec![0.0];
    // SAFETY: as above.
    unsafe {
        assert_eq!(said(gauge_begin(0)), Value::Null);
        while parts.last() < Some(&1.0) {
            parts.push(gauge_step(48_000));
        }
    }
    (ask(gauge_answer), parts)
}

fn open_gauge(session: &Session, edits: &Value) -> Value {
    give_json(&json!({ "session": session, "edits": edits }));
    ask(gauge_open)
}

#[test]
fn a_measuring_run_goes_on_in_steps_and_finds_levels_trims_and_sums() {
    let demo = Frozen::Small.session(48_000);
    let levels = |without: bool| json!({ "about": "levels", "without": without });
    assert_eq!(open_gauge(&demo.session, &json!([])), Value::Null);
    let missing = question(&levels(false), 0.0, 10.0);
    assert_eq!(missing.as_array().unwrap().len(), demo.session.assets.len(), "all of it is asked for");
    give_audio(gauge_asset, &demo);
    for (from, to) in [(0.0, 0.0), (96_000.0, 10.0), (-5.0, 10.0), (f64::NAN, 10.0)] {
        assert_eq!(error_of(&question(&levels(false), from, to)), "the loop is empty; choose at least one bar");
    }
    let run = |without| {
        let (found, parts) = answered(&levels(without), 0.0, 185_806.0);
        assert!(parts.windows(2).all(|w| w[0] < w[1]), "it goes on: {parts:?}");
        found
    };
    let found = run(false);
    assert_eq!(found["proposal"]["lines"].as_array().unwrap().len(), 5);
    assert!(found["sums"].as_array().unwrap().iter().any(|sum| sum["feeders"] == 5));
    let main = |found: &Value| {
        let stations = found["measured"]["strips"].as_array().unwrap().last().unwrap()["stations"].clone();
        stations.as_array().unwrap().last().unwrap()["lufs"].as_f64().unwrap()
    };
    // The demo has no processors, so without them it is as loud; 6 dB less on every lane is 6 dB less on main.
    let loud = main(&found);
    assert!((main(&run(true)) - loud).abs() < 1e-9);
    let lanes: Vec<u32> = demo.session.voices.iter().map(|v| v.channel.0).collect();
    let softer = json!({ "kind": "set_strips", "strips": lanes, "change": { "what": "trim_db", "to": -6.0 } });
    let before: Vec<f64> = demo.session.voices.iter().map(|v| demo.session.strip(v.channel).unwrap().trim_db).collect();
    assert!(before.iter().all(|db| *db == 0.0));
    assert_eq!(open_gauge(&demo.session, &json!([softer])), Value::Null);
    assert!((main(&run(false)) - loud + 6.0).abs() < 0.05);
    let gone = json!([{ "kind": "remove_voices", "voices": [999] }]);
    assert!(error_of(&open_gauge(&demo.session, &gone)).contains("not in the session any more"));
}

#[test]
fn a_player_gives_blocks_meters_and_what_is_watched() {
    let demo = palette_session(48_000);
    open(desk_open, &demo.session);
    start_player(&demo);
    let kick = demo.session.voices[0].channel;
    let processor = demo.session.strip(kick).unwrap().chain[0].id;
    // SAFETY: what the exports point to is as long as they say, until the next call.
    unsafe {
        player_watch(kick.0, processor.0);
        player_play();
        let mut most = 0.0_f32;
        for _ in 0..750 {
            let block = std::slice::from_raw_parts(player_process(128), 256);
            assert!(block.iter().all(|x| x.is_finite()));
            most = block.iter().fold(most, |most, x| most.max(x.abs()));
        }
        assert!(most > 0.1, "it sounds");
        let layout = said(player_strips());
        let processors: usize =
            layout.as_array().unwrap().iter().map(|s| s["processors"].as_array().unwrap().len()).sum();
        player_structures();
        let values = player_meter_values();
        assert_eq!(values, 12 * layout.as_array().unwrap().len() + 5 * processors);
        let meters = std::slice::from_raw_parts(player_meters(), values);
        assert!(meters.iter().all(|x| x.is_finite()) && meters.iter().any(|x| *x > 0.1));
        let frames = player_watched_frames();
        let watched = std::slice::from_raw_parts(player_watched(), 2 * frames);
        assert!(watched[..frames].iter().any(|x| x.abs() > 0.1) && watched[frames..].iter().any(|x| x.abs() > 0.1));
        assert!(player_true_peak() >= f64::from(most) * 0.9 && player_short_term_lufs() > -60.0);
        give_json(&json!({ "processors": [[processor.0, -6.0]], "main_db": -3.0 }));
        assert_eq!(said(player_pass_by()), Value::Null);
        give_json(&json!({ "processors": "all" }));
        assert!(error_of(&said(player_pass_by())).contains("invalid type"));
        assert!(!player_process(4096).is_null(), "a longer block than a worklet's is cut");
    }
}

#[test]
fn a_change_on_the_desk_is_followed_by_as_many_words_as_it_needs() {
    let demo = Frozen::Small.session(48_000);
    open(desk_open, &demo.session);
    start_player(&demo);
    // SAFETY: as above.
    unsafe {
        let strip = demo.session.voices[0].channel.0;
        let edit = |change: Value| {
            give_json(&json!({ "kind": "set_strips", "strips": [strip], "change": change }));
            assert!(ask(desk_apply).get("error").is_none());
        };
        let structures = player_structures();
        assert_eq!(follow(0), 0, "nothing is new");
        edit(json!({ "what": "fader_db", "to": -20.0 }));
        assert_eq!(follow(0), 8, "a strip with its gains");
        assert_eq!((player_busy(0), player_structures()), (0, structures));
        give_json(&json!({ "kind": "new_return", "name": "Room", "feeders": [strip], "silent": false }));
        assert!(ask(desk_apply).get("error").is_none());
        follow(0);
        let mut blocks = 0;
        while player_busy(0) != 0 {
            assert!(!player_process(128).is_null());
            blocks += 1;
        }
        assert!(blocks < 20 && player_structures() == structures + 1.0, "{blocks} blocks");
        let layout = said(player_strips());
        assert_eq!(player_meter_values(), 12 * layout.as_array().unwrap().len());
    }
}

#[test]
fn sides_are_heard_in_turn_and_follow_what_they_are_of() {
    let demo = Frozen::Small.session(48_000);
    open(desk_open, &demo.session);
    start_player(&demo);
    // SAFETY: as above.
    unsafe {
        let heard = |blocks: usize| -> Vec<[f64; 2]> {
            let block = || {
                player_process(128);
                std::slice::from_raw_parts(player_exact(), 128).to_vec()
            };
            (0..blocks).flat_map(|_| block()).collect()
        };
        give_json(&json!("without"));
        assert_eq!(said(desk_side(1)), Value::Null);
        give_json(&json!({ "document": demo.session }));
        assert_eq!(said(desk_side(2)), Value::Null);
        while player_room(player_side_bytes()) == 0 {}
        for side in [1, 2] {
            player_side_session(side);
            assert!(follow_on(side as u32, 1) > 0);
            player_finish(side);
            assert_eq!(player_busy(side), 0);
        }
        // Of what the document became only the side that follows it hears.
        let strip = demo.session.voices[0].channel.0;
        let change = json!({ "what": "fader_db", "to": -20.0 });
        give_json(&json!({ "kind": "set_strips", "strips": [strip], "change": change }));
        assert!(ask(desk_apply).get("error").is_none());
        assert_eq!([follow(0), follow_on(1, 0), follow_on(2, 0)], [8, 8, 0]);
        player_play();
        player_hear(2, 0.0, 0.0, 0.0);
        let other = heard(400);
        player_seek(0.0);
        player_hear(0, 0.0, 0.0, 0.0);
        let now = heard(400);
        let power = |frames: &[[f64; 2]]| frames.iter().map(|[l, r]| l * l + r * r).sum::<f64>();
        assert!(power(&other[2000..]) > power(&now[2000..]) && power(&now[2000..]) > 0.0);

        give_json(&demo.session.assets[0].id.0);
        let number = ask(desk_number).as_u64().unwrap() as usize;
        assert_eq!(player_side_recording(1, number + 99, 0, 0.0, 0.0, 9.0), 0, "it is not there");
        assert_eq!(player_side_recording(1, number, 0, 0.0, 0.0, 2000.0), 1);
        player_hear(1, 0.0, 0.0, 0.0);
        assert!(power(&heard(40)) > 0.0);
        player_side_nothing(1);
        player_side_nothing(2);
        assert!(heard(10)[600..].iter().all(|f| *f == [0.0; 2]), "nothing is heard of what is gone");
        assert_eq!(desk_side_engine(7, 1), 0, "no such side");
        give_json(&json!({ "nobody": 1 }));
        assert!(error_of(&said(desk_side(1))).contains("unknown variant"));
    }
}

#[test]
fn a_side_is_measured_matched_and_drawn_by_lot() {
    let demo = Frozen::Small.session(48_000);
    assert_eq!(open_gauge(&demo.session, &json!([])), Value::Null);
    give_audio(gauge_asset, &demo);
    let side = |without: bool| answered(&json!({ "about": "side", "without": without }), 0.0, 96_000.0).0;
    let [with, without] = [side(false), side(true)];
    assert!(with["lufs"].is_f64() && without["lufs"].is_f64() && with["octaves"]["hz"][5] == json!(1000.0));
    // A recording that is not of the session is heard once and let go of.
    let name = format!("{:64}", "render 1");
    let samples: Vec<u8> = (0..48_000).flat_map(|n| (0.5 * f32::sin(n as f32 * 0.1)).to_le_bytes()).collect();
    give(&[name.as_bytes(), &samples]);
    // SAFETY: as above.
    assert_eq!(said(unsafe { gauge_asset(1) }), Value::Null);
    let way = json!({ "follows": false, "start": 0, "from": 0, "to": 48_000 });
    let about = json!({ "about": "side_recording", "asset": name, "way": way });
    assert!(answered(&about, 0.0, 96_000.0).0["true_peak_dbtp"].is_f64());
    assert_eq!(question(&about, 0.0, 96_000.0), json!([]));
    // SAFETY: as above.
    unsafe {
        assert!(error_of(&said(gauge_begin(0))).contains("is gone"));
        give_json(&json!([-14.0, null, -20.5]));
        assert_eq!(ask(desk_offsets), json!([-6.5, 0.0, 0.0]));
        let round = said(desk_blind(3, 0, 3));
        let mut order: Vec<u64> = round["order"].as_array().unwrap().iter().map(|n| n.as_u64().unwrap()).collect();
        order.sort_unstable();
        assert!(order == [0, 1, 2] && round["unknown"].as_u64().unwrap() < 2);
        assert_eq!(said(desk_chance(9, 4)), said(desk_chance(4, 4)), "no more right than rounds");
    }
}

#[test]
fn what_was_asked_before_a_session_came_holds_when_it_does() {
    let demo = Frozen::Small.session(48_000);
    open(desk_open, &demo.session);
    // SAFETY: as above.
    unsafe {
        player_start(48_000);
        player_loop(512.0, 1024.0);
        player_seek(512.0);
        player_play();
    }
    start_player(&demo);
    // SAFETY: as above.
    unsafe {
        for _ in 0..6 {
            assert!(!player_process(128).is_null());
        }
        assert_eq!(player_position(), 768.0, "four blocks of a loop, and two more of it");
    }
}

#[test]
fn audio_that_is_no_audio_is_refused() {
    // SAFETY: as above.
    unsafe {
        player_start(48_000);
        assert!(error_of(&said(player_incoming(0, 5, 10))).contains("5 channels"));
        assert_eq!((player_came(), player_piece(1).is_null()), (2, true), "nothing is on its way");
        said(player_incoming(0, 1, 10));
        std::slice::from_raw_parts_mut(player_piece(10), 10)[3] = f32::INFINITY;
        assert_eq!(player_came(), 2);
    }
}
