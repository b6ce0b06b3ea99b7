//! A temperature log out of a file: which column is what, and what every row says or why it is refused.

use crate::caution::{Code, Finding, Severity};
use crate::heat::typed::unit_doubt;
use crate::household::Household;
use crate::place::Place;
use crate::place::climate::{GAP_S, Read};
use crate::units::show::trim;
use crate::units::{Celsius, Fraction, HeatUnit, Typed};
use jiff::civil::{Date, DateTime, Time};
use jiff::tz::AmbiguousOffset;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};

/// No file is longer than so many rows.
pub const MOST_ROWS: usize = 200_000;

/// Of refused rows so many are spelled out.
pub const MOST_REFUSED: usize = 500;

/// What no place for meat is warmer or colder than (°C).
const SENSIBLE_C: std::ops::RangeInclusive<f64> = -60.0..=60.0;

/// What a probe in meat, or in the air of a smoker, may say (°C).
const PROBE_C: std::ops::RangeInclusive<f64> = -40.0..=400.0;

/// No log is older than that.
const FIRST_YEAR: i16 = 2000;

/// In which order a date is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum DateOrder {
    /// 2026-11-20.
    YearMonthDay,
    /// 20.11.2026.
    DayMonthYear,
    /// 11/20/2026.
    MonthDayYear,
}

/// Which column of a log is what, counted from zero.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Columns {
    /// The date, or date and time in one.
    pub date: usize,
    /// The time, where it has a column of its own.
    #[serde(default)]
    pub time: Option<usize>,
    /// The temperature.
    pub temperature: usize,
    /// The humidity.
    #[serde(default)]
    pub humidity: Option<usize>,
    /// The unit of the temperatures, where a row does not say it.
    pub unit: HeatUnit,
    /// In which order its dates are written.
    pub dates: DateOrder,
    /// True when the first row names the columns.
    pub header: bool,
}

/// A row that could not be taken.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Refused {
    /// Its line in the file, from one.
    pub line: u64,
    /// What stands there.
    pub row: String,
    /// What is wrong with it.
    pub why: String,
}

/// A row that was read.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct LogRow {
    /// When and how warm.
    pub read: Read,
    /// How damp.
    pub humidity: Option<Fraction>,
}

/// What a file says.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct LogFile {
    /// Its readings, in the order of the file.
    pub rows: Vec<LogRow>,
    /// Rows that could not be taken, at most [`MOST_REFUSED`] of them.
    pub refused: Vec<Refused>,
    /// How many could not be taken in all.
    pub refused_in_all: usize,
}

/// The table in a file, as cells.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Table {
    /// What parts its cells.
    pub delimiter: char,
    /// Rows with their lines.
    pub rows: Vec<(u64, Vec<String>)>,
}

/// Takes a file apart into cells.
///
/// # Errors
/// What is wrong with it, in a sentence.
pub fn table(text: &str) -> Result<Table, String> {
    let text = text.trim_start_matches('\u{feff}');
    let empty = "The file is empty. Choose one with a date and a temperature in each row.";
    let first = text.lines().find(|l| !l.trim().is_empty()).ok_or(empty)?;
    // Whatever parts the first row into the most cells; a comma may be a decimal one.
    let delimiter = [';', '\t', ',']
        .into_iter()
        .max_by_key(|d| (first.matches(*d).count().min(50), *d != ','))
        .filter(|d| first.contains(*d))
        .ok_or("Its rows have one cell only. It wants a date and a temperature, parted by commas, semicolons or tabs.")?;
    let mut reader = csv::ReaderBuilder::new()
        .has_headers(false)
        .flexible(true)
        .trim(csv::Trim::All)
        .delimiter(delimiter as u8)
        .from_reader(text.as_bytes());
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|e| format!("It does not read as a table: {e}."))?;
        if rows.len() >= MOST_ROWS {
            return Err(format!(
                "It has more than {MOST_ROWS} rows. Cut it into years, and bring them one by one."
            ));
        }
        let line = record.position().map_or(0, csv::Position::line);
        let cells: Vec<String> = record.iter().map(str::to_string).collect();
        if cells.iter().any(|c| !c.is_empty()) {
            rows.push((line, cells));
        }
    }
    if rows.is_empty() {
        return Err(empty.into());
    }
    Ok(Table { delimiter, rows })
}

