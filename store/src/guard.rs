//! Whether the file that is open is still the one that lies in the folder.

use crate::StoreError;
use std::fs::File;
use std::io::Read;
use std::path::{Path, PathBuf};

/// What every SQLite file begins with.
const MAGIC: &[u8; 16] = b"SQLite format 3\0";

/// The open file, as it was when it was last looked at.
pub struct Guard {
    path: PathBuf,
    file: Mark,
    /// The log beside it, once there is one.
    log: Option<Mark>,
}

#[derive(Clone, Copy, PartialEq, Eq)]
struct Mark {
    device: u64,
    inode: u64,
    size: u64,
}

#[cfg(unix)]
fn mark(path: &Path) -> std::io::Result<Mark> {
    use std::os::unix::fs::MetadataExt;
    let found = std::fs::metadata(path)?;
    Ok(Mark {
        device: found.dev(),
        inode: found.ino(),
        size: found.len(),
    })
}

#[cfg(not(unix))]
fn mark(path: &Path) -> std::io::Result<Mark> {
    Ok(Mark {
        device: 0,
        inode: 0,
        size: std::fs::metadata(path)?.len(),
    })
}

/// The log of a ledger's file.
pub fn log_of(path: &Path) -> PathBuf {
    let mut name = path.as_os_str().to_owned();
    name.push("-wal");
    name.into()
}

/// True when a file begins as SQLite's do; an empty one does not.
pub fn is_ledger(path: &Path) -> std::io::Result<bool> {
    let mut head = [0; 16];
    match File::open(path)?.read_exact(&mut head) {
        Ok(()) => Ok(&head == MAGIC),
        Err(e) if e.kind() == std::io::ErrorKind::UnexpectedEof => Ok(false),
        Err(e) => Err(e),
    }
}

impl Guard {
    /// Remembers the file that was just opened.
    pub fn of(path: &Path) -> std::io::Result<Self> {
        Ok(Self {
            path: path.to_path_buf(),
            file: mark(path)?,
            log: None,
        })
    }

    /// Looks whether it is still there, the same, and whole.
    pub fn look(&mut self) -> Result<(), StoreError> {
        let now = mark(&self.path).map_err(|_| StoreError::Removed)?;
        if (now.device, now.inode) != (self.file.device, self.file.inode) {
            return Err(StoreError::Replaced);
        }
        if now.size < self.file.size || !is_ledger(&self.path).unwrap_or(false) {
            return Err(StoreError::Overwritten);
        }
        self.file = now;
        match (self.log, mark(&log_of(&self.path)).ok()) {
            (None, now) => self.log = now,
            (Some(_), None) => return Err(StoreError::Removed),
            (Some(was), Some(now)) if (was.device, was.inode) != (now.device, now.inode) => {
                return Err(StoreError::Replaced);
            }
            (Some(_), Some(_)) => {}
        }
        Ok(())
    }
}
