//! Something was put on a piece by weight: meal, pepper, paste, lard; a cloth on what hangs.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::caution::FieldError;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, not_now, positive, say, transfer};
use crate::ledger::state::{Piece, Point, Stage, State};
use crate::ledger::{Account, Entry};
use crate::piece::Coat;
use crate::units::{Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// Something was put on it by weight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Coated {
    /// The piece.
    pub piece: PieceId,
    /// What it is.
    pub name: String,
    /// How much of it went on; none when the piece was weighed with it on.
    #[serde(default)]
    pub reading: Option<Reading>,
    /// The piece on the scale with it on.
    #[serde(default)]
    pub after: Option<Reading>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
}

impl Fact for Coated {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.cure.is_none() && found.build().is_none_or(|b| !b.ending)
            || found.stage() == Stage::InCure
        {
            return Err(not_now(found));
        }
        let added = self.added(found, units)?;
        // What is put on a piece that hangs is tare: it moves the scale, not the meat.
        if found.stage() == Stage::Hanging {
            return Ok(Vec::new());
        }
        Ok(transfer(
            Account::Material(self.name.clone()),
            Account::Piece(self.piece),
            added,
        ))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let units = Units::default();
        let Some(found) = state.pieces.get(&self.piece) else {
            return;
        };
        let hangs = found.stage() == Stage::Hanging;
        // Its own mass moved already, so what was added is looked for in what was posted.
        let posted: Milligrams = entry
            .postings
            .iter()
            .filter(|p| p.account == Account::Piece(self.piece))
            .map(|p| p.mass)
            .sum();
        let added = if hangs {
            self.added(found, units).unwrap_or(Milligrams::ZERO)
        } else {
            posted
        };
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.coats.push(Coat {
                name: self.name.clone(),
                mass: added,
                allergens: self.allergens.clone(),
                at: entry.happened_at,
            });
            if let Some(hanging) = piece.hanging.as_mut().filter(|_| hangs) {
                hanging.tare += added;
                hanging.dry += added;
                hanging.gross_start += added;
            } else {
                let (since, mass) = (piece.since, piece.mass);
                piece.weighed((entry.id, entry.happened_at), Point::Coated, mass);
                piece.since = since;
            }
            piece.did_kind(StepKind::Coat, entry.happened_at, entry.id);
        }
    }

    fn label(&self) -> &'static str {
        "coated"
    }
}

impl Coated {
    /// How much went on a piece as it stands.
    pub(crate) fn added(&self, piece: &Piece, units: Units) -> Result<Milligrams, Vec<FieldError>> {
        if let Some(reading) = &self.reading {
            positive(reading, "reading", units)?;
            return Ok(reading.value);
        }
        let Some(after) = &self.after else {
            return Ok(Milligrams::ZERO);
        };
        positive(after, "after", units)?;
        let before = piece.mass + piece.tare();
        if after.value <= before {
            return Err(vec![FieldError::new(
                "after",
                format!(
                    "{} weighed {} before, so {} leaves nothing for {}. Weigh it with the coat on.",
                    piece.tag,
                    say(before, units),
                    say(after.value, units),
                    self.name
                ),
            )]);
        }
        Ok(after.value - before)
    }
}
