//! What holds an animal's meat back until it has come to an end: freezing against parasites
//! counted down by inside temperature, a test that is waited for, a wound that is cut out.
//!
//! A hold is worked out anew from facts: temperatures logged and answers given. Nothing here
//! knows where those are kept.

pub use crate::catalogue::holds::*;
use crate::caution::{Code, Finding, Severity};
use crate::units::show::{temperature, trim};
use crate::units::{Celsius, Millimetres, Units};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// An inside temperature read in the freezer.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FreezerReading {
    /// When.
    pub at: Timestamp,
    /// Inside the thickest piece (°C).
    pub inside_c: f64,
    /// How thick that piece is, if it was said (mm).
    pub thickness_mm: Option<f64>,
}

/// How a hold stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum HoldStatus {
    /// Nothing is known yet.
    Open,
    /// It runs, or an answer is waited for.
    Waiting,
    /// It has come to a good end.
    Ended,
    /// It has come to an end that asks for care.
    Care,
    /// It has come to a bad end.
    Bad,
}

/// A freezing under way or done.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Freezing {
    /// Days asked for.
    pub days: u32,
    /// Days gone, as the readings show.
    pub days_gone: f64,
    /// At or below this (°C).
    pub at_or_below_c: f64,
    /// The last reading (°C).
    pub last_c: f64,
    /// How many readings there are.
    pub readings: usize,
}

/// A hold of one animal, as it stands.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HoldState {
    /// Its kind.
    pub kind: HoldKind,
    /// What it keeps from being done.
    pub holds_back: HoldsBack,
    /// What is to have happened.
    pub name: String,
    /// The hazard.
    pub words: String,
    /// What it asks for.
    pub asks: String,
    /// How it stands.
    pub status: HoldStatus,
    /// The answers that can be given.
    pub answers: Vec<HoldAnswer>,
    /// When it came or will come to its end, if that is known.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = DateTime))]
    pub until: Option<Timestamp>,
    /// The freezing, once a temperature was read.
    pub freezing: Option<Freezing>,
}

impl HoldState {
    /// True while meat may not be dried raw because of it.
    #[must_use]
    pub fn keeps_from_raw_drying(&self) -> bool {
        self.holds_back == HoldsBack::RawDrying && self.status != HoldStatus::Ended
    }

    /// True when the meat may only be thrown away.
    #[must_use]
    pub fn forbids_everything(&self) -> bool {
        self.holds_back == HoldsBack::Everything && self.status == HoldStatus::Bad
    }

    /// What to know about it before the meat is given a product; none once it has ended well.
    #[must_use]
    pub fn finding(&self, units: Units) -> Option<Finding> {
        let said = |c: f64| temperature(Celsius(c), units.heat);
        let (severity, message) = match self.status {
            HoldStatus::Ended => return None,
            HoldStatus::Bad => (
                Severity::Stop,
                "The test was positive: nobody eats this animal.".to_string(),
            ),
            HoldStatus::Care => (
                Severity::Caution,
                format!("{} It smelled strong.", self.words),
            ),
            HoldStatus::Open | HoldStatus::Waiting => (
                if self.holds_back == HoldsBack::Nothing {
                    Severity::Info
                } else {
                    Severity::Caution
                },
                self.words.clone(),
            ),
        };
        let mut finding = Finding::new(Code::OpenHold, severity, message);
        if let Some(f) = &self.freezing {
            finding = finding
                .saw(format!(
                    "{} of {} days at {} inside",
                    trim(f.days_gone, 1),
                    f.days,
                    said(f.last_c)
                ))
                .wants(format!(
                    "{} days at or below {}",
                    f.days,
                    said(f.at_or_below_c)
                ));
        } else if self.status == HoldStatus::Waiting {
            finding = finding.saw("an answer that is waited for");
        } else if self.status == HoldStatus::Open && self.holds_back == HoldsBack::Everything {
            finding = finding.saw("not tested");
        }
        Some(finding.way_out(if self.status == HoldStatus::Bad {
            "Keep it apart, ask your wildlife agency how to get rid of it, and throw every piece away."
        } else {
            &self.asks
        }))
    }
}

