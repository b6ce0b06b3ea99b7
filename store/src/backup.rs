//! Copies of the ledger that can be trusted: taken by SQLite itself while it runs, each opened and
//! folded before it counts.

use crate::error::at;
use crate::part::{Part, Reserved};
use crate::{StoreError, beside, entries, guard, migrations, opening, part, restore, seal, shelf};
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};
use manifest_core::catalogue::Catalogue;
use manifest_core::ledger::book::Book;
use rusqlite::Connection;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// The folder of backups in a household's folder.
pub const FOLDER: &str = "backups";

/// Why a backup was taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Why {
    /// Once a day, by itself.
    Daily,
    /// Somebody asked for it.
    ByHand,
    /// Before the file was brought up to date.
    BeforeMigration,
    /// Before another one was restored.
    BeforeRestore,
    /// Somebody brought the file.
    Brought,
}

impl Why {
    const ALL: [(Self, &'static str); 5] = [
        (Self::Daily, "daily"),
        (Self::ByHand, "by-hand"),
        (Self::BeforeMigration, "before-update"),
        (Self::BeforeRestore, "before-restore"),
        (Self::Brought, "brought"),
    ];

    fn word(self) -> &'static str {
        Self::ALL
            .iter()
            .find(|(w, _)| *w == self)
            .map_or("", |(_, s)| s)
    }
}

/// A backup in the household's folder.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Backup {
    /// Its file's name.
    pub name: String,
    /// Where it lies.
    pub path: PathBuf,
    /// When it was taken.
    pub at: Timestamp,
    /// Why.
    pub why: Why,
    /// Its size.
    pub bytes: u64,
}

/// What a ledger's file holds, as far as telling two apart needs it.
#[derive(Clone, Debug)]
pub struct Contents {
    /// Its name.
    pub ledger: String,
    /// True when it was practised in.
    pub is_practice: bool,
    /// How many entries, and the newest one's hash.
    pub hashes: Vec<seal::Hash>,
    /// When the newest entry was written.
    pub newest: Option<Timestamp>,
    /// What to say of photos that are no longer what was written.
    pub photos: Option<String>,
}

/// The name of the nth backup of a second.
fn name_of(at: Timestamp, why: Why, nth: u32) -> String {
    let again = if nth > 1 {
        format!("-{nth}")
    } else {
        String::new()
    };
    format!("{}-{}{again}.db", at.strftime("%Y%m%dT%H%M%SZ"), why.word())
}

fn read_name(name: &str) -> Option<(Timestamp, Why, u32)> {
    let (stamp, words) = name.strip_suffix(".db")?.split_once('-')?;
    let (why, nth) = Why::ALL.into_iter().find_map(|(why, word)| {
        let rest = words.strip_prefix(word)?;
        let nth = match rest.strip_prefix('-') {
            Some(n) => n.parse().ok().filter(|n| *n > 1)?,
            None if rest.is_empty() => 1,
            None => return None,
        };
        Some((why, nth))
    })?;
    let at = jiff::civil::DateTime::strptime("%Y%m%dT%H%M%SZ", stamp).ok()?;
    Some((at.to_zoned(TimeZone::UTC).ok()?.timestamp(), why, nth))
}

/// The backups of a household's folder, the newest first.
#[must_use]
pub fn list(folder: &Path) -> Vec<Backup> {
    let files = std::fs::read_dir(folder.join(FOLDER))
        .into_iter()
        .flatten()
        .flatten();
    let mut found: Vec<_> = files
        .filter_map(|file| {
            let name = file.file_name().into_string().ok()?;
            let (at, why, nth) = read_name(&name)?;
            // A name that is taken for what is still being copied.
            let bytes = file.metadata().ok()?.len();
            let backup = Backup {
                name,
                path: file.path(),
                at,
                why,
                bytes,
            };
            (bytes > 0).then_some((nth, backup))
        })
        .collect();
    found.sort_by_key(|(nth, b)| std::cmp::Reverse((b.at, b.why, *nth)));
    found.into_iter().map(|(_, b)| b).collect()
}

/// Takes a backup into the household's folder.
///
/// # Errors
/// When it cannot be written, or does not read back.
pub fn take(folder: &Path, why: Why, now: Timestamp) -> Result<Backup, StoreError> {
    let source = reader(&folder.join(crate::FILE))?;
    take_from(&source, folder, why, now)
}

