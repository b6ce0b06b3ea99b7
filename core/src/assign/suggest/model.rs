//! The same question as a mixed-integer program for a library solver.
//!
//! One yes-or-no for each unit and each wish it could go to; grams of loose and bought parts for
//! ground wishes. It begins from the simple filling and must not fall short of it for any wish.

use super::{Added, Allocation, Choice, Problem, Unit, Want, weight};
use microlp::{ComparisonOp, OptimizationDirection, SolveOptions, Variable};

/// Using up all of the supply costs so much in the objective: less meat is better, and no wish is
/// worth so little that it is not met for it.
const ALL_MEAT: f64 = 1.0;
/// A merely possible use costs so many times the meat of a classic one.
const POSSIBLE: f64 = 2.5;
/// Buying a kilogram of fat costs so much.
const BOUGHT_KG: f64 = 0.05;
/// The solver may stop when it is so close to the best.
const GAP: f64 = 2e-4;

/// All of the supply (g).
fn all_meat_g(problem: &Problem) -> f64 {
    let all: f64 = problem.units.iter().map(|u| u.mass_g).sum();
    all.max(1.0)
}

/// What it costs to use a unit up for a wish.
fn cost(unit: &Unit, option: usize, all_meat_g: f64) -> f64 {
    let meat = unit.mass_g / all_meat_g * ALL_MEAT;
    match unit.options[option].score {
        // What is locked is used up already.
        _ if unit.locked.is_some() => 0.0,
        2.. => meat,
        _ => meat * POSSIBLE,
    }
}

/// What the program makes as large as it can, for a way that stands.
#[must_use]
pub fn value(problem: &Problem, allocation: &Allocation) -> f64 {
    let all_meat = all_meat_g(problem);
    let meat: f64 = problem
        .units
        .iter()
        .zip(&allocation.choices)
        .filter_map(|(unit, choice)| {
            let choice = choice.filter(|c| c.target.is_some())?;
            Some(cost(unit, choice.option, all_meat))
        })
        .sum();
    let bought_g: f64 = allocation.added.iter().map(|a| a.bought_g).sum();
    problem.worth(&problem.met(allocation)) - meat - bought_g / 1_000.0 * BOUGHT_KG
}

struct Yes {
    unit: usize,
    option: usize,
    target: usize,
    variable: Variable,
}

/// What the solver begins from.
#[derive(Clone, Copy)]
pub struct Start<'a> {
    /// A way that holds.
    pub from: &'a Allocation,
    /// What each wish is to get at least.
    pub floors: &'a [f64],
    /// The wishes that may be met another way; what the others have stays as it is.
    pub free: &'a [bool],
}

