//! What had to be assumed of a recipe, what clashes in it, and what is dangerous.

use super::section::{Page, Part, Reader};
use super::sums::{RecipeMethod, Sums, is_in};
use super::times;
use super::{
    Assumption, AssumptionChoice, AssumptionCode, LineKind, Measures, RecipeCheckAsk, Takes,
};
use crate::catalogue::lexicon::{Pure, Topic};
use crate::catalogue::species::RawDryingVerdict;
use crate::caution::{Code, Finding, Severity};
use crate::cure::Role;
use crate::cure::cover::{Governs, governs};
use crate::cure::rules::{Case, Class, Law, RuleSet};
use crate::units::show::trim;
use crate::units::{Band, show};
use serde::Serialize;

/// A finding of a recipe, with the line it stands in.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecipeFinding {
    /// What is dangerous, and the way out.
    #[serde(flatten)]
    pub finding: Finding,
    /// The line of the answer it is about.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<usize>,
}

/// Nitrite if the meat weighed so much.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OverWeight {
    /// The meat (g).
    pub meat_g: f64,
    /// Nitrite in it (ppm).
    pub nitrite_ppm: f64,
}

pub(super) struct Judged {
    pub class: Class,
    pub ceiling_ppm: Option<f64>,
    pub floor_ppm: Option<f64>,
    pub assumptions: Vec<Assumption>,
    pub findings: Vec<RecipeFinding>,
    pub over_weight: Vec<OverWeight>,
}

/// Over this the pure accelerator is more than 7/8 oz on 100 lb (ppm).
const ACCELERATOR_MARGIN: f64 = 1.0;
/// Salt under this neither cures nor keeps, of the meat.
const LEAST_SALT: f64 = 0.015;
/// What hangs raw wants more.
const HUNG_SALT: f64 = 0.025;
/// More than this, rubbed on, nobody eats.
const MOST_SALT: f64 = 0.06;
/// A curing salt of more nitrite than this is dosed by the gram: a pinch of it is a danger.
const STRONG: f64 = 0.02;
/// Points of the curve of nitrite over weight.
const POINTS: u32 = 25;

/// Judges a text.
pub(super) fn judge(
    page: &Page<'_>,
    sums: &Sums,
    ask: &RecipeCheckAsk,
    reader: &Reader<'_>,
    rules: &RuleSet,
) -> Judged {
    let mut assumptions = Vec::new();
    let mut findings = Vec::new();
    let settled_class = reader
        .settled(AssumptionCode::ClassAssumed, "")
        .and_then(class_of);
    let class = ask
        .class
        .or(settled_class)
        .unwrap_or_else(|| by_words(page, sums));
    let matters = sums.method != RecipeMethod::Unknown;
    if ask.class.is_none() && matters {
        assumptions.push(class_assumed(class, settled_class.is_some()));
    }
    let law = law(sums.method, class);
    // Dry sausage is ground, whatever the text says; whole muscle is not.
    let class = match (class, law) {
        (Class::Dried, Law::Ground) => Class::SausageDried,
        (Class::SausageDried, Law::Immersed | Law::Injected | Law::Dry) => Class::Dried,
        (other, _) => other,
    };
    let skin_on =
        law != Law::Ground && page.topics.has(Topic::SkinOn) && !page.topics.has(Topic::SkinOff);
    let limit = rules.limit(class, law, skin_on).ok();
    let ceiling_ppm = limit.map(|l| rules.ceiling(l, skin_on).0);
    let floor_ppm = limit.map(|_| rules.floor(class, law, skin_on).0);
    of_lines(page, sums, &mut assumptions, ask);
    contradictions(page, sums, &mut assumptions);
    let over_weight = weight_missing(page, sums, rules, ceiling_ppm, &mut assumptions);
    if sums.method.is_brine() && sums.brine.is_some() && sums.pickup.is_some_and(|p| p.high > 0.0) {
        pickup_assumed(page, sums, &mut assumptions);
    }
    let mut add = |finding: Finding, line: Option<usize>| {
        findings.push(RecipeFinding { finding, line });
    };
    let first_cure = page
        .parts
        .iter()
        .position(|p| is_in(p) && p.role == Some(Role::CuringSalt));
    for finding in nitrite(page, sums, ask, (class, law, skin_on), rules) {
        add(finding, first_cure);
    }
    for (finding, line) in cures(page, sums, class) {
        add(finding, line);
    }
    for (finding, line) in accelerators(page, sums, class, law) {
        add(finding, Some(line));
    }
    if matches!(class, Class::Dried | Class::SausageDried) && matters {
        for finding in never_raw(page, reader) {
            add(finding, None);
        }
    }
    if sums.method == RecipeMethod::SaltBox {
        add(
            Finding::new(
                Code::SaltNotPromised,
                Severity::Info,
                "Buried in salt, how much of it goes in cannot be promised: the hours are the dose.",
            )
            .way_out("Go by thickness, and weigh the piece before and after."),
            None,
        );
    }
    if let Some(finding) = salt(sums, class) {
        let line = page
            .parts
            .iter()
            .position(|p| is_in(p) && p.role == Some(Role::Salt));
        add(finding, line);
    }
    Judged {
        class,
        ceiling_ppm,
        floor_ppm,
        assumptions,
        findings,
        over_weight,
    }
}

