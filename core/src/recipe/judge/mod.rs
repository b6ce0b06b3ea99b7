//! What had to be assumed of a recipe, what clashes in it, and what is dangerous.

mod cures;
mod open;

use super::section::{Page, Reader};
use super::sums::{RecipeMethod, Sums, is_in};
use super::{Assumption, AssumptionChoice, AssumptionCode, RecipeCheckAsk, times};
use crate::catalogue::cures::Role;
use crate::catalogue::lexicon::Topic;
use crate::caution::{Code, Finding, Severity};
use crate::cure::cover::governs;
use crate::cure::sheet::watch::MOST_SALT;
use crate::dose::limits::{Case, Class, HUNG_SALT, LEAST_SALT, Law, RuleSet};
use crate::dose::uptake::Governs;
use crate::units::show::trim;
use crate::units::{Band, show};
use cures::{accelerators, cures, never_raw};
use open::{contradictions, of_lines, pickup_assumed, weight_missing};
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
    for (finding, line) in accelerators(page, sums, reader, class, law) {
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
            .remedy("Go by thickness, and weigh the piece before and after."),
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
    if topics.has(Topic::Dried) || times::hangs_for_weeks(page) {
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
            class.label()
        ),
        value: Some(class_word(class).into()),
        line: None,
        choices: choices
            .into_iter()
            .map(|c| AssumptionChoice {
                value: class_word(c).into(),
                label: c.label().into(),
            })
            .collect(),
        takes: None,
    }
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
            finding.remedy =
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
    if finding.code == Code::NitriteOverLimit && finding.severity == Severity::Stop {
        finding.message += &format!(" It is over the limit of {} ppm.", trim(ceiling, 0));
    }
    let Some(n) = sums.nitrite.filter(|n| over && n.nominal > most) else {
        if finding.code == Code::NitriteOverLimit && finding.severity == Severity::Caution {
            finding.message = "The dose may pass the limit for nitrite: spoons, ranges and what is only near leave it open.".into();
            finding.remedy =
                Some("Weigh the curing salt on a scale that reads tenths of a gram.".into());
        }
        return;
    };
    if sums.cure_g > 0.0 {
        // Rounded down: what is weighed must not pass it again.
        let enough = sums.cure_g * most / n.nominal;
        let (step, places) = if enough < 1.0 { (100.0, 2) } else { (10.0, 1) };
        finding.remedy = Some(format!(
            "Take at most {} g of the curing salt, not {} g: {} ppm is the most.",
            trim((enough * step).floor() / step, places),
            trim(sums.cure_g, places),
            trim(most, 0)
        ));
    }
}

fn salt(sums: &Sums, class: Class) -> Option<Finding> {
    if matches!(sums.method, RecipeMethod::Unknown | RecipeMethod::SaltBox) {
        return None;
    }
    let salt = sums.salt?;
    let hangs = matches!(class, Class::Dried | Class::SausageDried);
    let least = if hangs { HUNG_SALT } else { LEAST_SALT } / 1_000.0;
    let most = MOST_SALT / 1_000.0;
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
            .remedy("Look whether a digit is missing, or salt it as our builds do."),
        );
    }
    (!sums.method.is_brine() && salt > most).then(|| {
        Finding::new(
            Code::SaltHigh,
            Severity::Caution,
            "So much salt nobody eats.",
        )
        .saw(said(salt))
        .wants(format!("at most {}", said(most)))
        .remedy("Look whether a digit is too many, or soak it long.")
    })
}
