//! Brine was pumped into a piece that lies in it: the scale before and after says how much.

use crate::catalogue::SnapshotKey;
use crate::dose::Dose;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err, positive, say, transfer};
use crate::ledger::state::{Point, Stage, State, Weighing};
use crate::ledger::{Account, Entry};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Brine was pumped in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Injected {
    /// The piece.
    pub piece: PieceId,
    /// What it weighs with the brine in it.
    pub after: Reading,
    /// Why, when it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

impl Fact for Injected {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let found = at_stage(state, self.piece, &[Stage::InCure])?;
        positive(&self.after, "after", units)?;
        if !found.dose().is_some_and(Dose::in_brine) {
            return err(
                "piece",
                format!(
                    "{} lies in no brine that is known here: nothing can be pumped out of it.",
                    found.tag
                ),
            );
        }
        let gain = self.after.value - found.mass;
        if !gain.is_some() {
            return err(
                "after",
                format!(
                    "After injecting it weighs more than the {} of before. Weigh it again, or look at the weight it had.",
                    say(found.mass, units)
                ),
            );
        }
        if gain > found.in_cure {
            return err(
                "after",
                format!(
                    "{} went in, but there are only {} of brine for {}. Check the digits and the unit.",
                    say(gain, units),
                    say(found.in_cure, units),
                    found.tag
                ),
            );
        }
        Ok(transfer(
            Account::InCure(self.piece),
            Account::Piece(self.piece),
            gain,
        ))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let now = piece.mass;
            if let Some(cure) = &mut piece.cure {
                cure.injected = now - cure.meat;
            }
            // It lies where it lay.
            piece.weighings.push(Weighing {
                entry: entry.id,
                at: entry.happened_at,
                point: Point::Injected,
                net: now,
            });
        }
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "injected"
    }
}
