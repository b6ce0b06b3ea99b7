//! A recipe as a dose that can be started: the way it belongs to, and its numbers as that way takes them.

use super::section::{Page, Part};
use super::sums::{RecipeMethod, Sums, is_in};
use crate::catalogue::cures::{Composition, CureAsk, Role};
use crate::catalogue::dosing::DosingMethod;
use crate::units::show::trim;
use serde::Serialize;
use std::collections::BTreeMap;

/// A dose by a recipe, as `dosed` and the weigh-out take it.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecipeStart {
    /// Its word among the ways of a dose.
    pub way: String,
    /// By which way it doses.
    pub method: DosingMethod,
    /// The curing salt: a word of the catalogue, or what it is made of.
    pub cure: CureAsk,
    /// The numbers of the way, by their word, as they would be typed.
    pub numbers: BTreeMap<String, String>,
    /// Sugar, spices and liquids, each on a kilogram of meat.
    pub additions: Vec<RecipeAddition>,
    /// Days of the recipe, where it says them.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
    /// What has no weight, and is therefore not in it.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub left_out: Vec<String>,
}

/// Something that goes in beside salt and cure.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecipeAddition {
    /// What it is called.
    pub name: String,
    /// So much on a kilogram, as it would be typed.
    pub amount: String,
}

/// The dose that a recipe is; none where its meat, its cure or its brine is not known.
pub(super) fn start(page: &Page<'_>, sums: &Sums, own_g: Option<f64>) -> Option<RecipeStart> {
    let meat = sums
        .meat
        .map(|m| m.nominal)
        .or(sums.for_a_kilogram.then_some(super::sums::ONE_KILOGRAM))?;
    if sums.cure_unknown {
        return None;
    }
    let ingredients: Vec<(&Part, f64)> = page
        .parts
        .iter()
        .zip(&sums.masses)
        .filter(|(p, _)| is_in(p))
        .filter_map(|(p, m)| Some((p, m.as_ref()?.nominal)))
        .collect();
    let of = |role: Role| -> f64 {
        ingredients
            .iter()
            .filter(|(p, _)| p.role == Some(role))
            .map(|(_, g)| g)
            .sum()
    };
    let cure = one_cure(&ingredients)?;
    let (cure_g, salt_g, sugar_g) = (of(Role::CuringSalt), of(Role::Salt), of(Role::Sugar));
    let water_g = of(Role::Water);
    let per_kg = |g: f64| format!("{} g/kg", number(g / meat * 1_000.0));
    let percent = |share: f64| format!("{} %", number(share * 100.0));
    let mut numbers = BTreeMap::new();
    let mut put = |name: &str, said: String| numbers.insert(name.to_string(), said);
    let liquids = of(Role::Liquid) > 0.0 || ingredients.iter().any(|(p, _)| is_wet_sugar(p));
    let way = way(sums.method, liquids || water_g > 0.0)?;
    let scaled = |g: f64| format!("{} g", number(g * own_g.unwrap_or(meat) / meat));
    let mut sugar_inside = false;
    match way {
        DosingMethod::MeasuredDry | DosingMethod::WetRub | DosingMethod::GroundMix => {
            put("cure_g_per_kg", per_kg(cure_g));
            // Salt in all: what the cure and the sauces bring counts.
            // A hair more than exact: rounded down, the cure alone would bring more than was asked for.
            put(
                "salt_g_per_kg",
                format!("{} g/kg", number(sums.salt? * 1_000.0 + 1e-6)),
            );
        }
        DosingMethod::LabelRate => {
            put("dose_g_per_kg", per_kg(cure_g));
        }
        DosingMethod::EquilibriumBrine => {
            let all = meat + sums.brine?;
            put(
                "nitrite_ppm",
                format!("{} ppm", number(sums.equilibrium?.nominal)),
            );
            put(
                "salt_fraction",
                percent(sums.salt? * all / (meat + water_g)),
            );
            put("sugar_fraction", percent(sugar_g / (meat + water_g)));
            put("water_g", scaled(water_g));
            sugar_inside = true;
        }
        DosingMethod::CoverBrine => {
            let per_l = |g: f64| format!("{} g/l", number(g / water_g * 1_000.0));
            if water_g <= 0.0 {
                return None;
            }
            put("cure_per_l", per_l(cure_g));
            put("salt_per_l", per_l(salt_g));
            put("sugar_per_l", per_l(sugar_g));
            put("water_g", scaled(water_g));
            put("pickup_fraction", percent(sums.pickup_share));
            sugar_inside = true;
        }
        DosingMethod::Injection => {
            let brine = sums.brine?;
            let pump = sums.pump?;
            let taken = pump + if sums.covers { sums.pickup_share } else { 0.0 };
            put("pump_fraction", percent(pump));
            put(
                "nitrite_ppm",
                format!("{} ppm", number(sums.nitrite_g / brine * taken * 1e6)),
            );
            put("salt_fraction", percent(sums.salt_g / brine * taken));
            put("sugar_fraction", percent(sugar_g / brine * taken));
            put("rest_covers", if sums.covers { "yes" } else { "no" }.into());
            put("water_g", scaled(water_g));
            sugar_inside = true;
        }
        DosingMethod::SaltBox => {
            put("salt_per_meat", number(salt_g / meat));
        }
        DosingMethod::None => return None,
    }
    let additions = ingredients
        .iter()
        .filter(|(p, g)| {
            *g > 0.0
                && match p.role {
                    Some(Role::CuringSalt) | None => false,
                    Some(Role::Salt) => way == DosingMethod::LabelRate,
                    Some(Role::Sugar) => !sugar_inside,
                    Some(Role::Water) => !way.in_brine(),
                    Some(Role::Spice | Role::Liquid | Role::Accelerator | Role::Binder) => true,
                }
        })
        .map(|(p, g)| (p.ingredient.clone().unwrap_or_default(), *g));
    let additions = merged(additions)
        .into_iter()
        .map(|(name, g)| RecipeAddition {
            name,
            amount: per_kg(g),
        })
        .collect();
    let key = way.recipe()?.key;
    let unweighed = || {
        let all = page.parts.iter().zip(&sums.masses);
        all.filter(|(p, m)| is_in(p) && m.is_none()).map(|(p, _)| p)
    };
    let additions: Vec<RecipeAddition> = additions;
    let has = |name: &String| additions.iter().any(|a| a.name == *name);
    // What is counted stays a count; it brings neither salt nor cure.
    let counted: Vec<RecipeAddition> = unweighed()
        .filter(|p| p.role == Some(Role::Spice))
        .filter_map(|p| {
            let name = p.ingredient.clone().filter(|name| !has(name))?;
            let amount = match p.counted {
                Some(count) => format!("{} pieces per kg", number(count / meat * 1_000.0)),
                None if p.pinch => format!("{} pinches per kg", number(1_000.0 / meat)),
                None => return None,
            };
            Some(RecipeAddition { name, amount })
        })
        .collect();
    let is_counted = |name: &String| counted.iter().any(|a| a.name == *name);
    let left_out = unweighed()
        .filter_map(|p| p.ingredient.clone())
        .filter(|name| !is_counted(name))
        .collect();
    let additions = additions.into_iter().chain(counted).collect();
    Some(RecipeStart {
        way: key.into(),
        method: way,
        cure,
        numbers,
        additions,
        days: super::times::days_said(page).map(|d| d.ceil().max(1.0) as u32),
        left_out,
    })
}

