//! The household's ledger in one SQLite file.
//!
//! The file is the truth; the [`Book`] in memory is derived from it when the store is opened and
//! takes in every write after it is committed. One process owns a data folder at a time.

pub mod backup;
mod beside;
mod entries;
mod error;
mod guard;
mod households;
mod lists;
mod migrations;
mod opening;
mod part;
pub mod photos;
pub mod readings;
pub mod restore;
pub mod runs;
mod seal;
mod shapes;
mod shelf;
mod witness;

pub use error::{PutError, StoreError, WriteError};
pub use lists::{Lists, NewList, Versioned};
pub use opening::{remedy, was_in_use};
pub use part::Part;
pub use seal::Hash;

use error::at;
use guard::Guard;
use jiff::Timestamp;
use manifest_core::catalogue::Catalogue;
use manifest_core::house::House;
use manifest_core::household::Household;
use manifest_core::ledger::book::{Book, Change};
use manifest_core::ledger::{EntryId, LotId};
use rusqlite::Connection;
use seal::{Chain, HOUSEHOLDS, LISTS, SHELF};
use std::collections::BTreeSet;
use std::fs::File;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError, RwLock};
use witness::Witness;

/// The name of the ledger's file in its folder.
pub const FILE: &str = "household.db";

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

/// The open file, and how far it has come.
struct Open {
    conn: Connection,
    chain: Chain,
    /// Rows of settings, lists and shelf, and writes beside the entries.
    rows: [i64; 4],
    guard: Guard,
}

/// What is missing or changed in a ledger that is open for reading.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Trouble {
    /// What is missing or changed.
    pub what: String,
    /// What to do.
    pub remedy: String,
}

impl From<Trouble> for StoreError {
    fn from(Trouble { what, remedy }: Trouble) -> Self {
        Self::Untrusted { what, remedy }
    }
}

/// The ledger of one household.
pub struct Store {
    folder: PathBuf,
    catalogue: Catalogue,
    file: Mutex<Open>,
    book: RwLock<Book>,
    home: RwLock<House>,
    lists: RwLock<Lists>,
    about: RwLock<About>,
    /// Held for as long as the store is open.
    _lock: File,
}

/// What is known of the ledger as a whole.
#[derive(Clone, Debug)]
struct About {
    id: String,
    is_demo: bool,
    is_practice: bool,
    practice_now: Option<Timestamp>,
    trouble: Option<Trouble>,
    /// Photos that are no longer what their names say; everything else is sound.
    photos: Vec<(String, String)>,
    /// Beside the file's own count, since a page that asks for it does not wait for a writer.
    settings_version: i64,
}

/// The only process that may write into a folder.
fn locked(folder: &Path) -> Result<File, StoreError> {
    part::folder_made(folder).map_err(at(folder))?;
    let path = folder.join("in-use.lock");
    let lock = File::create(&path).map_err(at(folder))?;
    part::owners_alone(&path);
    if lock.try_lock().is_err() {
        return Err(StoreError::InUse(folder.to_path_buf()));
    }
    Ok(lock)
}

impl Store {
    /// Opens the ledger in `folder`, making both if they are not there, and checks it.
    ///
    /// # Errors
    /// When the folder is in use, or the file cannot be opened or brought up to date.
    pub fn open(folder: &Path, now: Timestamp) -> Result<Self, StoreError> {
        Self::open_with(folder, &Catalogue::shipped(), now)
    }

    /// The same with a catalogue other than the shipped one.
    ///
    /// # Errors
    /// As [`Store::open`].
    pub fn open_with(
        folder: &Path,
        catalogue: &Catalogue,
        now: Timestamp,
    ) -> Result<Self, StoreError> {
        let lock = locked(folder)?;
        let opened = opening::open(folder, catalogue, now)?;
        Ok(Self {
            folder: folder.to_path_buf(),
            catalogue: catalogue.clone(),
            file: Mutex::new(opened.file),
            book: RwLock::new(opened.book),
            home: RwLock::new(opened.home),
            lists: RwLock::new(opened.lists),
            about: RwLock::new(opened.about),
            _lock: lock,
        })
    }

    /// The household's folder.
    #[must_use]
    pub fn folder(&self) -> &Path {
        &self.folder
    }

