//! Opening a ledger: what stands in the way of it, and what of it can be trusted.

use crate::backup::{self, Why};
use crate::entries::{self, Found};
use crate::error::at;
use crate::guard::{self, Guard};
use crate::seal::SEALED;
use crate::witness::Witness;
use crate::{
    About, FILE, Lists, Open, StoreError, Trouble, households, lists, migrations, readings, runs,
    shelf,
};
use jiff::Timestamp;
use manifest_core::catalogue::Catalogue;
use manifest_core::household::{Beside, Household};
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
    pub home: Household,
    pub lists: Lists,
    pub about: About,
}

/// Opens the ledger of a folder that is held already, brings it up to date, checks and folds it.
pub fn open(folder: &Path, catalogue: &Catalogue, now: Timestamp) -> Result<Opened, StoreError> {
    let path = folder.join(FILE);
    let io = at(&path);
    sweep(folder);
    let witness = Witness::read(folder);
    let size = std::fs::metadata(&path).map_or(0, |m| m.len());
    if size == 0 {
        if was_in_use(folder) {
            return Err(StoreError::Gone(folder.to_path_buf()));
        }
    } else if !guard::is_ledger(&path)? {
        return Err(StoreError::NotALedger(path));
    }
    let way_out = |what: String| Trouble {
        what,
        way_out: way_out(folder),
    };
    let mut conn = Connection::open(&path)?;
    conn.busy_timeout(PATIENCE)?;
    conn.pragma_update(None, "journal_mode", "WAL")?;
    conn.pragma_update(None, "synchronous", "FULL")?;
    conn.pragma_update(None, "foreign_keys", true)?;
    conn.set_prepared_statement_cache_capacity(32);
    if size > 0 && is_older(&conn)? {
        backup::take(folder, Why::BeforeMigration, now)?;
    }
    migrations::MIGRATIONS.to_latest(&mut conn)?;

    let mut found = entries::all(&conn)?;
    let mut broken = found.broken.take();
    let mut rows = [0; 3];
    for (count, table) in rows.iter_mut().zip(&SEALED) {
        match table.check(&conn) {
            Ok(n) => *count = n,
            Err(words) => broken = broken.or(Some(words)),
        }
    }
    if let Some(witness) = &witness {
        broken = broken.or_else(|| ahead(witness, &found, rows));
    }
    if let Err(pages) = backup::quick_check(&conn) {
        broken = broken.or_else(|| Some(pages.to_string()));
    }
    let catalogue = Arc::new(catalogue.with_shelf(shelf::all(&conn)?));
    let book = Book::fold(found.entries, catalogue);
    let lists = lists::current(&conn)?;
    let home = Household {
        beside: Beside {
            climate: Arc::new(readings::climate(&conn)?),
            agenda: Arc::new(lists.agenda.list.clone()),
            runs: Arc::new(runs::all(&conn)?),
        },
        ..households::current(&conn)?.unwrap_or_default()
    };
    let about = About {
        id: conn.query_row("SELECT id FROM ledger", [], |row| row.get(0))?,
        is_demo: conn.query_row("SELECT is_demo FROM ledger", [], |row| row.get(0))?,
        is_practice: is_practice(&conn)?,
        practice_now: conn
            .query_row("SELECT practice_now FROM ledger", [], |row| {
                row.get::<_, Option<String>>(0)
            })?
            .and_then(|text| text.parse().ok()),
        trouble: broken.map(way_out),
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

/// True for a folder in which a household's ledger lay, whether or not it is there now.
#[must_use]
pub fn was_in_use(folder: &Path) -> bool {
    folder.join(crate::witness::FILE).exists() || !backup::list(folder).is_empty()
}

/// Throws away what a copy left unfinished when the program was killed.
fn sweep(folder: &Path) {
    for place in [folder, &folder.join(backup::FOLDER)] {
        for file in std::fs::read_dir(place).into_iter().flatten().flatten() {
            // The copy itself, and what SQLite lays beside a file that it writes.
            let is_part = |e: &std::ffi::OsStr| e.to_string_lossy().starts_with("part");
            if file.path().extension().is_some_and(is_part) {
                // One that stays costs room, nothing else.
                let _ = std::fs::remove_file(file.path());
            }
        }
    }
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
fn ahead(witness: &Witness, found: &Found, rows: [i64; 3]) -> Option<String> {
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
    let fewer = witness.rows.iter().zip(rows).any(|(had, has)| *had > has);
    fewer.then(|| "settings, wishes, pantry or plans that were written are missing".into())
}

/// The newest backup that reads back, and how to restore it.
fn way_out(folder: &Path) -> String {
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
        None => "There is no backup in the folder that reads back; restore one that you keep elsewhere, or keep the folder as it is and ask for help".into(),
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
