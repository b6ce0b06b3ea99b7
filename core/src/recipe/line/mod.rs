//! What a line says: amounts of something, a weight of meat, or what to do.

mod amounts;

use super::scan::{Number, Scanned, What};
use crate::catalogue::lexicon::{Lexicon, Of, Topic, UnitKind};

/// Ingredients that one line may name; a longer list is no line of a recipe.
pub(super) const MOST_ITEMS: usize = 40;

/// A weight on a line of its own that is the meat's, and not of something forgotten (g).
const LEAST_MEAT: f64 = 200.0;
/// Behind a word of meat so much is a weight of it, and no dose (g).
const FOR_MEAT: f64 = 500.0;
/// Readings of one amount.
const MOST_READINGS: usize = 8;
/// A curing salt of so many percent nitrite is never dosed by as many of the meat.
const STRONG: f64 = 5.0;

/// An amount as it is written.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Amount {
    pub number: Number,
    pub measure: Measure,
    /// Heaped, scant, about: the number is only near.
    pub is_near: bool,
    /// On how much of what, where it is a rate.
    pub per: Option<Per>,
    /// The tokens it is made of.
    pub at: (usize, usize),
}

/// In what.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Measure {
    /// A row of the table of units.
    Unit(usize),
    Percent(Option<Of>),
    /// A number without any: a count, or what its section counts in.
    Bare,
}

/// So much of meat or water.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Per {
    pub number: f64,
    /// A row of the table of units: a weight or a volume.
    pub unit: usize,
    pub of: Option<Of>,
}

/// Something that a line names, with its amounts.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Item {
    /// Readings of one amount, in the order of the line.
    pub amounts: Vec<Amount>,
    /// A row of the table of names.
    pub name: Option<usize>,
    /// The words beside it, as they are looked up.
    pub words: Vec<String>,
    pub is_meat: bool,
    /// “for 5 lb”, behind an ingredient.
    pub is_for: bool,
    pub taste: bool,
    pub rest: bool,
    pub gear: bool,
    pub nearly_a_cure: bool,
    /// What a curing salt holds, as the line says it: nitrite, nitrate.
    pub holds: [Option<f64>; 2],
    /// How many there are, where each has its weight.
    pub count: Option<f64>,
    /// True when “each” stands behind its amount.
    pub each: bool,
    /// True when something else is offered in its place.
    pub alternative: bool,
    /// True when one of two curing salts is offered.
    pub either_cure: bool,
    /// So much of the mix of the lines above.
    pub mix: bool,
    /// A word that was read with one letter changed: as typed, as meant.
    pub slip: Option<String>,
}

impl Item {
    fn is_empty(&self) -> bool {
        *self == Self::default()
    }

    fn is_complete(&self) -> bool {
        self.name.is_some()
            && (!self.amounts.is_empty() || self.taste || self.rest || self.count.is_some())
    }

    /// True when it says so much of something, or that it is not weighed.
    pub(super) fn says_how_much(&self) -> bool {
        !self.amounts.is_empty() || self.taste || self.rest || self.count.is_some()
    }
}

/// What the lines below are counted by.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct Basis {
    pub per: Option<Per>,
    pub percent: bool,
    pub of: Option<Of>,
    /// The unit of bare numbers: a row of the table.
    pub unit: Option<usize>,
}

/// A line, understood as far as it goes.
#[derive(Clone, Debug)]
pub(super) struct Line {
    pub scanned: Scanned,
    pub items: Vec<Item>,
    /// What it says of the amounts of its section.
    pub basis: Option<Basis>,
    /// Something “no”, “never”, “instead of” stands before.
    pub negated: bool,
    /// More was named than anybody lists in a line.
    pub cut_off: bool,
    /// True where it ends with a colon.
    pub colon: bool,
}

