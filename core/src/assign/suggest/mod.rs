//! Suggest: supply on one side, wishes on the other, and the best way to bring them together.
//!
//! Whole pieces stay whole. Wishes are met as far as possible in the order of the list, classic
//! uses before merely possible ones, with as little meat as does it. Hooks, tubs and the fridge
//! are not overfilled, locked choices stay, and what does not suit or is held back is never used.
//! [`fill`] is the simple way to do it; [`model`] looks for a better one and is never worse.
//! Nothing here knows where pieces and wishes come from; [`super::plan`] gathers them.

pub mod fill;
pub mod model;

use crate::animal::Range;
use std::time::{Duration, Instant};

/// A wish counts as met from this share on; the rest is rounding.
pub const MET: f64 = 0.995;

/// What a choice takes up while it is on its way.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Places {
    /// Hooks in the drying place.
    pub hooks: f64,
    /// Room in tubs and buckets (l).
    pub tub_l: f64,
    /// Room in the fridge (l).
    pub fridge_l: f64,
}

impl Places {
    /// Both together.
    #[must_use]
    pub fn plus(self, other: Self) -> Self {
        Self {
            hooks: self.hooks + other.hooks,
            tub_l: self.tub_l + other.tub_l,
            fridge_l: self.fridge_l + other.fridge_l,
        }
    }

    /// So many times as much.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        Self {
            hooks: self.hooks * factor,
            tub_l: self.tub_l * factor,
            fridge_l: self.fridge_l * factor,
        }
    }

    fn list(self) -> [f64; 3] {
        [self.hooks, self.tub_l, self.fridge_l]
    }
}

/// What is free; none where nothing was listed.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Capacity {
    /// Free hooks.
    pub hooks: Option<f64>,
    /// Free room in tubs (l).
    pub tub_l: Option<f64>,
    /// Free room in the fridge (l).
    pub fridge_l: Option<f64>,
}

impl Capacity {
    fn list(self) -> [Option<f64>; 3] {
        [self.hooks, self.tub_l, self.fridge_l]
    }

    /// True when so much fits in.
    #[must_use]
    pub fn holds(self, places: Places) -> bool {
        self.list()
            .into_iter()
            .zip(places.list())
            .all(|(most, takes)| most.is_none_or(|most| takes <= most + 1e-6))
    }

    /// The place that is too small for so much, in words.
    #[must_use]
    pub fn too_small(self, places: Places) -> Option<&'static str> {
        let names = ["hooks", "tubs", "fridge"];
        self.list()
            .into_iter()
            .zip(places.list())
            .zip(names)
            .find(|((most, takes), _)| most.is_some_and(|most| *takes > most + 1e-6))
            .map(|(_, name)| name)
    }
}

/// One thing a piece could become.
#[derive(Clone, Debug, PartialEq)]
pub struct UnitOption {
    /// The build.
    pub build: String,
    /// 2 classic, 1 works.
    pub score: u8,
    /// Finished product it would give (g); for a ground build what it brings into the block.
    pub gives_g: f64,
    /// Its share of fat, for ground builds.
    pub fat_fraction: f64,
    /// What it takes up.
    pub places: Places,
}

/// A piece, or a cut still to be cut; whole pieces stay whole.
#[derive(Clone, Debug, PartialEq)]
pub struct Unit {
    /// Names it.
    pub key: String,
    /// Its species.
    pub species: String,
    /// What it weighs (g).
    pub mass_g: f64,
    /// What it could become.
    pub options: Vec<UnitOption>,
    /// The option it is locked to.
    pub locked: Option<usize>,
}

/// Trim or fat that is kept loose, for grinding.
#[derive(Clone, Debug, PartialEq)]
pub struct Loose {
    /// Names it.
    pub key: String,
    /// What there is of it (g).
    pub mass_g: f64,
    /// Its share of fat.
    pub fat_fraction: f64,
    /// The ground builds it is good for.
    pub builds: Vec<String>,
}

/// How much is wished for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Want {
    /// Finished product (g).
    Mass(f64),
    /// Whole pieces.
    Pieces(f64),
}

impl Want {
    /// The number alone.
    #[must_use]
    pub const fn amount(self) -> f64 {
        match self {
            Self::Mass(n) | Self::Pieces(n) => n,
        }
    }
}

/// How a ground wish is blended.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Blend {
    /// Share of fat in the block.
    pub fat: Range,
    /// Finished product of the block.
    pub yields: f64,
    /// Share of fat in the fat that can be bought.
    pub bought_fat_fraction: f64,
    /// What a gram of block takes up.
    pub places_per_g: Places,
}

/// A wish, ready to be met; their order is their priority.
#[derive(Clone, Debug, PartialEq)]
pub struct Target {
    /// The wish's number.
    pub wish: u32,
    /// Its product.
    pub build: String,
    /// Only from this species.
    pub species: Option<String>,
    /// How much.
    pub want: Want,
    /// How it is blended, when it is ground.
    pub blend: Option<Blend>,
}

