//! By which way a recipe doses.

use super::{BRINE_FROM, BRINE_TIMES, Sums, is_in};
use crate::catalogue::cures::Role;
use crate::catalogue::lexicon::{Open, Topic};
use crate::catalogue::rules::Class;
use crate::recipe::RecipeCheckAsk;
use crate::recipe::section::{Page, Pot, Quantity, Reader};
use crate::units::Band;
use serde::{Deserialize, Serialize};

/// By which way a recipe doses.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum RecipeMethod {
    /// Rubbed on.
    Dry,
    /// Mixed into ground or diced meat.
    Ground,
    /// A pre-blended cure by its label.
    Label,
    /// In a brine that evens out.
    EquilibriumBrine,
    /// Covered with a brine of fixed strength.
    CoverBrine,
    /// Brine pumped in.
    Injection,
    /// Buried in salt.
    SaltBox,
    /// Nobody can tell.
    Unknown,
}

impl RecipeMethod {
    /// True where meat and water share what is dissolved.
    pub(in crate::recipe) const fn is_brine(self) -> bool {
        match self {
            Self::EquilibriumBrine | Self::CoverBrine | Self::Injection => true,
            Self::Dry | Self::Ground | Self::Label | Self::SaltBox | Self::Unknown => false,
        }
    }
}

pub(in crate::recipe) fn is_ground(page: &Page<'_>, ask: &RecipeCheckAsk) -> bool {
    let cut_up = page.lines.iter().any(|(_, l)| {
        l.items.iter().filter(|i| i.is_meat).any(|i| {
            i.words.iter().any(|w| {
                matches!(
                    w.as_str(),
                    "ground" | "minced" | "diced" | "mince" | "chopped"
                )
            })
        })
    });
    // Lean and fat weighed apart are for the grinder.
    let meats = || {
        page.lines
            .iter()
            .flat_map(|(_, l)| &l.items)
            .filter(|i| i.is_meat)
    };
    let apart = meats().filter(|i| !i.amounts.is_empty()).count() > 1
        && meats().any(|i| {
            i.words.iter().any(|w| {
                matches!(
                    w.as_str(),
                    "fat" | "fatback" | "backfat" | "trim" | "trimmings" | "lean"
                )
            })
        });
    cut_up || apart || page.topics.has(Topic::Ground) || ask.class == Some(Class::SausageDried)
}

/// True when what is left of the brine lies around the piece.
pub(in crate::recipe) fn covers(page: &Page<'_>) -> bool {
    if page.topics.has(Topic::Uncovers) {
        return false;
    }
    page.lines.iter().any(|(_, l)| {
        let said = |list: &[&str]| {
            let mut tokens = l.scanned.tokens.iter();
            tokens.any(|t| list.contains(&t.word.as_str()))
        };
        let topics = l.scanned.topics;
        // “2.5 g of it in the brine” covers nothing.
        let doses = l
            .items
            .iter()
            .any(|i| i.name.is_some() && i.says_how_much());
        let cover = said(&["cover", "covers", "covered", "covering"])
            && (topics.has(Topic::Pumped)
                || topics.has(Topic::Brine)
                || said(&["rest", "remainder", "remaining", "left", "leftover"]));
        !l.negated && !doses && (topics.has(Topic::Covers) || cover)
    })
}

pub(in crate::recipe) fn method(
    page: &Page<'_>,
    sums: &Sums,
    ask: &RecipeCheckAsk,
    water: Option<Band>,
    water_unknown: bool,
    meat: Option<Band>,
    reader: &Reader<'_>,
) -> RecipeMethod {
    let mut has = Vec::new();
    let mut blend = false;
    let mut brine_pot = false;
    let mut pumped_pot = false;
    let mut solids = 0.0;
    for (i, part) in page.parts.iter().enumerate().filter(|(_, p)| is_in(p)) {
        has.extend(part.role);
        brine_pot |= part.pot == Pot::Brine;
        pumped_pot |= part.pot == Pot::Pumped;
        if matches!(part.role, Some(Role::Salt | Role::Sugar | Role::CuringSalt)) {
            solids += sums.masses[i].map_or(0.0, |b| b.nominal);
        }
        let name = part.name.map(|n| &reader.lexicon.names[n]);
        let is_blend = part
            .brew
            .as_ref()
            .and_then(|b| b.key.as_deref())
            .is_some_and(|k| k == "preblend");
        blend |= is_blend
            || name.is_some_and(|n| {
                n.assumed == Some(Open::Blend)
                    && part
                        .brew
                        .as_ref()
                        .is_some_and(|b| b.key.as_deref() == Some("preblend"))
            });
    }
    let cures = has.contains(&Role::CuringSalt) || has.contains(&Role::Salt);
    let topics = page.topics;
    if !cures {
        // “Bury it in salt” names no amount, and is a way all the same.
        let buried = topics.has(Topic::Bury);
        return if buried {
            RecipeMethod::SaltBox
        } else {
            RecipeMethod::Unknown
        };
    }
    let ground = is_ground(page, ask);
    // Other liquids by the cup make a brine as water does.
    let liquid: f64 = page
        .parts
        .iter()
        .zip(&sums.masses)
        .filter(|(p, _)| is_in(p) && p.role == Some(Role::Liquid))
        .filter_map(|(_, m)| m.map(|b| b.nominal))
        .sum();
    let wet = water.map_or(0.0, |w| w.nominal) + liquid;
    // So much in a litre of water is a brine, however much water there is.
    let per_water = page.parts.iter().any(|p| {
        is_in(p)
            && matches!(p.role, Some(Role::Salt | Role::CuringSalt))
            && p.readings
                .iter()
                .any(|r| matches!(r.quantity, Quantity::PerWater(_)))
    });
    let brine = per_water
        || match meat {
            Some(meat) => {
                wet > BRINE_FROM * meat.nominal
                    || ((brine_pot || pumped_pot) && wet > 0.0)
                    || (water_unknown && (brine_pot || topics.has(Topic::Brine)))
            }
            None => {
                (wet > 0.0 || water_unknown)
                    && !ground
                    && (brine_pot
                        || pumped_pot
                        || topics.has(Topic::Brine)
                        || wet > BRINE_TIMES * solids)
            }
        };
    let pumps = (page.pump.is_some() || page.pump_g.is_some() || pumped_pot)
        || (topics.has(Topic::Pumped) && !ground);
    if pumps && (wet > 0.0 || water_unknown) {
        return RecipeMethod::Injection;
    }
    if brine && !(ground && wet <= BRINE_FROM * meat.map_or(0.0, |m| m.nominal)) {
        return if page.percent_of_all {
            RecipeMethod::EquilibriumBrine
        } else {
            RecipeMethod::CoverBrine
        };
    }
    if topics.has(Topic::Bury) {
        return RecipeMethod::SaltBox;
    }
    if blend {
        return RecipeMethod::Label;
    }
    if ground {
        return RecipeMethod::Ground;
    }
    RecipeMethod::Dry
}
