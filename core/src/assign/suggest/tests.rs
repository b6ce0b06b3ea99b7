//! Suggest on made-up tables: laws on random ones, the best on small ones, by hand on plain ones.

use super::*;
use proptest::prelude::*;

fn option(build: &str, score: u8, gives_g: f64) -> UnitOption {
    UnitOption {
        build: build.into(),
        score,
        gives_g,
        fat_fraction: 0.05,
        places: Places::default(),
    }
}

fn unit(key: &str, mass_g: f64, options: Vec<UnitOption>) -> Unit {
    Unit {
        key: key.into(),
        species: "pig".into(),
        mass_g,
        options,
        locked: None,
    }
}

fn target(wish: u32, build: &str, want: Want) -> Target {
    Target {
        wish,
        build: build.into(),
        species: None,
        want,
        blend: None,
    }
}

fn ground(wish: u32, want_g: f64) -> Target {
    Target {
        blend: Some(Blend {
            fat: Range {
                low: 0.25,
                high: 0.30,
            },
            yields: 0.9,
            bought_fat_fraction: 0.88,
            places_per_g: Places::default(),
        }),
        ..target(wish, "loaf", Want::Mass(want_g))
    }
}

fn chosen(problem: &Problem, found: &Found) -> Vec<(String, String)> {
    problem
        .units
        .iter()
        .zip(&found.allocation.choices)
        .filter_map(|(u, c)| Some((u.key.clone(), u.options[(*c)?.option].build.clone())))
        .collect()
}

fn pairs(list: &[(&str, &str)]) -> Vec<(String, String)> {
    list.iter()
        .map(|(a, b)| ((*a).to_string(), (*b).to_string()))
        .collect()
}

#[test]
fn a_piece_that_two_wishes_want_goes_where_both_can_be_met() {
    // The simple way gives the loin to the first wish, although a leg would do for it.
    let problem = Problem {
        units: vec![
            unit(
                "loin",
                4_000.0,
                vec![option("back", 2, 3_500.0), option("meal", 2, 4_000.0)],
            ),
            unit("leg", 4_000.0, vec![option("back", 1, 3_500.0)]),
        ],
        targets: vec![
            target(1, "back", Want::Mass(3_000.0)),
            target(2, "meal", Want::Mass(3_000.0)),
        ],
        ..Problem::default()
    };
    let simple = problem.met(&fill::fill(&problem));
    assert_eq!(simple, [3_000.0, 0.0]);
    let found = suggest(&problem, Budget::default());
    assert_eq!(found.met, [3_000.0, 3_000.0]);
    assert_eq!(
        chosen(&problem, &found),
        pairs(&[("loin", "meal"), ("leg", "back")])
    );
    assert!(found.proved);
}

#[test]
fn no_more_meat_is_used_than_a_wish_takes() {
    let problem = Problem {
        units: [5_000.0, 2_100.0, 900.0]
            .iter()
            .map(|g| unit(&g.to_string(), *g, vec![option("slab", 2, *g)]))
            .collect(),
        targets: vec![target(1, "slab", Want::Mass(3_000.0))],
        ..Problem::default()
    };
    let found = suggest(&problem, Budget::default());
    assert_eq!(
        chosen(&problem, &found),
        pairs(&[("2100", "slab"), ("900", "slab")])
    );
}

#[test]
fn a_lock_stays_and_counts_towards_its_wish() {
    let mut problem = Problem {
        units: vec![
            unit(
                "a",
                2_000.0,
                vec![option("slab", 2, 1_800.0), option("dry", 1, 1_200.0)],
            ),
            unit("b", 2_000.0, vec![option("slab", 2, 1_800.0)]),
        ],
        targets: vec![
            target(1, "slab", Want::Mass(3_600.0)),
            target(2, "dry", Want::Mass(1_000.0)),
        ],
        ..Problem::default()
    };
    problem.units[0].locked = Some(1);
    let found = suggest(&problem, Budget::default());
    assert_eq!(found.met, [1_800.0, 1_000.0]);
    assert_eq!(
        chosen(&problem, &found),
        pairs(&[("a", "dry"), ("b", "slab")])
    );
}

