//! From letters to words, numbers and signs, and from those to what they mean in a recipe.

mod numbers;
mod tokens;

pub(super) use tokens::{Kind, Token};

use tokens::tokens;

use crate::catalogue::lexicon::{Lexicon, Means, Of, TimeUnit, Topic, Topics, UnitKind};

/// A number with how far it may be off.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Number {
    pub low: f64,
    pub value: f64,
    pub high: f64,
    /// `1,250`: thousands, or a decimal comma.
    pub comma: Option<f64>,
    /// True for “2 to 3”.
    pub is_range: bool,
}

impl Number {
    pub(super) const fn exactly(value: f64) -> Self {
        Self {
            low: value,
            value,
            high: value,
            comma: None,
            is_range: false,
        }
    }

    pub(super) fn times(self, [low, usual, high]: [f64; 3]) -> Self {
        Self {
            low: self.low * low,
            value: self.value * usual,
            high: self.high * high,
            ..self
        }
    }

    pub(super) fn to(self, other: Self) -> Self {
        let (low, high) = (self.low.min(other.low), self.high.max(other.high));
        Self {
            low,
            value: f64::midpoint(low, high),
            high,
            comma: None,
            is_range: true,
        }
    }
}

/// A piece of a line with its meaning.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Lexeme {
    pub what: What,
    /// The tokens it is made of.
    pub at: (usize, usize),
    /// The word that was meant, where a letter of it is wrong.
    pub slip: Option<String>,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum What {
    Number(Number),
    Rough([f64; 3]),
    Unit(usize),
    /// A count word that is also the name of something: cloves.
    UnitOrName(usize, usize),
    Name(usize),
    Meat,
    Gear,
    Taste,
    Rest,
    Per,
    Whose,
    Of(Of),
    /// The mix of the lines above.
    Mix,
    Or,
    Not,
    Percent,
    /// `6.25 % nitrite`: what a curing salt holds.
    Holds {
        nitrate: bool,
        share: f64,
    },
    Time(TimeUnit),
    Length,
    /// A temperature (°C).
    Degrees(f64, f64),
    And,
    Sign(char),
    Word {
        nearly_a_cure: bool,
    },
}

/// A line, read word by word.
#[derive(Clone, Debug)]
pub(super) struct Scanned {
    pub tokens: Vec<Token>,
    pub lexemes: Vec<Lexeme>,
    pub topics: Topics,
}

impl Scanned {
    /// What stands in the line between two tokens, as typed.
    pub(super) fn label<'a>(&self, line: &'a str, at: (usize, usize)) -> &'a str {
        match (self.tokens.get(at.0), self.tokens.get(at.1.max(1) - 1)) {
            (Some(first), Some(last)) if first.at.0 <= last.at.1 => &line[first.at.0..last.at.1],
            _ => "",
        }
    }
}

/// True for a mark that begins a line of a list.
fn is_bullet(token: &Token) -> bool {
    matches!(
        token.kind,
        Kind::Sign('-' | '*' | '•' | '·' | '◦' | '▪' | '–' | '>' | '+' | '□' | '☐' | '■' | '●')
    )
}

/// Reads the words of a line.
pub(super) fn scan(line: &str, lexicon: &Lexicon) -> Scanned {
    let tokens = tokens(line);
    // Hyphens and dots join words of a phrase and are looked over inside one.
    let mut slips: Vec<Option<String>> = vec![None; tokens.len()];
    let words: Vec<String> = tokens
        .iter()
        .enumerate()
        .map(|(i, t)| match t.kind {
            Kind::Word => match lexicon.meant(&t.word) {
                Some(meant) => {
                    slips[i] = Some(meant.to_string());
                    meant.to_string()
                }
                None => t.word.clone(),
            },
            Kind::Number(..) | Kind::Fraction(_) | Kind::Sign(_) => t.word.clone(),
        })
        .collect();
    let mut scanner = Scanner {
        line,
        lexicon,
        tokens: &tokens,
        words: &words,
        slips: &slips,
        lexemes: Vec::new(),
    };
    scanner.run();
    let lexemes = scanner.lexemes;
    let plain: Vec<&str> = tokens
        .iter()
        .zip(&words)
        .filter(|(t, _)| !matches!(t.kind, Kind::Sign('-' | '.')))
        .map(|(_, w)| w.as_str())
        .collect();
    let topics = lexicon.topics(&plain);
    Scanned {
        tokens,
        lexemes,
        topics,
    }
}

struct Scanner<'a> {
    line: &'a str,
    lexicon: &'a Lexicon,
    tokens: &'a [Token],
    words: &'a [String],
    slips: &'a [Option<String>],
    lexemes: Vec<Lexeme>,
}

/// Words of the longest phrase in the data.
const LONGEST_PHRASE: usize = 8;

