//! From letters to words, numbers and signs, and from those to what they mean in a recipe.

use crate::catalogue::lexicon::{Lexicon, Means, Of, TimeUnit, Topics, UnitKind};

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

/// A word, number or sign of a line.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Token {
    pub kind: Kind,
    /// As it is looked up: in small letters, without its dots.
    pub word: String,
    /// Where it stands in the line, by the byte.
    pub at: (usize, usize),
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Kind {
    Word,
    /// A number as written; the second where its comma may divide thousands.
    Number(f64, Option<f64>),
    /// `½`
    Fraction(f64),
    Sign(char),
}

/// A letter that is a fraction of one.
const fn vulgar(c: char) -> Option<f64> {
    Some(match c {
        '½' => 0.5,
        '¼' => 0.25,
        '¾' => 0.75,
        '⅓' => 1.0 / 3.0,
        '⅔' => 2.0 / 3.0,
        '⅛' => 0.125,
        '⅜' => 0.375,
        '⅝' => 0.625,
        '⅞' => 0.875,
        '⅙' => 1.0 / 6.0,
        '⅚' => 5.0 / 6.0,
        '⅕' => 0.2,
        '⅖' => 0.4,
        '⅗' => 0.6,
        '⅘' => 0.8,
        _ => return None,
    })
}

/// Digits that a number may have: more is no number that anybody weighs.
const DIGITS: usize = 12;

/// Takes a line apart.
pub(super) fn tokens(line: &str) -> Vec<Token> {
    let letters: Vec<(usize, char)> = line.char_indices().collect();
    let end_of = |i: usize| letters.get(i).map_or(line.len(), |(at, _)| *at);
    let mut found = Vec::new();
    let mut i = 0;
    while i < letters.len() {
        let (at, c) = letters[i];
        let begin = i;
        // “no.1” is no tenth.
        let behind_letter = i > 0 && letters[i - 1].1.is_alphanumeric();
        if c.is_ascii_digit() || (c == '.' && !behind_letter && is_digit(&letters, i + 1)) {
            let (next, kind) = number(&letters, i);
            i = next;
            found.push(Token {
                kind,
                word: line[at..end_of(i)].to_string(),
                at: (at, end_of(i)),
            });
            continue;
        }
        if let Some(part) = vulgar(c) {
            i += 1;
            found.push(Token {
                kind: Kind::Fraction(part),
                word: c.to_string(),
                at: (at, end_of(i)),
            });
            continue;
        }
        if c.is_alphabetic() {
            // “2lb3oz”: a unit behind a number ends where the next number begins.
            let behind_number = i > 0 && letters[i - 1].1.is_ascii_digit();
            while let Some((_, c)) = letters.get(i) {
                if behind_number && c.is_ascii_digit() {
                    break;
                }
                let inside = matches!(*c, '\'' | '’') && is_letter(&letters, i + 1);
                if !(c.is_alphanumeric() || inside) || vulgar(*c).is_some() {
                    break;
                }
                i += 1;
            }
            let word = line[at..end_of(i)].to_lowercase().replace('’', "'");
            found.push(Token {
                kind: Kind::Word,
                word,
                at: (at, end_of(i)),
            });
            continue;
        }
        i = begin + 1;
        if !c.is_whitespace() {
            let c = match c {
                '–' | '—' | '−' | '‐' | '‑' => '-',
                '×' | '✕' => 'x',
                '⁄' | '∕' => '/',
                '：' => ':',
                'º' | '˚' => '°',
                '％' => '%',
                other => other,
            };
            found.push(Token {
                kind: Kind::Sign(c),
                word: c.to_string(),
                at: (at, end_of(i)),
            });
        }
    }
    found
}

fn is_digit(letters: &[(usize, char)], i: usize) -> bool {
    letters.get(i).is_some_and(|(_, c)| c.is_ascii_digit())
}