/// Which column is most likely what.
///
/// # Errors
/// When none looks like a date, or none like a temperature.
pub fn guess(table: &Table, home: &Household) -> Result<Columns, String> {
    let first = &table.rows[0].1;
    let numbers = |cells: &[String]| cells.iter().filter(|c| number(c, ';').is_some()).count();
    let header = numbers(first) == 0 && !first.iter().any(|c| date_in(c).is_some());
    let body: Vec<&Vec<String>> = table
        .rows
        .iter()
        .skip(usize::from(header))
        .take(200)
        .map(|(_, cells)| cells)
        .collect();
    let names: Vec<String> = first.iter().map(|c| c.to_lowercase()).collect();
    let width = body.iter().map(|r| r.len()).max().unwrap_or(0);
    let named = |words: &[&str]| {
        let fits = |n: &&String| words.iter().any(|w| n.contains(w));
        header
            .then(|| names.iter().position(|n| fits(&n)))
            .flatten()
    };
    let share = |column: usize, is: &dyn Fn(&str) -> bool| {
        let filled = body.iter().filter_map(|r| r.get(column));
        let (all, good) = filled.fold((0, 0), |(a, g), c| (a + 1, g + usize::from(is(c))));
        all > 0 && good * 2 > all
    };
    let is_date = |c: &str| date_in(c).is_some();
    let date = (0..width)
        .find(|c| share(*c, &is_date))
        .ok_or("No column looks like a date. A row wants one such as 2026-11-20 18:30.")?;
    let has_time = |c: &str| c.parse::<Timestamp>().is_ok() || c.contains(':');
    let time = if share(date, &has_time) {
        None
    } else {
        (0..width).find(|c| *c != date && share(*c, &|cell| time_in(cell).is_some()))
    };
    let free = |c: &usize| *c != date && Some(*c) != time;
    let is_number = |c: &str| number(c, table.delimiter).is_some();
    let temperature = named(&["temp", "°c", "°f", "celsius", "fahrenheit", "degc", "degf"])
        .filter(free)
        .or_else(|| (0..width).find(|c| free(c) && share(*c, &is_number)))
        .ok_or("No column looks like a temperature. A row wants a number such as 3.4.")?;
    let humidity = named(&[
        "hum", "rh", "r.h", "damp", "moist", "feucht", "fukt", "vocht",
    ])
    .filter(|c| free(c) && *c != temperature);
    let said = names.get(temperature).filter(|_| header);
    let is = |words: &[&str]| said.is_some_and(|n| words.iter().any(|w| n.contains(w)));
    // `probe 1 F` says it as a word of its own.
    let ends = |letter: &str| said.is_some_and(|n| n.split_whitespace().any(|w| w == letter));
    let unit = if is(&["°f", "fahrenheit", "degf", "(f)", "_f"]) || ends("f") {
        HeatUnit::Fahrenheit
    } else if is(&["°c", "celsius", "degc", "(c)", "_c"]) || ends("c") {
        HeatUnit::Celsius
    } else {
        home.units.heat
    };
    Ok(Columns {
        date,
        time,
        temperature,
        humidity,
        unit,
        dates: order_of(body.iter().filter_map(|r| r.get(date)), home),
        header,
    })
}

/// The order in which dates are written: a number over twelve is no month.
fn order_of<'a>(cells: impl Iterator<Item = &'a String>, home: &Household) -> DateOrder {
    let us = home.units.heat == HeatUnit::Fahrenheit;
    let mut found = if us {
        DateOrder::MonthDayYear
    } else {
        DateOrder::DayMonthYear
    };
    for cell in cells {
        if cell.parse::<Timestamp>().is_ok() {
            return DateOrder::YearMonthDay;
        }
        let Some([a, b, _]) = date_in(cell) else {
            continue;
        };
        if a > 31 {
            return DateOrder::YearMonthDay;
        }
        if a > 12 {
            found = DateOrder::DayMonthYear;
        } else if b > 12 {
            found = DateOrder::MonthDayYear;
        }
    }
    found
}