/// The best way found in so many branches and within the work that is `left`, and whether it was proved best of all that leave the
/// wishes alone that are not free; none when the solver found nothing it could stand by.
#[must_use]
pub fn solve(
    problem: &Problem,
    start: Start<'_>,
    branches: u64,
    left: &mut u64,
) -> Option<(Allocation, bool)> {
    let stays = staying(problem, start);
    let free = || (0..problem.targets.len()).filter(|&t| start.free[t]);
    let mut program = microlp::Problem::new(OptimizationDirection::Maximize);
    let all_meat = all_meat_g(problem);
    let mut hints = Vec::new();
    let mut choices = Vec::new();
    for unit in 0..problem.units.len() {
        if stays.choices[unit].is_some_and(|c| c.target.is_some()) {
            continue;
        }
        for target in free() {
            let Some(option) = problem.option_for(unit, target) else {
                continue;
            };
            let cost = cost(&problem.units[unit], option, all_meat);
            let variable = program.add_binary_var(-cost);
            let yes = start.from.choices[unit].is_some_and(|c| c.target == Some(target));
            hints.push((variable, if yes { 1.0 } else { 0.0 }));
            choices.push(Yes {
                unit,
                option,
                target,
                variable,
            });
        }
    }
    // How much of each wish is met, between what the simple way gives and all of it.
    let met: Vec<_> = free()
        .map(|rank| {
            let want = problem.targets[rank].want.amount().max(1e-9);
            let floor = (start.floors[rank] * (1.0 - 1e-7)).clamp(0.0, want);
            (rank, program.add_var(weight(rank) / want, (floor, want)))
        })
        .collect();
    let loose_left: Vec<f64> = (0..problem.loose.len())
        .map(|i| {
            let used: f64 = stays.added.iter().map(|a| a.loose_g[i]).sum();
            (problem.loose[i].mass_g - used).max(0.0)
        })
        .collect();
    let loose: Vec<Vec<Option<Variable>>> = (0..problem.targets.len())
        .map(|t| {
            let target = &problem.targets[t];
            let goes = |l: &super::Loose| {
                start.free[t] && target.blend.is_some() && l.builds.contains(&target.build)
            };
            problem
                .loose
                .iter()
                .zip(&loose_left)
                .map(|(l, left)| goes(l).then(|| program.add_var(0.0, (0.0, *left))))
                .collect()
        })
        .collect();
    let bought: Vec<Option<Variable>> = (0..problem.targets.len())
        .map(|t| {
            let target = &problem.targets[t];
            let blend = target.blend.as_ref().filter(|_| start.free[t])?;
            let most = target.want.amount() / blend.yields;
            Some(program.add_var(-BOUGHT_KG / 1_000.0, (0.0, most)))
        })
        .collect();

    // A unit goes to one wish at most.
    for unit in 0..problem.units.len() {
        let row: Vec<_> = choices
            .iter()
            .filter(|c| c.unit == unit)
            .map(|c| (c.variable, 1.0))
            .collect();
        if row.len() > 1 {
            program.add_constraint(row, ComparisonOp::Le, 1.0);
        }
    }
    // A wish is met by what goes to it.
    for &(t, met) in &met {
        let target = &problem.targets[t];
        let mut row = vec![(met, 1.0)];
        let yields = target.blend.as_ref().map_or(1.0, |b| b.yields);
        row.extend(choices.iter().filter(|c| c.target == t).map(|c| {
            let gives = match target.want {
                Want::Pieces(_) => 1.0,
                Want::Mass(_) => problem.units[c.unit].options[c.option].gives_g * yields,
            };
            (c.variable, -gives)
        }));
        row.extend(loose[t].iter().flatten().map(|v| (*v, -yields)));
        row.extend(bought[t].map(|v| (v, -yields)));
        program.add_constraint(row, ComparisonOp::Le, 0.0);
    }
    // Loose parts are used once.
    for i in 0..problem.loose.len() {
        let row: Vec<_> = loose.iter().filter_map(|l| Some((l[i]?, 1.0))).collect();
        if row.len() > 1 {
            program.add_constraint(row, ComparisonOp::Le, loose_left[i]);
        }
    }
    // The fat of a block stays in its range.
    for t in free() {
        let Some(blend) = &problem.targets[t].blend else {
            continue;
        };
        for (edge, op) in [
            (blend.fat.low, ComparisonOp::Ge),
            (blend.fat.high, ComparisonOp::Le),
        ] {
            let mut row: Vec<_> = choices
                .iter()
                .filter(|c| c.target == t)
                .map(|c| {
                    let o = &problem.units[c.unit].options[c.option];
                    (c.variable, o.gives_g * (o.fat_fraction - edge))
                })
                .collect();
            row.extend(
                loose[t]
                    .iter()
                    .zip(&problem.loose)
                    .filter_map(|(v, l)| Some((((*v)?), l.fat_fraction - edge))),
            );
            row.extend(bought[t].map(|v| (v, blend.bought_fat_fraction - edge)));
            program.add_constraint(row, op, 0.0);
        }
    }
    // Places are not overfilled; what is locked takes up its place whatever it is for.
    let taken = problem.places(&stays);
    let room = problem.room();
    for (at, most) in room.0.iter().enumerate() {
        let Some(most) = *most else { continue };
        let mut row: Vec<_> = choices
            .iter()
            .filter(|c| problem.units[c.unit].locked.is_none())
            .map(|c| {
                let o = &problem.units[c.unit].options[c.option];
                (c.variable, o.places.of(at))
            })
            .filter(|(_, takes)| *takes > 0.0)
            .collect();
        for t in free() {
            let Some(blend) = &problem.targets[t].blend else {
                continue;
            };
            let per_g = blend.places_per_g.of(at);
            if per_g <= 0.0 {
                continue;
            }
            for c in choices.iter().filter(|c| c.target == t) {
                let gives = problem.units[c.unit].options[c.option].gives_g;
                match row.iter_mut().find(|(v, _)| *v == c.variable) {
                    Some(term) => term.1 += gives * per_g,
                    None => row.push((c.variable, gives * per_g)),
                }
            }
            row.extend(loose[t].iter().flatten().map(|v| (*v, per_g)));
            row.extend(bought[t].map(|v| (v, per_g)));
        }
        if !row.is_empty() {
            program.add_constraint(row, ComparisonOp::Le, most - taken.of(at));
        }
    }

    let mut options = SolveOptions::default();
    options.mip_gap = GAP;
    let variables = (choices.len() + met.len()).max(1) as u64;
    // One look at the root is always taken; the cap keeps huge tables from never answering.
    options.node_limit = Some((*left / variables).clamp(1, branches));
    options.warm_start = Some(hints);
    let outcome = program.solve_with(options).ok()?;
    *left = left.saturating_sub(outcome.stats().nodes_solved.max(1) * variables);
    let proved = matches!(
        outcome.termination_reason(),
        microlp::TerminationReason::ProvenOptimal | microlp::TerminationReason::MipGap
    );
    let solution = outcome.into_solution().ok()?;
    let mut made = stays;
    for c in &choices {
        if solution.var_value(c.variable) > 0.5 {
            made.choices[c.unit] = Some(Choice {
                option: c.option,
                target: Some(c.target),
            });
        }
    }
    let grams = |v: &Option<Variable>| v.map_or(0.0, |v| solution.var_value(v).max(0.0));
    for t in free() {
        made.added[t] = Added {
            loose_g: loose[t].iter().map(grams).collect(),
            bought_g: grams(&bought[t]),
        };
    }
    Some((made, proved))
}

/// What stays of a way when the free wishes give back what they have.
fn staying(problem: &Problem, start: Start<'_>) -> Allocation {
    let kept =
        |choice: &Option<Choice>| choice.filter(|c| c.target.is_some_and(|t| !start.free[t]));
    Allocation {
        choices: problem
            .locked_choices()
            .into_iter()
            .zip(&start.from.choices)
            .map(|(locked, choice)| kept(choice).or(locked))
            .collect(),
        added: start
            .from
            .added
            .iter()
            .zip(start.free)
            .map(|(added, free)| {
                if *free {
                    Added::nothing(problem)
                } else {
                    added.clone()
                }
            })
            .collect(),
    }
}
