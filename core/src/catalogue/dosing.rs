//! What a build says of its dose: by which way, and the numbers that way goes by.

use super::Counted;
use super::cures::Role;
use crate::caution::FieldError;
use crate::units::GPerKg;
use crate::units::bounds::Measure;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A way of dosing. What is special about each stands in one file under [`crate::cure::methods`].
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum DosingMethod {
    /// Rubbed with a dose measured on its weight.
    MeasuredDry,
    /// The same, carried by syrup, wine, a sauce or a slurry.
    WetRub,
    /// Mixed into ground or diced meat.
    GroundMix,
    /// Laid in a brine that evens out.
    EquilibriumBrine,
    /// Covered with a brine of fixed strength, for a counted time.
    CoverBrine,
    /// Brine pumped into it; the rest covers it, or is thrown away.
    Injection,
    /// Rubbed with a pre-blended cure at the rate of its label.
    LabelRate,
    /// Buried in salt, to the hour.
    SaltBox,
    /// Not cured at all.
    None,
}

/// By what the salt in the meat is measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SaltBy {
    /// By the grams that go in for its weight.
    Weight,
    /// By the label of a blend, on its surface.
    Label,
    /// By the hours or days in what covers it.
    Time,
    /// By the hours in the salt that buries it: most of that is brushed off, so that its grams prove nothing.
    Buried,
    /// Nothing goes in.
    Nothing,
}

/// A method as somebody's recipe may use it, whatever its product.
pub struct RecipeWay {
    /// Its word among the methods of a dose.
    pub key: &'static str,
    /// The numbers where the recipe leaves them out: nothing goes in that it does not name, and its box has the hours of
    /// the usual school.
    pub numbers: &'static [(&'static str, f64)],
}

const IN_THE_MIX: &[(&str, f64)] = &[("cure_g_per_kg", 0.0), ("salt_g_per_kg", 0.0)];

impl DosingMethod {
    /// By what the salt in the meat is measured.
    #[must_use]
    pub const fn salt_by(self) -> SaltBy {
        match self {
            Self::MeasuredDry
            | Self::WetRub
            | Self::GroundMix
            | Self::EquilibriumBrine
            | Self::Injection => SaltBy::Weight,
            Self::LabelRate => SaltBy::Label,
            Self::CoverBrine => SaltBy::Time,
            Self::SaltBox => SaltBy::Buried,
            Self::None => SaltBy::Nothing,
        }
    }

    /// True where it is buried in salt.
    #[must_use]
    pub const fn is_buried(self) -> bool {
        matches!(self.salt_by(), SaltBy::Buried)
    }

    /// True where it takes a cure at all.
    #[must_use]
    pub const fn cures(self) -> bool {
        !matches!(self.salt_by(), SaltBy::Nothing)
    }

    /// What is done while it lies in its cure, and before it goes on: verb, words, and what is looked at at the end.
    #[must_use]
    pub const fn in_cure(self) -> [&'static str; 3] {
        match self {
            Self::MeasuredDry | Self::WetRub | Self::LabelRate => [
                "turn",
                "Turn every day; the liquid goes back on.",
                "Rinse or wipe, pat dry, and weigh.",
            ],
            Self::GroundMix => ["rest", "Left cold until the salt is through.", "Weigh it."],
            Self::EquilibriumBrine => [
                "keep under the brine",
                "All of it under the brine; stir or swap every day or two.",
                "Rinse or wipe, pat dry, and weigh.",
            ],
            Self::CoverBrine => [
                "keep under the brine",
                "All of it under the brine; stir or swap every day. Out on its day: longer is saltier.",
                "Rinse, soak if it is salty, pat dry, and weigh.",
            ],
            Self::Injection => [
                "keep under the rest",
                "Under what is left of the brine, turned every day.",
                "Rinse or wipe, pat dry, and weigh.",
            ],
            Self::SaltBox => [
                "dig out",
                "Buried and left alone, to the hour: longer is saltier.",
                "Dig it out, brush the salt off, and weigh it.",
            ],
            Self::None => ["rest", "Kept cold.", "Weigh it."],
        }
    }

    /// As somebody's recipe may use it; none for what is not cured.
    #[must_use]
    pub const fn recipe(self) -> Option<RecipeWay> {
        let (key, numbers): (_, &[(&str, f64)]) = match self {
            Self::MeasuredDry => ("recipe_dry", IN_THE_MIX),
            Self::WetRub => ("recipe_wet", IN_THE_MIX),
            Self::GroundMix => ("recipe_ground", IN_THE_MIX),
            Self::LabelRate => ("recipe_label", &[("dose_g_per_kg", 0.0)]),
            Self::EquilibriumBrine => (
                "recipe_equilibrium",
                &[
                    ("nitrite_ppm", 0.0),
                    ("salt_fraction", 0.0),
                    ("sugar_fraction", 0.0),
                    ("water_per_meat", 1.0),
                ],
            ),
            Self::CoverBrine => (
                "recipe_cover",
                &[
                    ("cure_per_l", 0.0),
                    ("salt_per_l", 0.0),
                    ("sugar_per_l", 0.0),
                    ("water_per_meat", 1.0),
                ],
            ),
            Self::Injection => (
                "recipe_injection",
                &[
                    ("pump_fraction", 0.1),
                    ("nitrite_ppm", 0.0),
                    ("salt_fraction", 0.0),
                    ("sugar_fraction", 0.0),
                    ("rest_covers", 0.0),
                    ("water_per_meat", 0.5),
                ],
            ),
            Self::SaltBox => (
                "recipe_salt_box",
                &[
                    ("salt_per_meat", 1.0),
                    ("hours_per_25_mm", 24.0),
                    ("least_hours", 4.0),
                    ("most_hours", 240.0),
                ],
            ),
            Self::None => return None,
        };
        Some(RecipeWay { key, numbers })
    }

