//! What had to be assumed, and what clashes.

use super::{OverWeight, POINTS};
use crate::catalogue::cures::Role;
use crate::dose::limits::RuleSet;
use crate::recipe::section::Page;
use crate::recipe::sums::{RecipeMethod, Sums};
use crate::recipe::{
    Assumption, AssumptionChoice, AssumptionCode, LineKind, RecipeCheckAsk, Takes,
};
use crate::units::Measures;
use crate::units::show::trim;

/// What the lines themselves leave open.
pub(in crate::recipe) fn of_lines(
    page: &Page<'_>,
    sums: &Sums,
    assumptions: &mut Vec<Assumption>,
    ask: &RecipeCheckAsk,
) {
    for (i, part) in page.parts.iter().enumerate() {
        if part.said_twice {
            continue;
        }
        for question in &part.open {
            assumptions.push(Assumption {
                code: question.code,
                message: question.message.clone(),
                value: question.value.clone(),
                line: Some(i),
                choices: question
                    .choices
                    .iter()
                    .map(|(value, label)| AssumptionChoice {
                        value: value.clone(),
                        label: label.clone(),
                    })
                    .collect(),
                takes: question.code.takes(),
            });
        }
        let unasked = !part.open.iter().any(|q| q.code.takes_a_weight());
        if part.unweighed && unasked && part.kind != LineKind::NotUnderstood {
            assumptions.push(Assumption {
                code: AssumptionCode::NoAmount,
                message: "It counts for nothing until it has a weight.".into(),
                value: None,
                line: Some(i),
                choices: Vec::new(),
                takes: Some(Takes::Weight),
            });
        }
    }
    let said_volume = page
        .parts
        .iter()
        .any(|p| p.readings.iter().any(|r| r.by_volume));
    if ask.measures.is_none() && said_volume {
        assumptions.push(Assumption {
            code: AssumptionCode::MeasuresAssumed,
            message: format!(
                "Spoons, cups and gallons are taken as those {}.",
                ask.household_measures.label()
            ),
            value: Some(ask.household_measures.key().into()),
            line: None,
            choices: Measures::ALL
                .map(|set| AssumptionChoice {
                    value: set.key().into(),
                    label: set.short().into(),
                })
                .into(),
            takes: None,
        });
    }
    let percents = page.percent_of_all && sums.method == RecipeMethod::EquilibriumBrine;
    let unsaid = page.lines.iter().any(|(_, l)| {
        l.items.iter().any(|i| {
            i.name.is_some()
                && i.amounts
                    .iter()
                    .any(|a| a.measure == super::super::line::Measure::Percent(None))
        })
    });
    if percents && unsaid {
        assumptions.push(Assumption {
            code: AssumptionCode::PercentOf,
            message: "The percentages are taken as of meat and water together, as in a brine that evens out.".into(),
            value: None,
            line: None,
            choices: Vec::new(),
            takes: None,
        });
    }
}

/// Two readings of one amount that are far apart: both are shown.
pub(in crate::recipe) fn contradictions(
    page: &Page<'_>,
    sums: &Sums,
    assumptions: &mut Vec<Assumption>,
) {
    for &i in &sums.far_apart {
        let part = &page.parts[i];
        let each: Vec<String> = part
            .readings
            .iter()
            .zip(&sums.readings[i])
            .filter_map(|(r, mass)| {
                Some(format!(
                    "“{}” is {} g",
                    r.said,
                    trim(mass.as_ref()?.nominal, 1)
                ))
            })
            .collect();
        let counts = match (part.kind, part.role) {
            (LineKind::Meat, _) => "The first one counts here; weigh the meat.",
            (_, Some(Role::CuringSalt)) => {
                "The larger one is judged; weigh it, and do not go by the spoon."
            }
            _ => "The weight counts here.",
        };
        let spoon =
            part.readings.iter().any(|r| r.by_volume) && part.readings.iter().any(|r| !r.by_volume);
        let choices = if spoon {
            vec![("spoon", "by the spoon"), ("weight", "by the weight")]
        } else {
            vec![("first", "the first"), ("second", "the second")]
        };
        assumptions.push(Assumption {
            code: AssumptionCode::AmountsDiffer,
            message: format!(
                "Two amounts of {} differ by more than 15 %: {}. {}",
                part.ingredient.as_deref().unwrap_or("one thing"),
                each.join(", but "),
                counts
            ),
            value: None,
            line: Some(i),
            choices: choices
                .into_iter()
                .map(|(value, label)| AssumptionChoice {
                    value: value.into(),
                    label: label.into(),
                })
                .collect(),
            takes: (part.kind != LineKind::Meat).then_some(Takes::Weight),
        });
    }
}

