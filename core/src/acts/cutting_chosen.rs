//! A way of cutting was settled on for the whole animal.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::cutting::ChoiceOption;
use crate::caution::Finding;
use crate::form::{AskError, Field, FieldOption};
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::ledger::facts::cutting_chosen::CuttingChosen;
use serde::{Deserialize, Serialize};

/// A way of cutting is settled on for the whole animal.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CuttingChosenAsk {
    /// The lot.
    pub lot: LotId,
    /// What was to be settled.
    pub choice: String,
    /// How.
    pub option: String,
}

impl Draft for CuttingChosenAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let lot = context.lot(self.lot)?;
        let came = lot
            .state
            .lot
            .as_ref()
            .ok_or_else(|| AskError::no_lot(self.lot))?;
        let species = came.species();
        let Some(found) = context
            .catalogue()
            .choices(species)
            .find(|c| c.key == self.choice)
        else {
            return Err(AskError::field(
                "choice",
                format!(
                    "Nothing of that name is to be settled for {}.",
                    species.name
                ),
            ));
        };
        if !found.options.iter().any(|o| o.key == self.option) {
            let names: Vec<_> = found.options.iter().map(|o| o.name.as_str()).collect();
            return Err(AskError::field(
                "option",
                format!("Choose one of: {}.", names.join("; ")),
            ));
        }
        let act = CuttingChosen {
            choice: self.choice.clone(),
            option: self.option.clone(),
        };
        Ok(vec![(self.lot, Act::CuttingChosen(act))])
    }
}

impl Review for CuttingChosen {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let choice = render
            .catalogue()
            .cutting
            .iter()
            .find(|c| c.key == self.choice);
        let how = choice.and_then(|c| Some((c, c.options.iter().find(|o| o.key == self.option)?)));
        how.map_or_else(
            || format!("{}: {}", self.choice, self.option),
            |(c, o)| format!("{}: {}", c.name, o.name),
        )
    }

    fn ask_again(&self, lot: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::CuttingChosen(CuttingChosenAsk {
            lot,
            choice: self.choice.clone(),
            option: self.option.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let choice = render
            .catalogue()
            .cutting
            .iter()
            .find(|c| c.key == self.choice);
        let options = choice.map_or_else(Vec::new, |c| {
            let option = |o: &ChoiceOption| FieldOption {
                value: o.key.clone(),
                label: o.name.clone(),
            };
            c.options.iter().map(option).collect()
        });
        let label = choice.map_or("How", |c| c.name.as_str());
        vec![Field::one_of("option", label, options)]
    }
}
