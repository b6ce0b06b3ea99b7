//! Made-up tables for Suggest: so many pieces of mixed weight, so many products wished for.

use manifest_core::animal::Range;
use manifest_core::assign::suggest::{
    Blend, Budget, Capacity, Loose, Places, Problem, Target, Unit, UnitOption, Want, suggest,
};
use std::hint::black_box;
use std::time::{Duration, Instant};

/// A plain generator, so that every run sees the same tables.
struct Dice(u64);

impl Dice {
    fn roll(&mut self, sides: u64) -> u64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % sides
    }
}

/// Pieces that each suit a handful of products, wishes for about three quarters of them, a
/// quarter of the products hanging, a tenth ground.
fn table(pieces: usize, builds: usize) -> Problem {
    let mut dice = Dice(pieces as u64 * 31 + builds as u64);
    let name = |b: usize| format!("build {b}");
    let units = (0..pieces)
        .map(|i| {
            let mass_g = 600.0 + dice.roll(5_400) as f64;
            let mut options: Vec<UnitOption> = Vec::new();
            for _ in 0..3 + dice.roll(6) {
                let b = dice.roll(builds as u64) as usize;
                if options.iter().any(|o| o.build == name(b)) {
                    continue;
                }
                let ground = b % 10 == 9;
                options.push(UnitOption {
                    build: name(b),
                    score: 1 + dice.roll(2) as u8,
                    gives_g: mass_g
                        * if ground {
                            0.8
                        } else {
                            0.6 + dice.roll(35) as f64 / 100.0
                        },
                    fat_fraction: 0.03 + dice.roll(25) as f64 / 100.0,
                    // hooks, litres of tub, litres of fridge
                    places: Places(vec![
                        if b.is_multiple_of(4) { 1.0 } else { 0.0 },
                        if b % 5 == 1 { mass_g / 600.0 } else { 0.0 },
                        if ground { 0.0 } else { mass_g / 1_050.0 },
                    ]),
                });
            }
            Unit {
                key: format!("piece {i}"),
                species: "pig".into(),
                mass_g,
                options,
                locked: None,
            }
        })
        .collect();
    let each = pieces as f64 * 3_300.0 * 0.75 / builds as f64;
    let targets = (0..builds)
        .map(|b| Target {
            wish: b as u32,
            build: name(b),
            species: None,
            want: match dice.roll(4) {
                0 if b % 10 != 9 => Want::Pieces(1.0 + dice.roll(4) as f64),
                _ => Want::Mass(each * (0.5 + dice.roll(100) as f64 / 100.0)),
            },
            blend: (b % 10 == 9).then_some(Blend {
                fat: Range {
                    low: 0.25,
                    high: 0.30,
                },
                yields: 0.9,
                bought_fat_fraction: 0.88,
                places_per_g: Places::default(),
            }),
        })
        .collect();
    Problem {
        units,
        loose: vec![Loose {
            key: "trim".into(),
            mass_g: 6_000.0,
            fat_fraction: 0.05,
            builds: (0..builds).map(name).collect(),
        }],
        targets,
        capacity: Capacity(vec![
            Some((pieces / 12).max(3) as f64),
            Some(pieces as f64 * 0.8),
            Some(pieces as f64 * 2.4),
        ]),
    }
}

/// Times Suggest as the server calls it.
pub fn bench() {
    for (pieces, builds) in [(30, 10), (120, 25), (400, 40)] {
        let problem = table(pieces, builds);
        let mut found = None;
        let mut runs: Vec<Duration> = (0..7)
            .map(|_| {
                let start = Instant::now();
                found = Some(suggest(black_box(&problem), Budget::default()));
                start.elapsed()
            })
            .collect();
        runs.sort();
        if let Some(found) = found {
            let simple = manifest_core::assign::suggest::fill::fill(&problem);
            let met = |met: &[f64]| {
                let full = met.iter().zip(&problem.targets);
                full.filter(|(m, t)| **m >= t.want.amount() * 0.995).count()
            };
            println!(
                "core: Suggest, {pieces} pieces and {builds} wishes: median {:.1?}, longest {:.1?}; {} wishes met ({} by simple filling), worth {:.1} ({:.1}), {}",
                runs[3],
                runs[6],
                met(&found.met),
                met(&problem.met(&simple)),
                problem.worth(&found.met),
                problem.worth(&problem.met(&simple)),
                if found.proved {
                    "proved best"
                } else {
                    "best found in time"
                }
            );
        }
    }
}
