//! Cased and netted: what it went into, how that was made ready, what is left of it.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::assign::wraps::fits_girth;
use crate::catalogue::builds::Build;
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Count, Field, FieldKind};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::cased::{Cased, TakenOut};
use crate::pantry::{StockKind, same};
use crate::shape::size::Size;
use crate::units::show::{length, trim};
use crate::units::{Grams, Millimetres, Typed};
use serde::{Deserialize, Serialize};
use serde_json::json;

/// Cased and netted.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CasedAsk {
    /// The piece.
    pub piece: PieceId,
    /// The casing or net, by its name in the pantry.
    pub casing: String,
    /// How much was taken out of stock, as typed: `2.5 m`.
    #[serde(default)]
    pub taken: Option<String>,
    /// How much of that went back into its salt, as typed.
    #[serde(default)]
    pub back: Option<String>,
    /// How wide it is when filled, as typed: `46 mm`; as the pantry says when left out.
    #[serde(default)]
    pub diameter: Option<String>,
    /// How far it is round the piece, as typed: `24 cm`.
    #[serde(default)]
    pub girth: Option<String>,
    /// Minutes in water.
    #[serde(default)]
    pub soaked: Option<Count>,
    /// How often that was changed.
    #[serde(default)]
    pub changes: Option<Count>,
    /// Whether it held the water that was let through it.
    #[serde(default)]
    pub tight: Option<bool>,
    /// What it weighs as it goes on, wet, as typed.
    #[serde(default)]
    pub reading: Option<String>,
    /// What else was taken out of stock for it: a net, string.
    #[serde(default)]
    pub also: Vec<TakenOutAsk>,
}

/// Something that is kept by the metre, taken out of stock.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TakenOutAsk {
    /// Its name in the pantry.
    pub name: String,
    /// How much of it, as typed: `1.5 m`.
    pub taken: String,
}

impl Draft for CasedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let Some(casing) = words(Some(&self.casing)) else {
            return Err(AskError::field(
                "casing",
                "Say what it went into, by its name in the pantry, such as beef bung.",
            ));
        };
        let typed = context.typed_if(self.diameter.as_deref(), "diameter")?;
        let kept = || context.home.pantry.width(&casing).map(Typed::unsaid);
        let diameter = typed.or_else(kept);
        let mut also = Vec::new();
        for (i, out) in self.also.iter().enumerate() {
            let at = |field: &str| format!("also[{i}].{field}");
            let name = words(Some(&out.name));
            let taken = context.typed_if(Some(&out.taken), &at("taken"))?;
            match (name, taken) {
                (None, None) => {}
                (Some(name), Some(taken)) => also.push(TakenOut { name, taken }),
                (Some(_), None) => {
                    return Err(AskError::field(
                        &at("taken"),
                        "Type how much of it was taken, such as 1.5 m.",
                    ));
                }
                (None, Some(_)) => {
                    return Err(AskError::field(
                        &at("name"),
                        "Say what was taken, by its name in the pantry.",
                    ));
                }
            }
        }
        let act = Cased {
            also,
            piece: self.piece,
            casing,
            taken: context.typed_if(self.taken.as_deref(), "taken")?,
            back: context.typed_if(self.back.as_deref(), "back")?,
            diameter,
            girth: context.typed_if(self.girth.as_deref(), "girth")?,
            soaked_min: context.count_if(self.soaked.as_ref(), "soaked")?,
            changes: context.count_if(self.changes.as_ref(), "changes")?,
            tight: self.tight,
            reading: context.mass_if(self.reading.as_deref(), "reading")?,
        };
        context.about(self.piece, Act::Cased(act))
    }
}

