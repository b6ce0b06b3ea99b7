//! A cut sheet on paper: for one's own table with what each cut becomes and how it is cut, and
//! one to hand to a butcher, in a butcher's words.

use super::plan::{KeptPlan, Table};
use super::slabs::{SlabAsk, SlabWay, slab_plans};
use crate::builds::{self, Wanted};
use crate::household::Household;
use crate::ledger::book::LotBook;
use crate::shape::size::Size;
use crate::units::show::{length, mass};
use crate::units::{Grams, Millimetres};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A way of cutting that was settled on, or the usual one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SettledChoice {
    /// The choice.
    pub choice: String,
    /// The question.
    pub name: String,
    /// The option.
    pub option: String,
    /// As it is called.
    pub option_name: String,
    /// What it gives and what it costs.
    pub words: String,
    /// What to tell a butcher.
    pub order: String,
    /// False while nobody has settled it and the usual way stands.
    pub settled: bool,
}

/// Cuts of one kind that become the same.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CutLine {
    /// The cut.
    pub cut: String,
    /// As it is called.
    pub cut_name: String,
    /// How many.
    pub count: usize,
    /// What they should weigh together (g).
    pub mass_g: f64,
    /// What they become; none when nothing was planned.
    pub product: Option<String>,
    /// What to do at the table.
    pub table: Vec<String>,
    /// What to tell a butcher.
    pub order: String,
}

/// Everything about how one animal is cut.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CutSheet {
    /// The lot's tag.
    pub tag: String,
    /// What people call it.
    pub name: String,
    /// As its species is called.
    pub species_name: String,
    /// What came in (g).
    pub received_g: f64,
    /// Ways of cutting, in the order of the work.
    pub choices: Vec<SettledChoice>,
    /// Cuts, with what they become.
    pub lines: Vec<CutLine>,
    /// What a butcher should keep apart.
    pub keep: Vec<String>,
    /// What to mind.
    pub mind: Vec<String>,
}

/// The ways of cutting of a lot: settled on, or usual.
#[must_use]
pub fn settled(lot: &LotBook) -> Vec<SettledChoice> {
    // A single bought cut is no animal to be cut up.
    let Some(came) = lot.state.lot.as_ref().filter(|l| l.received.cut.is_none()) else {
        return Vec::new();
    };
    lot.state
        .catalogue()
        .choices(came.species())
        .map(|choice| {
            let said = lot.state.facts.cutting.get(&choice.key);
            let option = said
                .and_then(|key| choice.options.iter().find(|o| o.key == *key))
                .unwrap_or(&choice.options[0]);
            SettledChoice {
                choice: choice.key.clone(),
                name: choice.name.clone(),
                option: option.key.clone(),
                option_name: option.name.clone(),
                words: option.words.clone(),
                order: option.order.clone(),
                settled: said.is_some(),
            }
        })
        .collect()
}

/// The cut sheet of a lot by a plan; pieces cut already stand on it too, until they are dosed.
#[must_use]
pub fn cut_sheet(
    lot: &LotBook,
    table: &Table,
    plan: &KeptPlan,
    home: &Household,
) -> Option<CutSheet> {
    let came = lot.state.lot.as_ref()?;
    let species = came.species();
    let mut lines: BTreeMap<(String, Option<String>), CutLine> = BTreeMap::new();
    for supply in table.supply.iter().filter(|s| s.lot == lot.state.id) {
        let build_key = plan
            .choices
            .get(&supply.key)
            .cloned()
            .or_else(|| supply.locked.clone());
        let build = build_key
            .as_deref()
            .and_then(|key| lot.state.catalogue().build(key));
        let cut = species.cut(&supply.cut)?;
        let line = lines
            .entry((supply.cut.clone(), build_key.clone()))
            .or_insert_with(|| CutLine {
                cut: supply.cut.clone(),
                cut_name: supply.cut_name.clone(),
                count: 0,
                mass_g: 0.0,
                product: build.map(|b| b.name.clone()),
                table: Vec::new(),
                order: String::new(),
            });
        line.count += 1;
        line.mass_g += supply.mass_g;
        if line.count > 1 {
            continue;
        }
        let Some(build) = build else {
            line.order = format!("{} as it comes, wrapped and labelled.", cut.name);
            continue;
        };
        let mut orders = Vec::new();
        if cut.bone_in && (build.wants.bone == Wanted::Off || build.is_ground()) {
            orders.push("bone out".to_string());
        }
        if cut.skin_on && (build.wants.skin == Wanted::Off || build.is_ground()) {
            orders.push("skin off".to_string());
        }
        if build.is_ground() {
            orders.push("for grinding, not ground".to_string());
        } else {
            line.table = at_the_table(supply, cut, build, home);
            if let Some(limit) = super::thickness_limit(build, home.equipment.as_ref())
                && cut.thickness_mm.high > limit.0
                && !build.wrap.rolled
            {
                orders.push(format!(
                    "in pieces no thicker than {}",
                    length(limit, home.units.length)
                ));
            }
        }
        orders.push("in one piece, not sliced, unsalted".into());
        if build.is_ground() {
            orders.pop();
        }
        line.order = format!("{}: {}.", cut.name, orders.join(", "));
    }
    let order = |key: &str| species.cuts.iter().position(|c| c.key == key);
    let mut lines: Vec<_> = lines.into_values().collect();
    lines.sort_by_key(|l| order(&l.cut));
    let mut keep = vec!["Bones for stock, in a bag of their own.".to_string()];
    if species.fat_of_carcass.high > 0.08 {
        keep.push("Fat for rendering and grinding, in a bag of its own.".into());
    }
    keep.push("Trim, unground, in a bag of its own.".into());
    keep.push("Every package with its cut and its weight written on it.".into());
    Some(CutSheet {
        tag: came.received.tag.clone(),
        name: came.received.name.clone(),
        species_name: species.name.clone(),
        received_g: lot.state.received.grams(),
        choices: settled(lot),
        lines,
        keep,
        mind: came
            .holds()
            .map(|h| format!("{} {}", h.words, h.asks))
            .chain(
                species
                    .cautions
                    .iter()
                    .map(|c| format!("{} {}", c.message, c.asks)),
            )
            .collect(),
    })
}

fn at_the_table(
    supply: &super::plan::Supply,
    cut: &crate::animal::Cut,
    build: &builds::Build,
    home: &Household,
) -> Vec<String> {
    let usual = f64::midpoint(cut.thickness_mm.low, cut.thickness_mm.high);
    let usable = super::plan::usable(build, cut, cut.bone_in, Grams(supply.mass_g));
    let ask = SlabAsk {
        size: Size::estimate(
            usable,
            Millimetres(supply.thickness_mm.unwrap_or(usual)),
            cut,
        ),
        mass_g: usable.0,
        build: Some(build),
        equipment: home.equipment.as_ref(),
        may_open: !cut.flat,
        units: home.units,
    };
    let Ok(plans) = slab_plans(&ask) else {
        return Vec::new();
    };
    let Some(best) = plans.first() else {
        return Vec::new();
    };
    let mut words = Vec::new();
    if best.way == SlabWay::Split {
        words.push(format!(
            "{} slabs of about {}, {} thick.",
            best.slabs,
            mass(Grams(best.each_g), home.units.mass),
            length(
                Millimetres(best.each.thickness_mm.round()),
                home.units.length
            )
        ));
    }
    if best.way != SlabWay::AsItIs {
        words.extend(best.reasons.iter().cloned());
    }
    words
}
