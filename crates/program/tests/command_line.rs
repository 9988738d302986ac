//! The program as typed: export, check, render, each without a database.

use lane_files::wav::WavReader;
use std::fs::{self, File};
use std::path::Path;
use std::process::{Command, Output};

fn run(args: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_zealous-lane"))
        .args(args)
        .env_remove("ZEALOUS_LANE_DATABASE_URL")
        .output()
        .expect("the program starts")
}

fn text(path: &Path) -> String {
    path.to_str().expect("a plain path").to_owned()
}

fn names(dir: &Path) -> Vec<String> {
    let mut names: Vec<String> =
        fs::read_dir(dir).unwrap().map(|f| f.unwrap().file_name().into_string().unwrap()).collect();
    names.sort();
    names
}

#[test]
fn an_exported_demo_is_checked_and_rendered_the_same_twice() {
    let dir = tempfile::tempdir().unwrap();
    assert!(run(&["demo", "--export", &text(dir.path())]).status.success());
    assert_eq!(names(dir.path()), ["Copper-Weather", "Paper-Lantern", "Tin-Harbour"]);
    let folder = text(&dir.path().join("Paper-Lantern"));
    let checked = run(&["check", &folder]);
    assert!(String::from_utf8_lossy(&checked.stdout).contains("Paper Lantern: whole"));

    let (first, second) = (dir.path().join("first"), dir.path().join("second"));
    for out in [&first, &second] {
        assert!(run(&["render", &folder, "--out", &text(out)]).status.success());
    }
    assert_eq!(names(&first).len(), 10, "{:?}", names(&first));
    for name in names(&first) {
        assert_eq!(fs::read(first.join(&name)).unwrap(), fs::read(second.join(&name)).unwrap(), "{name}");
    }
    let sums = fs::read_to_string(first.join("SHA256SUMS")).unwrap();
    assert_eq!(sums.lines().count(), 9);
}

#[test]
fn choices_of_the_command_line_win_over_the_plan() {
    let dir = tempfile::tempdir().unwrap();
    run(&["demo", "--export", &text(dir.path())]);
    let (folder, out) = (text(&dir.path().join("Paper-Lantern")), dir.path().join("out"));
    let args = ["render", &folder, "--out", &text(&out), "--strips", "buses,main", "--depth", "32f", "--tap", "dry"];
    assert!(run(&args).status.success());
    let stems: Vec<_> = names(&out).into_iter().filter(|n| n.ends_with(".wav")).collect();
    assert_eq!(stems, ["01_Mix-bus_Paper-Lantern_124bpm.wav", "02_Main_Paper-Lantern_124bpm.wav"]);
    let wav = WavReader::new(File::open(out.join(&stems[0])).unwrap()).unwrap();
    assert_eq!((wav.channels, wav.sample_rate, wav.format), (2, 48_000, lane_files::wav::SampleFormat::F32));
}

#[test]
fn faults_are_said_in_one_line_and_leave_nothing() {
    let dir = tempfile::tempdir().unwrap();
    let out = dir.path().join("out");
    let missing = run(&["render", &text(&dir.path().join("nothing")), "--out", &text(&out)]);
    assert!(!missing.status.success());
    assert!(String::from_utf8_lossy(&missing.stderr).contains("session.json"));
    assert!(!out.exists());
    let no_database = run(&["serve"]);
    assert!(String::from_utf8_lossy(&no_database.stderr).contains("ZEALOUS_LANE_DATABASE_URL"));
}
