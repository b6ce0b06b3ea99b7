//! The amounts of a line: their number, their measure, on how much of what, and to which thing they belong.

use super::{Ahead, Amount, Basis, FOR_MEAT, Item, MOST_READINGS, Measure, Per, Walk};
use crate::catalogue::lexicon::{Of, Open, UnitKind};
use crate::recipe::scan::{Lexeme, Number, What};

impl Walk<'_> {
    pub(super) fn number(&mut self, number: Number, i: usize) -> usize {
        let begin = self
            .rough
            .map_or(self.scanned.lexemes[i].at.0, |(_, at)| at);
        let mut times = self.rough.take().map(|(t, _)| t);
        let mut next = i + 1;
        // “1 heaped tbsp”
        while let Some(What::Rough(more)) = self.what(next) {
            if *more != [1.0, 1.0, 1.0] {
                times = Some(*more);
            }
            next += 1;
        }
        // “2 x 1.5 kg”
        if let Some(Lexeme { at, .. }) = self.scanned.lexemes.get(next)
            && self.scanned.tokens[at.0].word == "x"
            && matches!(self.what(next + 1), Some(What::Number(_)))
        {
            self.now.count = Some(number.value);
            self.now.each = true;
            self.whose = false;
            return next + 1;
        }
        let (measure, after) = match self.what(next) {
            Some(What::Percent) => (Measure::Percent(None), next + 1),
            Some(What::Time(_) | What::Length) => {
                self.whose = false;
                return next + 1;
            }
            Some(What::Unit(unit)) => (Measure::Unit(*unit), next + 1),
            // “3 cloves garlic” counts garlic; “6 cloves” counts cloves.
            Some(What::UnitOrName(unit, _))
                if matches!(
                    self.what(next + 1),
                    Some(What::Name(_) | What::UnitOrName(..))
                ) || (matches!(self.what(next + 1), Some(What::Rough(t)) if *t == [1.0, 1.0, 1.0])
                    && matches!(self.what(next + 2), Some(What::Name(_)))) =>
            {
                (Measure::Unit(*unit), next + 1)
            }
            _ => (Measure::Bare, next),
        };
        if matches!(measure, Measure::Percent(_)) && self.is_loss(i, after) {
            self.whose = false;
            return after;
        }
        // “cure: 3.25 g (no. 1)”
        let is_numbered = measure == Measure::Bare
            && i > 0
            && matches!(
                self.scanned.tokens[self.scanned.lexemes[i - 1].at.0]
                    .word
                    .as_str(),
                "no" | "nr" | "number"
            );
        if is_numbered && let Some(cure) = self.numbered(number.value) {
            self.now.name = Some(cure);
            return next;
        }
        let mut number = self.by_comma(number, measure);
        let mut after = after;
        if let Measure::Unit(unit) = measure {
            (number, after) = self.compound(number, unit, after);
            // “a cup and a half”
            if let (Some(What::And), Some(What::Number(part))) =
                (self.what(after), self.what(after + 1))
                && part.value < 1.0
                && !part.is_range
                && !matches!(
                    self.what(after + 2),
                    Some(What::Unit(_) | What::UnitOrName(..) | What::Percent)
                )
            {
                number.low += part.low;
                number.value += part.value;
                number.high += part.high;
                after += 2;
            }
        }
        if let Some(times) = times {
            number = number.times(times);
        }
        let end = self.scanned.lexemes[after - 1].at.1;
        let mut amount = Amount {
            number,
            measure,
            is_near: times.is_some(),
            per: None,
            at: (begin, end),
        };
        let mut per_next = after;
        if matches!(measure, Measure::Unit(_) | Measure::Bare)
            && let Some((per, past)) = self.per_at(after)
        {
            amount.per = Some(per);
            per_next = past;
        }
        if matches!(self.what(after), Some(What::Per)) && amount.per.is_none() {
            // “4 lb each”
            self.now.each = true;
        }
        // “3 bellies of 2.1 kg”
        let of = i > 0
            && self.scanned.tokens[self.scanned.lexemes[i - 1].at.0].word == "of"
            && self.now.is_meat;
        self.now.each |= of && self.now.count.is_some();
        self.inside = i > 0
            && matches!(
                self.scanned.tokens[self.scanned.lexemes[i - 1].at.0]
                    .word
                    .as_str(),
                "in" | "into" | "with" | "to"
            );
        self.assign(amount, per_next);
        self.whose = false;
        self.parted = false;
        self.and = false;
        per_next
    }

    /// `1,250 kg` has a decimal comma, `1,250 g` divides thousands.
    pub(super) fn by_comma(&self, number: Number, measure: Measure) -> Number {
        let Some(decimal) = number.comma else {
            return number;
        };
        let small = match measure {
            Measure::Unit(unit) => {
                matches!(self.lexicon.units[unit].key.as_str(), "g" | "ml" | "mg")
            }
            Measure::Percent(_) => false,
            Measure::Bare => true,
        };
        if small {
            Number {
                comma: None,
                ..number
            }
        } else {
            Number::exactly(decimal)
        }
    }

    /// `4 lb 7 oz`, `1 cup plus 2 tbsp`: a second, smaller measure of the same kind adds up.
    pub(super) fn compound(
        &self,
        mut number: Number,
        unit: usize,
        mut after: usize,
    ) -> (Number, usize) {
        let row = &self.lexicon.units[unit];
        let size = |u: usize| {
            let row = &self.lexicon.units[u];
            if row.kind == UnitKind::Mass {
                row.size
            } else {
                row.us
            }
        };
        loop {
            let joined = matches!(self.what(after), Some(What::And | What::Sign('+')));
            let at = after + usize::from(joined);
            let (Some(What::Number(more)), Some(What::Unit(smaller))) =
                (self.what(at), self.what(at + 1))
            else {
                return (number, after);
            };
            let same = self.kind(*smaller) == row.kind && self.is_measure(*smaller);
            if !same || size(*smaller) >= size(unit) {
                return (number, after);
            }
            let share = size(*smaller) / size(unit);
            // “2 lb 200 g” is no compound, nor is anything larger than one of the first.
            if more.value * share >= 1.0 && row.kind == UnitKind::Mass {
                return (number, after);
            }
            number.low += more.low * share;
            number.value += more.value * share;
            number.high += more.high * share;
            after = at + 2;
        }
    }

    /// “per kg”, “/lb”, “for each 5 lb of meat”, “to 100 lb”.
    pub(super) fn per_at(&self, i: usize) -> Option<(Per, usize)> {
        let bare_to = |i: usize| {
            self.scanned.lexemes.get(i).is_some_and(|l| {
                matches!(
                    self.scanned.tokens[l.at.0].word.as_str(),
                    "to" | "a" | "an" | "the"
                )
            })
        };
        let mut at = match self.what(i)? {
            What::Per => i + 1,
            // “7/8 oz to 100 lb”, “1 tsp a pound”
            What::Word { .. } if bare_to(i) => i + 1,
            // “2.5 grams a kilo”
            What::Number(n) if n.value == 1.0 && bare_to(i) && self.is_large(i + 1) => i + 1,
            _ => return None,
        };
        while bare_to(at) {
            at += 1;
        }
        let number = match self.what(at)? {
            What::Number(n) => {
                at += 1;
                n.value
            }
            _ => 1.0,
        };
        let What::Unit(unit) = *self.what(at)? else {
            return None;
        };
        if !self.is_measure(unit) || number <= 0.0 {
            return None;
        }
        // “2 tbsp / 25 g” says one amount twice; “per 100 g” is a rate.
        let slash = self
            .scanned
            .lexemes
            .get(i)
            .is_some_and(|l| self.scanned.tokens[l.at.0].word == "/");
        let small = !matches!(
            self.lexicon.units[unit].key.as_str(),
            "kg" | "lb" | "l" | "gal" | "qt" | "us_gal" | "imperial_gal"
        );
        if slash && small && number != 1.0 && number != 100.0 && number != 1_000.0 {
            return None;
        }
        at += 1;
        let of = match self.what(at) {
            Some(What::Of(of)) => {
                at += 1;
                Some(*of)
            }
            Some(What::Meat) => Some(Of::Meat),
            _ => None,
        };
        Some((Per { number, unit, of }, at))
    }

    pub(super) fn per(&mut self, i: usize) -> usize {
        let Some((per, next)) = self.per_at(i) else {
            self.whose = false;
            return i + 1;
        };
        // “30 minutes per pound” doses nothing.
        if matches!(
            i.checked_sub(1).and_then(|b| self.what(b)),
            Some(What::Time(_) | What::Length)
        ) {
            return next;
        }
        self.whose = false;
        match self.now.amounts.last_mut() {
            Some(last) if last.per.is_none() => last.per = Some(per),
            Some(_) => {}
            None => {
                let percent = self.basis.is_some_and(|b| b.percent);
                let unit = self.basis.and_then(|b| b.unit);
                self.basis = Some(Basis {
                    per: Some(per),
                    percent,
                    of: per.of,
                    unit,
                });
                // What stood before it was its heading.
                self.now = Item::default();
            }
        }
        next
    }

    pub(super) fn basis_of_percent(&mut self) {
        if self.now.amounts.is_empty() {
            let basis = self.basis.get_or_insert_default();
            basis.percent = true;
        }
    }

    /// A unit without a number: “pinch of salt”, “grams per kg:”.
    pub(super) fn bare_unit(&mut self, unit: usize, i: usize) -> usize {
        self.whose = false;
        // “never by the spoon” is no spoon.
        let by = self.scanned.lexemes[..i]
            .iter()
            .rev()
            .take(2)
            .any(|l| self.scanned.tokens[l.at.0].word == "by");
        if by {
            return i + 1;
        }
        let names = self.names_ahead(i + 1);
        match self.kind(unit) {
            UnitKind::Rough | UnitKind::Packet
                if self.now.amounts.is_empty()
                    && (names == Ahead::Name
                        || (self.now.name.is_some() && self.kind(unit) == UnitKind::Rough)) =>
            {
                self.one_of(unit, i);
            }
            UnitKind::Mass | UnitKind::Volume
                if (names == Ahead::Nothing || matches!(self.what(i + 1), Some(What::Per)))
                    && self.now.name.is_none() =>
            {
                if self.now.amounts.is_empty() {
                    self.basis.get_or_insert_default().unit = Some(unit);
                }
            }
            UnitKind::Volume
                if names == Ahead::Name
                    && self.now.amounts.is_empty()
                    && self.now.name.is_none() =>
            {
                // “Teaspoon of salt”
                self.one_of(unit, i);
            }
            // “cure #1, heaped teaspoon”
            UnitKind::Volume
                if self.now.name.is_some()
                    && self.now.amounts.is_empty()
                    && (self.parted || self.rough.is_some()) =>
            {
                self.one_of(unit, i);
            }
            // “birch leaf powder”
            UnitKind::Count if self.now.name.is_none() => self.say(i),
            UnitKind::Count
            | UnitKind::Rough
            | UnitKind::Packet
            | UnitKind::Mass
            | UnitKind::Volume
            | UnitKind::Content => {}
        }
        i + 1
    }

    /// A measure without a number is one of it, heaped where that is said.
    fn one_of(&mut self, unit: usize, i: usize) {
        let rough = self.rough.take();
        let times = rough.map_or([1.0; 3], |(times, _)| times);
        let amount = Amount {
            number: Number::exactly(1.0).times(times),
            measure: Measure::Unit(unit),
            is_near: rough.is_some(),
            per: None,
            at: self.scanned.lexemes[i].at,
        };
        self.assign(amount, i + 1);
    }

    pub(super) fn assign(&mut self, amount: Amount, next: usize) {
        // What is said of the other choice is not said of this one, and nobody says one amount ten times.
        if (self.or && self.now.alternative) || self.now.amounts.len() >= MOST_READINGS {
            return;
        }
        let ahead = self.names_ahead(next);
        let is_mass = matches!(amount.measure, Measure::Unit(u) if self.kind(u) == UnitKind::Mass)
            && amount.per.is_none();
        let is_for = self.whose;
        // “A packet for 11 kg” says what the packet is for, and nothing of this batch.
        let in_packet = self
            .now
            .amounts
            .iter()
            .any(|a| matches!(a.measure, Measure::Unit(u) if self.kind(u) == UnitKind::Packet));
        if is_mass && is_for && in_packet {
            return;
        }
        // A weight of meat: “for 5 lb”, “5 lb pork belly”, “belly, 5 lb”.
        let of_meat = self.meat_since && !self.now.is_complete() && self.grams(&amount) >= FOR_MEAT;
        if is_mass
            && ahead != Ahead::Name
            && self.now.name.is_some()
            && (is_for || ahead == Ahead::Meat || of_meat)
        {
            self.close();
            self.now.is_meat = true;
            self.now.is_for = is_for;
            self.now.amounts.push(amount);
            return;
        }
        if is_mass && is_for && self.now.name.is_none() && ahead != Ahead::Name {
            if self.now.is_complete() || !self.now.amounts.is_empty() {
                self.close();
            }
            self.now.is_meat = true;
            self.now.is_for = true;
            self.now.amounts.push(amount);
            return;
        }
        if self.now.is_meat && ahead == Ahead::Name {
            self.close();
        }
        if self.now.is_meat && ahead == Ahead::Meat && !self.now.amounts.is_empty() && !self.or {
            self.close();
        }
        // “nitrite salt (0.6 %)” says what is in it.
        if let (Measure::Percent(None), Some(name)) = (amount.measure, self.now.name)
            && self
                .now
                .amounts
                .iter()
                .any(|a| !matches!(a.measure, Measure::Percent(_)))
            && self.is_strength(name, amount.number.value)
        {
            self.now.holds[0] = Some(amount.number.value / 100.0);
            return;
        }
        // “1.1 kg and 1.3 kg” are two pieces; “5 lb (2.3 kg)” is one, weighed twice.
        if self.now.is_meat
            && self.and
            && is_mass
            && self.depth == 0
            && !self.now.amounts.is_empty()
        {
            self.close();
            self.now.is_meat = true;
        }
        // “Belly cure: 2 oz salt, …” begins with its heading.
        if std::mem::take(&mut self.colon)
            && ahead == Ahead::Name
            && self.now.name.is_some()
            && !self.now.is_complete()
        {
            self.now = Item::default();
        }
        // “a bay leaf, 5 peppercorns”, “dissolve the salt in 1 l of water”: the number is that of the next.
        if (self.parted || self.inside || self.verb)
            && self.now.name.is_some()
            && !self.now.is_complete()
            && ahead == Ahead::Name
        {
            self.close();
        }
        // “5 g 6.25 % cure” says of one thing how much and how strong.
        let unnamed_twice =
            self.now.name.is_none() && matches!(amount.measure, Measure::Percent(_));
        let started = self.now.is_complete()
            || (self.now.name.is_none()
                && !self.now.amounts.is_empty()
                && !in_packet
                && !unnamed_twice)
            || (self.now.is_meat && !self.now.amounts.is_empty());
        if started {
            let names_another = match ahead {
                Ahead::Name | Ahead::Meat | Ahead::Gear => true,
                // Within brackets, and after “or”, words say more of the same.
                Ahead::Word => self.depth == 0 && !self.or && self.now.is_complete(),
                Ahead::Nothing => false,
            };
            let replaces = self.or || self.depth > 0;
            if names_another && self.or && self.now.name.is_some() {
                // “1 tsp cure #1 or 2 tbsp pre-blend”: the first counts.
                self.now.alternative = true;
                return;
            }
            if names_another && !(replaces && self.now.name.is_none()) {
                self.close();
            }
        }
        if self.now.amounts.is_empty() && self.now.count.is_none() && self.now.name.is_none() {
            self.amount_first = true;
        }
        if matches!(amount.measure, Measure::Bare) && self.is_count(next) {
            self.now.count = Some(amount.number.value);
            if self.now.amounts.is_empty() && !matches!(ahead, Ahead::Meat) {
                self.now.amounts.push(amount);
            }
            return;
        }
        self.now.amounts.push(amount);
    }

    /// True for a unit that meat or water is counted in.
    fn is_large(&self, i: usize) -> bool {
        matches!(self.what(i), Some(What::Unit(u)) if matches!(self.lexicon.units[*u].key.as_str(), "kg" | "lb" | "l" | "qt" | "gal"))
    }

    fn grams(&self, amount: &Amount) -> f64 {
        match amount.measure {
            Measure::Unit(unit) => self.lexicon.units[unit].size * amount.number.value,
            Measure::Percent(_) | Measure::Bare => 0.0,
        }
    }

    /// True where a percentage is of what was lost, or of the air.
    fn is_loss(&self, i: usize, next: usize) -> bool {
        let word = |l: &Lexeme| {
            self.scanned.tokens[l.at.0..l.at.1].iter().any(|t| {
                matches!(
                    t.word.as_str(),
                    "lost"
                        | "lose"
                        | "loses"
                        | "losing"
                        | "loss"
                        | "humidity"
                        | "rh"
                        | "lighter"
                        | "gone"
                        | "shrink"
                )
            })
        };
        let lexemes = &self.scanned.lexemes;
        lexemes[i.saturating_sub(3)..i].iter().any(word)
            || lexemes
                .get(next..)
                .unwrap_or_default()
                .iter()
                .take(2)
                .any(word)
    }

    /// True for a percentage that is the strength of a curing salt and no dose of it.
    pub(super) fn is_strength(&self, name: usize, percent: f64) -> bool {
        let row = &self.lexicon.names[name];
        if row.role != crate::catalogue::cures::Role::CuringSalt || row.pure.is_some() {
            return false;
        }
        let strong = (5.0..=7.0).contains(&percent);
        let table = (0.4..=1.0).contains(&percent);
        match row.assumed {
            None => strong,
            Some(Open::Celery) => true,
            Some(Open::Composition | Open::Identity | Open::Blend) => strong || table,
        }
    }

    /// True when a bare number counts what follows: bay leaves, bellies.
    pub(super) fn is_count(&self, next: usize) -> bool {
        match self.what(next) {
            Some(What::Meat) => true,
            Some(What::Name(n) | What::UnitOrName(_, n)) => !matches!(
                self.lexicon.names[*n].role,
                crate::catalogue::cures::Role::CuringSalt
            ),
            Some(What::Word { .. } | What::Rough(_)) => {
                matches!(self.names_ahead(next), Ahead::Meat)
            }
            _ => false,
        }
    }
}
