//! What strips do with it: stations, connections, delays, meters.

pub(crate) mod connection;
pub(crate) mod listen;
pub(crate) mod matrix;
pub(crate) mod meter;
pub(crate) mod ring;
pub(crate) mod station;
pub(crate) mod strip;
pub(crate) mod taps;
