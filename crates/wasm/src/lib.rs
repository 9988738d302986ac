//! The core in the browser, behind plain C exports: no imports, no logic of its own.
//!
//! One module serves both sides. On the page it keeps a desk (a document and its edits); in the worklet it
//! keeps an engine. Bytes go in through [`input`]; JSON comes back as the length of what [`output`] points to.
//!
//! Every export runs on the one thread of its instance, so the state is kept in thread locals.

mod desk;
mod player;

use std::cell::RefCell;

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
fn read_input<T: serde::de::DeserializeOwned>() -> Result<T, serde_json::Error> {
    with_input(|bytes| serde_json::from_slice(bytes))
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

/// An answer that says what went wrong.
#[derive(serde::Serialize)]
struct Failed {
    error: String,
}

fn failed(error: impl ToString) -> usize {
    answer(&Failed { error: error.to_string() })
}
