//! A line of meat, an ingredient, a share to pump in: from the words of a line to a part of the answer.

use super::super::line::{Item, Line, Measure, Per};
use super::super::scan::What;
use super::super::{AssumptionCode, LineKind};
use super::amount::{Said, band};
use super::{Brew, Page, Part, Quantity, Reader, Reading, Section};
use crate::catalogue::cure_names::CureName;
use crate::catalogue::cures::{Composition, Role};
use crate::catalogue::lexicon::{Lexicon, Of, Topic, UnitKind};
use crate::cure::brine::SATURATED_SALT_SHARE;
use crate::units::Band;
use crate::units::show::trim;

impl Page<'_> {
    /// “Inject 10 %”, “pump 300 g of it”.
    pub(super) fn pumped(&mut self, read: &Line, lexicon: &Lexicon) {
        let topics = read.scanned.topics;
        if !topics.has(Topic::Pumped) || topics.has(Topic::Loss) {
            return;
        }
        for item in read.items.iter().filter(|i| i.name.is_none()) {
            // A weight of meat is none of brine, unless it is so much on a kilogram.
            for amount in item
                .amounts
                .iter()
                .filter(|a| !item.is_meat || a.per.is_some())
            {
                let n = amount.number;
                let band = |by: f64| Band {
                    nominal: n.value * by,
                    low: n.low * by,
                    high: n.high * by,
                };
                match amount.measure {
                    Measure::Percent(Some(Of::Water)) => {}
                    Measure::Percent(_) if n.high <= 60.0 => {
                        self.pump.get_or_insert(band(0.01));
                    }
                    Measure::Unit(unit) => {
                        let row = &lexicon.units[unit];
                        let by = match row.kind {
                            UnitKind::Mass => row.size,
                            UnitKind::Volume if row.metric_only => row.us,
                            UnitKind::Volume
                            | UnitKind::Count
                            | UnitKind::Packet
                            | UnitKind::Rough
                            | UnitKind::Content => continue,
                        };
                        match amount.per {
                            None => {
                                self.pump_g.get_or_insert(band(by));
                            }
                            Some(per) if lexicon.units[per.unit].kind == UnitKind::Mass => {
                                let on = per.number * lexicon.units[per.unit].size;
                                self.pump.get_or_insert(band(by / on));
                            }
                            Some(_) => {}
                        }
                    }
                    Measure::Percent(_) | Measure::Bare => {}
                }
            }
        }
    }

    /// “Use 1 oz of this mix per lb”: the lines above are a stock to dose from.
    pub(super) fn mixed(&mut self, read: &Line, reader: &Reader<'_>) -> bool {
        let found = read
            .items
            .iter()
            .filter(|i| i.mix && i.name.is_none())
            .find_map(|i| {
                i.amounts.iter().find_map(|a| match (a.measure, a.per) {
                    (Measure::Unit(unit), Some(per))
                        if reader.lexicon.units[unit].kind == UnitKind::Mass =>
                    {
                        match reader.on(band(a, reader.lexicon.units[unit].size), Some(per)) {
                            Quantity::PerMeat(rate) => Some(rate),
                            Quantity::Batch(_) | Quantity::PerWater(_) | Quantity::PerAll(_) => {
                                None
                            }
                        }
                    }
                    (Measure::Percent(None | Some(Of::Meat)), _) => Some(band(a, 10.0)),
                    _ => None,
                })
            });
        if let Some(rate) = found {
            self.mix.get_or_insert(rate);
        }
        found.is_some()
    }

    /// “Salt to 40 degrees salometer”, “until it floats an egg”: salt by the strength of the water.
    pub(super) fn by_strength(&mut self, source: usize, typed: &str, read: &Line) -> bool {
        /// A hand with an instrument reads it to this (degrees).
        const READ_TO: f64 = 2.0;
        /// An egg floats from this share of salt, usually at this, surely at this.
        const EGG: [f64; 3] = [0.09, 0.115, 0.14];
        let has = |words: &[&str]| {
            read.scanned
                .tokens
                .iter()
                .any(|t| words.contains(&t.word.as_str()))
        };
        let instrument = has(&["salometer", "salinometer", "salimeter", "sal"]);
        let egg = has(&["egg", "eggs"]) && has(&["float", "floats", "floating", "swims"]);
        let degrees = read.scanned.lexemes.iter().find_map(|l| match &l.what {
            What::Number(n) => Some([n.low - READ_TO, n.value, n.high + READ_TO]),
            What::Degrees(low, high) => Some([low - READ_TO, (low + high) / 2.0, high + READ_TO]),
            _ => None,
        });
        let share = match degrees.filter(|_| instrument) {
            Some(degrees) => degrees.map(|d| (d / 100.0).clamp(0.0, 1.0) * SATURATED_SALT_SHARE),
            None if egg => EGG,
            None => return false,
        };
        let [low, nominal, high] = share.map(|s| s / (1.0 - s) * 1_000.0);
        let mut part = Part::bare(source, LineKind::Ingredient);
        part.ingredient = Some("salt".into());
        part.role = Some(Role::Salt);
        part.asks(
            AssumptionCode::About,
            format!(
                "A strength of the brine is no weight: {} to {} g of salt in a litre of water are reckoned with. Weigh the salt.",
                trim(low, 0),
                trim(high, 0)
            ),
        );
        part.readings.push(Reading {
            said: typed.trim().to_string(),
            quantity: Quantity::PerWater(Band { nominal, low, high }),
            by_volume: false,
            kind_open: false,
        });
        self.parts.push(part);
        true
    }

    /// “4 liters used”, under amounts by the litre: that is the water.
    pub(super) fn in_all(
        &mut self,
        source: usize,
        typed: &str,
        read: &Line,
        section: &Section,
        reader: &Reader<'_>,
    ) -> bool {
        let units = &reader.lexicon.units;
        let by_volume =
            |per: Option<Per>| per.is_some_and(|p| units[p.unit].kind == UnitKind::Volume);
        let basis = read.basis.unwrap_or(section.basis);
        if !by_volume(basis.per) {
            return false;
        }
        let used = |item: &&Item| {
            let word = |w: &String| {
                matches!(
                    w.as_str(),
                    "used" | "use" | "total" | "altogether" | "made" | "brine"
                )
            };
            item.name.is_none() && !item.is_meat && item.words.iter().any(word)
        };
        let found = read.items.iter().filter(used).find_map(|item| {
            item.amounts.iter().find_map(|a| match a.measure {
                Measure::Unit(unit) if a.per.is_none() && units[unit].kind == UnitKind::Volume => {
                    let by = reader.ml(&units[unit]);
                    Some((a, band(a, by)))
                }
                Measure::Unit(_) | Measure::Percent(_) | Measure::Bare => None,
            })
        });
        let Some((amount, ml)) = found else {
            return false;
        };
        let mut part = Part::bare(source, LineKind::Water);
        part.ingredient = Some("water".into());
        part.role = Some(Role::Water);
        part.readings.push(Reading {
            said: read.scanned.label(typed, amount.at).to_string(),
            quantity: Quantity::Batch(ml),
            by_volume: true,
            kind_open: false,
        });
        self.parts.push(part);
        // The same line may hold the amounts themselves.
        !read.items.iter().any(|i| i.name.is_some() || i.is_meat)
    }

    pub(super) fn meat(
        &mut self,
        source: usize,
        typed: &str,
        read: &Line,
        item: &Item,
        alone: bool,
        reader: &Reader<'_>,
    ) {
        let mut part = Part::bare(source, LineKind::Meat);
        part.is_for = item.is_for && !alone;
        part.ingredient = Some(meat_words(item));
        let count = item.count.or_else(|| {
            item.amounts.iter().find_map(|a| match a.measure {
                Measure::Unit(u) if reader.lexicon.units[u].kind == UnitKind::Count => {
                    Some(a.number.value)
                }
                _ => None,
            })
        });
        let counted = item.amounts.iter().any(|a| matches!(a.measure, Measure::Unit(u) if reader.lexicon.units[u].kind == UnitKind::Count));
        let times = if item.each || counted {
            count.unwrap_or(1.0)
        } else {
            1.0
        };
        for amount in &item.amounts {
            let Measure::Unit(unit) = amount.measure else {
                continue;
            };
            let row = &reader.lexicon.units[unit];
            if row.kind != UnitKind::Mass {
                continue;
            }
            if amount.is_near {
                part.asks(
                    AssumptionCode::About,
                    format!(
                        "“{}” is a weight by eye: weigh the meat.",
                        read.scanned.label(typed, amount.at)
                    ),
                );
            }
            let by = row.size * times;
            part.readings.push(Reading {
                said: read.scanned.label(typed, amount.at).to_string(),
                quantity: Quantity::Batch(band(amount, by)),
                by_volume: false,
                kind_open: false,
            });
        }
        match reader.settled(AssumptionCode::AmountsDiffer, typed) {
            Some("second") if part.readings.len() > 1 => {
                part.readings.swap(0, 1);
                part.readings.truncate(1);
            }
            Some("first") => part.readings.truncate(1),
            Some(_) | None => {}
        }
        if part.readings.is_empty() {
            part.notes.push("No weight of this is said.".into());
        }
        part.said_slip(item);
        self.parts.push(part);
    }

    #[allow(clippy::too_many_arguments)]
    pub(super) fn ingredient(
        &mut self,
        source: usize,
        typed: &str,
        read: &Line,
        item: &Item,
        section: &Section,
        reader: &Reader<'_>,
        by_verb: bool,
    ) {
        // “salt, kosher, flaked” says its grain beside its name.
        let name = item.name.map(|n| reader.lexicon.grained(n, &item.words));
        let row = name.map(|n| &reader.lexicon.names[n]);
        let mut part = Part::bare(source, LineKind::Ingredient);
        part.name = name;
        part.by_verb = by_verb;
        part.only_named = !item.says_how_much();
        part.words = own_words(item, reader.lexicon);
        part.pot = section.pot;
        part.alternative = item.alternative;
        part.said_slip(item);
        let nearly = item.nearly_a_cure && item.holds == [None, None] && may_be_a_cure(item);
        match row {
            Some(row) if !(nearly && row.role == Role::Salt) => {
                reader.named(&mut part, row, item, typed);
            }
            Some(_) | None => {
                let words = item.words.join(" ");
                part.ingredient = Some(words.clone());
                part.role = Some(Role::Spice);
                let named = named_a_cure(reader, &words, typed);
                if item.holds != [None, None] {
                    reader.holding(&mut part, item);
                } else if let Some(named) = named.filter(|_| !nearly) {
                    reader.called_a_cure(&mut part, named, &words, typed);
                } else if nearly {
                    part.role = Some(Role::CuringSalt);
                    part.brew = Some(Brew {
                        key: None,
                        name: words.clone(),
                        made_of: Composition {
                            nitrite: 0.0,
                            nitrate: 0.0,
                            salt: 0.0,
                            sugar: 0.0,
                        },
                        pure: None,
                        unknown: true,
                    });
                    reader.which_cure(&mut part, typed, format!(
                        "“{words}” may be a curing salt with a letter wrong. The name of one is never guessed: say which it is."
                    ));
                }
            }
        }
        if item.either_cure {
            reader.either_cure(&mut part, typed);
        }
        if part.role == Some(Role::Water) {
            part.kind = LineKind::Water;
        }
        if part.name.is_none() && part.brew.is_none() {
            let words = part.ingredient.clone().unwrap_or_default();
            part.asks(
                AssumptionCode::UnknownIngredient,
                format!("“{words}” is not known here by its name: it is reckoned as a seasoning, without salt or nitrite."),
            );
        }
        let called = part.ingredient.clone().unwrap_or_default();
        if let Some(mass) = reader.settled_mass(typed, &called) {
            part.readings.push(Reading {
                said: trim(mass, 2) + " g",
                quantity: Quantity::Batch(Band::exactly(mass)),
                by_volume: false,
                kind_open: false,
            });
            part.notes
                .push("By the weight that was typed for it here.".into());
            self.parts.push(part);
            return;
        }
        let mut amounts = item.amounts.clone();
        if amounts.is_empty()
            && let Some(n) = item.count
        {
            part.notes
                .push(format!("{} of it: a count has no weight.", trim(n, 2)));
            part.unweighed = true;
        }
        for amount in &mut amounts {
            // A number without a unit is what its section counts in.
            if amount.measure == Measure::Bare && item.count.is_none() {
                if section.basis.percent {
                    amount.measure = Measure::Percent(section.basis.of);
                } else if let Some(unit) = section.basis.unit {
                    amount.measure = Measure::Unit(unit);
                }
            }
            let per = amount.per.or(section.basis.per.filter(|p| {
                // What is counted by the meat is no water, and the other way round.
                part.role != Some(Role::Water)
                    || reader.lexicon.units[p.unit].kind == UnitKind::Mass
            }));
            let said = Said {
                item,
                typed,
                words: read.scanned.label(typed, amount.at).to_string(),
            };
            reader.amount(&mut part, amount, per, &said, self.percent_of_all);
        }
        if item.taste && part.readings.is_empty() {
            part.unweighed = true;
            part.notes.push("No amount is said.".into());
        }
        if item.rest && part.readings.is_empty() {
            part.unweighed = true;
            part.open.retain(|q| q.code != AssumptionCode::PartOfPacket);
            part.asks(
                AssumptionCode::PartOfPacket,
                "Nobody knows what is left in it: weigh the jar before and after.".into(),
            );
        }
        if part.readings.is_empty() && part.notes.is_empty() && part.open.is_empty() {
            part.unweighed = true;
            part.notes.push("No amount is said.".into());
        }
        if item.alternative {
            part.notes
                .push("Something else is offered in its place; this one is reckoned with.".into());
        }
        let bare_only = part.readings.is_empty()
            && item.count.is_none()
            && !amounts.is_empty()
            && amounts.iter().all(|a| a.measure == Measure::Bare);
        // “bay leaves: 3”, “onion (1 medium)” count them.
        let countable = part.name.is_some_and(|n| {
            let row = &reader.lexicon.names[n];
            row.each.is_some() || (row.own_words && row.role == Role::Spice)
        });
        if bare_only && countable {
            part.unweighed = true;
            part.notes = vec!["A count has no weight.".into()];
        } else if bare_only {
            part.unweighed = true;
            part.notes = vec!["A number without a unit: write g, tsp or % behind it.".into()];
            if part.role != Some(Role::CuringSalt) {
                part.kind = LineKind::NotUnderstood;
            }
        }
        // Two spoons of one line ask the same once.
        let mut asked = Vec::new();
        part.open.retain(|q| {
            let new = !asked.contains(&q.code);
            asked.push(q.code);
            new
        });
        self.parts.push(part);
    }
}

