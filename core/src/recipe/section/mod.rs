//! The whole text: which heading rules which line, and what each line comes to.

mod amount;
mod entry;
mod naming;
mod part;

use super::line::{Basis, Item, Line, Measure, line};
use super::scan::{Kind, What, scan};
use super::{LineKind, Settled};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::Role;
use crate::catalogue::lexicon::{Lexicon, Of, Open, Topic, Topics, UnitKind};
use crate::units::{Band, Measures};
pub(super) use part::{Brew, Part, Pot, Quantity, Question, Reading};
use std::collections::HashSet;

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
    page.cure_first();
    page.count_once(reader);
    page.nothing_forgotten(reader);
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
        let rules = |b: Basis| b.per.is_some() || b.percent || (b.unit.is_some() && says_all(l));
        l.basis.is_some_and(rules) && !l.items.iter().any(Item::says_how_much)
    };
    let first = |wanted: &dyn Fn(&Line) -> bool| lines.iter().position(|(_, l)| wanted(l));
    let (listed, based) = (first(&amounts), first(&|l| l.basis.is_some()));
    // Said behind what it rules, and no heading of what comes: it rules all of it.
    let behind = |i: usize| listed.is_some_and(|l| l < i) && based.is_none_or(|b| b >= i);
    let found = lines
        .iter()
        .enumerate()
        .skip(1)
        .find(|(i, (_, l))| is_basis(l) && (says_all(l) || (!l.colon && behind(*i))));
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
        if self.by_strength(source, typed, read)
            || self.in_all(source, typed, read, section, reader)
        {
            return;
        }
        // “Tip: add a little more” is no part of it.
        let aside = reader.lexicon.begins(&words, Topic::Aside) && words.len() > 2;
        let washes = aside || reader.lexicon.begins(&words, Topic::Wash);
        let said: Vec<&Item> = read.items.iter().filter(|i| i.says_how_much()).collect();
        let names_salt = said.iter().any(|i| {
            i.name.is_some_and(|n| {
                matches!(reader.lexicon.names[n].role, Role::Salt | Role::CuringSalt)
            })
        });
        let results = read.scanned.topics.has(Topic::Beyond)
            || (read.scanned.topics.has(Topic::Result) && !said.iter().any(|i| i.name.is_some()));
        if (washes && (aside || !names_salt))
            || results
            || (read.negated
                && (said.iter().any(|i| i.name.is_some()) || !said.iter().any(|i| i.is_meat)))
        {
            self.parts.push(Part::bare(source, LineKind::Instruction));
            return;
        }
        // “Mix: 1 lb salt” names what it lists, and tells nobody to stir.
        let names_a_mix = matches!(words.first(), Some(&("mix" | "blend")))
            && matches!(
                read.scanned.lexemes.get(1).map(|l| &l.what),
                Some(What::Sign(':'))
            );
        let begins_verb = begins_verb && !names_a_mix && !starts_with_name(read);
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
        // A line of stars parts what stands above from what stands below.
        if words.is_empty() {
            return LineKind::Heading;
        }
        if read.colon || (basis && !has_time) {
            return LineKind::Heading;
        }
        if source == 0 && !(begins_verb && words.len() > 4) {
            return LineKind::Heading;
        }
        // “cure #2” alone on a line is a cure without an amount; “Cure 2” may be a step's heading.
        let numbered = words.first() == Some(&"cure")
            && !read
                .scanned
                .tokens
                .iter()
                .any(|t| t.kind == Kind::Sign('#'));
        let cure_alone = read.items.iter().filter_map(|i| i.name).any(|n| {
            let row = &reader.lexicon.names[n];
            row.role == Role::CuringSalt && row.assumed.is_none()
        }) && words.len() <= 3;
        if cure_alone && !numbered && !has_time {
            return LineKind::Ingredient;
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
        if read.items.iter().any(|i| i.gear && i.name.is_none()) {
            return LineKind::Instruction;
        }
        // “Enjoy!”, “(see below)”
        let said = matches!(
            read.scanned.tokens.last().map(|t| t.kind),
            Some(Kind::Sign('!' | ')' | '.' | '?'))
        );
        if said && !has_number {
            return LineKind::Instruction;
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

    /// What is called a glaze or a sauce comes on after the cure, unless it holds the cure itself.
    fn cure_first(&mut self) {
        let cures = |p: &Part| matches!(p.role, Some(Role::Salt | Role::CuringSalt));
        let elsewhere = self.parts.iter().any(|p| cures(p) && p.pot != Pot::After);
        for part in &mut self.parts {
            let is_cure = part.role == Some(Role::CuringSalt);
            if part.pot == Pot::After && (is_cure || !elsewhere) {
                part.pot = Pot::Unsaid;
            }
            if part.pot == Pot::After && part.role.is_some() {
                part.notes
                    .push("It comes on after the cure and is not reckoned with.".into());
            }
        }
    }

    /// A curing salt that is named and nowhere weighed is in it all the same: “rub it with salt and cure #1”.
    fn nothing_forgotten(&mut self, reader: &Reader<'_>) {
        let cures = |p: &Part| p.role == Some(Role::CuringSalt);
        if self.parts.iter().any(cures) {
            return;
        }
        let named = self
            .lines
            .iter()
            .enumerate()
            .find_map(|(source, (_, line))| {
                let mut items = line.items.iter().filter(|_| !line.negated);
                let item = items.find(|i| {
                    i.name.is_some_and(|n| {
                        let row = &reader.lexicon.names[n];
                        let surely = !matches!(row.assumed, Some(Open::Blend | Open::Composition))
                            || i.words.iter().any(|w| w == "salt");
                        row.role == Role::CuringSalt && surely
                    })
                })?;
                Some((source, item.clone()))
            });
        let Some((source, item)) = named else { return };
        let typed = self.lines[source].0;
        let mut part = Part::bare(source, LineKind::Ingredient);
        part.name = item.name;
        if let Some(name) = item.name {
            reader.named(&mut part, &reader.lexicon.names[name], &item, typed);
        }
        part.unweighed = true;
        part.notes
            .push("It is named, and nowhere is said how much.".into());
        let at = self.parts.iter().position(|p| p.source == source);
        match at {
            // A heading or a sentence stands in the answer as what it names.
            Some(at) if self.parts[at].role.is_none() && self.parts[at].readings.is_empty() => {
                self.parts[at] = part;
            }
            Some(at) => self.parts.insert(at + 1, part),
            None => self.parts.push(part),
        }
    }

    /// What a sentence repeats of what is listed already goes in once.
    fn count_once(&mut self, reader: &Reader<'_>) {
        let listed: HashSet<usize> = self
            .parts
            .iter()
            .filter(|p| !p.by_verb && !p.only_named && (!p.readings.is_empty() || p.unweighed))
            .filter_map(|p| p.name)
            .collect();
        let weighs_a_cure = self
            .parts
            .iter()
            .any(|p| p.role == Some(Role::CuringSalt) && !p.readings.is_empty());
        for part in &mut self.parts {
            let topics = self.lines[part.source].1.scanned.topics;
            // “The cure must be weighed” speaks of the cure that is listed; another one does not.
            let open = part
                .name
                .is_some_and(|n| reader.lexicon.names[n].assumed.is_some());
            let of_the_cure = part.role == Some(Role::CuringSalt) && open && weighs_a_cure;
            let twice = (part.by_verb || part.only_named)
                && !topics.has(Topic::TopUp)
                && (part.name.is_some_and(|n| listed.contains(&n))
                    || (part.only_named && of_the_cure));
            if twice {
                part.said_twice = true;
                part.kind = LineKind::Instruction;
                part.readings.clear();
                part.open.clear();
                part.notes = vec!["Listed above already: it is reckoned with once.".into()];
            }
        }
    }
}

/// The words of a line without its signs.
fn plain(read: &Line) -> Vec<&str> {
    // The number of a step is none of its words.
    let first = read.scanned.lexemes.first().map_or(0, |l| l.at.0);
    read.scanned.tokens[first..]
        .iter()
        .filter(|t| !matches!(t.kind, Kind::Sign(_)))
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
        // A spice of a list may have no amount; what cures or salts without one is only talked of.
        Some(name) => {
            item.says_how_much()
                || (lexicon.names[name].role == Role::Spice
                    && read
                        .items
                        .iter()
                        .any(|i| i.name.is_some() && i.says_how_much()))
        }
        None if item.gear || begins_verb => false,
        None => {
            let topics = read.scanned.topics;
            measured
                && !topics.has(Topic::Loss)
                && (!topics.has(Topic::Pumped) || item.words.len() > 1)
                && (item.words.iter().any(|w| !lexicon.is_filler(w)) || item.holds != [None, None])
                && !read
                    .scanned
                    .lexemes
                    .iter()
                    .any(|l| matches!(l.what, What::Time(_)))
        }
    }
}
