//! The days and temperatures of a text, beside our own.

use super::RecipeCheckAsk;
use super::judge::RecipeFinding;
use super::line::Line;
use super::scan::{Lexeme, Number, What};
use super::section::{Page, Reader};
use super::sums::{RecipeMethod, Sums};
use crate::catalogue::Catalogue;
use crate::catalogue::lexicon::{TimeUnit, Topic};
use crate::catalogue::meats::Meat;
use crate::catalogue::rules::Class;
use crate::caution::{Code, Finding, Severity};
use crate::cure::no_nitrite::SLOW_UNDER;
use crate::cure::time::{CureTimeAsk, Method, cure_time};
use crate::units::show::{self, temperature, trim};
use crate::units::{Celsius, HeatUnit, Units};
use serde::Serialize;
use std::collections::HashMap;

/// What a number of the text is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Beside {
    /// Days in the cure.
    CureDays,
    /// How cold it lies meanwhile.
    ColdPlace,
    /// Heat inside the meat.
    Inside,
}

/// Something of the text, with ours beside it.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BesideOurs {
    /// What it is about.
    pub what: Beside,
    /// The words of the text.
    pub said: String,
    /// At least: days, or °C.
    pub low: f64,
    /// At most.
    pub high: f64,
    /// Ours, in words.
    pub ours: String,
    /// Ours as a number, where there is a least: days, or °C.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub ours_least: Option<f64>,
    /// The line of the text, of those that are not blank.
    pub line: usize,
}

/// Whole muscle is safe at this, where no meat is named (°C).
const WHOLE_MEAT: f64 = 62.8;

/// Ground meat has its outside within (°C).
const GROUND_MEAT: f64 = 71.1;

/// What no cure is meant for as days: longer is hanging.
const LONGEST_CURE: f64 = 90.0;

/// Shorter than this share of ours the middle is not cured.
const FAR_TOO_SHORT: f64 = 0.6;

/// How long something lasts, as a line says it: “7 days”. “Every two days” says how often, and is none of it.
fn spans(line: &Line) -> impl Iterator<Item = (usize, Number, TimeUnit)> + '_ {
    const OFTEN: [&str; 5] = ["every", "each", "alle", "jeden", "tous"];
    let lexemes = &line.scanned.lexemes;
    lexemes.windows(2).enumerate().filter_map(move |(i, pair)| {
        let (What::Number(n), What::Time(unit)) = (&pair[0].what, &pair[1].what) else {
            return None;
        };
        let before = pair[0].at.0.checked_sub(1);
        let often = before.is_some_and(|t| OFTEN.contains(&line.scanned.tokens[t].word.as_str()));
        (!often).then(|| (i + 1, *n, *unit))
    })
}

