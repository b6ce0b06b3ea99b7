//! Opening a ledger: what stands in the way of it, and what of it can be trusted.

use crate::backup::{self, Why};
use crate::entries::{self, Found};
use crate::error::at;
use crate::guard::{self, Guard};
use crate::seal::SEALED;
use crate::witness::Witness;
use crate::{
    About, FILE, Lists, Open, StoreError, Trouble, beside, households, lists, migrations, part,
    readings, runs, shelf,
};
use jiff::Timestamp;
use manifest_core::catalogue::Catalogue;
use manifest_core::house::House;
use manifest_core::ledger::book::Book;
use rusqlite::Connection;
use std::path::Path;
use std::sync::Arc;
use std::time::Duration;

/// So long another program may hold the file before it is said.
const PATIENCE: Duration = Duration::from_secs(2);

/// A ledger as it was found.
pub struct Opened {
    pub file: Open,
    pub book: Book,
    pub home: House,
    pub lists: Lists,
    pub about: About,
}

/// Opens the ledger of a folder that is held already, brings it up to date, checks and folds it.
pub fn open(folder: &Path, catalogue: &Catalogue, now: Timestamp) -> Result<Opened, StoreError> {
    let path = folder.join(FILE);
    let io = at(&path);
    for place in [folder, &folder.join(backup::FOLDER)] {
        part::sweep(place);
        // A name that was taken for a copy that never came.
        backup::sweep(place);
    }
    part::owners_alone(folder);
    let witness = Witness::read(folder);
    let size = std::fs::metadata(&path).map_or(0, |m| m.len());
    if size == 0 {
        if was_in_use(folder) {
            return Err(StoreError::Gone(folder.to_path_buf()));
        }
    } else if !guard::is_ledger(&path)? {
        return Err(StoreError::NotALedger(path));
    }
    if size == 0 && !path.exists() {
        part::made_new(&path).map_err(&io)?;
    }
    for file in [path.clone(), guard::log_of(&path)] {
        part::owners_alone(&file);
    }
    let mut conn = Connection::open(&path)?;
    conn.busy_timeout(PATIENCE)?;
    let mut sound = Sound::default();
    match brought_up(&mut conn, folder, size, now) {
        Ok(()) => {}
        Err(StoreError::Damaged(what)) => {
            sound.broken = Some(what);
            // Nothing is written to it any more; what lies before the cut can still be read.
            conn.pragma_update(None, "writable_schema", true)?;
            conn.pragma_update(None, "query_only", true)?;
        }
        Err(other) => return Err(other),
    }
    let mut found = sound.of(entries::all(&conn))?;
    sound.broken = found.broken.take().or(sound.broken);
    let mut rows = [0; 4];
    for (count, table) in rows.iter_mut().zip(&SEALED) {
        match table.check(&conn) {
            Ok(n) => *count = n,
            Err(words) => sound.is_broken(words),
        }
    }
    rows[3] = sound.of(beside::writes(&conn).map_err(StoreError::from))?;
    if let Some(words) = witness.as_ref().and_then(|w| ahead(w, &found, rows)) {
        sound.is_broken(words);
    }
    if let Err(pages) = backup::page_check(&conn) {
        sound.is_broken(pages.to_string());
    }
    let catalogue = Arc::new(catalogue.with_shelf(sound.of(shelf::all(&conn))?));
    let book = Book::fold(found.entries, catalogue);
    let lists = sound.of(lists::current(&conn))?;
    let home = House {
        settings: sound.of(households::current(&conn))?.unwrap_or_default(),
        climate: Arc::new(sound.of(readings::climate(&conn))?),
        agenda: Arc::new(lists.agenda.list.clone()),
        runs: Arc::new(sound.of(runs::all(&conn))?),
        pantry: Arc::new(lists.pantry.list.clone()),
    };
    if let Some(words) = sound.of(beside::broken(&conn, &home.settings))? {
        sound.is_broken(words);
    }
    let photos = sound.of(beside::broken_photos(&conn))?;
    let own = "SELECT id, is_demo, practice_now FROM ledger";
    let own = conn.query_row(own, [], |row| {
        Ok((
            row.get::<_, String>(0)?,
            row.get::<_, bool>(1)?,
            row.get::<_, Option<String>>(2)?,
        ))
    });
    let (id, is_demo, practice_now) = sound.of(own.map_err(StoreError::from))?;
    let about = About {
        id,
        is_demo,
        is_practice: sound.of(is_practice(&conn))?,
        practice_now: practice_now.and_then(|text| text.parse().ok()),
        trouble: sound.broken.map(|what| Trouble {
            what,
            remedy: remedy(folder),
        }),
        photos,
        settings_version: rows[0],
    };
    if about.trouble.is_none() {
        let witness = Witness {
            chain: found.chain,
            rows,
        };
        let _ = witness.write(folder);
    }
    let guard = Guard::of(&path).map_err(&io)?;
    Ok(Opened {
        file: Open {
            conn,
            chain: found.chain,
            rows,
            guard,
        },
        book,
        home,
        lists,
        about,
    })
}

