//! What a mix is held against: sides that run beside each other in one audio thread and are heard in turn.
//!
//! All sides keep in step and arrive together, so that a switch is one ramp of 5 ms ([`Sides`]). How loud each is over the
//! loop, which makes that fair, is measured beside it ([`Hearing`]). Rounds without names follow seeded orders
//! ([`order`], [`which_of_two`]).

mod blind;
mod hearing;
mod mix;

pub use crate::recording::{Recording, Way};
pub use blind::{chance_of, order, which_of_two};
pub use hearing::{Hearing, SideFigures, offsets_db};
pub use mix::{Sides, Sound};

#[cfg(test)]
mod tests;
