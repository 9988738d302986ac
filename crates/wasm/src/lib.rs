//! The core in the browser, behind plain C exports: no imports, no logic of its own.
//!
//! One module serves both sides. On the page it keeps a desk (a document and its edits); in the worklet it
//! keeps an engine. Bytes go in through [`input`]; JSON comes back as the length of what [`output`] points to.
//!
//! Every export runs on the one thread of its instance, so the state is kept in thread locals.

mod desk;
mod gauge;
mod player;

use lane_document::json::{FromJson, JsonError, ToJson};
use lane_document::session::Audio;
use lane_units::AssetId;
use serde_json::value::RawValue;
use std::cell::RefCell;
use std::sync::Arc;

thread_local! {
    static INPUT: RefCell<Vec<u8>> = const { RefCell::new(Vec::new()) };
    static OUTPUT: RefCell<Vec<u8>> = const { RefCell::new(Vec::new()) };
}

/// Makes room for `bytes` of input and says where to write them.
#[unsafe(no_mangle)]
pub extern "C" fn input(bytes: usize) -> *mut u8 {
    INPUT.with_borrow_mut(|input| {
        input.clear();
        input.resize(bytes, 0);
        input.as_mut_ptr()
    })
}

/// Where the last answer stands.
#[unsafe(no_mangle)]
pub extern "C" fn output() -> *const u8 {
    OUTPUT.with_borrow(|output| output.as_ptr())
}

fn with_input<T>(work: impl FnOnce(&[u8]) -> T) -> T {
    INPUT.with_borrow(|input| work(input))
}

/// The input as a value.
fn read_input<T: serde::de::DeserializeOwned>() -> Result<T, JsonError> {
    with_input(|bytes| serde_json::from_slice(bytes))
}

/// The input as what is read where it stands.
fn read_whole<T: FromJson>() -> Result<T, JsonError> {
    with_input(T::from_json)
}

/// A part of the input.
fn part<T: FromJson>(json: &RawValue) -> Result<T, JsonError> {
    T::from_json(json.get().as_bytes())
}

/// The input as audio: 64 characters of address, then little-endian 32-bit floats.
fn read_asset(channels: u32) -> Result<(AssetId, Arc<Audio>), String> {
    with_input(|input| {
        let (id, pcm) = input.split_at_checked(64).ok_or("the address is cut off")?;
        let id = AssetId(String::from_utf8_lossy(id).into_owned());
        let samples = pcm.chunks_exact(4).map(|b| f32::from_le_bytes([b[0], b[1], b[2], b[3]])).collect();
        let audio = Audio::new(channels as u16, samples).map_err(|e| e.to_string())?;
        Ok((id, Arc::new(audio)))
    })
}

/// Keeps an answer as JSON and gives its length.
fn answer(value: &impl serde::Serialize) -> usize {
    OUTPUT.with_borrow_mut(|output| {
        output.clear();
        // The answers are plain data with string keys, which always serialise.
        let _ = serde_json::to_writer(&mut *output, value);
        output.len()
    })
}

/// Keeps an answer that is written where it stands.
fn answer_whole(value: &impl ToJson) -> usize {
    match value.to_json() {
        Ok(json) => OUTPUT.with_borrow_mut(|output| {
            *output = json;
            output.len()
        }),
        Err(error) => failed(error),
    }
}

/// Keeps words as an answer, little-endian, and gives its length in bytes.
fn answer_words(words: &[f64]) -> usize {
    OUTPUT.with_borrow_mut(|output| {
        output.clear();
        words.iter().for_each(|word| output.extend_from_slice(&word.to_le_bytes()));
        output.len()
    })
}

/// An answer that says what went wrong.
#[derive(serde::Serialize)]
struct Failed {
    error: String,
}

fn failed(error: impl ToString) -> usize {
    answer(&Failed { error: error.to_string() })
}
