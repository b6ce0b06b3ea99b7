//! The book of a lot, and how a change to it is planned; [`Book`] holds them all.
//!
//! Planning is pure: a [`Change`] against a [`Book`] gives a [`Plan`] of entries to write, or the
//! reasons why it cannot be. A change in the past is planned by walking through the lot's acts
//! again; whatever then moves other masses than before is stated again in an entry of its own, so
//! that what is stored always balances and always follows from what the scale said.

mod clock;
mod household;

use super::state::{Pack, Piece, State};
use super::{Entry, EntryId, LotId, PackId, PieceId};
use crate::catalogue::{Catalogue, Kept, SnapshotKey};
use crate::caution::{FieldError, Finding};
use crate::ledger::facts::Act;
use crate::ledger::facts::undone::Undone;
use crate::units::Units;
pub use clock::{Ahead, LEEWAY};
pub use household::{Book, Plan};
use jiff::Timestamp;
use std::borrow::Cow;
use std::collections::{BTreeMap, HashMap};
use std::sync::Arc;

/// Something to be written into the ledger.
#[derive(Clone, Debug, PartialEq)]
pub enum Change {
    /// A new act.
    Add {
        /// The lot it is about.
        lot: LotId,
        /// When it happened.
        at: Timestamp,
        /// What was done.
        act: Box<Act>,
        /// What gave pause and was kept.
        kept: Vec<Finding>,
    },
    /// Another act in the place of an earlier one.
    Replace {
        /// The entry that was wrong.
        entry: EntryId,
        /// When it happened, if that was wrong too.
        at: Option<Timestamp>,
        /// What was really done.
        act: Box<Act>,
        /// What gave pause and was kept.
        kept: Vec<Finding>,
    },
    /// An entry that did not happen. Undoing an undoing brings the act back.
    Undo {
        /// The entry.
        entry: EntryId,
    },
    /// Entries of one lot that a wrong clock dated, each with when it really happened.
    Redate {
        /// The lot.
        lot: LotId,
        /// The entries, in the order in which they happened.
        times: Vec<(EntryId, Timestamp)>,
    },
}

/// A later entry that a change would make impossible.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Obstacle {
    /// The entry.
    pub entry: EntryId,
    /// Which it is, in words.
    pub what: String,
    /// Why it could not have happened then.
    pub why: String,
}

/// Why a change is not made.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum Refusal {
    /// The act itself cannot be; each field says why.
    #[error("{}", .0.iter().map(|e| e.message.as_str()).collect::<Vec<_>>().join(" "))]
    Fields(Vec<FieldError>),
    /// Later entries stand in the way.
    #[error("Later entries depend on this one. Undo or correct them first: {}.", .0.iter().map(|o| o.what.as_str()).collect::<Vec<_>>().join("; "))]
    InTheWay(Vec<Obstacle>),
    /// The entry was corrected or undone before.
    #[error(
        "This entry was corrected or undone already. Look at the history and choose the newest one."
    )]
    NotLive,
    /// What an undoing took back has been put right in another way since.
    #[error(
        "What this would bring back was put right in another way since. Undo that first, or leave it as it is."
    )]
    PlaceTaken,
    /// There is no such entry.
    #[error("There is no such entry.")]
    NoEntry,
    /// There is no such lot.
    #[error("There is nothing received under this number.")]
    NoLot,
}

/// The entries of one lot and what follows from them.
#[derive(Clone, Debug, PartialEq)]
pub struct LotBook {
    /// Every entry, dead ones too, in order of number.
    pub entries: Vec<Arc<Entry>>,
    /// What follows from the live ones.
    pub state: State,
    /// The number of the latest entry about each piece, dead or live: its version.
    pub versions: BTreeMap<PieceId, EntryId>,
    /// When the newest entry is said to have happened, dead ones too.
    latest: Timestamp,
}

/// Where an entry stands among the others of its lot.
#[derive(Clone, Copy, Debug)]
struct Standing {
    live: bool,
    root: EntryId,
}

impl LotBook {
    /// Derives everything from a lot's entries.
    #[must_use]
    pub fn fold(id: LotId, entries: Vec<Arc<Entry>>, catalogue: &Arc<Catalogue>) -> Self {
        let standings = standings(&entries);
        let mut state = State::new(id, catalogue.clone());
        for i in order(&entries, &standings) {
            state.apply(&entries[i]);
        }
        let mut book = Self {
            entries: Vec::new(),
            state,
            versions: BTreeMap::new(),
            latest: Timestamp::MIN,
        };
        for entry in entries {
            book.touch(&entry);
            book.entries.push(entry);
        }
        book
    }