struct Walk<'a> {
    lexicon: &'a Lexicon,
    scanned: &'a Scanned,
    items: Vec<Item>,
    now: Item,
    basis: Option<Basis>,
    /// “for”, just before.
    whose: bool,
    /// “about”, “heaped”, just before, with its place.
    rough: Option<([f64; 3], usize)>,
    /// A comma, an “and”: what comes may be another thing.
    parted: bool,
    /// It was an “and”.
    and: bool,
    /// “in”, “with”, just before: what comes is what it goes into.
    inside: bool,
    or: bool,
    depth: usize,
    cut_off: bool,
    negated: bool,
    /// The amount of this item came before its name.
    amount_first: bool,
    /// The line says what to do: its amounts stand before what they are of.
    verb: bool,
    /// A colon, just before: what stands in front of it may be a heading.
    colon: bool,
    /// Meat was named since the thing at hand: “a cure for a belly of 5 lb”.
    meat_since: bool,
}

/// Reads what a line says.
pub(super) fn line(scanned: Scanned, lexicon: &Lexicon) -> Line {
    let mut walk = Walk {
        lexicon,
        scanned: &scanned,
        items: Vec::new(),
        now: Item::default(),
        basis: None,
        whose: false,
        rough: None,
        parted: false,
        and: false,
        inside: false,
        or: false,
        depth: 0,
        cut_off: false,
        negated: false,
        amount_first: false,
        verb: begins_verb(&scanned, lexicon),
        colon: false,
        meat_since: false,
    };
    let mut i = 0;
    while i < scanned.lexemes.len() {
        i = walk.step(i);
    }
    walk.close();
    walk.weight_alone();
    walk.share_rates();
    let Walk {
        items,
        basis,
        cut_off,
        negated,
        ..
    } = walk;
    let colon = matches!(
        scanned.lexemes.last().map(|l| &l.what),
        Some(What::Sign(':'))
    );
    Line {
        items,
        basis,
        negated,
        cut_off,
        colon,
        scanned,
    }
}

/// True when the first word of a line is one of doing.
fn begins_verb(scanned: &Scanned, lexicon: &Lexicon) -> bool {
    let first = scanned.lexemes.first().map_or(0, |l| l.at.0);
    let words: Vec<&str> = scanned.tokens[first..]
        .iter()
        .take(4)
        .map(|t| t.word.as_str())
        .collect();
    lexicon.begins(&words, Topic::Verb)
        && !scanned
            .lexemes
            .first()
            .is_some_and(|l| matches!(l.what, What::Name(_)))
}