/// Reads days and temperatures.
pub(super) fn beside_ours(
    page: &Page<'_>,
    sums: &Sums,
    ask: &RecipeCheckAsk,
    reader: &Reader<'_>,
    class: Class,
) -> Vec<BesideOurs> {
    let mut found = Vec::new();
    let ours_days = our_days(page, sums, ask, reader);
    let mut safe = safe_inside(page, reader).unwrap_or(WHOLE_MEAT);
    if sums.method == RecipeMethod::Ground {
        safe = safe.max(GROUND_MEAT);
    }
    for (source, (typed, line)) in page.lines.iter().enumerate() {
        let topics = line.scanned.topics;
        let lexemes = &line.scanned.lexemes;
        let heats = topics.has(Topic::Chamber)
            || topics.has(Topic::Hangs)
            || topics.has(Topic::ColdSmoke)
            || topics.has(Topic::Wash)
            || topics.has(Topic::Loss)
            || topics.has(Topic::WarmWork);
        for (i, lexeme) in lexemes.iter().enumerate() {
            if let What::Time(TimeUnit::Days | TimeUnit::Weeks) = lexeme.what {
                let Some((_, n, unit)) = spans(line).find(|(at, ..)| *at == i) else {
                    continue;
                };
                let (low, high) = (n.low * unit.days(), n.high * unit.days());
                if heats
                    || high > LONGEST_CURE
                    || found
                        .iter()
                        .any(|f: &BesideOurs| f.what == Beside::CureDays)
                {
                    continue;
                }
                found.push(BesideOurs {
                    what: Beside::CureDays,
                    said: line
                        .scanned
                        .label(typed, (lexemes[i - 1].at.0, lexeme.at.1))
                        .to_string(),
                    low,
                    high,
                    ours: ours_days.map_or_else(
                        || "type how thick the piece is, and our days stand here".into(),
                        |days| {
                            format!(
                                "{}, by the longer of our schools",
                                show::days(f64::from(days))
                            )
                        },
                    ),
                    ours_least: ours_days.map(f64::from),
                    line: source,
                });
            }
            if let What::Degrees(low, high) = lexeme.what {
                if !(low.is_finite() && high.is_finite()) {
                    continue;
                }
                let inside = (40.0..=100.0).contains(&low) && near_inside(page, source, i);
                let what = if inside {
                    Beside::Inside
                } else if high <= 30.0 && !heats && says_where(line) {
                    Beside::ColdPlace
                } else {
                    continue;
                };
                found.push(BesideOurs {
                    what,
                    said: line.scanned.label(typed, lexeme.at).to_string(),
                    low,
                    high,
                    ours: match what {
                        Beside::Inside => inside_words(safe, class),
                        Beside::ColdPlace | Beside::CureDays => "1 to 4 °C (34 to 40 °F)".into(),
                    },
                    ours_least: (what == Beside::Inside).then_some(safe),
                    line: source,
                });
            }
        }
    }
    found
}

/// True where a line says how long something lies, or in which cold place: its temperature is that of the place.
fn says_where(line: &Line) -> bool {
    line.scanned.topics.has(Topic::ColdPlace)
        || line
            .scanned
            .lexemes
            .iter()
            .any(|l| matches!(l.what, What::Time(_)))
}

/// True when the words just before or behind a temperature say that it is the inside's.
fn near_inside(page: &Page<'_>, source: usize, i: usize) -> bool {
    let scanned = &page.lines[source].1.scanned;
    let is = |l: &Lexeme| {
        scanned.tokens[l.at.0..l.at.1].iter().any(|t| {
            matches!(
                t.word.as_str(),
                "inside"
                    | "internal"
                    | "internally"
                    | "core"
                    | "middle"
                    | "centre"
                    | "center"
                    | "thickest"
            )
        })
    };
    // Another temperature between is the one they are about.
    let other = |l: &&Lexeme| !matches!(l.what, What::Degrees(..));
    let lexemes = &scanned.lexemes;
    let behind = lexemes[i + 1..].iter().take(5).take_while(other).any(is);
    let before = lexemes[..i].iter().rev().take(5).take_while(other).any(is);
    // “Smoke at 110 °C until 63 °C”: until the meat is that warm.
    let until = i.checked_sub(1).is_some_and(|b| {
        let (from, to) = lexemes[b].at;
        let words = &scanned.tokens[from..to];
        words.iter().any(|t| {
            matches!(
                t.word.as_str(),
                "until" | "till" | "til" | "reaches" | "bis"
            )
        })
    });
    behind || before || (until && is_heated(&page.lines[source].1))
}

/// Whether a line says that something is smoked or cooked.
fn is_heated(line: &Line) -> bool {
    const WORDS: [&str; 5] = ["smok", "cook", "bak", "roast", "poach"];
    let mut tokens = line.scanned.tokens.iter();
    tokens.any(|t| WORDS.iter().any(|w| t.word.starts_with(w)))
}

/// Whether a line smokes in a chamber so cool that meat is warm in it for hours.
fn smokes_slowly(page: &Page<'_>, source: usize) -> bool {
    let line = &page.lines[source].1;
    let smokes = line
        .scanned
        .tokens
        .iter()
        .any(|t| t.word.starts_with("smok"));
    let mut lexemes = line.scanned.lexemes.iter().enumerate();
    smokes
        && lexemes.any(|(i, l)| match l.what {
            What::Degrees(_, high) => Celsius(high) < SLOW_UNDER && !near_inside(page, source, i),
            _ => false,
        })
}

