//! TypeScript types and the JSON Schema, made from the Rust types.

use lane_analysis::NamedPitch;
use lane_document::checks::{Check, Trace, TraceQuestion};
use lane_document::compare::Difference;
use lane_document::edit::{Destination, Done, Edit, Incoming, Made, NotePlaces, TakeSound};
use lane_document::midi::TakeLine;
use lane_document::ready::{DuckStart, Pair, Ready};
use lane_document::routing::{MonoPlaces, StripLatency};
use lane_document::session::limits::{self, Limit};
use lane_document::session::{LaneGrid, NameLine, Patch, Session, Take, TemplateKeeps, Timeline};
use lane_dsp::delay::Echo;
use lane_dsp::duckers::DuckKindInfo;
use lane_dsp::{KindInfo, Response};
use lane_engine::{Bypass, MeterLayout};
use lane_measure::questions::{Answer, Question};
use lane_stems::{Figures, StemSpec, Warning};
use lane_wire::{self as api, described};
use schemars::generate::SchemaSettings;
use std::collections::BTreeMap;
use std::fs;
use std::path::Path;
use ts_rs::{Config, TS};

const TYPES: &str = "web/src/lib/api/types";
const SCHEMA: &str = "docs/session.schema.json";

/// Writes both.
pub fn write(root: &Path) -> Result<(), String> {
    write_types(&root.join(TYPES))?;
    fs::write(root.join(SCHEMA), schema()?).map_err(|e| format!("{SCHEMA}: {e}"))
}

/// The document as JSON Schema, with what the interface refers to beside it.
fn schema() -> Result<String, String> {
    let mut generator = SchemaSettings::draft2020_12().into_generator();
    macro_rules! beside {
        ($($name:ty),+) => { $(generator.subschema_for::<$name>();)+ };
    }
    beside!(Session, Edit, Patch, Made, TakeSound, Figures, StemSpec, Warning, NamedPitch, Take, TemplateKeeps);
    let mut schema = generator.into_root_schema_for::<Session>().to_value();
    for name in described::NAMES {
        if schema["$defs"][name].is_null() {
            return Err(format!("{SCHEMA} does not describe {name}, to which the interface refers"));
        }
    }
    if let Some(object) = schema.as_object_mut() {
        // Bounds that are of the whole document rather than of one value.
        object.insert("x-limits".into(), serde_json::json!(bounds()));
    }
    serde_json::to_string_pretty(&schema).map(|s| s + "\n").map_err(|e| e.to_string())
}

/// The one table of bounds, by names as other languages write them.
fn bounds() -> BTreeMap<String, Limit> {
    limits::table().into_iter().map(|(name, limit)| (name.to_lowercase(), limit)).collect()
}

