//! The program `zealous-lane`.

use clap::Parser;
use lane_server::config::{Cli, Command};
use lane_server::{app, cli, jobs, state};
use rust_embed::RustEmbed;
use std::borrow::Cow;
use std::process::ExitCode;
use tracing_subscriber::EnvFilter;

/// The built pages, inside the program.
#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Built;

fn pages(path: &str) -> Option<Cow<'static, [u8]>> {
    Built::get(path).map(|file| file.data)
}

/// Gives memory back after a storm; the system's keeps what each of its arenas once needed.
#[global_allocator]
static MEMORY: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[actix_web::main]
async fn main() -> ExitCode {
    let filter = EnvFilter::try_from_env("ZEALOUS_LANE_LOG")
        .unwrap_or_else(|_| EnvFilter::new("info,sqlx=warn,symphonia=error"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    let done = match Cli::parse().command {
        Command::Serve(args) => app::serve(args, None, pages).await,
        Command::Work(args) => jobs::work_until_stopped(args).await,
        Command::Demo(args) => match args.export {
            Some(dir) => cli::export_demo(&dir),
            None => app::serve(args.serve, Some(state::DEMO), pages).await,
        },
        Command::Render(args) => cli::render(&args),
        Command::Check { folder } => cli::check(&folder),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("zealous-lane: {error:#}");
            ExitCode::FAILURE
        }
    }
}
