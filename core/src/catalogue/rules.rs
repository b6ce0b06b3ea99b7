//! Rule sets as data: how much nitrite and nitrate a country's practice allows.

use serde::{Deserialize, Serialize};

/// What becomes of the piece, as the rules divide the world.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Class {
    /// Sliced and fried: bacon in every form.
    Fry,
    /// Cooked or smoked, eaten as it is.
    Cooked,
    /// Whole muscle that hangs for weeks.
    Dried,
    /// Dry sausage.
    SausageDried,
}

impl Class {
    /// As a person would say it.
    #[must_use]
    pub fn label(self) -> &'static str {
        match self {
            Self::Fry => "anything sliced to be fried",
            Self::Cooked => "cooked or smoked meat",
            Self::Dried => "whole muscle dried for weeks",
            Self::SausageDried => "dry sausage",
        }
    }

    /// Whether it is ground or whole: dry sausage is mixed from ground or diced meat whatever was
    /// said, everything else is what it is said to be.
    #[must_use]
    pub const fn form(self, said: Form) -> Form {
        match self {
            Self::SausageDried => Form::Ground,
            Self::Fry | Self::Cooked | Self::Dried => said,
        }
    }
}

/// One lump or a mix.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Form {
    /// A piece of meat.
    #[default]
    Whole,
    /// Ground or diced and mixed.
    Ground,
}

/// How the cure gets into the meat, as the law divides it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Law {
    /// Rubbed on.
    Dry,
    /// Laid in brine.
    Immersed,
    /// Pumped or tumbled.
    Injected,
    /// Mixed into ground meat.
    Ground,
}

impl Law {
    /// How what is rubbed on, or mixed in, counts: whatever lies in no brine.
    #[must_use]
    pub const fn without_brine(form: Form) -> Self {
        match form {
            Form::Whole => Self::Dry,
            Form::Ground => Self::Ground,
        }
    }
}

/// The ceiling for one class and some ways of curing.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Limit {
    /// For what becomes of the piece.
    pub class: Class,
    /// For these ways of curing.
    pub ways: Vec<Law>,
    /// Most sodium nitrite going in (ppm).
    pub nitrite_ppm: f64,
    /// The same with the skin on, where it differs (ppm).
    #[serde(default)]
    pub skin_on_ppm: Option<f64>,
    /// Most sodium nitrate going in (ppm).
    pub nitrate_ppm: f64,
    /// False where a skin cannot be on.
    #[serde(default = "yes")]
    pub skin_on_possible: bool,
}

/// The least nitrite that is asked of one class.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Floor {
    /// For what becomes of the piece.
    pub class: Class,
    /// For these ways of curing.
    pub ways: Vec<Law>,
    /// Least sodium nitrite going in (ppm).
    pub nitrite_ppm: f64,
    /// The same with the skin on (ppm).
    pub skin_on_ppm: f64,
}

/// One country's or household's rules, with where they come from.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RuleSet {
    /// The stable word.
    pub key: String,
    /// As it is called.
    pub name: String,
    /// The date the rules are from.
    pub since: String,
    /// Where they can be read.
    pub source: String,
    /// The dose taken when nothing else is said (ppm).
    pub default_nitrite_ppm: f64,
    /// Warned above, whatever the class allows (ppm).
    pub home_cap_ppm: f64,
    /// Never accepted above (ppm).
    pub refuse_over_ppm: f64,
    /// How far a nominal may pass a limit before it is a stop (ppm).
    pub stop_margin_ppm: f64,
    /// Below this nitrite only colours (ppm).
    pub colour_only_under_ppm: f64,
    /// Least nitrite asked where no floor of its own is given (ppm).
    pub floor_ppm: f64,
    /// True where pork with an inspector's stamp was tested for trichinella.
    #[serde(default)]
    pub stamped_pork_is_tested: bool,
    /// Floors of their own.
    #[serde(default, rename = "floor")]
    pub floors: Vec<Floor>,
    /// Ceilings.
    #[serde(rename = "limit")]
    pub limits: Vec<Limit>,
}

fn yes() -> bool {
    true
}

/// The rule set a request means when it names none.
pub const DEFAULT_RULE_SET: &str = "us_home";

pub(crate) fn default_rule_set() -> String {
    DEFAULT_RULE_SET.into()
}

impl RuleSet {
    /// The same with a cap that no limit passes; floors above it come down to it.
    #[must_use]
    pub fn capped(&self, cap_ppm: f64) -> Self {
        let mut own = self.clone();
        for limit in &mut own.limits {
            limit.nitrite_ppm = limit.nitrite_ppm.min(cap_ppm);
            limit.skin_on_ppm = limit.skin_on_ppm.map(|ppm| ppm.min(cap_ppm));
        }
        own.home_cap_ppm = own.home_cap_ppm.min(cap_ppm);
        own.floor_ppm = own.floor_ppm.min(cap_ppm);
        for floor in &mut own.floors {
            floor.nitrite_ppm = floor.nitrite_ppm.min(cap_ppm);
            floor.skin_on_ppm = floor.skin_on_ppm.min(cap_ppm);
        }
        own.name = format!("{}, with your own cap of {} ppm,", own.name, cap_ppm);
        own
    }
}
