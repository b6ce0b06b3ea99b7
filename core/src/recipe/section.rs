//! The whole text: which heading rules which line, and what each line comes to.

use super::line::{Amount, Basis, Item, Line, Measure, Per, line};
use super::scan::{What, scan};
use super::{AssumptionCode, LineKind, Measures, Settled};
use crate::catalogue::Catalogue;
use crate::catalogue::lexicon::{
    Lexicon, NameRow, Of, Open, Pure, SaltKinds, Topic, Topics, UnitKind, UnitRow,
};
use crate::catalogue::spoons::Spoon;
use crate::cure::spoons::weigh;
use crate::cure::{Composition, Role};
use crate::units::read;
use crate::units::show::trim;
use crate::units::{Band, MassUnit};

/// KNO2 and KNO3 as the sodium salts that bring as much, by molar mass.
const POTASSIUM_NITRITE: f64 = 0.811;
const POTASSIUM_NITRATE: f64 = 0.841;

/// Where a line goes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(super) enum Pot {
    /// On the meat, or into the mix.
    Dry,
    /// Into the water around it.
    Brine,
    /// Into the water that is pumped in.
    Pumped,
    /// On it when the cure is over.
    After,
    /// Nobody says.
    #[default]
    Unsaid,
}

/// So much, by what it is counted on (g, or g on a kilogram).
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Quantity {
    Batch(Band),
    PerMeat(Band),
    PerWater(Band),
    PerAll(Band),
}

/// One reading of an amount.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Reading {
    pub said: String,
    pub quantity: Quantity,
    /// By the spoon: nobody weighed it.
    pub by_volume: bool,
    /// What it may weigh is open because nobody says which kind it is.
    pub kind_open: bool,
}

/// What a curing salt of the text is made of.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Brew {
    pub key: Option<String>,
    pub name: String,
    pub made_of: Composition,
    pub pure: Option<Pure>,
    /// What nobody knows of it.
    pub unknown: bool,
}

/// A line of the answer: one ingredient, or what else a line is.
#[derive(Clone, Debug)]
pub(super) struct Part {
    /// The line of the text it stands in.
    pub source: usize,
    pub kind: LineKind,
    pub name: Option<usize>,
    pub ingredient: Option<String>,
    pub role: Option<Role>,
    pub brew: Option<Brew>,
    pub readings: Vec<Reading>,
    pub pot: Pot,
    pub notes: Vec<String>,
    pub open: Vec<Question>,
    /// Salt in it: at least, usually, at most.
    pub salty: Option<[f64; 3]>,
    pub sugar: f64,
    pub is_for: bool,
    /// A verb line, whose amounts count only when nothing else lists them.
    pub by_verb: bool,
    /// True when it says no amount that is a number.
    pub unweighed: bool,
    pub alternative: bool,
    /// Left out of the sums: it is said twice.
    pub said_twice: bool,
    pub pinch: bool,
    pub purity: Option<f64>,
}

/// Something that had to be assumed.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Question {
    pub code: AssumptionCode,
    pub message: String,
    pub value: Option<String>,
    pub choices: Vec<(String, String)>,
}

impl Part {
    fn bare(source: usize, kind: LineKind) -> Self {
        Self {
            source,
            kind,
            name: None,
            ingredient: None,
            role: None,
            brew: None,
            readings: Vec::new(),
            pot: Pot::Unsaid,
            notes: Vec::new(),
            open: Vec::new(),
            salty: None,
            sugar: 0.0,
            is_for: false,
            by_verb: false,
            unweighed: false,
            alternative: false,
            said_twice: false,
            pinch: false,
            purity: None,
        }
    }

    fn asks(&mut self, code: AssumptionCode, message: String) {
        self.open.push(Question {
            code,
            message,
            value: None,
            choices: Vec::new(),
        });
    }
}

/// The text, line by line, with what it says as a whole.
pub(super) struct Page<'a> {
    pub lines: Vec<(&'a str, Line)>,
    pub parts: Vec<Part>,
    pub topics: Topics,
    /// Brine pumped in, as a share of the meat.
    pub pump: Option<Band>,
    /// Brine pumped in by weight (g).
    pub pump_g: Option<Band>,
    /// So much of the mix of its lines on a kilogram of meat (g/kg).
    pub mix: Option<Band>,
    /// True when a percentage had to be taken as of something.
    pub percent_of_all: bool,
}

/// What is read by.
pub(super) struct Reader<'a> {
    pub lexicon: &'a Lexicon,
    pub catalogue: &'a Catalogue,
    pub measures: Measures,
    pub settled: &'a [Settled],
}

#[derive(Clone, Copy, Default)]
struct Section {
    pot: Pot,
    basis: Basis,
}

