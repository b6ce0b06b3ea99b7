//! A line taken apart into words, numbers and signs.

/// A word, number or sign of a line.
#[derive(Clone, Debug, PartialEq)]
pub(in crate::recipe) struct Token {
    pub kind: Kind,
    /// As it is looked up: in small letters, without its dots.
    pub word: String,
    /// Where it stands in the line, by the byte.
    pub at: (usize, usize),
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub(in crate::recipe) enum Kind {
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

/// Digits before its mark that a number may have: more is no number that anybody weighs.
const DIGITS: usize = 9;
/// Digits behind it that are looked at.
const DECIMALS: usize = 18;

/// Takes a line apart.
pub(in crate::recipe) fn tokens(line: &str) -> Vec<Token> {
    let letters: Vec<(usize, char)> = line.char_indices().collect();
    let end_of = |i: usize| letters.get(i).map_or(line.len(), |(at, _)| *at);
    let mut found = Vec::new();
    let mut i = 0;
    while i < letters.len() {
        let (at, c) = letters[i];
        let begin = i;
        // “no.1” is no tenth, nor is “salt.....1 tsp”.
        let behind_letter =
            i > 0 && (letters[i - 1].1.is_alphanumeric() || letters[i - 1].1 == '.');
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
    let whole = |digits: &str| digits.parse().ok().filter(|_| digits.len() <= DIGITS);
    let split = |at: usize| {
        let (whole, part) = text.split_at(at);
        let part = &part[..part.len().min(DECIMALS)];
        let read = format!("{whole}.{part}").parse().ok();
        read.filter(|_| whole.len() <= DIGITS)
    };
    let read: Option<(f64, Option<f64>)> = match marks.as_slice() {
        [] => whole(&text).map(|n| (n, None)),
        [(',', at)] if text.len() - at == 3 && (1..=3).contains(at) && !text.starts_with('0') => {
            whole(&text).map(|n| (n, split(*at)))
        }
        [(_, at)] => split(*at).map(|n| (n, None)),
        // 1,234.5 or 1.234,5: the last mark is the decimal one, unless all are alike.
        many => {
            let (last, at) = many[many.len() - 1];
            let alike = many.iter().all(|(c, _)| *c == last);
            let n = if alike { whole(&text) } else { split(at) };
            n.map(|n| (n, None))
        }
    };
    // A number that nobody means is no number.
    let kind = read.map_or(Kind::Word, |(n, comma)| Kind::Number(n, comma));
    (i, kind)
}