/// How a hold stands, from what was answered and read until `now`.
///
/// `thickness` is the thickest piece's, if it was measured; the thinnest rows count otherwise.
#[must_use]
pub fn stand(
    hold: &SpeciesHold,
    answer: Option<(HoldAnswer, Timestamp)>,
    freezer: &[FreezerReading],
    thickness: Option<Millimetres>,
    now: Timestamp,
) -> HoldState {
    let thickness_mm = thickness.map(Millimetres::get);
    let mut state = HoldState {
        kind: hold.kind,
        holds_back: hold.holds_back,
        name: hold.name.clone(),
        words: hold.words.clone(),
        asks: hold.asks.clone(),
        status: HoldStatus::Open,
        answers: hold.kind.answers().to_vec(),
        until: None,
        freezing: None,
    };
    if hold.kind == HoldKind::Freezing {
        freeze(&mut state, &hold.rows, freezer, thickness_mm, now);
        return state;
    }
    let Some((answer, at)) = answer else {
        return state;
    };
    state.status = match answer {
        HoldAnswer::Waiting => HoldStatus::Waiting,
        HoldAnswer::Clear | HoldAnswer::Done => HoldStatus::Ended,
        HoldAnswer::Positive => HoldStatus::Bad,
        HoldAnswer::Strong => HoldStatus::Care,
    };
    if state.status != HoldStatus::Waiting {
        state.until = Some(at);
    }
    state
}

/// A stretch of readings at or below a row's temperature, without a warmer one between.
struct Stretch {
    since: Timestamp,
    last: Timestamp,
}

