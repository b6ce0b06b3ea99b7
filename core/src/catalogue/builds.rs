//! Builds: a product's dose, steps, targets and own words, read from a data file.

pub use super::dosing::{BuildDose, DoseField, DoseUnit, DosingMethod, Seasoning};
use super::rules::{Class, Form};
use super::species::{Muscles, Range, Species};
use super::steps::{Step, StepKind};
use crate::units::Fraction;
use serde::{Deserialize, Serialize};

/// How the finished product is eaten; printed on the pack.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Eat {
    /// Raw inside.
    CookBeforeEating,
    /// As it is.
    ReadyToEat,
    /// Not at all.
    NotEaten,
}

/// How a build lies in its cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CurePlan {
    /// Days between turnings.
    pub turn_every_days: u32,
    /// Thicker pieces have to be cut first (mm).
    pub limit_thickness_mm: f64,
    /// Never fewer days than these.
    #[serde(default)]
    pub least_days: Option<u32>,
    /// Days for each 25 mm of thickness, where the build asks for them.
    #[serde(default)]
    pub days_per_25_mm: Option<u32>,
    /// Never more days than these; for what has no nitrite to hold it.
    #[serde(default)]
    pub most_days: Option<u32>,
    /// Just so many days, whatever the thickness; for mixes, where the cure is everywhere at once.
    #[serde(default)]
    pub fixed_days: Option<u32>,
}

/// Something a build cannot be made without.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Tool {
    /// A smoker.
    Smoker,
    /// A kitchen oven.
    Oven,
    /// A chamber or another place with hooks, cool and damp.
    DryingPlace,
    /// A vacuum sealer and its bags.
    Vacuum,
    /// A grinder.
    Grinder,
    /// A stuffer or filling horn.
    Stuffer,
    /// A tub or bucket for brine.
    Tub,
    /// A loaf pan.
    Pan,
}

impl Tool {
    /// As people call it.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Smoker => "a smoker",
            Self::Oven => "an oven",
            Self::DryingPlace => "a drying place with hooks",
            Self::Vacuum => "a vacuum sealer",
            Self::Grinder => "a grinder",
            Self::Stuffer => "a stuffer",
            Self::Tub => "a tub or bucket",
            Self::Pan => "a loaf pan",
        }
    }
}

/// Whether something is to be on or off, in or out.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Wanted {
    /// On, or in.
    #[serde(alias = "in")]
    On,
    /// Off, or out.
    #[serde(alias = "out")]
    Off,
    /// As it comes.
    #[default]
    Either,
}

/// What meat a build wants, in traits; explains why a cut does not make it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Wants {
    /// The share of fat.
    pub fat_fraction: Option<Range>,
    /// Thinner than this it does not work (mm).
    pub least_thickness_mm: Option<f64>,
    /// Bone.
    pub bone: Wanted,
    /// Skin.
    pub skin: Wanted,
    /// One whole muscle, where that is asked for.
    pub muscles: Option<Muscles>,
    /// True when it has to lie flat.
    pub flat: bool,
    /// True when sound fat may be dried although several muscles run through it.
    pub sound_fat: bool,
}

/// What a ground build is mixed of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Mix {
    /// The share of fat in the block, before water.
    pub fat_fraction: Range,
    /// True when it is pressed into pans.
    #[serde(default)]
    pub pans: bool,
    /// What gives the lean.
    pub lean_words: String,
    /// What gives the fat.
    pub fat_words: String,
}

/// The skin a build is filled or wrapped in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Casing {
    /// A sheet wrapped around one muscle.
    Sheet,
    /// A natural casing filled with a mix.
    Natural,
}

/// What a build is wrapped, filled, netted or tied in.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Wrap {
    /// The casing.
    pub casing: Option<Casing>,
    /// The casing's diameter, where the build asks for one (mm).
    pub diameter_mm: Option<f64>,
    /// True when it hangs or smokes in a net.
    pub net: bool,
    /// True when it is tied.
    pub ties: bool,
    /// True when it is rolled first.
    pub rolled: bool,
}

/// Another way to make the same product: a choice at the weigh-out when it has a key, else advice.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OtherWay {
    /// Its word among the ways of its product, where it can be chosen.
    #[serde(default)]
    pub key: Option<String>,
    /// What it is called.
    pub name: String,
    /// How, and what to mind.
    pub words: String,
    /// How it is dosed then; as the product when left out.
    #[serde(default)]
    pub method: Option<DosingMethod>,
    /// The dose then; the product's when left out.
    #[serde(default)]
    pub dose: Option<BuildDose>,
    /// The cure then; the product's when left out.
    #[serde(default)]
    pub cure: Option<CurePlan>,
}

/// How a build is smoked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SmokePlan {
    /// Where the inside is brought to (°C).
    pub inside_c: f64,
    /// Wood for a kilogram of meat, as a habit to shop by (g).
    pub wood_g_per_kg: f64,
    /// The run in words.
    pub words: String,
}

