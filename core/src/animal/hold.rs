//! What holds an animal's meat back until it has come to an end: freezing against parasites
//! counted down by inside temperature, a test that is waited for, a wound that is cut out.
//!
//! A hold is worked out anew from facts: temperatures logged and answers given. Nothing here
//! knows where those are kept.

pub use crate::catalogue::holds::*;
use crate::caution::{Code, Finding, Severity};
use crate::heat::heating;
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

/// How warm the air around frozen meat was for some time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct AirSpell {
    /// Its end.
    pub until: Timestamp,
    /// How warm it was (°C).
    pub air_c: f64,
    /// For how long (h).
    pub hours: f64,
}

/// What is known of the freezing of some meat: only what happened to it while it was raw.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Frozen {
    /// Inside temperatures, in order of time.
    pub readings: Vec<FreezerReading>,
    /// Warm air around it, in order of time.
    pub air: Vec<AirSpell>,
    /// How thick it was then, where that is known (mm).
    pub thickness_mm: Option<f64>,
    /// When it left the freezer for good: it was put in a cure, into heat or on a hook.
    pub until: Option<Timestamp>,
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
    /// The answer that counts, if one was given.
    pub answer: Option<HoldAnswer>,
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
        self.status == HoldStatus::Bad
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
            HoldStatus::Care => match self.kind {
                HoldKind::WastingTest => (Severity::Info, self.words.clone()),
                HoldKind::Smell | HoldKind::Freezing | HoldKind::Shot => (
                    Severity::Caution,
                    format!("{} It smelled strong.", self.words),
                ),
            },
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
        } else if matches!(self.status, HoldStatus::Open | HoldStatus::Care)
            && self.holds_back == HoldsBack::Everything
        {
            finding = finding.saw("not tested");
        }
        Some(finding.remedy(if self.status == HoldStatus::Bad {
            "Keep it apart, ask your wildlife agency how to get rid of it, and throw every piece away."
        } else {
            &self.asks
        }))
    }
}

/// An answer to a hold, and when it was given.
pub type Given = (HoldAnswer, Timestamp);

/// How a hold stands, from what was answered and read until `now`.
#[must_use]
pub fn stand(
    hold: &SpeciesHold,
    answer: Option<Given>,
    frozen: &Frozen,
    now: Timestamp,
) -> HoldState {
    let mut state = HoldState {
        kind: hold.kind,
        holds_back: hold.holds_back,
        name: hold.name.clone(),
        words: hold.words.clone(),
        asks: hold.asks.clone(),
        status: HoldStatus::Open,
        answers: hold.answers().to_vec(),
        until: None,
        freezing: None,
        answer: answer.map(|(a, _)| a),
    };
    if hold.kind == HoldKind::Freezing {
        freeze(&mut state, &hold.rows, frozen, now);
    }
    let Some((answer, at)) = answer else {
        return state;
    };
    state.status = match answer {
        HoldAnswer::Waiting => HoldStatus::Waiting,
        HoldAnswer::Clear | HoldAnswer::Done | HoldAnswer::Stamped | HoldAnswer::NotAffected => {
            HoldStatus::Ended
        }
        HoldAnswer::Positive => HoldStatus::Bad,
        HoldAnswer::Strong | HoldAnswer::NotTested => HoldStatus::Care,
    };
    if state.status != HoldStatus::Waiting {
        state.until = Some(at);
    }
    state
}

/// Air that is warmer than the row by no more than this does not warm frozen meat soon (°C).
const AIR_OVER_C: f64 = 3.0;

/// Air over that for so long warms meat of which nobody knows how thick it is (h).
const AIR_WARMS_H: f64 = 2.0;

/// A stretch of readings at or below a row's temperature, without the meat having warmed over it.
struct Stretch {
    since: Timestamp,
    last: Timestamp,
    inside_c: f64,
    /// Hours that do not count: the air was too warm.
    stood_h: f64,
}

/// Whether air warms the middle of frozen meat over a row's temperature.
fn warms(air: &AirSpell, from_c: f64, over_c: f64, thickness_mm: Option<f64>) -> bool {
    match thickness_mm {
        Some(mm) => {
            let k = heating::k_per_minute(Millimetres(mm), false);
            let inside = air.air_c - (air.air_c - from_c) * (-k * air.hours * 60.0).exp();
            inside > over_c + 1e-9
        }
        None => air.hours >= AIR_WARMS_H - 1e-9 && air.air_c > over_c + AIR_OVER_C,
    }
}

/// Something that happened to frozen meat.
#[derive(Clone, Copy)]
enum Happened<'a> {
    Read(&'a FreezerReading),
    Air(&'a AirSpell),
}

impl Happened<'_> {
    const fn at(&self) -> Timestamp {
        match self {
            Self::Read(r) => r.at,
            Self::Air(a) => a.until,
        }
    }
}