/// Three numbers that could be a date, in the order in which they stand.
fn date_in(cell: &str) -> Option<[i32; 3]> {
    let date = cell.split(['T', ' ']).next()?;
    let mut parts = date.trim_end_matches(',').split(['-', '.', '/']);
    let mut next = || parts.next()?.parse::<i32>().ok().filter(|n| *n >= 0);
    let found = [next()?, next()?, next()?];
    parts.next().is_none().then_some(found)
}

/// A time of day, with or without seconds, in 24 hours or 12.
fn time_in(cell: &str) -> Option<Time> {
    let cell = cell.trim().to_lowercase();
    let (clock, half) = if let Some(am) = cell.strip_suffix("am") {
        (am.trim_end(), Some(0))
    } else if let Some(pm) = cell.strip_suffix("pm") {
        (pm.trim_end(), Some(12))
    } else {
        (cell.as_str(), None)
    };
    let mut parts = clock.split(':');
    let hour: i8 = parts.next()?.parse().ok()?;
    let minute: i8 = parts.next()?.parse().ok()?;
    let second: i8 = match parts.next() {
        Some(text) => text.split('.').next()?.parse().ok()?,
        None => 0,
    };
    let hour = match half {
        Some(_) if !(1..=12).contains(&hour) => return None,
        Some(later) => hour % 12 + later,
        None => hour,
    };
    Time::new(hour, minute, second, 0).ok()
}

fn number(cell: &str, delimiter: char) -> Option<f64> {
    let plain = cell.trim_end_matches(['C', 'F', 'c', 'f', '°', '%', ' ']);
    // Where a comma parts cells it is no decimal one, unless the cell was quoted.
    let plain = if delimiter == ',' && plain.matches(',').count() > 1 {
        return None;
    } else {
        plain.replace(',', ".").replace('\u{2212}', "-")
    };
    plain.parse::<f64>().ok().filter(|n| n.is_finite())
}

/// Reads every row.
#[must_use]
pub fn read(table: &Table, columns: &Columns, home: &Household, now: Timestamp) -> LogFile {
    rows(table, columns, home, now, &SENSIBLE_C)
}

/// Columns of probes in a file: all whose cells are numbers, but for its date, time and humidity. The number of a probe is the one
/// in its heading, where each has its own there; else they are counted from the left.
#[must_use]
pub fn probe_columns(table: &Table, columns: &Columns) -> Vec<(u8, usize)> {
    let width = table.rows.iter().map(|(_, r)| r.len()).max().unwrap_or(0);
    let data = || {
        let rows = table.rows.iter().skip(usize::from(columns.header));
        rows.take(40).map(|(_, cells)| cells)
    };
    let is_other =
        |n: &usize| *n == columns.date || Some(*n) == columns.time || Some(*n) == columns.humidity;
    let of_numbers = |n: &usize| {
        let filled = || data().filter_map(|c| c.get(*n)).filter(|c| !c.is_empty());
        let numbers = filled().filter(|c| number(c, table.delimiter).is_some());
        let numbers = numbers.count();
        numbers > 0 && numbers * 2 > filled().count()
    };
    let found: Vec<usize> = (0..width)
        .filter(|n| !is_other(n) && of_numbers(n))
        .collect();
    let heading = |n: &usize| -> Option<u8> {
        let (_, first) = table.rows.first().filter(|_| columns.header)?;
        let digits: String = first
            .get(*n)?
            .chars()
            .filter(char::is_ascii_digit)
            .collect();
        digits.parse().ok().filter(|no| (1..=12).contains(no))
    };
    let named: Option<Vec<u8>> = found.iter().map(heading).collect();
    let named = named.filter(|all| (1..all.len()).all(|i| !all[..i].contains(&all[i])));
    let counted = found.iter().enumerate().take(12).map(|(i, _)| i as u8 + 1);
    let numbers: Vec<u8> = named.unwrap_or_else(|| counted.collect());
    numbers.into_iter().zip(found).collect()
}