/// The same from a ledger that is open, whether or not its file can still be found.
pub(crate) fn take_from(
    open: &Connection,
    folder: &Path,
    why: Why,
    now: Timestamp,
) -> Result<Backup, StoreError> {
    let into = folder.join(FOLDER);
    part::folder_made(&into).map_err(at(&into))?;
    // One of an older schema is only checked by SQLite, and what somebody brought was checked before.
    let folds = !matches!(why, Why::BeforeMigration | Why::Brought);
    let mut nth = 1;
    loop {
        let name = name_of(now, why, nth);
        let path = into.join(&name);
        match Reserved::new(&path) {
            Ok(name_taken) => {
                copy_from(open, name_taken, folds).map_err(|error| match error {
                    // What is wrong is wrong in the ledger: nothing of it is called a backup.
                    StoreError::Damaged(what) => StoreError::Untrusted {
                        what,
                        remedy: opening::remedy(folder),
                    },
                    other => other,
                })?;
                let bytes = std::fs::metadata(&path).map_err(at(&path))?.len();
                return Ok(Backup {
                    name,
                    path,
                    at: now,
                    why,
                    bytes,
                });
            }
            // None is ever overwritten: this one is the next of its second.
            Err(StoreError::Exists(_)) => nth += 1,
            Err(other) => return Err(other),
        }
    }
}

/// Takes a file in that somebody brought, once it has proved to be a backup.
///
/// # Errors
/// When it is none, or cannot be kept.
pub fn bring(folder: &Path, file: &Path, now: Timestamp) -> Result<Backup, StoreError> {
    restore::preview(folder, file)?;
    take_from(&reader(file)?, folder, Why::Brought, now)
}

/// Copies a ledger as it stands, whatever is being written to it, and opens and folds the copy before it gets
/// its name, which nothing else may have.
///
/// # Errors
/// When it cannot be read or written, does not read back, or something of that name is there.
pub fn copy(from: &Path, to: &Path) -> Result<(), StoreError> {
    let source = reader(from)?;
    copy_from(&source, Reserved::new(to)?, true)
}

fn copy_from(source: &Connection, to: Reserved, folds: bool) -> Result<(), StoreError> {
    let part = copied(source, to.folder())?;
    if folds {
        contents(part.path())?;
    } else {
        page_check(&reader(part.path())?)?;
    }
    to.filled(part).map(|_| ())
}

/// A copy under a name of its own: one file that needs nothing beside it, and may lie where nothing can be written.
pub(crate) fn copied(source: &Connection, folder: &Path) -> Result<Part, StoreError> {
    let part = Part::within(folder)?;
    let mut target = Connection::open(part.path())?;
    rusqlite::backup::Backup::new(source, &mut target)?.run_to_completion(
        i32::MAX,
        std::time::Duration::ZERO,
        None,
    )?;
    target.pragma_update(None, "journal_mode", "DELETE")?;
    target.close().map_err(|(_, e)| e)?;
    Ok(part)
}

/// Opens a ledger's file to look at it, and at nothing else.
pub(crate) fn reader(path: &Path) -> Result<Connection, StoreError> {
    if !guard::is_ledger(path)? {
        return Err(StoreError::NotALedger(path.to_path_buf()));
    }
    guard::reader(path)
}

/// SQLite's own check of its pages and indexes.
pub(crate) fn page_check(conn: &Connection) -> Result<(), StoreError> {
    let found: String = conn.query_row("PRAGMA integrity_check(1)", [], |row| row.get(0))?;
    if found == "ok" {
        Ok(())
    } else {
        Err(StoreError::Damaged("its pages do not fit together".into()))
    }
}