fn class_of(word: &str) -> Option<Class> {
    Some(match word {
        "fry" => Class::Fry,
        "cooked" => Class::Cooked,
        "dried" => Class::Dried,
        "sausage_dried" => Class::SausageDried,
        _ => return None,
    })
}

fn by_words(page: &Page<'_>, sums: &Sums) -> Class {
    let topics = page.topics;
    if topics.has(Topic::Dried) {
        if sums.method == RecipeMethod::Ground {
            Class::SausageDried
        } else {
            Class::Dried
        }
    } else if topics.has(Topic::Fry) {
        Class::Fry
    } else {
        Class::Cooked
    }
}

const fn law(method: RecipeMethod, class: Class) -> Law {
    match method {
        RecipeMethod::EquilibriumBrine | RecipeMethod::CoverBrine => Law::Immersed,
        RecipeMethod::Injection => Law::Injected,
        RecipeMethod::Ground => Law::Ground,
        RecipeMethod::Dry | RecipeMethod::Label | RecipeMethod::SaltBox | RecipeMethod::Unknown => {
            match class {
                Class::SausageDried => Law::Ground,
                Class::Fry | Class::Cooked | Class::Dried => Law::Dry,
            }
        }
    }
}

fn class_word(class: Class) -> &'static str {
    match class {
        Class::Fry => "fry",
        Class::Cooked => "cooked",
        Class::Dried => "dried",
        Class::SausageDried => "sausage_dried",
    }
}

fn class_assumed(class: Class, settled: bool) -> Assumption {
    let choices = [Class::Fry, Class::Cooked, Class::Dried, Class::SausageDried];
    Assumption {
        code: AssumptionCode::ClassAssumed,
        message: format!(
            "{} as {}.",
            if settled {
                "Judged, as you said,"
            } else {
                "What becomes of it is not said; judged by its words"
            },
            class.said()
        ),
        value: Some(class_word(class).into()),
        line: None,
        choices: choices
            .into_iter()
            .map(|c| AssumptionChoice {
                value: class_word(c).into(),
                label: c.said().into(),
            })
            .collect(),
        takes: None,
    }
}

