//! Reading somebody's recipe: what every line of it says in grams, what it comes to, what is wrong with it, and the same in
//! grams for the piece on the table.
//!
//! A line becomes words and numbers (`scan`), those become amounts of something (`line`), headings rule the lines below them
//! (`section`), and all of it is weighed up (`sums`) and judged (`judge`). The words are data (`catalogue::lexicon`). Nothing is guessed
//! silently: what had to be assumed stands beside the line, and may be settled in the next request.

mod again;
mod judge;
mod line;
mod scan;
mod section;
mod start;
mod sums;
mod times;

#[cfg(test)]
mod tests;

use crate::catalogue::Catalogue;
use crate::catalogue::cures::Role;
use crate::catalogue::rules::Class;
use crate::caution::{Checks, FieldError};
use crate::cure::printed::printed;
use crate::units::Measures;
use crate::units::bounds::Measure;
pub use again::Rewritten;
pub use judge::{OverWeight, RecipeFinding};
use section::{Page, Reader};
use serde::{Deserialize, Serialize};
pub use start::{RecipeAddition, RecipeStart};
pub use sums::RecipeMethod;
use sums::Sums;
pub use times::BesideOurs;

/// The longest text that is read (bytes).
pub const LONGEST_RECIPE: usize = 64 * 1024;

/// A recipe, as the HTTP contract spells it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecipeCheckAsk {
    /// The text, as it came.
    pub text: String,
    /// The piece it is to be made for (g).
    #[serde(default)]
    pub meat_g: Option<f64>,
    /// Its greatest thickness (mm).
    #[serde(default)]
    pub thickness_mm: Option<f64>,
    /// What becomes of it; by the words of the text when left out.
    #[serde(default)]
    pub class: Option<Class>,
    /// Whose spoons, cups and gallons; those of the household when left out, and said.
    #[serde(default)]
    pub measures: Option<Measures>,
    /// Whose the household's are; those of the US when left out.
    #[serde(default)]
    pub household_measures: Measures,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
    /// What was settled of what had to be assumed.
    #[serde(default)]
    pub settled: Vec<Settled>,
}

/// Something assumed that a person settled.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Settled {
    /// What was assumed.
    pub code: AssumptionCode,
    /// The line it stands in, as typed; the whole text when left out.
    #[serde(default)]
    pub line_text: Option<String>,
    /// The ingredient, where a line names several.
    #[serde(default)]
    pub ingredient: Option<String>,
    /// One of the assumption's choices, a weight, or a percentage.
    pub value: String,
}

impl Settled {
    fn is_for(&self, typed: &str) -> bool {
        self.line_text
            .as_deref()
            .is_none_or(|t| t.trim() == typed.trim())
    }
}

/// The stable word for a kind of assumption.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum AssumptionCode {
    /// Nobody says for how much meat it is.
    MeatWeightMissing,
    /// Two amounts for one thing are far apart.
    AmountsDiffer,
    /// Millilitres of something that is no liquid.
    VolumeOfSolid,
    /// Salt by the spoon, of a grain that is not said.
    SaltKindAssumed,
    /// Kosher salt by the spoon, dense or flaked.
    KosherKindAssumed,
    /// What becomes of it is not said.
    ClassAssumed,
    /// Which curing salt, or what its label says.
    CompositionAssumed,
    /// How much of a brine gets in.
    PickupAssumed,
    /// How salty a sauce is.
    SauceSaltAssumed,
    /// A name that means a curing salt and also something else.
    IdentityUnclear,
    /// Celery powder without a percentage.
    CeleryUnknown,
    /// A packet or jar of no said weight.
    PartOfPacket,
    /// An amount by eye: heaped, scant, about.
    About,
    /// A word read with one letter changed.
    Spelling,
    /// Of what a percentage is.
    PercentOf,
    /// Whose spoons, cups and gallons.
    MeasuresAssumed,
    /// Something named without an amount.
    NoAmount,
    /// Something that nobody here knows by its name: it is reckoned as a seasoning.
    UnknownIngredient,
}

