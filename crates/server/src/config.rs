//! Flags and environment of the program.

use clap::{Args, Parser, Subcommand, ValueEnum};
use lane_document::session::{Depth, Tap};
use std::net::IpAddr;
use std::path::PathBuf;

/// Routes, levels and labelled stems for beat mix engineers.
#[derive(Debug, Parser)]
#[command(name = "zealous-lane", version)]
pub struct Cli {
    #[command(subcommand)]
    pub command: Command,
}

#[derive(Debug, Subcommand)]
pub enum Command {
    /// Serve the pages and the interface for programs; works on renders too unless told not to.
    Serve(ServeArgs),
    /// Only work on renders.
    Work(DatabaseArgs),
    /// Serve with the demo account and its sessions, or write these as session folders.
    Demo(DemoArgs),
    /// Render a session folder by its stem plan, without a database.
    Render(RenderArgs),
    /// Check a session folder.
    Check {
        /// The folder with session.json.
        folder: PathBuf,
    },
}

#[derive(Debug, Clone, Args)]
pub struct DatabaseArgs {
    /// Where PostgreSQL is.
    #[arg(long, env = "ZEALOUS_LANE_DATABASE_URL", hide_env_values = true)]
    pub database_url: Option<String>,
    /// Renders worked on at a time.
    #[arg(long, env = "ZEALOUS_LANE_RENDERS_AT_A_TIME", default_value_t = 1)]
    pub renders_at_a_time: usize,
    /// Days after which audio goes that nothing needs.
    #[arg(long, env = "ZEALOUS_LANE_SWEEP_DAYS", default_value_t = 7)]
    pub sweep_days: u32,
}

impl DatabaseArgs {
    /// The database's address.
    ///
    /// # Errors
    /// Says what to give where it is missing.
    pub fn url(&self) -> anyhow::Result<&str> {
        self.database_url
            .as_deref()
            .ok_or_else(|| anyhow::anyhow!("no database: give --database-url or set ZEALOUS_LANE_DATABASE_URL"))
    }
}

#[derive(Debug, Clone, Args)]
pub struct ServeArgs {
    #[command(flatten)]
    pub database: DatabaseArgs,
    /// Address to listen on.
    #[arg(long, env = "ZEALOUS_LANE_LISTEN", default_value = "127.0.0.1:8470")]
    pub listen: String,
    /// Leave renders to `zealous-lane work`.
    #[arg(long, env = "ZEALOUS_LANE_NO_WORKER")]
    pub no_worker: bool,
    /// Largest upload in MiB.
    #[arg(long, env = "ZEALOUS_LANE_UPLOAD_MIB", default_value_t = 1024)]
    pub upload_mib: u64,
    /// Renders of one account that may wait or run at a time.
    #[arg(long, env = "ZEALOUS_LANE_WAITING_RENDERS", default_value_t = 20)]
    pub waiting_renders: u32,
    /// What one account may hold in audio and stems, in GiB.
    #[arg(long, env = "ZEALOUS_LANE_ACCOUNT_GIB", default_value_t = 50)]
    pub account_gib: u64,
    /// Addresses of proxies whose X-Forwarded-For is believed; behind one that is not named, all people share one limit of
    /// sign-ins.
    #[arg(long, env = "ZEALOUS_LANE_PROXIES", value_delimiter = ',')]
    pub proxies: Vec<IpAddr>,
    /// Where figures for those who run it are told (`/metrics`, connections of the database among them); nowhere unless given.
    #[arg(long, env = "ZEALOUS_LANE_METRICS_LISTEN")]
    pub metrics_listen: Option<String>,
    /// Send cookies over HTTPS only, and have browsers stay with it; set this behind a proxy that speaks it.
    #[arg(long, env = "ZEALOUS_LANE_SECURE_COOKIES")]
    pub secure_cookies: bool,
}

#[derive(Debug, Clone, Args)]
pub struct DemoArgs {
    /// Write the demo sessions as session folders into this folder and end.
    #[arg(long, value_name = "DIR")]
    pub export: Option<PathBuf>,
    #[command(flatten)]
    pub serve: ServeArgs,
}

#[derive(Debug, Clone, Args)]
pub struct RenderArgs {
    /// The folder with session.json.
    pub folder: PathBuf,
    /// Where the files go; made if missing.
    #[arg(long)]
    pub out: PathBuf,
    /// Tap all stems here instead of where the plan says.
    #[arg(long)]
    pub tap: Option<TapArg>,
    /// Write this instead of what the plan says.
    #[arg(long)]
    pub depth: Option<DepthArg>,
    /// Kinds of strips to write instead of the plan's choice.
    #[arg(long, value_delimiter = ',')]
    pub strips: Vec<StripsArg>,
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum TapArg {
    Dry,
    Channel,
}

impl From<TapArg> for Tap {
    fn from(tap: TapArg) -> Tap {
        match tap {
            TapArg::Dry => Tap::Dry,
            TapArg::Channel => Tap::Channel,
        }
    }
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum DepthArg {
    #[value(name = "24")]
    Int24,
    #[value(name = "32f")]
    Float32,
}

impl From<DepthArg> for Depth {
    fn from(depth: DepthArg) -> Depth {
        match depth {
            DepthArg::Int24 => Depth::Int24,
            DepthArg::Float32 => Depth::Float32,
        }
    }
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum StripsArg {
    Channels,
    Returns,
    Buses,
    Main,
}