/// True where something hangs for two weeks or longer.
pub(super) fn hangs_for_weeks(page: &Page<'_>) -> bool {
    page.lines.iter().any(|(_, line)| {
        line.scanned.topics.has(Topic::Hangs)
            && spans(line).any(|(_, n, unit)| n.high * unit.days() >= 14.0)
    })
}

/// Days in the cure, as the text says them: at most.
pub(super) fn days_said(page: &Page<'_>) -> Option<f64> {
    page.lines.iter().find_map(|(_, line)| {
        spans(line).find_map(|(_, n, unit)| match unit {
            TimeUnit::Days | TimeUnit::Weeks => {
                Some(n.high * unit.days()).filter(|d| *d <= LONGEST_CURE)
            }
            _ => None,
        })
    })
}

/// The meats that a text names, each once.
pub(super) fn meats<'a>(page: &Page<'_>, reader: &Reader<'a>) -> Vec<&'a Meat> {
    let catalogue: &'a Catalogue = reader.catalogue;
    let mut found: Vec<&Meat> = Vec::new();
    for (_, line) in &page.lines {
        for token in &line.scanned.tokens {
            // “bacon” and “ham” are made of other animals too.
            if matches!(token.word.as_str(), "bacon" | "ham" | "hams") {
                continue;
            }
            let word = token.word.strip_suffix('s').unwrap_or(&token.word);
            let named = catalogue.meats.iter().filter(|m| {
                !m.name.is_empty() && m.words.iter().any(|w| *w == token.word || w == word)
            });
            for meat in named {
                if !found.contains(&meat) {
                    found.push(meat);
                }
            }
        }
    }
    found
}

/// Safe temperatures of the meats that the text names (°C): the highest.
fn safe_inside(page: &Page<'_>, reader: &Reader<'_>) -> Option<f64> {
    let safe = meats(page, reader).into_iter().filter_map(|m| {
        let species = reader.catalogue.species(&m.key);
        species.map(|s| s.safe_inside_c).or(m.safe_inside_c)
    });
    safe.reduce(f64::max)
}

fn inside_words(safe: f64, class: Class) -> String {
    let said = format!(
        "{} ({}) to be eaten as it is",
        temperature(Celsius(safe), HeatUnit::Celsius),
        temperature(Celsius(safe), HeatUnit::Fahrenheit)
    );
    match class {
        Class::Fry => format!("any mark of taste, since it is fried; {said}"),
        Class::Cooked | Class::Dried | Class::SausageDried => said,
    }
}

fn our_days(
    page: &Page<'_>,
    sums: &Sums,
    ask: &RecipeCheckAsk,
    reader: &Reader<'_>,
) -> Option<u32> {
    if matches!(sums.method, RecipeMethod::Ground | RecipeMethod::SaltBox) {
        return None;
    }
    let answer = cure_time(
        &CureTimeAsk {
            thickness_mm: ask.thickness_mm?,
            method: if sums.method.is_brine() {
                Method::Brine
            } else {
                Method::Dry
            },
            mass_g: None,
            depth_mm_per_week: None,
            skin_on: page.topics.has(Topic::SkinOn) && !page.topics.has(Topic::SkinOff),
            fat_cap: false,
            injected: sums.method == RecipeMethod::Injection,
            temperature_c: 3.0,
        },
        &reader.catalogue.schools,
        Units::METRIC,
    )
    .ok()?;
    Some(answer.suggested_days)
}

