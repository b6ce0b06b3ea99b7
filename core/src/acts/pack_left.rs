//! Packs leave the house: eaten, or given to somebody; and whoever has them is told what is to be known of them.

use crate::acts::context::words;
use crate::acts::pack_moved::by_piece;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::{Field, option};
use crate::ids::{LotId, PackId};
use crate::ledger::facts::Act;
use crate::ledger::facts::pack_left::{PackLeft, PackTold};
use crate::piece::LeftFor;
use crate::piece::printed::Verdict;
use serde::{Deserialize, Serialize};

/// Packs are eaten, or given to somebody.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PackLeftAsk {
    /// The packs.
    pub packs: Vec<PackId>,
    /// What for.
    pub left: LeftFor,
    /// Who has them, or who ate of them.
    #[serde(default)]
    pub to: Option<String>,
}

/// Whoever has packs, or ate of them, is told.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PackToldAsk {
    /// The packs.
    pub packs: Vec<PackId>,
}

impl Draft for PackLeftAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = |((lot, piece), packs)| {
            let act = PackLeft {
                piece,
                packs,
                left: self.left,
                to: words(self.to.as_deref()),
            };
            (lot, Act::PackLeft(act))
        };
        Ok(by_piece(&self.packs, context)?
            .into_iter()
            .map(act)
            .collect())
    }
}

impl Draft for PackToldAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = |((lot, piece), packs)| (lot, Act::PackTold(PackTold { piece, packs }));
        Ok(by_piece(&self.packs, context)?
            .into_iter()
            .map(act)
            .collect())
    }
}

impl Review for PackLeft {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let judge = validator.judge();
        let bad = self.packs.iter().find_map(|id| {
            let verdict = judge.pack(validator.state, piece, *id);
            let pack = validator.state.packs.get(id)?;
            (verdict.word == Verdict::DoNotEat).then_some((pack, verdict))
        });
        let asked = bad.map(|(pack, verdict)| {
            let why = verdict.reasons.first().map(|r| r.message.clone());
            Finding::new(
                Code::NotEaten,
                Severity::Caution,
                format!("Nobody may eat {}.", pack.tag),
            )
            .saw(why.unwrap_or_else(|| "do not eat".into()))
            .remedy(
                "Throw it away. If it was eaten or given already, save it: whoever has it is told.",
            )
        });
        asked.into_iter().collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let to = self.to.as_ref().map(|to| format!(" ({to})"));
        format!("{}{}", render.packs(&self.packs), to.unwrap_or_default())
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::PackLeft(PackLeftAsk {
            packs: self.packs.clone(),
            left: self.left,
            to: self.to.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let left = LeftFor::ALL
            .iter()
            .map(|left| option(left, left.label()))
            .collect();
        vec![
            Field::one_of("left", "What became of it", left),
            Field::text("to", "Who has it").optional(),
        ]
    }
}

impl Review for PackTold {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        render.packs(&self.packs)
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::PackTold(PackToldAsk {
            packs: self.packs.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        Vec::new()
    }
}