impl AssumptionCode {
    /// What may be typed to settle it, where that is no choice among words.
    #[must_use]
    pub const fn takes(self) -> Option<Takes> {
        match self {
            Self::PartOfPacket
            | Self::About
            | Self::VolumeOfSolid
            | Self::NoAmount
            | Self::AmountsDiffer => Some(Takes::Weight),
            Self::SauceSaltAssumed | Self::CeleryUnknown => Some(Takes::Percent),
            Self::MeatWeightMissing
            | Self::SaltKindAssumed
            | Self::KosherKindAssumed
            | Self::ClassAssumed
            | Self::CompositionAssumed
            | Self::PickupAssumed
            | Self::IdentityUnclear
            | Self::Spelling
            | Self::PercentOf
            | Self::MeasuresAssumed
            | Self::UnknownIngredient => None,
        }
    }

    /// True where a weight typed for its line settles it.
    #[must_use]
    pub const fn takes_a_weight(self) -> bool {
        matches!(self.takes(), Some(Takes::Weight))
    }
}

/// Something that had to be assumed, with what else it may be.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Assumption {
    /// The stable word.
    pub code: AssumptionCode,
    /// What was taken, and why.
    pub message: String,
    /// What was taken, as a request would settle it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub value: Option<String>,
    /// The line of the answer it stands in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<usize>,
    /// What it may be instead.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub choices: Vec<AssumptionChoice>,
    /// What may be typed instead, where it is no choice.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub takes: Option<Takes>,
}

/// One thing that an assumption may be instead.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AssumptionChoice {
    /// As a request says it.
    pub value: String,
    /// As a person says it.
    pub label: String,
}

/// What is typed to settle an assumption.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Takes {
    /// A weight.
    Weight,
    /// A percentage.
    Percent,
}

/// What a line is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = RecipeLineKind))]
pub enum LineKind {
    /// Something that goes in.
    Ingredient,
    /// The meat.
    Meat,
    /// Water.
    Water,
    /// What to do.
    Instruction,
    /// Rules the lines below it.
    Heading,
    /// Nobody here knows what it says.
    NotUnderstood,
}

/// How well a line was understood.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Understood {
    /// As it says.
    Yes,
    /// With an assumption, which may be changed.
    Assumed,
    /// Not at all.
    No,
}

/// One reading of an amount.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AmountRead {
    /// The words of the line.
    pub said: String,
    /// What they come to (g).
    pub mass_g: Option<f64>,
}

/// A line of the text, read.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecipeLine {
    /// As typed.
    pub text: String,
    /// Which line of the text it stands in, of those that are not blank: 0 is the first.
    pub source: usize,
    /// What it is.
    pub kind: LineKind,
    /// What goes in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub ingredient: Option<String>,
    /// What it does in the cure.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub role: Option<Role>,
    /// Grams; none where it is no number.
    pub mass_g: Option<f64>,
    /// At least (g).
    pub mass_g_low: Option<f64>,
    /// At most (g).
    pub mass_g_high: Option<f64>,
    /// How well it was understood.
    pub understood: Understood,
    /// Every reading, where it says its amount twice.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub readings: Vec<AmountRead>,
    /// Why it has no weight, or what else to know.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

