//! Logs as thermometers write them, and as people spoil them.

use super::*;

fn now() -> Timestamp {
    "2026-11-25T12:00:00Z".parse().unwrap()
}

fn read_all(text: &str, home: &Household) -> (Columns, LogFile) {
    let table = table(text).unwrap();
    let columns = guess(&table, home).unwrap();
    let file = read(&table, &columns, home, now());
    (columns, file)
}

fn label(file: &LogFile) -> Vec<(String, f64)> {
    let of = |r: &LogRow| {
        (
            r.read.at.to_string(),
            (r.read.temperature.0 * 100.0).round() / 100.0,
        )
    };
    file.rows.iter().map(of).collect()
}

#[test]
fn logs_are_read_whatever_parts_and_orders_them() {
    let one = |text: &str| label(&read_all(text, &Household::default()).1);
    let want = [
        ("2026-11-20T18:30:00Z".to_string(), 3.4),
        ("2026-11-20T19:00:00Z".to_string(), -1.0),
    ];
    #[rustfmt::skip]
    let cases = [
        ("plain",             "2026-11-20 18:30,3.4\n2026-11-20 19:00,-1"),
        ("named",             "time,temp °C\n2026-11-20T18:30,3.4\n2026-11-20T19:00,-1.0"),
        ("with its offset",   "2026-11-20T19:30:00+01:00,3.4\n2026-11-20T19:00:00Z,-1"),
        ("decimal commas",    "Date;Temp\n20.11.2026 18:30;3,4\n20.11.2026 19:00;-1,0"),
        ("apart",             "date\ttime\tt\n2026-11-20\t18:30:00\t3.4\n2026-11-20\t19:00:00\t-1"),
        ("twelve hours",      "11/20/2026 6:30 PM,38.12 F\n11/20/2026 7:00 PM,30.2F"),
        ("Fahrenheit, named", "when,Temperature (°F),RH\n2026-11-20 18:30,38.12,55\n2026-11-20 19:00,30.2,"),
        ("a number first",    "no,when,temp\n1,2026-11-20 18:30,3.4\n2,2026-11-20 19:00,-1"),
    ];
    for (why, text) in cases {
        assert_eq!(one(text), want, "{why}");
    }
}

#[test]
fn a_row_that_cannot_be_is_refused_with_its_line_and_the_others_are_taken() {
    let text = "when,temp,hum\n\
        2026-11-20 18:00,3.4,50\n\
        2026-11-20 18:10,,50\n\
        2026-11-20 18:20,warm,50\n\
        2026-13-20 18:30,3.4,50\n\
        2026-11-20 25:30,3.4,50\n\
        2026-12-01 08:00,3.4,50\n\
        2026-11-20 18:40,340,50\n\
        2026-11-20 18:50,3.4,140\n\
        1999-11-20 18:50,3.4,40\n\
        1900-01-01T00:00:00Z,3.4,40\n\
        2026-11-20 19:00,3.6,51\n";
    let (_, file) = read_all(text, &Household::default());
    assert_eq!(file.rows.len(), 2);
    let refused: Vec<_> = file
        .refused
        .iter()
        .map(|r| (r.line, r.why.as_str()))
        .collect();
    #[rustfmt::skip]
    assert_eq!(refused, [
        (3, "It has no temperature."),
        (4, "“warm” is no temperature."),
        (5, "“2026-13-20 18:30” is no date and time, such as 2026-11-20 18:30."),
        (6, "“2026-11-20 25:30” is no date and time, such as 2026-11-20 18:30."),
        (7, "That is still to come."),
        (8, "Neither meat nor a place for it is at 340."),
        (9, "“140” is no humidity from 0 to 100 %."),
        (10, "1999-11-20 is too long ago."),
        (11, "1900-01-01 is too long ago."),
    ]);
}

#[test]
fn the_hour_that_comes_twice_goes_on_and_the_one_that_never_comes_is_refused() {
    let home = Household {
        time_zone: "America/Denver".into(),
        ..Household::default()
    };
    let autumn = "2026-11-01 01:30,3\n2026-11-01 01:50,3\n2026-11-01 01:10,3\n2026-11-01 02:10,3";
    let at: Vec<_> = label(&read_all(autumn, &home).1)
        .into_iter()
        .map(|r| r.0)
        .collect();
    assert_eq!(
        at,
        [
            "2026-11-01T07:30:00Z",
            "2026-11-01T07:50:00Z",
            "2026-11-01T08:10:00Z",
            "2026-11-01T09:10:00Z"
        ]
    );
    let spring = "2026-03-08 01:30,3\n2026-03-08 02:30,3";
    let (_, file) = read_all(spring, &home);
    assert_eq!(file.rows.len(), 1);
    assert_eq!(
        file.refused[0].why,
        "The clocks were put forward that night: there was no 02:30 on 2026-03-08."
    );
}

#[test]
fn what_is_no_log_says_so() {
    let home = Household::default();
    let wrong = |text: &str| match table(text) {
        Err(why) => why,
        Ok(table) => guess(&table, &home).unwrap_err(),
    };
    #[rustfmt::skip]
    let cases = [
        ("",                         "The file is empty."),
        ("\n \n",                    "The file is empty."),
        (",,\n,",                    "The file is empty."),
        ("3.4\n3.5",                 "Its rows have one cell only."),
        ("a,b\nc,d",                 "No column looks like a date."),
        ("2026-11-20 18:30,cold\n",  "No column looks like a temperature."),
    ];
    for (text, want) in cases {
        let said = wrong(text);
        assert!(said.starts_with(want), "{text:?}: {said}");
    }
}
