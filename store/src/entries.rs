//! Entries with their postings, and the writes they belong to.

use crate::seal::{Chain, Hash, Seal};
use crate::{StoreError, shapes};
use manifest_core::caution::Finding;
use manifest_core::ledger::{Entry, EntryId, LotId, Posting};
use manifest_core::units::Milligrams;
use rusqlite::{Connection, OptionalExtension, Row, params};

/// A write that was made before.
pub struct EarlierWrite {
    /// What was asked then.
    pub fingerprint: String,
    /// What it wrote, in order of number.
    pub entries: Vec<EntryId>,
}

/// The write made under an idempotency key, if there was one.
pub fn earlier(conn: &Connection, key: &str) -> Result<Option<EarlierWrite>, StoreError> {
    let found = conn
        .prepare_cached("SELECT id, fingerprint FROM write WHERE idempotency_key = ?1")?
        .query_row([key], |row| {
            Ok((row.get::<_, i64>("id")?, row.get("fingerprint")?))
        })
        .optional()?;
    let Some((id, fingerprint)) = found else {
        return Ok(None);
    };
    let mut stmt = conn.prepare_cached("SELECT id FROM entry WHERE write_id = ?1 ORDER BY id")?;
    let entries = stmt
        .query_map([id], |row| Ok(EntryId(row.get("id")?)))?
        .collect::<Result<_, _>>()?;
    Ok(Some(EarlierWrite {
        fingerprint,
        entries,
    }))
}

/// Begins a write; its entries follow in the same transaction.
pub fn begin(
    conn: &Connection,
    key: Option<&str>,
    fingerprint: &str,
    now: &str,
) -> Result<i64, StoreError> {
    conn.prepare_cached(
        "INSERT INTO write (idempotency_key, fingerprint, recorded_at) VALUES (?1, ?2, ?3)",
    )?
    .execute(params![key, fingerprint, now])?;
    Ok(conn.last_insert_rowid())
}

/// The contents of an entry's row and of its write, as its hash takes them in.
struct Words<'a> {
    id: i64,
    lot: i64,
    kind: &'a str,
    happened_at: &'a str,
    recorded_at: &'a str,
    replaces: Option<i64>,
    because: Option<i64>,
    act: &'a str,
    shape: i64,
    kept: Option<&'a str>,
    key: Option<&'a str>,
    fingerprint: &'a str,
}

impl Words<'_> {
    /// The hash over the entry before and this one; its postings follow with [`posted`].
    fn after(&self, before: &Hash) -> Seal {
        Seal::of("entry")
            .bytes(before)
            .int(self.id)
            .int(self.lot)
            .text(self.kind)
            .text(self.happened_at)
            .text(self.recorded_at)
            .maybe(self.replaces)
            .maybe(self.because)
            .text(self.act)
            .int(self.shape)
            .maybe_text(self.kept)
            .maybe_text(self.key)
            .text(self.fingerprint)
    }
}

fn posted(seal: Seal, line: i64, account: &str, mass_mg: i64) -> Seal {
    seal.int(line).text(account).int(mass_mg)
}

/// A write as its entries name it.
pub struct InWrite<'a> {
    /// Its number.
    pub id: i64,
    /// The client's key for it.
    pub key: Option<&'a str>,
    /// What was asked.
    pub fingerprint: &'a str,
}

