//! A piece was given a product.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldOption, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::builds::BuildRef;
use crate::catalogue::species::MIX;
use crate::caution::Finding;
use crate::household::Household;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, at_stage, edible, err};
use crate::ledger::state::{Stage, State};
use crate::units::Units;
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
        if !build.discard {
            edible(state, found)?;
        }
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

    fn odd(&self, _: &State, _: &Household) -> Vec<Finding> {
        Vec::new()
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
        vec![Field::one_of("build", "Product", options)]
    }
}

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
