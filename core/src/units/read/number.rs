//! Numbers as people type them: `2010`, `2 010`, `1.234,5`, `1 3/4`, `¾`.

use super::ReadError;

/// A number, and how sure one can be of it.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Number {
    /// What it means.
    pub value: f64,
    /// As it was typed, where that can be read in two ways.
    pub two_ways: Option<TwoWays>,
    /// True for a plain run of digits without a fraction: what may stand before a dash.
    pub whole: bool,
}

/// Digits that are thousands in one country and a decimal in another.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct TwoWays {
    /// Without the separator.
    pub plain: String,
    /// With a point for it.
    pub decimal: String,
    /// True for `2,010`, which is read in two ways everywhere; a point is one only where the
    /// household's bare numbers are large ones.
    pub always: bool,
}

impl Number {
    fn sure(value: f64) -> Self {
        Self {
            value,
            two_ways: None,
            whole: false,
        }
    }
}

/// What keyboards and copied text put in the place of plain characters.
pub(super) fn plain(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.trim().chars() {
        match c {
            '０'..='９' => out.push(char::from(b'0' + (c as u32 - '０' as u32) as u8)),
            '．' => out.push('.'),
            '，' => out.push(','),
            '⁄' | '∕' | '／' => out.push('/'),
            '−' | '－' | '–' | '‐' | '‑' => out.push('-'),
            '℃' => out.push_str(" C"),
            '℉' => out.push_str(" F"),
            '％' => out.push('%'),
            '＃' => out.push('#'),
            '“' | '”' | '″' | '＂' => out.push('"'),
            '\u{a0}' | '\u{2007}' | '\u{2009}' | '\u{200a}' | '\u{202f}' | '\u{3000}' => {
                out.push(' ');
            }
            // Invisible marks that come along when text is copied.
            '\u{200b}' | '\u{feff}' | '\u{200e}' | '\u{200f}' => {}
            c => out.push(c),
        }
    }
    out
}

/// One number with what belongs to it, and the text behind it.
pub(super) fn number<'a>(
    text: &'a str,
    example: &'static str,
) -> Result<(Number, &'a str), ReadError> {
    let unread = || ReadError::number(text, example);
    if let Some((value, len)) = text.chars().next().and_then(vulgar) {
        return Ok((Number::sure(value), &text[len..]));
    }
    let (run, rest) = digits_run(text);
    let mut whole = decimal(run).ok_or_else(|| ReadError::number(run, example))?;
    // `3/4` itself
    if let Some(after) = rest.strip_prefix('/')
        && after.starts_with(|c: char| c.is_ascii_digit())
    {
        let (bottom, after) = digits(after).ok_or_else(unread)?;
        return Ok((
            Number::sure(divided(whole.value, bottom).ok_or_else(unread)?),
            after,
        ));
    }
    // `1 3/4` or `1-3/4` or `1¾`
    let gap = rest.trim_start_matches([' ', '-']);
    if let Some((value, len)) = gap.chars().next().and_then(vulgar) {
        return Ok((Number::sure(whole.value + value), &gap[len..]));
    }
    if let Some((top, after)) = digits(gap)
        && let Some(after) = after.strip_prefix('/')
        && after.starts_with(|c: char| c.is_ascii_digit())
    {
        let (bottom, after) = digits(after).ok_or_else(unread)?;
        let part = divided(top, bottom).ok_or_else(unread)?;
        return Ok((Number::sure(whole.value + part), after));
    }
    whole.whole = run.bytes().all(|b| b.is_ascii_digit());
    Ok((whole, rest))
}

fn divided(top: f64, bottom: f64) -> Option<f64> {
    (bottom != 0.0).then(|| top / bottom)
}

fn digits(text: &str) -> Option<(f64, &str)> {
    let end = text
        .find(|c: char| !c.is_ascii_digit())
        .unwrap_or(text.len());
    Some((text[..end].parse().ok()?, &text[end..]))
}

