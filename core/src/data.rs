//! The data files that ship with the program, read once.
//!
//! Adding a species, a build, a cure or a rule set is adding a file under `core/data/`.

use include_dir::{Dir, include_dir};
use serde::de::DeserializeOwned;

static DATA: Dir<'_> = include_dir!("$CARGO_MANIFEST_DIR/data");

/// Every file of a folder, in order of file name.
///
/// # Panics
/// When a shipped file does not parse; a test reads them all, so a release cannot hold one.
pub(crate) fn folder<T: DeserializeOwned>(name: &str) -> Vec<T> {
    let dir = DATA
        .get_dir(name)
        .unwrap_or_else(|| panic!("no data folder {name}"));
    let mut files: Vec<_> = dir.files().collect();
    files.sort_by_key(|f| f.path());
    files
        .into_iter()
        .map(|f| parse(f.path().to_str(), f.contents_utf8()))
        .collect()
}

/// One file. Panics as [`folder`] does.
pub(crate) fn file<T: DeserializeOwned>(name: &str) -> T {
    let file = DATA
        .get_file(name)
        .unwrap_or_else(|| panic!("no data file {name}"));
    parse(Some(name), file.contents_utf8())
}

fn parse<T: DeserializeOwned>(name: Option<&str>, text: Option<&str>) -> T {
    let name = name.unwrap_or("?");
    toml::from_str(text.expect("data files are UTF-8")).unwrap_or_else(|e| panic!("{name}: {e}"))
}