/// What is dangerous about the times and temperatures of the text.
pub(super) fn findings(
    page: &Page<'_>,
    beside: &[BesideOurs],
    sums: &Sums,
    class: Class,
) -> Vec<RecipeFinding> {
    let mut found = Vec::new();
    let mut first: HashMap<usize, usize> = HashMap::new();
    for (i, part) in page.parts.iter().enumerate() {
        first.entry(part.source).or_insert(i);
    }
    let line_of = |source: usize| first.get(&source).copied();
    let mut add = |finding: Finding, source: usize| {
        found.push(RecipeFinding {
            finding,
            line: line_of(source),
        });
    };
    let cures = !matches!(sums.method, RecipeMethod::Unknown);
    for b in beside {
        match b.what {
            Beside::ColdPlace if cures && b.high > 7.0 => add(
                Finding::new(
                    Code::TooWarm,
                    Severity::Stop,
                    "Meat spoils faster than it cures in this warmth.",
                )
                .saw(b.said.clone())
                .wants(b.ours.clone())
                .remedy("Cure it in the fridge; only what hangs to dry lies warmer."),
                b.line,
            ),
            Beside::ColdPlace if cures && b.high > 4.5 => add(
                Finding::new(
                    Code::TooWarm,
                    Severity::Caution,
                    "Too warm to cure in: spoilage gains on the salt.",
                )
                .saw(b.said.clone())
                .wants(b.ours.clone())
                .remedy("Take a colder shelf."),
                b.line,
            ),
            Beside::Inside => {
                let Some(wants) = b.ours_least.filter(|w| b.high < w - 0.3) else {
                    continue;
                };
                if class == Class::Cooked {
                    add(
                        Finding::new(
                            Code::UnderSafeHeat,
                            Severity::Caution,
                            "The inside is not hot enough for this meat to be eaten as it is.",
                        )
                        .saw(b.said.clone())
                        .wants(format!("{} °C", trim(wants, 1)))
                        .remedy("Take it hotter, or cook it before eating."),
                        b.line,
                    );
                }
            }
            Beside::CureDays => {
                if let Some(ours) = b.ours_least.filter(|o| b.high < o * FAR_TOO_SHORT) {
                    add(
                        Finding::new(
                            Code::LeftCureEarly,
                            Severity::Caution,
                            "So few days do not cure a piece this thick to the middle.",
                        )
                        .saw(b.said.clone())
                        .wants(show::days(ours.round()))
                        .remedy("Leave it in for our days, or cut it thinner."),
                        b.line,
                    );
                }
            }
            Beside::ColdPlace => {}
        }
    }
    let mut warned = false;
    for (source, (_, line)) in page.lines.iter().enumerate() {
        let topics = line.scanned.topics;
        let long = spans(line).any(|(_, n, unit)| n.high * unit.days() > 4.0 / 24.0)
            || line
                .scanned
                .lexemes
                .iter()
                .any(|l| l.what == What::Time(TimeUnit::Nights));
        if topics.has(Topic::WarmPlace)
            && long
            && cures
            && !line.negated
            && !topics.has(Topic::ColdPlace)
        {
            add(
                Finding::new(
                    Code::TooWarm,
                    Severity::Stop,
                    "Raw meat left out of the cold spoils before it is cured.",
                )
                .wants("1 to 4 °C (34 to 40 °F)")
                .remedy("Cure it in the fridge from the first hour to the last."),
                source,
            );
        }
        if topics.has(Topic::HotBrine) && sums.method.is_brine() {
            add(
                Finding::new(
                    Code::BrineNotCold,
                    Severity::Caution,
                    "Warm brine on raw meat keeps it for hours where germs grow.",
                )
                .remedy("Let the brine go cold in the fridge before the meat goes in."),
                source,
            );
        }
        if !warned
            && sums.nitrite.is_some_and(|n| n.high <= 0.0)
            && sums.nitrate.is_some_and(|n| n.high <= 0.0)
            && !sums.cure_unknown
            && (topics.has(Topic::ColdSmoke)
                || smokes_slowly(page, source)
                || topics.has(Topic::Hangs)
                || topics.has(Topic::Seals))
            && !line.negated
            && cures
        {
            warned = true;
            add(
                Finding::new(
                    Code::NoNitriteHazard,
                    if topics.has(Topic::ColdSmoke) {
                        Severity::Stop
                    } else {
                        Severity::Caution
                    },
                    "Without nitrite, meat that is hung, smoked cold or sealed gives botulism what it wants: a moist, airless, slowly warming place.",
                )
                .remedy("Dose a curing salt, or keep it cold, cook it within days, and freeze the rest."),
                source,
            );
        }
    }
    found
}