/// Supply, wishes and places.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Problem {
    /// Pieces and cuts.
    pub units: Vec<Unit>,
    /// Trim and fat.
    pub loose: Vec<Loose>,
    /// Wishes, the most important first.
    pub targets: Vec<Target>,
    /// What is free.
    pub capacity: Capacity,
}

/// What a unit is to become, and for which wish.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Choice {
    /// The option.
    pub option: usize,
    /// The target it goes to; none when a locked choice meets no wish.
    pub target: Option<usize>,
}

/// What goes into a ground wish beside whole pieces.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Added {
    /// Of each loose part (g).
    pub loose_g: Vec<f64>,
    /// Fat to buy (g).
    pub bought_g: f64,
}

impl Added {
    /// Nothing of any loose part, and no fat bought.
    #[must_use]
    pub fn nothing(problem: &Problem) -> Self {
        Self {
            loose_g: vec![0.0; problem.loose.len()],
            bought_g: 0.0,
        }
    }
}

/// One way to bring supply and wishes together.
#[derive(Clone, Debug, PartialEq)]
pub struct Allocation {
    /// For each unit.
    pub choices: Vec<Option<Choice>>,
    /// For each target.
    pub added: Vec<Added>,
}

/// How hard to look.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Budget {
    /// Branches to look at.
    pub nodes: u64,
    /// Seconds to look for at most.
    pub seconds: f64,
}

impl Default for Budget {
    /// Enough for a household's table, and an answer within a second.
    fn default() -> Self {
        Self {
            nodes: 6_000,
            seconds: 0.6,
        }
    }
}

impl Problem {
    /// True when a unit may go to a target by one of its options; gives the option.
    #[must_use]
    pub fn option_for(&self, unit: usize, target: usize) -> Option<usize> {
        let (unit, target) = (&self.units[unit], &self.targets[target]);
        if target.species.as_ref().is_some_and(|s| *s != unit.species) {
            return None;
        }
        let option = unit.options.iter().position(|o| o.build == target.build)?;
        unit.locked.is_none_or(|l| l == option).then_some(option)
    }

    /// What an allocation gives to each target, never more than is wished for.
    #[must_use]
    pub fn met(&self, allocation: &Allocation) -> Vec<f64> {
        (0..self.targets.len())
            .map(|t| {
                let target = &self.targets[t];
                let given = match (target.want, target.blend) {
                    (_, Some(blend)) => self.block(allocation, t).0 * blend.yields,
                    (Want::Pieces(_), None) => self.chosen(allocation, t).count() as f64,
                    (Want::Mass(_), None) => self.chosen(allocation, t).map(|o| o.gives_g).sum(),
                };
                given.min(target.want.amount())
            })
            .collect()
    }

    fn chosen<'a>(
        &'a self,
        allocation: &'a Allocation,
        target: usize,
    ) -> impl Iterator<Item = &'a UnitOption> {
        self.units
            .iter()
            .zip(&allocation.choices)
            .filter_map(move |(unit, choice)| {
                let choice = choice.as_ref().filter(|c| c.target == Some(target))?;
                Some(&unit.options[choice.option])
            })
    }

    /// The block of a ground target: its mass and its fat (g).
    #[must_use]
    pub fn block(&self, allocation: &Allocation, target: usize) -> (f64, f64) {
        let Some(blend) = self.targets[target].blend else {
            return (0.0, 0.0);
        };
        let pieces = self
            .chosen(allocation, target)
            .map(|o| (o.gives_g, o.gives_g * o.fat_fraction));
        let added = &allocation.added[target];
        let loose = self
            .loose
            .iter()
            .zip(&added.loose_g)
            .map(|(l, g)| (*g, g * l.fat_fraction));
        let bought = (added.bought_g, added.bought_g * blend.bought_fat_fraction);
        pieces
            .chain(loose)
            .chain([bought])
            .fold((0.0, 0.0), |(m, f), (dm, df)| (m + dm, f + df))
    }

    /// Everything an allocation takes up.
    #[must_use]
    pub fn places(&self, allocation: &Allocation) -> Places {
        let units = self
            .units
            .iter()
            .zip(&allocation.choices)
            .filter_map(|(unit, choice)| Some(unit.options[choice.as_ref()?.option].places));
        let blocks = (0..self.targets.len()).filter_map(|t| {
            let blend = self.targets[t].blend?;
            Some(blend.places_per_g.times(self.block(allocation, t).0))
        });
        units.chain(blocks).fold(Places::default(), Places::plus)
    }

    /// The choices before any is made: what is locked stands, and serves no wish yet.
    #[must_use]
    pub fn locked_choices(&self) -> Vec<Option<Choice>> {
        let unserved = |option| Choice {
            option,
            target: None,
        };
        self.units.iter().map(|u| u.locked.map(unserved)).collect()
    }

    /// What locked choices alone take up, whatever the capacity says.
    #[must_use]
    pub fn locked_places(&self) -> Places {
        self.units
            .iter()
            .filter_map(|u| Some(u.options[u.locked?].places))
            .fold(Places::default(), Places::plus)
    }

    /// The capacity, raised where locked choices alone pass it: a lock is the person's word.
    #[must_use]
    pub fn room(&self) -> Capacity {
        let locked = self.locked_places();
        let at_least = |most: Option<f64>, locked: f64| most.map(|m| m.max(locked));
        Capacity {
            hooks: at_least(self.capacity.hooks, locked.hooks),
            tub_l: at_least(self.capacity.tub_l, locked.tub_l),
            fridge_l: at_least(self.capacity.fridge_l, locked.fridge_l),
        }
    }

    /// How well wishes are met, weighted by their place in the list; for comparing two ways.
    #[must_use]
    pub fn worth(&self, met: &[f64]) -> f64 {
        self.targets
            .iter()
            .zip(met)
            .enumerate()
            .map(|(rank, (target, met))| {
                weight(rank) * met / target.want.amount().max(f64::MIN_POSITIVE)
            })
            .sum()
    }
}

