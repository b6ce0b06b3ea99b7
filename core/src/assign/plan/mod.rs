//! What there is to plan with, gathered from the ledger, and what a plan comes to.
//!
//! Supply is every piece that is not dosed yet, every cut that open animals still hold, and the
//! trim and fat that is kept. A plan says what each becomes; its summary is worked out anew from
//! the supply as it stands, so that two plans can be compared on any day.

mod outcome;
mod places;
mod question;
mod summary;
mod supply;

pub use outcome::{Purchase, WishOutcome};
pub use places::{PlaceTaken, places};
pub use question::BOUGHT_FAT;
pub use summary::{PlanSummary, ProductOut, summary};
pub use supply::{
    Locks, LooseSupply, Supply, SupplyOption, Table, still_to_come, table, usable, yield_of,
};

use super::suggest::{self, Allocation, Budget, Problem};
use super::wishes::WishList;
use crate::household::Household;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What a ground product is made of in a plan.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Block {
    /// The build.
    pub build: String,
    /// Grams of each loose part, by its key.
    pub loose: BTreeMap<String, f64>,
    /// Fat to buy (g).
    pub bought_fat_g: f64,
    /// All of it, whole pieces counted in (g).
    pub block_g: f64,
    /// Its share of fat.
    pub fat_fraction: f64,
}

/// A plan that is kept: what each supply becomes.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct KeptPlan {
    /// What it is called.
    pub name: String,
    /// Supply to build.
    pub choices: BTreeMap<String, String>,
    /// Ground products.
    #[serde(default)]
    pub blocks: Vec<Block>,
}

/// Locks and kept plans, as one list.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Plans {
    /// Choices made by hand.
    #[serde(default)]
    pub locks: Locks,
    /// Kept plans, the newest last.
    #[serde(default)]
    pub kept: Vec<KeptPlan>,
}

/// What one supply becomes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SuggestedChoice {
    /// The supply.
    pub key: String,
    /// The build.
    pub build: String,
    /// As it is called.
    pub name: String,
    /// The wish it goes to, if it does.
    pub wish: Option<u32>,
    /// Why it suits.
    pub reason: String,
    /// What has to be done first.
    pub first: Vec<String>,
}

/// What was found.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Suggestion {
    /// What each supply becomes; what is not named stays free.
    pub choices: Vec<SuggestedChoice>,
    /// Ground products.
    pub blocks: Vec<Block>,
    /// How each wish fares, in their order.
    pub wishes: Vec<WishOutcome>,
    /// Supply that no wish needs.
    pub free: Vec<String>,
    /// True when it was proved that nothing is better.
    pub proved: bool,
    /// What it comes to.
    pub summary: PlanSummary,
}

impl Suggestion {
    /// The suggestion as a plan that has no name yet.
    #[must_use]
    pub fn plan(&self) -> KeptPlan {
        unnamed(&self.choices, &self.blocks)
    }
}

fn unnamed(choices: &[SuggestedChoice], blocks: &[Block]) -> KeptPlan {
    KeptPlan {
        name: String::new(),
        choices: choices
            .iter()
            .map(|c| (c.key.clone(), c.build.clone()))
            .collect(),
        blocks: blocks.to_vec(),
    }
}

/// Finds the best plan for the wishes.
#[must_use]
pub fn suggestion(
    table: &Table,
    wishes: &WishList,
    home: &Household,
    now: Timestamp,
    budget: Budget,
) -> Suggestion {
    let problem = table.problem(wishes, now, home);
    let found = suggest::suggest(&problem, budget);
    let allocation = &found.allocation;
    let mut choices = Vec::new();
    let mut free = Vec::new();
    for (supply, choice) in table.supply.iter().zip(&allocation.choices) {
        let Some(choice) = choice else {
            free.push(supply.key.clone());
            continue;
        };
        let option = &supply.options[choice.option];
        choices.push(SuggestedChoice {
            key: supply.key.clone(),
            build: option.build.clone(),
            name: option.name.clone(),
            wish: choice.target.map(|t| problem.targets[t].wish),
            reason: option.reason.clone(),
            first: option.first.clone(),
        });
    }
    let blocks = blocks(table, &problem, allocation);
    let outcomes = problem
        .targets
        .iter()
        .enumerate()
        .map(|(t, _)| outcome::outcome(table, &problem, allocation, &found.met, t))
        .collect();
    Suggestion {
        summary: summary(table, &unnamed(&choices, &blocks), home),
        choices,
        blocks,
        wishes: outcomes,
        free,
        proved: found.proved,
    }
}

fn blocks(table: &Table, problem: &Problem, allocation: &Allocation) -> Vec<Block> {
    let mut blocks: Vec<Block> = Vec::new();
    for (t, target) in problem.targets.iter().enumerate() {
        let (mass, fat) = problem.block(allocation, t);
        if mass < 1.0 {
            continue;
        }
        let loose = table
            .loose
            .iter()
            .zip(&allocation.added[t].loose_g)
            .filter(|(_, g)| **g >= 0.5)
            .map(|(l, g)| (l.key.clone(), *g))
            .collect();
        blocks.push(Block {
            build: target.build.clone(),
            loose,
            bought_fat_g: allocation.added[t].bought_g,
            block_g: mass,
            fat_fraction: fat / mass,
        });
    }
    blocks
}

#[cfg(test)]
mod tests;
