//! The session as a document: everything that is known of it without a sample.
//!
//! ```
//! use lane_document::edit::{AddPattern, Edit, apply};
//! use lane_document::session::Session;
//!
//! let mut session = Session::new("Copper", 48_000);
//! let before = session.clone();
//! let edit = Edit::from(AddPattern { name: "B".into(), bars: 2, copy_of: None });
//! let done = apply(&mut session, &edit).unwrap();
//! assert_eq!((session.patterns.len(), done.made.len()), (2, 1));
//! // Every edit gives the way there and the way back.
//! done.back.apply_exactly(&mut session).unwrap();
//! assert_eq!(session, before);
//! ```
//!
//! | module | what it answers |
//! |---|---|
//! | [`session`] | the document and what makes it whole |
//! | [`routing`] | the order of strips, loops, what is heard, how late it is |
//! | [`midi`] | notes of a take to voices |
//! | [`edit`] | what a person can do to a document, and its way back |
//! | [`compare`] | what differs between two states of a session, and taking it over |
//! | [`ready`] | chains, keys and pairs to begin with |
//! | [`json`] | all of it as JSON |
//! | [`checks`] | why a lane is silent, what is worth a look, each with its repair |

#![deny(missing_docs)]

pub mod checks;
pub mod compare;
pub mod edit;
pub mod json;
pub mod midi;
pub mod ready;
pub mod routing;
pub mod session;
