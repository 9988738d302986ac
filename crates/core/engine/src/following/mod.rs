//! How an engine follows a document: words made of it, a new structure built beside the one that plays.

pub(crate) mod build;
pub(crate) mod compile;
pub(crate) mod follow;
pub(crate) mod plan;
pub(crate) mod stand_in;
