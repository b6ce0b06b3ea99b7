//! Something was poured into a running vessel: water until the meat was covered again, or what was found missing.

use crate::catalogue::SnapshotKey;
use crate::catalogue::cures::Role;
use crate::dose::DoseLine;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err, positive, transfer};
use crate::ledger::state::{Stage, State};
use crate::ledger::{Account, Entry};
use crate::piece::Topped;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Something was poured in: one piece's share of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ToppedUp {
    /// The piece.
    pub piece: PieceId,
    /// Its share of what was poured.
    pub line: DoseLine,
    /// Why, when it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

impl Fact for ToppedUp {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let found = at_stage(state, self.piece, &[Stage::InCure])?;
        positive(&self.line.mass, "reading", units)?;
        let Some(dose) = found.dose() else {
            return err(
                "piece",
                format!(
                    "Nobody knows what {} lies in, so nothing can be added to it.",
                    found.tag
                ),
            );
        };
        if !dose.in_brine() && self.line.role == Role::Water {
            return err(
                "piece",
                format!(
                    "{} lies in no brine: water only washes its cure off.",
                    found.tag
                ),
            );
        }
        Ok(transfer(
            Account::Material(self.line.name.clone()),
            Account::InCure(self.piece),
            self.line.mass.value,
        ))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let cure = state.piece_mut(self.piece).and_then(|p| p.cure.as_mut());
        if let Some(cure) = cure {
            cure.topped.push(Topped {
                entry: entry.id,
                at: entry.happened_at,
                line: self.line.clone(),
            });
        }
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "topped up"
    }
}
