//! The household's ledger in one SQLite file.
//!
//! The file is the truth; the [`Book`] in memory is derived from it when the store is opened and
//! takes in every write after it is committed. One process owns a data folder at a time.

mod entries;
mod households;
mod lists;
mod migrations;
mod shapes;
mod shelf;

pub use lists::{Lists, NewList, Versioned};

use jiff::Timestamp;
use manifest_core::catalogue::Catalogue;
use manifest_core::household::Household;
use manifest_core::ledger::book::{Book, Change, Refusal};
use manifest_core::ledger::{EntryId, LotId};
use rusqlite::Connection;
use std::collections::BTreeSet;
use std::fs::File;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError, RwLock};

/// The name of the ledger's file in its folder.
pub const FILE: &str = "household.db";

/// Why the ledger cannot be read or written.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// SQLite said no.
    #[error("the ledger's file: {0}")]
    Sqlite(#[from] rusqlite::Error),
    /// A step to today's schema failed.
    #[error("bringing the ledger's file up to date: {0}")]
    Migration(#[from] rusqlite_migration::Error),
    /// The folder cannot be used.
    #[error("{path}: {error}")]
    Folder {
        /// The folder or file.
        path: PathBuf,
        /// What the system said.
        error: std::io::Error,
    },
    /// Another process has the folder open.
    #[error("{0} is in use by another build-manifest; stop that one first")]
    InUse(PathBuf),
    /// The file fails its own checks.
    #[error("the ledger's file is damaged: {0}; restore a backup")]
    Damaged(String),
    /// An act or the settings do not read back.
    #[error("an entry does not read back: {0}")]
    Json(serde_json::Error),
    /// A newer program wrote to the file.
    #[error("a newer build-manifest wrote to this ledger; start that one")]
    Newer,
    /// A time does not read back.
    #[error("a time does not read back: {0}")]
    Time(jiff::Error),
    /// An account does not read back.
    #[error("an account does not read back: {0}")]
    Account(String),
}

/// Why nothing was written.
#[derive(Debug, thiserror::Error)]
pub enum WriteError<E> {
    /// The caller found something before any planning.
    #[error("{0}")]
    Asked(E),
    /// The ledger's rules refuse it.
    #[error(transparent)]
    Refused(#[from] Refusal),
    /// The idempotency key was used for something else.
    #[error("this idempotency key was used for another request; take a new one")]
    KeyReused,
    /// The file cannot be written.
    #[error(transparent)]
    Store(#[from] StoreError),
}

/// Why a list was not put in place.
#[derive(Debug, thiserror::Error)]
pub enum PutError {
    /// Another one was put there since it was looked at.
    #[error("this list was changed on another device since you opened it; look at it again")]
    Outdated,
    /// The file cannot be written.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl<E> From<rusqlite::Error> for WriteError<E> {
    fn from(error: rusqlite::Error) -> Self {
        Self::Store(error.into())
    }
}

/// What a write left behind.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Written {
    /// Its entries, in order of number.
    pub entries: Vec<EntryId>,
    /// The lots they are about.
    pub lots: BTreeSet<LotId>,
    /// True when the same request was written before and nothing was written now.
    pub repeated: bool,
}

/// A write's name and contents, so that a retry never weighs twice.
#[derive(Clone, Copy, Debug)]
pub struct Request<'a> {
    /// The client's own key for it.
    pub key: Option<&'a str>,
    /// What was asked, word for word.
    pub fingerprint: &'a str,
    /// When it is written down.
    pub now: Timestamp,
}

/// The ledger of one household.
pub struct Store {
    conn: Mutex<Connection>,
    book: RwLock<Book>,
    home: RwLock<Household>,
    lists: RwLock<Lists>,
    /// Held for as long as the store is open.
    _lock: File,
}

impl Store {
    /// Opens the ledger in `folder`, making both if they are not there, and checks it.
    ///
    /// # Errors
    /// When the folder is in use, or the file cannot be opened, brought up to date or trusted.
    pub fn open(folder: &Path) -> Result<Self, StoreError> {
        Self::open_with(folder, &Catalogue::shipped())
    }

    /// The same with a catalogue other than the shipped one.
    ///
    /// # Errors
    /// As [`Store::open`].
    pub fn open_with(folder: &Path, catalogue: &Catalogue) -> Result<Self, StoreError> {
        let at = |path: &Path| {
            let path = path.to_path_buf();
            move |error| StoreError::Folder { path, error }
        };
        std::fs::create_dir_all(folder).map_err(at(folder))?;
        let lock_path = folder.join("in-use.lock");
        let lock = File::create(&lock_path).map_err(at(&lock_path))?;
        if lock.try_lock().is_err() {
            return Err(StoreError::InUse(folder.to_path_buf()));
        }
        let mut conn = Connection::open(folder.join(FILE))?;
        conn.pragma_update(None, "journal_mode", "WAL")?;
        conn.pragma_update(None, "synchronous", "FULL")?;
        conn.pragma_update(None, "foreign_keys", true)?;
        conn.set_prepared_statement_cache_capacity(32);
        migrations::MIGRATIONS.to_latest(&mut conn)?;
        check(&conn)?;
        let catalogue = Arc::new(catalogue.with_shelf(shelf::all(&conn)?));
        let book = Book::fold(entries::all(&conn)?, catalogue);
        let home = households::current(&conn)?.unwrap_or_default();
        let lists = lists::current(&conn)?;
        Ok(Self {
            conn: Mutex::new(conn),
            book: RwLock::new(book),
            home: RwLock::new(home),
            lists: RwLock::new(lists),
            _lock: lock,
        })
    }

    /// Looks something up in what the ledger derives.
    pub fn read<T>(&self, look: impl FnOnce(&Book, &Household) -> T) -> T {
        let book = self.book.read().unwrap_or_else(PoisonError::into_inner);
        let home = self.home.read().unwrap_or_else(PoisonError::into_inner);
        look(&book, &home)
    }

    /// Looks something up in the lists beside it.
    pub fn read_with_lists<T>(&self, look: impl FnOnce(&Book, &Household, &Lists) -> T) -> T {
        let lists = self.lists.read().unwrap_or_else(PoisonError::into_inner);
        self.read(|book, home| look(book, home, &lists))
    }

    /// Puts a list in the place of the one that `seen` is the version of.
    ///
    /// # Errors
    /// When another was put there since, or the file cannot be written.
    pub fn put(&self, new: NewList, seen: i64, now: Timestamp) -> Result<i64, PutError> {
        let conn = self.conn.lock().unwrap_or_else(PoisonError::into_inner);
        let mut lists = self.lists.write().unwrap_or_else(PoisonError::into_inner);
        if lists.version_of(&new) != seen {
            return Err(PutError::Outdated);
        }
        let version = lists::insert(&conn, &new, &now.to_string())?;
        lists.take(new, version);
        drop(conn);
        Ok(version)
    }

    /// Writes what `ask` decides on, as one transaction, or nothing.
    ///
    /// `ask` sees the ledger as it stands at this moment; no other write comes between.
    ///
    /// # Errors
    /// What `ask` says, what the ledger's rules say, or that the file cannot be written.
    pub fn write<E>(
        &self,
        request: Request<'_>,
        ask: impl FnOnce(&Book, &Household) -> Result<Vec<Change>, E>,
    ) -> Result<Written, WriteError<E>> {
        let mut conn = self.conn.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(key) = request.key
            && let Some(earlier) = entries::earlier(&conn, key)?
        {
            if earlier.fingerprint != request.fingerprint {
                return Err(WriteError::KeyReused);
            }
            let lots = self.read(|book, _| {
                let lot = |id: &EntryId| Some(book.entry(*id)?.1.lot);
                earlier.entries.iter().filter_map(lot).collect()
            });
            return Ok(Written {
                entries: earlier.entries,
                lots,
                repeated: true,
            });
        }
        let plan = self.read(|book, home| {
            let changes = ask(book, home).map_err(WriteError::Asked)?;
            Ok::<_, WriteError<E>>(book.plan(&changes, request.now, home.units)?)
        })?;
        let transaction = conn.transaction()?;
        let now = request.now.to_string();
        let write = entries::begin(&transaction, request.key, request.fingerprint, &now)?;
        for kept in &plan.kept {
            shelf::keep(&transaction, kept, &now)?;
        }
        for entry in &plan.entries {
            entries::insert(&transaction, write, entry)?;
        }
        transaction.commit()?;
        let written = Written {
            entries: plan.entries.iter().map(|e| e.id).collect(),
            lots: plan.entries.iter().map(|e| e.lot).collect(),
            repeated: false,
        };
        // Taken in while the connection is still held, so that the next write sees it.
        self.book
            .write()
            .unwrap_or_else(PoisonError::into_inner)
            .take(plan);
        drop(conn);
        Ok(written)
    }

    /// Settles on new settings.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn settle(&self, home: Household, now: Timestamp) -> Result<(), StoreError> {
        let conn = self.conn.lock().unwrap_or_else(PoisonError::into_inner);
        households::insert(&conn, &home, &now.to_string())?;
        *self.home.write().unwrap_or_else(PoisonError::into_inner) = home;
        drop(conn);
        Ok(())
    }

    /// Derives the book from the file once more; equal to the one in memory when all is well.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn rebuilt(&self) -> Result<Book, StoreError> {
        let conn = self.conn.lock().unwrap_or_else(PoisonError::into_inner);
        let shelf = shelf::all(&conn)?;
        let catalogue = self.read(|book, _| book.catalogue().with_shelf(shelf));
        Ok(Book::fold(entries::all(&conn)?, Arc::new(catalogue)))
    }
}

fn check(conn: &Connection) -> Result<(), StoreError> {
    let found: String = conn.query_row("PRAGMA quick_check(1)", [], |row| row.get(0))?;
    if found != "ok" {
        return Err(StoreError::Damaged(found));
    }
    match entries::unbalanced(conn)?.first() {
        Some(entry) => Err(StoreError::Damaged(format!(
            "entry {} does not balance",
            entry.0
        ))),
        None => Ok(()),
    }
}
