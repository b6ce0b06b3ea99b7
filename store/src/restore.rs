//! Putting a backup in the ledger's place: all of it or nothing.

use crate::backup::{self, Backup, Contents, Why};
use crate::error::at;
use crate::guard::log_of;
use crate::part::Part;
use crate::{FILE, Hash, Store, StoreError, entries, opening, part, witness};
use jiff::Timestamp;
use manifest_core::ledger::EntryId;
use rusqlite::Connection;
use std::path::{Path, PathBuf};
use std::sync::PoisonError;

/// What restoring would mean.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Preview {
    /// How many entries the backup holds.
    pub entries: usize,
    /// When its newest one was written.
    pub newest: Option<Timestamp>,
    /// Entries of today's ledger that it does not hold.
    pub lost: Vec<EntryId>,
    /// True when it is another household's.
    pub other_household: bool,
    /// What is in the folder now.
    pub present: Present,
}

/// What a restore would take the place of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Present {
    /// Nothing is written there.
    Nothing,
    /// A ledger of so many entries.
    Ledger(usize),
    /// A file that does not read, or not whole: nobody can say what would be lost.
    Unreadable,
}

/// What restoring did.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Restored {
    /// How many entries there are now.
    pub entries: usize,
    /// Where the ledger that was there before is now.
    pub before: Option<PathBuf>,
}

/// A checked copy of a backup, of today's schema, that is about to take the ledger's place.
struct Prepared {
    part: Part,
    contents: Contents,
}

/// Checks a backup, bringing a copy of it up to today's schema; nothing else is touched. What was practised never
/// takes a real household's place, nor the other way round: its clock is not the world's.
fn prepare(folder: &Path, from: &Path, is_practice: Option<bool>) -> Result<Prepared, StoreError> {
    let fits = |backup: Contents| match (is_practice, backup.is_practice) {
        (None | Some(true), true) | (None | Some(false), false) => Ok(backup),
        (Some(false), true) => Err(StoreError::OtherKind {
            backup: "a household for practice",
            folder: "a real one",
        }),
        (Some(true), false) => Err(StoreError::OtherKind {
            backup: "a real household",
            folder: "one for practice",
        }),
    };
    let made = (|| {
        let part = backup::copied(&backup::reader(from)?, folder)?;
        let copy = backup::reader(part.path())?;
        backup::page_check(&copy)?;
        if !opening::has_entries(&copy)? {
            return Err(StoreError::NotALedger(from.to_path_buf()));
        }
        drop(copy);
        backup::update(part.path())?;
        let contents = backup::contents(part.path()).and_then(fits)?;
        Ok(Prepared { part, contents })
    })();
    made.map_err(|error| match error {
        StoreError::OtherKind { .. } | StoreError::DiskFull => error,
        StoreError::ReadOnlyFolder(_) | StoreError::Folder { .. } => error,
        StoreError::NotALedger(_) => {
            StoreError::BadBackup("it is no ledger of build-manifest".into())
        }
        StoreError::Damaged(what) => StoreError::BadBackup(format!(
            "it is damaged ({what}). A plain copy of a ledger that was running is often torn like that: bring one that the program took"
        )),
        other => StoreError::BadBackup(other.to_string()),
    })
}

fn compare(now: &Found, id: Option<&str>, backup: &Contents) -> Preview {
    let common = backup::in_common(&now.hashes, &backup.hashes);
    Preview {
        entries: backup.hashes.len(),
        newest: backup.newest,
        lost: (common..now.hashes.len())
            .map(|n| EntryId(n as i64 + 1))
            .collect(),
        other_household: id.is_some_and(|id| id != backup.ledger),
        present: now.present,
    }
}

/// What lies in a folder, as far as it reads.
struct Found {
    hashes: Vec<Hash>,
    present: Present,
}

impl Found {
    fn of(read: Result<entries::Found, StoreError>) -> Self {
        match read {
            Ok(found) => Self {
                present: match (&found.broken, found.hashes.len()) {
                    (Some(_), _) => Present::Unreadable,
                    (None, 0) => Present::Nothing,
                    (None, n) => Present::Ledger(n),
                },
                hashes: found.hashes,
            },
            Err(_) => Self {
                hashes: Vec::new(),
                present: Present::Unreadable,
            },
        }
    }
}

