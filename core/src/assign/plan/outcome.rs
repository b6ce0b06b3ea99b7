//! How each wish fares in a plan, why one is not met, and what one more purchase would change.

use super::places::places;
use super::supply::Table;
use crate::animal::{Cut, Species};
use crate::assign::suggest::{self, Allocation, Problem, Target, Want};
use crate::builds::{Build, Wanted};
use crate::catalogue::Catalogue;
use crate::place::PlaceUse;
use crate::units::Grams;
use crate::units::show::{capital, trim};
use serde::{Deserialize, Serialize};

/// How one wish fares.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WishOutcome {
    /// The wish.
    pub wish: u32,
    /// Its product.
    pub build: String,
    /// As the product is called.
    pub name: String,
    /// True when it counts pieces, not grams.
    pub in_pieces: bool,
    /// What is wished for: grams of product, or pieces.
    pub wanted: f64,
    /// What it gets of that.
    pub met: f64,
    /// True when it is met.
    pub is_met: bool,
    /// Why not, in words.
    pub why: Option<String>,
    /// What one more purchase would change.
    pub purchase: Option<Purchase>,
}

/// One more purchase, and what it would change.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Purchase {
    /// Of this species.
    pub species_name: String,
    /// This cut.
    pub cut_name: String,
    /// So much (g).
    pub mass_g: f64,
    /// In words: what it would change.
    pub words: String,
}

/// How a wish fares, why, and what would help.
pub(super) fn outcome(
    table: &Table,
    problem: &Problem,
    allocation: &Allocation,
    met: &[f64],
    t: usize,
) -> WishOutcome {
    let target = &problem.targets[t];
    let wanted = target.want.amount();
    let in_pieces = matches!(target.want, Want::Pieces(_));
    let is_met = met[t] >= wanted * suggest::MET;
    let name = table.catalogue.build_name(&target.build);
    let mut outcome = WishOutcome {
        wish: target.wish,
        build: target.build.clone(),
        name,
        in_pieces,
        wanted,
        met: met[t],
        is_met,
        why: None,
        purchase: None,
    };
    if is_met {
        return outcome;
    }
    let suited: Vec<_> = (0..problem.units.len())
        .filter(|&u| problem.option_for(u, t).is_some())
        .collect();
    let elsewhere = suited
        .iter()
        .filter(|&&u| allocation.choices[u].is_some_and(|c| c.target != Some(t)))
        .count();
    let idle: Vec<_> = suited
        .iter()
        .copied()
        .filter(|&u| allocation.choices[u].is_none())
        .collect();
    let used = problem.places(allocation);
    let full = idle.iter().find_map(|&u| {
        let option = &problem.units[u].options[problem.option_for(u, t)?];
        problem.room().too_small(&used.plus(&option.places))
    });
    let loose_suited = table.loose.iter().any(|l| l.builds.contains(&target.build));
    outcome.why = Some(
        if suited.is_empty() && !(target.blend.is_some() && loose_suited) {
            held_or_nothing(table, target)
        } else if let Some(place) = full.and_then(|m| PlaceUse::PLANNED.get(m)) {
            let place = place.label();
            format!(
                "No room: the {place} are taken by what comes before it and by what is on its way."
            )
            .replace("the fridge are", "the fridge is")
        } else if elsewhere > 0 && idle.is_empty() {
            format!(
                "Of {} that suit it, {} went to wishes before it or are locked; the rest does not reach.",
                count(suited.len(), "piece", "pieces"),
                elsewhere
            )
        } else if target.blend.is_some() {
            "There is not enough lean to grind.".into()
        } else {
            format!(
                "All that suits it ({}) does not reach.",
                count(suited.len(), "piece", "pieces")
            )
        },
    );
    if full.is_none() {
        outcome.purchase = purchase(problem, target, met[t], in_pieces, &table.catalogue);
    }
    outcome
}

fn count(n: usize, one: &str, many: &str) -> String {
    format!("{n} {}", if n == 1 { one } else { many })
}

/// Nothing can become it now: because nothing suits, or because of what is missing or held back.
fn held_or_nothing(table: &Table, target: &Target) -> String {
    let Some(build) = table.catalogue.build(&target.build) else {
        return "There is no such product.".into();
    };
    let suits = table.supply.iter().filter(|s| {
        target.species.as_ref().is_none_or(|w| *w == s.species)
            && table
                .catalogue
                .species(&s.species)
                .and_then(|species| build.suit(species, &s.cut))
                .is_some_and(|x| x.score > 0)
    });
    match suits.count() {
        0 => "Nothing in the house suits it.".into(),
        n => format!(
            "{} would suit it, but cannot become it now: something is missing in the house, or a hold has not ended. Look at the piece for the reason.",
            count(n, "piece", "pieces")
        ),
    }
}

/// The classic cut to buy for an unmet wish, and how much of it.
fn purchase(
    problem: &Problem,
    target: &Target,
    met: f64,
    in_pieces: bool,
    catalogue: &Catalogue,
) -> Option<Purchase> {
    let build = catalogue.build(&target.build)?;
    let (species, cut) = classic(build, target.species.as_deref(), catalogue)?;
    let missing = target.want.amount() - met;
    let one_g = cut
        .share
        .map_or(1_500.0, |s| f64::midpoint(s.low, s.high) * 80_000.0)
        / f64::from(cut.count.unwrap_or(1));
    let yields = target
        .blend
        .as_ref()
        .map_or_else(|| build.usual_yield().0, |b| b.yields);
    let kept = if cut.bone_in && (build.wants.bone == Wanted::Off || build.is_ground()) {
        1.0 - cut.bone_fraction
    } else {
        1.0
    };
    let mass_g = if in_pieces {
        one_g * missing.ceil()
    } else {
        let lean_share = target.blend.as_ref().map_or(1.0, |b| {
            1.0 - (b.fat.low - cut.fat_fraction).max(0.0)
                / (b.bought_fat_fraction - cut.fat_fraction)
        });
        missing / yields / kept * lean_share
    };
    // With it there the wish is met; what else it would free is not promised.
    let fits = problem.capacity.holds(&places(build, Grams(mass_g)));
    Some(Purchase {
        species_name: species.name.clone(),
        cut_name: cut.name.clone(),
        mass_g,
        words: format!(
            "{} of {}, about {} kg, would meet it{}",
            capital(&cut.name),
            species.name,
            trim(mass_g / 1_000.0, 1),
            if fits {
                "."
            } else {
                ", once there is room for it."
            }
        ),
    })
}

/// The first cut a build is a classic of, whole animals' cuts before muscles out of them.
fn classic<'a>(
    build: &Build,
    only: Option<&str>,
    catalogue: &'a Catalogue,
) -> Option<(&'a Species, &'a Cut)> {
    let ground_lean = build.is_ground();
    let mut found: Vec<_> = catalogue
        .species
        .iter()
        .filter(|s| only.is_none_or(|o| o == s.key))
        .flat_map(|s| s.cuts.iter().map(move |c| (&**s, c)))
        .filter_map(|(s, c)| {
            let score = build.suit(s, &c.key)?.score;
            (score > 0).then_some((s, c, score))
        })
        .collect();
    found.sort_by_key(|(s, c, score)| {
        (
            std::cmp::Reverse(*score),
            ground_lean && c.fat_fraction > 0.30,
            c.share.is_none(),
            s.order,
        )
    });
    found.first().map(|(s, c, _)| (*s, *c))
}