    /// Notes how late an entry is and the pieces it is about, through what it replaces.
    fn touch(&mut self, entry: &Entry) {
        self.latest = self.latest.max(entry.happened_at);
        for piece in entry.act.pieces() {
            self.versions.insert(piece, entry.id);
        }
        let mut replaced = entry.replaces;
        while let Some(id) = replaced {
            let Some(earlier) = self.entry(id).cloned() else {
                break;
            };
            for piece in earlier.act.pieces() {
                self.versions.insert(piece, entry.id);
            }
            replaced = earlier.replaces;
        }
    }

    /// The entry with this number.
    #[must_use]
    pub fn entry(&self, id: EntryId) -> Option<&Arc<Entry>> {
        let at = self.entries.binary_search_by_key(&id, |e| e.id).ok()?;
        self.entries.get(at)
    }

    /// For each entry whether it holds, in order of number.
    #[must_use]
    pub fn live(&self) -> Vec<bool> {
        standings(&self.entries)
            .into_iter()
            .map(|s| s.live)
            .collect()
    }

    /// The entries that hold, in the order in which things happened.
    #[must_use]
    pub fn in_order(&self) -> Vec<Arc<Entry>> {
        let standings = standings(&self.entries);
        order(&self.entries, &standings)
            .into_iter()
            .map(|i| self.entries[i].clone())
            .collect()
    }

