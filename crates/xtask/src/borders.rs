//! Who may import whom. Dependencies point inward; within the core, from outer modules to inner ones.

use std::fs;
use std::path::{Path, PathBuf};

/// Modules of the core, the innermost first, each with those it may use.
const CORE: [(&str, &[&str]); 12] = [
    ("units", &[]),
    ("dsp", &["units"]),
    ("session", &["units", "dsp"]),
    ("routing", &["units", "dsp", "session"]),
    ("midi", &["units", "session"]),
    ("edit", &["units", "dsp", "session", "routing", "midi"]),
    ("checks", &["units", "dsp", "session", "routing", "edit"]),
    ("analysis", &["units", "dsp", "session"]),
    ("engine", &["units", "dsp", "session", "routing"]),
    ("stems", &["units", "dsp", "session", "routing", "analysis", "engine"]),
    ("levels", &["units", "dsp", "session", "edit", "checks", "analysis", "engine"]),
    ("tuning", &["units", "session", "midi", "analysis", "engine"]),
];

/// Crates with what their sources must not name.
const CRATES: [(&str, &[&str]); 5] = [
    (
        "core",
        &[
            "lane_files",
            "lane_store",
            "zealous_lane",
            "std::fs",
            "std::net",
            "std::time",
            "std::thread",
            "tokio",
            "sqlx",
            "actix",
        ],
    ),
    ("files", &["lane_core::engine", "lane_store", "zealous_lane", "sqlx", "actix"]),
    ("store", &["lane_core::engine", "lane_core::stems", "lane_core::analysis", "lane_files", "actix"]),
    ("wasm", &["lane_store", "lane_files", "zealous_lane", "std::fs"]),
    ("server", &["sqlx::query", "query_as"]),
];

/// Fails with every line that crosses a border.
pub fn check(root: &Path) -> Result<(), String> {
    let mut faults = Vec::new();
    for (module, allowed) in CORE {
        let dir = root.join("crates/core/src").join(module);
        let banned: Vec<String> = CORE
            .iter()
            .map(|(name, _)| *name)
            .filter(|name| *name != module && !allowed.contains(name))
            .map(|name| format!("crate::{name}"))
            .collect();
        look(root, &dir, &banned, &mut faults)?;
    }
    for (name, banned) in CRATES {
        let banned: Vec<String> = banned.iter().map(|b| (*b).to_owned()).collect();
        look(root, &root.join("crates").join(name).join("src"), &banned, &mut faults)?;
    }
    if faults.is_empty() { Ok(()) } else { Err(faults.join("\n")) }
}

fn look(root: &Path, dir: &Path, banned: &[String], faults: &mut Vec<String>) -> Result<(), String> {
    for file in sources(dir)? {
        let text = fs::read_to_string(&file).map_err(|e| e.to_string())?;
        // Tests may reach for anything that makes them plain.
        let code = text.split("#[cfg(test)]\nmod tests {").next().unwrap_or_default();
        for (number, line) in code.lines().enumerate().filter(|(_, l)| !l.trim_start().starts_with("//")) {
            if let Some(word) = banned.iter().find(|b| line.contains(b.as_str())) {
                let place = file.strip_prefix(root).unwrap_or(&file).display();
                faults.push(format!("{place}:{}: must not use {word}", number + 1));
            }
        }
    }
    Ok(())
}

fn sources(dir: &Path) -> Result<Vec<PathBuf>, String> {
    let mut files = Vec::new();
    for entry in fs::read_dir(dir).map_err(|e| format!("{}: {e}", dir.display()))? {
        let path = entry.map_err(|e| e.to_string())?.path();
        if path.is_dir() && !path.ends_with("tests") {
            files.extend(sources(&path)?);
        } else if path.extension().is_some_and(|e| e == "rs") && !path.ends_with("tests.rs") {
            files.push(path);
        }
    }
    Ok(files)
}
