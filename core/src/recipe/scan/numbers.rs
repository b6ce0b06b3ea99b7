//! Numbers as people write them, and what follows one: a degree, a percentage, a strength.

use super::{Kind, Number, Scanner, What};
use crate::catalogue::lexicon::Means;

impl Scanner<'_> {
    /// One number without its range: `1 1/2`, `1½`, `3/4`, `one and a half`, `half a`.
    pub(super) fn simple(&self, i: usize) -> Option<(Number, usize)> {
        let fraction = |i: usize| -> Option<(f64, usize)> {
            match (self.tokens.get(i)?.kind, self.tokens.get(i + 2)?.kind) {
                (Kind::Number(over, None), Kind::Number(under, None))
                    if self.is_sign(i + 1, '/')
                        && over.fract() == 0.0
                        && [2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 16.0, 32.0].contains(&under) =>
                {
                    Some((over / under, i + 3))
                }
                _ => None,
            }
        };
        match self.tokens.get(i)?.kind {
            Kind::Fraction(part) => Some((Number::exactly(part), i + 1)),
            Kind::Number(value, comma) => {
                if let Some((value, next)) = fraction(i) {
                    return Some((Number::exactly(value), next));
                }
                let whole = value.fract() == 0.0 && comma.is_none();
                if whole && let Some(Kind::Fraction(part)) = self.tokens.get(i + 1).map(|t| t.kind)
                {
                    return Some((Number::exactly(value + part), i + 2));
                }
                // `1-1/2` is one and a half: nobody counts down.
                let at = if self.is_sign(i + 1, '-') {
                    i + 2
                } else {
                    i + 1
                };
                if whole
                    && value >= 1.0
                    && let Some((part, next)) = fraction(at)
                    && part < 1.0
                {
                    return Some((Number::exactly(value + part), next));
                }
                let (ahead, ends) = self.ahead(i + 1);
                if whole
                    && let Some((words, Means::AndNumber(part))) = self
                        .lexicon
                        .at_as(&ahead, |m| matches!(m, Means::AndNumber(_)))
                {
                    return Some((Number::exactly(value + part), ends[words - 1]));
                }
                // “1 & 1/2”
                if whole
                    && matches!(self.words.get(i + 1).map(String::as_str), Some("&" | "and"))
                    && let Some((part, next)) = fraction(i + 2)
                    && part < 1.0
                {
                    return Some((Number::exactly(value + part), next));
                }
                let number = Number {
                    comma,
                    ..Number::exactly(value)
                };
                Some((number, i + 1))
            }
            Kind::Word => {
                let (ahead, ends) = self.ahead(i);
                let (words, Means::Number(value)) = self
                    .lexicon
                    .at_as(&ahead, |m| matches!(m, Means::Number(_)))?
                else {
                    return None;
                };
                let next = ends[words - 1];
                if words == 1 && matches!(ahead[0], "a" | "an" | "single") && !self.measures(next) {
                    return None;
                }
                let (ahead, ends) = self.ahead(next);
                if let Some((words, Means::AndNumber(part))) = self
                    .lexicon
                    .at_as(&ahead, |m| matches!(m, Means::AndNumber(_)))
                    && value.fract() == 0.0
                {
                    return Some((Number::exactly(value + part), ends[words - 1]));
                }
                Some((Number::exactly(value), next))
            }
            Kind::Sign(_) => None,
        }
    }

    /// True when a measure follows, perhaps heaped or level: “a” is one of it.
    pub(super) fn measures(&self, i: usize) -> bool {
        let (ahead, ends) = self.ahead(i);
        match self.lexicon.at(&ahead) {
            Some((_, all)) if all.iter().any(|m| matches!(m, Means::Unit(_))) => true,
            Some((words, all)) if all.iter().any(|m| matches!(m, Means::Rough(_))) => {
                self.measures(ends[words - 1])
            }
            _ => self.tokens.get(i).is_some_and(|t| {
                self.lexicon
                    .exact_unit(&self.line[t.at.0..t.at.1])
                    .is_some()
                    && t.kind == Kind::Word
            }),
        }
    }

    /// A number, or a range of two.
    pub(super) fn number(&self, i: usize) -> Option<(Number, usize)> {
        let (first, next) = self.simple(i)?;
        let second = match self
            .tokens
            .get(next)
            .map(|t| (t.kind, self.words[next].as_str()))
        {
            Some((Kind::Sign('-'), _)) => self.simple(next + 1),
            Some((Kind::Word, "to" | "till" | "until")) => self.simple(next + 1),
            // “2 or 3 tsp”; “between 2 and 3”
            Some((Kind::Word, "or")) => {
                self.simple(next + 1).filter(|(n, _)| n.value > first.value)
            }
            Some((Kind::Word, "and")) if i > 0 && self.words[i - 1] == "between" => {
                self.simple(next + 1)
            }
            _ => None,
        };
        match second {
            Some((second, after))
                if second.value > first.value
                    && matches!(
                        self.tokens[next + 1].kind,
                        Kind::Number(..) | Kind::Fraction(_) | Kind::Word
                    ) =>
            {
                Some((first.to(second), after))
            }
            _ => Some((first, next)),
        }
    }

    /// What follows a number says what it counts.
    pub(super) fn after_number(&mut self, number: Number, i: usize, next: usize) -> usize {
        // A temperature.
        if let Some((celsius, after)) = self.degrees(next, self.signed(number, i)) {
            self.push(What::Degrees(celsius.0, celsius.1), i, after);
            return after;
        }
        // “6.25 % nitrite” says what a salt is made of.
        if let Some((share, nitrate, after)) = self.holds(number, next) {
            self.push(What::Holds { nitrate, share }, i, after);
            return after;
        }
        self.push(What::Number(number), i, next);
        next
    }

    /// The same below zero, where a minus stands right before it: “at -18 °C”.
    pub(super) fn signed(&self, number: Number, i: usize) -> Number {
        let minus = i > 0
            && self.is_sign(i - 1, '-')
            && self.tokens[i - 1].at.1 == self.tokens[i].at.0
            && (i < 2 || self.tokens[i - 2].at.1 < self.tokens[i - 1].at.0);
        let worded = i > 0 && self.words[i - 1] == "minus";
        if (minus || worded) && !number.is_range {
            Number::exactly(-number.value)
        } else {
            number
        }
    }

    pub(super) fn percent(&self, i: usize) -> Option<usize> {
        if self.is_sign(i, '%') {
            return Some(i + 1);
        }
        match self.words.get(i)?.as_str() {
            "percent" | "pct" => Some(i + 1),
            "per" if self.words.get(i + 1).is_some_and(|w| w == "cent") => Some(i + 2),
            _ => None,
        }
    }

    pub(super) fn holds(&self, number: Number, i: usize) -> Option<(f64, bool, usize)> {
        let mut at = self.percent(i)?;
        while matches!(
            self.words.get(at).map(String::as_str),
            Some("sodium" | "of" | "pure" | "as")
        ) {
            at += 1;
        }
        let word = self.words.get(at)?.as_str();
        matches!(word, "nitrite" | "nitrate").then_some((
            number.value / 100.0,
            word == "nitrate",
            at + 1,
        ))
    }

    pub(super) fn degrees(&self, i: usize, number: Number) -> Option<((f64, f64), usize)> {
        let mut at = i;
        let mut marked = false;
        if self.is_sign(at, '°') {
            marked = true;
            at += 1;
        } else if matches!(
            self.words.get(at).map(String::as_str),
            Some("deg" | "degs" | "degree" | "degrees")
        ) {
            marked = true;
            at += 1;
            if self.is_sign(at, '.') {
                at += 1;
            }
        }
        let word = self.tokens.get(at).filter(|t| t.kind == Kind::Word);
        let typed = word.map(|t| &self.line[t.at.0..t.at.1]);
        let celsius = |f: f64| (f - 32.0) / 1.8;
        let low_high = |change: &dyn Fn(f64) -> f64| (change(number.low), change(number.high));
        match typed {
            Some("C" | "Celsius" | "celsius" | "centigrade" | "Centigrade")
                if marked || !self.begins_name(at + 1) =>
            {
                Some((low_high(&|c| c), at + 1))
            }
            Some("c") if marked => Some((low_high(&|c| c), at + 1)),
            Some("F" | "f" | "Fahrenheit" | "fahrenheit") => Some((low_high(&celsius), at + 1)),
            // Without a letter: what is over 100 is Fahrenheit, in a kitchen.
            _ if marked => Some((
                if number.high > 100.0 {
                    low_high(&celsius)
                } else {
                    low_high(&|c| c)
                },
                at,
            )),
            _ => None,
        }
    }

    /// True when an ingredient is named there: “2 C water” is two cups of it.
    pub(super) fn begins_name(&self, i: usize) -> bool {
        let at = if self.is_sign(i, '.') { i + 1 } else { i };
        let (ahead, _) = self.ahead(at);
        !ahead.is_empty()
            && self
                .lexicon
                .at_as(&ahead, |m| matches!(m, Means::Name(_) | Means::Rough(_)))
                .is_some()
    }
}