impl Scanner<'_> {
    fn push(&mut self, what: What, from: usize, to: usize) {
        let slip = self.slips[from..to].iter().find_map(Clone::clone);
        self.lexemes.push(Lexeme {
            what,
            at: (from, to),
            slip,
        });
    }

    fn is_sign(&self, i: usize, sign: char) -> bool {
        self.tokens
            .get(i)
            .is_some_and(|t| t.kind == Kind::Sign(sign))
    }

    /// The words from a token on, hyphens and dots looked over, with the token after each.
    fn ahead(&self, i: usize) -> (Vec<&str>, Vec<usize>) {
        let (mut words, mut ends) = (Vec::new(), Vec::new());
        for (j, token) in self.tokens.iter().enumerate().skip(i) {
            match token.kind {
                Kind::Sign('-' | '.') if j > i => {}
                Kind::Sign('/') if j > i => break,
                _ => {
                    words.push(self.words[j].as_str());
                    ends.push(j + 1);
                }
            }
            if words.len() == LONGEST_PHRASE || j > i + 2 * LONGEST_PHRASE {
                break;
            }
        }
        (words, ends)
    }

    fn run(&mut self) {
        let mut i = 0;
        while self.tokens.get(i).is_some_and(is_bullet) {
            // “-5 °C” and “+ 2 g” begin no list.
            i += 1;
        }
        i = self.past_step(i);
        while i < self.tokens.len() {
            i = self.step(i);
        }
    }

    /// “1.” and “2)” in front of a step are no amounts.
    fn past_step(&self, i: usize) -> usize {
        let is_small = matches!(self.tokens.get(i).map(|t| t.kind), Some(Kind::Number(n, None)) if n < 40.0 && n.fract() == 0.0);
        let marked = self.is_sign(i + 1, ')')
            || (self.is_sign(i + 1, '.')
                && self.tokens.get(i + 2).is_some_and(|t| {
                    t.at.0 > self.tokens[i + 1].at.1
                        && matches!(t.kind, Kind::Word | Kind::Number(..))
                }));
        if is_small
            && marked
            && self.tokens[i].at.1 == self.tokens[i + 1].at.0
            && self.tokens.len() > i + 2
        {
            let (ahead, _) = self.ahead(i + 2);
            let unit = self.lexicon.at_as(&ahead, |m| matches!(m, Means::Unit(_)));
            if unit.is_none() {
                return i + 2;
            }
        }
        i
    }

    fn step(&mut self, i: usize) -> usize {
        if let Some((number, next)) = self.number(i) {
            return self.after_number(number, i, next);
        }
        let token = &self.tokens[i];
        if let Some(unit) = self.exact(i) {
            let next = if self.is_sign(i + 1, '.') {
                i + 2
            } else {
                i + 1
            };
            self.push(What::Unit(unit), i, next);
            return next;
        }
        match token.kind {
            Kind::Sign('%') => {
                self.push(What::Percent, i, i + 1);
                return i + 1;
            }
            Kind::Sign('&') => {
                self.push(What::And, i, i + 1);
                return i + 1;
            }
            Kind::Sign('.' | '-' | '°') => {
                if matches!(token.kind, Kind::Sign('.')) && self.ends_sentence(i) {
                    self.push(What::Sign('.'), i, i + 1);
                }
                return i + 1;
            }
            _ => {}
        }
        match self.words[i].as_str() {
            "percent" | "pct" | "procent" => {
                self.push(What::Percent, i, i + 1);
                return i + 1;
            }
            "per" if self.words.get(i + 1).is_some_and(|w| w == "cent") => {
                self.push(What::Percent, i, i + 2);
                return i + 2;
            }
            "and" | "plus" | "with" => {
                self.push(What::And, i, i + 1);
                return i + 1;
            }
            _ => {}
        }
        if let Some(next) = self.phrase(i) {
            return next;
        }
        match token.kind {
            Kind::Sign(c) => self.push(What::Sign(c), i, i + 1),
            Kind::Word | Kind::Number(..) | Kind::Fraction(_) => {
                let nearly_a_cure = self.lexicon.is_nearly_a_cure(&self.words[i]);
                self.push(What::Word { nearly_a_cure }, i, i + 1);
            }
        }
        i + 1
    }

    /// A dot ends a sentence when a new one begins after it.
    fn ends_sentence(&self, i: usize) -> bool {
        let begins = self.tokens.get(i + 1).is_some_and(|t| {
            t.at.0 > self.tokens[i].at.1
                && self.line[t.at.0..]
                    .chars()
                    .next()
                    .is_some_and(char::is_uppercase)
        });
        let shortened = self
            .lexemes
            .last()
            .filter(|l| l.at.1 == i)
            .and_then(|l| match l.what {
                What::Unit(unit) => Some(unit),
                _ => None,
            });
        // “2 tsp. Salt” goes on; “450 g. Bury it” does not.
        let goes_on = shortened.is_some_and(|unit| {
            let (ahead, _) = self.ahead(i + 1);
            let metric = matches!(
                self.lexicon.units[unit].key.as_str(),
                "g" | "kg" | "ml" | "l"
            );
            !metric && !self.lexicon.begins(&ahead, Topic::Verb)
        });
        begins && !goes_on
    }

    fn phrase(&mut self, i: usize) -> Option<usize> {
        let (ahead, ends) = self.ahead(i);
        let (words, all) = self.lexicon.at(&ahead)?;
        let next = ends[words - 1];
        let unit = all.iter().find_map(|m| match m {
            Means::Unit(u) => Some(*u),
            _ => None,
        });
        let name = all.iter().find_map(|m| match m {
            Means::Name(n) => Some(*n),
            _ => None,
        });
        if let Some(name) = name {
            // “Cure: 1 tsp” is no cure #1: its number belongs to the spoon.
            if self.is_bare_cure(i, next) {
                let one = self.lexicon.at(&ahead[..words - 1]);
                if let Some((shorter, Means::Name(n))) =
                    one.and_then(|(w, all)| Some((w, *all.first()?)))
                {
                    let next = ends[shorter - 1];
                    self.push(What::Name(n), i, next);
                    return Some(next);
                }
            }
            match unit {
                Some(unit) if self.lexicon.units[unit].kind == UnitKind::Count => {
                    self.push(What::UnitOrName(unit, name), i, next);
                }
                Some(_) | None => self.push(What::Name(name), i, next),
            }
            return Some(next);
        }
        let what = match *all.first()? {
            Means::Number(_) | Means::AndNumber(_) => return None,
            Means::Rough(times) => What::Rough(times),
            Means::Unit(unit) => {
                // A sign for pounds stands after a number, and a letter that is a unit too.
                let after_number = self.lexemes.last().is_some_and(|l| {
                    matches!(l.what, What::Number(_) | What::Rough(_) | What::Per)
                });
                let short = next == i + 1 && self.tokens[i].word.chars().count() == 1;
                // “g/kg:” counts what stands below it.
                let rates =
                    self.is_sign(i + 1, '/') || self.words.get(i + 1).is_some_and(|w| w == "per");
                if short && !after_number && !rates && !self.is_sign(i.wrapping_sub(1), '/') {
                    return None;
                }
                What::Unit(unit)
            }
            Means::Name(name) => What::Name(name),
            Means::Meat => What::Meat,
            Means::Gear => What::Gear,
            Means::Taste => What::Taste,
            Means::Rest => What::Rest,
            // “loin 1.2 kg / salt 26 g” only parts; “g/kg” and “/5 lb” are rates.
            Means::Per if self.is_sign(i, '/') && !self.rates_at(next) => What::Sign('|'),
            Means::Per => What::Per,
            Means::Whose => What::Whose,
            Means::Of(of) => What::Of(of),
            Means::Mix => What::Mix,
            Means::Or => What::Or,
            Means::Not => What::Not,
            Means::Time(unit) => What::Time(unit),
            Means::Length => {
                let after_number = self
                    .lexemes
                    .last()
                    .is_some_and(|l| matches!(l.what, What::Number(_)));
                if !after_number {
                    return None;
                }
                What::Length
            }
        };
        // “meat” alone is meat; after “kg of” it says of what.
        let what = match what {
            What::Of(Of::Meat) if words == 1 && !self.after_measure() => What::Meat,
            What::Of(Of::Water) if words == 1 => {
                let water = self.lexicon.at_as(&ahead, |m| matches!(m, Means::Name(_)));
                match water {
                    Some((_, Means::Name(n))) => What::Name(n),
                    _ => What::Of(Of::Water),
                }
            }
            other => other,
        };
        self.push(what, i, next);
        Some(next)
    }

    /// True when a unit or a number follows: so much on so much.
    fn rates_at(&self, i: usize) -> bool {
        let (ahead, _) = self.ahead(i);
        self.number(i).is_some()
            || self.exact(i).is_some()
            || self
                .lexicon
                .at_as(&ahead, |m| matches!(m, Means::Unit(_)))
                .is_some()
    }

    fn after_measure(&self) -> bool {
        let mut back = self.lexemes.iter().rev().map(|l| &l.what);
        let last = back.next();
        let before = back.next();
        matches!(last, Some(What::Percent))
            || (matches!(last, Some(What::Unit(_)))
                && matches!(before, Some(What::Per | What::Number(_))))
                && self
                    .lexemes
                    .iter()
                    .rev()
                    .take(4)
                    .any(|l| l.what == What::Per)
    }

    /// A bare number at the end of a cure's name that a unit follows: it is an amount.
    fn is_bare_cure(&self, i: usize, next: usize) -> bool {
        let last = next - 1;
        if last == i || !matches!(self.tokens[last].kind, Kind::Number(..)) {
            return false;
        }
        if !matches!(self.tokens[last - 1].kind, Kind::Word)
            || matches!(
                self.words[last - 1].as_str(),
                "no" | "nr" | "number" | "type"
            )
        {
            return false;
        }
        let (ahead, _) = self.ahead(next);
        self.exact(next).is_some()
            || self.is_sign(next, '%')
            || (self.is_sign(next, '/')
                || matches!(
                    self.tokens.get(next).map(|t| t.kind),
                    Some(Kind::Fraction(_))
                ))
            || matches!(
                self.lexicon.at(&ahead),
                Some((_, all)) if all.iter().any(|m| matches!(m, Means::Unit(_)))
            )
    }

    /// A spelling that holds in its own case: `T` is a tablespoon.
    fn exact(&self, i: usize) -> Option<usize> {
        let token = self.tokens.get(i)?;
        let typed = &self.line[token.at.0..token.at.1];
        let after_number = self
            .lexemes
            .last()
            .is_some_and(|l| matches!(l.what, What::Number(_) | What::Rough(_) | What::Per));
        (token.kind == Kind::Word && (after_number || i == 0))
            .then(|| self.lexicon.exact_unit(typed))
            .flatten()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;

    #[test]
    fn numbers_are_read_as_people_write_them() {
        let lexicon = &Catalogue::shipped().lexicon;
        #[rustfmt::skip]
        let cases: [(&str, f64, f64, f64); 19] = [
            ("1 1/2 cups", 1.5, 1.5, 1.5),
            ("1½ cups", 1.5, 1.5, 1.5),
            ("1-1/2 cups", 1.5, 1.5, 1.5),
            ("½ cup", 0.5, 0.5, 0.5),
            ("one and a half cups", 1.5, 1.5, 1.5),
            ("1 and a half cups", 1.5, 1.5, 1.5),
            ("half a cup", 0.5, 0.5, 0.5),
            ("a cup", 1.0, 1.0, 1.0),
            ("three quarters of a cup", 0.75, 0.75, 0.75),
            ("2-3 tsp", 2.0, 2.5, 3.0),
            ("2 to 3 tsp", 2.0, 2.5, 3.0),
            ("1/2–1 cup", 0.5, 0.75, 1.0),
            ("two to three tsp", 2.0, 2.5, 3.0),
            ("2,5 g", 2.5, 2.5, 2.5),
            (".5 oz", 0.5, 0.5, 0.5),
            ("1,234.5 g", 1_234.5, 1_234.5, 1_234.5),
            ("1.234,5 g", 1_234.5, 1_234.5, 1_234.5),
            ("7/8 oz", 0.875, 0.875, 0.875),
            ("a dozen cloves", 12.0, 12.0, 12.0),
        ];
        for (line, low, value, high) in cases {
            let scanned = scan(line, lexicon);
            let What::Number(n) = scanned.lexemes[0].what else {
                panic!("{line}: {:?}", scanned.lexemes);
            };
            for (got, want) in [(n.low, low), (n.value, value), (n.high, high)] {
                assert!((got - want).abs() < 1e-9, "{line}: {got} not {want}");
            }
        }
    }

    #[test]
    fn the_same_letter_is_a_spoon_a_cup_or_a_degree_by_its_case_and_place() {
        let lexicon = &Catalogue::shipped().lexicon;
        let unit = |line: &str| {
            scan(line, lexicon)
                .lexemes
                .iter()
                .find_map(|l| match l.what {
                    What::Unit(u) => Some(lexicon.units[u].key.clone()),
                    _ => None,
                })
        };
        #[rustfmt::skip]
        let cases = [
            ("2 T salt", Some("tbsp")), ("2 t salt", Some("tsp")), ("2 tbs. salt", Some("tbsp")), ("1 c. salt", Some("cup")),
            ("2 C water", Some("cup")), ("5# pork", Some("lb")), ("5 # pork", Some("lb")), ("leave at 3 C", None), ("cure #1", None),
            ("3 fl. oz rum", Some("fl_oz")), ("22g salt", Some("g")), ("½tsp cumin", Some("tsp")),
        ];
        for (line, want) in cases {
            assert_eq!(unit(line).as_deref(), want, "{line}");
        }
    }

    #[test]
    fn any_line_is_taken_apart() {
        let lexicon = &Catalogue::shipped().lexicon;
        for line in [
            "",
            "…",
            "###",
            "½½½",
            "1/0",
            "1//2",
            "9999999999999999999999 kg",
            "- - -",
            "\u{301}a",
            "1,2,3,4.5.6 g",
            "%",
            "°",
            "1-",
        ] {
            scan(line, lexicon);
        }
    }
}
