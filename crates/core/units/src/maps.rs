//! Maps and sets by ids.

use rustc_hash::FxBuildHasher;
use std::collections::{HashMap, HashSet};

/// A map by ids or other small keys, which are hashed in a few instructions. A document bounds how many there are, so
/// that nobody gains by choosing them badly.
pub type IdMap<K, V> = HashMap<K, V, FxBuildHasher>;

/// A set of them.
pub type IdSet<K> = HashSet<K, FxBuildHasher>;
