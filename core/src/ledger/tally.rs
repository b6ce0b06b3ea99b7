//! Adding up: where every gram of a lot went, what each step left, what a kilogram cost.

use super::state::{Point, Stage, State};
use super::{Account, Entry, word};
use crate::ledger::facts::Act;
use crate::units::Milligrams;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;

/// What a node of the flow stands for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum NodeKind {
    /// What came in.
    Received,
    /// Cure, salt, water and whatever else was added.
    Material,
    /// Pieces of one product on their way.
    Product,
    /// Finished packs of one product.
    Packed,
    /// Kept beside the pieces.
    Byproduct,
    /// Nobody keeps it.
    Loss,
    /// Not finished: still to weigh out, or on its way.
    Rest,
}

/// A place in the flow, by kind and name.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Node {
    /// What it stands for.
    pub kind: NodeKind,
    /// The build, by-product or loss.
    pub name: String,
}

/// So much from one node to another.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Link {
    /// From here.
    pub from: Node,
    /// To there.
    pub to: Node,
    /// This much.
    pub mass_mg: Milligrams,
}

/// Names the pieces that have no product yet.
pub const UNASSIGNED: &str = "unassigned";

/// The flow of a lot from what came in to packs, by-products and losses.
///
/// Every posting of every live entry is in it, so what flows into a node flows out of it again;
/// what is still on its way ends in a node of its own.
#[must_use]
pub fn flow(state: &State, live: &[Arc<Entry>]) -> Vec<Link> {
    let mut links: BTreeMap<(Node, Node), i64> = BTreeMap::new();
    let mut held: BTreeMap<Node, i64> = BTreeMap::new();
    for entry in live {
        let mut net: BTreeMap<Node, i64> = BTreeMap::new();
        for posting in &entry.postings {
            if posting.account != Account::Outside {
                *net.entry(node(&posting.account, state)).or_default() += posting.mass.0;
            }
        }
        for (node, mass) in &net {
            *held.entry(node.clone()).or_default() += mass;
        }
        if matches!(entry.act, Act::Received(_)) {
            continue;
        }
        let gives: Vec<_> = net.iter().filter(|(_, m)| **m < 0).collect();
        let takes: Vec<_> = net.iter().filter(|(_, m)| **m > 0).collect();
        let weights: Vec<_> = takes.iter().map(|(_, m)| Milligrams(**m)).collect();
        for (from, mass) in gives {
            for ((to, _), part) in takes.iter().zip(Milligrams(-mass).share_out(&weights)) {
                *links.entry((from.clone(), (*to).clone())).or_default() += part.0;
            }
        }
    }
    for (node, mass) in held {
        let rest = match node.kind {
            NodeKind::Received => "to_weigh",
            NodeKind::Product => "on_its_way",
            NodeKind::Material
            | NodeKind::Packed
            | NodeKind::Byproduct
            | NodeKind::Loss
            | NodeKind::Rest => continue,
        };
        let to = Node {
            kind: NodeKind::Rest,
            name: rest.into(),
        };
        links.insert((node, to), mass);
    }
    links
        .into_iter()
        .filter(|(_, mass)| *mass > 0)
        .map(|((from, to), mass)| Link {
            from,
            to,
            mass_mg: Milligrams(mass),
        })
        .collect()
}

fn node(account: &Account, state: &State) -> Node {
    let product = |id| {
        state
            .pieces
            .get(id)
            .and_then(|p| p.build_key().map(str::to_string))
            .unwrap_or_else(|| UNASSIGNED.into())
    };
    let (kind, name) = match account {
        Account::Outside | Account::Lot => (NodeKind::Received, String::new()),
        Account::Piece(id) | Account::InCure(id) => (NodeKind::Product, product(id)),
        Account::Pack(id) => (
            NodeKind::Packed,
            state
                .packs
                .get(id)
                .map_or(String::new(), |p| product(&p.piece)),
        ),
        Account::Given(_) => (NodeKind::Byproduct, "given".into()),
        Account::Byproduct(kind) => (NodeKind::Byproduct, word(kind)),
        Account::Material(_) => (NodeKind::Material, String::new()),
        Account::Loss(kind) => (NodeKind::Loss, word(kind)),
    };
    Node { kind, name }
}

