//! A file in the making: under a name that is nobody else's, in its place only when it is whole, and gone again whatever
//! goes wrong.

use crate::StoreError;
use crate::error::at;
use std::fs::{File, OpenOptions};
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicUsize, Ordering};

/// What the name of a file in the making ends in.
const ENDING: &str = ".part";
/// What SQLite lays beside a file that it writes.
const BESIDE: [&str; 4] = ["", "-journal", "-wal", "-shm"];

/// Makes a file that its owner alone can read, or says that there is one already.
pub fn made_new(path: &Path) -> std::io::Result<File> {
    let mut options = OpenOptions::new();
    options.write(true).create_new(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    options.open(path)
}

/// Makes a folder that its owner alone can look into, with all above it that are missing.
pub fn folder_made(path: &Path) -> std::io::Result<()> {
    let mut builder = std::fs::DirBuilder::new();
    builder.recursive(true);
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
    builder.create(path)
}

/// Leaves a file or folder to its owner alone; what cannot be changed stays as it is.
#[cfg(unix)]
pub fn owners_alone(path: &Path) {
    use std::os::unix::fs::PermissionsExt;
    let Ok(found) = std::fs::metadata(path) else {
        return;
    };
    let mode = found.permissions().mode();
    // A folder that all may write to, such as one of the system's for temporary files, is not the household's.
    let is_shared = found.is_dir() && mode & 0o1000 != 0;
    if mode & 0o077 != 0 && !is_shared {
        let _ = std::fs::set_permissions(path, std::fs::Permissions::from_mode(mode & 0o700));
    }
}

#[cfg(not(unix))]
pub fn owners_alone(_: &Path) {}

/// A file in the making.
pub struct Part {
    path: PathBuf,
    is_placed: bool,
}

impl Part {
    /// Begins one in a folder.
    ///
    /// # Errors
    /// When it cannot be made there.
    pub fn within(folder: &Path) -> Result<Self, StoreError> {
        static NEXT: AtomicUsize = AtomicUsize::new(0);
        loop {
            let n = NEXT.fetch_add(1, Ordering::Relaxed);
            let path = folder.join(format!(".{}-{n}{ENDING}", std::process::id()));
            match made_new(&path) {
                Ok(_) => {
                    return Ok(Self {
                        path,
                        is_placed: false,
                    });
                }
                Err(e) if e.kind() == std::io::ErrorKind::AlreadyExists => {}
                Err(e) => return Err(at(&path)(e)),
            }
        }
    }

    /// Where it lies for now.
    #[must_use]
    pub fn path(&self) -> &Path {
        &self.path
    }

    /// Waits until it is on the disk, and gives it its name, over what has that name.
    pub(crate) fn placed(mut self, to: &Path) -> Result<(), StoreError> {
        let io = at(&self.path);
        File::open(&self.path)
            .and_then(|file| file.sync_all())
            .map_err(&io)?;
        std::fs::rename(&self.path, to).map_err(at(to))?;
        self.is_placed = true;
        Ok(())
    }
}

impl Drop for Part {
    fn drop(&mut self) {
        if !self.is_placed {
            for beside in BESIDE {
                let mut name = self.path.as_os_str().to_owned();
                name.push(beside);
                let _ = std::fs::remove_file(PathBuf::from(name));
            }
        }
    }
}

/// A name that is taken until what it is for is there.
pub struct Reserved {
    path: PathBuf,
    is_kept: bool,
}

impl Reserved {
    /// Takes a name that nothing has yet.
    pub fn new(path: &Path) -> Result<Self, StoreError> {
        match made_new(path) {
            Ok(_) => Ok(Self {
                path: path.to_path_buf(),
                is_kept: false,
            }),
            Err(e) if e.kind() == std::io::ErrorKind::AlreadyExists => {
                Err(StoreError::Exists(path.to_path_buf()))
            }
            Err(e) => Err(at(path)(e)),
        }
    }

    /// The folder it lies in.
    pub fn folder(&self) -> &Path {
        self.path.parent().unwrap_or(Path::new("."))
    }

    /// Puts what was made in its place.
    pub fn filled(mut self, part: Part) -> Result<PathBuf, StoreError> {
        part.placed(&self.path)?;
        self.is_kept = true;
        Ok(self.path.clone())
    }
}

impl Drop for Reserved {
    fn drop(&mut self) {
        if !self.is_kept {
            let _ = std::fs::remove_file(&self.path);
        }
    }
}

/// Throws away what programs that are no longer there left unfinished in a folder.
pub fn sweep(folder: &Path) {
    for file in std::fs::read_dir(folder).into_iter().flatten().flatten() {
        let name = file.file_name();
        let Some(rest) = name.to_str().and_then(|n| n.strip_prefix('.')) else {
            continue;
        };
        let ours = BESIDE
            .iter()
            .find_map(|beside| rest.strip_suffix(beside)?.strip_suffix(ENDING));
        let maker = ours.and_then(|n| n.split_once('-')?.0.parse::<u32>().ok());
        if maker.is_some_and(|maker| !is_running(maker)) {
            // One that stays costs room, nothing else.
            let _ = std::fs::remove_file(file.path());
        }
    }
}

/// Whether another program of that number is there; where nobody can tell it is not.
fn is_running(pid: u32) -> bool {
    pid != std::process::id() && Path::new("/proc").join(pid.to_string()).exists()
}
