//! Reading what was stored by older programs: values that are refused today are put right, and told.

use std::cell::RefCell;

/// Remarks kept at most; a document with more faults than that needs no longer list.
const REMARKS: usize = 100;

thread_local!(static REPAIRS: RefCell<Option<Vec<String>>> = const { RefCell::new(None) });

/// Runs a reader on this thread in which checked values are put right instead of refused.
///
/// Returns what it read, and a sentence for each value that was put right, [`REMARKS`] at most.
pub fn repairing<T>(read: impl FnOnce() -> T) -> (T, Vec<String>) {
    let before = REPAIRS.replace(Some(Vec::new()));
    let value = read();
    let remarks = REPAIRS.replace(before).unwrap_or_default();
    (value, remarks)
}

/// The value put right where a reader repairs, else the reason.
pub fn repaired_or<T, E>(refused: E, repair: impl FnOnce() -> (T, String)) -> Result<T, E> {
    REPAIRS.with_borrow_mut(|remarks| match remarks {
        None => Err(refused),
        Some(remarks) => {
            let (value, remark) = repair();
            if remarks.len() < REMARKS {
                remarks.push(remark);
            }
            Ok(value)
        }
    })
}