/// Opens a ledger's file of today's schema, checks everything in it, and folds it.
///
/// # Errors
/// What is wrong with it.
pub fn contents(path: &Path) -> Result<Contents, StoreError> {
    let conn = reader(path)?;
    if version_of(&conn)? > migrations::LATEST {
        return Err(StoreError::Newer);
    }
    page_check(&conn)?;
    let found = entries::all(&conn)?;
    if let Some(broken) = found.broken {
        return Err(StoreError::Damaged(broken));
    }
    for table in &seal::SEALED {
        table.check(&conn).map_err(StoreError::Damaged)?;
    }
    let home = crate::households::current(&conn)?.unwrap_or_default();
    if let Some(words) = beside::broken(&conn, &home)? {
        return Err(StoreError::Damaged(words));
    }
    let newest = found.entries.last().map(|e| e.recorded_at);
    let catalogue = Catalogue::shipped().with_shelf(shelf::all(&conn)?);
    let _ = Book::fold(found.entries, Arc::new(catalogue));
    Ok(Contents {
        ledger: conn.query_row("SELECT id FROM ledger", [], |row| row.get(0))?,
        is_practice: opening::is_practice(&conn)?,
        hashes: found.hashes,
        newest,
        photos: beside::of_photos(&beside::broken_photos(&conn)?),
    })
}

/// Checks a ledger's file of whatever schema; one of an older program as a copy that is brought up to date in the
/// system's folder for temporary files.
///
/// # Errors
/// What is wrong with it.
pub fn check(path: &Path) -> Result<Contents, StoreError> {
    let conn = reader(path)?;
    if version_of(&conn)? >= migrations::LATEST {
        return contents(path);
    }
    if !opening::has_entries(&conn)? {
        return Err(StoreError::NotALedger(path.to_path_buf()));
    }
    page_check(&conn)?;
    let copy = copied(&conn, &std::env::temp_dir())?;
    update(copy.path())?;
    contents(copy.path())
}

fn version_of(conn: &Connection) -> Result<i64, StoreError> {
    Ok(conn.pragma_query_value(None, "user_version", |row| row.get(0))?)
}

/// Brings a copy up to today's schema; the file it was copied from stays as it is.
pub(crate) fn update(path: &Path) -> Result<(), StoreError> {
    let mut conn = Connection::open(path)?;
    migrations::MIGRATIONS.to_latest(&mut conn)?;
    conn.close().map_err(|(_, e)| e.into())
}

/// Days whose daily backup is kept.
const DAYS: usize = 7;
/// Weeks of which the last one is kept.
const WEEKS: usize = 4;
/// Months of which the last one is kept.
const MONTHS: usize = 12;

/// Throws away names that were taken for a copy that never came, and what older programs left unfinished.
pub(crate) fn sweep(folder: &Path) {
    for file in std::fs::read_dir(folder).into_iter().flatten().flatten() {
        let name = file.file_name().into_string().unwrap_or_default();
        let stem = name.split_once(".part").map(|(stem, _)| stem);
        let is_old = stem.is_some_and(|s| {
            s == "restore" || s.starts_with("brought-") || read_name(&format!("{s}.db")).is_some()
        });
        let is_empty = || file.metadata().is_ok_and(|m| m.len() == 0);
        if is_old || (read_name(&name).is_some() && is_empty()) {
            // One that stays costs room, nothing else.
            let _ = std::fs::remove_file(file.path());
        }
    }
}

/// Whether a day still wants its copy: whatever days a wrong clock had, it has one or not.
#[must_use]
pub fn is_wanted(all: &[Backup], is_today: impl Fn(Timestamp) -> bool) -> bool {
    !all.iter().any(|b| b.why == Why::Daily && is_today(b.at))
}

/// Which of the backups are kept: of those taken by themselves the newest of each of the last 7 days,
/// 4 weeks and 12 months that have one. The present has no say in it, so that a clock that runs years
/// ahead throws nothing away. What somebody asked for is theirs to throw away.
#[must_use]
pub fn kept(all: &[Backup]) -> BTreeSet<String> {
    let asked_for = all.iter().filter(|b| b.why != Why::Daily);
    let mut kept: BTreeSet<String> = asked_for.map(|b| b.name.clone()).collect();
    let monday =
        |day: Date| day.saturating_sub(i32::from(day.weekday().to_monday_zero_offset()).days());
    let spans: [(usize, &dyn Fn(Date) -> Date); 3] = [
        (DAYS, &|day| day),
        (WEEKS, &monday),
        (MONTHS, &|day| day.first_of_month()),
    ];
    for (most, span_of) in spans {
        let mut spans = BTreeSet::new();
        // All lists come with the newest first, so the first of a span is its last.
        for backup in all.iter().filter(|b| b.why == Why::Daily) {
            let day = backup.at.to_zoned(TimeZone::UTC).date();
            if spans.len() < most && spans.insert(span_of(day)) {
                kept.insert(backup.name.clone());
            }
        }
    }
    kept
}

