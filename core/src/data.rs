//! The data files that ship with the program, as text.

use include_dir::{Dir, include_dir};

static DATA: Dir<'_> = include_dir!("$CARGO_MANIFEST_DIR/data");

/// A data file: where it lies under `data/`, and what it says.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DataFile {
    /// Its path, such as `builds/10-belly-slab.toml`.
    pub path: String,
    /// Its text.
    pub text: String,
}

/// Every file that ships, in order of path.
#[must_use]
pub fn shipped() -> Vec<DataFile> {
    let mut files = Vec::new();
    gather(&DATA, &mut files);
    files.sort_by(|a, b| a.path.cmp(&b.path));
    files
}

fn gather(dir: &Dir<'_>, files: &mut Vec<DataFile>) {
    for file in dir.files() {
        files.push(DataFile {
            path: file.path().to_string_lossy().replace('\\', "/"),
            text: String::from_utf8_lossy(file.contents()).into_owned(),
        });
    }
    for sub in dir.dirs() {
        gather(sub, files);
    }
}