fn freeze(
    state: &mut HoldState,
    rows: &[FreezingRow],
    readings: &[FreezerReading],
    thickness_mm: Option<f64>,
    now: Timestamp,
) {
    let Some(last) = readings.last() else {
        return;
    };
    let thickest = readings
        .iter()
        .filter_map(|r| r.thickness_mm)
        .chain(thickness_mm)
        .fold(0.0, f64::max);
    let class = rows
        .iter()
        .map(|r| r.up_to_mm)
        .filter(|mm| thickest <= *mm)
        .fold(f64::INFINITY, f64::min);
    let days = |n: u32| SignedDuration::from_hours(24 * i64::from(n));
    let mut best: Option<(bool, Timestamp, Freezing)> = None;
    for row in rows.iter().filter(|r| r.up_to_mm == class) {
        let mut run: Option<Stretch> = None;
        let mut ended = None;
        for r in readings {
            if r.inside_c > row.at_or_below_c + 1e-9 {
                run = None;
                continue;
            }
            let stretch = run.get_or_insert(Stretch {
                since: r.at,
                last: r.at,
            });
            stretch.last = r.at;
            if stretch.last >= stretch.since + days(row.days) {
                ended.get_or_insert(stretch.since + days(row.days));
            }
        }
        let (until, gone) = match (&ended, &run) {
            (Some(at), _) => (*at, f64::from(row.days)),
            // It goes on at what was read last until a reading says otherwise.
            (None, Some(run)) => (
                run.since + days(row.days),
                now.duration_since(run.since).as_secs_f64().max(0.0) / 86_400.0,
            ),
            (None, None) => continue,
        };
        let freezing = Freezing {
            days: row.days,
            days_gone: gone,
            at_or_below_c: row.at_or_below_c,
            last_c: last.inside_c,
            readings: readings.len(),
        };
        let sooner = best
            .as_ref()
            .is_none_or(|(done, at, _)| (ended.is_none(), until) < (!done, *at));
        if sooner {
            best = Some((ended.is_some(), until, freezing));
        }
    }
    match best {
        Some((done, until, freezing)) => {
            state.status = if done {
                HoldStatus::Ended
            } else {
                HoldStatus::Waiting
            };
            state.until = Some(until);
            state.freezing = Some(freezing);
        }
        None => {
            // Read, but not cold enough: it has not begun.
            let nearest = rows
                .iter()
                .filter(|r| r.up_to_mm == class)
                .max_by(|a, b| a.at_or_below_c.total_cmp(&b.at_or_below_c));
            state.freezing = nearest.map(|row| Freezing {
                days: row.days,
                days_gone: 0.0,
                at_or_below_c: row.at_or_below_c,
                last_c: last.inside_c,
                readings: readings.len(),
            });
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::{catalogue, species};

    fn at(day: i64) -> Timestamp {
        "2026-11-01T08:00:00Z".parse::<Timestamp>().unwrap() + SignedDuration::from_hours(24 * day)
    }

    fn pork() -> &'static SpeciesHold {
        let pig = species("pig").unwrap();
        pig.holds
            .iter()
            .find(|h| h.kind == HoldKind::Freezing)
            .unwrap()
    }

    fn read(readings: &[(i64, f64)], thickness_mm: Option<f64>, now: i64) -> HoldState {
        let readings: Vec<_> = readings
            .iter()
            .map(|&(day, inside_c)| FreezerReading {
                at: at(day),
                inside_c,
                thickness_mm: None,
            })
            .collect();
        stand(
            pork(),
            None,
            &readings,
            thickness_mm.map(Millimetres),
            at(now),
        )
    }

    #[test]
    fn freezing_is_counted_by_inside_temperature_days_and_thickness() {
        use HoldStatus::{Ended, Open, Waiting};
        #[rustfmt::skip]
        let cases: [(&str, &[(i64, f64)], Option<f64>, i64, HoldStatus, Option<i64>); 9] = [
            // why                          readings (day, °C)                    mm          now  status   ends on day
            ("nothing read",                &[],                                  None,       9,   Open,    None),
            ("not cold enough",             &[(0, -8.0)],                         None,       9,   Open,    None),
            ("running",                     &[(0, -16.0)],                        None,       5,   Waiting, Some(20)),
            ("time is up, but not read",    &[(0, -16.0)],                        None,       25,  Waiting, Some(20)),
            ("read again after the time",   &[(0, -16.0), (20, -15.0)],           None,       25,  Ended,   Some(20)),
            ("colder is sooner",            &[(0, -24.0), (10, -23.5)],           None,       10,  Ended,   Some(10)),
            ("a warm reading begins anew",  &[(0, -16.0), (8, -9.0), (9, -16.0)], None,       12,  Waiting, Some(29)),
            ("thick pieces take longer",    &[(0, -16.0), (21, -16.0)],           Some(180.0), 22, Waiting, Some(30)),
            ("done once is done",           &[(0, -29.0), (6, -29.0), (7, 2.0)],  None,       9,   Ended,   Some(6)),
        ];
        for (why, readings, mm, now, status, ends) in cases {
            let got = read(readings, mm, now);
            assert_eq!(got.status, status, "{why}");
            assert_eq!(got.until, ends.map(at), "{why}");
            assert_eq!(got.keeps_from_raw_drying(), status != Ended, "{why}");
        }
        let running = read(&[(0, -16.0)], None, 5).finding(Units::METRIC).unwrap();
        assert_eq!(
            running.saw.as_deref(),
            Some("5 of 20 days at -16 °C inside")
        );
        assert_eq!(running.wants.as_deref(), Some("20 days at or below -15 °C"));
    }

    #[test]
    fn answers_bring_a_hold_to_its_end() {
        let deer = species("deer").unwrap();
        let of = |kind| deer.holds.iter().find(|h| h.kind == kind).unwrap();
        let smell = &species("wild_boar").unwrap().holds[0];
        #[rustfmt::skip]
        let cases = [
            (of(HoldKind::WastingTest), None,                       HoldStatus::Open,    false, Some("not tested")),
            (of(HoldKind::WastingTest), Some(HoldAnswer::Waiting),  HoldStatus::Waiting, false, Some("an answer that is waited for")),
            (of(HoldKind::WastingTest), Some(HoldAnswer::Clear),    HoldStatus::Ended,   false, None),
            (of(HoldKind::WastingTest), Some(HoldAnswer::Positive), HoldStatus::Bad,     true,  None),
            (of(HoldKind::Shot),        Some(HoldAnswer::Done),     HoldStatus::Ended,   false, None),
            (smell,                     Some(HoldAnswer::Strong),   HoldStatus::Care,    false, None),
        ];
        for (hold, answer, status, forbids, saw) in cases {
            let got = stand(hold, answer.map(|a| (a, at(1))), &[], None, at(2));
            assert_eq!((got.status, got.forbids_everything()), (status, forbids));
            let finding = got.finding(Units::METRIC);
            assert_eq!(finding.is_none(), status == HoldStatus::Ended);
            assert_eq!(finding.and_then(|f| f.saw).as_deref(), saw);
        }
    }

    #[test]
    fn every_freezing_has_rows_and_every_hold_its_words() {
        for s in catalogue().species.iter() {
            for hold in &s.holds {
                assert_eq!(
                    hold.kind == HoldKind::Freezing,
                    !hold.rows.is_empty(),
                    "{}",
                    s.key
                );
                for words in [&hold.words, &hold.asks, &hold.source] {
                    assert!(words.ends_with('.'), "{}: {words}", s.key);
                }
            }
            let dried_after_freezing =
                s.raw_drying.verdict == crate::animal::RawDryingVerdict::FreezeFirst;
            let freezes = s.holds.iter().any(|h| h.kind == HoldKind::Freezing);
            assert_eq!(dried_after_freezing, freezes, "{}", s.key);
        }
    }
}
