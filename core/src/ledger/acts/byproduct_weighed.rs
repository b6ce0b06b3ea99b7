//! Trim, fat, bone or skin was weighed, out of the lot or off a piece.

use super::form::options;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PieceId, word};
use crate::ledger::Entry;
use crate::ledger::odd::over_scale;
use crate::ledger::post::{Posted, at_stage, enough_left, err, positive, say, transfer};
use crate::ledger::state::{Stage, State};
use crate::ledger::{Account, Byproduct};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Trim, fat, bone or skin was weighed, out of the lot or off a piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ByproductWeighed {
    /// The piece it came off, or none for the lot.
    pub piece: Option<PieceId>,
    /// What it is.
    pub kind: Byproduct,
    /// Its weight.
    pub reading: Reading,
}

/// Trim, fat, bone or skin was weighed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ByproductWeighedAsk {
    /// The lot it came out of.
    pub lot: LotId,
    /// The piece it came off, if it did.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// What it is.
    pub kind: Byproduct,
    /// Its weight, as typed.
    pub reading: String,
}

impl Asked for ByproductWeighedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = ByproductWeighed {
            piece: self.piece,
            kind: self.kind,
            reading: desk.mass(&self.reading, "reading")?,
        };
        Ok(vec![(self.lot, Act::ByproductWeighed(act))])
    }
}

impl Deed for ByproductWeighed {
    fn family(&self) -> Family<'_> {
        Family {
            about: self.piece.into_iter().collect(),
            ..Family::default()
        }
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        let to = Account::Byproduct(self.kind);
        let Some(id) = self.piece else {
            enough_left(&self.reading, state, units)?;
            return Ok(transfer(Account::Lot, to, self.reading.value));
        };
        let piece = at_stage(state, id, &[Stage::Assign, Stage::Dose])?;
        if self.reading.value >= piece.mass {
            return err(
                "reading",
                format!(
                    "{} weighs {} in all, so {} cannot come off it. Check the digits.",
                    piece.tag,
                    say(piece.mass, units),
                    say(self.reading.value, units)
                ),
            );
        }
        Ok(transfer(Account::Piece(id), to, self.reading.value))
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, _: &Entry) {
        if let Some(piece) = self.piece.and_then(|id| state.piece_mut(id)) {
            piece.is_green_again();
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let home = gate.home;
        over_scale(&self.reading, home).into_iter().collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "weighed aside"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!("{} {}", scene.mass(&self.reading), word(&self.kind))
    }

    fn ask_again(&self, lot: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::ByproductWeighed(ByproductWeighedAsk {
            lot,
            piece: self.piece,
            kind: self.kind,
            reading: scene.again(&self.reading),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::one_of("kind", "What it is", options(&Byproduct::ALL)),
            Field::mass("reading", "Weight"),
        ]
    }
}
