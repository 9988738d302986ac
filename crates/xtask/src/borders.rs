//! Who may import whom. Dependencies point inward; within the core, from outer modules to inner ones.

use crate::circles::{self, Module, Sources};
use std::fs;
use std::path::{Path, PathBuf};

/// Modules of the core, the innermost first, each with those it may use.
const CORE: [(&str, &[&str]); 16] = [
    ("units", &[]),
    ("dsp", &["units"]),
    ("session", &["units", "dsp"]),
    ("routing", &["units", "dsp", "session"]),
    ("midi", &["units", "session"]),
    ("edit", &["units", "dsp", "session", "routing", "midi"]),
    ("compare", &["units", "dsp", "session", "routing", "edit"]),
    ("checks", &["units", "dsp", "session", "routing", "edit"]),
    ("analysis", &["units", "dsp", "session"]),
    ("engine", &["units", "dsp", "session", "routing"]),
    ("stems", &["units", "dsp", "session", "routing", "analysis", "engine"]),
    ("ducking", &["units", "dsp", "session", "routing", "analysis", "engine"]),
    ("parallel", &["units", "dsp", "session", "routing", "analysis", "engine"]),
    ("sides", &["units", "dsp", "session", "analysis", "engine"]),
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
            "lane_server",
            "std::fs",
            "std::net",
            "std::time",
            "std::thread",
            "tokio",
            "sqlx",
            "actix",
        ],
    ),
    ("files", &["lane_core::engine", "lane_store", "lane_server", "sqlx", "actix"]),
    ("store", &["lane_core::engine", "lane_core::stems", "lane_core::analysis", "lane_files", "actix"]),
    ("wasm", &["lane_store", "lane_files", "lane_server", "std::fs"]),
    ("server", &["sqlx::query", "query_as"]),
];

/// Fails with every line that crosses a border.
pub fn check(root: &Path) -> Result<(), String> {
    let mut faults = Vec::new();
    let core = read(&root.join("crates/core/src"))?;
    for module in core.keys().filter_map(|m| m.first()) {
        if !CORE.iter().any(|(name, _)| name == module) {
            faults.push(format!("crates/core/src/{module}: a module that the list of borders does not know"));
        }
    }
    // Trees of paths are read too, which lines of text do not show.
    for (module, code) in &core {
        let Some((name, allowed)) = CORE.iter().find(|(name, _)| module.first().is_some_and(|m| m == name)) else {
            continue;
        };
        for path in circles::paths(code).iter().filter(|p| p.len() > 1 && p[0] == "crate") {
            let to = path[1].as_str();
            if to != *name && !allowed.contains(&to) && CORE.iter().any(|(other, _)| *other == to) {
                faults.push(format!("core::{}: must not use crate::{to}", module.join("::")));
            }
        }
    }
    for name in ["core", "files", "store", "server", "program", "wasm", "house", "bench", "fuzz", "xtask"] {
        for circle in circles::find(&read(&root.join("crates").join(name).join("src"))?) {
            faults.push(format!("{name}: {} use each other in a circle", circle.join(", ")));
        }
    }
    faults.dedup();
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

/// The code of a crate by module.
fn read(dir: &Path) -> Result<Sources, String> {
    let mut all = Sources::new();
    for file in sources(dir)? {
        let text = fs::read_to_string(&file).map_err(|e| e.to_string())?;
        let code = text.split("#[cfg(test)]\nmod tests").next().unwrap_or_default();
        let code: Vec<&str> = code.lines().filter(|line| !line.trim_start().starts_with("//")).collect();
        let place = file.strip_prefix(dir).map_err(|e| e.to_string())?.with_extension("");
        let mut module: Module = place.iter().map(|part| part.to_string_lossy().into_owned()).collect();
        if module.last().is_some_and(|last| matches!(last.as_str(), "mod" | "lib" | "main")) {
            module.pop();
        }
        all.insert(module, code.join("\n"));
    }
    Ok(all)
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
