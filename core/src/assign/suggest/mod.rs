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

/// A wish counts as met from this share on; the rest is rounding.
pub const MET: f64 = 0.995;

/// So much of each measure of the household's places, in the order in which the household's list has them.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Places(pub Vec<f64>);

impl Places {
    /// Both together; a measure that one does not speak of counts nothing there.
    #[must_use]
    pub fn plus(&self, other: &Self) -> Self {
        let measures = self.0.len().max(other.0.len());
        Self((0..measures).map(|m| self.of(m) + other.of(m)).collect())
    }

    /// So many times as much.
    #[must_use]
    pub fn times(&self, factor: f64) -> Self {
        Self(self.0.iter().map(|v| v * factor).collect())
    }

    /// Of one measure.
    #[must_use]
    pub fn of(&self, measure: usize) -> f64 {
        self.0.get(measure).copied().unwrap_or(0.0)
    }
}

/// What is free of each measure; none where nothing was listed.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Capacity(pub Vec<Option<f64>>);

impl Capacity {
    /// What is free of one measure.
    #[must_use]
    pub fn of(&self, measure: usize) -> Option<f64> {
        self.0.get(measure).copied().flatten()
    }

    /// True when so much fits in.
    #[must_use]
    pub fn holds(&self, places: &Places) -> bool {
        self.too_small(places).is_none()
    }

    /// The first measure of which there is too little for so much.
    #[must_use]
    pub fn too_small(&self, places: &Places) -> Option<usize> {
        (0..self.0.len()).find(|m| self.of(*m).is_some_and(|most| places.of(*m) > most + 1e-6))
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
#[derive(Clone, Debug, PartialEq)]
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

/// How hard to look, counted in work and not in time, so that the same table always gets the same
/// answer. One unit is one branch looked at for one variable.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Budget {
    /// What the whole table at once may cost.
    pub whole: u64,
    /// What looking at a few wishes at a time may cost in all.
    pub around: u64,
}

impl Default for Budget {
    /// Enough for a household's table, and an answer within a second.
    fn default() -> Self {
        Self {
            whole: 400_000,
            around: 600_000,
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
                let given = match (target.want, &target.blend) {
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
        let Some(blend) = &self.targets[target].blend else {
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
            .filter_map(|(unit, choice)| {
                Some(unit.options[choice.as_ref()?.option].places.clone())
            });
        let blocks = (0..self.targets.len()).filter_map(|t| {
            let blend = self.targets[t].blend.as_ref()?;
            Some(blend.places_per_g.times(self.block(allocation, t).0))
        });
        units
            .chain(blocks)
            .fold(Places::default(), |all, one| all.plus(&one))
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
            .filter_map(|u| Some(&u.options[u.locked?].places))
            .fold(Places::default(), |all, one| all.plus(one))
    }

    /// The capacity, raised where locked choices alone pass it: a lock is the person's word.
    #[must_use]
    pub fn room(&self) -> Capacity {
        let locked = self.locked_places();
        let raised = |(m, most): (usize, &Option<f64>)| most.map(|most| most.max(locked.of(m)));
        Capacity(self.capacity.0.iter().enumerate().map(raised).collect())
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
/// prove the best, the rest of the work goes to a few wishes at a time, which is where a solver that
/// branches finds what it overlooks among hundreds of pieces.
#[must_use]
pub fn suggest(problem: &Problem, budget: Budget) -> Found {
    let simple = fill::fill(problem);
    let floors = problem.met(&simple);
    let all = vec![true; problem.targets.len()];
    let mut search = Search {
        problem,
        floors: &floors,
        best: simple,
    };
    let mut left = budget.whole;
    let proved = search.improve(&all, u64::MAX, &mut left) == Some(true);
    if !proved {
        search.around(budget.around);
    }
    Found {
        met: problem.met(&search.best),
        allocation: search.best,
        proved,
    }
}

/// How many wishes are looked at anew at a time.
const AT_A_TIME: [usize; 4] = [3, 5, 7, 9];
/// Branches that one such look may take.
const A_LOOK: u64 = 400;

struct Search<'a> {
    problem: &'a Problem,
    floors: &'a [f64],
    best: Allocation,
}

impl Search<'_> {
    /// Meets the free wishes anew and keeps what is better; gives whether it was proved the best
    /// for them, and nothing when what the solver gave does not hold. Takes what it cost off
    /// `left`.
    fn improve(&mut self, free: &[bool], branches: u64, left: &mut u64) -> Option<bool> {
        let start = model::Start {
            from: &self.best,
            floors: self.floors,
            free,
        };
        let (made, proved) = model::solve(self.problem, start, branches, left)?;
        let met = self.problem.met(&made);
        let keeps = met
            .iter()
            .zip(self.floors)
            .all(|(m, floor)| m + 1e-3 >= *floor);
        if !keeps || !self.problem.room().holds(&self.problem.places(&made)) {
            return None;
        }
        if model::value(self.problem, &made) >= model::value(self.problem, &self.best) {
            self.best = made;
        }
        Some(proved)
    }

    /// Takes each wish that is not met together with those that want the same meat, a few at a
    /// time and then more, until the work is done.
    fn around(&mut self, mut left: u64) {
        let wishes = self.problem.targets.len();
        for many in AT_A_TIME {
            for wish in 0..wishes {
                let wants = self.problem.targets[wish].want.amount();
                if self.problem.met(&self.best)[wish] >= wants * MET {
                    continue;
                }
                if left == 0 {
                    return;
                }
                let mut rivals: Vec<_> = (0..wishes).filter(|t| *t != wish).collect();
                rivals.sort_by_cached_key(|t| std::cmp::Reverse(self.shared(wish, *t)));
                let mut free = vec![false; wishes];
                free[wish] = true;
                for t in rivals.into_iter().take(many - 1) {
                    free[t] = true;
                }
                self.improve(&free, A_LOOK, &mut left);
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
