//! Where the song is, and which hits come when.

pub(crate) mod clock;
pub(crate) mod playhead;
pub(crate) mod score;