/// Throws away what is no longer kept.
pub fn prune(folder: &Path) {
    let all = list(folder);
    let kept = kept(&all);
    for backup in all.iter().filter(|b| !kept.contains(&b.name)) {
        // One that stays costs room, nothing else; the next day tries again.
        let _ = std::fs::remove_file(&backup.path);
    }
}

/// How many entries two ledgers have in common, from the first on.
#[must_use]
pub fn in_common(a: &[seal::Hash], b: &[seal::Hash]) -> usize {
    a.iter().zip(b).take_while(|(a, b)| a == b).count()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn backup(day: Date, why: Why) -> Backup {
        let at = day
            .at(18, 0, 0, 0)
            .to_zoned(TimeZone::UTC)
            .unwrap()
            .timestamp();
        let name = name_of(at, why, 1);
        Backup {
            path: name.clone().into(),
            name,
            at,
            why,
            bytes: 1,
        }
    }

    #[test]
    fn names_tell_when_and_why() {
        for (why, _) in Why::ALL {
            let one = backup(Date::constant(2026, 11, 26), why);
            for nth in [1, 2, 11] {
                let name = name_of(one.at, why, nth);
                assert_eq!(read_name(&name), Some((one.at, why, nth)), "{name}");
            }
        }
        for odd in [
            "",
            ".db",
            "20261126T180000Z.db",
            "20261126T180000Z-daily",
            "x-daily.db",
            "20261126T180000Z-daily-1.db",
            "20261126T180000Z-daily-x.db",
            "20261126T180000Z-dailyx.db",
            "20261399T180000Z-daily.db",
        ] {
            assert_eq!(read_name(odd), None, "{odd}");
        }
    }

    #[test]
    fn a_copy_of_a_day_that_never_was_makes_none_each_minute() {
        let day = Date::constant(2026, 11, 26);
        let is = |day: Date| move |at: Timestamp| at.to_zoned(TimeZone::UTC).date() == day;
        let ahead = backup(Date::constant(2093, 1, 1), Why::Daily);
        let asked_for = backup(day, Why::ByHand);
        assert!(is_wanted(&[ahead.clone(), asked_for.clone()], is(day)));
        let all = [ahead, asked_for, backup(day, Why::Daily)];
        assert!(!is_wanted(&all, is(day)));
        assert!(is_wanted(&all, is(Date::constant(2026, 11, 27))));
    }

    #[test]
    fn a_week_of_days_a_month_of_weeks_and_a_year_of_months_are_kept() {
        let today = Date::constant(2026, 11, 26);
        let mut all: Vec<_> = (0..800)
            .map(|n| backup(today.saturating_sub(n.days()), Why::Daily))
            .collect();
        all.push(backup(Date::constant(2020, 1, 1), Why::ByHand));
        let kept = kept(&all);
        let days: Vec<Date> = all
            .iter()
            .filter(|b| kept.contains(&b.name) && b.why == Why::Daily)
            .map(|b| b.at.to_zoned(TimeZone::UTC).date())
            .collect();
        for n in 0..7 {
            assert!(
                days.contains(&today.saturating_sub(n.days())),
                "{n} days ago"
            );
        }
        // The Sundays of the three weeks before, the last days of the eleven months before.
        for day in [
            "2026-11-22",
            "2026-11-15",
            "2026-11-08",
            "2026-10-31",
            "2026-02-28",
            "2025-12-31",
        ] {
            assert!(days.contains(&day.parse().unwrap()), "{day}");
        }
        assert!(days.len() <= 7 + 4 + 12 && days.len() >= 20, "{days:?}");
        assert_eq!(kept.len(), days.len() + 1, "what was asked for stays");
        // A clock that ran ahead by years once costs a day, a week and a month at most, not all.
        let mut ahead = all.clone();
        ahead.insert(0, backup(Date::constant(2093, 1, 1), Why::Daily));
        assert!(super::kept(&ahead).len() >= kept.len() + 1 - 3);
        // A machine that was off for months loses nothing by waking up.
        let old = [
            backup(Date::constant(2026, 5, 3), Why::Daily),
            backup(Date::constant(2026, 3, 9), Why::Daily),
        ];
        assert_eq!(super::kept(&old).len(), 2);
    }
}
