//! Meat was ground or diced into one block.

use crate::animal::byproduct::Byproduct;
use crate::catalogue::SnapshotKey;
use crate::catalogue::builds::Build;
use crate::catalogue::species::MIX;
use crate::ids::{LotId, PieceId, word};
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, enough_kept, err, positive, say, thickness, tidy, workable};
use crate::ledger::state::{Piece, State};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::Taken;
use crate::shape::Shape;
use crate::units::{Fraction, Milligrams, Millimetres, Reading, Typed, Units};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// What goes into the grinder or mixer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum GroundFrom {
    /// All of a piece.
    Piece {
        /// The piece that is no more.
        piece: PieceId,
    },
    /// Trim or fat kept of this lot.
    Kept {
        /// What it is.
        kind: Byproduct,
        /// How much.
        reading: Reading,
    },
    /// Meat or fat from elsewhere: bought, or given by another lot.
    Added {
        /// What it is called.
        name: String,
        /// How much.
        reading: Reading,
        /// The lot that gave it, when it was trim or fat kept of another one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        given_by: Option<LotId>,
        /// What of that lot it was.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        kind: Option<Byproduct>,
        /// The animal it is of, where that was said; else its name tells.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        species: Option<String>,
        /// Its share of fat, where that was said.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        fat: Option<Typed<Fraction>>,
    },
}

/// Meat was ground or diced into one block.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Ground {
    /// What went in.
    pub sources: Vec<GroundFrom>,
    /// The block.
    pub into: PieceId,
    /// Its tag under the lot's.
    pub tag: String,
    /// What came out; the rest stayed in grinder, mixer and bowl.
    pub reading: Reading,
    /// How thick it will lie in its pan or casing.
    pub thickness: Option<Typed<Millimetres>>,
    /// Its share of fat as blended, if that was worked out.
    pub fat: Option<Typed<Fraction>>,
}

impl Fact for Ground {
    fn family(&self) -> Family<'_> {
        Family {
            about: std::iter::once(self.into).chain(self.pieces()).collect(),
            makes: vec![(self.into, &self.tag)],
            joins: self.pieces().collect(),
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        if self.sources.is_empty() {
            return err("sources", "Say what goes into the grinder.".into());
        }
        positive(&self.reading, "reading", units)?;
        thickness(self.thickness.as_ref().map(|t| t.value), "thickness", units)?;
        if self.fat.as_ref().is_some_and(|f| f.value.0 >= 1.0) {
            return err(
                "fat_fraction",
                "A share of fat lies between 0 and 1, such as 0.28.".into(),
            );
        }
        let mut moves = Vec::new();
        let mut sum = Milligrams::ZERO;
        for (i, source) in self.sources.iter().enumerate() {
            let field = format!("sources[{i}].reading");
            let (account, mass) = match source {
                GroundFrom::Piece { piece } => {
                    let found = workable(state, *piece)?;
                    if found.shape.bone_in {
                        return err(
                            &format!("sources[{i}]"),
                            format!("{} has its bone in. Bone it out first.", found.tag),
                        );
                    }
                    if self.pieces().filter(|p| p == piece).count() > 1 {
                        return err("sources", format!("{} stands twice.", found.tag));
                    }
                    (Account::Piece(*piece), found.mass)
                }
                GroundFrom::Kept { kind, reading } => {
                    positive(reading, &field, units)?;
                    let all: Milligrams = self
                        .sources
                        .iter()
                        .filter_map(|s| match s {
                            GroundFrom::Kept { kind: k, reading } => {
                                (k == kind).then_some(reading.value)
                            }
                            GroundFrom::Piece { .. } | GroundFrom::Added { .. } => None,
                        })
                        .sum();
                    enough_kept(*kind, all, &field, state, units)?;
                    (Account::Byproduct(*kind), reading.value)
                }
                GroundFrom::Added { name, reading, .. } => {
                    positive(reading, &field, units)?;
                    if name.trim().is_empty() {
                        return err(
                            &format!("sources[{i}].name"),
                            "Name what was added, such as pork back fat.".into(),
                        );
                    }
                    (Account::Material(name.trim().into()), reading.value)
                }
            };
            sum += mass;
            moves.push((account, -mass));
        }
        // Meat does not grow in a grinder; a gain is a wet bowl on the scale.
        let lost = sum - self.reading.value;
        if (-lost).grams() > (sum.grams() * 0.02).max(10.0) {
            return err(
                "reading",
                format!(
                    "{} went in, so {} cannot come out. Check the digits and the tare of the bowl.",
                    say(sum, units),
                    say(self.reading.value, units)
                ),
            );
        }
        moves.push((Account::Piece(self.into), self.reading.value));
        let kind = if lost >= Milligrams::ZERO {
            Loss::Machine
        } else {
            Loss::Unaccounted
        };
        moves.push((Account::Loss(kind), lost));
        Ok(tidy(moves))
    }

    fn begin(&self, state: &mut State, entry: &Entry) {
        let product = self.product(state);
        let piece = Piece {
            parents: self.pieces().collect(),
            cut: MIX.into(),
            shape: Shape {
                thickness: self.thickness.clone(),
                ..Shape::default()
            },
            fat: self.fat.clone(),
            taken: self.taken(),
            product,
            ..Piece::green(
                self.into,
                &self.tag,
                self.reading.value,
                (entry.id, entry.happened_at),
            )
        };
        state.pieces.insert(self.into, piece);
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let pieces: Vec<_> = self.pieces().collect();
        state.went_into(&pieces, self.into, entry);
    }

    fn label(&self) -> &'static str {
        "ground"
    }
}

impl Ground {
    /// The product made of ground meat that every piece in it was to become; none where they differ.
    fn product(&self, state: &State) -> Option<Arc<Build>> {
        let mut sources = self.pieces().filter_map(|id| state.pieces.get(&id));
        let product = sources.next()?.product.clone().filter(|b| b.is_ground())?;
        sources
            .all(|p| p.build_key() == Some(product.key.as_str()))
            .then_some(product)
    }

    /// What went in that was no piece of the lot.
    pub(crate) fn taken(&self) -> Vec<Taken> {
        let taken = |source: &GroundFrom| match source {
            GroundFrom::Piece { .. } => None,
            GroundFrom::Kept { kind, reading } => Some(Taken {
                name: word(kind),
                mass: reading.value,
                lot: None,
                kind: Some(*kind),
                species: None,
            }),
            GroundFrom::Added {
                name,
                reading,
                given_by,
                kind,
                species,
                ..
            } => Some(Taken {
                name: name.clone(),
                mass: reading.value,
                lot: *given_by,
                kind: *kind,
                species: species.clone(),
            }),
        };
        self.sources.iter().filter_map(taken).collect()
    }

    /// The pieces that went in.
    pub fn pieces(&self) -> impl Iterator<Item = PieceId> {
        self.sources.iter().filter_map(|s| match s {
            GroundFrom::Piece { piece } => Some(*piece),
            GroundFrom::Kept { .. } | GroundFrom::Added { .. } => None,
        })
    }
}