/// What the lines themselves leave open.
fn of_lines(page: &Page<'_>, sums: &Sums, assumptions: &mut Vec<Assumption>, ask: &RecipeCheckAsk) {
    for (i, part) in page.parts.iter().enumerate() {
        if part.said_twice {
            continue;
        }
        for question in &part.open {
            let takes = match question.code {
                AssumptionCode::SauceSaltAssumed | AssumptionCode::CeleryUnknown => {
                    Some(Takes::Percent)
                }
                code if code.takes_a_weight() => Some(Takes::Weight),
                _ => None,
            };
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
                takes,
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
            message: "Spoons, cups and gallons are taken as those of the US.".into(),
            value: Some("us".into()),
            line: None,
            choices: [
                (Measures::Us, "us", "of the US: a cup of 237 ml"),
                (Measures::Metric, "metric", "metric: a cup of 250 ml"),
                (Measures::Imperial, "imperial", "imperial: a cup of 284 ml"),
            ]
            .into_iter()
            .map(|(_, value, label)| AssumptionChoice {
                value: value.into(),
                label: label.into(),
            })
            .collect(),
            takes: None,
        });
    }
    let percents = page.percent_of_all && sums.method == RecipeMethod::EquilibriumBrine;
    let unsaid = page.lines.iter().any(|(_, l)| {
        l.items.iter().any(|i| {
            i.name.is_some()
                && i.amounts
                    .iter()
                    .any(|a| a.measure == super::line::Measure::Percent(None))
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

fn capital(word: &str) -> String {
    let mut letters = word.chars();
    letters.next().map_or_else(String::new, |first| {
        first.to_uppercase().collect::<String>() + letters.as_str()
    })
}

/// Two readings of one amount that are far apart: both are shown.
fn contradictions(page: &Page<'_>, sums: &Sums, assumptions: &mut Vec<Assumption>) {
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
        let cure = part.role == Some(Role::CuringSalt);
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
                if cure {
                    "The larger one is judged; weigh it, and do not go by the spoon."
                } else {
                    "The weight counts here."
                }
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
            takes: Some(Takes::Weight),
        });
    }
}

/// No weight of meat: which one would make it right, and nitrite over weight.
fn weight_missing(
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

fn kilograms(g: f64) -> String {
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

fn pickup_assumed(page: &Page<'_>, sums: &Sums, assumptions: &mut Vec<Assumption>) {
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

fn nitrite(
    page: &Page<'_>,
    sums: &Sums,
    ask: &RecipeCheckAsk,
    (class, law, skin_on): (Class, Law, bool),
    rules: &RuleSet,
) -> Vec<Finding> {
    if matches!(sums.method, RecipeMethod::Unknown | RecipeMethod::SaltBox) {
        return Vec::new();
    }
    // Of a brine for nobody knows how much meat, only what is taken up can be told.
    let (nitrite, whole) = match (sums.nitrite, sums.pickup) {
        (Some(n), _) => (n, true),
        (None, Some(p)) => (p, false),
        (None, None) => return Vec::new(),
    };
    let no_cure = nitrite.high <= 0.0 && sums.nitrate.is_some_and(|n| n.high <= 0.0);
    let case = Case {
        class,
        law,
        skin_on,
        no_cure,
        nitrite,
        nitrate: sums.nitrate.unwrap_or(Band::exactly(0.0)),
    };
    let least = sums.least.unwrap_or(nitrite.nominal);
    let mut found = rules.judge_down_to(&case, least).unwrap_or_default();
    // Saltpetre alone brings no nitrite at once: that it does is said by its own finding.
    let only_nitrate = nitrite.high <= 0.0 && !no_cure;
    found.retain(|f| {
        let floors = matches!(f.code, Code::ColourOnly | Code::NitriteBelowFloor);
        !(floors && (!whole || only_nitrate))
    });
    for finding in &mut found {
        reword(finding, sums, rules, class, law, skin_on);
        let only_lower = nitrite.nominal >= rules.floor(class, law, skin_on).0;
        let floors = matches!(finding.code, Code::ColourOnly | Code::NitriteBelowFloor);
        // Where nobody says how thick it is and how long it lies, which of the two figures holds is open.
        if floors && only_lower && !pickup_governs(page, ask) {
            finding.severity = Severity::Info;
            finding.message = "What the meat takes up in its first days brings little nitrite; only a thin piece left for a week or more gets the rest.".into();
            finding.way_out =
                Some("Say how thick the piece is, or weigh it before and after.".into());
        }
    }
    found
}

/// True where the piece is known to be too thick, or in its brine for too short, to become like it.
fn pickup_governs(page: &Page<'_>, ask: &RecipeCheckAsk) -> bool {
    let Some(thickness) = ask.thickness_mm else {
        return false;
    };
    let days = times::days_said(page).unwrap_or(0.0);
    governs(thickness, days) == Governs::Pickup
}

/// The way out of too much nitrite is a weight of the cure.
fn reword(
    finding: &mut Finding,
    sums: &Sums,
    rules: &RuleSet,
    class: Class,
    law: Law,
    skin_on: bool,
) {
    let (ceiling, _) = rules.edges(class, law, skin_on);
    let most = ceiling.min(rules.home_cap_ppm);
    let over = matches!(
        finding.code,
        Code::NitriteOverLimit | Code::NitriteRefused | Code::OverHomeCap
    );
    let Some(n) = sums.nitrite.filter(|n| over && n.nominal > most) else {
        if finding.code == Code::NitriteOverLimit {
            finding.message = "The dose may pass the limit for nitrite: spoons, ranges and what is only near leave it open.".into();
            finding.way_out =
                Some("Weigh the curing salt on a scale that reads tenths of a gram.".into());
        }
        return;
    };
    if sums.cure_g > 0.0 {
        finding.way_out = Some(format!(
            "Over the limit for nitrite: take {} g of the curing salt, not {} g.",
            trim(sums.cure_g * most / n.nominal, 1),
            trim(sums.cure_g, 1)
        ));
    }
}

/// Meat that nobody eats dried raw, however well it is cured.
fn never_raw(page: &Page<'_>, reader: &Reader<'_>) -> Vec<Finding> {
    times::meats(page, reader)
        .into_iter()
        .filter_map(|meat| {
            let raw = &reader.catalogue.species(&meat.key)?.raw_drying;
            (raw.verdict == RawDryingVerdict::Refused).then(|| {
                Finding::new(
                    Code::SpeciesCaution,
                    Severity::Stop,
                    format!(
                        "{} is never eaten dried raw. {}",
                        capital(&meat.name),
                        raw.words
                    ),
                )
                .way_out("Cook it: smoke it to its safe temperature, or dry it only after.")
            })
        })
        .collect()
}

/// What is wrong with the curing salts themselves.
fn cures(page: &Page<'_>, sums: &Sums, class: Class) -> Vec<(Finding, Option<usize>)> {
    let mut found = Vec::new();
    let here: Vec<(usize, &Part)> = page
        .parts
        .iter()
        .enumerate()
        .filter(|(_, p)| is_in(p) && p.role == Some(Role::CuringSalt))
        .collect();
    let mut kinds: Vec<(&str, usize)> = Vec::new();
    for (i, part) in &here {
        let Some(brew) = &part.brew else { continue };
        let kind = brew.key.as_deref().unwrap_or(&brew.name);
        if !kinds.iter().any(|(k, _)| *k == kind) {
            kinds.push((kind, *i));
        }
    }
    if let [(_, first), (_, second), ..] = kinds.as_slice() {
        let said = |i: usize| {
            page.parts[i]
                .brew
                .as_ref()
                .map_or_else(String::new, |b| b.name.clone())
        };
        found.push((
            Finding::new(
                Code::TwoCures,
                Severity::Stop,
                format!(
                    "Two curing salts in one recipe, {} and {}: each is a whole dose, and together they are more nitrite than anybody meant.",
                    said(*first),
                    said(*second)
                ),
            )
            .way_out("Take one of them: cure #1 for what is cooked or fried, cure #2 for what dries for weeks."),
            Some(*second),
        ));
    }
    for (i, part) in &here {
        let Some(brew) = &part.brew else { continue };
        match brew.pure {
            Some(Pure::PotassiumNitrate | Pure::SodiumNitrate) => {
                let mut finding = Finding::new(
                    Code::PotassiumNitrate,
                    Severity::Caution,
                    format!(
                        "{} is pure nitrate. It cures only as germs turn it into nitrite, slowly and nobody knows how far; a little too much is far too much.",
                        capital(&brew.name)
                    ),
                )
                .way_out("Take cure #1 by weight in its place, or cure #2 for what dries for weeks.");
                if let Some(n) = sums.nitrate {
                    finding = finding.saw(format!("{} ppm of nitrate", trim(n.nominal, 0)));
                }
                found.push((finding, Some(*i)));
                if class == Class::Fry && sums.nitrate.is_none() {
                    found.push((
                        Finding::new(
                            Code::NitrateInFried,
                            Severity::Stop,
                            "Nitrate in meat that is fried turns into nitrosamines, which cause cancer.",
                        )
                        .way_out("Use cure #1, or make something that dries for weeks."),
                        Some(*i),
                    ));
                }
            }
            Some(Pure::SodiumNitrite | Pure::PotassiumNitrite) => found.push((
                Finding::new(
                    Code::PureNitrite,
                    Severity::Stop,
                    "Pure nitrite is a poison: a teaspoon can kill, and no kitchen scale weighs the tenth of a gram that a kilogram of meat takes.",
                )
                .way_out("Take cure #1, which is one part of it in sixteen."),
                Some(*i),
            )),
            None => {}
        }
        // A pinch of it, or as much as one likes, is no dose.
        let no_dose = sums.masses[*i].is_none() && !brew.unknown;
        if no_dose {
            let packet = part
                .open
                .iter()
                .any(|q| q.code == AssumptionCode::PartOfPacket);
            found.push((
                Finding::new(
                    Code::CureNotWeighed,
                    if packet || brew.made_of.nitrite < STRONG {
                        Severity::Caution
                    } else {
                        Severity::Stop
                    },
                    if packet {
                        "A packet of curing salt is no dose: how much nitrite goes in cannot be told."
                    } else {
                        "A curing salt without a weight is no dose: a pinch or a spoon by eye may be no nitrite at all or too much nitrite."
                    },
                )
                .wants("a weight, such as 2.5 g/kg of cure #1")
                .way_out("Weigh it for the weight of the meat."),
                Some(*i),
            ));
        }
        // A rate for one cure with another in the hand.
        if sums.nitrate.is_none()
            && class == Class::Fry
            && brew.made_of.nitrate > 0.0
            && brew.pure.is_none()
        {
            found.push((
                Finding::new(
                    Code::NitrateInFried,
                    Severity::Stop,
                    "Nitrate in meat that is fried turns into nitrosamines, which cause cancer.",
                )
                .saw(format!("{} holds nitrate", brew.name))
                .way_out("Use cure #1, or make something that dries for weeks."),
                Some(*i),
            ));
        }
    }
    found
}

fn accelerators(page: &Page<'_>, sums: &Sums, class: Class, law: Law) -> Vec<(Finding, usize)> {
    let mut found = Vec::new();
    for &(i, ppm) in &sums.accelerator {
        let part = &page.parts[i];
        let name = part.ingredient.as_deref().unwrap_or("accelerator");
        let acid = name.contains("acid");
        let most = if acid { 469.0 } else { 550.0 };
        if part.purity.is_none() {
            found.push((
                Finding::new(
                    Code::AcceleratorPurity,
                    Severity::Caution,
                    format!("“{name}” may be a blend with little in it."),
                )
                .wants("what its label says it holds of erythorbate or ascorbate")
                .way_out("It is reckoned as pure; go by its label."),
                i,
            ));
        }
        if ppm > most + ACCELERATOR_MARGIN {
            found.push((
                Finding::new(
                    Code::AcceleratorOverCap,
                    Severity::Caution,
                    format!("More {name} than is allowed: the limit is {most} ppm of the meat."),
                )
                .saw(format!("{} ppm", trim(ppm, 0)))
                .wants(format!("at most {most} ppm"))
                .way_out(format!("Take {} g/kg.", trim(most / 1_000.0, 3))),
                i,
            ));
        }
    }
    let has = page
        .parts
        .iter()
        .any(|p| is_in(p) && p.role == Some(Role::Accelerator));
    let first_cure = page
        .parts
        .iter()
        .position(|p| is_in(p) && p.brew.as_ref().is_some_and(|b| b.made_of.nitrite > 0.0));
    if let Some(line) = first_cure {
        if law == Law::Injected && class == Class::Fry && !has {
            found.push((
                Finding::new(
                    Code::AcceleratorMissing,
                    Severity::Info,
                    "Pumped bacon is made with 550 ppm of erythorbate or ascorbate beside its nitrite: without it nitrosamines form in the pan.",
                )
                .wants("0.55 g/kg")
                .way_out("Add sodium erythorbate, 0.55 g/kg."),
                line,
            ));
        }
        if has && !sums.method.is_brine() {
            found.push((
                Finding::new(
                    Code::AcceleratorWithNitrite,
                    Severity::Info,
                    "Mixed dry with nitrite ahead of time, or in warm water, what speeds the cure up uses the nitrite up and gives off toxic gas.",
                )
                .way_out("Weigh it by itself and put it on last."),
                line,
            ));
        }
    }
    found
}

fn salt(sums: &Sums, class: Class) -> Option<Finding> {
    if matches!(sums.method, RecipeMethod::Unknown | RecipeMethod::SaltBox) {
        return None;
    }
    let salt = sums.salt?;
    let hangs = matches!(class, Class::Dried | Class::SausageDried);
    let least = if hangs { HUNG_SALT } else { LEAST_SALT };
    let said = |s: f64| show::share(crate::units::Fraction(s));
    // A tenth is the spoon's own doubt.
    if salt < least * 0.9 {
        return Some(
            Finding::new(
                Code::SaltLow,
                Severity::Caution,
                if hangs {
                    "So little salt does not keep what hangs raw: the cure is salt first."
                } else {
                    "So little salt neither cures nor keeps."
                },
            )
            .saw(said(salt))
            .wants(format!("at least {}", said(least)))
            .way_out("Look whether a digit is missing, or salt it as our builds do."),
        );
    }
    (!sums.method.is_brine() && salt > MOST_SALT).then(|| {
        Finding::new(
            Code::SaltHigh,
            Severity::Caution,
            "So much salt nobody eats.",
        )
        .saw(said(salt))
        .wants(format!("at most {}", said(MOST_SALT)))
        .way_out("Look whether a digit is too many, or soak it long.")
    })
}