/// What a folder's ledger holds, as far as it reads.
fn found(folder: &Path) -> (Found, Option<String>) {
    let path = folder.join(FILE);
    if std::fs::metadata(&path).map_or(0, |m| m.len()) == 0 {
        let nothing = Found {
            hashes: Vec::new(),
            present: if opening::was_in_use(folder) {
                Present::Unreadable
            } else {
                Present::Nothing
            },
        };
        return (nothing, None);
    }
    match backup::reader(&path) {
        Ok(conn) => {
            let asked = "SELECT id FROM ledger";
            let id = conn.query_row(asked, [], |row| row.get(0)).ok();
            (Found::of(entries::all(&conn)), id)
        }
        Err(error) => (Found::of(Err(error)), None),
    }
}

/// Whether a folder is one for practice; nothing where nothing is written in it, or it does not read.
fn kind(folder: &Path) -> Option<bool> {
    let conn = backup::reader(&folder.join(FILE)).ok()?;
    let is_begun: bool = conn
        .query_row("SELECT EXISTS (SELECT 1 FROM entry)", [], |row| row.get(0))
        .ok()?;
    // A ledger of before there was practice may be a demo's.
    let was_demo = |_| conn.query_row("SELECT is_demo FROM ledger", [], |row| row.get(0));
    let is_practice = opening::is_practice(&conn).or_else(was_demo).ok()?;
    is_begun.then_some(is_practice)
}

/// What restoring a file into a folder would mean, whether or not its own ledger reads.
///
/// # Errors
/// When the file is no backup that can be restored.
pub fn preview(folder: &Path, from: &Path) -> Result<Preview, StoreError> {
    let backup = prepare(folder, from, kind(folder))?.contents;
    let (found, id) = found(folder);
    Ok(compare(&found, id.as_deref(), &backup))
}

/// Entries of a folder's ledger by their numbers: when they happened, and what they were in a word.
///
/// # Errors
/// When its ledger cannot be read.
pub fn entries_of(
    folder: &Path,
    ids: &[EntryId],
) -> Result<Vec<(EntryId, Timestamp, String)>, StoreError> {
    let all = entries::all(&backup::reader(&folder.join(FILE))?)?;
    let of = |id: &EntryId| {
        let entry = all.entries.iter().find(|e| e.id == *id)?;
        Some((*id, entry.happened_at, entry.act.kind().replace('_', " ")))
    };
    Ok(ids.iter().filter_map(of).collect())
}

/// Restores a file into a folder that no program has open.
///
/// # Errors
/// When the folder is in use or the file is no backup that can be restored; nothing was changed then.
pub fn restore(folder: &Path, from: &Path, now: Timestamp) -> Result<Restored, StoreError> {
    let _lock = crate::locked(folder)?;
    let Prepared { part, contents } = prepare(folder, from, kind(folder))?;
    let before = set_aside(folder, now, true)?;
    swap(folder, part)?;
    Ok(Restored {
        entries: contents.hashes.len(),
        before,
    })
}

/// Keeps what is there: as a backup if it is the ledger and reads back, file by file otherwise.
fn set_aside(folder: &Path, now: Timestamp, is_ours: bool) -> Result<Option<PathBuf>, StoreError> {
    let path = folder.join(FILE);
    if std::fs::metadata(&path).map_or(0, |m| m.len()) == 0 {
        return Ok(None);
    }
    if is_ours && let Ok(Backup { path, .. }) = backup::take(folder, Why::BeforeRestore, now) {
        return Ok(Some(path));
    }
    let stamp = now.strftime("%Y%m%dT%H%M%SZ");
    let names = (1..).map(|n| {
        if n > 1 {
            format!("damaged-{stamp}-{n}")
        } else {
            format!("damaged-{stamp}")
        }
    });
    let mut names = names.map(|name| folder.join(name));
    // None is ever overwritten, however fast one follows the other.
    let free = names.find(|aside| !aside.exists());
    let aside = free.unwrap_or_else(|| folder.join("damaged"));
    let io = at(&aside);
    part::folder_made(&aside).map_err(&io)?;
    for file in [path.clone(), log_of(&path)] {
        if let (true, Some(name)) = (file.exists(), file.file_name()) {
            std::fs::copy(&file, aside.join(name)).map_err(&io)?;
        }
    }
    Ok(Some(aside))
}