/// What is wrong with a ledger, the first thing first; what cannot be read of it is as if it were not there.
#[derive(Default)]
struct Sound {
    broken: Option<String>,
}

impl Sound {
    fn is_broken(&mut self, words: String) {
        self.broken.get_or_insert(words);
    }

    fn of<T: Default>(&mut self, read: Result<T, StoreError>) -> Result<T, StoreError> {
        match read {
            Err(StoreError::Damaged(what)) => {
                self.is_broken(what);
                Ok(T::default())
            }
            // What is amiss already may well lack a table.
            Err(StoreError::Sqlite(_)) if self.broken.is_some() => Ok(T::default()),
            other => other,
        }
    }
}

/// Sets the connection up and brings an older file up to date, after a copy of it was taken.
fn brought_up(
    conn: &mut Connection,
    folder: &Path,
    size: u64,
    now: Timestamp,
) -> Result<(), StoreError> {
    conn.pragma_update(None, "journal_mode", "WAL")?;
    conn.pragma_update(None, "synchronous", "FULL")?;
    conn.pragma_update(None, "foreign_keys", true)?;
    conn.set_prepared_statement_cache_capacity(32);
    if size > 0 && is_older(conn)? {
        backup::take_from(conn, folder, Why::BeforeMigration, now)?;
    }
    migrations::MIGRATIONS.to_latest(conn)?;
    Ok(())
}

/// True for a folder in which a household's ledger lay, whether or not it is there now.
#[must_use]
pub fn was_in_use(folder: &Path) -> bool {
    folder.join(crate::witness::FILE).exists() || !backup::list(folder).is_empty()
}

/// True for a file with something in it that an earlier program wrote.
fn is_older(conn: &Connection) -> Result<bool, StoreError> {
    let version: i64 = conn.pragma_query_value(None, "user_version", |row| row.get(0))?;
    Ok(version < migrations::LATEST && has_entries(conn)?)
}

/// True for a file that has a place for entries, whether or not any are in it.
pub fn has_entries(conn: &Connection) -> Result<bool, StoreError> {
    Ok(conn.query_row(
        "SELECT EXISTS (SELECT 1 FROM sqlite_schema WHERE type = 'table' AND name = 'entry')",
        [],
        |row| row.get(0),
    )?)
}

/// What the witness knows of and the ledger does not.
fn ahead(witness: &Witness, found: &Found, rows: [i64; 4]) -> Option<String> {
    let (had, has) = (witness.chain.count, found.chain.count);
    if had > has {
        return Some(entries::missing(has + 1, had));
    }
    let last = usize::try_from(had - 1).ok();
    if last.is_some_and(|n| found.hashes.get(n) != Some(&witness.chain.hash)) {
        return Some(format!(
            "this is not the ledger that was here: entry {had} is another one"
        ));
    }
    let fewer = |of: std::ops::Range<usize>| of.into_iter().any(|i| witness.rows[i] > rows[i]);
    if fewer(0..3) {
        return Some("settings, wishes, pantry or plans that were written are missing".into());
    }
    fewer(3..4).then(|| "readings, lines of a run or photos that were written are missing".into())
}

/// The newest backup that reads back, and how to restore it.
#[must_use]
pub fn remedy(folder: &Path) -> String {
    let sound = backup::list(folder)
        .into_iter()
        .find_map(|b| Some((backup::contents(&b.path).ok()?, b)));
    match sound {
        Some((contents, b)) => format!(
            "The backup {} holds {} entries, the newest written {}; restore it in the settings, or with: build-manifest restore --data {} {}",
            b.name,
            contents.hashes.len(),
            contents.newest.map_or_else(|| "never".into(), |at| at.strftime("%Y-%m-%d %H:%M UTC").to_string()),
            folder.display(),
            b.path.display()
        ),
        None => "There is no backup in the folder that reads back; restore one that you keep elsewhere, or keep the folder as it is and ask for help. Where this is a plain copy of a ledger that was running, it was torn as it was copied: let the program make one instead, with build-manifest backup --to".into(),
    }
}

/// True for a ledger whose clock is moved by hand: the demo, or one made for practice.
///
/// # Errors
/// When it does not read.
pub(crate) fn is_practice(conn: &Connection) -> Result<bool, StoreError> {
    let asked = "SELECT is_demo OR is_practice FROM ledger";
    Ok(conn.query_row(asked, [], |row| row.get(0))?)
}