    /// The lot as it stood at a time, or before an entry that happened then: what came later is
    /// not in it, nor is the entry itself.
    #[must_use]
    pub fn state_before(&self, at: Timestamp, entry: Option<EntryId>) -> Cow<'_, State> {
        let later = |e: &Arc<Entry>| minute(e.happened_at) > minute(at);
        if entry.is_none() && !self.entries.iter().any(later) {
            return Cow::Borrowed(&self.state);
        }
        let standings = standings(&self.entries);
        let root = entry.and_then(|id| {
            let at = self.entries.binary_search_by_key(&id, |e| e.id).ok()?;
            Some(standings[at].root)
        });
        let mut state = State::new(self.state.id, self.state.catalogue().clone());
        for i in order(&self.entries, &standings) {
            let found = &self.entries[i];
            let now = (minute(found.happened_at), standings[i].root);
            if now.0 > minute(at) || root.is_some_and(|root| now >= (minute(at), root)) {
                break;
            }
            state.apply(found);
        }
        Cow::Owned(state)
    }

    /// The entries that hold, in order of number.
    pub fn live_entries(&self) -> impl Iterator<Item = &Arc<Entry>> {
        let live = self.live();
        self.entries
            .iter()
            .zip(live)
            .filter(|(entry, live)| *live && !entry.act.is_undoing())
            .map(|(entry, _)| entry)
    }

    /// Tags ever given under this lot, to live and dead pieces alike.
    fn tags(&self) -> impl Iterator<Item = &str> {
        self.entries.iter().flat_map(|e| {
            let family = e.act.fact().family();
            let pieces = family.makes.into_iter().map(|(_, tag)| tag);
            let packs = family.packs.into_iter().map(|(_, tag)| tag);
            pieces.chain(packs).collect::<Vec<_>>()
        })
    }

    /// The next free tag for a piece weighed out of the lot: `HG1-4`.
    #[must_use]
    pub fn next_piece_tag(&self) -> Option<String> {
        let lot = &self.state.lot.as_ref()?.received.tag;
        let prefix = format!("{lot}-");
        let highest = self
            .tags()
            .filter_map(|t| t.strip_prefix(&prefix)?.parse::<u32>().ok())
            .max()
            .unwrap_or(0);
        Some(format!("{prefix}{}", highest + 1))
    }

    /// The next `n` free tags for parts of a piece: letters under a number, numbers under a letter.
    #[must_use]
    pub fn next_part_tags(&self, whole: &Piece, n: usize) -> Vec<String> {
        let letters = whole.tag.ends_with(|c: char| c.is_ascii_digit());
        let taken: Vec<_> = self.tags().collect();
        (0_u32..)
            .map(|i| match (letters, i) {
                (true, 0..26) => format!("{}{}", whole.tag, char::from(b'a' + i as u8)),
                (true, _) => format!("{}z{}", whole.tag, i - 25),
                (false, _) => format!("{}{}", whole.tag, i + 1),
            })
            .filter(|tag| !taken.contains(&tag.as_str()))
            .take(n)
            .collect()
    }

    /// The next `n` free tags for packs of a piece: `HG1-4.1`.
    #[must_use]
    pub fn next_pack_tags(&self, piece: &Piece, n: usize) -> Vec<String> {
        let prefix = format!("{}.", piece.tag);
        let highest = self
            .tags()
            .filter_map(|t| t.strip_prefix(&prefix)?.parse::<u32>().ok())
            .max()
            .unwrap_or(0);
        (1..=n as u32)
            .map(|i| format!("{prefix}{}", highest + i))
            .collect()
    }

    /// Plans one change; the entries get numbers from `next` on.
    fn plan(
        self,
        change: &Change,
        next: EntryId,
        now: Timestamp,
        units: Units,
    ) -> Result<(Vec<Arc<Entry>>, Self), Refusal> {
        let mut heads = self.heads(change, next, now)?;
        let is_last = |head: &Entry| {
            head.replaces.is_none() && minute(self.latest) <= minute(head.happened_at)
        };
        match heads.pop() {
            Some(head) if heads.is_empty() && is_last(&head) => self.append(head, units),
            last => {
                heads.extend(last);
                self.walk_again(heads, units)
            }
        }
    }

    /// The entries a change itself makes, before their postings are known.
    fn heads(&self, change: &Change, id: EntryId, now: Timestamp) -> Result<Vec<Entry>, Refusal> {
        let lot = self.state.id;
        let standings = match change {
            Change::Add { .. } => Vec::new(),
            Change::Replace { .. } | Change::Undo { .. } | Change::Redate { .. } => {
                standings(&self.entries)
            }
        };
        let replaced = |entry: &EntryId| {
            let at = self
                .entries
                .binary_search_by_key(entry, |e| e.id)
                .map_err(|_| Refusal::NoEntry)?;
            if !standings[at].live {
                return Err(Refusal::NotLive);
            }
            Ok(&self.entries[at])
        };
        let entry = |happened_at, replaces, act, kept: &[Finding]| Entry {
            id,
            lot,
            happened_at,
            recorded_at: now,
            replaces,
            because: None,
            act,
            postings: Vec::new(),
            kept: kept.to_vec(),
        };
        Ok(match change {
            Change::Add { at, act, kept, .. } => vec![entry(*at, None, (**act).clone(), kept)],
            Change::Replace {
                entry: old,
                at,
                act,
                kept,
            } => {
                let replaced = replaced(old)?;
                if replaced.act.is_undoing() || replaced.act.kind() != act.kind() {
                    return Err(Refusal::Fields(vec![FieldError::new(
                        "act",
                        format!(
                            "This entry says “{}”; correct it with the same kind of entry, or undo it.",
                            replaced.act.label()
                        ),
                    )]));
                }
                vec![entry(
                    at.unwrap_or(replaced.happened_at),
                    Some(*old),
                    (**act).clone(),
                    kept,
                )]
            }
            Change::Undo { entry: old } => {
                let replaced = replaced(old)?;
                if replaced.act.is_undoing() && self.place_is_taken(*old) {
                    return Err(Refusal::PlaceTaken);
                }
                vec![entry(
                    replaced.happened_at,
                    Some(*old),
                    Act::Undone(Undone {}),
                    &[],
                )]
            }
            Change::Redate { times, .. } => times
                .iter()
                .zip(id.0..)
                .map(|((old, at), id)| {
                    let replaced = replaced(old)?;
                    Ok(Entry {
                        id: EntryId(id),
                        ..entry(*at, Some(*old), replaced.act.clone(), &replaced.kept)
                    })
                })
                .collect::<Result<_, Refusal>>()?,
        })
    }

    /// True when another act holds in the place of what this undoing took back; two of one place
    /// would count its mass twice.
    fn place_is_taken(&self, undoing: EntryId) -> bool {
        let standings = standings(&self.entries);
        let root = |id: EntryId| {
            let at = self.entries.binary_search_by_key(&id, |e| e.id).ok()?;
            Some(standings[at].root)
        };
        let place = root(undoing);
        self.entries
            .iter()
            .zip(&standings)
            .any(|(entry, standing)| {
                standing.live && !entry.act.is_undoing() && Some(standing.root) == place
            })
    }

    /// The usual case: nothing later to look at.
    fn append(mut self, mut head: Entry, units: Units) -> Result<(Vec<Arc<Entry>>, Self), Refusal> {
        head.postings = head.act.post(&self.state, units).map_err(Refusal::Fields)?;
        let head = Arc::new(head);
        self.state.apply(&head);
        self.entries.push(head.clone());
        self.touch(&head);
        Ok((vec![head], self))
    }

    /// A change in the past: goes through everything again and states anew what came out different.
    fn walk_again(
        mut self,
        heads: Vec<Entry>,
        units: Units,
    ) -> Result<(Vec<Arc<Entry>>, Self), Refusal> {
        let (Some(first), Some(last)) = (heads.first(), heads.last()) else {
            return Ok((Vec::new(), self));
        };
        let (first, last, now) = (first.id, last.id, first.recorded_at);
        let is_head = |id: EntryId| (first..=last).contains(&id);
        let mut next_id = last.0;
        let mut all = self.entries.clone();
        all.extend(heads.into_iter().map(Arc::new));
        let standings = standings(&all);
        let mut state = State::new(self.state.id, self.state.catalogue().clone());
        let mut written: Vec<Arc<Entry>> = Vec::new();
        let mut obstacles = Vec::new();
        for i in order(&all, &standings) {
            let entry = &all[i];
            match entry.act.post(&state, units) {
                Ok(postings) if is_head(entry.id) => {
                    let head = Arc::new(Entry {
                        postings,
                        ..(**entry).clone()
                    });
                    state.apply(&head);
                    written.push(head);
                }
                Ok(postings) if postings != entry.postings => {
                    next_id += 1;
                    let anew = Arc::new(Entry {
                        id: EntryId(next_id),
                        recorded_at: now,
                        replaces: Some(entry.id),
                        because: Some(first),
                        postings,
                        ..(**entry).clone()
                    });
                    state.apply(&anew);
                    written.push(anew);
                }
                Ok(_) => state.apply(entry),
                Err(errors) if is_head(entry.id) => return Err(Refusal::Fields(errors)),
                Err(errors) => obstacles.push(Obstacle {
                    entry: entry.id,
                    what: self.label(entry),
                    why: errors
                        .into_iter()
                        .map(|e| e.message)
                        .collect::<Vec<_>>()
                        .join(" "),
                }),
            }
        }
        if !obstacles.is_empty() {
            return Err(Refusal::InTheWay(obstacles));
        }
        // An undoing moves nothing and takes no part in the walk.
        let undoings = all.iter().filter(|e| is_head(e.id) && e.act.is_undoing());
        written.extend(undoings.cloned());
        written.sort_by_key(|e| e.id);
        self.state = state;
        for entry in &written {
            self.entries.push(entry.clone());
            self.touch(entry);
        }
        Ok((written, self))
    }

    /// An entry as people would name it: `HG1-2 out of cure`.
    #[must_use]
    pub fn label(&self, entry: &Entry) -> String {
        let family = entry.act.fact().family();
        // What a cut makes is under the piece it was cut from; anything else is what it makes.
        let made = family
            .makes
            .iter()
            .find(|(id, _)| family.about.first() == Some(id));
        let tag = match made {
            Some((_, tag)) => Some((*tag).to_string()),
            None => family
                .about
                .first()
                .and_then(|id| Some(self.state.pieces.get(id)?.tag.clone())),
        };
        let lot = || Some(self.state.lot.as_ref()?.received.tag.clone());
        match tag.or_else(lot) {
            Some(tag) => format!("{tag} {}", entry.act.label()),
            None => entry.act.label().into(),
        }
    }
}

