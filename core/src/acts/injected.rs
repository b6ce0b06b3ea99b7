//! Brine was pumped into a piece that lies in it: the scale before and after says how much.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::cures::Role;
use crate::caution::{Code, Finding, Severity};
use crate::cure::cover::USUAL_PICKUP;
use crate::cure::injection::unusual;
use crate::dose::TakenUp;
use crate::dose::limits::{Case, Law};
use crate::dose::uptake::{Governs, Uptake};
use crate::form::Field;
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::facts::Act;
use crate::ledger::facts::injected::Injected;
use crate::ledger::state::Piece;
use crate::piece::PUMPED_FROM;
use crate::units::{Band, Fraction, Milligrams, PPM};
use serde::{Deserialize, Serialize};

/// Brine was pumped in; a second pass is written down like the first.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct InjectedAsk {
    /// The piece. Give this, or `vessel`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// All that lie in a vessel, weighed together.
    #[serde(default)]
    pub vessel: Option<VesselId>,
    /// What it weighs with the brine in it, as typed.
    pub after: String,
    /// Why, when it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for InjectedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let after = ("after", self.after.as_str());
        context
            .weighed_together(after, self.piece, &[], self.vessel)?
            .into_iter()
            .map(|(piece, after)| {
                let act = Injected {
                    piece,
                    after,
                    reason: words(self.reason.as_deref()),
                };
                Ok((context.lot_of(piece)?, Act::Injected(act)))
            })
            .collect()
    }
}

/// What a pump brings into a piece whose brine covers it as well.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Pumped {
    /// Brine in the meat, as a share of its green weight.
    pub pump: Fraction,
    /// Nitrite of the brine that was pumped in (ppm).
    pub injected_ppm: f64,
    /// Nitrite with what the rest brings as a cover: by pickup, and if all becomes alike (ppm).
    pub nitrite: Uptake,
}

impl Review for Injected {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let Some(pumped) = Pumped::of(piece, self.after.value) else {
            return Vec::new();
        };
        let mut found = pumped.findings(piece, validator);
        found.extend(unusual(pumped.pump.0, pumped.injected_ppm));
        found.retain(|f| f.severity > Severity::Info);
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!("{} with the brine in it", render.again(&self.after))
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Injected(InjectedAsk {
            piece: Some(self.piece),
            vessel: None,
            after: render.again(&self.after),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::mass("after", "Weight after injecting"),
            Field::text("reason", "Why, if it goes past a stop").optional(),
        ]
    }
}

impl Pumped {
    /// Of a piece in its brine that weighs so much after injecting.
    #[must_use]
    pub fn of(piece: &Piece, after: Milligrams) -> Option<Self> {
        let cure = piece.cure.as_ref()?;
        let dose = cure.dose.as_ref().filter(|d| d.in_brine())?;
        let of = |role: Role| -> f64 {
            let lines = dose.lines.iter().filter(|l| l.role == role);
            lines.map(|l| l.mass.value.grams()).sum()
        };
        let (meat, brine) = (cure.meat.grams(), dose.total_g());
        let pump = (after - cure.meat).grams() / meat.max(f64::MIN_POSITIVE);
        let nitrite = of(Role::CuringSalt) * dose.cure.made_of.nitrite;
        let injected_ppm = Uptake::of(nitrite, brine, meat, pump).pickup * PPM;
        let cover = dose.taken_up.unwrap_or(TakenUp {
            pickup: USUAL_PICKUP,
            governs: Governs::Equilibrium,
            pump: None,
            covers: true,
        });
        let got = cover.of(nitrite, brine, meat, Some(pump));
        Some(Self {
            pump: Fraction(pump),
            injected_ppm,
            nitrite: got * PPM,
        })
    }

    /// Ceilings by the higher figure. Floors by the lower, where its days are counted as an injected piece's: by
    /// then meat and brine are not alike.
    fn findings(&self, piece: &Piece, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(dose) = piece.cure.as_ref().and_then(|c| c.dose.as_ref()) else {
            return Vec::new();
        };
        let Ok(rules) = validator
            .home
            .settings
            .rules_of(&dose.judged.rule_set, validator.catalogue())
        else {
            return Vec::new();
        };
        let case = Case {
            class: dose.judged.class,
            law: Law::Injected,
            skin_on: piece.shape.skin_on,
            no_cure: dose.cure.is_none(),
            nitrite: Band::exactly(self.nitrite.higher()),
            nitrate: dose.nitrate,
        };
        let least = if self.pump.0 >= PUMPED_FROM {
            self.nitrite.lower()
        } else {
            self.nitrite.equilibrium
        };
        let mut found = rules.judge_down_to(&case, least).unwrap_or_default();
        let low = |f: &&mut Finding| matches!(f.code, Code::NitriteBelowFloor | Code::ColourOnly);
        for finding in found.iter_mut().filter(low) {
            finding.remedy = Some(
                "Leave it in the brine as long as a piece that was not injected, or make the brine stronger."
                    .into(),
            );
        }
        found
    }
}