/// What a recipe really is.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecipeCheckAnswer {
    /// Every line that is not blank, in order; one that names several ingredients once for each.
    pub lines: Vec<RecipeLine>,
    /// By which way it doses.
    pub method: RecipeMethod,
    /// What becomes of it, as it was judged.
    pub class: Class,
    /// The meat it is for (g).
    pub meat_g: Option<f64>,
    /// Salt in all: of the meat, in brines of meat and brine.
    pub salt_fraction: Option<f64>,
    /// Sugar likewise.
    pub sugar_fraction: Option<f64>,
    /// Nitrite (ppm); in brines the higher of the two reckonings.
    pub nitrite_ppm: Option<f64>,
    /// At least (ppm).
    pub nitrite_ppm_low: Option<f64>,
    /// At most (ppm).
    pub nitrite_ppm_high: Option<f64>,
    /// By what the meat takes up of its brine (ppm).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub nitrite_ppm_pickup: Option<f64>,
    /// If meat and brine become alike (ppm).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub nitrite_ppm_equilibrium: Option<f64>,
    /// Nitrate (ppm).
    pub nitrate_ppm: Option<f64>,
    /// At least (ppm).
    pub nitrate_ppm_low: Option<f64>,
    /// At most (ppm).
    pub nitrate_ppm_high: Option<f64>,
    /// The most nitrite that is allowed for what it is for (ppm).
    pub ceiling_ppm: Option<f64>,
    /// The least that protects it (ppm).
    pub floor_ppm: Option<f64>,
    /// What had to be assumed.
    pub assumptions: Vec<Assumption>,
    /// The same in grams for the piece.
    pub rewritten: Vec<Rewritten>,
    /// The meat that is for (g).
    pub rewritten_for_g: Option<f64>,
    /// That as text, which reads back to the same grams.
    pub printed: String,
    /// The same as a dose that can be started; none where that is not known, or nobody may.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub start: Option<RecipeStart>,
    /// Nitrite over the weight of the meat, where that is not said.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub over_weight: Vec<OverWeight>,
    /// Days and temperatures of the text, beside ours.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub beside_ours: Vec<BesideOurs>,
    /// What is dangerous, and why.
    pub findings: Vec<RecipeFinding>,
}

/// Reads a recipe.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::recipe::{RecipeCheckAsk, recipe_check};
///
/// let ask: RecipeCheckAsk = serde_json::from_value(serde_json::json!({"text": "2 kg pork belly\n5 g cure #1\n40 g salt"}))?;
/// let got = recipe_check(&ask, &Catalogue::shipped()).unwrap();
/// // 5 g of 6.25 % over two kilos.
/// assert!((got.nitrite_ppm.unwrap() - 156.25).abs() < 0.01);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// A text that is too long, a weight or thickness that cannot be, an unknown rule set.
///
/// # Source
/// Words, units and densities in `data/reader` and `data/spoons.toml`; the arithmetic and the limits are those of the
/// calculators.
pub fn recipe_check(
    ask: &RecipeCheckAsk,
    catalogue: &Catalogue,
) -> Result<RecipeCheckAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.that(
        ask.text.len() <= LONGEST_RECIPE,
        "text",
        "That is more than 64 kB, which no recipe is. Paste the recipe alone.",
    );
    if let Some(meat) = ask.meat_g {
        checks.above_zero(Measure::Mass, meat, "meat_g", "2010");
    }
    if let Some(thickness) = ask.thickness_mm {
        checks.above_zero(Measure::Length, thickness, "thickness_mm", "45");
    }
    let rules = catalogue.rule_set(&ask.rule_set);
    if let Err(error) = &rules {
        checks.push(error.clone());
    }
    checks.done()?;
    let rules = rules.map_err(|e| vec![e])?;
    let reader = Reader {
        lexicon: &catalogue.lexicon,
        catalogue,
        measures: ask.measures.unwrap_or(ask.household_measures),
        settled: &ask.settled,
    };
    let page = section::page(&ask.text, &reader);
    let sums = sums::sums(&page, ask, &reader);
    Ok(answer(&page, &sums, ask, &reader, rules))
}

