//! The session sheet: what a collaborator reads beside the stems, as Markdown.

use super::labels::tempo_text;
use super::{Figures, StemJob};
use lane_document::routing::ways;
use lane_document::session::{Depth, Processor, Session, Song, Strip, SwingGrid, Tap};
use lane_dsp::Settings;
use lane_dsp::beat_shape::{ShapeBand, ShapeLength};
use std::fmt::Write;

/// The name of the sheet's file.
pub struct SheetFile;

impl SheetFile {
    /// What it is called in the archive.
    pub const NAME: &'static str = "session-sheet.md";
}

/// A cell of a table, so that a name cannot break it.
fn cell(text: &str) -> String {
    text.replace('|', "\\|").replace(['\n', '\r'], " ")
}

fn time_text(frames: u64, sample_rate: u32) -> String {
    let ms = frames * 1000 / u64::from(sample_rate);
    format!("{}:{:02}.{:03}", ms / 60_000, ms / 1000 % 60, ms % 1000)
}

/// Writes the sheet of a finished render.
pub fn session_sheet(session: &Session, job: &StemJob, figures: &Figures) -> String {
    let mut out = String::new();
    // Writing to a string cannot fail.
    let _ = write_sheet(&mut out, session, job, figures);
    out
}

fn write_sheet(out: &mut String, session: &Session, job: &StemJob, figures: &Figures) -> std::fmt::Result {
    let header = &session.header;
    let song = Song::new(session);
    let depth = match job.depth {
        Depth::Int24 => "24-bit WAV",
        Depth::Float32 => "32-bit float WAV",
    };
    writeln!(out, "# {}\n", cell(&header.title))?;
    writeln!(out, "| | |\n|---|---|")?;
    writeln!(out, "| Tempo | {} bpm |", tempo_text(header.tempo_bpm.bpm()))?;
    writeln!(out, "| Metre | {}/{} |", header.metre.beats(), header.metre.unit())?;
    if header.swing.percent > 50.0 {
        let grid = match header.swing.grid {
            SwingGrid::Eighth => "eighths",
            SwingGrid::Sixteenth => "sixteenths",
        };
        writeln!(out, "| Swing | {} % on {grid} |", tempo_text(header.swing.percent))?;
    }
    if !header.key.is_empty() {
        writeln!(out, "| Key | {} |", cell(&header.key))?;
    }
    writeln!(out, "| Files | {depth}, {} Hz, stereo |", header.sample_rate)?;
    let bar = |frame: u64| frame as f64 / song.frames_per_tick() / f64::from(song.bar_ticks());
    let first_bar = libm::round(bar(job.from)) as u64 + 1;
    let last_bar = libm::round(bar(job.hits_until)) as u64;
    writeln!(out, "| Range | bars {first_bar} to {last_bar} |")?;
    writeln!(
        out,
        "| Length | {} ({} samples), all files alike |",
        time_text(job.frames(), header.sample_rate),
        job.frames()
    )?;
    writeln!(out, "| Start | every file starts at bar {first_bar}, sample 0 |")?;
    writeln!(out, "| Main | {:.1} dBTP |", figures.main_true_peak_dbtp)?;
    if job.limiter_left_out {
        writeln!(out, "| Limiter of Main | not in the stems: Main is written before it |")?;
    }
    write_sum(out, figures)?;

    writeln!(
        out,
        "\n## Stems\n\n| # | File | Strip | Tap | Goes to | Peak dBFS | LUFS |\n|---|---|---|---|---|---|---|"
    )?;
    for (at, (stem, measured)) in job.stems.iter().zip(&figures.stems).enumerate() {
        let tap = match stem.tap {
            Tap::Dry => "dry",
            Tap::Channel => "channel",
        };
        let way: Vec<String> =
            ways(session, stem.strip)[0].strips.iter().skip(1).map(|id| cell(&session.strip_name(*id))).collect();
        let lufs = measured.integrated_lufs.map_or("silent".to_owned(), |l| format!("{l:.1}"));
        let peak =
            if measured.peak_dbfs <= -200.0 { "silent".to_owned() } else { format!("{:.1}", measured.peak_dbfs) };
        let (file, name) = (cell(&stem.file_name), cell(&stem.name));
        writeln!(out, "| {} | {file} | {name} | {tap} | {} | {peak} | {lufs} |", at + 1, way.join(", "))?;
    }

    writeln!(out, "\n## Song\n\n| Section | From bar | Bars | Pattern |\n|---|---|---|---|")?;
    for (placed, section) in song.sections().iter().zip(&session.sections) {
        let pattern = session.pattern(section.pattern).map_or("", |p| &p.name);
        writeln!(out, "| {} | {} | {} | {} |", cell(&section.name), placed.span.from + 1, section.bars, cell(pattern))?;
    }
    let on = session.strips.iter().flat_map(|s| s.chain.iter().map(move |p| (s, p))).filter(|(_, p)| p.on && p.ducks());
    let ducked: Vec<String> = on.filter_map(|(strip, processor)| ducked(session, strip, processor)).collect();
    if !ducked.is_empty() {
        writeln!(out, "\n## Ducking\n")?;
        for line in ducked {
            writeln!(out, "- {line}")?;
        }
    }
    if !job.warnings.is_empty() {
        writeln!(out, "\n## Worth a look\n")?;
        for warning in &job.warnings {
            writeln!(out, "- {}", warning.text)?;
        }
    }
    Ok(())
}

