//! Nothing more will be weighed out of a lot; what is left is shared between what explains it and what nothing does.

use crate::catalogue::SnapshotKey;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, explained, gone, transfer};
use crate::ledger::state::State;
use crate::ledger::{Account, Entry, Loss};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Nothing more will be weighed out of the lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct BreakdownClosed {}

impl Fact for BreakdownClosed {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let lot = state.lot.as_ref().ok_or_else(gone)?;
        if lot.closed.is_some() {
            return err(
                "lot",
                format!(
                    "The break-down of {} is finished already.",
                    lot.received.tag
                ),
            );
        }
        let (dressing, cutting) = explained(state);
        let mut rest = state.left;
        let mut postings = Vec::new();
        for (loss, at_most) in [(Loss::Dressing, dressing), (Loss::Cutting, cutting)] {
            let part = rest.min(at_most);
            postings.extend(transfer(Account::Lot, Account::Loss(loss), part));
            rest -= part;
        }
        // A remainder past what cutting explains is unexplained as a whole beyond the dressing.
        if rest.is_some() {
            postings.extend(transfer(
                Account::Lot,
                Account::Loss(Loss::Unaccounted),
                rest,
            ));
        }
        Ok(postings)
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(lot) = &mut state.lot {
            lot.closed = Some(entry.happened_at);
        }
    }

    fn label(&self) -> &'static str {
        "break-down finished"
    }
}