/// Reads one probe of a file with several; a row without a number for it is passed over in silence: it was not plugged in.
#[must_use]
pub fn read_probe(
    table: &Table,
    columns: &Columns,
    column: usize,
    home: &Household,
    now: Timestamp,
) -> LogFile {
    let columns = Columns {
        temperature: column,
        humidity: None,
        ..columns.clone()
    };
    let is_empty = |cells: &[String]| {
        let cell = cells.get(column).map_or("", |c| c.trim());
        matches!(
            cell.to_ascii_lowercase().as_str(),
            "" | "-" | "--" | "---" | "n/a" | "na" | "nan" | "null" | "lll" | "hhh"
        )
    };
    let rows_of = table.rows.iter().enumerate();
    let heading = usize::from(columns.header);
    let plugged = Table {
        delimiter: table.delimiter,
        rows: rows_of
            .filter(|(i, (_, cells))| *i < heading || !is_empty(cells))
            .map(|(_, row)| row.clone())
            .collect(),
    };
    rows(&plugged, &columns, home, now, &PROBE_C)
}

fn rows(
    table: &Table,
    columns: &Columns,
    home: &Household,
    now: Timestamp,
    sensible: &std::ops::RangeInclusive<f64>,
) -> LogFile {
    let mut file = LogFile::default();
    let mut before: Option<Timestamp> = None;
    for (line, cells) in table.rows.iter().skip(usize::from(columns.header)) {
        match row(
            cells,
            columns,
            table.delimiter,
            home,
            (now, before),
            sensible,
        ) {
            Ok(found) => {
                before = Some(found.read.at);
                file.rows.push(found);
            }
            Err(why) => {
                file.refused_in_all += 1;
                if file.refused.len() < MOST_REFUSED {
                    let shown: String = cells.join(" | ").chars().take(120).collect();
                    file.refused.push(Refused {
                        line: *line,
                        row: shown,
                        why,
                    });
                }
            }
        }
    }
    file
}

fn row(
    cells: &[String],
    columns: &Columns,
    delimiter: char,
    home: &Household,
    (now, before): (Timestamp, Option<Timestamp>),
    sensible: &std::ops::RangeInclusive<f64>,
) -> Result<LogRow, String> {
    let cell = |n: usize, what: &str| {
        let found = cells.get(n).map(String::as_str).unwrap_or_default();
        if found.is_empty() {
            Err(format!("It has no {what}."))
        } else {
            Ok(found)
        }
    };
    let date = cell(columns.date, "date")?;
    let at = match columns.time {
        Some(time) => moment(
            &format!("{date} {}", cell(time, "time")?),
            columns,
            home,
            before,
        )?,
        None => moment(date, columns, home, before)?,
    };
    if at > now.saturating_add(2.minutes()).unwrap_or(now) {
        return Err("That is still to come.".into());
    }
    let text = cell(columns.temperature, "temperature")?;
    let value = number(text, delimiter).ok_or_else(|| format!("“{text}” is no temperature."))?;
    let unit = match text.trim_end().chars().last() {
        Some('F' | 'f') => HeatUnit::Fahrenheit,
        Some('C' | 'c') => HeatUnit::Celsius,
        Some(_) | None => columns.unit,
    };
    let celsius = match unit {
        HeatUnit::Celsius => value,
        HeatUnit::Fahrenheit => (value - 32.0) / 1.8,
    };
    if !sensible.contains(&celsius) {
        return Err(format!("Neither meat nor a place for it is at {text}."));
    }
    let humidity = match columns.humidity.and_then(|n| cells.get(n)) {
        None => None,
        Some(text) if text.is_empty() => None,
        Some(text) => {
            let percent = number(text, delimiter)
                .filter(|n| (0.0..=100.0).contains(n))
                .ok_or_else(|| format!("“{text}” is no humidity from 0 to 100 %."))?;
            Some(Fraction(percent / 100.0))
        }
    };
    Ok(LogRow {
        read: Read {
            at,
            temperature: Celsius(celsius),
        },
        humidity,
    })
}

