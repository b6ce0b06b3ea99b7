//! A piece was worked on with the knife and is still one.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::animal::byproduct::Byproduct;
use crate::caution::Finding;
use crate::form::{Field, options};
use crate::ids::{LotId, PieceId, word};
use crate::ledger::Work;
use crate::ledger::facts::Act;
use crate::ledger::facts::worked::{Off, Worked};
use serde::{Deserialize, Serialize};
use serde_json::json;

/// What came off a piece, as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OffAsk {
    /// What it is.
    pub kind: Byproduct,
    /// Its weight, as typed.
    pub reading: String,
}

/// A piece is worked on and is still one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WorkedAsk {
    /// The piece.
    pub piece: PieceId,
    /// How.
    pub work: Work,
    /// What came off and is kept.
    #[serde(default)]
    pub off: Vec<OffAsk>,
    /// The piece on the scale afterwards, as typed.
    #[serde(default)]
    pub reading: Option<String>,
    /// Its thickest place afterwards, as typed.
    #[serde(default)]
    pub thickness: Option<String>,
    /// The fat cover left on it, as typed.
    #[serde(default)]
    pub fat_cover: Option<String>,
}

impl Draft for WorkedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let mut off = Vec::new();
        for (i, came) in self.off.iter().enumerate() {
            off.push(Off {
                kind: came.kind,
                reading: context.mass(&came.reading, &format!("off[{i}].reading"))?,
            });
        }
        let act = Worked {
            piece: self.piece,
            work: self.work,
            off,
            reading: context.mass_if(self.reading.as_deref(), "reading")?,
            thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
            fat_cover: context.typed_if(self.fat_cover.as_deref(), "fat_cover")?,
        };
        context.about(self.piece, Act::Worked(act))
    }
}

/// What usually comes off.
#[must_use]
pub const fn gives(work: Work) -> Byproduct {
    match work {
        Work::Skin => Byproduct::Skin,
        Work::BoneOut => Byproduct::Bone,
        Work::Trim | Work::OpenFlat | Work::SquareOff => Byproduct::Trim,
    }
}

impl Review for Worked {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let mut words: Vec<_> = self
            .off
            .iter()
            .map(|o| format!("{} {} off", render.mass(&o.reading), word(&o.kind)))
            .collect();
        words.extend(
            self.reading
                .as_ref()
                .map(|r| format!("{} left", render.mass(r))),
        );
        words.extend(
            self.thickness
                .as_ref()
                .map(|t| format!("{} thick", render.label(t))),
        );
        words.join(", ")
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Worked(WorkedAsk {
            piece: self.piece,
            work: self.work,
            off: self
                .off
                .iter()
                .map(|o| OffAsk {
                    kind: o.kind,
                    reading: render.again(&o.reading),
                })
                .collect(),
            reading: self.reading.as_ref().map(|r| render.again(r)),
            thickness: self.thickness.as_ref().map(|t| render.again(t)),
            fat_cover: self.fat_cover.as_ref().map(|t| render.again(t)),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let off = vec![
            Field::one_of("kind", "What came off", options(&Byproduct::COMES_OFF)),
            Field::mass("reading", "Its weight"),
        ];
        let empty = json!({"kind": word(&gives(self.work)), "reading": ""});
        vec![
            Field::rows("off", "What came off", off, Some(empty)),
            Field::mass("reading", "The piece weighed then").optional(),
            Field::thickness("thickness", "Thickest place"),
            Field::thickness("fat_cover", "Fat cover left"),
        ]
    }
}
