//! Which one is this: finding by tag, names, dates and words of notes, or by weight and thickness.

use crate::household::Household;
use crate::ids::{LotId, PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::book::{Book, LotBook};
use crate::piece::{Pack, Piece};
use crate::units::{Grams, Milligrams, Millimetres, Units, read};
use jiff::Timestamp;
use jiff::civil::Date;
use std::cell::OnceCell;
use std::collections::BTreeMap;

/// A weight matches within this share of it, since meat dries and scales differ.
const MASS_SHARE: f64 = 0.03;
/// Small things match within so much (g).
const MASS_LEAST_G: f64 = 10.0;
/// A thickness matches within so much (mm): it is measured by hand.
const THICKNESS_MM: f64 = 3.0;
/// Words of a question that count; what stands after them is left out.
const MOST_TERMS: usize = 8;
/// A weight in pounds and ounces takes so many words at most.
const LONGEST_AMOUNT: usize = 4;

const MONTHS: [&str; 12] = [
    "january",
    "february",
    "march",
    "april",
    "may",
    "june",
    "july",
    "august",
    "september",
    "october",
    "november",
    "december",
];

/// One thing that is asked for; what is found answers all of them.
#[derive(Clone, Debug, PartialEq)]
pub enum Term {
    /// Something written: the beginning of a word, in small letters.
    Word(String),
    /// A number without a unit: a weight, a thickness, or a word.
    Number(String, Option<Grams>, Option<Millimetres>),
    /// A weight.
    Mass(Grams),
    /// A thickness.
    Length(Millimetres),
    /// A day.
    Day(Date),
    /// A day of any year.
    MonthDay(i8, i8),
}

/// Reads what somebody types who looks for something.
#[must_use]
pub fn terms(text: &str, units: Units, today: Date) -> Vec<Term> {
    let text = text.to_lowercase();
    let words: Vec<&str> = text
        .split(|c: char| c.is_whitespace() || matches!(c, ';' | '“' | '”'))
        .map(|w| w.trim_matches([',', '?', '!']))
        .filter(|w| !w.is_empty())
        .collect();
    let mut found = Vec::new();
    let mut at = 0;
    while at < words.len() && found.len() < MOST_TERMS {
        let (term, taken) = term(&words[at..], units, today);
        found.push(term);
        at += taken;
    }
    found
}

fn term(words: &[&str], units: Units, today: Date) -> (Term, usize) {
    let first = words[0];
    let day = match first {
        "today" => Some(today),
        "yesterday" => today.yesterday().ok(),
        written => written.parse().ok(),
    };
    if let Some(day) = day {
        return (Term::Day(day), 1);
    }
    if let Some(found) = words.get(1).and_then(|second| month_day(first, second)) {
        return (found, 2);
    }
    for taken in (1..=words.len().min(LONGEST_AMOUNT)).rev() {
        let said = words[..taken].join(" ");
        // The last word carries the unit, or the amount would swallow what stands after it.
        let is_said = words[taken - 1]
            .chars()
            .any(|c| !c.is_ascii_digit() && c != '.' && c != ',');
        if !is_said || !said.starts_with(|c: char| c.is_ascii_digit()) {
            continue;
        }
        if let Ok(mass) = read::mass(&said, units.mass) {
            return (Term::Mass(mass), taken);
        }
        if let Ok(length) = read::length(&said, units.length) {
            return (Term::Length(length), taken);
        }
    }
    if first.parse::<f64>().is_ok() {
        let (mass, length) = (
            read::mass(first, units.mass).ok(),
            read::length(first, units.length).ok(),
        );
        return (Term::Number(first.into(), mass, length), 1);
    }
    (Term::Word(first.into()), 1)
}

/// `12 nov`, `nov 12`.
fn month_day(first: &str, second: &str) -> Option<Term> {
    let month = |word: &str| {
        let word = word.trim_end_matches('.');
        let at = MONTHS
            .iter()
            .position(|m| word.len() >= 3 && m.starts_with(word))?;
        i8::try_from(at + 1).ok()
    };
    let day = |word: &str| {
        let n: i8 = word
            .trim_end_matches(['.', 't', 'h', 's', 'n', 'd', 'r'])
            .parse()
            .ok()?;
        (1..=31).contains(&n).then_some(n)
    };
    let (m, d) = match (month(first), month(second)) {
        (Some(m), _) => (m, day(second)?),
        (None, Some(m)) => (m, day(first)?),
        (None, None) => return None,
    };
    Some(Term::MonthDay(m, d))
}

/// What was found.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Found {
    /// An animal or purchase.
    Lot(LotId),
    /// A piece.
    Piece(PieceId),
    /// A pack.
    Pack(PackId),
}

