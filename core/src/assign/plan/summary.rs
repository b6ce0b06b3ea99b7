//! What a plan comes to: packs, kilograms, days, money and places, for comparing two.

use super::KeptPlan;
use super::places::{places, places_per_gram};
use super::supply::{Supply, SupplyOption, Table, yield_of};
use crate::assign::shopping::ShoppingList;
use crate::assign::suggest::Places;
use crate::assign::thickness_limit;
use crate::builds::{Build, Wanted};
use crate::catalogue::Catalogue;
use crate::cure::days::{Lying, days};
use crate::dose::OwnTime;
use crate::hang;
use crate::household::Household;
use crate::place::PlaceUse;
use crate::shape::Shape;
use crate::units::{Fraction, Grams, Millimetres};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// So much of one product.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ProductOut {
    /// The build.
    pub build: String,
    /// As it is called.
    pub name: String,
    /// Pieces that become it.
    pub pieces: usize,
    /// Finished product (g).
    pub gives_g: f64,
    /// Packs of the household's usual weight.
    pub packs: u32,
    /// Days until all of it is ready.
    pub days: u32,
}

/// What a plan comes to; for comparing two.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlanSummary {
    /// Products, the heaviest first.
    pub products: Vec<ProductOut>,
    /// Finished product in all (g).
    pub gives_g: f64,
    /// Packs in all.
    pub packs: u32,
    /// Days until the last is ready.
    pub days: u32,
    /// Meat that is used (g).
    pub used_g: f64,
    /// What it takes of each use of places, in the order of the table's.
    pub places: Vec<f64>,
    /// To be smoked (kg).
    pub smoke_kg: f64,
    /// Runs of the smoker, when its load is known.
    pub smoke_runs: Option<u32>,
    /// Fat to buy (g).
    pub bought_fat_g: f64,
    /// What has to be bought, in hundredths, as far as prices are known.
    pub buy_cents: i64,
    /// Things to buy whose price is not known.
    pub unpriced: usize,
    /// Choices whose supply is gone since the plan was kept.
    pub gone: usize,
}

impl PlanSummary {
    /// With what its shopping list costs.
    #[must_use]
    pub fn priced(mut self, list: &ShoppingList) -> Self {
        self.buy_cents = list.cost_cents;
        self.unpriced = list.unpriced;
        self
    }
}

/// What a plan comes to as the supply stands now; prices are added by the shopping list.
#[must_use]
pub fn summary(table: &Table, plan: &KeptPlan, home: &Household) -> PlanSummary {
    let mut products: BTreeMap<String, ProductOut> = BTreeMap::new();
    let mut sum = PlanSummary::default();
    let mut taken = Places::default();
    for (key, build_key) in &plan.choices {
        let chosen = table.supply(key).and_then(|s| {
            let option = s.options.iter().find(|o| o.build == *build_key)?;
            Some((s, option, table.catalogue.build(build_key)?))
        });
        let Some((supply, option, build)) = chosen else {
            sum.gone += 1;
            continue;
        };
        let product = products
            .entry(build_key.clone())
            .or_insert_with(|| product_of(build));
        product.pieces += 1;
        product.days = product.days.max(days_until_ready(
            build,
            supply,
            option,
            home,
            &table.catalogue,
        ));
        if !build.is_ground() {
            product.gives_g += option.gives_g;
            sum.used_g += option.usable_g;
            taken = taken.plus(&places(build, Grams(option.usable_g)));
            if build.is_smoked() {
                sum.smoke_kg += option.usable_g / 1_000.0;
            }
        }
    }
    for block in &plan.blocks {
        let Some(build) = table.catalogue.build(&block.build) else {
            continue;
        };
        let product = products
            .entry(block.build.clone())
            .or_insert_with(|| product_of(build));
        product.gives_g += block.block_g * yield_of(build, &table.yields).0;
        product.days = product.days.max(ground_days(build));
        sum.used_g += block.block_g - block.bought_fat_g;
        sum.bought_fat_g += block.bought_fat_g;
        taken = taken.plus(&places_per_gram(build).times(block.block_g));
        if !build.hangs() {
            sum.smoke_kg += block.block_g / 1_000.0;
        }
    }
    for product in products.values_mut() {
        product.packs = (product.gives_g / home.pack_g - 1e-9).ceil().max(0.0) as u32;
        sum.packs += product.packs;
        sum.gives_g += product.gives_g;
        sum.days = sum.days.max(product.days);
    }
    sum.products = products.into_values().collect();
    sum.products.sort_by(|a, b| b.gives_g.total_cmp(&a.gives_g));
    sum.places = (0..PlaceUse::PLANNED.len()).map(|m| taken.of(m)).collect();
    sum.smoke_runs = home
        .equipment
        .as_ref()
        .and_then(|e| e.largest_for(PlaceUse::Smoke))
        .map(|s| (sum.smoke_kg / s.holds - 1e-9).ceil().max(0.0) as u32);
    sum
}

fn product_of(build: &Build) -> ProductOut {
    ProductOut {
        build: build.key.clone(),
        name: build.name.clone(),
        pieces: 0,
        gives_g: 0.0,
        packs: 0,
        days: 0,
    }
}

/// Days from now until a piece could be packed: its cure, its smoke or its hanging.
fn days_until_ready(
    build: &Build,
    supply: &Supply,
    option: &SupplyOption,
    home: &Household,
    catalogue: &Catalogue,
) -> u32 {
    if build.is_ground() {
        return ground_days(build);
    }
    let cut = catalogue
        .species(&supply.species)
        .and_then(|s| s.cut(&supply.cut));
    let usual = cut.map_or(45.0, |c| {
        f64::midpoint(c.thickness_mm.low, c.thickness_mm.high)
    });
    // What is thicker than its limit is split first.
    let limit =
        thickness_limit(build, home.equipment.as_ref()).map_or(f64::INFINITY, Millimetres::get);
    let thick = supply.thickness_mm.unwrap_or(usual);
    let thickness_mm = thick / (thick / limit).ceil().max(1.0);
    let school = catalogue.school_fact(home.school_for(&build.key));
    let lying = Lying {
        pumped: false,
        time: &OwnTime::default(),
        build,
        thickness: Millimetres(thickness_mm),
        mass: Grams(option.usable_g),
        shape: &Shape {
            skin_on: supply.skin_on && build.wants.skin != Wanted::Off,
            fat_cap: supply.fat_cap,
            ..Shape::default()
        },
    };
    let cure = days(&lying, school.as_ref(), &catalogue.schools, home.units).map_or(0, |d| d.days);
    let lean = 1.0 - cut.map_or(0.0, |c| c.fat_fraction);
    cure + after_cure_days(build, thickness_mm, lean)
}

fn ground_days(build: &Build) -> u32 {
    let cure = build.cure.as_ref().and_then(|c| c.fixed_days).unwrap_or(1);
    let thick = build.wrap.diameter_mm.unwrap_or(60.0);
    cure + after_cure_days(build, thick, 0.7)
}

fn after_cure_days(build: &Build, thickness_mm: f64, lean: f64) -> u32 {
    // A night to dry, the smoke, a night to firm up.
    let smoke = if build.is_smoked() { 2 } else { 0 };
    let hang = build.hang.as_ref().map_or(0, |plan| {
        hang::usual_days(
            Millimetres(thickness_mm),
            Fraction(plan.loss_fraction),
            Fraction(lean),
        )
        .unwrap_or(0)
    });
    smoke + hang
}
