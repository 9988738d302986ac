//! The graph of a session: what feeds what, the order of computation, loops, what is heard, and how late it is.

mod graph;
mod hearing;
mod latency;

pub use graph::{Link, Means, Way, links, order, ways};
pub use hearing::Hearing;
pub use latency::{Latencies, StripLatency};

#[cfg(test)]
mod tests;