    fn about(&self) -> About {
        let about = self.about.read();
        about.unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// The ledger's own name, made with it and never changed.
    #[must_use]
    pub fn id(&self) -> String {
        self.about().id
    }

    /// True for the demo household.
    #[must_use]
    pub fn is_demo(&self) -> bool {
        self.about().is_demo
    }

    /// What was found missing or changed when it was opened; it is read-only then.
    #[must_use]
    pub fn trouble(&self) -> Option<Trouble> {
        self.about().trouble
    }

    /// What to say of photos that are no longer what was written; none where all are.
    #[must_use]
    pub fn broken_photos(&self) -> Option<String> {
        beside::of_photos(&self.about().photos)
    }

    /// Looks whether what is open is still what lies in the folder.
    ///
    /// # Errors
    /// What happened to it.
    pub fn look(&self) -> Result<(), StoreError> {
        let mut file = self.file();
        file.guard.look()
    }

    fn file(&self) -> MutexGuard<'_, Open> {
        self.file.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Refuses to write to what is not trusted, or is no longer there.
    fn writable(&self, file: &mut Open) -> Result<(), StoreError> {
        if let Some(trouble) = self.trouble() {
            return Err(trouble.into());
        }
        file.guard.look()
    }

    /// After a commit: nothing is acknowledged that went into a file that nobody will find.
    fn committed(&self, file: &mut Open) -> Result<(), StoreError> {
        file.guard.look()?;
        let witness = Witness {
            chain: file.chain,
            rows: file.rows,
        };
        // Behind is harmless; it is not worth refusing what is on the disk.
        let _ = witness.write(&self.folder);
        Ok(())
    }

    /// The same of a write beside the entries, which is counted before it is committed.
    fn counted(&self, file: &mut Open, writes: i64) -> Result<(), StoreError> {
        file.rows[3] = writes;
        self.committed(file)
    }

    /// Looks something up in what the ledger derives.
    pub fn read<T>(&self, look: impl FnOnce(&Book, &House) -> T) -> T {
        let book = self.book.read().unwrap_or_else(PoisonError::into_inner);
        let home = self.home.read().unwrap_or_else(PoisonError::into_inner);
        look(&book, &home)
    }

    /// Looks something up in the lists beside it.
    pub fn read_with_lists<T>(&self, look: impl FnOnce(&Book, &House, &Lists) -> T) -> T {
        let lists = self.lists.read().unwrap_or_else(PoisonError::into_inner);
        self.read(|book, home| look(book, home, &lists))
    }

    /// Puts a list in the place of the one that `seen` is the version of.
    ///
    /// # Errors
    /// When another was put there since, or the file cannot be written.
    pub fn put(&self, new: NewList, seen: i64, now: Timestamp) -> Result<i64, PutError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let mut lists = self.lists.write().unwrap_or_else(PoisonError::into_inner);
        if lists.version_of(&new) != seen {
            return Err(PutError::Outdated);
        }
        let transaction = file.conn.transaction().map_err(StoreError::from)?;
        let version = lists::insert(&transaction, &new, &now.to_string())?;
        LISTS.seal_new(&transaction).map_err(StoreError::from)?;
        transaction.commit().map_err(StoreError::from)?;
        file.rows[1] += 1;
        self.committed(&mut file)?;
        lists.take(new, version);
        let mut home = self.home.write().unwrap_or_else(PoisonError::into_inner);
        home.agenda = Arc::new(lists.agenda.list.clone());
        home.pantry = Arc::new(lists.pantry.list.clone());
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
        ask: impl FnOnce(&Book, &House) -> Result<Vec<Change>, E>,
    ) -> Result<Written, WriteError<E>> {
        let mut file = self.file();
        self.writable(&mut file)?;
        if let Some(key) = request.key
            && let Some(earlier) = entries::earlier(&file.conn, key)?
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
        let (plan, set_back) = self.read(|book, home| {
            let changes = ask(book, home).map_err(WriteError::Asked)?;
            let plan = book.plan(&changes, request.now, home.settings.units)?;
            Ok::<_, WriteError<E>>((plan, book.set_back_by(&changes)))
        })?;
        let (mut chain, mut rows) = (file.chain, file.rows);
        let transaction = file.conn.transaction()?;
        let now = request.now.to_string();
        let write = entries::InWrite {
            id: entries::begin(&transaction, request.key, request.fingerprint, &now)?,
            key: request.key,
            fingerprint: request.fingerprint,
        };
        for kept in &plan.kept {
            shelf::keep(&transaction, kept, &now)?;
        }
        if !plan.kept.is_empty() {
            SHELF.seal_new(&transaction)?;
            rows[2] = transaction.query_row("SELECT count(*) FROM shelf", [], |row| row.get(0))?;
        }
        for entry in &plan.entries {
            entries::insert(&transaction, &write, entry, &mut chain)?;
        }
        // What was read under a wrong clock moves with what was written under it.
        let moved = match set_back {
            Some(by) => readings::set_back(&transaction, by, request.now)?,
            None => BTreeSet::new(),
        };
        if !moved.is_empty() {
            rows[3] = beside::counted(&transaction)?;
        }
        transaction.commit()?;
        (file.chain, file.rows) = (chain, rows);
        self.committed(&mut file)?;
        if !moved.is_empty() {
            self.lives_anew_in(&file.conn, &moved)?;
        }
        let written = Written {
            entries: plan.entries.iter().map(|e| e.id).collect(),
            lots: plan.entries.iter().map(|e| e.lot).collect(),
            repeated: false,
        };
        // Taken in while the file is still held, so that the next write sees it.
        self.book
            .write()
            .unwrap_or_else(PoisonError::into_inner)
            .take(plan);
        drop(file);
        Ok(written)
    }

