//! The sources of every crate, and whether files of one use each other in a circle.

use crate::circles::{self, Module, Sources};
use std::fs;
use std::path::{Path, PathBuf};

/// Fails with every circle.
pub fn check(root: &Path) -> Result<(), String> {
    let mut faults = Vec::new();
    for dir in packages(&root.join("crates"))? {
        let name = dir.file_name().unwrap_or_default().to_string_lossy().into_owned();
        for circle in circles::find(&read(&dir.join("src"))?) {
            faults.push(format!("{name}: {} use each other in a circle", circle.join(", ")));
        }
    }
    if faults.is_empty() { Ok(()) } else { Err(faults.join("\n")) }
}

/// The folders of all packages.
fn packages(dir: &Path) -> Result<Vec<PathBuf>, String> {
    if dir.join("Cargo.toml").exists() {
        return Ok(vec![dir.to_owned()]);
    }
    let mut found = Vec::new();
    for entry in fs::read_dir(dir).map_err(|e| format!("{}: {e}", dir.display()))? {
        let path = entry.map_err(|e| e.to_string())?.path();
        if path.is_dir() {
            found.extend(packages(&path)?);
        }
    }
    found.sort();
    Ok(found)
}

/// The code of a crate by module.
fn read(dir: &Path) -> Result<Sources, String> {
    let mut all = Sources::new();
    for file in files(dir)? {
        let text = fs::read_to_string(&file).map_err(|e| e.to_string())?;
        // Tests may reach for anything that makes them plain.
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

fn files(dir: &Path) -> Result<Vec<PathBuf>, String> {
    let mut found = Vec::new();
    for entry in fs::read_dir(dir).map_err(|e| format!("{}: {e}", dir.display()))? {
        let path = entry.map_err(|e| e.to_string())?.path();
        if path.is_dir() && !path.ends_with("tests") {
            found.extend(files(&path)?);
        } else if path.extension().is_some_and(|e| e == "rs") && !path.ends_with("tests.rs") {
            found.push(path);
        }
    }
    Ok(found)
}
