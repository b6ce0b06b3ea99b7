//! Something was put on a piece by weight: meal, pepper, paste, lard; a cloth on what hangs.

use crate::acts::context::{cure_out_of_place, words};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::cure::sheet::Jar;
use crate::cure::unusual::fresh_in_raw;
use crate::form::{AskError, Field};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::coated::Coated;
use crate::ledger::odd::mistyped;
use crate::units::show::mass;
use crate::units::{Grams, Milligrams, Reading, Typed};
use serde::{Deserialize, Serialize};

/// Something is put on it by weight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CoatedAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several that got it together: what was weighed is shared out by what each weighs.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// What it is: corn meal, black pepper, lard.
    pub name: String,
    /// How much of it went on, as typed. Give this, or `after`.
    #[serde(default)]
    pub reading: Option<String>,
    /// The piece on the scale with it on, as typed. Give this, `reading` or `jar`.
    #[serde(default)]
    pub after: Option<String>,
    /// The jar it came out of, before and after: what is gone stuck.
    #[serde(default)]
    pub jar: Option<Jar>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
}

impl Draft for CoatedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        if self.name.trim().is_empty() {
            return Err(AskError::field(
                "name",
                "Say what was put on, such as corn meal.",
            ));
        }
        let mut reading = context.mass_if(self.reading.as_deref(), "reading")?;
        let after = context.mass_if(self.after.as_deref(), "after")?;
        let said = [reading.is_some(), after.is_some(), self.jar.is_some()];
        if said.iter().filter(|s| **s).count() != 1 {
            return Err(AskError::field(
                "reading",
                "Type how much went on, what the piece weighs with it, or its jar before and after: one of these.",
            ));
        }
        if let Some(jar) = &self.jar {
            let gone = jar
                .gone(context.home.settings.units)
                .map_err(|e| AskError::Fields(vec![e.under("jar")]))?;
            reading = Some(Typed::unsaid(Milligrams::from_grams(gone.0)));
        }
        let pieces = context.those(self.piece, &self.pieces, None)?;
        let shares = |all: Option<Reading>| -> Result<Vec<_>, AskError> {
            let Some(all) = all else {
                return Ok(vec![None; pieces.len()]);
            };
            let each = context.shared_reading(&all, &pieces)?;
            Ok(each.into_iter().map(Some).collect())
        };
        let each = shares(reading)?.into_iter().zip(shares(after)?);
        pieces
            .iter()
            .zip(each)
            .map(|(piece, (reading, after))| {
                let act = Coated {
                    piece: *piece,
                    name: self.name.trim().into(),
                    reading,
                    after,
                    allergens: words(self.allergens.as_deref()),
                };
                Ok((context.lot_of(*piece)?, Act::Coated(act)))
            })
            .collect()
    }
}

/// More than this share of the piece is asked about.
const USUAL_COAT: f64 = 0.25;

impl Review for Coated {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let (state, home) = (validator.state, validator.home);
        let Some(found) = state.pieces.get(&self.piece) else {
            return Vec::new();
        };
        if let Some(cure) = cure_out_of_place(&self.name, validator.catalogue()) {
            return vec![cure];
        }
        let fresh = found.build().and_then(|b| fresh_in_raw(&self.name, b));
        let usual = found.mass.grams() * USUAL_COAT;
        let added = self.added(found, home.settings.units).ok();
        let much = added.filter(|a| a.grams() > usual).map(|added| {
            mistyped(
                format!("That is a lot of {} on {}.", self.name, found.tag),
                mass(Grams(added.grams()), home.settings.units.mass),
                format!("at most {}", mass(Grams(usual), home.settings.units.mass)),
                Some(
                    "Type what went on it, not what it weighs in all, or keep it as typed.".into(),
                ),
            )
        });
        fresh.into_iter().chain(much).collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let how_much = match (&self.reading, &self.after) {
            (Some(reading), _) => render.mass(reading),
            (None, Some(after)) => format!("up to {}", render.mass(after)),
            (None, None) => String::new(),
        };
        let allergens = self.allergens.as_ref().map(|a| format!(" (contains {a})"));
        format!("{how_much} {}{}", self.name, allergens.unwrap_or_default())
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Coated(CoatedAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            name: self.name.clone(),
            reading: self.reading.as_ref().map(|r| render.again(r)),
            after: self.after.as_ref().map(|r| render.again(r)),
            jar: None,
            allergens: self.allergens.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::text("name", "What was put on"),
            Field::mass("reading", "How much of it").optional(),
            Field::mass("after", "Or the piece with it on").optional(),
            Field::text("allergens", "What to name for the allergic").optional(),
        ]
    }
}