    /// The method that a recipe's word among the methods of a dose names.
    #[must_use]
    pub fn of_recipe(key: &str) -> Option<Self> {
        Self::ALL
            .into_iter()
            .find(|m| m.recipe().is_some_and(|r| r.key == key))
    }
}

/// What meat lies in while it takes its cure.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Vessel {
    /// A bag of its own, or a tray.
    Bag,
    /// A tub, with its brine around it.
    Tub,
    /// A dish in which salt buries it.
    Dish,
    /// The bowl, pan or casing it was mixed for.
    Mixed,
    /// Nothing: it takes no cure.
    None,
}

/// What a number of a dose counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DoseUnit {
    /// Grams on a kilogram of meat.
    Rate,
    /// A share, typed in percent.
    Percent,
    /// Milligrams in a kilogram.
    Content,
    /// Grams of water, by weight or by volume.
    Water,
    /// So many times the weight of the meat.
    Times,
    /// Grams in a litre of water.
    Strength,
    /// Hours.
    Hours,
    /// Millimetres.
    Length,
    /// Yes or no: 1 or 0.
    Tick,
}

/// What is in the spoon, where a number of a dose is given by the spoon.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Spooned {
    /// The curing salt of this time.
    Cure,
    /// Salt, of the kind in the house.
    Salt,
    /// Granulated sugar.
    Sugar,
    /// Nothing: it is no amount of anything.
    Nothing,
}

impl DoseUnit {
    /// The bounds of its numbers.
    #[must_use]
    pub const fn measure(self) -> Measure {
        match self {
            Self::Rate | Self::Strength => Measure::Rate,
            Self::Percent | Self::Tick => Measure::Share,
            Self::Content => Measure::Content,
            Self::Water => Measure::Mass,
            Self::Times => Measure::Count,
            Self::Hours => Measure::Time,
            Self::Length => Measure::Length,
        }
    }
}

/// How an amount is typed, for fields drawn from what the core says.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum AmountKind {
    /// So much on a kilogram.
    Rate,
    /// Percent.
    Percent,
    /// A content.
    Content,
    /// Water, by weight or by volume.
    Water,
    /// A share.
    Share,
    /// So much in a litre of water.
    Strength,
    /// Hours.
    Hours,
    /// A length.
    Length,
    /// Yes or no.
    Tick,
}

impl From<DoseUnit> for AmountKind {
    fn from(unit: DoseUnit) -> Self {
        match unit {
            DoseUnit::Rate => Self::Rate,
            DoseUnit::Percent => Self::Percent,
            DoseUnit::Content => Self::Content,
            DoseUnit::Water => Self::Water,
            DoseUnit::Times => Self::Share,
            DoseUnit::Strength => Self::Strength,
            DoseUnit::Hours => Self::Hours,
            DoseUnit::Length => Self::Length,
            DoseUnit::Tick => Self::Tick,
        }
    }
}

/// A number that a way of dosing goes by. The data file, the screen and the refusals all speak of
/// it by this one description.
#[derive(Debug, PartialEq)]
pub struct DoseField {
    /// Its word in data files and requests.
    pub name: &'static str,
    /// As it is called.
    pub label: &'static str,
    /// What it counts.
    pub unit: DoseUnit,
    /// What to know about it.
    pub hint: &'static str,
    /// What is in the spoon, where it is given by the spoon.
    pub spoon: Spooned,
    /// True when a build has to say it.
    pub needed: bool,
    /// True when it may be changed for one dose.
    pub own: bool,
}

/// What a build is dosed with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BuildDose {
    /// The curing salt's word.
    pub cure: String,
    /// Sugar, spices, and whatever else goes on.
    #[serde(default)]
    pub additions: Vec<Seasoning>,
    /// The numbers of its way, by their word.
    #[serde(flatten)]
    pub numbers: BTreeMap<String, f64>,
}

impl BuildDose {
    /// A number of its way, if it says it.
    #[must_use]
    pub fn number(&self, field: &DoseField) -> Option<f64> {
        self.numbers.get(field.name).copied()
    }

    /// A number that its method cannot do without, and 0 for one that it can: no sugar is said by leaving it out.
    ///
    /// # Errors
    /// At the field, where it is needed and nobody said it: what nobody said is not none.
    pub fn need(&self, field: &DoseField) -> Result<f64, FieldError> {
        match self.number(field) {
            Some(said) => Ok(said),
            None if field.needed => Err(FieldError::new(
                format!("own.{}", field.name),
                format!("Nobody said “{}”. {}", field.label, field.hint),
            )),
            None => Ok(0.0),
        }
    }

    /// The salt that salty sauces bring with them; it counts in the total.
    #[must_use]
    pub fn salt_in_sauces(&self) -> GPerKg {
        let salty = |s: &Seasoning| s.g_per_kg * s.salt_fraction.unwrap_or(0.0);
        GPerKg(self.additions.iter().map(salty).sum())
    }
}

/// Sugar, a spice or a sauce, by the kilogram of meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Seasoning {
    /// What it is called.
    pub name: String,
    /// Grams per kilogram of meat.
    pub g_per_kg: f64,
    /// The salt in it, for soy sauce and pastes.
    #[serde(default)]
    pub salt_fraction: Option<f64>,
    /// What it does in the dose; by its name when left out.
    #[serde(default)]
    pub role: Option<Role>,
    /// What of it is what it is called, where shops also sell it diluted.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub purity: Option<f64>,
    /// How many on a kilogram of meat, where it is counted or taken by the pinch and not weighed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub counted: Option<Counted>,
    /// True for what goes on last, and is not in the bowl that is shared out.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub last: bool,
}