#[test]
fn hooks_are_not_overfilled_but_a_lock_is_the_persons_word() {
    let mut dry = option("dry", 2, 1_000.0);
    dry.places = Places(vec![1.0]);
    let mut problem = Problem {
        units: (0..5)
            .map(|i| unit(&i.to_string(), 1_500.0, vec![dry.clone()]))
            .collect(),
        targets: vec![target(1, "dry", Want::Pieces(5.0))],
        capacity: Capacity(vec![Some(3.0)]),
        ..Problem::default()
    };
    assert_eq!(suggest(&problem, Budget::default()).met, [3.0]);
    for unit in &mut problem.units[..4] {
        unit.locked = Some(0);
    }
    let found = suggest(&problem, Budget::default());
    assert_eq!(found.met, [4.0]);
    assert!((problem.places(&found.allocation).of(0) - 4.0).abs() < 1e-9);
}

#[test]
fn a_ground_wish_takes_trim_and_fat_and_buys_what_is_missing() {
    let problem = Problem {
        loose: vec![
            Loose {
                key: "elk trim".into(),
                mass_g: 5_000.0,
                fat_fraction: 0.04,
                builds: vec!["loaf".into()],
            },
            Loose {
                key: "pork fat".into(),
                mass_g: 500.0,
                fat_fraction: 0.85,
                builds: vec!["loaf".into()],
            },
        ],
        targets: vec![ground(1, 3_600.0)],
        ..Problem::default()
    };
    let found = suggest(&problem, Budget::default());
    assert!((found.met[0] - 3_600.0).abs() < 1e-3);
    let (mass, fat) = problem.block(&found.allocation, 0);
    assert!((mass - 4_000.0).abs() < 1e-3, "{mass}");
    assert!((0.25..=0.30).contains(&(fat / mass)));
    let added = &found.allocation.added[0];
    // Kept fat is used before any is bought: 25 % of 4 kg, less what lean and kept fat bring.
    assert!((added.loose_g[1] - 500.0).abs() < 1e-3, "{added:?}");
    assert!(added.bought_g < 550.0, "{added:?}");
}

/// The best of every way there is that gives no wish less than `least`, for tables small enough to
/// try them all.
fn best_by_trying(problem: &Problem, least: &[f64]) -> f64 {
    let n = problem.units.len();
    let mut best = 0.0_f64;
    let ways = problem.targets.len() + 1;
    for code in 0..ways.pow(n as u32) {
        let mut rest = code;
        let mut choices = Vec::new();
        for u in 0..n {
            let t = rest % ways;
            rest /= ways;
            let choice = (t > 0)
                .then(|| problem.option_for(u, t - 1))
                .flatten()
                .map(|option| Choice {
                    option,
                    target: Some(t - 1),
                });
            choices.push(choice);
        }
        let made = Allocation {
            choices,
            added: vec![Added::default(); problem.targets.len()],
        };
        let met = problem.met(&made);
        let enough = met.iter().zip(least).all(|(m, l)| m + 1e-3 >= *l);
        if enough && problem.capacity.holds(&problem.places(&made)) {
            best = best.max(problem.worth(&met));
        }
    }
    best
}

/// The plainest filling there is, told apart from the product's own: wish by wish, best suited
/// and then heaviest first, until the wish is met.
fn plain_filling(problem: &Problem) -> Vec<f64> {
    let mut used = vec![false; problem.units.len()];
    let mut places = Places::default();
    let mut met = Vec::new();
    for (t, target) in problem.targets.iter().enumerate() {
        let mut given = 0.0;
        while given < target.want.amount() {
            let next = (0..problem.units.len())
                .filter(|&u| !used[u])
                .filter_map(|u| Some((u, &problem.units[u].options[problem.option_for(u, t)?])))
                .filter(|(_, o)| problem.capacity.holds(&places.plus(&o.places)))
                .max_by(|(_, a), (_, b)| {
                    (a.score, a.gives_g)
                        .partial_cmp(&(b.score, b.gives_g))
                        .unwrap()
                });
            let Some((u, option)) = next else { break };
            used[u] = true;
            places = places.plus(&option.places);
            given += match target.want {
                Want::Mass(_) => option.gives_g,
                Want::Pieces(_) => 1.0,
            };
        }
        met.push(given.min(target.want.amount()));
    }
    met
}

