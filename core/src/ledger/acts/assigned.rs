//! A piece was given a product.

use super::desk::words;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldOption, Gate, Scene};
use crate::assign::{Candidate, suitability};
use crate::catalogue::KeptKey;
use crate::catalogue::builds::BuildRef;
use crate::catalogue::species::MIX;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Piece, Stage, State};
use crate::ledger::{Entry, Origin};
use crate::units::show::length;
use crate::units::{Millimetres, Units};
use serde::{Deserialize, Serialize};

/// A piece was given a product.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Assigned {
    /// The piece.
    pub piece: PieceId,
    /// The build.
    pub build: String,
    /// Its version then; the piece keeps it.
    pub version: u32,
    /// Why, where it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

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

impl Asked for AssignedAsk {
    fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let version = match instead {
            // What it was given stays in the version that it had then.
            Some((_, Act::Assigned(old))) if old.build == self.build => old.version,
            _ => desk.build(&self.build)?.version,
        };
        let act = Assigned {
            piece: self.piece,
            build: self.build.clone(),
            version,
            reason: words(self.reason.as_deref()),
        };
        desk.about(self.piece, Act::Assigned(act))
    }
}

impl Deed for Assigned {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        vec![KeptKey::build(&self.build_ref())]
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = at_stage(
            state,
            self.piece,
            &[Stage::Assign, Stage::Dose, Stage::Pack],
        )?;
        if found.cure.is_some() {
            return err(
                "piece",
                format!("{} is dosed already and keeps its product.", found.tag),
            );
        }
        if !found.packs.is_empty() {
            return err(
                "piece",
                format!("{} is partly packed and keeps its product.", found.tag),
            );
        }
        let build = state.catalogue().build_as(&self.build_ref());
        if found.cut == MIX && !build.is_ground() && !build.ending && !build.gone {
            return err(
                "build",
                format!(
                    "{} is ground: only a product made of ground meat can become of it.",
                    found.tag
                ),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let build = state.catalogue().build_as(&self.build_ref());
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.product = Some(build);
            piece.done.clear();
            piece.since = entry.happened_at;
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let build = gate.catalogue().build_as(&self.build_ref());
        let (Some(piece), Some(lot)) = (gate.piece(self.piece), &gate.state.lot) else {
            return Vec::new();
        };
        let mut found: Vec<_> = (!build.discard)
            .then(|| gate.edible(piece))
            .flatten()
            .into_iter()
            .collect();
        if build.ending || build.gone {
            return found;
        }
        let species = lot.species();
        let holds = gate.state.holds(Some(piece), gate.at);
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
                    equipment: gate.home.equipment.as_ref(),
                    holds: &holds,
                    units: gate.home.units,
                },
            );
            if suits.score == 0 {
                let why = suits.reasons.first().cloned().unwrap_or_default();
                found.push(
                    Finding::new(Code::Unsuitable, Severity::Stop, why)
                        .saw(format!("{} of {}", cut.name, species.name))
                        .wants("a cut that makes it")
                        .way_out("Choose one of the products that suit it."),
                );
            }
        }
        let as_it_would_be = Piece {
            product: Some(build.clone()),
            ..piece.clone()
        };
        found.extend(gate.judge().not_for_drying(gate.state, &as_it_would_be));
        let thick = piece.shape.thickness().filter(|t| *t > PLAIN_THICKEST);
        let plain = build.dose.as_ref().is_some_and(|d| d.cure == "none");
        if let Some(thick) = thick.filter(|_| plain) {
            let said = |mm| length(mm, gate.home.units.length);
            found.push(
                Finding::new(
                    Code::TooThickForRule,
                    Severity::Caution,
                    "Without nitrite it lies at most 7 days, and in these the salt does not reach the middle.",
                )
                .saw(said(thick))
                .wants(format!("at most {}", said(PLAIN_THICKEST)))
                .way_out("Split it or open it flat first, or keep it: it is cooked right through."),
            );
        }
        found
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn said(&self) -> &'static str {
        "assigned"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        scene.catalogue().build_as(&self.build_ref()).name.clone()
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Assigned(AssignedAsk {
            piece: self.piece,
            build: self.build.clone(),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let mut options: Vec<_> = scene
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
                label: scene.catalogue().build_name(&self.build),
            });
        }
        vec![
            Field::one_of("build", "Product", options),
            Field::text("reason", "Why, if it goes past a stop").optional(),
        ]
    }
}

/// What is cured without nitrite is no thicker than this.
const PLAIN_THICKEST: Millimetres = Millimetres(50.0);

impl Assigned {
    /// The build in its version.
    #[must_use]
    pub fn build_ref(&self) -> BuildRef {
        BuildRef {
            key: self.build.clone(),
            version: self.version,
        }
    }
}
