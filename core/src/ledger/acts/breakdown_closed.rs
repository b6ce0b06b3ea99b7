//! Nothing more will be weighed out of a lot; what is left is shared between what explains it and what nothing does.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::caution::{Code, Severity};
use crate::ids::LotId;
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, explained, gone, is_explained, transfer};
use crate::ledger::state::State;
use crate::ledger::{Account, Loss};
use crate::units::show::mass;
use crate::units::{Grams, Units};
use serde::{Deserialize, Serialize};

/// Nothing more will be weighed out of the lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct BreakdownClosed {}

/// Nothing more will be weighed out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BreakdownClosedAsk {
    /// The lot.
    pub lot: LotId,
}

impl Asked for BreakdownClosedAsk {
    fn draft(&self, _: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        Ok(vec![(self.lot, Act::BreakdownClosed(BreakdownClosed {}))])
    }
}

impl Deed for BreakdownClosed {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn leans_on(&self) -> Vec<KeptKey> {
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

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(lot) = &mut state.lot {
            lot.closed = Some(entry.happened_at);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let (state, home) = (gate.state, gate.home);
        let (dressing, _) = explained(state);
        let unexplained = state.left - dressing;
        if is_explained(unexplained, state.received) {
            return Vec::new();
        }
        vec![
            Finding::new(
                Code::Unaccounted,
                Severity::Caution,
                "More is missing than cutting explains: it will stand in the books as unaccounted.",
            )
            .saw(mass(Grams(unexplained.grams()), home.units.mass))
            .wants("at most 2 %")
            .way_out("Look for a bone bucket that was not weighed, a wet tub on the scale, or a mistyped digit."),
        ]
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "break-down finished"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        String::new()
    }

    fn ask_again(&self, lot: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::BreakdownClosed(BreakdownClosedAsk { lot }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        Vec::new()
    }
}