impl Review for Cased {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let mut found = Vec::new();
        found.extend(self.ill_fitting(validator));
        if self.tight == Some(false) {
            found.push(
                Finding::new(Code::CasingLeaks, Severity::Caution, "It did not hold the water: where it leaks, air and mold come in.")
                    .saw("a leak")
                    .wants("a casing that holds water")
                    .remedy("Cut the hole away, tie it off or patch it with a second layer; or keep it as typed."),
            );
        }
        if let Some(minutes) = self.soaked_min.filter(|m| *m >= CHANGED_FROM_MIN)
            && self.changes.unwrap_or(0) == 0
        {
            found.push(
                Finding::new(Code::CasingWater, Severity::Caution, "Soaked in one water, a casing keeps its salt and its smell.")
                    .saw(format!("{minutes} min, no change of water"))
                    .wants("2 or 3 changes")
                    .remedy("Flush it inside and out in fresh water and type how often, or keep it as typed."),
            );
        }
        if !validator.correcting {
            found.extend(self.more_than_kept(validator));
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let mut said = vec![self.casing.clone()];
        said.extend(
            self.taken
                .as_ref()
                .map(|t| format!("{} taken", render.label(t))),
        );
        said.extend(
            self.back
                .as_ref()
                .map(|t| format!("{} back in salt", render.label(t))),
        );
        said.extend(self.soaked_min.map(|m| format!("soaked {m} min")));
        said.extend(self.changes.map(|n| format!("water changed {n} times")));
        said.extend(self.tight.map(|t| {
            if t {
                "holds water".into()
            } else {
                "leaks".into()
            }
        }));
        said.extend(
            self.reading
                .as_ref()
                .map(|r| format!("{} wet", render.mass(r))),
        );
        said.extend(
            self.also
                .iter()
                .map(|a| format!("{} of {}", render.label(&a.taken), a.name)),
        );
        said.join(", ")
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        let again = |t: &Option<Typed<Millimetres>>| t.as_ref().map(|t| render.again(t));
        Some(Ask::Cased(CasedAsk {
            piece: self.piece,
            casing: self.casing.clone(),
            taken: again(&self.taken),
            back: again(&self.back),
            diameter: again(&self.diameter),
            girth: again(&self.girth),
            soaked: self.soaked_min.map(Count::from),
            changes: self.changes.map(Count::from),
            tight: self.tight,
            reading: self.reading.as_ref().map(|r| render.again(r)),
            also: self
                .also
                .iter()
                .map(|a| TakenOutAsk {
                    name: a.name.clone(),
                    taken: render.again(&a.taken),
                })
                .collect(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::text("casing", "Casing or net"),
            Field::thickness("taken", "Taken out of stock").optional(),
            Field::thickness("back", "Back into its salt").optional(),
            Field::thickness("diameter", "How wide when filled").optional(),
            Field::thickness("girth", "Round the piece").optional(),
            Field::new("soaked", "Minutes in water", FieldKind::Count).optional(),
            Field::new("changes", "Changes of water", FieldKind::Count).optional(),
            Field::mass("reading", "Its weight, wet").optional(),
            Field::rows(
                "also",
                "Net, string",
                vec![
                    Field::text("name", "What"),
                    Field::thickness("taken", "How much"),
                ],
                Some(json!({"name": "", "taken": ""})),
            ),
        ]
    }
}

/// Salted casing that soaks for so long wants fresh water (min).
const CHANGED_FROM_MIN: u32 = 30;

/// A girth that is reckoned from weight and thickness, and not measured, can be so far off (share).
const RECKONED_OFF: f64 = 0.25;

impl Cased {
    /// A casing too narrow or too wide: by the girth that was measured, else by what the piece's weight and thickness make
    /// likely.
    fn ill_fitting(&self, validator: &Validator<'_>) -> Option<Finding> {
        let diameter = self.diameter.as_ref()?.value;
        let round = diameter * std::f64::consts::PI;
        let measured = self.girth.as_ref().map(|g| g.value);
        let (girth, fits, about, wants) = match measured {
            Some(girth) => (
                girth,
                fits_girth(diameter, girth),
                "",
                "within 10 % of the piece",
            ),
            None => {
                let girth = self.reckoned_girth(validator)?;
                (
                    girth,
                    (round / girth - 1.0).abs() <= RECKONED_OFF,
                    "about ",
                    "its girth measured, and within 10 % of it",
                )
            }
        };
        let say = |mm: Millimetres| {
            length(
                Millimetres(mm.0.round()),
                validator.home.settings.units.length,
            )
        };
        let what = if round.0 < girth.0 {
            "That casing is too narrow: it bursts, or it squeezes the piece."
        } else {
            "That casing is too wide: air stays under it, and there mold grows."
        };
        (!fits).then(|| {
            Finding::new(Code::CasingFit, Severity::Caution, what)
                .saw(format!(
                    "{} round, over a piece of {about}{}",
                    say(round),
                    say(girth)
                ))
                .wants(wants)
                .remedy("Take another width, or two layers of sheet; or keep it as typed.")
        })
    }

    /// Once around a whole piece, by its weight and thickness; none for a filled casing, which is as wide as its casing.
    fn reckoned_girth(&self, validator: &Validator<'_>) -> Option<Millimetres> {
        let piece = validator.piece(self.piece)?;
        if piece.build().is_some_and(Build::is_ground) {
            return None;
        }
        let lot = validator.state.lot.as_ref()?;
        let cut = lot.species().cut(&piece.cut)?;
        let size = Size::estimate(Grams(piece.mass.grams()), piece.shape.thickness()?, cut);
        Some(size.girth())
    }

    /// More taken out of stock than stands there.
    fn more_than_kept(&self, validator: &Validator<'_>) -> Option<Finding> {
        let taken = self.taken.as_ref()?.value.0 / 1_000.0;
        let pantry = &validator.home.pantry;
        let kinds = [StockKind::Casing, StockKind::Net];
        kinds
            .iter()
            .find(|kind| pantry.named(**kind, &self.casing).next().is_some())?;
        let today = validator.home.settings.day(validator.at);
        let standing = pantry.standing(validator.book, today);
        let mine = standing
            .iter()
            .filter(|s| kinds.contains(&s.item.kind) && same(&s.item.name, &self.casing));
        let left: f64 = mine.map(|s| s.left).sum();
        (taken > left + 1e-6).then(|| {
            Finding::new(
                Code::MoreThanKept,
                Severity::Caution,
                format!("The pantry does not hold so much of {}.", self.casing),
            )
            .saw(format!("{} m taken", trim(taken, 2)))
            .wants(format!("at most {} m", trim(left.max(0.0), 2)))
            .remedy("Check the digits and the unit, or count the pantry again.")
        })
    }

    /// How much of the stock is used (m).
    #[must_use]
    pub fn used_m(&self) -> f64 {
        let of = |typed: &Option<Typed<Millimetres>>| typed.as_ref().map_or(0.0, |t| t.value.0);
        (of(&self.taken) - of(&self.back)).max(0.0) / 1_000.0
    }
}