/// Writes one entry: its postings first, so that the database can check that they balance. The chain
/// grows by it.
pub fn insert(
    conn: &Connection,
    write: &InWrite<'_>,
    entry: &Entry,
    chain: &mut Chain,
) -> Result<(), StoreError> {
    let mut posting = conn.prepare_cached(
        "INSERT INTO posting (entry_id, line, account, mass_mg) VALUES (?1, ?2, ?3, ?4)",
    )?;
    let accounts: Vec<_> = entry
        .postings
        .iter()
        .map(|p| p.account.to_string())
        .collect();
    for (line, (moved, account)) in entry.postings.iter().zip(&accounts).enumerate() {
        posting.execute(params![entry.id.0, line as i64, account, moved.mass.0])?;
    }
    let kept = (!entry.kept.is_empty())
        .then(|| serde_json::to_string(&entry.kept))
        .transpose()
        .map_err(StoreError::Json)?;
    let act = serde_json::to_string(&entry.act).map_err(StoreError::Json)?;
    let words = Words {
        id: entry.id.0,
        lot: entry.lot.0,
        kind: entry.act.kind(),
        happened_at: &entry.happened_at.to_string(),
        recorded_at: &entry.recorded_at.to_string(),
        replaces: entry.replaces.map(|id| id.0),
        because: entry.because.map(|id| id.0),
        act: &act,
        shape: shapes::TODAY,
        kept: kept.as_deref(),
        key: write.key,
        fingerprint: write.fingerprint,
    };
    let mut seal = words.after(&chain.hash);
    for (line, (moved, account)) in entry.postings.iter().zip(&accounts).enumerate() {
        seal = posted(seal, line as i64, account, moved.mass.0);
    }
    let hash = seal.end();
    conn.prepare_cached(
        "INSERT INTO entry
                (id, write_id, lot_id, kind, happened_at, recorded_at, replaces, because, act, shape, kept, hash)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, ?12)",
    )?
    .execute(params![
        words.id,
        write.id,
        words.lot,
        words.kind,
        words.happened_at,
        words.recorded_at,
        words.replaces,
        words.because,
        words.act,
        words.shape,
        words.kept,
        &hash[..],
    ])?;
    *chain = Chain {
        count: chain.count + 1,
        hash,
    };
    Ok(())
}

/// What a ledger's file holds.
#[derive(Default)]
pub struct Found {
    /// The sound entries, in order of number.
    pub entries: Vec<Entry>,
    /// The chain up to the last of them.
    pub chain: Chain,
    /// The hash of every sound entry, by number less one.
    pub hashes: Vec<Hash>,
    /// What is wrong after them, in words, if anything is.
    pub broken: Option<String>,
}

/// What stands before the first entry: the ledger's own name.
fn start(conn: &Connection) -> Result<Hash, StoreError> {
    let id: String = conn.query_row("SELECT id FROM ledger", [], |row| row.get(0))?;
    Ok(Seal::of("ledger").text(&id).end())
}