/// Why something was found.
#[derive(Clone, Debug, PartialEq)]
pub enum Because {
    /// Its tag.
    Tag,
    /// What it is, or is of, or becomes.
    Name,
    /// It weighed so much at some time.
    Mass(Grams),
    /// It is so thick.
    Thickness(Millimetres),
    /// Something happened to it on this day.
    Day(Date),
    /// These words were written about it.
    Note(String),
}

/// Something that answers everything that was asked.
#[derive(Clone, Debug, PartialEq)]
pub struct Hit {
    /// What it is.
    pub found: Found,
    /// Why, one for each term.
    pub because: Vec<Because>,
    score: u32,
    newest: Timestamp,
}

/// What a thing can be found by.
struct Subject<'a> {
    tag: &'a str,
    names: Vec<&'a str>,
    masses: Vec<Milligrams>,
    thickness: Option<Millimetres>,
    newest: Timestamp,
}

/// Everything that answers `text`, the nearest first, and how many there are in all.
///
/// A word is found at the beginning of a word of a tag, a cut, a product, an animal or a note; a weight within
/// 3 %, a thickness within 3 mm; a day where something happened on it.
#[must_use]
pub fn find(
    book: &Book,
    home: &Household,
    text: &str,
    today: Date,
    most: usize,
) -> (Vec<Hit>, usize) {
    let asked = terms(text, home.units, today);
    if asked.is_empty() {
        return (Vec::new(), 0);
    }
    let mut hits: Vec<Hit> = book
        .lots()
        .flat_map(|lot| in_lot(lot, &asked, home))
        .collect();
    hits.sort_by_key(|hit| std::cmp::Reverse((hit.score, hit.newest)));
    let in_all = hits.len();
    hits.truncate(most);
    (hits, in_all)
}

fn in_lot(lot: &LotBook, asked: &[Term], home: &Household) -> Vec<Hit> {
    let Some(about) = &lot.state.lot else {
        return Vec::new();
    };
    let species = about.species();
    let animal = [about.received.name.as_str(), species.name.as_str()];
    let whole = Subject {
        tag: &about.received.tag,
        names: animal.to_vec(),
        masses: vec![lot.state.received],
        thickness: None,
        newest: about.at,
    };
    let happened = Happened {
        lot,
        home,
        by_piece: OnceCell::new(),
    };
    let notes = |piece: Option<PieceId>| Notes {
        happened: &happened,
        piece,
    };
    let lot_hit = answers(&whole, asked, &notes(None)).map(|h| h.of(Found::Lot(lot.state.id)));
    let pieces = lot.state.pieces.values().filter_map(|p| {
        let cut = species
            .cut(&p.cut)
            .map_or(p.cut.as_str(), |c| c.name.as_str());
        let subject = of_piece(p, cut, animal);
        Some(answers(&subject, asked, &notes(Some(p.id)))?.of(Found::Piece(p.id)))
    });
    let packs = lot.state.packs.values().filter_map(|pack| {
        let subject = of_pack(pack, lot.state.pieces.get(&pack.piece), animal);
        let hit = answers(&subject, asked, &notes(Some(pack.piece)))?;
        // A name alone names the piece; a pack is meant by its tag, its weight or its day.
        let is_meant = hit.because.iter().any(|b| match b {
            Because::Tag => asked
                .iter()
                .any(|t| matches!(t, Term::Word(w) if w.contains('.'))),
            Because::Mass(_) => true,
            Because::Day(day) => *day == home.day(pack.at),
            Because::Name | Because::Thickness(_) | Because::Note(_) => false,
        });
        is_meant.then(|| hit.of(Found::Pack(pack.id)))
    });
    lot_hit.into_iter().chain(pieces).chain(packs).collect()
}