fn tables(units: usize, targets: usize) -> impl Strategy<Value = Problem> {
    let one_unit = (
        200.0..6_000.0_f64,
        prop::collection::vec((0_usize..5, 1_u8..=2, 0.5..1.0_f64), 0..4),
        any::<prop::sample::Index>(),
        0_u8..6,
    );
    let one_target = (0_usize..5, 300.0..9_000.0_f64, any::<bool>());
    let builds = ["a", "b", "c", "d", "e"];
    (
        prop::collection::vec(one_unit, 1..=units),
        prop::collection::vec(one_target, 1..=targets),
        prop::option::of(0..6_u8),
    )
        .prop_map(move |(us, ts, hooks)| {
            let units = us
                .into_iter()
                .enumerate()
                .map(|(i, (mass, opts, which, lock))| {
                    let mut options: Vec<UnitOption> = Vec::new();
                    for (b, score, share) in opts {
                        if options.iter().any(|o| o.build == builds[b]) {
                            continue;
                        }
                        let mut o = option(builds[b], score, mass * share);
                        // Products d and e hang.
                        o.places = Places(vec![if b >= 3 { 1.0 } else { 0.0 }]);
                        options.push(o);
                    }
                    let locked =
                        (lock == 0 && !options.is_empty()).then(|| which.index(options.len()));
                    Unit {
                        locked,
                        ..unit(&format!("u{i}"), mass, options)
                    }
                });
            let targets = ts.into_iter().enumerate().map(|(i, (b, want, pieces))| {
                let want = if pieces {
                    Want::Pieces((want / 2_000.0).ceil())
                } else {
                    Want::Mass(want)
                };
                target(i as u32 + 1, builds[b], want)
            });
            Problem {
                units: units.collect(),
                loose: Vec::new(),
                targets: targets.collect(),
                capacity: Capacity(vec![hooks.map(f64::from)]),
            }
        })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn a_suggestion_breaks_no_lock_capacity_or_suitability(problem in tables(14, 5)) {
        let found = suggest(&problem, Budget::default());
        for (unit, choice) in problem.units.iter().zip(&found.allocation.choices) {
            if let Some(locked) = unit.locked {
                prop_assert_eq!(choice.map(|c| c.option), Some(locked), "{}", &unit.key);
            }
            if let Some(Choice { option, target: Some(t) }) = *choice {
                // Only options that are there, which hold no suitability of zero, and the wish's own product.
                prop_assert_eq!(&unit.options[option].build, &problem.targets[t].build);
            }
        }
        prop_assert!(problem.room().holds(&problem.places(&found.allocation)));
        for (met, target) in found.met.iter().zip(&problem.targets) {
            prop_assert!(*met <= target.want.amount() + 1e-9 && *met >= 0.0);
        }
        prop_assert_eq!(&problem.met(&found.allocation), &found.met);
    }

    #[test]
    fn looking_at_a_few_wishes_leaves_the_others_alone_and_loses_nothing(
        problem in tables(14, 5),
        free in prop::collection::vec(any::<bool>(), 5),
    ) {
        let simple = fill::fill(&problem);
        let floors = problem.met(&simple);
        let free = &free[..problem.targets.len()];
        let start = model::Start { from: &simple, floors: &floors, free };
        let Some((made, _)) = model::solve(&problem, start, 6_000, &mut 400_000) else {
            return Ok(());
        };
        prop_assert!(model::value(&problem, &made) >= model::value(&problem, &simple) - 1e-6);
        prop_assert!(problem.room().holds(&problem.places(&made)));
        let theirs = |way: &Allocation, t: usize| -> Vec<usize> {
            let goes = |u: &usize| way.choices[*u].is_some_and(|c| c.target == Some(t));
            (0..problem.units.len()).filter(goes).collect()
        };
        for t in (0..free.len()).filter(|t| !free[*t]) {
            prop_assert_eq!(theirs(&made, t), theirs(&simple, t));
        }
    }

    #[test]
    fn what_is_suggested_is_worth_what_simple_filling_is_or_more(problem in tables(40, 12)) {
        let found = suggest(&problem, Budget { whole: 20, around: 0 });
        let simple = fill::fill(&problem);
        prop_assert!(model::value(&problem, &found.allocation) >= model::value(&problem, &simple) - 1e-9);
        prop_assert!(problem.room().holds(&problem.places(&found.allocation)));
    }

    #[test]
    fn what_a_plain_filling_meets_is_met(mut problem in tables(14, 5)) {
        for unit in &mut problem.units {
            unit.locked = None;
        }
        let plain = plain_filling(&problem);
        let found = suggest(&problem, Budget::default());
        for ((plain, met), target) in plain.iter().zip(&found.met).zip(&problem.targets) {
            if *plain >= target.want.amount() * MET {
                prop_assert!(*met >= target.want.amount() * MET, "{} of {:?}", met, target);
            }
        }
        // A wish counts as met a hair before it is full; no piece is spent on the hair.
        let hair: f64 = (0..problem.targets.len()).map(|rank| weight(rank) * (1.0 - MET)).sum();
        prop_assert!(problem.worth(&found.met) + hair >= problem.worth(&plain));
    }

    #[test]
    fn on_a_small_table_nothing_is_better(mut problem in tables(5, 2)) {
        for unit in &mut problem.units {
            unit.locked = None;
        }
        let found = suggest(&problem, Budget::default());
        let simple = problem.met(&fill::fill(&problem));
        let best = best_by_trying(&problem, &simple);
        let got = problem.worth(&found.met);
        // What using less meat may be worth against wishes: all of it, all merely possible.
        let meat = 1.0 * 2.5;
        prop_assert!(got + meat + 1e-3 * best >= best, "{} of {}", got, best);
        prop_assert!(got + 1e-6 >= problem.worth(&simple));
    }

    #[test]
    fn a_blend_stays_in_its_range_and_uses_no_more_than_there_is(
        loose in prop::collection::vec((50.0..4_000.0_f64, 0.02..0.95_f64), 0..5),
        pieces in prop::collection::vec((500.0..5_000.0_f64, 0.02..0.6_f64, any::<bool>()), 0..6),
        wants in prop::collection::vec(500.0..6_000.0_f64, 1..4),
        room in prop::option::of(1.0..8.0_f64),
    ) {
        let units = pieces.iter().enumerate().map(|(i, (g, fat, locked))| {
            let mut o = option("loaf", 1, *g);
            o.fat_fraction = *fat;
            Unit { locked: locked.then_some(0), ..unit(&format!("u{i}"), *g, vec![o]) }
        });
        let loose: Vec<_> = loose.iter().enumerate().map(|(i, (g, fat))| Loose {
            key: format!("l{i}"), mass_g: *g, fat_fraction: *fat, builds: vec!["loaf".into()],
        }).collect();
        let targets = wants.iter().enumerate().map(|(i, g)| {
            let mut t = ground(i as u32, *g);
            if let Some(blend) = &mut t.blend {
                blend.places_per_g = Places(vec![0.0, 0.0, 0.001]);
            }
            t
        });
        let problem = Problem {
            units: units.collect(),
            loose,
            targets: targets.collect(),
            capacity: Capacity(vec![None, None, room]),
        };
        for made in [fill::fill(&problem), suggest(&problem, Budget::default()).allocation] {
            for t in 0..problem.targets.len() {
                let (mass, fat) = problem.block(&made, t);
                if mass > 1e-3 {
                    prop_assert!((0.25 - 1e-4..=0.30 + 1e-4).contains(&(fat / mass)), "{} of {}", fat, mass);
                }
            }
            for (i, l) in problem.loose.iter().enumerate() {
                let used: f64 = made.added.iter().map(|a| a.loose_g[i]).sum();
                prop_assert!(used <= l.mass_g + 1e-3);
            }
            prop_assert!(problem.room().holds(&problem.places(&made)));
        }
    }
}
