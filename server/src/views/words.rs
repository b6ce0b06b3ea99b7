//! Entries in a household's own words and units, for time lines and refusals.

use jiff::Timestamp;
use manifest_core::acts::RenderContext;
use manifest_core::house::House;
use manifest_core::ledger::book::LotBook;
use manifest_core::ledger::facts::Act;
use manifest_core::ledger::{Entry, EntryId, LotId};
use serde::Serialize;
use utoipa::ToSchema;

/// One entry on a time line.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Happened {
    /// Its number.
    pub entry: EntryId,
    /// The lot.
    pub lot: LotId,
    /// The kind of act.
    pub kind: String,
    /// What was done: `HG1-2 out of cure`.
    pub what: String,
    /// With which numbers.
    pub detail: String,
    /// When it happened.
    #[schema(value_type = String, format = DateTime)]
    pub at: Timestamp,
    /// When it was written down.
    #[schema(value_type = String, format = DateTime)]
    pub recorded_at: Timestamp,
    /// False when it was corrected or undone.
    pub live: bool,
    /// The entry it takes the place of.
    pub replaces: Option<EntryId>,
    /// The correction that made it necessary to state this again.
    pub because: Option<EntryId>,
    /// The name of its photo, where it has one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub photo: Option<String>,
    /// True when it can be put right in place; its fields stand at `/entries/{id}/ask`.
    pub correctable: bool,
}

/// The entries of a lot that `keep` chooses, the newest first.
pub fn timeline(lot: &LotBook, home: &House, keep: impl Fn(&Entry) -> bool) -> Vec<Happened> {
    let live = lot.live();
    let mut found: Vec<_> = lot
        .entries
        .iter()
        .zip(live)
        .filter(|(entry, _)| keep(entry))
        .map(|(entry, live)| happened(lot, entry, live, home))
        .collect();
    found.sort_by_key(|h| std::cmp::Reverse((h.at, h.entry)));
    found
}

/// One entry in words.
pub fn happened(lot: &LotBook, entry: &Entry, live: bool, home: &House) -> Happened {
    let scene = RenderContext { lot, home };
    let undone = entry.replaces.and_then(|id| lot.entry(id));
    let what = match (&entry.act, undone) {
        (Act::Undone(_), Some(undone)) => format!("undone: {}", lot.label(undone)),
        _ => lot.label(entry),
    };
    Happened {
        entry: entry.id,
        lot: entry.lot,
        kind: entry.act.kind().into(),
        what,
        detail: scene.detail(entry),
        at: entry.happened_at,
        recorded_at: entry.recorded_at,
        live,
        replaces: entry.replaces,
        because: entry.because,
        photo: if let Act::Noted(noted) = &entry.act {
            noted.photo.clone()
        } else if let Act::Checked(checked) = &entry.act {
            checked.photo.clone()
        } else {
            None
        },
        correctable: live && scene.ask_again(entry).is_some(),
    }
}