/// What ducks what, how, and how far at most; nothing of a processor that takes no gain away.
fn ducked(session: &Session, strip: &Strip, processor: &Processor) -> Option<String> {
    let how = match &processor.settings {
        Settings::Compressor(c) => {
            format!(
                "a compressor, from {:.1} dBFS at {:.1}:1, by {:.1} dB at most",
                c.threshold_dbfs, c.ratio, c.range_db
            )
        }
        Settings::Gate(g) => {
            format!("a gate that it opens at {:.1} dBFS, shut by {:.1} dB", g.threshold_dbfs, g.range_db)
        }
        Settings::Equaliser(e) => {
            let moving = e.bands.iter().filter(|b| b.moves() && b.range_db < 0.0);
            let bands: Vec<String> =
                moving.map(|b| format!("around {:.0} Hz by {:.1} dB at most", b.freq_hz, -b.range_db)).collect();
            (!bands.is_empty()).then(|| format!("an equaliser, {}", bands.join(", ")))?
        }
        Settings::EnvelopeFilter(f) => {
            format!("a filter from {:.0} Hz, by {:.1} octaves at most", f.cutoff_hz, f.amount_oct)
        }
        Settings::BeatShape(b) => {
            let of = match b.base.band {
                ShapeBand::Whole => String::new(),
                ShapeBand::Low => format!(" under {:.0} Hz", b.base.corner_hz),
                ShapeBand::Around => format!(" around {:.0} Hz", b.base.corner_hz),
                ShapeBand::High => format!(" over {:.0} Hz", b.base.corner_hz),
            };
            let length = ShapeLength::OPTIONS[b.base.length as usize].1;
            format!("a shape of {length}, by {:.1} dB{of}", b.deepest_db())
        }
        _ => return None,
    };
    let source = match &processor.key {
        Some(key) if key.source.is_none() => return None,
        Some(key) => session.strip_names(key.sources()),
        None => "The beat".to_owned(),
    };
    let several = processor.key.is_some_and(|key| key.sources().count() > 1);
    let ducks = if several { "duck" } else { "ducks" };
    Some(format!("{} {ducks} {} with {how}.", cell(&source), cell(&session.strip_name(strip.id))))
}

fn write_sum(out: &mut String, figures: &Figures) -> std::fmt::Result {
    let Some(db) = figures.sum_minus_main_dbfs else { return Ok(()) };
    let named = |what: &str, names: &[String]| match names {
        [] => String::new(),
        names => format!(" ({what} {})", cell(&names.join(", "))),
    };
    let missing = named("without", &figures.not_in_sum);
    let cut = named("over full scale, cut off there:", &figures.cut_off);
    writeln!(out, "| Sum of channel stems less Main | {db:.1} dBFS peak{missing}{cut} |")
}
