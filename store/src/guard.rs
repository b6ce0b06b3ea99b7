//! Whether the file that is open is still the one that lies in the folder.

use crate::StoreError;
use crate::error::at;
use rusqlite::{Connection, ErrorCode, OpenFlags};
use std::fs::File;
use std::path::{Path, PathBuf};

/// What every SQLite file begins with.
const MAGIC: &[u8; 16] = b"SQLite format 3\0";

/// The open file, as it was when it was last looked at.
pub struct Guard {
    path: PathBuf,
    /// Open for as long as the connection.
    held: Option<File>,
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
///
/// SQLite itself looks: a descriptor of a ledger's file that anybody else in this process closes takes every lock
/// along that the process holds on it.
pub fn is_ledger(path: &Path) -> Result<bool, StoreError> {
    if std::fs::metadata(path).map_err(at(path))?.len() == 0 {
        return Ok(false);
    }
    let conn = reader(path)?;
    match conn.pragma_query_value(None, "schema_version", |row| row.get::<_, i64>(0)) {
        Ok(_) => Ok(true),
        Err(e) => match e.sqlite_error_code() {
            Some(ErrorCode::NotADatabase) => Ok(false),
            // It begins as one, and what is wrong with it is said by whoever reads on.
            Some(ErrorCode::DatabaseCorrupt) => Ok(true),
            _ => Err(e.into()),
        },
    }
}

/// Opens a ledger's file to look at it, and at nothing else, also where nothing can be written.
pub fn reader(path: &Path) -> Result<Connection, StoreError> {
    let conn = Connection::open_with_flags(path, OpenFlags::SQLITE_OPEN_READ_ONLY)?;
    let cannot = |e: &rusqlite::Error| {
        matches!(
            e.sqlite_error_code(),
            Some(ErrorCode::CannotOpen | ErrorCode::ReadOnly)
        )
    };
    let asked = conn.pragma_query_value(None, "schema_version", |row| row.get::<_, i64>(0));
    if !asked.as_ref().is_err_and(cannot)
        || std::fs::metadata(log_of(path)).is_ok_and(|m| m.len() > 0)
    {
        return Ok(conn);
    }
    // A file that was in use, alone on a medium that may only be read: nobody writes to it there.
    let name = path.canonicalize().map_err(at(path))?;
    let escaped: String = name
        .to_string_lossy()
        .chars()
        .flat_map(|c| match c {
            '%' => "%25".chars().collect::<Vec<_>>(),
            '?' => "%3f".chars().collect(),
            '#' => "%23".chars().collect(),
            other => vec![other],
        })
        .collect();
    Ok(Connection::open_with_flags(
        format!("file:{escaped}?immutable=1"),
        OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_URI,
    )?)
}

impl Guard {
    /// Remembers the file that was just opened, and holds it: its descriptor stays open for as long as its connection,
    /// and is closed after it.
    pub fn of(path: &Path) -> std::io::Result<Self> {
        Ok(Self {
            path: path.to_path_buf(),
            held: Some(File::open(path)?),
            file: mark(path)?,
            log: None,
        })
    }

    /// Lets the file go, once its connection is closed and before another one opens it.
    pub fn let_go(&mut self) {
        self.held = None;
    }

    /// Looks whether it is still there, the same, and whole.
    pub fn look(&mut self) -> Result<(), StoreError> {
        let now = mark(&self.path).map_err(|_| StoreError::Removed)?;
        if (now.device, now.inode) != (self.file.device, self.file.inode) {
            return Err(StoreError::Replaced);
        }
        if now.size < self.file.size || !self.begins_as_a_ledger() {
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

    /// Through the descriptor that is held, never by opening and closing another.
    fn begins_as_a_ledger(&self) -> bool {
        let mut head = [0; MAGIC.len()];
        let held = self.held.as_ref();
        held.is_some_and(|file| read_head(file, &mut head).is_ok()) && &head == MAGIC
    }
}

#[cfg(unix)]
fn read_head(file: &File, head: &mut [u8]) -> std::io::Result<()> {
    std::os::unix::fs::FileExt::read_exact_at(file, head, 0)
}

#[cfg(not(unix))]
fn read_head(mut file: &File, head: &mut [u8]) -> std::io::Result<()> {
    use std::io::{Read, Seek, SeekFrom};
    file.seek(SeekFrom::Start(0))?;
    file.read_exact(head)
}