/// Whether each entry holds, and the entry whose place it takes.
///
/// An entry gives way to a later one that replaces it, for as long as that one or a correction
/// of it holds. So undoing a correction brings back what it corrected, and undoing an undoing
/// brings back the act.
fn standings(entries: &[Arc<Entry>]) -> Vec<Standing> {
    let at: HashMap<EntryId, usize> = if entries.iter().any(|e| e.replaces.is_some()) {
        entries.iter().enumerate().map(|(i, e)| (e.id, i)).collect()
    } else {
        HashMap::new()
    };
    let mut found: Vec<_> = entries
        .iter()
        .map(|e| Standing {
            live: true,
            root: e.id,
        })
        .collect();
    for i in 0..entries.len() {
        if let Some(replaced) = entries[i].replaces.and_then(|id| at.get(&id)) {
            found[i].root = found[*replaced].root;
        }
    }
    // Whether an entry that no longer holds still has a successor in its place.
    let mut succeeded = vec![false; entries.len()];
    for i in (0..entries.len()).rev() {
        if (found[i].live || succeeded[i])
            && let Some(&replaced) = entries[i].replaces.and_then(|id| at.get(&id))
        {
            found[replaced].live = false;
            succeeded[replaced] |= !entries[i].act.is_undoing();
        }
    }
    found
}

/// The live acts in the order in which they happened; within a minute by number, and a
/// correction in the place of what it corrects.
fn order(entries: &[Arc<Entry>], standings: &[Standing]) -> Vec<usize> {
    let mut order: Vec<usize> = (0..entries.len())
        .filter(|&i| standings[i].live && !entries[i].act.is_undoing())
        .collect();
    order.sort_by_key(|&i| (minute(entries[i].happened_at), standings[i].root));
    order
}

fn minute(at: Timestamp) -> i64 {
    at.as_second().div_euclid(60)
}

#[cfg(test)]
pub(crate) mod tests;