/// The thickness class of the rows: the thickest of piece and readings; the thickest there is where nobody knows.
fn class_of(rows: &[FreezingRow], frozen: &Frozen) -> f64 {
    let read = frozen.readings.iter().filter_map(|r| r.thickness_mm);
    let thickest = read.chain(frozen.thickness_mm).reduce(f64::max);
    let classes = rows.iter().map(|r| r.up_to_mm);
    match thickest {
        Some(mm) => classes
            .filter(|up_to| mm <= *up_to)
            .fold(f64::INFINITY, f64::min),
        None => classes.fold(0.0, f64::max),
    }
}

fn freeze(state: &mut HoldState, rows: &[FreezingRow], frozen: &Frozen, now: Timestamp) {
    let left = |at: Timestamp| frozen.until.is_none_or(|until| at <= until);
    let readings: Vec<_> = frozen.readings.iter().filter(|r| left(r.at)).collect();
    let Some(last) = readings.last() else {
        return;
    };
    let class = class_of(rows, frozen);
    let mut happened: Vec<Happened<'_>> = readings.iter().map(|r| Happened::Read(r)).collect();
    happened.extend(
        frozen
            .air
            .iter()
            .filter(|a| left(a.until))
            .map(Happened::Air),
    );
    happened.sort_by_key(Happened::at);
    let hours = |h: f64| SignedDuration::from_secs_f64(h * 3_600.0);
    let mut best: Option<(bool, Timestamp, Freezing)> = None;
    for row in rows.iter().filter(|r| r.up_to_mm == class) {
        let mut run: Option<Stretch> = None;
        let mut ended = None;
        let wanted_h = 24.0 * f64::from(row.days);
        for one in &happened {
            match one {
                Happened::Read(r) if r.inside_c > row.at_or_below_c + 1e-9 => run = None,
                Happened::Read(r) => {
                    let stretch = run.get_or_insert(Stretch {
                        since: r.at,
                        last: r.at,
                        inside_c: r.inside_c,
                        stood_h: 0.0,
                    });
                    stretch.last = r.at;
                    stretch.inside_c = r.inside_c;
                    let end = stretch.since + hours(wanted_h + stretch.stood_h);
                    if stretch.last >= end {
                        ended.get_or_insert(end);
                    }
                }
                Happened::Air(air) if air.air_c > row.at_or_below_c + 1e-9 => {
                    let Some(stretch) = &mut run else { continue };
                    let mm = frozen.thickness_mm;
                    if warms(air, stretch.inside_c, row.at_or_below_c, mm) {
                        run = None;
                    } else {
                        stretch.stood_h += air.hours;
                    }
                }
                Happened::Air(_) => {}
            }
        }
        let (until, gone) = match (&ended, &run) {
            (Some(at), _) => (*at, f64::from(row.days)),
            // It goes on at what was read last until a reading says otherwise.
            (None, Some(run)) => {
                let until = frozen.until.map_or(now, |u| u.min(now));
                let lain = until.duration_since(run.since).as_secs_f64() / 86_400.0;
                (
                    run.since + hours(wanted_h + run.stood_h),
                    (lain - run.stood_h / 24.0).max(0.0),
                )
            }
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
            // What left the freezer waits for nothing there.
            state.until = (done || frozen.until.is_none()).then_some(until);
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
        let frozen = Frozen {
            readings,
            thickness_mm,
            ..Frozen::default()
        };
        stand(pork(), None, &frozen, at(now))
    }

    #[test]
    fn freezing_is_counted_by_inside_temperature_days_and_thickness() {
        use HoldStatus::{Ended, Open, Waiting};
        let thin = Some(80.0);
        #[rustfmt::skip]
        let cases: [(&str, &[(i64, f64)], Option<f64>, i64, HoldStatus, Option<i64>); 11] = [
            // why                          readings (day, °C)                    mm          now  status   ends on day
            ("nothing read",                &[],                                  thin,       9,   Open,    None),
            ("not cold enough",             &[(0, -8.0)],                         thin,       9,   Open,    None),
            ("running",                     &[(0, -16.0)],                        thin,       5,   Waiting, Some(20)),
            ("time is up, but not read",    &[(0, -16.0)],                        thin,       25,  Waiting, Some(20)),
            ("read again after the time",   &[(0, -16.0), (20, -15.0)],           thin,       25,  Ended,   Some(20)),
            ("colder is sooner",            &[(0, -24.0), (10, -23.5)],           thin,       10,  Ended,   Some(10)),
            ("a warm reading begins anew",  &[(0, -16.0), (8, -9.0), (9, -16.0)], thin,       12,  Waiting, Some(29)),
            ("thick pieces take longer",    &[(0, -16.0), (21, -16.0)],           Some(180.0), 22, Waiting, Some(30)),
            ("and so do those of unknown thickness", &[(0, -16.0), (21, -16.0)],  None,       22,  Waiting, Some(30)),
            ("the longer time of a colder row", &[(0, -30.0), (12, -30.0)],       None,       13,  Ended,   Some(12)),
            ("done once is done",           &[(0, -29.0), (6, -29.0), (7, 2.0)],  thin,       9,   Ended,   Some(6)),
        ];
        for (why, readings, mm, now, status, ends) in cases {
            let got = read(readings, mm, now);
            assert_eq!(got.status, status, "{why}");
            assert_eq!(got.until, ends.map(at), "{why}");
            assert_eq!(got.keeps_from_raw_drying(), status != Ended, "{why}");
        }
        let running = read(&[(0, -16.0)], thin, 5).finding(Units::METRIC).unwrap();
        assert_eq!(
            running.saw.as_deref(),
            Some("5 of 20 days at -16 °C inside")
        );
        assert_eq!(running.wants.as_deref(), Some("20 days at or below -15 °C"));
    }

    #[test]
    fn warm_air_begins_it_again_by_the_thickness_or_stops_the_clock() {
        use HoldStatus::{Ended, Waiting};
        #[rustfmt::skip]
        let cases = [
            // why                                       air °C, hours  mm          ends on day, read on day 21 and 32
            ("a door opened for some minutes",             -5.0, 0.2, Some(60.0),  Ended,   Some(20)),
            ("a defrosting of thin pieces",                 5.0, 6.0, Some(30.0),  Ended,   Some(31)),
            ("the same of a thick one only stops it",       5.0, 0.5, Some(140.0), Ended,   Some(20)),
            ("unknown: two hours well over it",            -8.0, 2.0, None,        Waiting, Some(41)),
            ("unknown: an hour stops the clock",           -8.0, 1.0, None,        Ended,   Some(30)),
            ("colder air says nothing",                   -20.0, 48.0, Some(60.0), Ended,   Some(20)),
        ];
        for (why, air_c, hours, mm, status, ends) in cases {
            let inside = |day: i64| FreezerReading {
                at: at(day),
                inside_c: -18.0,
                thickness_mm: None,
            };
            let frozen = Frozen {
                readings: vec![inside(0), inside(11), inside(21), inside(32)],
                air: vec![AirSpell {
                    until: at(10),
                    air_c,
                    hours,
                }],
                thickness_mm: mm,
                until: None,
            };
            let got = stand(pork(), None, &frozen, at(33));
            assert_eq!(got.status, status, "{why}: {:?}", got.until);
            let day = got
                .until
                .map(|t| t.duration_since(at(0)).as_secs() / 86_400);
            assert_eq!(day, ends, "{why}");
        }
    }

    #[test]
    fn only_what_happened_to_the_raw_meat_counts() {
        let inside = |day: i64| FreezerReading {
            at: at(day),
            inside_c: -18.0,
            thickness_mm: Some(60.0),
        };
        let frozen = |until: Option<i64>| Frozen {
            readings: vec![inside(0), inside(21)],
            until: until.map(at),
            ..Frozen::default()
        };
        for (until, ends) in [(None, true), (Some(22), true), (Some(10), false)] {
            let got = stand(pork(), None, &frozen(until), at(40));
            assert_eq!(got.status == HoldStatus::Ended, ends, "{until:?}");
        }
    }

    #[test]
    fn answers_bring_a_hold_to_its_end() {
        let deer = species("deer").unwrap();
        let of = |kind| deer.holds.iter().find(|h| h.kind == kind).unwrap();
        let smell = &species("wild_boar").unwrap().holds[0];
        #[rustfmt::skip]
        let clear = (HoldAnswer::Clear, at(1));
        let tested = stand(pork(), Some(clear), &Frozen::default(), at(2));
        assert!(!tested.keeps_from_raw_drying());
        assert!(pork().answers().contains(&HoldAnswer::Stamped));
        assert!(
            of(HoldKind::Freezing).answers().is_empty(),
            "no test ends that of deer"
        );
        #[rustfmt::skip]
        let cases = [
            (of(HoldKind::WastingTest), None,                       HoldStatus::Open,    false, Some("not tested")),
            (of(HoldKind::WastingTest), Some(HoldAnswer::Waiting),  HoldStatus::Waiting, false, Some("an answer that is waited for")),
            (of(HoldKind::WastingTest), Some(HoldAnswer::Clear),    HoldStatus::Ended,   false, None),
            (of(HoldKind::WastingTest), Some(HoldAnswer::Positive), HoldStatus::Bad,     true,  None),
            (of(HoldKind::WastingTest), Some(HoldAnswer::NotTested), HoldStatus::Care,   false, Some("not tested")),
            (of(HoldKind::WastingTest), Some(HoldAnswer::NotAffected), HoldStatus::Ended, false, None),
            (of(HoldKind::Shot),        Some(HoldAnswer::Done),     HoldStatus::Ended,   false, None),
            (smell,                     Some(HoldAnswer::Strong),   HoldStatus::Care,    false, None),
        ];
        for (hold, answer, status, forbids, saw) in cases {
            let got = stand(hold, answer.map(|a| (a, at(1))), &Frozen::default(), at(2));
            assert_eq!((got.status, got.forbids_everything()), (status, forbids));
            let finding = got.finding(Units::METRIC);
            assert_eq!(finding.is_none(), status == HoldStatus::Ended, "{answer:?}");
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
