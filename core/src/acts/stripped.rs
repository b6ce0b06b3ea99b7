//! Cloth, casing and net weighed when they are off: what was counted as tare is put right, and both are kept.

use crate::acts::hung::TarePartAsk;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::hung::TarePart;
use crate::ledger::facts::stripped::{Stripped, StrippedBy};
use crate::units::show::{mass, share};
use crate::units::{Fraction, Grams, Milligrams, reading};
use serde::{Deserialize, Serialize};
use serde_json::json;

/// What was around a piece, weighed when it is off.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StrippedAsk {
    /// The piece.
    pub piece: PieceId,
    /// Cloth, casing, net, hook and tag alone, as typed. Give this, its `parts`, or `bare`.
    #[serde(default)]
    pub tare: Option<String>,
    /// What that is made of.
    #[serde(default)]
    pub parts: Vec<TarePartAsk>,
    /// Or the meat alone, as typed.
    #[serde(default)]
    pub bare: Option<String>,
}

impl Draft for StrippedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let parts = TarePartAsk::read(&self.parts, context)?;
        let typed = context.mass_if(self.tare.as_deref(), "tare")?;
        let bare = context.mass_if(self.bare.as_deref(), "bare")?;
        let summed = || reading(parts.iter().map(|p| p.reading.value.grams()).sum());
        let tare = typed.or_else(|| (!parts.is_empty()).then(summed));
        let weighed = match (tare, bare) {
            (Some(tare), None) => StrippedBy::Tare(tare),
            (None, Some(bare)) => StrippedBy::Bare(bare),
            (Some(_), Some(_)) | (None, None) => {
                return Err(AskError::field(
                    "tare",
                    "Weigh cloth, casing and net alone, or the meat alone: type one of these.",
                ));
            }
        };
        let act = Stripped {
            piece: self.piece,
            weighed,
            parts,
        };
        context.about(self.piece, Act::Stripped(act))
    }
}

/// A tare that differs by more of what was hung is asked about (share).
const ODD_SHARE: f64 = 0.08;

impl Review for Stripped {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let (Ok(found), Some(hanging)) = (
            self.found(piece, validator.home.settings.units),
            &piece.hanging,
        ) else {
            return Vec::new();
        };
        let mut warnings = Vec::new();
        let units = validator.home.settings.units.mass;
        let net = hanging.gross_start.grams();
        // It may have dried, but not more than such parts do, and it has grown no heavier.
        let usual = found.tare.max(hanging.dry).min(hanging.tare);
        if (found.tare - usual).grams().abs() > ODD_SHARE * net {
            warnings.push(
                Finding::new(
                    Code::LooksMistyped,
                    Severity::Caution,
                    format!("Cloth, casing and net of {} were counted very differently when it was hung.", piece.tag),
                )
                .saw(mass(Grams(found.tare.grams()), units))
                .wants(format!("about {}", mass(Grams(hanging.tare.grams()), units)))
                .remedy("Weigh only what hung there beside the meat, or keep it as typed: both numbers stay in its history."),
            );
        }
        let loss = hanging.lost_of(found.bare);
        let was = hanging.lost.map_or(0.0, |l| l.0);
        let wants = hanging.loss.0 - validator.home.settings.close_enough - 1e-9;
        if was >= wants && loss.0 < wants {
            let said = |part: f64| share(Fraction((part * 1_000.0).round() / 1_000.0));
            warnings.push(
                Finding::new(
                    Code::LostTooLittle,
                    Severity::Caution,
                    format!("With that tare {} has lost less than it seemed.", piece.tag),
                )
                .saw(said(loss.0))
                .wants(said(hanging.loss.0))
                .remedy("Look at the number; if it is right it has not dried enough, and stays “cook before eating” where it was to be eaten raw."),
            );
        }
        warnings
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        match &self.weighed {
            StrippedBy::Tare(tare) => {
                let parts = TarePart::label(&self.parts, render);
                format!("cloth and net {}{parts}", render.mass(tare))
            }
            StrippedBy::Bare(bare) => format!("the meat alone {}", render.mass(bare)),
        }
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        let sum: Milligrams = self.parts.iter().map(|p| p.reading.value).sum();
        let (tare, bare) = match &self.weighed {
            StrippedBy::Tare(tare) => {
                let summed = !self.parts.is_empty() && sum == tare.value;
                ((!summed).then(|| render.again(tare)), None)
            }
            StrippedBy::Bare(bare) => (None, Some(render.again(bare))),
        };
        Some(Ask::Stripped(StrippedAsk {
            piece: self.piece,
            tare,
            parts: TarePartAsk::again(&self.parts, render),
            bare,
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let part = vec![
            Field::text("name", "What it is"),
            Field::mass("reading", "Its weight"),
        ];
        vec![
            Field::mass("tare", "Cloth, casing and net, in one").optional(),
            Field::rows(
                "parts",
                "Or what that is made of",
                part,
                Some(json!({"name": "", "reading": ""})),
            ),
            Field::mass("bare", "Or the meat alone").optional(),
        ]
    }
}
