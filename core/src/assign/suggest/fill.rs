//! The simple way: wish by wish in their order, the best suited and then the heaviest pieces
//! first, until each wish is met or nothing is left. No piece is taken back.

use super::{Added, Allocation, Blend, Choice, MET, Places, Problem, Want};

/// Fills the wishes one after another.
#[must_use]
pub fn fill(problem: &Problem) -> Allocation {
    let mut filling = Filling {
        problem,
        left: problem.loose.iter().map(|l| l.mass_g).collect(),
        used: problem.locked_places(),
        made: Allocation {
            choices: problem.locked_choices(),
            added: vec![Added::nothing(problem); problem.targets.len()],
        },
    };
    for target in 0..problem.targets.len() {
        filling.take_locked(target);
        match &problem.targets[target].blend {
            Some(blend) => filling.blend(target, blend),
            None => filling.take_pieces(target),
        }
    }
    filling.made
}

struct Filling<'a> {
    problem: &'a Problem,
    left: Vec<f64>,
    used: Places,
    made: Allocation,
}

impl Filling<'_> {
    fn met(&self, target: usize) -> f64 {
        let want = self.problem.targets[target].want.amount();
        self.problem.met(&self.made)[target] / want.max(f64::MIN_POSITIVE)
    }

    /// Units that may go to a target, best suited and heaviest first.
    fn candidates(&self, target: usize, locked: bool) -> Vec<(usize, usize)> {
        let problem = self.problem;
        let mut found: Vec<_> = (0..problem.units.len())
            .filter(|&u| match self.made.choices[u] {
                None => !locked,
                Some(choice) => {
                    locked && problem.units[u].locked.is_some() && choice.target.is_none()
                }
            })
            .filter_map(|u| Some((u, problem.option_for(u, target)?)))
            .collect();
        found.sort_by(|&(a, oa), &(b, ob)| {
            let (a, b) = (&problem.units[a], &problem.units[b]);
            let (oa, ob) = (&a.options[oa], &b.options[ob]);
            (ob.score, ob.gives_g)
                .partial_cmp(&(oa.score, oa.gives_g))
                .unwrap_or(std::cmp::Ordering::Equal)
        });
        found
    }

    /// What is locked to a product comes first; it takes up its place whatever it is for.
    fn take_locked(&mut self, target: usize) {
        if self.problem.targets[target].blend.is_some() {
            return;
        }
        for (unit, option) in self.candidates(target, true) {
            if self.met(target) >= MET {
                return;
            }
            self.made.choices[unit] = Some(Choice {
                option,
                target: Some(target),
            });
        }
    }

    fn take_pieces(&mut self, target: usize) {
        for (unit, option) in self.candidates(target, false) {
            if self.met(target) >= MET {
                return;
            }
            self.take(unit, option, target);
        }
    }

    fn take(&mut self, unit: usize, option: usize, target: usize) -> bool {
        let places = self
            .used
            .plus(&self.problem.units[unit].options[option].places);
        if !self.problem.room().holds(&places) {
            return false;
        }
        self.used = places;
        self.made.choices[unit] = Some(Choice {
            option,
            target: Some(target),
        });
        true
    }

    /// Lean first, loose before whole pieces, then as much fat as brings it to the middle of its
    /// range: kept fat before bought fat.
    fn blend(&mut self, target: usize, blend: &Blend) {
        let Want::Mass(want) = self.problem.targets[target].want else {
            return;
        };
        let middle = f64::midpoint(blend.fat.low, blend.fat.high);
        let whole_block = want / blend.yields;
        let build = &self.problem.targets[target].build;
        let mut lean = (0.0, 0.0);
        // The block that so much lean and its fat part make at the middle of the range.
        let block_of = |(mass, fat): (f64, f64)| {
            if mass <= 0.0 {
                0.0
            } else {
                (mass * blend.bought_fat_fraction - fat) / (blend.bought_fat_fraction - middle)
            }
        };
        for i in 0..self.problem.loose.len() {
            let loose = &self.problem.loose[i];
            if loose.fat_fraction > middle || !loose.builds.contains(build) {
                continue;
            }
            let a_gram = block_of((1.0, loose.fat_fraction));
            let room = self.block_room(blend, block_of(lean));
            let open = (whole_block - block_of(lean)).min(room).max(0.0);
            let g = (open / a_gram).min(self.left[i]);
            if g > 0.0 {
                self.left[i] -= g;
                self.made.added[target].loose_g[i] += g;
                lean = (lean.0 + g, lean.1 + g * loose.fat_fraction);
            }
        }
        let candidates = self
            .candidates(target, true)
            .into_iter()
            .chain(self.candidates(target, false));
        for (unit, option) in candidates.collect::<Vec<_>>() {
            let o = &self.problem.units[unit].options[option];
            let with = (lean.0 + o.gives_g, lean.1 + o.gives_g * o.fat_fraction);
            let fits = self.block_room(blend, 0.0) >= block_of(with);
            if block_of(lean) >= whole_block * MET || o.fat_fraction > middle || !fits {
                continue;
            }
            let is_locked = self.problem.units[unit].locked.is_some();
            if is_locked {
                self.made.choices[unit] = Some(Choice {
                    option,
                    target: Some(target),
                });
            } else if !self.take(unit, option, target) {
                continue;
            }
            lean = with;
        }
        let mut fat_g = (block_of(lean) - lean.0).max(0.0);
        let share = blend.bought_fat_fraction;
        for i in 0..self.problem.loose.len() {
            let loose = &self.problem.loose[i];
            // Kept fat of another fatness would shift the blend: only what is like the bought kind.
            let alike = (loose.fat_fraction - share).abs() <= 0.1;
            if !alike || !loose.builds.contains(build) {
                continue;
            }
            let g = fat_g.min(self.left[i]);
            self.left[i] -= g;
            self.made.added[target].loose_g[i] += g;
            fat_g -= g;
        }
        self.made.added[target].bought_g += fat_g;
        // Kept fat that is not quite as fat as the bought kind may leave the range at its edge.
        let (mass, fat) = self.problem.block(&self.made, target);
        let inside =
            mass <= 0.0 || (blend.fat.low - 1e-9..=blend.fat.high + 1e-9).contains(&(fat / mass));
        if inside {
            self.used = self.used.plus(&blend.places_per_g.times(mass));
        } else {
            self.take_back(target);
        }
    }

    /// The largest block that still finds its place (g).
    fn block_room(&self, blend: &Blend, taken: f64) -> f64 {
        let room = self.problem.room();
        let mut most = f64::INFINITY;
        for (measure, limit) in room.0.iter().enumerate() {
            let per = blend.places_per_g.of(measure);
            if let Some(limit) = limit
                && per > 0.0
            {
                most = most.min((limit - self.used.of(measure)) / per);
            }
        }
        most - taken
    }

    fn take_back(&mut self, target: usize) {
        for (left, g) in self
            .left
            .iter_mut()
            .zip(&mut self.made.added[target].loose_g)
        {
            *left += *g;
            *g = 0.0;
        }
        self.made.added[target].bought_g = 0.0;
        for (unit, choice) in self.problem.units.iter().zip(&mut self.made.choices) {
            if let Some(c) = choice
                && c.target == Some(target)
            {
                if unit.locked.is_some() {
                    c.target = None;
                } else {
                    let places = unit.options[c.option].places.times(-1.0);
                    self.used = self.used.plus(&places);
                    *choice = None;
                }
            }
        }
    }
}