fn is_letter(letters: &[(usize, char)], i: usize) -> bool {
    letters.get(i).is_some_and(|(_, c)| c.is_alphabetic())
}

/// Reads digits with a decimal point or comma, and commas between thousands.
fn number(letters: &[(usize, char)], mut i: usize) -> (usize, Kind) {
    let mut text = String::new();
    let mut marks: Vec<(char, usize)> = Vec::new();
    while let Some((_, c)) = letters.get(i) {
        if c.is_ascii_digit() {
            text.push(*c);
        } else if matches!(*c, '.' | ',') && is_digit(letters, i + 1) {
            marks.push((*c, text.len()));
        } else if matches!(*c, '\u{a0}' | '\u{202f}' | '\u{2009}' | '\'' | '’')
            && (1..=3).all(|n| is_digit(letters, i + n))
            && !is_digit(letters, i + 4)
            && !text.is_empty()
            && marks.is_empty()
        {
            // A thin blank between thousands.
        } else {
            break;
        }
        i += 1;
    }
    let whole = |text: &str| {
        if text.len() > DIGITS {
            f64::INFINITY
        } else {
            text.parse().unwrap_or(f64::INFINITY)
        }
    };
    let split = |at: usize| {
        if text.len() > DIGITS + 6 {
            return f64::INFINITY;
        }
        format!("{}.{}", &text[..at], &text[at..])
            .parse()
            .unwrap_or(f64::INFINITY)
    };
    let kind = match marks.as_slice() {
        [] => Kind::Number(whole(&text), None),
        [(',', at)] if text.len() - at == 3 && (1..=3).contains(at) && !text.starts_with('0') => {
            Kind::Number(whole(&text), Some(split(*at)))
        }
        [(_, at)] => Kind::Number(split(*at), None),
        // 1,234.5 or 1.234,5: the last mark is the decimal one, unless all are alike.
        many => {
            let (last, at) = many[many.len() - 1];
            let alike = many.iter().all(|(c, _)| *c == last);
            Kind::Number(if alike { whole(&text) } else { split(at) }, None)
        }
    };
    (i, kind)
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
    pub(super) fn said<'a>(&self, line: &'a str, at: (usize, usize)) -> &'a str {
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
        let next = self.tokens.get(i + 1);
        next.is_some_and(|t| {
            t.at.0 > self.tokens[i].at.1
                && self.line[t.at.0..]
                    .chars()
                    .next()
                    .is_some_and(char::is_uppercase)
        }) && !self
            .lexemes
            .last()
            .is_some_and(|l| matches!(l.what, What::Unit(_)) && l.at.1 == i)
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

    /// One number without its range: `1 1/2`, `1½`, `3/4`, `one and a half`, `half a`.
    fn simple(&self, i: usize) -> Option<(Number, usize)> {
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
    fn measures(&self, i: usize) -> bool {
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
    fn number(&self, i: usize) -> Option<(Number, usize)> {
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
    fn after_number(&mut self, number: Number, i: usize, next: usize) -> usize {
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
    fn signed(&self, number: Number, i: usize) -> Number {
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

    fn percent(&self, i: usize) -> Option<usize> {
        if self.is_sign(i, '%') {
            return Some(i + 1);
        }
        match self.words.get(i)?.as_str() {
            "percent" | "pct" => Some(i + 1),
            "per" if self.words.get(i + 1).is_some_and(|w| w == "cent") => Some(i + 2),
            _ => None,
        }
    }

    fn holds(&self, number: Number, i: usize) -> Option<(f64, bool, usize)> {
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

    fn degrees(&self, i: usize, number: Number) -> Option<((f64, f64), usize)> {
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
    fn begins_name(&self, i: usize) -> bool {
        let at = if self.is_sign(i, '.') { i + 1 } else { i };
        let (ahead, _) = self.ahead(at);
        !ahead.is_empty()
            && self
                .lexicon
                .at_as(&ahead, |m| matches!(m, Means::Name(_) | Means::Rough(_)))
                .is_some()
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