/// Walks entries and postings side by side, hashing what stands there; `take` gets each row with its
/// postings, its hash after the one before, and the hash it carries.
fn walk(
    conn: &Connection,
    mut take: impl FnMut(&Row<'_>, Vec<(String, i64)>, Hash) -> Result<bool, StoreError>,
) -> Result<(), StoreError> {
    let mut postings = conn
        .prepare("SELECT entry_id, line, account, mass_mg FROM posting ORDER BY entry_id, line")?;
    let mut postings = postings.query([])?;
    let mut posting = postings.next()?;
    let mut entries = conn.prepare(
        "SELECT entry.id, lot_id, kind, happened_at, entry.recorded_at, replaces, because, act, shape, kept, hash,
                idempotency_key, fingerprint
           FROM entry LEFT JOIN write ON write.id = write_id
          ORDER BY entry.id",
    )?;
    let mut rows = entries.query([])?;
    let mut before = start(conn)?;
    while let Some(row) = rows.next()? {
        let id: i64 = row.get(0)?;
        let text = |at: usize| row.get_ref(at)?.as_str().map_err(rusqlite::Error::from);
        let maybe = |at: usize| {
            row.get_ref(at)?
                .as_str_or_null()
                .map_err(rusqlite::Error::from)
        };
        let words = Words {
            id,
            lot: row.get(1)?,
            kind: text(2)?,
            happened_at: text(3)?,
            recorded_at: text(4)?,
            replaces: row.get(5)?,
            because: row.get(6)?,
            act: text(7)?,
            shape: row.get(8)?,
            kept: maybe(9)?,
            key: maybe(11)?,
            fingerprint: maybe(12)?.unwrap_or_default(),
        };
        let mut seal = words.after(&before);
        let mut own = Vec::new();
        while let Some(row) = posting {
            let of: i64 = row.get(0)?;
            if of < id {
                return Err(StoreError::Damaged(format!(
                    "postings of an entry {of} that is not there"
                )));
            }
            if of > id {
                break;
            }
            let (line, account, mass): (i64, String, i64) = (row.get(1)?, row.get(2)?, row.get(3)?);
            seal = posted(seal, line, &account, mass);
            own.push((account, mass));
            posting = postings.next()?;
        }
        before = seal.end();
        if !take(row, own, before)? {
            return Ok(());
        }
    }
    if posting.is_some() {
        return Err(StoreError::Damaged(
            "postings of an entry that is not there".into(),
        ));
    }
    Ok(())
}

/// The hashes that the entries of an older ledger get, by number.
pub fn hashes_of_unchained(conn: &Connection) -> Result<Vec<(i64, Hash)>, rusqlite::Error> {
    let mut found = Vec::new();
    walk(conn, |row, _, hash| {
        found.push((row.get(0)?, hash));
        Ok(true)
    })
    .map_err(|e| match e {
        StoreError::Sqlite(e) => e,
        other => rusqlite::Error::ToSqlConversionFailure(other.to_string().into()),
    })?;
    Ok(found)
}

/// Every entry ever written, in order of number, as far as they are what was written.
pub fn all(conn: &Connection) -> Result<Found, StoreError> {
    let (mut entries, mut hashes): (Vec<Entry>, Vec<Hash>) = (Vec::new(), Vec::new());
    let mut acts = shapes::Acts::default();
    let mut broken = None;
    let walked = walk(conn, |row, postings, hash| {
        let id: i64 = row.get(0)?;
        let next = hashes.len() as i64 + 1;
        if id != next {
            broken = Some(missing(next, id - 1));
            return Ok(false);
        }
        let carried: Option<Vec<u8>> = row.get(10)?;
        if carried.as_deref() != Some(&hash[..]) {
            broken = Some(format!("entry {id} is not what was written"));
            return Ok(false);
        }
        let time = |at: usize| -> Result<jiff::Timestamp, StoreError> {
            let text: String = row.get(at)?;
            text.parse().map_err(StoreError::Time)
        };
        let act: String = row.get(7)?;
        let postings = postings.into_iter().map(|(account, mass)| {
            Ok(Posting {
                account: account.parse().map_err(StoreError::Account)?,
                mass: Milligrams(mass),
            })
        });
        entries.push(Entry {
            id: EntryId(id),
            lot: LotId(row.get(1)?),
            happened_at: time(3)?,
            recorded_at: time(4)?,
            replaces: row.get::<_, Option<i64>>(5)?.map(EntryId),
            because: row.get::<_, Option<i64>>(6)?.map(EntryId),
            act: acts.read(row.get(8)?, &act)?,
            postings: postings.collect::<Result<_, StoreError>>()?,
            kept: kept(row.get::<_, Option<String>>(9)?.as_deref()),
        });
        hashes.push(hash);
        Ok(true)
    });
    match walked {
        Ok(()) => {}
        // What reads so far is sound; a page that does not read ends it.
        Err(StoreError::Sqlite(_) | StoreError::Damaged(_)) => {
            broken.get_or_insert(format!(
                "entries from {} on cannot be read",
                hashes.len() + 1
            ));
        }
        Err(other) => return Err(other),
    }
    let chain = Chain {
        count: hashes.len() as i64,
        hash: match hashes.last() {
            Some(hash) => *hash,
            // Of what cannot be read at all there is no beginning either.
            None => match start(conn) {
                Ok(hash) => hash,
                Err(_) if broken.is_some() => Hash::default(),
                Err(error) => return Err(error),
            },
        },
    };
    Ok(Found {
        entries,
        chain,
        hashes,
        broken,
    })
}

/// Entries that are not there, in words.
pub fn missing(first: i64, last: i64) -> String {
    if first == last {
        format!("entry {first} is missing")
    } else {
        format!("entries {first} to {last} are missing")
    }
}

/// What gave pause, as far as this program knows its words: findings of a newer one are passed over.
fn kept(text: Option<&str>) -> Vec<Finding> {
    let all: Vec<serde_json::Value> = text
        .and_then(|t| serde_json::from_str(t).ok())
        .unwrap_or_default();
    all.into_iter()
        .filter_map(|one| serde_json::from_value(one).ok())
        .collect()
}