impl Walk<'_> {
    fn what(&self, i: usize) -> Option<&What> {
        self.scanned.lexemes.get(i).map(|l| &l.what)
    }

    fn kind(&self, unit: usize) -> UnitKind {
        self.lexicon.units[unit].kind
    }

    fn is_measure(&self, unit: usize) -> bool {
        matches!(self.kind(unit), UnitKind::Mass | UnitKind::Volume)
    }

    fn close(&mut self) {
        let mut done = std::mem::take(&mut self.now);
        self.tell_strength(&mut done);
        if !done.is_empty() {
            if self.items.len() < MOST_ITEMS {
                self.items.push(done);
            } else {
                self.cut_off = true;
            }
        }
        self.amount_first = false;
        self.or = false;
        self.meat_since = false;
    }

    fn step(&mut self, i: usize) -> usize {
        let lexeme = &self.scanned.lexemes[i];
        if let Some(slip) = &lexeme.slip
            && self.now.slip.is_none()
        {
            self.now.slip = Some(slip.clone());
        }
        match lexeme.what.clone() {
            What::Number(number) => return self.number(number, i),
            What::Name(name) => self.name(name, i),
            What::UnitOrName(_, name) => self.name(name, i),
            What::Meat => self.meat(i),
            What::Gear => {
                if self.now.name.is_none() {
                    self.now.gear = true;
                }
            }
            What::Taste => {
                if self.or || self.depth > 0 && !self.now.amounts.is_empty() {
                    // “1 tsp pepper (or to taste)” has an amount.
                } else {
                    self.now.taste = true;
                }
            }
            What::Rest => self.now.rest = true,
            What::Rough(times) => {
                if times != [1.0, 1.0, 1.0] {
                    // “22 g or so”
                    match self.now.amounts.last_mut() {
                        Some(last) if !self.parted && last.at.1 == lexeme.at.0 => {
                            last.number = last.number.times(times);
                            last.is_near = true;
                        }
                        _ => self.rough = Some((times, lexeme.at.0)),
                    }
                }
                return i + 1;
            }
            What::Per => return self.per(i),
            What::Whose => {
                self.whose = true;
                return i + 1;
            }
            // “half a gallon of water”, “2 kg of meat”
            What::Of(Of::Water) if self.awaits_a_name() => {
                if let Some(water) = self.water() {
                    self.now.name = Some(water);
                }
            }
            What::Of(Of::Meat)
                if self.awaits_a_name()
                    || (self.basis.is_none()
                        && self.now.name.is_none()
                        && self.now.amounts.is_empty()) =>
            {
                self.meat(i);
            }
            What::Of(of) => {
                if let Some(basis) = &mut self.basis
                    && self.now.amounts.is_empty()
                {
                    basis.of = Some(of);
                    if let Some(per) = &mut basis.per {
                        per.of = Some(of);
                    }
                }
                if let Some(last) = self.now.amounts.last_mut() {
                    match &mut last.measure {
                        Measure::Percent(own) => *own = Some(of),
                        Measure::Unit(_) | Measure::Bare => {
                            if let Some(per) = &mut last.per {
                                per.of = Some(of);
                            }
                        }
                    }
                }
            }
            What::Mix => self.now.mix = true,
            What::Or => {
                self.or = self.now.name.is_some();
                self.parted = false;
                return i + 1;
            }
            What::Not => {
                // “salt, not iodised” is still salt.
                self.negated |= self.items.is_empty() && self.now.is_empty();
            }
            What::Percent => self.basis_of_percent(),
            What::Holds { nitrate, share } => self.now.holds[usize::from(nitrate)] = Some(share),
            What::Unit(unit) => return self.bare_unit(unit, i),
            What::And => {
                self.parted = true;
                self.and = true;
                return i + 1;
            }
            What::Sign('(' | '[') => self.depth += 1,
            What::Sign(')' | ']') => self.depth = self.depth.saturating_sub(1),
            What::Sign(',' | ';' | '+' | '|') => {
                self.parted = true;
                let ends = matches!(lexeme.what, What::Sign(';')) || self.now.alternative;
                if ends && self.depth == 0 && self.now.is_complete() {
                    self.close();
                }
                return i + 1;
            }
            What::Sign('.') => {
                self.close();
                self.parted = true;
            }
            What::Sign(':') => {
                self.colon = true;
                // “Brine: 2 l water” and “Salt: 22 g”: what stands before it names what follows.
                if self.now.name.is_none() && !self.now.is_meat && self.now.amounts.is_empty() {
                    self.now = Item::default();
                }
            }
            // “cure (pink, #1)”
            What::Sign('#') => {
                if let Some(What::Number(n)) = self.what(i + 1) {
                    let (number, all) = (n.value, self.numbered_cure(n.value));
                    if let Some(cure) = self.numbered(number) {
                        self.now.name = Some(cure);
                        return i + 2;
                    }
                    // “2 level tsp #1” names it by its number alone.
                    if let Some(cure) = all.filter(|_| self.awaits_a_name()) {
                        self.name(cure, i);
                        return i + 2;
                    }
                    // “cure #1 or #2”
                    if let Some(cure) = all.filter(|_| self.or) {
                        self.offers(cure);
                        return i + 2;
                    }
                }
            }
            What::Time(_) | What::Length | What::Degrees(..) | What::Sign(_) => {}
            What::Word { nearly_a_cure } => {
                // “7/8 oz of it to 100 lb”
                if self.now.is_complete()
                    && !self.parted
                    && let Some((per, next)) = self.per_at(i)
                    && let Some(last) = self.now.amounts.last_mut()
                    && last.per.is_none()
                {
                    last.per = Some(per);
                    return next;
                }
                self.say(i);
                self.now.nearly_a_cure |= nearly_a_cure;
            }
        }
        self.whose = false;
        self.rough = None;
        i + 1
    }

    /// A line that is a weight and nothing else is that of the meat.
    fn weight_alone(&mut self) {
        let [only] = self.items.as_mut_slice() else {
            return;
        };
        let nothing_else = self
            .scanned
            .lexemes
            .iter()
            .all(|l| matches!(l.what, What::Number(_) | What::Unit(_) | What::Rough(_)));
        let weighs = only.amounts.iter().any(|a| match a.measure {
            Measure::Unit(u) => {
                let row = &self.lexicon.units[u];
                row.kind == UnitKind::Mass && row.size * a.number.value >= LEAST_MEAT
            }
            Measure::Percent(_) | Measure::Bare => false,
        });
        only.is_meat |= only.name.is_none() && nothing_else && weighs;
    }

    /// “6.25 % cure” says what is in it: nobody doses that much.
    fn tell_strength(&self, item: &mut Item) {
        let Some(name) = item.name else { return };
        let strength = item.amounts.iter().position(|a| {
            a.measure == Measure::Percent(None)
                && self.is_strength(name, a.number.value)
                && (item.amounts.len() > 1 || a.number.value >= STRONG)
        });
        if let Some(at) = strength
            && item.holds[0].is_none()
        {
            let percent = item.amounts.remove(at).number.value;
            item.holds[0] = Some(percent / 100.0);
        }
    }

    /// True when the last amount of an item has its unit, and nothing is named yet.
    fn awaits_a_name(&self) -> bool {
        self.now.name.is_none()
            && !self.now.is_meat
            && self.now.amounts.last().is_some_and(|a| {
                a.per.is_none() && matches!(a.measure, Measure::Unit(u) if self.is_measure(u))
            })
    }

    /// The numbered cure that is meant where a number stands behind the word alone.
    fn numbered(&self, number: f64) -> Option<usize> {
        let named = &self.lexicon.names[self.now.name?];
        named.assumed?;
        self.numbered_cure(number)
    }

    /// The cure of a number.
    fn numbered_cure(&self, number: f64) -> Option<usize> {
        let key = match number {
            1.0 => "cure1",
            2.0 => "cure2",
            _ => return None,
        };
        let cures = &self.lexicon.names;
        cures
            .iter()
            .position(|n| n.assumed.is_none() && n.cure.as_deref() == Some(key))
    }

    fn water(&self) -> Option<usize> {
        self.lexicon
            .names
            .iter()
            .position(|n| n.role == crate::catalogue::cures::Role::Water)
    }

    /// What stands behind an amount, up to the next one or a comma: is something named there?
    fn names_ahead(&self, mut i: usize) -> Ahead {
        let mut word = false;
        while let Some(what) = self.what(i) {
            match what {
                What::Name(_) | What::UnitOrName(..) => return Ahead::Name,
                What::Of(Of::Water) => return Ahead::Name,
                What::Meat | What::Of(Of::Meat) => return Ahead::Meat,
                What::Gear => return Ahead::Gear,
                What::Word { .. } => word = true,
                What::Number(_)
                | What::Sign(',' | ';' | ')' | ']' | '(' | '[' | ':' | '.' | '|') => {
                    break;
                }
                What::And | What::Or | What::Whose | What::Taste => break,
                What::Holds { .. } => return Ahead::Name,
                What::Rough(_)
                | What::Unit(_)
                | What::Rest
                | What::Per
                | What::Of(Of::All)
                | What::Mix
                | What::Not
                | What::Percent
                | What::Time(_)
                | What::Length
                | What::Degrees(..)
                | What::Sign(_) => {}
            }
            i += 1;
        }
        if word { Ahead::Word } else { Ahead::Nothing }
    }

    /// Something else in the place of what is named: of two curing salts nobody is chosen for anybody.
    fn offers(&mut self, name: usize) {
        let rows = &self.lexicon.names;
        let cure = |n: usize| {
            rows[n]
                .cure
                .as_deref()
                .filter(|_| rows[n].role == crate::catalogue::cures::Role::CuringSalt)
        };
        let now = self.now.name.and_then(cure);
        // With an amount of its own it is another dose, and the first counts.
        self.now.either_cure |=
            !self.now.alternative && now.is_some() && cure(name).is_some() && now != cure(name);
        self.now.alternative = true;
    }

    fn name(&mut self, name: usize, i: usize) {
        let rows = &self.lexicon.names;
        if self.or && self.now.name.is_some() {
            self.offers(name);
            return;
        }
        if self.now.is_meat {
            if self.parted || !self.now.amounts.is_empty() {
                self.close();
            } else {
                // “pork with salt”: the meat only says of what.
                self.now = Item::default();
            }
        }
        // “Spices: coriander 2 tbsp” begins with its heading.
        if std::mem::take(&mut self.colon) && !self.now.is_complete() {
            self.now = Item::default();
        }
        match self.now.name {
            None => self.now.name = Some(name),
            Some(old) if self.depth > 0 => {
                // “curing salt (cure #1)” says which.
                if rows[old].role == rows[name].role && rows[old].assumed.is_some() {
                    self.now.name = Some(name);
                }
            }
            Some(_) if self.parted => {
                self.close();
                self.now.name = Some(name);
            }
            // A number of this name comes: “salt 22 g sugar 10 g”.
            Some(_) if self.now.is_complete() && !self.amount_first => {
                self.close();
                self.now.name = Some(name);
            }
            Some(old) => {
                // “garlic cloves”, “salt (kosher)”: the more exact one stays.
                let more_exact = rows[name].role == crate::catalogue::cures::Role::CuringSalt
                    && rows[name].assumed.is_none()
                    && rows[old].role == crate::catalogue::cures::Role::Salt;
                if more_exact {
                    self.now.name = Some(name);
                }
            }
        }
        self.say(i);
        self.parted = false;
    }

    fn meat(&mut self, i: usize) {
        // “…of curing salt per pound, belly of 2 kg”
        if self.now.is_complete() && self.parted && self.depth == 0 && !self.or {
            self.close();
        }
        self.meat_since = self.now.name.is_some();
        if self.now.name.is_none() {
            // “lean 2 kg, back fat 600 g”
            if self.now.is_meat && self.parted && !self.now.amounts.is_empty() && self.depth == 0 {
                self.close();
            }
            self.now.is_meat = true;
            self.say(i);
        }
    }

    /// Keeps the words of a lexeme beside its item.
    fn say(&mut self, i: usize) {
        let (from, to) = self.scanned.lexemes[i].at;
        for token in &self.scanned.tokens[from..to] {
            if self.now.words.len() < MOST_ITEMS {
                self.now.words.push(token.word.clone());
            }
        }
    }

    /// “22 g salt and 2.5 g cure #1 per kg”: the rate behind the last holds for those before it.
    fn share_rates(&mut self) {
        // “1 tsp each thyme and rosemary”, “salt and sugar, 20 g each”
        for at in 0..self.items.len() {
            let given = &self.items[at];
            if !given.each || given.is_meat || given.name.is_none() {
                continue;
            }
            let amounts = given.amounts.clone();
            let bare = |i: &Item| i.name.is_some() && !i.says_how_much();
            let before = self.items[..at]
                .iter()
                .rev()
                .take_while(|i| bare(i))
                .count();
            let after = self.items[at + 1..].iter().take_while(|i| bare(i)).count();
            for item in &mut self.items[at - before..=at + after] {
                if bare(item) {
                    item.amounts.clone_from(&amounts);
                }
            }
        }
        // “salt and pepper to taste”
        if self
            .items
            .last()
            .is_some_and(|i| i.taste && i.amounts.is_empty())
        {
            for item in self.items.iter_mut().rev() {
                if item.name.is_none() || !item.amounts.is_empty() || item.count.is_some() {
                    break;
                }
                item.taste = true;
            }
        }
        let last = self
            .items
            .iter()
            .rev()
            .find(|i| i.name.is_some())
            .and_then(|i| i.amounts.last())
            .and_then(|a| a.per);
        let Some(per) = last else { return };
        let alone = self
            .items
            .iter()
            .filter(|i| i.name.is_some())
            .filter(|i| i.amounts.iter().any(|a| a.per.is_some()))
            .count();
        if alone != 1 {
            return;
        }
        for item in &mut self.items {
            let shares = item.name.is_some_and(|n| {
                self.lexicon.names[n].role != crate::catalogue::cures::Role::Water
            });
            // Two readings of one amount, grams and a rate, stay two.
            let own = item.amounts.iter().any(|a| a.per.is_some());
            if shares && !own {
                for amount in &mut item.amounts {
                    if !matches!(amount.measure, Measure::Percent(_)) {
                        amount.per.get_or_insert(per);
                    }
                }
            }
        }
    }
}

/// What an amount is followed by.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Ahead {
    Name,
    Meat,
    Gear,
    Word,
    Nothing,
}