/// What one product gave, over all its pieces.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ProductTally {
    /// The build, or `unassigned`.
    pub build: String,
    /// Pieces in all; parts count, what was cut up does not.
    pub pieces: usize,
    /// Of these packed to the last gram.
    pub finished: usize,
    /// Green weight of all.
    pub green_mg: Milligrams,
    /// Green weight of the finished ones.
    pub finished_green_mg: Milligrams,
    /// Packs of the finished ones.
    pub finished_packed_mg: Milligrams,
    /// All packs.
    pub packed_mg: Milligrams,
    /// How many packs.
    pub packs: usize,
    /// Weight at each point of the way, over the pieces that came that far.
    pub steps: Vec<StepTally>,
}

/// What the pieces weighed that came to one point, and what they weighed before.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StepTally {
    /// The point.
    pub point: Point,
    /// How many pieces came here.
    pub pieces: usize,
    /// Their green weight.
    pub green_mg: Milligrams,
    /// Their weight at the point before.
    pub before_mg: Milligrams,
    /// Their weight here.
    pub here_mg: Milligrams,
}

/// Adds up the pieces of several lots by product, in order of the product's name.
#[must_use]
pub fn by_product<'a>(states: impl IntoIterator<Item = &'a State>) -> Vec<ProductTally> {
    let mut found: BTreeMap<String, ProductTally> = BTreeMap::new();
    for state in states {
        for piece in state.pieces.values().filter(|p| !p.went_into_others()) {
            let build = piece.build_key().unwrap_or(UNASSIGNED).to_string();
            let tally = found.entry(build.clone()).or_insert_with(|| ProductTally {
                build,
                ..ProductTally::default()
            });
            let packed: Milligrams = piece
                .packs
                .iter()
                .filter_map(|id| state.packs.get(id))
                .map(|p| p.mass)
                .sum();
            tally.pieces += 1;
            tally.green_mg += piece.green;
            tally.packed_mg += packed;
            tally.packs += piece.packs.len();
            if piece.ended == Some(Stage::Packed) {
                tally.finished += 1;
                tally.finished_green_mg += piece.green;
                tally.finished_packed_mg += packed;
            }
            add_steps(tally, &piece.weighings, piece.green);
        }
    }
    found.into_values().collect()
}

fn add_steps(tally: &mut ProductTally, weighings: &[super::state::Weighing], green: Milligrams) {
    for pair in weighings.windows(2) {
        let (before, here) = (&pair[0], &pair[1]);
        if here.point == Point::WeighedIn || here.point == Point::Green {
            continue;
        }
        // From the hook the step begins where the piece was hung, not at the last weigh-in.
        let before = if here.point == Point::TakenDown {
            weighings
                .iter()
                .rev()
                .find(|w| w.point == Point::Hung)
                .unwrap_or(before)
        } else {
            before
        };
        let at = tally.steps.iter().position(|s| s.point == here.point);
        let at = at.unwrap_or_else(|| {
            tally.steps.push(StepTally {
                point: here.point,
                pieces: 0,
                green_mg: Milligrams::ZERO,
                before_mg: Milligrams::ZERO,
                here_mg: Milligrams::ZERO,
            });
            tally.steps.len() - 1
        });
        let step = &mut tally.steps[at];
        step.pieces += 1;
        step.green_mg += green;
        step.before_mg += before.net;
        step.here_mg += here.net;
    }
}

/// What a kilogram in packs has cost, in hundredths of the currency: purchase over packed weight.
///
/// None before anything is packed or when nothing was paid. While pieces are still on their way
/// the cost of what is not packed yet is left out, shared by green weight.
#[must_use]
pub fn cost_cents_per_kg(state: &State) -> Option<f64> {
    let cost = state.lot.as_ref()?.received.paid_cents()? as f64;
    let products = by_product([state]);
    let packed: Milligrams = products.iter().map(|p| p.finished_packed_mg).sum();
    let finished: Milligrams = products.iter().map(|p| p.finished_green_mg).sum();
    let open = state.left + products.iter().map(|p| p.green_mg).sum::<Milligrams>()
        - discarded_green(state);
    if !packed.is_some() || cost <= 0.0 || open.0 <= 0 {
        return None;
    }
    Some(cost * (finished.grams() / open.grams()) / (packed.grams() / 1_000.0))
}

fn discarded_green(state: &State) -> Milligrams {
    state
        .pieces
        .values()
        .filter(|p| p.ended == Some(Stage::Discarded))
        .map(|p| p.green)
        .sum()
}
