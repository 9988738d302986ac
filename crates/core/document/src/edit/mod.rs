//! What a person can do to a document. An edit is one intent; applying it gives the patch there and the
//! patch back, so that everything can be undone.

mod applied;
mod apply;
mod balance;
mod buses;
mod chain;
mod cut;
mod error;
mod find;
mod hits;
mod insert;
mod intent;
mod kinds;
mod label;
mod lanes;
mod loss;
mod moved;
mod parts;
mod placing;
mod plan;
mod references;
mod sends;
mod song;
mod strips;
mod taken;
mod takes;

pub use applied::{Applied, Done, Made};
pub use apply::{apply, note_places};
pub use balance::{MoveValues, MovedValue};
pub use buses::{BusGroup, GroupOnBuses, NewBus, NewPath, NewReturn, SetMixBus};
pub use chain::{
    AddProcessor, CopyChain, InsertProcessors, MoveProcessor, OrderChain, ProcessorChange, RemoveProcessors,
    SetProcessor,
};
pub use cut::{Cut, CutLoop, Piece, PieceVoice};
pub use error::EditError;
pub use hits::{BarRange, ChangeHits, HitsChange};
pub use insert::{InsertLanes, Insertion, StripMap, proposed_map};
pub use kinds::Edit;
pub use lanes::{
    AddTriggers, AddVoices, DuplicateVoice, Follow, MoveVoice, NewHits, NewTrigger, NewVoice, RemoveVoices,
    RenameVoice, SetChoke, SetFamily, SetSource, SetVoiceLate, SetVoiceSwing,
};
pub use loss::losses;
pub use moved::Moved;
pub use placing::{Destination, Incoming, destinations};
pub use plan::{DismissCheck, SetStemPlan};
pub use references::{AddReference, RemoveReference, SetReference};
pub use sends::{RemoveSends, SetSend};
pub use song::{
    AddPattern, AddSection, DoublePattern, GivePattern, HumaniseHits, MoveSection, RemovePattern, RemoveSection,
    SetHeader, SetHits, SetLoop, SetPattern, SetSection,
};
pub use strips::{OwnChannels, RemoveStrip, RenameStrip, SetOutput, SetStrips, SetTriggers, ShareChannel, StripChange};
pub use taken::{PieceKey, TakeOver, Taken, TakenPieces};
pub use takes::{AddTake, NotePlaces, NotesLane, NotesTo, RemoveTake, Split, SplitTake, SplitTarget, TakeSound};

#[cfg(test)]
pub(crate) mod tests;