/// Reads a whole text.
pub(super) fn page<'a>(text: &'a str, reader: &Reader<'_>) -> Page<'a> {
    let mut page = Page {
        lines: Vec::new(),
        parts: Vec::new(),
        topics: Topics::default(),
        pump: None,
        pump_g: None,
        mix: None,
        percent_of_all: false,
    };
    for typed in text.lines().filter(|l| !l.trim().is_empty()) {
        let read = line(scan(typed, reader.lexicon), reader.lexicon);
        page.topics = page.topics.with(read.scanned.topics);
        page.lines.push((typed, read));
    }
    let whole = whole_basis(&page.lines);
    page.percent_of_all = says_of_all(&page) || (page.topics.has(Topic::Equal));
    let mut section = Section {
        pot: Pot::Unsaid,
        basis: whole.unwrap_or_default(),
    };
    let lines = std::mem::take(&mut page.lines);
    for (source, (typed, read)) in lines.iter().enumerate() {
        let before = page.parts.len();
        page.take(source, typed, read, &mut section, reader);
        if page.parts.len() == before {
            page.parts.push(Part::bare(source, LineKind::NotUnderstood));
        }
        if read.cut_off {
            page.parts.push(Part {
                notes: vec!["More stands in this line than is read. Write it in several.".into()],
                ..Part::bare(source, LineKind::NotUnderstood)
            });
        }
    }
    page.lines = lines;
    page.count_once();
    page
}

/// “All amounts are per kilo”, wherever it stands.
fn whole_basis(lines: &[(&str, Line)]) -> Option<Basis> {
    let says_all = |line: &Line| {
        line.scanned.tokens.iter().any(|t| {
            matches!(
                t.word.as_str(),
                "all" | "amounts" | "quantities" | "everything" | "figures" | "above" | "weights"
            )
        })
    };
    let amounts = |l: &Line| {
        l.items
            .iter()
            .any(|i| i.name.is_some() && i.says_how_much())
    };
    let is_basis = |l: &Line| {
        l.basis.is_some_and(|b| b.per.is_some() || b.percent)
            && !l.items.iter().any(Item::says_how_much)
    };
    // Said behind what it rules, and no heading of what comes: it rules all of it.
    let found = lines.iter().enumerate().skip(1).find(|(i, (_, l))| {
        is_basis(l)
            && (says_all(l)
                || (!l.colon
                    && lines[..*i].iter().any(|(_, before)| amounts(before))
                    && !lines[..*i].iter().any(|(_, before)| before.basis.is_some())))
    });
    found.and_then(|(_, (_, l))| l.basis)
}

fn says_of_all(page: &Page<'_>) -> bool {
    page.lines.iter().any(|(_, l)| {
        l.scanned
            .lexemes
            .iter()
            .any(|x| x.what == What::Of(Of::All))
    })
}

fn pot_of(topics: Topics) -> Pot {
    if topics.has(Topic::After) {
        Pot::After
    } else if topics.has(Topic::Pumped) {
        Pot::Pumped
    } else if topics.has(Topic::Brine) {
        Pot::Brine
    } else if topics.has(Topic::Rub) {
        Pot::Dry
    } else {
        Pot::Unsaid
    }
}