fn of_piece<'a>(piece: &'a Piece, cut: &'a str, animal: [&'a str; 2]) -> Subject<'a> {
    let product = piece.build().map(|b| b.name.as_str());
    Subject {
        tag: &piece.tag,
        names: [cut].into_iter().chain(animal).chain(product).collect(),
        masses: [piece.mass, piece.green]
            .into_iter()
            .chain(piece.weighings.iter().map(|w| w.net))
            .collect(),
        thickness: piece.shape.thickness(),
        newest: piece.since,
    }
}

fn of_pack<'a>(pack: &'a Pack, piece: Option<&'a Piece>, animal: [&'a str; 2]) -> Subject<'a> {
    let product = piece.and_then(Piece::build).map(|b| b.name.as_str());
    Subject {
        tag: &pack.tag,
        names: animal.into_iter().chain(product).collect(),
        masses: vec![pack.mass],
        thickness: None,
        newest: pack.at,
    }
}

/// What happened in a lot, by piece; put together only when no name answers.
struct Happened<'a> {
    lot: &'a LotBook,
    home: &'a Household,
    by_piece: OnceCell<BTreeMap<PieceId, Vec<&'a Entry>>>,
}

/// Days and notes of a piece, or of a whole lot.
struct Notes<'a> {
    happened: &'a Happened<'a>,
    piece: Option<PieceId>,
}

impl Notes<'_> {
    /// The newest that `at` finds something in.
    fn look<T>(&self, mut at: impl FnMut(&Entry) -> Option<T>) -> Option<T> {
        let Happened { lot, by_piece, .. } = self.happened;
        let live = || {
            lot.entries
                .iter()
                .zip(lot.live())
                .filter(|(_, is_live)| *is_live)
        };
        match self.piece {
            None => live().rev().find_map(|(e, _)| at(e)),
            Some(piece) => {
                let by_piece = by_piece.get_or_init(|| {
                    let mut found: BTreeMap<_, Vec<_>> = BTreeMap::new();
                    for (entry, _) in live() {
                        for piece in entry.act.pieces() {
                            found.entry(piece).or_default().push(&**entry);
                        }
                    }
                    found
                });
                by_piece.get(&piece)?.iter().rev().find_map(|e| at(e))
            }
        }
    }

    fn day(&self, is_it: impl Fn(Date) -> bool) -> Option<Because> {
        self.look(|e| {
            let day = self.happened.home.day(e.happened_at);
            is_it(day).then_some(Because::Day(day))
        })
    }

    fn words(&self, word: &str) -> Option<Because> {
        self.look(|e| {
            let said = e.act.note()?;
            begins(said, word).then(|| Because::Note(said.to_string()))
        })
    }
}

/// What a subject answers, before it is known what the subject is.
struct Answered {
    because: Vec<Because>,
    score: u32,
    newest: Timestamp,
}

impl Answered {
    fn of(self, found: Found) -> Hit {
        Hit {
            found,
            because: self.because,
            score: self.score,
            newest: self.newest,
        }
    }
}

fn answers(subject: &Subject<'_>, asked: &[Term], notes: &Notes<'_>) -> Option<Answered> {
    let mut because = Vec::with_capacity(asked.len());
    let mut score = 0;
    for term in asked {
        let (found, points) = answer(subject, term, notes)?;
        because.push(found);
        score += points;
    }
    Some(Answered {
        because,
        score,
        newest: subject.newest,
    })
}

fn answer(subject: &Subject<'_>, term: &Term, notes: &Notes<'_>) -> Option<(Because, u32)> {
    match term {
        Term::Word(word) => word_of(subject, word).or_else(|| Some((notes.words(word)?, 3))),
        Term::Number(word, mass, length) => word_of(subject, word)
            .or_else(|| mass_of(subject, (*mass)?))
            .or_else(|| length_of(subject, (*length)?))
            .or_else(|| Some((notes.words(word)?, 3))),
        Term::Mass(mass) => mass_of(subject, *mass),
        Term::Length(length) => length_of(subject, *length),
        Term::Day(day) => Some((notes.day(|d| d == *day)?, 10)),
        Term::MonthDay(month, day) => {
            Some((notes.day(|d| (d.month(), d.day()) == (*month, *day))?, 10))
        }
    }
}

fn word_of(subject: &Subject<'_>, word: &str) -> Option<(Because, u32)> {
    let tag = subject.tag.to_lowercase();
    if tag == word {
        return Some((Because::Tag, 100));
    }
    if tag.starts_with(word) {
        return Some((Because::Tag, 40));
    }
    let named = subject.names.iter().any(|name| begins(name, word));
    named.then_some((Because::Name, 10))
}

