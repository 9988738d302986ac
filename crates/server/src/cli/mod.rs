//! Commands that need no database.

use crate::config::{RenderArgs, StripsArg};
use crate::package::{FileOutput, write_package};
use anyhow::{Context, Result, bail};
use lane_document::session::{AssetRef, Session, StripKind};
use lane_files::asset::write_pcm;
use lane_files::folder::{DiskFolder, FolderSession, read_folder, write_folder};
use lane_stems::{RenderStopped, StemJob};
use std::fs::{self, File};
use std::io::Write;
use std::path::{Path, PathBuf};

/// Writes the demo sessions as session folders named after their titles.
pub fn export_demo(dir: &Path) -> Result<()> {
    for demo in lane_house::demo_sessions() {
        let folder = dir.join(lane_stems::labels::safe(&demo.session.header.title));
        let audio = |asset: &AssetRef, to: &mut dyn Write| Ok(write_pcm(&demo.bank[&asset.id], to)?);
        write_folder(&demo.session, audio, &mut DiskFolder::new(&folder))?;
        println!("{}", folder.display());
    }
    Ok(())
}

/// Reads a session folder and says what a stem job of it would be.
pub fn check(folder: &Path) -> Result<()> {
    let (FolderSession { session, remarks }, _) = read_folder(&mut DiskFolder::new(folder))?;
    let job = StemJob::new(&session, 1)?;
    for remark in remarks {
        println!("put right: {remark}");
    }
    println!("{}: whole", session.header.title);
    println!(
        "{} voices, {} strips, {} stems of {} samples",
        session.voices.len(),
        session.strips.len(),
        job.stems.len(),
        job.frames()
    );
    for warning in &job.warnings {
        println!("look: {}", warning.text);
    }
    Ok(())
}

/// Renders a session folder into files beside each other.
pub fn render(args: &RenderArgs) -> Result<()> {
    let (FolderSession { mut session, remarks }, bank) = read_folder(&mut DiskFolder::new(&args.folder))?;
    for remark in remarks {
        eprintln!("put right: {remark}");
    }
    choose(&mut session, args);
    let job = StemJob::new(&session, 1)?;
    fs::create_dir_all(&args.out).with_context(|| format!("{} cannot be made", args.out.display()))?;
    // Files take their names only once all of them are whole.
    let partial = tempfile::Builder::new().prefix(".rendering-").tempdir_in(&args.out)?;
    let mut output = DiskOutput { dir: partial.path().into(), files: Vec::new(), total: job.frames(), shown: 0 };
    let (files, figures) = match write_package(&session, &bank, &job, &mut output) {
        Ok(done) => done,
        Err(RenderStopped::Sink(error)) => return Err(error).context("writing failed"),
        Err(RenderStopped::Cancelled) => bail!("stopped"),
    };
    drop(output);
    for (at, file) in files.iter().enumerate() {
        fs::rename(partial.path().join(at.to_string()), args.out.join(&file.name))?;
        println!("{}", args.out.join(&file.name).display());
    }
    eprintln!("Main {:.2} dBTP", figures.main_true_peak_dbtp);
    if let Some(db) = figures.sum_minus_main_dbfs {
        eprintln!("Sum of channel stems less Main: {db:.1} dBFS peak");
    }
    for warning in &job.warnings {
        eprintln!("look: {}", warning.text);
    }
    Ok(())
}

/// Puts the choices of the command line in place of the plan's.
fn choose(session: &mut Session, args: &RenderArgs) {
    if let Some(tap) = args.tap {
        session.stem_plan.tap = tap.into();
        session.stem_plan.taps.clear();
    }
    if let Some(depth) = args.depth {
        session.stem_plan.depth = depth.into();
    }
    if args.strips.is_empty() {
        return;
    }
    let of = |kind| session.strips.iter().filter(move |s| s.kind == kind).map(|s| s.id);
    let mut without = Vec::new();
    let kinds = [
        (StripsArg::Channels, StripKind::Channel),
        (StripsArg::Returns, StripKind::Return),
        (StripsArg::Main, StripKind::Main),
    ];
    for (arg, kind) in kinds {
        if !args.strips.contains(&arg) {
            without.extend(of(kind));
        }
    }
    let with_buses = if args.strips.contains(&StripsArg::Buses) { of(StripKind::Bus).collect() } else { Vec::new() };
    session.stem_plan.without = without;
    session.stem_plan.with_buses = with_buses;
}

/// Files named by their numbers, and progress in tenths on standard error.
struct DiskOutput {
    dir: PathBuf,
    files: Vec<File>,
    total: u64,
    shown: u64,
}

impl FileOutput for DiskOutput {
    type Error = std::io::Error;

    fn write(&mut self, file: usize, piece: &[u8]) -> std::io::Result<()> {
        while self.files.len() <= file {
            self.files.push(File::create(self.dir.join(self.files.len().to_string()))?);
        }
        self.files[file].write_all(piece)
    }

    fn progress(&mut self, frames: u64) -> std::io::Result<bool> {
        let tenth = frames * 10 / self.total.max(1);
        if tenth > self.shown {
            self.shown = tenth;
            eprintln!("{} %", tenth * 10);
        }
        Ok(true)
    }
}
