//! Session folders: what is exported and read again is the same, on disk and in a ZIP file.

use lane_files::asset::write_pcm;
use lane_files::folder::{DiskFolder, FolderSession, FolderWriter, ZipFolder, ZipSource, read_folder, write_folder};
use lane_house::demo_sessions;
use std::io::Cursor;

#[test]
fn a_folder_reads_back_the_same_on_disk_and_zipped() {
    let demo = &demo_sessions()[1];
    let dir = tempfile::tempdir().unwrap();
    let mut zip = ZipFolder::new(Vec::new());
    let mut disk = DiskFolder::new(dir.path());
    write_folder(&demo.session, |a, to| Ok(write_pcm(&demo.bank[&a.id], to)?), &mut disk).unwrap();
    write_folder(&demo.session, |a, to| Ok(write_pcm(&demo.bank[&a.id], to)?), &mut zip).unwrap();
    let bytes = zip.finish().unwrap();
    for read in [read_folder(&mut disk), read_folder(&mut ZipSource::new(Cursor::new(bytes)).unwrap())] {
        let (FolderSession { session, remarks }, bank) = read.unwrap();
        assert_eq!((session, remarks), (demo.session.clone(), vec![]));
        assert_eq!(bank, demo.bank);
    }
    assert!(dir.path().join("midi/song.mid").exists());
}

#[test]
fn faults_of_a_folder_are_named() {
    let demo = &demo_sessions()[1];
    let dir = tempfile::tempdir().unwrap();
    let mut disk = DiskFolder::new(dir.path());
    write_folder(&demo.session, |a, to| Ok(write_pcm(&demo.bank[&a.id], to)?), &mut disk).unwrap();
    let first = format!("audio/{}.wav", demo.session.assets[0].id.0);
    let mut bytes = std::fs::read(dir.path().join(&first)).unwrap();
    let last = bytes.len() - 1;
    bytes[last] ^= 1;
    std::fs::write(dir.path().join(&first), bytes).unwrap();
    let message = read_folder(&mut disk).unwrap_err().to_string();
    assert!(message.contains("is not the audio that the session names"), "{message}");
    std::fs::remove_file(dir.path().join(&first)).unwrap();
    assert!(read_folder(&mut disk).unwrap_err().to_string().contains(&first));
    disk.begin("session.json").unwrap().write_all(b"{\"schema\":1}").unwrap();
    assert!(read_folder(&mut disk).unwrap_err().to_string().contains("session.json"));
    assert!(ZipSource::new(Cursor::new(b"PK nothing".to_vec())).is_err());
}