/// Puts the prepared copy in the ledger's place. A log that is left of the one before must be gone first: it
/// would be read into the new one.
fn swap(folder: &Path, new: Part) -> Result<(), StoreError> {
    let path = folder.join(FILE);
    let io = at(&path);
    let gone = |file: PathBuf| match std::fs::remove_file(file) {
        Err(e) if e.kind() != std::io::ErrorKind::NotFound => Err(io(e)),
        _ => Ok(()),
    };
    gone(folder.join(witness::FILE))?;
    gone(log_of(&path))?;
    let mut shared = path.as_os_str().to_owned();
    shared.push("-shm");
    gone(shared.into())?;
    new.placed(&path)?;
    let dir = std::fs::File::open(folder).map_err(&io)?;
    dir.sync_all().map_err(&io)
}

impl Store {
    /// Takes a backup while the program runs; of what is open where the file can no longer be found.
    ///
    /// # Errors
    /// When it cannot be written, or does not read back.
    pub fn back_up(&self, why: Why, now: Timestamp) -> Result<Backup, StoreError> {
        let mut file = self.file();
        if file.guard.look().is_err() {
            return backup::take_from(&file.conn, self.folder(), why, now);
        }
        drop(file);
        backup::take(self.folder(), why, now)
    }

    /// Whether it is one for practice; nothing where nothing is written in it.
    fn kind(&self) -> Option<bool> {
        let is_begun = self.read(|book, _| book.lots().next().is_some());
        is_begun.then(|| self.is_practice())
    }

    /// What restoring a file would mean.
    ///
    /// # Errors
    /// When it is no backup that can be restored.
    pub fn preview(&self, from: &Path) -> Result<Preview, StoreError> {
        let backup = prepare(self.folder(), from, self.kind())?.contents;
        let mut now = Found::of(entries::all(&self.file().conn));
        if self.trouble().is_some() {
            now.present = Present::Unreadable;
        }
        Ok(compare(&now, Some(&self.id()), &backup))
    }

    /// Restores a file while the program runs; reads see the ledger before or the one after it, nothing between.
    ///
    /// # Errors
    /// When the file is no backup that can be restored; nothing was changed then.
    pub fn restore(&self, from: &Path, now: Timestamp) -> Result<Restored, StoreError> {
        let Prepared { part, contents } = prepare(self.folder(), from, self.kind())?;
        let mut file = self.file();
        let is_ours = file.guard.look().is_ok();
        // What is open holds everything, though its file may be gone.
        let open = backup::take_from(&file.conn, self.folder(), Why::BeforeRestore, now).ok();
        // Closed before its log is taken away, and opened anew whatever comes.
        drop(std::mem::replace(
            &mut file.conn,
            Connection::open_in_memory()?,
        ));
        file.guard.let_go();
        let aside = match &open {
            Some(_) if is_ours => Ok(None),
            Some(_) | None => set_aside(self.folder(), now, is_ours),
        };
        let before = aside.map(|aside| open.map(|b| b.path).or(aside));
        let swapped = before.and_then(|before| swap(self.folder(), part).map(|()| before));
        let opened = opening::open(self.folder(), &self.catalogue, now)?;
        *file = opened.file;
        *self.book.write().unwrap_or_else(PoisonError::into_inner) = opened.book;
        *self.home.write().unwrap_or_else(PoisonError::into_inner) = opened.home;
        *self.lists.write().unwrap_or_else(PoisonError::into_inner) = opened.lists;
        *self.about.write().unwrap_or_else(PoisonError::into_inner) = opened.about;
        drop(file);
        Ok(Restored {
            entries: contents.hashes.len(),
            before: swapped?,
        })
    }
}