fn mass_of(subject: &Subject<'_>, asked: Grams) -> Option<(Because, u32)> {
    let within = f64::max(asked.0 * MASS_SHARE, MASS_LEAST_G);
    let off = |m: &Milligrams| (m.grams() - asked.0).abs();
    let (nth, nearest) = subject
        .masses
        .iter()
        .enumerate()
        .min_by(|a, b| off(a.1).total_cmp(&off(b.1)))?;
    // What it weighs now is what lies in the hand.
    let now = if nth == 0 { 10 } else { 0 };
    let near = ((1.0 - off(nearest) / within).max(0.0) * 20.0).round() as u32;
    (off(nearest) <= within).then(|| (Because::Mass(Grams(nearest.grams())), 10 + near + now))
}

fn length_of(subject: &Subject<'_>, asked: Millimetres) -> Option<(Because, u32)> {
    let is = subject.thickness?;
    let off = (is.0 - asked.0).abs();
    let near = ((1.0 - off / THICKNESS_MM).max(0.0) * 20.0).round() as u32;
    (off <= THICKNESS_MM).then(|| (Because::Thickness(is), 10 + near))
}

/// Whether a word of `text` begins so; `word` is in small letters.
fn begins(text: &str, word: &str) -> bool {
    let text = text.to_lowercase();
    text.match_indices(word).any(|(at, _)| {
        let before = text[..at].chars().next_back();
        before.is_none_or(|c| !c.is_alphanumeric())
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{LengthUnit, MassUnit};

    fn read_as(text: &str) -> Vec<Term> {
        terms(text, Units::default(), Date::constant(2026, 11, 21))
    }

    #[test]
    fn what_is_typed_is_read_as_it_is_meant() {
        let word = |w: &str| Term::Word(w.into());
        let day = |m, d| Term::Day(Date::constant(2026, m, d));
        let pound = 453.592_37;
        #[rustfmt::skip]
        let cases = [
            ("HG1-2", vec![word("hg1-2")]),
            ("  slab,  belly ", vec![word("slab"), word("belly")]),
            ("2.1 kg", vec![Term::Mass(Grams(2100.0))]),
            ("2,1kg 45 mm", vec![Term::Mass(Grams(2100.0)), Term::Length(Millimetres(45.0))]),
            ("4 lb 7 oz elk", vec![Term::Mass(Grams(4.437_5 * pound)), word("elk")]),
            ("elk 1 3/4 in", vec![word("elk"), Term::Length(Millimetres(44.45))]),
            ("12 nov", vec![Term::MonthDay(11, 12)]),
            ("Nov. 12th goat", vec![Term::MonthDay(11, 12), word("goat")]),
            ("2026-11-12", vec![day(11, 12)]),
            ("yesterday", vec![day(11, 20)]),
            ("2010", vec![Term::Number("2010".into(), Some(Grams(2010.0)), Some(Millimetres(2010.0)))]),
            ("?", vec![]),
            ("", vec![]),
        ];
        for (text, want) in cases {
            let got = read_as(text);
            let near = |a: f64, b: f64| (a - b).abs() < 0.01;
            let same = got.len() == want.len()
                && got.iter().zip(&want).all(|pair| match pair {
                    (Term::Mass(a), Term::Mass(b)) => near(a.0, b.0),
                    (Term::Length(a), Term::Length(b)) => near(a.0, b.0),
                    (a, b) => a == b,
                });
            assert!(same, "{text}: {got:?}, not {want:?}");
        }
        let imperial = Units {
            mass: MassUnit::Imperial,
            length: LengthUnit::Inch,
            ..Units::default()
        };
        let Term::Number(_, Some(mass), Some(length)) =
            &terms("4", imperial, Date::constant(2026, 1, 1))[0]
        else {
            panic!("a bare number")
        };
        assert!((mass.0 - 4.0 * pound).abs() < 0.01 && (length.0 - 101.6).abs() < 0.01);
    }

    #[test]
    fn no_question_is_too_long_or_too_odd() {
        let odd = "🐗 ".repeat(400) + "½ kg \u{0} 9e99 -4 kg 0 mm " + &"x".repeat(5_000);
        assert!(read_as(&odd).len() <= MOST_TERMS);
    }
}
