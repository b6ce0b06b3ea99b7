//! Two pieces folded into a pair, or several bound into one.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{
    Posted, err, lost_in_cutting, no_gain, positive, thickness, tidy, workable,
};
use crate::ledger::state::{Piece, State};
use crate::ledger::{Account, Entry};
use crate::shape::Shape;
use crate::units::{Milligrams, Millimetres, Reading, Typed, Units};
use serde::{Deserialize, Serialize};

/// How pieces become one.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum JoinWay {
    /// Two breasts or slim muscles folded into one, head to tail.
    Pair,
    /// Bound with enzyme or tied together.
    Bind,
}

/// Pieces became one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Joined {
    /// The pieces that are no more.
    pub pieces: Vec<PieceId>,
    /// How.
    pub way: JoinWay,
    /// The new piece.
    pub into: PieceId,
    /// Its tag under the lot's.
    pub tag: String,
    /// Its weight, if it was weighed again.
    #[serde(default)]
    pub reading: Option<Reading>,
    /// Its greatest thickness.
    pub thickness: Option<Typed<Millimetres>>,
}

impl Fact for Joined {
    fn family(&self) -> Family<'_> {
        Family {
            about: std::iter::once(self.into)
                .chain(self.pieces.iter().copied())
                .collect(),
            makes: vec![(self.into, &self.tag)],
            joins: self.pieces.clone(),
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        if self.pieces.len() < 2 || (self.way == JoinWay::Pair && self.pieces.len() != 2) {
            return err(
                "pieces",
                "Choose two pieces to pair, or two or more to bind.".into(),
            );
        }
        let mut found = Vec::new();
        for (i, id) in self.pieces.iter().enumerate() {
            if self.pieces[..i].contains(id) {
                return err("pieces", "A piece cannot be joined to itself.".into());
            }
            let piece = workable(state, *id)?;
            found.push(piece);
        }
        if self.way == JoinWay::Pair && found[0].cut != found[1].cut {
            return err(
                "pieces",
                format!(
                    "{} and {} are different cuts; pair two of the same.",
                    found[0].tag, found[1].tag
                ),
            );
        }
        thickness(self.thickness.as_ref().map(|t| t.value), "thickness", units)?;
        let sum: Milligrams = found.iter().map(|p| p.mass).sum();
        let now = match &self.reading {
            Some(reading) => {
                positive(reading, "reading", units)?;
                no_gain(found[0], reading.value, sum, "reading", units)?;
                reading.value
            }
            None => sum,
        };
        let lost = sum - now;
        let mut moves: Vec<_> = found
            .iter()
            .map(|p| (Account::Piece(p.id), -p.mass))
            .collect();
        moves.push((Account::Piece(self.into), now));
        moves.push((Account::Loss(lost_in_cutting(lost, sum)), lost));
        Ok(tidy(moves))
    }

    fn begin(&self, state: &mut State, entry: &Entry) {
        let sources: Vec<_> = self
            .pieces
            .iter()
            .filter_map(|id| state.pieces.get(id))
            .cloned()
            .collect();
        let Some(first) = sources.first() else {
            return;
        };
        let thick = sources
            .iter()
            .filter_map(|p| p.shape.thickness())
            .map(Millimetres::get);
        let usual = match self.way {
            JoinWay::Pair => thick.sum(),
            JoinWay::Bind => thick.fold(0.0, f64::max),
        };
        let green = self
            .reading
            .as_ref()
            .map_or_else(|| sources.iter().map(|p| p.mass).sum(), |r| r.value);
        let same_build = sources.iter().all(|p| p.build_key() == first.build_key());
        let piece = Piece {
            parents: self.pieces.clone(),
            cut: first.cut.clone(),
            shape: Shape {
                thickness: self
                    .thickness
                    .clone()
                    .or((usual > 0.0).then_some(Typed::unsaid(Millimetres(usual)))),
                skin_on: sources.iter().any(|p| p.shape.skin_on),
                bone_in: sources.iter().any(|p| p.shape.bone_in),
                fat_cap: sources.iter().any(|p| p.shape.fat_cap),
                fat_cover: None,
            },
            product: first.product.clone().filter(|_| same_build),
            ..Piece::green(self.into, &self.tag, green, (entry.id, entry.happened_at))
        };
        state.pieces.insert(self.into, piece);
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        state.went_into(&self.pieces, self.into, entry);
    }

    fn label(&self) -> &'static str {
        "joined"
    }
}