/// What a line calls a thing, without the words that name nothing.
fn own_words(item: &Item, lexicon: &Lexicon) -> String {
    let words = item.words.iter().map(String::as_str);
    let named: Vec<_> = words.filter(|w| !lexicon.is_filler(w)).collect();
    named.join(" ")
}

/// What a name that is on no list says of the nitrite it brings: by its own words, else by the line they stand in, where a number
/// behind them was read as an amount.
fn named_a_cure(reader: &Reader<'_>, words: &str, typed: &str) -> Option<CureName> {
    let catalogue = reader.catalogue;
    if let Some(named) = catalogue.cure_name(words) {
        let numbered = matches!(named, CureName::One | CureName::Two);
        let line = catalogue.cure_name(typed.trim_start_matches(|c: char| !c.is_alphabetic()));
        let more = line.filter(|l| !numbered && matches!(l, CureName::One | CureName::Two));
        return Some(more.unwrap_or(named));
    }
    let mine = typed.to_lowercase().contains(&words.to_lowercase());
    let line = typed.trim_start_matches(|c: char| !c.is_alphabetic());
    let named = catalogue.cure_name(line);
    named.filter(|n| mine && matches!(n, CureName::One | CureName::Two))
}

/// A misspelt “celery” is a cure only as a powder or juice.
fn may_be_a_cure(item: &Item) -> bool {
    let has = |list: &[&str]| item.words.iter().any(|w| list.contains(&w.as_str()));
    !item
        .words
        .iter()
        .any(|w| w.starts_with("ce") && w.ends_with('y'))
        || has(&["powder", "juice", "extract"])
}

fn meat_words(item: &Item) -> String {
    let words = item.words.join(" ");
    if words.is_empty() {
        "meat".into()
    } else {
        words
    }
}
