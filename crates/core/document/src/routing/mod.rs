//! The graph of a session: what feeds what, the order of computation, loops, what is heard, how late it is, and
//! where it is mono.

mod graph;
mod hearing;
mod latency;
mod mono;

pub use graph::{Link, Means, Way, links, order, reached, sound, ways};
pub use hearing::Hearing;
pub use latency::{Latencies, StripLatency};
pub use mono::{MonoPlaces, mono_places};

#[cfg(test)]
mod tests;