/// The digits with their separators; a blank belongs to them between groups of three.
fn digits_run(text: &str) -> (&str, &str) {
    let bytes = text.as_bytes();
    let digits_at = |from: usize| {
        bytes[from..]
            .iter()
            .take_while(|b| b.is_ascii_digit())
            .count()
    };
    let first = digits_at(0);
    let mut end = first;
    if (1..=3).contains(&first) {
        while bytes.get(end) == Some(&b' ')
            && digits_at(end + 1) == 3
            // `1 250/1000` would be a fraction
            && bytes.get(end + 4) != Some(&b'/')
        {
            end += 4;
        }
    }
    let more = text[end..]
        .find(|c: char| !(c.is_ascii_digit() || c == '.' || c == ','))
        .map_or(text.len(), |n| end + n);
    // A comma or full stop at the end belongs to the sentence: `4 lbs., 7 oz`.
    let run = text[..more].trim_end_matches([',', '.']);
    (run, &text[more..])
}

/// A run of digits and separators.
fn decimal(run: &str) -> Option<Number> {
    let spaced = run.contains(' ');
    let run: String = run.chars().filter(|c| *c != ' ').collect();
    let (commas, points) = (run.matches(',').count(), run.matches('.').count());
    let read = |text: &str| -> Option<f64> {
        let fits = text.chars().any(|c| c.is_ascii_digit());
        fits.then(|| text.parse().ok()).flatten()
    };
    if spaced && commas + points > 1 {
        return None;
    }
    let value = match (commas, points) {
        (0, 0) => read(&run)?,
        (1, 0) | (0, 1) => {
            let by = if commas == 1 { ',' } else { '.' };
            let (whole, part) = run.split_once(by)?;
            let grouped = part.len() == 3
                && (1..=3).contains(&whole.len())
                && !whole.starts_with('0')
                && !spaced;
            return Some(Number {
                two_ways: grouped.then(|| TwoWays {
                    plain: format!("{whole}{part}"),
                    decimal: format!("{whole}.{part}"),
                    always: by == ',',
                }),
                ..Number::sure(read(&run.replace(',', "."))?)
            });
        }
        // several of one kind are thousands
        (_, 0) => read(&in_threes(&run, ',')?)?,
        (0, _) => read(&in_threes(&run, '.')?)?,
        // the last of two kinds is the decimal one, and stands once
        (_, _) => {
            let (by, other) = if run.rfind(',') > run.rfind('.') {
                (',', '.')
            } else {
                ('.', ',')
            };
            let (whole, part) = run.rsplit_once(by)?;
            read(&format!("{}.{part}", in_threes(whole, other)?))?
        }
    };
    Some(Number::sure(value))
}

/// `1.234.567` without its separators: one to three digits, then groups of three.
fn in_threes(text: &str, by: char) -> Option<String> {
    let mut groups = text.split(by);
    let all_digits = |g: &str| !g.is_empty() && g.bytes().all(|b| b.is_ascii_digit());
    let fits = groups
        .next()
        .is_some_and(|g| (1..=3).contains(&g.len()) && all_digits(g))
        && groups.all(|g| g.len() == 3 && all_digits(g));
    fits.then(|| text.replace(by, ""))
}

fn vulgar(c: char) -> Option<(f64, usize)> {
    let value = match c {
        '½' => 0.5,
        '¼' => 0.25,
        '¾' => 0.75,
        '⅓' => 1.0 / 3.0,
        '⅔' => 2.0 / 3.0,
        '⅕' => 0.2,
        '⅖' => 0.4,
        '⅗' => 0.6,
        '⅘' => 0.8,
        '⅙' => 1.0 / 6.0,
        '⅚' => 5.0 / 6.0,
        '⅛' => 0.125,
        '⅜' => 0.375,
        '⅝' => 0.625,
        '⅞' => 0.875,
        _ => return None,
    };
    Some((value, c.len_utf8()))
}

/// True for a vulgar fraction, which begins a number without a digit.
pub(super) fn begins_number(c: char) -> bool {
    c.is_ascii_digit() || vulgar(c).is_some()
}