    /// The version of the settings, which grows with every change.
    #[must_use]
    pub fn settings_version(&self) -> i64 {
        self.about().settings_version
    }

    /// Settles on new settings; in the place of version `seen`, where somebody looked at one.
    ///
    /// # Errors
    /// When others were settled on since, or the file cannot be written.
    pub fn settle(
        &self,
        home: Household,
        seen: Option<i64>,
        now: Timestamp,
    ) -> Result<(), PutError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        if seen.is_some_and(|seen| seen != file.rows[0]) {
            return Err(PutError::Outdated);
        }
        let transaction = file.conn.transaction().map_err(StoreError::from)?;
        households::insert(&transaction, &home, &now.to_string())?;
        HOUSEHOLDS
            .seal_new(&transaction)
            .map_err(StoreError::from)?;
        transaction.commit().map_err(StoreError::from)?;
        file.rows[0] += 1;
        let mut about = self.about.write().unwrap_or_else(PoisonError::into_inner);
        about.settings_version = file.rows[0];
        drop(about);
        self.committed(&mut file)?;
        let mut kept = self.home.write().unwrap_or_else(PoisonError::into_inner);
        kept.settings = home;
        drop(kept);
        drop(file);
        Ok(())
    }

    /// Marks the ledger as a demo's, which it stays.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn become_demo(&self) -> Result<(), StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        file.conn.execute("UPDATE ledger SET is_demo = 1", [])?;
        let mut about = self.about.write().unwrap_or_else(PoisonError::into_inner);
        about.is_demo = true;
        about.is_practice = true;
        drop(about);
        drop(file);
        Ok(())
    }

    /// True for a household whose clock is moved by hand: the demo, or one made for practice.
    #[must_use]
    pub fn is_practice(&self) -> bool {
        self.about().is_practice
    }

    /// Where the clock of a household for practice was moved to; none where it never was.
    #[must_use]
    pub fn practice_now(&self) -> Option<Timestamp> {
        self.about().practice_now
    }

    /// Marks an empty ledger as one for practice, which it stays.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn become_practice(&self) -> Result<(), StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        file.conn.execute("UPDATE ledger SET is_practice = 1", [])?;
        let mut about = self.about.write().unwrap_or_else(PoisonError::into_inner);
        about.is_practice = true;
        drop(about);
        drop(file);
        Ok(())
    }

    /// Keeps where the clock of a household for practice stands; of two pages that move it the further one rules.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn keep_practice_now(&self, now: Timestamp) -> Result<(), StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let now = self.practice_now().map_or(now, |stood| stood.max(now));
        file.conn
            .execute("UPDATE ledger SET practice_now = ?1", [now.to_string()])?;
        let mut about = self.about.write().unwrap_or_else(PoisonError::into_inner);
        about.practice_now = Some(now);
        drop(about);
        drop(file);
        Ok(())
    }

    /// Brings what was written into the one file, so that a copy of that alone holds it.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn gather(&self) -> Result<(), StoreError> {
        let mut file = self.file();
        file.guard.look()?;
        file.conn
            .query_row("PRAGMA wal_checkpoint(TRUNCATE)", [], |_| Ok(()))?;
        Ok(())
    }

    /// Derives the book from the file once more; equal to the one in memory when all is well.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn rebuilt(&self) -> Result<Book, StoreError> {
        let file = self.file();
        let shelf = shelf::all(&file.conn)?;
        let catalogue = self.read(|book, _| book.catalogue().with_shelf(shelf));
        Ok(Book::fold(
            entries::all(&file.conn)?.entries,
            Arc::new(catalogue),
        ))
    }
}