/// A moment as a log writes it: with its offset, or by the household's clock.
fn moment(
    text: &str,
    columns: &Columns,
    home: &Household,
    before: Option<Timestamp>,
) -> Result<Timestamp, String> {
    if let Ok(at) = text.parse::<Timestamp>() {
        let date = home.day(at);
        return if date.year() < FIRST_YEAR {
            Err(format!("{date} is too long ago."))
        } else {
            Ok(at)
        };
    }
    let unreadable = || format!("“{text}” is no date and time, such as 2026-11-20 18:30.");
    let [a, b, c] = date_in(text).ok_or_else(unreadable)?;
    let (year, month, day) = match columns.dates {
        DateOrder::YearMonthDay => (a, b, c),
        DateOrder::DayMonthYear => (c, b, a),
        DateOrder::MonthDayYear => (c, a, b),
    };
    let year = if year < 100 { year + 2_000 } else { year };
    let small = |n: i32| i8::try_from(n).map_err(|_| unreadable());
    let year = i16::try_from(year).map_err(|_| unreadable())?;
    let date = Date::new(year, small(month)?, small(day)?).map_err(|_| unreadable())?;
    if year < FIRST_YEAR {
        return Err(format!("{date} is too long ago."));
    }
    let (_, clock) = text
        .split_once(['T', ' '])
        .ok_or_else(|| format!("“{text}” says no time of day. Say which column holds it."))?;
    let time = time_in(clock).ok_or_else(unreadable)?;
    local(DateTime::from_parts(date, time), home, before)
}

/// By the household's clock; in the hour that comes twice, the second time when the first would go back.
fn local(at: DateTime, home: &Household, before: Option<Timestamp>) -> Result<Timestamp, String> {
    let unreadable = |_| format!("{at} is no time by the clock of {}.", home.time_zone);
    let found = home.zone().to_ambiguous_zoned(at);
    let offset = found.offset();
    let first = found.clone().earlier().map_err(unreadable)?.timestamp();
    let second = found.later().map_err(unreadable)?.timestamp();
    match offset {
        AmbiguousOffset::Unambiguous { .. } => Ok(first),
        AmbiguousOffset::Fold { .. } => Ok(if before.is_some_and(|b| b >= first) {
            second
        } else {
            first
        }),
        AmbiguousOffset::Gap { .. } => Err(format!(
            "The clocks were put forward that night: there was no {} on {}.",
            at.strftime("%H:%M"),
            at.date()
        )),
    }
}

/// What is asked about a file before its readings are taken: another unit than it seems, hours without a reading.
#[must_use]
pub fn warnings(
    file: &LogFile,
    columns: &Columns,
    place: &Place,
    home: &Household,
) -> Vec<Finding> {
    let mut found = Vec::new();
    let mut read: Vec<Read> = file.rows.iter().map(|r| r.read).collect();
    read.sort_by_key(|r| r.at);
    let mut temperature: Vec<f64> = read.iter().map(|r| r.temperature.0).collect();
    temperature.sort_by(f64::total_cmp);
    if let Some(middle) = temperature.get(temperature.len() / 2) {
        let (said, unit) = match columns.unit {
            HeatUnit::Celsius => (*middle, HeatUnit::Celsius),
            HeatUnit::Fahrenheit => (middle * 1.8 + 32.0, HeatUnit::Fahrenheit),
        };
        let bare = Typed {
            said: trim(said, 1),
            value: Celsius(*middle),
        };
        found.extend(unit_doubt(&bare, place.read_where()).map(|f| {
            let other = match unit {
                HeatUnit::Celsius => "°F",
                HeatUnit::Fahrenheit => "°C",
            };
            Finding {
                message: format!(
                    "Is this file in {other}? Its middle reading is {}.",
                    trim(said, 1)
                ),
                remedy: Some("Choose the unit of the file, or take it as it is.".into()),
                ..f
            }
        }));
    }
    let hole = read
        .windows(2)
        .map(|p| (p[1].at.as_second() - p[0].at.as_second(), p[0].at, p[1].at))
        .filter(|(gap, ..)| *gap > GAP_S)
        .max_by_key(|(gap, ..)| *gap);
    found.extend(hole.map(|(gap, from, to)| {
        let said = |at: jiff::Timestamp| {
            at.to_zoned(home.zone())
                .strftime("%Y-%m-%d %H:%M")
                .to_string()
        };
        Finding::new(
            Code::OddLog,
            Severity::Caution,
            "The file has a hole: nothing is known of that time.",
        )
        .saw(format!(
            "no reading for {} h, from {} to {}",
            trim(gap as f64 / 3_600.0, 0),
            said(from),
            said(to)
        ))
        .wants("a reading every 12 h or more often")
        .remedy("Look whether the thermometer stopped, and how warm the meat was then.")
    }));
    found
}

#[cfg(test)]
mod tests;
