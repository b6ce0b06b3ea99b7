//! Cut into parts; each part keeps its share of a dose, and its own thickness counts.

use crate::acts::form::cuts;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field, option};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::cut::{Cut, CutWay, Part};
use serde::{Deserialize, Serialize};
use serde_json::json;

/// A part of a cut piece, as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PartAsk {
    /// Its weight, as typed: `1 lb 3 oz`.
    pub reading: String,
    /// Its greatest thickness, as typed: `45 mm`.
    #[serde(default)]
    pub thickness: Option<String>,
    /// What it is now, when a muscle came out of a larger cut.
    #[serde(default)]
    pub cut: Option<String>,
    /// Whether the fat side is on it.
    #[serde(default)]
    pub fat_cap: Option<bool>,
}

/// Cut into parts.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CutAsk {
    /// The piece.
    pub piece: PieceId,
    /// What it became.
    pub parts: Vec<PartAsk>,
    /// How.
    #[serde(default)]
    pub way: CutWay,
}

impl Draft for CutAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let (lot, piece) = context.find(self.piece)?;
        let tags = lot.next_part_tags(piece, self.parts.len());
        let kept = corrected::<Cut>(instead).map_or(&[][..], |old| &old.parts);
        let mut parts = Vec::new();
        for (i, part) in self.parts.iter().enumerate() {
            if let (Some(cut), Some(came)) = (&part.cut, &lot.state.lot)
                && came.species().cut(cut).is_none()
            {
                return Err(AskError::field(
                    &format!("parts[{i}].cut"),
                    "Choose one of the cuts of this animal.",
                ));
            }
            let (piece, tag) = match kept.get(i) {
                Some(old) => (old.piece, old.tag.clone()),
                None => (context.new_piece(), tags[i - kept.len().min(i)].clone()),
            };
            parts.push(Part {
                piece,
                tag,
                reading: context.mass(&part.reading, &format!("parts[{i}].reading"))?,
                thickness: context
                    .typed_if(part.thickness.as_deref(), &format!("parts[{i}].thickness"))?,
                cut: part.cut.clone(),
                fat_cap: part.fat_cap,
            });
        }
        let act = Cut {
            piece: self.piece,
            parts,
            way: self.way,
        };
        context.about(self.piece, Act::Cut(act))
    }
}

/// A part thinner than this share of the whole was split flat.
const SPLIT_FLAT: f64 = 0.75;

impl Review for Cut {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let whole = piece.shape.thickness().map_or(0.0, |t| t.0);
        let thinner = |p: &Part| {
            p.thickness
                .as_ref()
                .is_some_and(|t| t.value.0 < whole * SPLIT_FLAT)
        };
        // Split flat, and not across, only one of them has the fat side.
        let flat = piece.shape.fat_cap && self.parts.iter().all(thinner);
        let said = self.parts.iter().any(|p| p.fat_cap.is_some());
        let ask = (flat && !said).then(|| {
            Finding::new(
                Code::FatSide,
                Severity::Caution,
                "Which part keeps the fat side? Cure gets in slower through it.",
            )
            .saw("fat on every part")
            .wants("the part that has it")
            .remedy(
                "Tick the fat side of that part. Saved as it is, all of them count as having it.",
            )
        });
        ask.into_iter().collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        self.parts
            .iter()
            .map(|p| format!("{} {}", p.tag, render.mass(&p.reading)))
            .collect::<Vec<_>>()
            .join(", ")
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Cut(CutAsk {
            piece: self.piece,
            parts: self
                .parts
                .iter()
                .map(|p| PartAsk {
                    reading: render.again(&p.reading),
                    thickness: p.thickness.as_ref().map(|t| render.again(t)),
                    cut: p.cut.clone(),
                    fat_cap: p.fat_cap,
                })
                .collect(),
            way: self.way,
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let part = vec![
            Field::mass("reading", "Weight"),
            Field::thickness("thickness", "Thickest place"),
            Field::one_of("cut", "What it is now", cuts(render)).optional(),
            Field::tick("fat_cap", "Fat side on it").optional(),
        ];
        let ways = [CutWay::Split, CutWay::Ends, CutWay::Seam];
        vec![
            Field::rows(
                "parts",
                "Parts",
                part,
                Some(json!({"reading": "", "thickness": null, "cut": null, "fat_cap": null})),
            ),
            Field::one_of(
                "way",
                "How",
                ways.iter().map(|w| option(w, w.label())).collect(),
            ),
        ]
    }
}
