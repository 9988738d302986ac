//! What voices play: layers, read at any pitch, and what is kept of them.

pub(crate) mod kept;
pub(crate) mod layer;
pub(crate) mod player;
pub(crate) mod sinc;
