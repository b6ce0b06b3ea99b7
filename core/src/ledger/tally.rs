//! Adding up: where every gram of a lot went, what each step left, what a kilogram cost.

use super::state::{Point, Stage, State};
use super::{Account, Entry, word};
use crate::catalogue::meats::NO_MEAT;
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::ledger::facts::ground::GroundFrom;
use crate::piece::Taken;
use crate::units::Milligrams;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
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
/// what is still on its way ends in a node of its own. What went there and came back (water that turned out to be a casing,
/// trim that was ground in again) is taken off both ways, so that nothing runs in a circle.
#[must_use]
pub fn flow(state: &State, live: &[Arc<Entry>]) -> Vec<Link> {
    let mut links: BTreeMap<(Node, Node), i64> = BTreeMap::new();
    let mut held: BTreeMap<Node, i64> = BTreeMap::new();
    for entry in live {
        let mut net: BTreeMap<Node, i64> = BTreeMap::new();
        let meat = brought_meat(&entry.act, state);
        for posting in &entry.postings {
            if posting.account == Account::Outside {
                continue;
            }
            let mut node = node(&posting.account, state);
            if matches!(&posting.account, Account::Material(name) if meat.contains(name.as_str())) {
                node.name = MEAT.into();
            }
            *net.entry(node).or_default() += posting.mass.0;
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
    without_circles(&mut links);
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

/// Names what was ground in from elsewhere and is meat.
pub const MEAT: &str = "meat";

/// What an act grinds in from elsewhere that is meat, by its names.
fn brought_meat<'a>(act: &'a Act, state: &State) -> BTreeSet<&'a str> {
    let Act::Ground(ground) = act else {
        return BTreeSet::new();
    };
    let added = ground.sources.iter().filter_map(|s| match s {
        GroundFrom::Added {
            name,
            given_by,
            species,
            ..
        } => {
            let meat = given_by.is_some() || is_meat(species.as_deref(), name, state);
            meat.then_some(name.trim())
        }
        GroundFrom::Piece { .. } | GroundFrom::Kept { .. } => None,
    });
    added.collect()
}

/// Takes off what runs in a circle, a whole circle at a time: what goes into each node less what leaves it stays the same.
fn without_circles<N: Ord + Clone>(links: &mut BTreeMap<(N, N), i64>) {
    links.retain(|(from, to), mass| *mass > 0 && from != to);
    while let Some(circle) = circle(links) {
        let least = circle.iter().filter_map(|edge| links.get(edge)).min();
        let Some(least) = least.copied() else { return };
        for edge in circle {
            if let Some(mass) = links.get_mut(&edge) {
                *mass -= least;
            }
        }
        links.retain(|_, mass| *mass > 0);
    }
}

/// The links of one circle; none where there is none.
fn circle<N: Ord + Clone>(links: &BTreeMap<(N, N), i64>) -> Option<Vec<(N, N)>> {
    let mut over: BTreeSet<&N> = BTreeSet::new();
    let starts: BTreeSet<&N> = links.keys().map(|(from, _)| from).collect();
    for start in starts {
        // The way here from the start, each with what is still to be tried from it.
        let next = |from: &N| -> Vec<&N> {
            let of = links.keys().filter(|(f, _)| f == from);
            of.map(|(_, to)| to).collect()
        };
        let mut way: Vec<(&N, Vec<&N>)> = vec![(start, next(start))];
        while let Some((here, to_try)) = way.last_mut() {
            let Some(to) = to_try.pop() else {
                over.insert(*here);
                way.pop();
                continue;
            };
            if let Some(at) = way.iter().position(|(n, _)| *n == to) {
                let mut round: Vec<&N> = way[at..].iter().map(|(n, _)| *n).collect();
                round.push(to);
                let edges = round.windows(2).map(|w| (w[0].clone(), w[1].clone()));
                return Some(edges.collect());
            }
            if !over.contains(to) {
                way.push((to, next(to)));
            }
        }
    }
    None
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

/// The meat that a lot's packs can come from.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct MeatOf {
    /// What came in.
    pub received: Milligrams,
    /// What of it was given to other lots.
    pub given: Milligrams,
    /// What was ground in from elsewhere: given by other lots, or bought.
    pub taken_in: Milligrams,
}

impl MeatOf {
    /// All of it.
    #[must_use]
    pub fn all(self) -> Milligrams {
        self.received - self.given + self.taken_in
    }
}

/// What the packs of a lot can come from.
#[must_use]
pub fn meat_of(state: &State) -> MeatOf {
    let taken = state.pieces.values().flat_map(|p| &p.taken);
    MeatOf {
        received: state.received,
        given: state.given.values().copied().sum(),
        taken_in: taken
            .filter(|t| is_foreign_meat(t, state))
            .map(|t| t.mass)
            .sum(),
    }
}

/// True for meat or fat that is not of this lot; what it kept itself came in with it.
fn is_foreign_meat(taken: &Taken, state: &State) -> bool {
    let kept = taken.lot.is_none() && taken.kind.is_some();
    !kept && (taken.lot.is_some() || is_meat(taken.species.as_deref(), &taken.name, state))
}

/// True for what is said or named to be of an animal.
fn is_meat(species: Option<&str>, name: &str, state: &State) -> bool {
    let named = || state.catalogue().meat_by_name(name);
    let key = species.map(str::to_string).or_else(named);
    key.is_some_and(|key| key != NO_MEAT)
}

/// What a kilogram in packs has cost, in hundredths of the currency: what was paid for its meat over packed weight. Meat that
/// was given to another lot takes its part of the price along (`price_of` a lot is what it paid, and what came in for that).
///
/// None before anything is packed or when nothing was paid. While pieces are still on their way
/// the cost of what is not packed yet is left out, shared by green weight.
#[must_use]
pub fn cost_cents_per_kg(
    state: &State,
    price_of: impl Fn(LotId) -> Option<(i64, Milligrams)>,
) -> Option<f64> {
    let meat = meat_of(state);
    let paid = state.lot.as_ref()?.received.paid_cents().unwrap_or(0) as f64;
    let kept = (meat.received - meat.given).grams() / meat.received.grams().max(f64::MIN_POSITIVE);
    let taken = state.pieces.values().flat_map(|p| &p.taken);
    let brought: f64 = taken
        .filter_map(|t| {
            let (cents, received) = price_of(t.lot?)?;
            Some(cents as f64 * t.mass.grams() / received.grams().max(f64::MIN_POSITIVE))
        })
        .sum();
    let cost = paid * kept + brought;
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::Season;
    use jiff::SignedDuration;
    use proptest::prelude::*;
    use serde_json::{Value, json};

    fn left(links: &BTreeMap<(u8, u8), i64>) -> BTreeMap<u8, i64> {
        let mut sums = BTreeMap::new();
        for ((from, to), mass) in links {
            *sums.entry(*from).or_default() -= mass;
            *sums.entry(*to).or_default() += mass;
        }
        sums.retain(|_, mass| *mass != 0);
        sums
    }

    proptest! {
        #[test]
        fn nothing_runs_in_a_circle_and_every_node_keeps_what_is_left_in_it(
            links in prop::collection::btree_map((0_u8..9, 0_u8..9), 1_i64..1_000, 0..40),
        ) {
            let mut without = links.clone();
            without_circles(&mut without);
            prop_assert_eq!(circle(&without), None);
            prop_assert_eq!(left(&without), left(&links));
            for (edge, mass) in &without {
                prop_assert!(*mass > 0 && *mass <= links[edge], "{edge:?}");
            }
        }
    }

    fn did(season: &mut Season, acts: &[Value]) {
        for act in acts {
            let said = season.does(act, true);
            assert!(said.is_ok(), "{act}: {said:?}");
        }
    }

    /// A hog that was paid for, and a deer that takes some of its trim into a loaf.
    fn two_animals() -> Season {
        let mut season = Season::empty();
        did(
            &mut season,
            &[
                json!({"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "10 kg", "cost": "100"}),
                json!({"act": "received", "name": "doe", "species": "deer", "origin": "harvested", "known": "carcass", "reading": "20 kg"}),
                json!({"act": "hold_answered", "lot": 2, "kind": "wasting_test", "answer": "clear", "note": "T-4"}),
                json!({"act": "byproduct_weighed", "lot": 1, "kind": "trim", "reading": "4 kg"}),
                json!({"act": "piece_weighed", "lot": 2, "cut": "leg_muscle", "reading": "3 kg", "thickness": "60 mm"}),
                json!({"act": "ground", "lot": 2, "reading": "4 kg", "thickness": "60 mm", "sources": [
                {"from": "piece", "piece": 1}, {"from": "kept", "lot": 1, "kind": "trim", "reading": "1 kg"}]}),
                json!({"act": "assigned", "piece": 2, "build": "fresh"}),
                json!({"act": "packed", "piece": 2, "packs": [{"reading": "4 kg", "place": "freezer"}], "finished": true}),
            ],
        );
        season
    }

    #[test]
    fn what_is_given_takes_its_price_along_and_is_meat_where_it_comes_to() {
        let season = two_animals();
        let state = |id: i64| &season.book.lot(LotId(id)).unwrap().state;
        let [hog, doe] = [meat_of(state(1)), meat_of(state(2))];
        let kg = |kg: f64| Milligrams::from_grams(kg * 1_000.0);
        assert_eq!(
            (hog.given, hog.taken_in, hog.all()),
            (kg(1.0), kg(0.0), kg(9.0))
        );
        assert_eq!(
            (doe.given, doe.taken_in, doe.all()),
            (kg(0.0), kg(1.0), kg(21.0))
        );
        let price_of = |id: LotId| {
            let lot = state(id.0);
            let received = &lot.lot.as_ref()?.received;
            Some((received.paid_cents()?, lot.received))
        };
        // A tenth of a hog of 100.00 in four kilograms of packs, in proportion to what is finished of all that came in.
        let cost = cost_cents_per_kg(state(2), price_of).unwrap();
        let finished = 4.0 / 21.0;
        assert!((cost - 1_000.0 * finished / 4.0).abs() < 1e-6, "{cost}");
        assert_eq!(
            cost_cents_per_kg(state(1), price_of),
            None,
            "nothing of it is packed"
        );
        let links = flow(state(2), &season.book.lot(LotId(2)).unwrap().in_order());
        let meat = links.iter().find(|l| l.from.name == MEAT).unwrap();
        assert_eq!(
            (meat.from.kind, meat.mass_mg),
            (NodeKind::Material, kg(1.0))
        );
    }

    #[test]
    fn the_picture_of_a_stripped_piece_has_no_circle_and_loses_no_gram() {
        let mut season = Season::empty();
        did(
            &mut season,
            &[
                json!({"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "90 kg"}),
                json!({"act": "piece_weighed", "lot": 1, "cut": "neck_muscle", "reading": "1600 g", "thickness": "60 mm"}),
                json!({"act": "freezer_read", "lot": 1, "inside": "-20 C"}),
            ],
        );
        season.now += SignedDuration::from_hours(24 * 32);
        did(
            &mut season,
            &[
                json!({"act": "freezer_read", "lot": 1, "inside": "-20 C"}),
                json!({"act": "assigned", "piece": 1, "build": "muscle-cased"}),
                json!({"act": "dosed", "pieces": [1]}),
            ],
        );
        season.now += SignedDuration::from_hours(24 * 25);
        did(
            &mut season,
            &[
                json!({"act": "out_of_cure", "piece": 1, "reading": "1560 g"}),
                json!({"act": "hung", "piece": 1, "reading": "1700 g", "parts": [{"name": "cloth", "reading": "140 g"}]}),
            ],
        );
        season.now += SignedDuration::from_hours(24 * 40);
        did(
            &mut season,
            &[
                json!({"act": "taken_down", "piece": 1, "reading": "1130 g"}),
                json!({"act": "stripped", "piece": 1, "parts": [{"name": "cloth", "reading": "60 g"}]}),
            ],
        );
        let book = season.book.lot(LotId(1)).unwrap();
        let links = flow(&book.state, &book.in_order());
        let as_map = links
            .iter()
            .map(|l| ((l.from.clone(), l.to.clone()), l.mass_mg.0));
        assert_eq!(circle(&as_map.collect()), None, "{links:?}");
        let into_rest: i64 = links
            .iter()
            .filter(|l| l.to.kind == NodeKind::Rest)
            .map(|l| l.mass_mg.0)
            .sum();
        let open = book.state.left
            + book
                .state
                .pieces
                .values()
                .map(|p| p.mass)
                .sum::<Milligrams>();
        assert_eq!(Milligrams(into_rest), open);
    }
}