/// No weight of meat: which one would make it right, and nitrite over weight.
pub(in crate::recipe) fn weight_missing(
    page: &Page<'_>,
    sums: &Sums,
    rules: &RuleSet,
    ceiling_ppm: Option<f64>,
    assumptions: &mut Vec<Assumption>,
) -> Vec<OverWeight> {
    if sums.meat.is_some() || sums.method == RecipeMethod::Unknown {
        return Vec::new();
    }
    let ask = |message: String| Assumption {
        code: AssumptionCode::MeatWeightMissing,
        message,
        value: None,
        line: None,
        choices: Vec::new(),
        takes: Some(Takes::Weight),
    };
    if sums.for_a_kilogram {
        assumptions.push(ask(
            "No weight of the meat is given: the lines are worked out for 1 kg. Type what your piece weighs.".into(),
        ));
        return Vec::new();
    }
    let wanted = rules
        .default_nitrite_ppm
        .min(ceiling_ppm.unwrap_or(f64::INFINITY));
    let brine = sums.brine.filter(|_| sums.method.is_brine());
    let right = sums.nitrite_g * 1e6 / wanted - brine.unwrap_or(0.0);
    let known =
        sums.nitrite_g > 0.0 && !sums.cure_unknown && (brine.is_some() || !sums.method.is_brine());
    if !known {
        assumptions.push(ask(
            "No weight of the meat is given: nothing can be said of its salt and nitrite. Type what your piece weighs.".into(),
        ));
        return Vec::new();
    }
    let _ = page;
    let message = if right > 0.0 {
        format!(
            "No weight of the meat is given. {} of meat{} would bring it to {} ppm of nitrite; type what your piece weighs.",
            kilograms(right),
            if sums.strength_only {
                " for each litre of water"
            } else {
                ""
            },
            trim(wanted, 0)
        )
    } else {
        format!(
            "No weight of the meat is given, and no weight would bring it to {} ppm of nitrite, the brine itself is weaker; type what your piece weighs.",
            trim(wanted, 0)
        )
    };
    assumptions.push(ask(message));
    let middle = if right > 0.0 {
        right
    } else {
        brine.unwrap_or(1_000.0)
    };
    (0..POINTS)
        .map(|i| {
            // From a third of it to three times as much, evenly in the eye.
            let meat_g = middle * 9_f64.powf(f64::from(i) / f64::from(POINTS - 1) - 0.5);
            OverWeight {
                meat_g,
                nitrite_ppm: sums.nitrite_g * 1e6 / (meat_g + brine.unwrap_or(0.0)),
            }
        })
        .collect()
}

pub(in crate::recipe) fn kilograms(g: f64) -> String {
    if g < 1_000.0 {
        format!("{} g", trim(g, 0))
    } else {
        format!(
            "{} kg ({} lb)",
            trim(g / 1_000.0, 2),
            trim(g / 453.592_37, 1)
        )
    }
}

pub(in crate::recipe) fn pickup_assumed(
    page: &Page<'_>,
    sums: &Sums,
    assumptions: &mut Vec<Assumption>,
) {
    let pumped = sums.method == RecipeMethod::Injection;
    let pump_said = page.pump.is_some() || page.pump_g.is_some();
    let message = match (pumped, sums.covers) {
        (true, _) if !pump_said => {
            "How much is pumped in is not said: 10 % of the meat is taken. Weigh the piece before and after.".to_string()
        }
        (true, false) => return,
        (true, true) => format!(
            "What it takes up of the brine that is left around it is not known: {} % of the meat is taken beside what is pumped in.",
            trim(sums.pickup_share * 100.0, 0)
        ),
        (false, _) if sums.method == RecipeMethod::EquilibriumBrine => return,
        (false, _) => format!(
            "How much brine the meat takes up is not known: {} % of its weight is taken, and beside it what meat and brine would share in the end.",
            trim(sums.pickup_share * 100.0, 0)
        ),
    };
    assumptions.push(Assumption {
        code: AssumptionCode::PickupAssumed,
        message,
        value: Some(format!("{} %", trim(sums.pickup_share * 100.0, 0))),
        line: None,
        choices: Vec::new(),
        takes: Some(Takes::Percent),
    });
}