/// Under this loss it is raw meat, whatever was hoped for (share of net start).
pub const LEAST_LOSS: f64 = 0.25;

/// How a build hangs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HangPlan {
    /// The share of its weight it is to lose.
    pub loss_fraction: f64,
    /// The lower edge of that; its target where nothing is said.
    #[serde(default)]
    pub least_loss_fraction: Option<f64>,
    /// The place in words.
    pub words: String,
}

impl HangPlan {
    /// The smallest loss that counts as its target.
    #[must_use]
    pub fn least(&self) -> f64 {
        self.least_loss_fraction.unwrap_or(self.loss_fraction)
    }
}

/// How well some cuts of some species suit a build: 2 classic, 1 works, 0 no.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Suit {
    /// Species, or `*` for any.
    pub species: Vec<String>,
    /// Cuts, or `*` for any.
    pub cuts: Vec<String>,
    /// 2 classic, 1 works, 0 no.
    pub score: u8,
    /// Why.
    pub reason: String,
}

/// How long a pack stays good in a place.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Keep {
    /// Where and how.
    pub place: String,
    /// Days of good quality.
    pub days: u32,
}

/// Names a build as it was at one time.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BuildRef {
    /// Its stable word.
    pub key: String,
    /// Its version.
    pub version: u32,
}

/// A product of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Build {
    /// The stable word.
    pub key: String,
    /// Grows with every change; a running piece keeps the one it started with.
    pub version: u32,
    /// As it is called at the table.
    pub name: String,
    /// What it is.
    pub what: String,
    /// Why one would make it.
    pub why: String,
    /// How long it takes.
    pub how_long: String,
    /// What goes wrong.
    pub goes_wrong: String,
    /// What its label says to whoever heats it up: how to keep it from going wrong in the pan.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cooking: Option<String>,
    /// The products it stands among in lists.
    pub family: String,
    /// How it is dosed.
    pub method: DosingMethod,
    /// What becomes of it, as the rules divide the world.
    pub class: Class,
    /// A lump or a mix.
    pub form: Form,
    /// How it is eaten.
    pub eat: Eat,
    /// True for fresh, render, stock, trim and waste: no cure, no plan.
    #[serde(default)]
    pub ending: bool,
    /// True for what is thrown away.
    #[serde(default)]
    pub discard: bool,
    /// True for one that no catalogue holds any more; never in a data file.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub gone: bool,
    /// True when it is eaten without ever being heated.
    #[serde(default)]
    pub raw_dried: bool,
    /// What should come out, of green weight.
    #[serde(default)]
    pub yield_of_green: Option<Range>,
    /// What it cannot be made without.
    #[serde(default)]
    pub tools: Vec<Tool>,
    /// What meat it wants.
    #[serde(default)]
    pub wants: Wants,
    /// What it is mixed of, when it is ground.
    #[serde(default)]
    pub mix: Option<Mix>,
    /// What it is wrapped in.
    #[serde(default)]
    pub wrap: Wrap,
    /// Other ways to make it.
    #[serde(default, rename = "other_way")]
    pub other_ways: Vec<OtherWay>,
    /// The dose.
    #[serde(default)]
    pub dose: Option<BuildDose>,
    /// The cure.
    #[serde(default)]
    pub cure: Option<CurePlan>,
    /// The smoke.
    #[serde(default)]
    pub smoke: Option<SmokePlan>,
    /// The hanging.
    #[serde(default)]
    pub hang: Option<HangPlan>,
    /// The way it takes, in order; an ending is packed.
    #[serde(default, rename = "step")]
    pub steps: Vec<Step>,
    /// What suits it.
    #[serde(rename = "suit")]
    pub suits: Vec<Suit>,
    /// How long it keeps.
    #[serde(default, rename = "keep")]
    pub keeps: Vec<Keep>,
}

impl Build {
    /// True when its pieces are ground or diced into one block.
    #[must_use]
    pub fn is_ground(&self) -> bool {
        self.class.form(self.form) == Form::Ground
    }

    /// The middle of what should come out, of green weight; all of it where nothing is said.
    #[must_use]
    pub fn usual_yield(&self) -> Fraction {
        Fraction(
            self.yield_of_green
                .map_or(1.0, |r| f64::midpoint(r.low, r.high)),
        )
    }

    /// The entry of its table that speaks of a cut, if one does.
    #[must_use]
    pub fn suit(&self, species: &Species, cut: &str) -> Option<&Suit> {
        self.suits
            .iter()
            .find(|s| species.is_among(&s.species) && s.cuts.iter().any(|c| c == cut || c == "*"))
    }

    /// The ways that can be chosen beside its own.
    pub fn choices(&self) -> impl Iterator<Item = (&str, &OtherWay)> {
        self.other_ways
            .iter()
            .filter_map(|w| Some((w.key.as_deref()?, w)))
    }