fn write_types(dir: &Path) -> Result<(), String> {
    let _ = fs::remove_dir_all(dir);
    let config = Config::new().with_out_dir(dir).with_large_int("number");
    let export = |result: Result<(), ts_rs::ExportError>| result.map_err(|e| e.to_string());
    export(Session::export_all(&config))?;
    export(Edit::export_all(&config))?;
    export(Done::export_all(&config))?;
    export(api::DemoAccount::export_all(&config))?;
    export(api::Credentials::export_all(&config))?;
    export(api::PageFault::export_all(&config))?;
    export(api::Me::export_all(&config))?;
    export(api::SessionLine::export_all(&config))?;
    export(api::NewSession::export_all(&config))?;
    export(api::Created::export_all(&config))?;
    export(api::OpenSession::export_all(&config))?;
    export(api::EditRequest::export_all(&config))?;
    export(api::EditDone::export_all(&config))?;
    export(api::StepRequest::export_all(&config))?;
    export(api::KnownRequest::export_all(&config))?;
    export(api::HoldingsLine::export_all(&config))?;
    export(api::BroughtIn::export_all(&config))?;
    export(api::RenderLine::export_all(&config))?;
    export(api::LibraryLine::export_all(&config))?;
    export(Question::export_all(&config))?;
    export(Answer::export_all(&config))?;
    export(Timeline::export_all(&config))?;
    export(NameLine::export_all(&config))?;
    export(LaneGrid::export_all(&config))?;
    export(Difference::export_all(&config))?;
    export(Incoming::export_all(&config))?;
    export(Destination::export_all(&config))?;
    export(NotePlaces::export_all(&config))?;
    export(TakeLine::export_all(&config))?;
    export(Trace::export_all(&config))?;
    export(Check::export_all(&config))?;
    export(TraceQuestion::export_all(&config))?;
    export(KindInfo::export_all(&config))?;
    export(DuckKindInfo::export_all(&config))?;
    export(Ready::export_all(&config))?;
    export(DuckStart::export_all(&config))?;
    export(Pair::export_all(&config))?;
    export(Response::export_all(&config))?;
    export(Echo::export_all(&config))?;
    export(MeterLayout::export_all(&config))?;
    export(StripLatency::export_all(&config))?;
    export(MonoPlaces::export_all(&config))?;
    export(Bypass::export_all(&config))?;
    export(api::TemplateLine::export_all(&config))?;
    export(api::OpenTemplate::export_all(&config))?;
    export(api::NewTemplate::export_all(&config))?;
    export(api::TemplateChange::export_all(&config))?;
    export(api::PresetLine::export_all(&config))?;
    export(api::SnapshotLine::export_all(&config))?;
    export(api::NewSnapshot::export_all(&config))?;
    export(api::SnapshotChange::export_all(&config))?;
    export(api::NewPreset::export_all(&config))?;
    export(api::PresetChange::export_all(&config))?;
    for file in fs::read_dir(dir).map_err(|e| e.to_string())?.filter_map(Result::ok) {
        let text = fs::read_to_string(file.path()).map_err(|e| e.to_string())?;
        let body = text.split_once('\n').map_or("", |(_, body)| body);
        fs::write(file.path(), format!("// Made by `cargo xtask types`.\n{body}")).map_err(|e| e.to_string())?;
    }
    let mut names: Vec<String> = fs::read_dir(dir)
        .map_err(|e| e.to_string())?
        .filter_map(|f| f.ok()?.file_name().into_string().ok()?.strip_suffix(".ts").map(str::to_owned))
        .collect();
    names.sort();
    fs::write(dir.join("limits.ts"), limits()?).map_err(|e| e.to_string())?;
    let index: String = names.iter().map(|n| format!("export type {{ {n} }} from './{n}';\n")).collect();
    fs::write(dir.join("index.ts"), index).map_err(|e| e.to_string())
}

/// The core's table of bounds as a constant.
fn limits() -> Result<String, String> {
    let mut lines = String::from(
        "// Made by `cargo xtask types`.\n\n/** Bounds of documents and edits: at most so many, or from the first to the second. */\nexport const LIMITS = {\n",
    );
    for (name, limit) in bounds() {
        let value = serde_json::to_string(&limit).map_err(|e| e.to_string())?;
        lines += &format!("  {name}: {value},\n");
    }
    Ok(lines + "} as const;\n")
}

/// Fails when what stands in the tree is not what the code gives.
pub fn check(root: &Path) -> Result<(), String> {
    let fresh = root.join("target/types-check");
    write_types(&fresh)?;
    let stale = || "generated files are stale; run: cargo xtask types".to_owned();
    let list = |dir: &Path| -> Result<Vec<(String, String)>, String> {
        let mut files: Vec<_> = fs::read_dir(dir)
            .map_err(|e| format!("{}: {e}", dir.display()))?
            .filter_map(|f| {
                let path = f.ok()?.path();
                Some((path.file_name()?.to_str()?.to_owned(), fs::read_to_string(&path).ok()?))
            })
            .collect();
        files.sort();
        Ok(files)
    };
    let kept = fs::read_to_string(root.join(SCHEMA)).map_err(|_| stale())?;
    if list(&fresh)? != list(&root.join(TYPES))? || kept != schema()? { Err(stale()) } else { Ok(()) }
}