impl Page<'_> {
    fn take(
        &mut self,
        source: usize,
        typed: &str,
        read: &Line,
        section: &mut Section,
        reader: &Reader<'_>,
    ) {
        let words = plain(read);
        let begins_verb = reader.lexicon.begins(&words, Topic::Verb)
            || (words.len() > 2
                && reader.lexicon.begins(&words[1..], Topic::Verb)
                && matches!(
                    words[0],
                    "then"
                        | "now"
                        | "next"
                        | "first"
                        | "finally"
                        | "gently"
                        | "slowly"
                        | "lightly"
                        | "carefully"
                ));
        self.pumped(read, reader.lexicon);
        if self.mixed(read, reader) {
            self.parts.push(Part::bare(source, LineKind::Instruction));
            return;
        }
        let washes = reader.lexicon.begins(&words, Topic::Wash);
        let said: Vec<&Item> = read.items.iter().filter(|i| i.says_how_much()).collect();
        let names_salt = said.iter().any(|i| {
            i.name.is_some_and(|n| {
                matches!(reader.lexicon.names[n].role, Role::Salt | Role::CuringSalt)
            })
        });
        if (washes && !names_salt) || (read.negated && !said.iter().any(|i| i.is_meat)) {
            self.parts.push(Part::bare(source, LineKind::Instruction));
            return;
        }
        let begins_verb = begins_verb && !starts_with_name(read);
        let kept: Vec<&Item> = read
            .items
            .iter()
            .filter(|i| counts(i, begins_verb, read, reader.lexicon))
            .collect();
        let own_basis = read
            .basis
            .filter(|b| b.per.is_some() || b.percent || b.unit.is_some());
        if kept.is_empty() {
            let kind = self.kind_of_rest(source, read, &words, begins_verb, reader);
            if kind == LineKind::Heading {
                let pot = pot_of(read.scanned.topics);
                let kept_basis = if pot == section.pot
                    || pot == Pot::Unsaid
                    || section.basis.of != Some(Of::Water)
                {
                    section.basis
                } else {
                    Basis::default()
                };
                if pot != Pot::Unsaid {
                    section.pot = pot;
                } else if read.colon
                    && read.scanned.topics.has(Topic::Heading)
                    && section.pot == Pot::After
                {
                    section.pot = Pot::Unsaid;
                }
                section.basis = own_basis.unwrap_or(kept_basis);
            }
            if kind == LineKind::Ingredient {
                for item in read.items.iter().filter(|i| i.name.is_some()) {
                    self.ingredient(source, typed, read, item, section, reader, false);
                }
            } else {
                self.parts.push(Part::bare(source, kind));
            }
            return;
        }
        // “Per kg: 22 g salt” rules this line, and the ones below it.
        let mut here = *section;
        if let Some(basis) = own_basis {
            here.basis = basis;
            if !begins_verb {
                section.basis = basis;
            }
        }
        let only_meat = kept.iter().all(|i| i.is_meat);
        if let Some(pot) = heading_before(read) {
            here.pot = pot;
            section.pot = pot;
        } else if only_meat && read.colon {
            let pot = pot_of(read.scanned.topics);
            if pot != Pot::Unsaid {
                section.pot = pot;
            }
        }
        if only_meat && own_basis.is_none() && (read.colon || kept.iter().any(|i| i.is_for)) {
            // “For 5 lb:” counts what follows for that batch.
            section.basis = Basis::default();
        }
        for item in kept {
            if item.is_meat {
                self.meat(source, typed, read, item, only_meat, reader);
            } else {
                self.ingredient(source, typed, read, item, &here, reader, begins_verb);
            }
        }
    }

    /// What a line is that names no amount of anything.
    fn kind_of_rest(
        &self,
        source: usize,
        read: &Line,
        words: &[&str],
        begins_verb: bool,
        reader: &Reader<'_>,
    ) -> LineKind {
        let topics = read.scanned.topics;
        let lexemes = &read.scanned.lexemes;
        let has_time = lexemes
            .iter()
            .any(|l| matches!(l.what, What::Time(_) | What::Degrees(..)));
        let has_number = lexemes.iter().any(|l| matches!(l.what, What::Number(_)));
        let titled = topics.has(Topic::Heading)
            || topics.has(Topic::Brine)
            || topics.has(Topic::Rub)
            || topics.has(Topic::Pumped)
            || topics.has(Topic::After);
        let named = read.items.iter().any(|i| i.name.is_some());
        let basis = read
            .basis
            .is_some_and(|b| b.per.is_some() || b.percent || b.unit.is_some());
        if read.colon || (basis && !has_time) {
            return LineKind::Heading;
        }
        if source == 0 && !(begins_verb && words.len() > 4) {
            return LineKind::Heading;
        }
        if titled
            && words.len() <= 5
            && !has_time
            && !has_number
            && !(begins_verb && words.len() > 2)
        {
            return LineKind::Heading;
        }
        if named && heading_before(read).is_some() {
            return LineKind::Ingredient;
        }
        if begins_verb || has_time || topics.has(Topic::Loss) {
            return LineKind::Instruction;
        }
        if named && words.len() <= 8 && !has_number {
            return LineKind::Ingredient;
        }
        if topics.has(Topic::Verb) && words.len() >= 3 {
            return LineKind::Instruction;
        }
        if read.items.iter().any(|i| i.is_meat) && words.len() <= 8 {
            return LineKind::Meat;
        }
        let known = words.iter().filter(|w| reader.lexicon.knows(w)).count();
        if words.len() >= 5 && !has_number {
            return LineKind::Instruction;
        }
        if titled && !has_number && known > 0 {
            return LineKind::Heading;
        }
        LineKind::NotUnderstood
    }

    /// “Inject 10 %”, “pump 300 g of it”.
    fn pumped(&mut self, read: &Line, lexicon: &Lexicon) {
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
    fn mixed(&mut self, read: &Line, reader: &Reader<'_>) -> bool {
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

    fn meat(
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
                        read.scanned.said(typed, amount.at)
                    ),
                );
            }
            let by = row.size * times;
            part.readings.push(Reading {
                said: read.scanned.said(typed, amount.at).to_string(),
                quantity: Quantity::Batch(band(amount, by)),
                by_volume: false,
                kind_open: false,
            });
        }
        if part.readings.is_empty() {
            part.notes.push("No weight of this is said.".into());
        }
        part.said_slip(item);
        self.parts.push(part);
    }

    #[allow(clippy::too_many_arguments)]
    fn ingredient(
        &mut self,
        source: usize,
        typed: &str,
        read: &Line,
        item: &Item,
        section: &Section,
        reader: &Reader<'_>,
        by_verb: bool,
    ) {
        let row = item.name.map(|n| &reader.lexicon.names[n]);
        let mut part = Part::bare(source, LineKind::Ingredient);
        part.name = item.name;
        part.by_verb = by_verb;
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
                if item.holds != [None, None] {
                    reader.holding(&mut part, item);
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
                words: read.scanned.said(typed, amount.at).to_string(),
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
        if bare_only {
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

    /// What a sentence repeats of what is listed already goes in once.
    fn count_once(&mut self) {
        for i in 0..self.parts.len() {
            if !self.parts[i].by_verb || self.parts[i].name.is_none() {
                continue;
            }
            let topics = self.lines[self.parts[i].source].1.scanned.topics;
            if topics.has(Topic::TopUp) {
                continue;
            }
            let listed = self.parts.iter().any(|p| {
                !p.by_verb
                    && p.name == self.parts[i].name
                    && (!p.readings.is_empty() || p.unweighed)
            });
            if listed {
                self.parts[i].said_twice = true;
                self.parts[i].kind = LineKind::Instruction;
                self.parts[i].readings.clear();
                self.parts[i].open.clear();
                self.parts[i].notes =
                    vec!["Listed above already: it is reckoned with once.".into()];
            }
        }
    }
}

/// The words of a line without its signs.
fn plain(read: &Line) -> Vec<&str> {
    read.scanned
        .tokens
        .iter()
        .filter(|t| !matches!(t.kind, super::scan::Kind::Sign(_)))
        .map(|t| t.word.as_str())
        .collect()
}

/// “Cure #1: 5 g” begins with a name that is a verb too.
fn starts_with_name(read: &Line) -> bool {
    let first = read.scanned.lexemes.first();
    matches!(
        first.map(|l| &l.what),
        Some(What::Name(_) | What::UnitOrName(..))
    ) && read.items.first().is_some_and(|i| i.name.is_some())
        && read.items.iter().any(Item::says_how_much)
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

/// A line that names its pot before its items: “Brine: 2 l water, 100 g salt”.
fn heading_before(read: &Line) -> Option<Pot> {
    let colon = read
        .scanned
        .lexemes
        .iter()
        .position(|l| l.what == What::Sign(':'))?;
    let no_amount = !read.scanned.lexemes[..colon]
        .iter()
        .any(|l| matches!(l.what, What::Number(_) | What::Name(_)));
    let pot = pot_of(read.scanned.topics);
    (no_amount && pot != Pot::Unsaid && colon <= 4).then_some(pot)
}

/// True when an item of a line is an amount of something that goes in.
fn counts(item: &Item, begins_verb: bool, read: &Line, lexicon: &Lexicon) -> bool {
    if item.is_meat {
        return item.amounts.iter().any(|a| {
            a.per.is_none()
                && matches!(a.measure, Measure::Unit(u) if lexicon.units[u].kind == UnitKind::Mass)
        }) || (item.says_how_much() && !begins_verb);
    }
    let measured = item.amounts.iter().any(|a| match a.measure {
        Measure::Unit(_) => true,
        Measure::Percent(_) => item.name.is_some() || item.holds != [None, None],
        Measure::Bare => false,
    });
    match item.name {
        Some(_) if begins_verb => measured || (item.taste && read.items.len() == 1),
        Some(_) => item.says_how_much(),
        None if item.gear || begins_verb => false,
        None => {
            let topics = read.scanned.topics;
            measured
                && !topics.has(Topic::Loss)
                && (!topics.has(Topic::Pumped) || item.words.len() > 1)
                && (!item.words.is_empty() || item.holds != [None, None])
                && !read
                    .scanned
                    .lexemes
                    .iter()
                    .any(|l| matches!(l.what, What::Time(_)))
        }
    }
}

fn meat_words(item: &Item) -> String {
    let words = item.words.join(" ");
    if words.is_empty() {
        "meat".into()
    } else {
        words
    }
}

/// An amount in grams or whatever one of its unit is.
fn band(amount: &Amount, by: f64) -> Band {
    Band {
        nominal: amount.number.value * by,
        low: amount.number.low * by,
        high: amount.number.high * by,
    }
}

impl Part {
    fn said_slip(&mut self, item: &Item) {
        if let Some(meant) = &item.slip {
            self.asks(
                AssumptionCode::Spelling,
                format!("Read as “{meant}”, with one letter changed."),
            );
        }
    }
}

/// The spoons that a salt of no said kind may be.
pub(super) const fn salt_keys(kinds: SaltKinds) -> &'static [&'static str] {
    match kinds {
        SaltKinds::Any => &[
            "table_salt",
            "kosher_salt_dense",
            "coarse_sea_salt",
            "kosher_salt_flaked",
        ],
        SaltKinds::Kosher => &["kosher_salt_dense", "kosher_salt_flaked"],
        SaltKinds::Sea => &["coarse_sea_salt", "table_salt"],
    }
}

impl Reader<'_> {
    fn spoon(&self, key: &str) -> Option<&Spoon> {
        self.catalogue.spoons.iter().find(|s| s.key == key)
    }

    /// What somebody settled for a line.
    pub(super) fn settled(&self, code: AssumptionCode, typed: &str) -> Option<&str> {
        self.settled
            .iter()
            .rev()
            .find(|s| s.code == code && s.is_for(typed))
            .map(|s| s.value.trim())
    }

    /// The weight that somebody typed for an ingredient of a line, in the place of its own words.
    fn settled_mass(&self, typed: &str, ingredient: &str) -> Option<f64> {
        let said = self.settled.iter().rev().find(|s| {
            s.code.takes_a_weight()
                && s.line_text.as_deref().map(str::trim) == Some(typed.trim())
                && s.ingredient.as_deref().is_none_or(|i| i == ingredient)
        })?;
        read::mass(&said.value, MassUnit::Metric)
            .ok()
            .map(|g| g.0)
            .filter(|g| *g > 0.0)
    }

    /// What a name brings with it.
    fn named(&self, part: &mut Part, row: &NameRow, item: &Item, typed: &str) {
        part.ingredient = Some(if row.own_words {
            item.words.join(" ")
        } else {
            row.key.clone()
        });
        part.role = Some(row.role);
        part.sugar = row.sugar;
        if let Some(brings) = row.brings.as_deref().and_then(|b| self.catalogue.brings(b)) {
            part.sugar = brings.sugar;
            if brings.salt > 0.0 {
                let (low, high) = brings
                    .salt_range
                    .as_ref()
                    .map_or((brings.salt, brings.salt), |r| (r.low, r.high));
                part.salty = Some([low, brings.salt, high]);
            }
        }
        if let Some(salty) = row.salty {
            part.salty = Some(salty);
        }
        if let Some(salty) = &mut part.salty {
            let settled = self
                .settled(AssumptionCode::SauceSaltAssumed, typed)
                .and_then(|v| read::percent(v).ok())
                .map(|f| f.0);
            match settled {
                Some(share) => *salty = [share, share, share],
                None => {
                    let [low, usual, high] = *salty;
                    part.open.push(Question {
                        code: AssumptionCode::SauceSaltAssumed,
                        message: format!(
                            "Salt in {}: {} % taken ({} to {} %). Its label says it better.",
                            row.key,
                            trim(usual * 100.0, 1),
                            trim(low * 100.0, 1),
                            trim(high * 100.0, 1)
                        ),
                        value: Some(format!("{} %", trim(usual * 100.0, 1))),
                        choices: Vec::new(),
                    });
                }
            }
        }
        if row.role == Role::CuringSalt || item.holds[0].is_some() {
            self.cured_by(part, row, item, typed);
        }
        if row.role == Role::Accelerator {
            part.purity = if row.accelerator.as_deref() == Some("cure accelerator") {
                None
            } else {
                Some(1.0)
            };
        }
    }

    fn cured_by(&self, part: &mut Part, row: &NameRow, item: &Item, typed: &str) {
        part.role = Some(Role::CuringSalt);
        if item.holds != [None, None] {
            self.holding(part, item);
            return;
        }
        if let Some(pure) = row.pure {
            let (nitrite, nitrate) = match pure {
                Pure::SodiumNitrite => (1.0, 0.0),
                Pure::PotassiumNitrite => (POTASSIUM_NITRITE, 0.0),
                Pure::SodiumNitrate => (0.0, 1.0),
                Pure::PotassiumNitrate => (0.0, POTASSIUM_NITRATE),
            };
            part.brew = Some(Brew {
                key: None,
                name: row.key.clone(),
                made_of: Composition {
                    nitrite,
                    nitrate,
                    salt: 0.0,
                    sugar: 0.0,
                },
                pure: Some(pure),
                unknown: false,
            });
            return;
        }
        let usual = row.cure.as_deref().unwrap_or("none");
        let brew = |key: &str, unknown: bool| {
            let cure = self.catalogue.cure(key);
            cure.map(|c| Brew {
                key: Some(c.key.clone()),
                name: c.name.clone(),
                made_of: c.made_of.clone(),
                pure: None,
                unknown,
            })
        };
        match row.assumed {
            None => part.brew = brew(usual, false),
            Some(Open::Composition) => {
                let key = self
                    .settled(AssumptionCode::CompositionAssumed, typed)
                    .unwrap_or(usual)
                    .to_string();
                part.brew = brew(&key, false).or_else(|| brew(usual, false));
                let name = part
                    .brew
                    .as_ref()
                    .map_or("", |b| b.name.as_str())
                    .to_string();
                self.which_composition(part, format!(
                    "“{}” does not say which: {name} is taken, {}. Compare with the bag in your hand.",
                    row.key,
                    self.made_of(part)
                ));
            }
            Some(Open::Blend) => {
                part.brew = brew(usual, false);
                if let Some(said) = self.settled(AssumptionCode::CompositionAssumed, typed)
                    && let Some(own) = brew(said, false)
                {
                    part.brew = Some(own);
                }
                self.which_composition(part, format!(
                    "What is in a pre-blended cure stands on its label; {} is taken, as usually sold.",
                    self.made_of(part)
                ));
            }
            Some(Open::Identity) => match self.settled(AssumptionCode::IdentityUnclear, typed) {
                Some("salt") => {
                    part.role = Some(Role::Salt);
                    part.ingredient = Some("salt".into());
                }
                Some(key) if self.catalogue.cure(key).is_some() => part.brew = brew(key, false),
                _ => {
                    part.brew = brew(usual, false);
                    self.which_cure(part, typed, "Pink salt is the name of two things: tinted curing salt, with nitrite, and plain rock salt from the mountains. Cure #1 is taken; look at the bag before any of it goes on meat.".into());
                }
            },
            Some(Open::Celery) => {
                let share = self
                    .settled(AssumptionCode::CeleryUnknown, typed)
                    .and_then(|v| read::percent(v).ok())
                    .map(|f| f.0);
                let nitrite = share.unwrap_or(0.0);
                part.brew = Some(Brew {
                    key: None,
                    name: row.key.clone(),
                    made_of: Composition {
                        nitrite,
                        nitrate: 0.0,
                        salt: 0.0,
                        sugar: 0.0,
                    },
                    pure: None,
                    unknown: share.is_none(),
                });
                if share.is_none() {
                    part.asks(
                        AssumptionCode::CeleryUnknown,
                        format!(
                            "How much nitrite or nitrate {} brings is unknown without a percentage on its label; nothing can be worked out from it.",
                            row.key
                        ),
                    );
                }
            }
        }
    }

    fn made_of(&self, part: &Part) -> String {
        let Some(brew) = &part.brew else {
            return String::new();
        };
        let mut said = format!("{} % nitrite", trim(brew.made_of.nitrite * 100.0, 2));
        if brew.made_of.nitrate > 0.0 {
            said += &format!(" and {} % nitrate", trim(brew.made_of.nitrate * 100.0, 2));
        }
        said
    }

    fn which_composition(&self, part: &mut Part, message: String) {
        let value = part.brew.as_ref().and_then(|b| b.key.clone());
        part.open.push(Question {
            code: AssumptionCode::CompositionAssumed,
            message,
            value,
            choices: self.cure_choices(),
        });
    }

    fn which_cure(&self, part: &mut Part, typed: &str, message: String) {
        if let Some(key) = self.settled(AssumptionCode::IdentityUnclear, typed)
            && let Some(cure) = self.catalogue.cure(key)
        {
            part.brew = Some(Brew {
                key: Some(cure.key.clone()),
                name: cure.name.clone(),
                made_of: cure.made_of.clone(),
                pure: None,
                unknown: false,
            });
            return;
        }
        let value = part
            .brew
            .as_ref()
            .filter(|b| !b.unknown)
            .and_then(|b| b.key.clone());
        let mut choices = self.cure_choices();
        choices.push(("salt".into(), "plain rock salt".into()));
        part.open.push(Question {
            code: AssumptionCode::IdentityUnclear,
            message,
            value,
            choices,
        });
    }

    fn cure_choices(&self) -> Vec<(String, String)> {
        let cures = self.catalogue.cures.iter().filter(|c| c.key != "none");
        cures.map(|c| (c.key.clone(), c.name.clone())).collect()
    }

    /// A curing salt of which the line says what it holds.
    fn holding(&self, part: &mut Part, item: &Item) {
        let [nitrite, nitrate] = item.holds.map(Option::unwrap_or_default);
        let row = item.name.map(|n| &self.lexicon.names[n]);
        let base = row
            .and_then(|r| r.cure.as_deref())
            .and_then(|k| self.catalogue.cure(k));
        let nitrate = if item.holds[1].is_none() {
            base.map_or(0.0, |c| c.made_of.nitrate)
        } else {
            nitrate
        };
        let nitrite = if item.holds[0].is_none() {
            base.map_or(0.0, |c| c.made_of.nitrite)
        } else {
            nitrite
        };
        let celery = row.is_some_and(|r| r.assumed == Some(Open::Celery));
        part.role = Some(Role::CuringSalt);
        let rest = (1.0 - nitrite - nitrate).max(0.0);
        // A bag that says what the catalogue says is that cure.
        let same = self.catalogue.cures.iter().find(|c| {
            c.key != "none"
                && (c.made_of.nitrite - nitrite).abs() < 2e-4
                && (c.made_of.nitrate - nitrate).abs() < 2e-4
        });
        part.brew = Some(Brew {
            key: same.map(|c| c.key.clone()),
            name: same.map_or_else(
                || format!("curing salt with {} % nitrite", trim(nitrite * 100.0, 2)),
                |c| c.name.clone(),
            ),
            made_of: same.map_or(
                Composition {
                    nitrite,
                    nitrate,
                    salt: if celery { 0.0 } else { rest },
                    sugar: 0.0,
                },
                |c| c.made_of.clone(),
            ),
            pure: None,
            unknown: false,
        });
        part.ingredient = part.brew.as_ref().map(|b| b.name.clone());
    }

    /// One reading of an amount, in grams or grams on a kilogram.
    fn amount(
        &self,
        part: &mut Part,
        amount: &Amount,
        per: Option<Per>,
        here: &Said<'_>,
        percent_of_all: bool,
    ) {
        let (item, said) = (here.item, &here.words);
        let reading = |quantity| Reading {
            said: said.clone(),
            quantity,
            by_volume: false,
            kind_open: false,
        };
        if amount.number.is_range && !matches!(amount.measure, Measure::Bare) {
            part.notes.push(format!(
                "“{said}” is a range: the middle is taken, and the whole of it counts for the band."
            ));
        }
        if amount.is_near {
            part.asks(
                AssumptionCode::About,
                format!(
                    "“{said}” is only near: a range is taken. Weigh it once and type the weight."
                ),
            );
        }
        match amount.measure {
            Measure::Bare => {
                if item.count.is_some() {
                    part.unweighed = true;
                    self.counted(part, item, amount.number.value);
                }
            }
            Measure::Percent(of) => {
                let share = band(amount, 10.0);
                let quantity = match of {
                    Some(Of::Meat) => Quantity::PerMeat(share),
                    Some(Of::Water) => Quantity::PerWater(share),
                    Some(Of::All) => Quantity::PerAll(share),
                    None if percent_of_all => Quantity::PerAll(share),
                    None => Quantity::PerMeat(share),
                };
                part.readings.push(reading(quantity));
            }
            Measure::Unit(unit) => {
                let row = &self.lexicon.units[unit];
                let count = item
                    .amounts
                    .iter()
                    .find(|a| matches!(a.measure, Measure::Unit(u) if matches!(self.lexicon.units[u].kind, UnitKind::Packet)))
                    // “2 packets of 28 g”: the weight is of one.
                    .filter(|_| item.each || here.typed.to_lowercase().contains("s of "))
                    .map_or(1.0, |a| a.number.value);
                match row.kind {
                    UnitKind::Mass => {
                        let grams = band(amount, row.size * count);
                        part.readings.push(reading(self.on(grams, per)));
                    }
                    UnitKind::Volume => self.spooned(part, amount, row, per, here),
                    UnitKind::Count => {
                        part.unweighed = true;
                        self.counted(part, item, amount.number.value);
                    }
                    UnitKind::Packet => {
                        let weighed = item.amounts.iter().any(|a| matches!(a.measure, Measure::Unit(u) if self.lexicon.units[u].kind == UnitKind::Mass) && a.per.is_none());
                        if !weighed {
                            part.unweighed = true;
                            part.asks(
                                AssumptionCode::PartOfPacket,
                                format!("What “{said}” weighs is not said: weigh it before and after, and type what went in."),
                            );
                        }
                    }
                    UnitKind::Content => {
                        let share = part.brew.as_ref().map_or(0.0, |b| b.made_of.nitrite);
                        if share > 0.0 {
                            // So much nitrite in the meat is so much of what brings it.
                            part.readings
                                .push(reading(Quantity::PerMeat(band(amount, 1e-3 / share))));
                        } else {
                            part.unweighed = true;
                            part.notes
                                .push("Parts per million of what is not said.".into());
                        }
                    }
                    UnitKind::Rough => {
                        part.unweighed = true;
                        part.pinch = true;
                        part.notes.push(format!("“{said}” is no amount."));
                    }
                }
            }
        }
    }

    fn counted(&self, part: &mut Part, item: &Item, count: f64) {
        let each = item.name.and_then(|n| self.lexicon.names[n].each);
        part.notes.push(match each {
            Some([low, high]) => format!(
                "A count has no weight: one weighs {} to {} g, and {} are said.",
                trim(low, 2),
                trim(high, 2),
                trim(count, 2)
            ),
            None => "A count has no weight.".into(),
        });
    }

    /// By the batch, by the meat or by the water.
    fn on(&self, grams: Band, per: Option<Per>) -> Quantity {
        let Some(per) = per else {
            return Quantity::Batch(grams);
        };
        let row = &self.lexicon.units[per.unit];
        let (size, of) = match row.kind {
            UnitKind::Volume => (self.ml(row), per.of.unwrap_or(Of::Water)),
            UnitKind::Mass
            | UnitKind::Count
            | UnitKind::Packet
            | UnitKind::Rough
            | UnitKind::Content => (row.size, per.of.unwrap_or(Of::Meat)),
        };
        let by = 1_000.0 / (per.number * size);
        let rate = Band {
            nominal: grams.nominal * by,
            low: grams.low * by,
            high: grams.high * by,
        };
        match of {
            Of::Meat => Quantity::PerMeat(rate),
            Of::Water => Quantity::PerWater(rate),
            Of::All => Quantity::PerAll(rate),
        }
    }

    fn ml(&self, row: &UnitRow) -> f64 {
        match self.measures {
            Measures::Us => row.us,
            Measures::Metric => row.metric,
            Measures::Imperial => row.imperial,
        }
    }

    /// A spoon or cup of something.
    fn spooned(
        &self,
        part: &mut Part,
        amount: &Amount,
        unit: &UnitRow,
        per: Option<Per>,
        here: &Said<'_>,
    ) {
        let (item, said) = (here.item, &here.words);
        let row = item.name.map(|n| &self.lexicon.names[n]);
        let ml = self.ml(unit);
        let Some((spoon, range, kind_open)) = self.density(part, row, here) else {
            part.unweighed = true;
            part.notes
                .push("Nobody here has weighed a spoon of this: its density is not known.".into());
            return;
        };
        let one = weigh(&spoon, ml);
        let scale = |of: f64| of / spoon.tsp_g * one.nominal;
        let grams = Band {
            nominal: amount.number.value * one.nominal,
            low: amount.number.low * scale(range.0),
            high: amount.number.high * scale(range.1),
        };
        let loose = row.is_some_and(|r| r.loose || r.role == Role::CuringSalt);
        if unit.metric_only && loose {
            part.asks(
                AssumptionCode::VolumeOfSolid,
                format!(
                    "“{said}” is a volume of a solid, by which nobody weighs: {} g taken, by the density of a level spoon. Weigh it.",
                    trim(grams.nominal, 1)
                ),
            );
        }
        part.readings.push(Reading {
            said: said.clone(),
            quantity: self.on(grams, per),
            by_volume: true,
            kind_open,
        });
    }

    /// What a level teaspoon of it weighs, how far that may be off, and whether its kind is open.
    fn density(
        &self,
        part: &mut Part,
        row: Option<&NameRow>,
        here: &Said<'_>,
    ) -> Option<(Spoon, (f64, f64), bool)> {
        let (row, item) = (row?, here.item);
        if part.role == Some(Role::CuringSalt) {
            let key = match part.brew.as_ref()?.key.as_deref() {
                Some("cure1" | "cure2") => "cure1",
                Some("preblend") => "preblend",
                Some("nitrite_salt_06") => "table_salt",
                Some(_) => return None,
                None if part.brew.as_ref()?.pure.is_some() || part.brew.as_ref()?.unknown => {
                    return None;
                }
                None => "table_salt",
            };
            let spoon = self.spoon(key)?.clone();
            let range = (spoon.range.low, spoon.range.high);
            return Some((spoon, range, false));
        }
        let mut key = row.spoon.as_deref()?;
        let mut open = row.salt;
        if row.role == Role::Salt {
            // “salt, kosher, flaked” says its kind beside its name.
            let has = |list: &[&str]| item.words.iter().any(|w| list.contains(&w.as_str()));
            if has(&["flaked", "flake", "flakes", "flaky", "light"]) {
                (key, open) = ("kosher_salt_flaked", None);
            } else if has(&["dense", "heavy"]) {
                (key, open) = ("kosher_salt_dense", None);
            } else if open.is_some() && has(&["kosher"]) && open != Some(SaltKinds::Kosher) {
                (key, open) = ("kosher_salt_dense", Some(SaltKinds::Kosher));
            } else if open.is_some() && has(&["coarse", "rock"]) && open != Some(SaltKinds::Kosher)
            {
                (key, open) = ("coarse_sea_salt", None);
            } else if open.is_some() && has(&["fine", "table", "canning", "pickling"]) {
                (key, open) = ("table_salt", None);
            }
        }
        let Some(kinds) = open else {
            let spoon = self.spoon(key)?.clone();
            let range = (spoon.range.low, spoon.range.high);
            return Some((spoon, range, false));
        };
        let code = match kinds {
            SaltKinds::Kosher => AssumptionCode::KosherKindAssumed,
            SaltKinds::Any | SaltKinds::Sea => AssumptionCode::SaltKindAssumed,
        };
        let settled = self
            .settled(code, here.typed)
            .and_then(|key| self.spoon(key));
        let all: Vec<&Spoon> = salt_keys(kinds)
            .iter()
            .filter_map(|k| self.spoon(k))
            .collect();
        let choices = all
            .iter()
            .filter_map(|s| Some((s.key.clone(), s.names.first()?.clone())))
            .collect();
        if let Some(own) = settled {
            let own = own.clone();
            let range = (own.range.low, own.range.high);
            part.open.push(Question {
                code,
                message: format!("Taken as {}, as you said.", own.names.first()?),
                value: Some(own.key.clone()),
                choices,
            });
            return Some((own, range, false));
        }
        let spoon = self.spoon(key)?.clone();
        let low = all
            .iter()
            .map(|s| s.range.low)
            .fold(f64::INFINITY, f64::min);
        let high = all.iter().map(|s| s.range.high).fold(0.0, f64::max);
        part.open.push(Question {
            code,
            message: format!(
                "A spoon of salt weighs by its grain, and which salt it is is not said: {} is taken, {} g the teaspoon; others weigh {} to {}.",
                spoon.names.first()?,
                trim(spoon.tsp_g, 1),
                trim(low, 1),
                trim(high, 1)
            ),
            value: Some(spoon.key.clone()),
            choices,
        });
        Some((spoon, (low, high), true))
    }
}

/// An amount where it stands.
struct Said<'a> {
    item: &'a Item,
    /// The line.
    typed: &'a str,
    /// The amount's own words.
    words: String,
}