    /// The same product made in another of its ways, or by somebody's recipe; none where it has no such way.
    #[must_use]
    pub fn in_way(&self, key: &str) -> Option<Self> {
        if let Some(method) = DosingMethod::of_recipe(key) {
            return self.by_recipe(method);
        }
        let (_, way) = self.choices().find(|(k, _)| *k == key)?;
        let method = way.method.unwrap_or(self.method);
        Some(Self {
            method,
            dose: way.dose.clone().or_else(|| self.dose.clone()),
            cure: way.cure.clone().or_else(|| self.cure.clone()),
            steps: self.steps_by(method, Some(&way.words)),
            ..self.clone()
        })
    }

    /// Its steps when it is dosed by another method: the words of that method in the place of its own.
    fn steps_by(&self, method: DosingMethod, how: Option<&str>) -> Vec<Step> {
        let mut steps = self.steps.clone();
        if method == self.method {
            return steps;
        }
        let [verb, words, check] = method.in_cure().map(str::to_string);
        for step in &mut steps {
            if step.kind == StepKind::Cure {
                step.verb.clone_from(&verb);
                step.words.clone_from(&words);
                step.check = Some(check.clone());
            }
            if let Some(how) = how.filter(|_| step.kind == StepKind::Dose) {
                step.words = how.into();
            }
        }
        steps
    }

    /// The product dosed by a recipe that somebody brought: by its way, with the numbers it gives and nothing of the
    /// product's own. None for what is not cured.
    fn by_recipe(&self, method: DosingMethod) -> Option<Self> {
        if self.ending || !self.method.cures() {
            return None;
        }
        let own = self.dose.as_ref();
        let recipe = method.recipe()?;
        Some(Self {
            method,
            dose: Some(BuildDose {
                cure: own.map_or_else(|| "cure1".into(), |d| d.cure.clone()),
                additions: Vec::new(),
                numbers: recipe
                    .numbers
                    .iter()
                    .map(|(name, value)| ((*name).to_string(), *value))
                    .collect(),
            }),
            steps: self.steps_by(method, None),
            ..self.clone()
        })
    }

    /// The product as it is made by a dose of that way: its own, one of its other ways, or a mix that
    /// was made by the recipe of another product.
    #[must_use]
    pub fn dosed_by(&self, way: Option<&str>, method: DosingMethod) -> Option<Self> {
        let made = way.and_then(|key| self.in_way(key));
        let standing = made.as_ref().unwrap_or(self);
        if standing.method == method {
            return made;
        }
        Some(Self {
            method,
            ..standing.clone()
        })
    }

    /// Names it with its version.
    #[must_use]
    pub fn reference(&self) -> BuildRef {
        BuildRef {
            key: self.key.clone(),
            version: self.version,
        }
    }

    /// The first step of a kind on its way.
    #[must_use]
    pub fn step(&self, kind: StepKind) -> Option<&Step> {
        self.steps.iter().find(|s| s.kind == kind)
    }

    /// True when it hangs on its way.
    #[must_use]
    pub fn hangs(&self) -> bool {
        self.step(StepKind::Hang).is_some()
    }

    /// True when it is smoked, hot or cold, on its way.
    #[must_use]
    pub fn is_smoked(&self) -> bool {
        self.step(StepKind::Smoke).is_some() || self.step(StepKind::ColdSmoke).is_some()
    }

    /// True when it is dried: it hangs before any heat that has to be.
    #[must_use]
    pub fn is_dried(&self) -> bool {
        self.steps
            .iter()
            .find(|s| s.kind == StepKind::Hang || (s.kind.is_heat() && !s.may_be_left_out()))
            .is_some_and(|s| s.kind == StepKind::Hang)
    }

    /// A build that is in no catalogue any more; where its piece is follows from facts alone.
    #[must_use]
    pub fn gone(key: &str, version: u32) -> Self {
        let words = format!(
            "{} (no longer in the catalogue)",
            key.replace(['-', '_'], " ")
        );
        Self {
            key: key.into(),
            version,
            name: words.clone(),
            what: words,
            why: String::new(),
            how_long: String::new(),
            cooking: None,
            goes_wrong: String::new(),
            family: String::new(),
            method: DosingMethod::MeasuredDry,
            class: Class::Cooked,
            form: Form::Whole,
            eat: Eat::CookBeforeEating,
            ending: false,
            discard: false,
            gone: true,
            raw_dried: false,
            yield_of_green: None,
            tools: Vec::new(),
            wants: Wants::default(),
            mix: None,
            wrap: Wrap::default(),
            other_ways: Vec::new(),
            dose: None,
            cure: None,
            smoke: None,
            hang: None,
            steps: [StepKind::Dose, StepKind::Cure, StepKind::Pack]
                .map(Step::bare)
                .into(),
            suits: Vec::new(),
            keeps: Vec::new(),
        }
    }
}