fn answer(
    page: &Page<'_>,
    sums: &Sums,
    ask: &RecipeCheckAsk,
    reader: &Reader<'_>,
    rules: &crate::catalogue::rules::RuleSet,
) -> RecipeCheckAnswer {
    let judged = judge::judge(page, sums, ask, reader, rules);
    let lines = lines(page, sums, &judged.assumptions);
    let beside_ours = times::beside_ours(page, sums, ask, reader, judged.class);
    let mut findings = judged.findings;
    findings.extend(times::findings(page, &beside_ours, sums, judged.class));
    // The loudest first; of one kind in the order of the lines.
    findings.sort_by_key(|f| std::cmp::Reverse(f.finding.severity));
    let nominal = |b: Option<crate::units::Band>| b.map(|b| b.nominal);
    let rewritten = again::rewritten(page, sums, ask.meat_g);
    let rewritten_for_g = ask.meat_g.or(nominal(sums.meat));
    let in_grams: Vec<(&str, f64)> = rewritten
        .iter()
        .map(|r| (r.ingredient.as_str(), r.mass_g))
        .collect();
    let printed = printed("In grams", rewritten_for_g, &in_grams);
    RecipeCheckAnswer {
        lines,
        method: sums.method,
        class: judged.class,
        meat_g: nominal(sums.meat),
        salt_fraction: sums.salt,
        sugar_fraction: sums.sugar,
        nitrite_ppm: nominal(sums.nitrite),
        nitrite_ppm_low: sums.nitrite.map(|b| b.low),
        nitrite_ppm_high: sums.nitrite.map(|b| b.high),
        nitrite_ppm_pickup: nominal(sums.pickup),
        nitrite_ppm_equilibrium: nominal(sums.equilibrium),
        nitrate_ppm: nominal(sums.nitrate),
        nitrate_ppm_low: sums.nitrate.map(|b| b.low),
        nitrate_ppm_high: sums.nitrate.map(|b| b.high),
        ceiling_ppm: judged.ceiling_ppm,
        floor_ppm: judged.floor_ppm,
        assumptions: judged.assumptions,
        rewritten,
        rewritten_for_g,
        printed,
        start: start::start(page, sums, ask.meat_g),
        over_weight: judged.over_weight,
        beside_ours,
        findings,
    }
}

fn lines(page: &Page<'_>, sums: &Sums, assumptions: &[Assumption]) -> Vec<RecipeLine> {
    let mut of: Vec<Vec<&Assumption>> = vec![Vec::new(); page.parts.len()];
    for assumption in assumptions {
        if let Some(line) = assumption.line {
            of[line].push(assumption);
        }
    }
    page.parts
        .iter()
        .enumerate()
        .map(|(i, part)| {
            let mass = sums.masses[i];
            let assumed = !of[i].is_empty();
            let mut notes = part.notes.clone();
            notes.extend(of[i].iter().map(|a| a.message.clone()));
            if mass.is_none() && !part.readings.is_empty() && part.kind != LineKind::NotUnderstood {
                notes.push("It cannot be worked out, or is more than any household weighs.".into());
            }
            notes.dedup();
            let readings = if part.readings.len() > 1 {
                let each = part.readings.iter().zip(&sums.readings[i]);
                each.map(|(r, mass)| AmountRead {
                    said: r.said.clone(),
                    mass_g: mass.map(|b| b.nominal),
                })
                .collect()
            } else {
                Vec::new()
            };
            RecipeLine {
                text: page.lines[part.source].0.to_string(),
                source: part.source,
                kind: part.kind,
                ingredient: part.ingredient.clone(),
                role: part.role,
                mass_g: mass.map(|b| b.nominal),
                mass_g_low: mass.map(|b| b.low),
                mass_g_high: mass.map(|b| b.high),
                understood: match part.kind {
                    LineKind::NotUnderstood => Understood::No,
                    _ if assumed => Understood::Assumed,
                    LineKind::Ingredient
                    | LineKind::Meat
                    | LineKind::Water
                    | LineKind::Instruction
                    | LineKind::Heading => Understood::Yes,
                },
                readings,
                note: (!notes.is_empty()).then(|| notes.join(" ")),
            }
        })
        .collect()
}
