//! What a person can do to a document. An edit is one intent; applying it gives the patch there and the
//! patch back, so that everything can be undone.

mod applied;
mod apply;
mod balance;
mod chain;
mod error;
mod find;
mod hits;
mod insert;
mod intent;
mod label;
mod lanes;
mod parts;
mod placing;
mod references;
mod song;
mod strips;
mod taken;
mod takes;

pub use applied::{Applied, Made, Thing};
pub use apply::{apply, note_places};
pub use balance::MovedValue;
pub use chain::ProcessorChange;
pub use error::EditError;
pub use hits::{BarRange, HitsChange};
pub use insert::{Insertion, StripMap, proposed_map};
pub use intent::Edit;
pub use lanes::{Cut, NewHits, NewVoice, Piece, PieceVoice};
pub use placing::{Destination, Incoming, destinations};
pub use strips::{BusGroup, StripChange};
pub use taken::{PieceKey, Taken, TakenPieces};
pub use takes::{NotePlaces, NotesLane, NotesTo, Split, SplitTarget, TakeSound};

#[cfg(test)]
pub(crate) mod tests;
