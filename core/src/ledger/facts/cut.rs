//! Cut into parts; each part keeps its share of a dose, and its own thickness counts.

use crate::catalogue::SnapshotKey;
use crate::catalogue::species::Fat;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{
    Posted, alive, err, lost_in_cutting, no_gain, positive, thickness, tidy,
};
use crate::ledger::state::{Piece, Point, Stage, State, Weighing};
use crate::ledger::{Account, Entry};
use crate::shape::Shape;
use crate::units::{Milligrams, Millimetres, Reading, Typed, Units};
use serde::{Deserialize, Serialize};

/// How a piece is parted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum CutWay {
    /// Into slabs or lengths.
    #[default]
    Split,
    /// The big end from the small one, since they are done at different times.
    Ends,
    /// Muscle from muscle, along the seams.
    Seam,
}

/// A part of a cut piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// The new piece.
    pub piece: PieceId,
    /// Its tag under its parent's.
    pub tag: String,
    /// Its weight.
    pub reading: Reading,
    /// Its own greatest thickness.
    pub thickness: Option<Typed<Millimetres>>,
    /// What it is now, when a muscle came out of a larger cut.
    #[serde(default)]
    pub cut: Option<String>,
    /// Whether the fat side is on it, where that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fat_cap: Option<bool>,
}

/// Cut into parts.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Cut {
    /// The piece that is no more.
    pub piece: PieceId,
    /// What it became.
    pub parts: Vec<Part>,
    /// How.
    #[serde(default)]
    pub way: CutWay,
}

/// A muscle out of a larger cut has its own traits; nothing grows bone, skin or fat on the way.
fn becomes(state: &State, piece: &mut Piece, cut: &str) {
    let traits = state.lot.as_ref().and_then(|l| l.species().cut(cut));
    if let Some(traits) = traits {
        piece.shape.bone_in &= traits.bone_in;
        piece.shape.skin_on &= traits.skin_on;
        piece.shape.fat_cap &= traits.fat == Fat::FatCapped;
    }
    piece.cut = cut.into();
}

impl Fact for Cut {
    fn family(&self) -> Family<'_> {
        Family {
            about: std::iter::once(self.piece)
                .chain(self.parts.iter().map(|p| p.piece))
                .collect(),
            makes: self
                .parts
                .iter()
                .map(|p| (p.piece, p.tag.as_str()))
                .collect(),
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.stage() == Stage::Hanging {
            return err(
                "piece",
                format!("{} hangs. Take it down before you cut it.", found.tag),
            );
        }
        if !found.packs.is_empty() {
            return err(
                "piece",
                format!(
                    "{} is partly packed. Pack the rest of it instead.",
                    found.tag
                ),
            );
        }
        if self.parts.len() < 2 {
            return err("parts", "Weigh at least two parts.".into());
        }
        for (i, part) in self.parts.iter().enumerate() {
            positive(&part.reading, &format!("parts[{i}].reading"), units)?;
            thickness(
                part.thickness.as_ref().map(|t| t.value),
                &format!("parts[{i}].thickness"),
                units,
            )?;
        }
        let weights: Vec<_> = self.parts.iter().map(|p| p.reading.value).collect();
        let sum: Milligrams = weights.iter().copied().sum();
        // Parts come wet out of a cure: what they weigh more is the cure that clings to them.
        let clinging = (sum - found.mass).max(Milligrams::ZERO).min(found.in_cure);
        no_gain(found, sum, found.mass + found.in_cure, "parts", units)?;
        if found.in_cure == Milligrams::ZERO {
            no_gain(found, sum, found.mass, "parts", units)?;
        }
        let lost = found.mass + clinging - sum;
        let cure_left = found.in_cure - clinging;
        let mut moves = vec![
            (Account::Piece(self.piece), -found.mass),
            (Account::InCure(self.piece), -found.in_cure),
            (Account::Loss(lost_in_cutting(lost, found.mass)), lost),
        ];
        for (part, cure) in self.parts.iter().zip(cure_left.share_out(&weights)) {
            moves.push((Account::Piece(part.piece), part.reading.value));
            moves.push((Account::InCure(part.piece), cure));
        }
        Ok(tidy(moves))
    }

    fn begin(&self, state: &mut State, entry: &Entry) {
        let Some(whole) = state.pieces.get(&self.piece).cloned() else {
            return;
        };
        let weights: Vec<_> = self.parts.iter().map(|p| p.reading.value).collect();
        let greens = whole.green.share_out(&weights);
        for (i, part) in self.parts.iter().enumerate() {
            let mut piece = Piece {
                id: part.piece,
                parents: vec![whole.id],
                tag: part.tag.clone(),
                shape: Shape {
                    thickness: part.thickness.clone().or(whole.shape.thickness.clone()),
                    fat_cap: whole.shape.fat_cap && part.fat_cap.unwrap_or(true),
                    ..whole.shape.clone()
                },
                mass: Milligrams::ZERO,
                in_cure: Milligrams::ZERO,
                packs: Vec::new(),
                parts: Vec::new(),
                // What was ground in stands with the whole, which is its parent.
                taken: Vec::new(),
                ..whole.clone()
            };
            if let Some(cut) = &part.cut {
                becomes(state, &mut piece, cut);
            } else if self.way == CutWay::Seam {
                piece.shape.bone_in = false;
            }
            if let Some(cure) = &mut piece.cure {
                piece.green = greens[i];
                cure.meat = cure.meat.share_out(&weights)[i];
                if let Some(dose) = &mut cure.dose {
                    dose.over = dose.over.map(|o| o.share_out(&weights)[i]);
                }
                let own = cure.dose.iter_mut().flat_map(|d| &mut d.lines);
                for line in own.chain(cure.topped.iter_mut().map(|t| &mut t.line)) {
                    line.mass = Typed::unsaid(line.mass.value.share_out(&weights)[i]);
                }
                cure.injected = cure.injected.share_out(&weights)[i];
            } else {
                piece.green = part.reading.value;
            }
            // Weighings of the whole say nothing about a part; its own line begins with its share.
            let at = whole.cure.as_ref().map_or(entry.happened_at, |c| c.since);
            piece.weighings = vec![Weighing {
                entry: entry.id,
                at,
                point: Point::Green,
                net: piece.green,
            }];
            if whole.out_of_cure.is_some() {
                let point = whole.last_weighing().map_or(Point::Green, |w| w.point);
                piece.weighings.push(Weighing {
                    entry: entry.id,
                    at: entry.happened_at,
                    point,
                    net: part.reading.value,
                });
            }
            state.pieces.insert(part.piece, piece);
        }
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.ended = Some(Stage::CutUp);
            piece.moved(entry.happened_at, None);
            piece.parts = self.parts.iter().map(|p| p.piece).collect();
            piece.since = entry.happened_at;
        }
    }

    fn label(&self) -> &'static str {
        self.way.label()
    }
}

impl CutWay {
    /// What was done, in the past tense.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Split => "split",
            Self::Ends => "big end parted from small",
            Self::Seam => "seamed out",
        }
    }
}
