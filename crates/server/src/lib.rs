//! Zealous Lane: HTTP, jobs and the command line around the core.
//!
//! | module | theme |
//! |---|---|
//! | [`config`] | flags and environment |
//! | [`app`] | the table of routes, and the server around it |
//! | [`state`] | what requests share |
//! | [`following`] | changes that any server on the database made, as they happen |
//! | [`stopping`] | how everything hears that the program stops |
//! | [`auth`] | accounts, cookies, origin |
//! | [`api`] | one list of addresses, one file a resource |
//! | [`answers`] | how answers are written |
//! | [`sounds`] | the audio of accounts, described; our own sounds among it |
//! | [`changes`] | edits, undo and redo: computed beside requests, written once |
//! | [`jobs`] | the worker that tracks out, and what else goes on beside requests |
//! | [`guard`] | what every request passes |
//! | [`tries`] | how often something may be tried |
//! | [`work`] | what takes a while, on threads of its own, with a bounded queue |
//! | [`package`] | stems as files with sums and sheet, wherever they go |
//! | [`cli`] | commands that need no database |
//! | [`problem`] | errors as people and programs read them (RFC 9457) |
//! | [`seed`] | the demo account and its sessions |
//! | [`frontend`] | the built pages |

pub mod answers;
pub mod api;
pub mod app;
pub mod auth;
pub mod changes;
pub mod cli;
pub mod config;
pub mod following;
pub mod frontend;
pub mod guard;
pub mod jobs;
mod lines;
pub mod package;
pub mod problem;
pub mod seed;
pub mod sign_in_limit;
pub mod sounds;
pub mod state;
pub mod stopping;
pub mod tries;
pub mod work;
