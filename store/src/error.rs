//! Why the ledger cannot be read or written: each with its own words, and what to do.

use manifest_core::ledger::book::Refusal;
use rusqlite::ErrorCode;
use std::path::{Path, PathBuf};

/// Why the ledger cannot be read or written.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// SQLite said no, for a reason that has no words of its own here.
    #[error("the ledger's file cannot be read or written ({})", coded(.0))]
    Sqlite(rusqlite::Error),
    /// A step to today's schema failed.
    #[error("bringing the ledger's file up to date failed, and it was left as it was ({})", match .0 {
        rusqlite_migration::Error::RusqliteError { err, .. } => coded(err),
        _ => "its steps do not fit".into(),
    })]
    Migration(rusqlite_migration::Error),
    /// The folder cannot be used.
    #[error("{path}: {error}")]
    Folder {
        /// The folder or file.
        path: PathBuf,
        /// What the system said.
        error: std::io::Error,
    },
    /// Something of that name is there, and is not overwritten.
    #[error("{0} is there already, and nothing is overwritten; give another name")]
    Exists(PathBuf),
    /// Nothing may be written there.
    #[error("{0} may only be read; give this program the right to write there")]
    ReadOnlyFolder(PathBuf),
    /// A backup of a household for practice, for a real one, or the other way round.
    #[error(
        "it is a backup of {backup}, and this is {folder}. Give it a folder of its own: build-manifest restore --data FOLDER FILE"
    )]
    OtherKind {
        /// What was brought.
        backup: &'static str,
        /// Where it should go.
        folder: &'static str,
    },
    /// Another process has the folder open.
    #[error("{0} is in use by another build-manifest; stop that one first")]
    InUse(PathBuf),
    /// The folder was in use, and its ledger is not there.
    #[error(
        "{0} was a household's folder, but its ledger is gone or empty; nothing new is begun over it. Put the file back, or restore a backup: build-manifest restore --data {0} FILE"
    )]
    Gone(PathBuf),
    /// The file is not a ledger.
    #[error("{0} is not a ledger of build-manifest; restore a backup, or take another folder")]
    NotALedger(PathBuf),
    /// The file fails its own checks.
    #[error("the ledger's file is damaged: {0}")]
    Damaged(String),
    /// The file fails its own checks, and its sound part is open for reading.
    #[error(
        "{what}. What stands before is sound and can be read; nothing more is written here. {remedy}"
    )]
    Untrusted {
        /// What is missing or changed.
        what: String,
        /// What to do.
        remedy: String,
    },
    /// The file was taken away while it was open.
    #[error(
        "the ledger's file was removed while the program runs, so nothing more is written. Everything up to then is still open here: take a backup in the settings and restore that one, before the program is stopped"
    )]
    Removed,
    /// Another file lies in its place.
    #[error(
        "another file was put in the ledger's place while the program runs, so nothing more is written. What was here is still open: take a backup in the settings and restore that one; or stop the program and start it again to open the other file"
    )]
    Replaced,
    /// The file was cut or written over from outside.
    #[error(
        "the ledger's file was overwritten or cut short from outside while the program runs, so nothing more is written. Stop the program and restore a backup"
    )]
    Overwritten,
    /// Nothing fits any more.
    #[error("the disk is full: nothing was written. Make room, then do it again")]
    DiskFull,
    /// Another program holds the file.
    #[error(
        "another program holds the ledger's file locked: nothing was written. Close it, then do it again"
    )]
    Locked,
    /// The file may not be written to.
    #[error(
        "the ledger's file may only be read: nothing was written. Give this program the right to write it"
    )]
    ReadOnly,
    /// It can be neither opened nor made.
    #[error(
        "a file cannot be opened or made there; look whether the folder is there and give this program the right to write in it"
    )]
    CannotOpen,
    /// The disk itself failed.
    #[error("the disk failed ({0}): nothing was written. Copy what can be read to another disk")]
    Disk(String),
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
    /// A backup cannot be used.
    #[error("this file cannot be restored: {0}. Nothing was changed")]
    BadBackup(String),
}

/// What the system said of a file or folder, in words where there are some.
pub(crate) fn at(path: &Path) -> impl Fn(std::io::Error) -> StoreError + use<> {
    let path = path.to_path_buf();
    move |error| match error.kind() {
        std::io::ErrorKind::StorageFull => StoreError::DiskFull,
        std::io::ErrorKind::PermissionDenied | std::io::ErrorKind::ReadOnlyFilesystem => {
            StoreError::ReadOnlyFolder(path.clone())
        }
        _ => StoreError::Folder {
            path: path.clone(),
            error,
        },
    }
}

/// An error by its number: what was asked of SQLite is nothing that a person can use.
fn coded(error: &rusqlite::Error) -> String {
    let code = match error {
        rusqlite::Error::SqlInputError { error, .. } | rusqlite::Error::SqliteFailure(error, _) => {
            Some(error.extended_code)
        }
        _ => None,
    };
    code.map_or_else(
        || "it does not hold what it should".into(),
        |code| format!("SQLite says {code}"),
    )
}

impl From<rusqlite::Error> for StoreError {
    fn from(error: rusqlite::Error) -> Self {
        match error.sqlite_error_code() {
            Some(ErrorCode::DiskFull) => Self::DiskFull,
            Some(ErrorCode::DatabaseBusy | ErrorCode::DatabaseLocked) => Self::Locked,
            Some(ErrorCode::ReadOnly | ErrorCode::PermissionDenied) => Self::ReadOnly,
            Some(ErrorCode::CannotOpen) => Self::CannotOpen,
            Some(ErrorCode::SystemIoFailure) => Self::Disk(error.to_string()),
            Some(ErrorCode::NotADatabase) => Self::Damaged("it is no SQLite file".into()),
            Some(ErrorCode::DatabaseCorrupt) => {
                Self::Damaged("parts of it are cut off or overwritten".into())
            }
            _ => Self::Sqlite(error),
        }
    }
}

impl From<rusqlite_migration::Error> for StoreError {
    fn from(error: rusqlite_migration::Error) -> Self {
        match error {
            rusqlite_migration::Error::MigrationDefinition(
                rusqlite_migration::MigrationDefinitionError::DatabaseTooFarAhead,
            ) => Self::Newer,
            rusqlite_migration::Error::RusqliteError { err, .. } => match Self::from(err) {
                Self::Sqlite(err) => Self::Migration(rusqlite_migration::Error::RusqliteError {
                    query: String::new(),
                    err,
                }),
                worded => worded,
            },
            other => Self::Migration(other),
        }
    }
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