/// What meeting a wish in full is worth, by its place in the list.
pub(crate) fn weight(rank: usize) -> f64 {
    (100.0 * 0.7_f64.powi(rank as i32)).max(4.0)
}

/// What is found, and how sure it is the best.
#[derive(Clone, Debug, PartialEq)]
pub struct Found {
    /// The way.
    pub allocation: Allocation,
    /// What it gives to each target.
    pub met: Vec<f64>,
    /// True when it was proved that there is none better.
    pub proved: bool,
}

/// Looks for the best way to bring supply and wishes together.
///
/// The whole table is given to the solver first, with a part of the budget. Where that does not
/// prove the best, the rest is spent on a few wishes at a time, which is where a solver that
/// branches finds what it overlooks among hundreds of pieces.
#[must_use]
pub fn suggest(problem: &Problem, budget: Budget) -> Found {
    let until = Instant::now() + Duration::from_secs_f64(budget.seconds);
    let simple = fill::fill(problem);
    let floors = problem.met(&simple);
    let whole = Budget {
        nodes: budget.nodes,
        seconds: budget.seconds * WHOLE,
    };
    let all = vec![true; problem.targets.len()];
    let mut search = Search {
        problem,
        floors: &floors,
        best: simple,
    };
    let proved = search.improve(&all, whole) == Some(true);
    if !proved {
        search.around(until);
    }
    Found {
        met: problem.met(&search.best),
        allocation: search.best,
        proved,
    }
}

/// Share of the time given to the whole table at once.
const WHOLE: f64 = 0.4;
/// How many wishes are looked at anew at a time.
const AT_A_TIME: [usize; 4] = [3, 5, 7, 9];
/// What one such look may cost.
const A_LOOK: Budget = Budget {
    nodes: 400,
    seconds: 0.04,
};

struct Search<'a> {
    problem: &'a Problem,
    floors: &'a [f64],
    best: Allocation,
}

impl Search<'_> {
    /// Meets the free wishes anew and keeps what is better; gives whether it was proved the best
    /// for them, and nothing when what the solver gave does not hold.
    fn improve(&mut self, free: &[bool], budget: Budget) -> Option<bool> {
        let start = model::Start {
            from: &self.best,
            floors: self.floors,
            free,
        };
        let (made, proved) = model::solve(self.problem, start, budget)?;
        let met = self.problem.met(&made);
        let keeps = met
            .iter()
            .zip(self.floors)
            .all(|(m, floor)| m + 1e-3 >= *floor);
        if !keeps || !self.problem.room().holds(self.problem.places(&made)) {
            return None;
        }
        if model::value(self.problem, &made) >= model::value(self.problem, &self.best) {
            self.best = made;
        }
        Some(proved)
    }

    /// Takes each wish that is not met together with those that want the same meat, a few at a
    /// time and then more, until the time is up.
    fn around(&mut self, until: Instant) {
        let wishes = self.problem.targets.len();
        for many in AT_A_TIME {
            for wish in 0..wishes {
                let wants = self.problem.targets[wish].want.amount();
                if self.problem.met(&self.best)[wish] >= wants * MET {
                    continue;
                }
                let left = until
                    .saturating_duration_since(Instant::now())
                    .as_secs_f64();
                if left <= 0.0 {
                    return;
                }
                let mut rivals: Vec<_> = (0..wishes).filter(|t| *t != wish).collect();
                rivals.sort_by_cached_key(|t| std::cmp::Reverse(self.shared(wish, *t)));
                let mut free = vec![false; wishes];
                free[wish] = true;
                for t in rivals.into_iter().take(many - 1) {
                    free[t] = true;
                }
                let look = Budget {
                    seconds: A_LOOK.seconds.min(left),
                    ..A_LOOK
                };
                self.improve(&free, look);
            }
        }
    }

    /// How many units two wishes both could have.
    fn shared(&self, a: usize, b: usize) -> usize {
        let could = |u: &usize, t| self.problem.option_for(*u, t).is_some();
        (0..self.problem.units.len())
            .filter(|u| could(u, a) && could(u, b))
            .count()
    }
}

#[cfg(test)]
mod tests;
