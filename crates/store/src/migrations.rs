//! The steps that bring a database of an earlier program up to this one, in their order.

use sqlx::SqlStr;
use sqlx::migrate::{Migration, MigrationType, Migrator};

macro_rules! migrations {
    ($($version:literal $name:literal),+ $(,)?) => {
        [$(($version, $name, include_str!(concat!("../migrations/", $version, "_", $name, ".sql")))),+]
    };
}

/// Version, name, statements.
const ALL: [(&str, &str, &str); 11] = migrations! {
    "0001" "first",
    "0002" "library",
    "0003" "lighter_edits",
    "0004" "templates",
    "0005" "presets",
    "0006" "kept_changes",
    "0007" "pieces",
    "0008" "snapshots",
    "0009" "references",
    "0010" "named_audio",
    "0011" "sizes",
};

/// All of them. Programs before this one kept a queue with tables of its own in this database, whose steps are not here.
pub(crate) fn migrator() -> Migrator {
    let step = |(version, name, sql): (&'static str, &'static str, &'static str)| {
        let (version, name) = (version.parse().unwrap_or_default(), name.replace('_', " "));
        Migration::new(version, name.into(), MigrationType::Simple, SqlStr::from_static(sql), false)
    };
    let mut migrator = Migrator::with_migrations(ALL.into_iter().map(step).collect());
    migrator.set_ignore_missing(true);
    migrator
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_file_of_the_folder_is_a_step() {
        let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/migrations");
        let mut files: Vec<_> =
            std::fs::read_dir(folder).unwrap().map(|f| f.unwrap().file_name().into_string().unwrap()).collect();
        files.sort();
        assert_eq!(files, ALL.map(|(version, name, _)| format!("{version}_{name}.sql")));
        let versions: Vec<i64> = migrator().iter().map(|m| m.version).collect();
        assert_eq!(versions, (1..=versions.len() as i64).collect::<Vec<_>>());
    }
}
