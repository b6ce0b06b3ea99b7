//! A piece was given a product.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::assign::{Candidate, suitability};
use crate::catalogue::builds::Wanted;
use crate::caution::{Code, Finding, Severity};
use crate::cure::unusual::thin_flap;
use crate::form::{Field, FieldOption};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::assigned::Assigned;
use crate::ledger::state::Piece;
use crate::ledger::{AgeClass, Origin, Sex};
use crate::units::Millimetres;
use crate::units::show::length;
use serde::{Deserialize, Serialize};

/// A piece is given a product.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AssignedAsk {
    /// The piece.
    pub piece: PieceId,
    /// The build.
    pub build: String,
    /// Why, where it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for AssignedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        // What it was given stays in the version that it had then.
        let same = corrected::<Assigned>(instead).filter(|old| old.build == self.build);
        let version = match same {
            Some(old) => old.version,
            None => context.build(&self.build)?.version,
        };
        let act = Assigned {
            piece: self.piece,
            build: self.build.clone(),
            version,
            reason: words(self.reason.as_deref()),
        };
        context.about(self.piece, Act::Assigned(act))
    }
}

/// What is cured without nitrite is no thicker than this.
const PLAIN_THICKEST: Millimetres = Millimetres(50.0);

impl Review for Assigned {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let build = validator.catalogue().build_as(&self.build_ref());
        let (Some(piece), Some(lot)) = (validator.piece(self.piece), &validator.state.lot) else {
            return Vec::new();
        };
        let mut found: Vec<_> = (!build.discard)
            .then(|| validator.edible(piece))
            .flatten()
            .into_iter()
            .collect();
        if build.ending || build.gone {
            return found;
        }
        let species = lot.species();
        let holds = validator.state.holds(Some(piece), validator.at);
        if let Some(cut) = species.cut(&piece.cut) {
            let suits = suitability(
                &build,
                &Candidate {
                    species,
                    cut,
                    wild: lot.received.origin == Origin::Harvested,
                    shape: piece.shape.clone(),
                    opened: piece.is_opened(),
                    fat: piece.fat.as_ref().map(|f| f.value),
                    is_cut: true,
                    equipment: validator.home.settings.equipment.as_ref(),
                    holds: &holds,
                    units: validator.home.settings.units,
                },
            );
            if suits.score == 0 {
                let why = suits.reasons.first().cloned().unwrap_or_default();
                found.push(
                    Finding::new(Code::Unsuitable, Severity::Stop, why)
                        .saw(format!("{} of {}", cut.name, species.name))
                        .wants("a cut that makes it")
                        .remedy("Choose one of the products that suit it."),
                );
            }
        }
        let as_it_would_be = Piece {
            product: Some(build.clone()),
            ..piece.clone()
        };
        found.extend(
            validator
                .judge()
                .not_for_drying(validator.state, &as_it_would_be),
        );
        let old_male =
            lot.received.age == Some(AgeClass::Old) && lot.received.sex == Some(Sex::Male);
        if old_male && piece.shape.skin_on && build.wants.skin != Wanted::Off {
            found.push(
                Finding::new(
                    Code::OldSkin,
                    Severity::Caution,
                    "The skin of an old male is thick, lets little cure through, and holds his smell.",
                )
                .saw("skin on")
                .wants("skin off")
                .remedy("Skin it first, or keep it: then fry a slice of the skin before you go on."),
            );
        }
        let beside = validator.state.pieces.values().filter(|p| {
            p.id != piece.id && p.cure.is_none() && p.build_key() == Some(build.key.as_str())
        });
        found.extend(thin_flap(
            (&piece.tag, piece.shape.thickness()),
            beside.filter_map(|p| p.shape.thickness()),
            validator.home.settings.units,
        ));
        let thick = piece.shape.thickness().filter(|t| *t > PLAIN_THICKEST);
        let plain = build.dose.as_ref().is_some_and(|d| d.cure == "none");
        if let Some(thick) = thick.filter(|_| plain) {
            let said = |mm| length(mm, validator.home.settings.units.length);
            found.push(
                Finding::new(
                    Code::TooThickForRule,
                    Severity::Caution,
                    "Without nitrite it lies at most 7 days, and in these the salt does not reach the middle.",
                )
                .saw(said(thick))
                .wants(format!("at most {}", said(PLAIN_THICKEST)))
                .remedy("Split it or open it flat first, or keep it: it is cooked right through."),
            );
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        render.catalogue().build_as(&self.build_ref()).name.clone()
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Assigned(AssignedAsk {
            piece: self.piece,
            build: self.build.clone(),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut options: Vec<_> = render
            .catalogue()
            .builds
            .iter()
            .map(|b| FieldOption {
                value: b.key.clone(),
                label: b.name.clone(),
            })
            .collect();
        if !options.iter().any(|o| o.value == self.build) {
            options.push(FieldOption {
                value: self.build.clone(),
                label: render.catalogue().build_name(&self.build),
            });
        }
        vec![
            Field::one_of("build", "Product", options),
            Field::text("reason", "Why, if it goes past a stop").optional(),
        ]
    }
}
