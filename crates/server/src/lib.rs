//! Zealous Lane: HTTP, jobs and the command line around the core.
//!
//! | module | theme |
//! |---|---|
//! | [`config`] | flags and environment |
//! | [`app`] | what requests share, and the table of routes |
//! | [`auth`] | accounts, cookies, origin |
//! | [`api`] | one file a resource |
//! | [`jobs`] | the queue and the worker that tracks out |
//! | [`package`] | stems as files with sums and sheet, wherever they go |
//! | [`cli`] | commands that need no database |
//! | [`problem`] | errors as people and programs read them (RFC 9457) |
//! | [`seed`] | the demo account and its sessions |
//! | [`frontend`] | the built pages |

pub mod api;
pub mod app;
pub mod auth;
pub mod cli;
pub mod config;
pub mod frontend;
pub mod jobs;
pub mod package;
pub mod problem;
pub mod seed;
