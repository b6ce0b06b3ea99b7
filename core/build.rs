//! The data files are baked in; a file that is changed, added or taken away is read anew.

fn main() {
    println!("cargo::rerun-if-changed=build.rs");
    watch(std::path::Path::new("data"));
}

/// Cargo looks at a folder's own time only, so every folder below is named too.
fn watch(folder: &std::path::Path) {
    println!("cargo::rerun-if-changed={}", folder.display());
    for entry in std::fs::read_dir(folder).into_iter().flatten().flatten() {
        let path = entry.path();
        if path.is_dir() {
            watch(&path);
        } else {
            println!("cargo::rerun-if-changed={}", path.display());
        }
    }
}