const fn way(method: RecipeMethod, wet: bool) -> Option<DosingMethod> {
    Some(match method {
        RecipeMethod::Dry if wet => DosingMethod::WetRub,
        RecipeMethod::Dry => DosingMethod::MeasuredDry,
        RecipeMethod::Ground => DosingMethod::GroundMix,
        RecipeMethod::Label => DosingMethod::LabelRate,
        RecipeMethod::EquilibriumBrine => DosingMethod::EquilibriumBrine,
        RecipeMethod::CoverBrine => DosingMethod::CoverBrine,
        RecipeMethod::Injection => DosingMethod::Injection,
        RecipeMethod::SaltBox => DosingMethod::SaltBox,
        RecipeMethod::Unknown => return None,
    })
}

/// Syrup and honey carry a rub as liquids do.
fn is_wet_sugar(part: &Part) -> bool {
    part.role == Some(Role::Sugar) && part.sugar < 1.0
}

/// The one curing salt of a recipe; nothing is started with two, or with one that nobody knows.
fn one_cure(ingredients: &[(&Part, f64)]) -> Option<CureAsk> {
    let mut found: Option<(&str, CureAsk)> = None;
    for (part, _) in ingredients
        .iter()
        .filter(|(p, _)| p.role == Some(Role::CuringSalt))
    {
        let brew = part.brew.as_ref()?;
        if brew.pure.is_some() || brew.unknown {
            return None;
        }
        match &found {
            Some((name, _)) if *name != brew.name => return None,
            Some(_) => {}
            None => {
                let ask = brew.key.as_ref().map_or_else(
                    || {
                        CureAsk::Made(Composition {
                            ..brew.made_of.clone()
                        })
                    },
                    |key| CureAsk::Named(key.clone()),
                );
                found = Some((&brew.name, ask));
            }
        }
    }
    Some(found.map_or_else(|| CureAsk::Named("none".into()), |(_, ask)| ask))
}

/// An ingredient that stands in two lines goes in once.
fn merged(list: impl Iterator<Item = (String, f64)>) -> Vec<(String, f64)> {
    let mut out: Vec<(String, f64)> = Vec::new();
    for (name, g) in list {
        match out.iter_mut().find(|(n, _)| *n == name) {
            Some((_, there)) => *there += g,
            None => out.push((name, g)),
        }
    }
    out
}

/// Digits enough that nothing of the dose is lost.
fn number(value: f64) -> String {
    trim(value, 6)
}
