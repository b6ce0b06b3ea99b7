//! Sausage that sours before it dries: how long it has, how sour it is.

use crate::catalogue::steps::{Step, StepKind};
use crate::caution::{Code, Finding, Severity};
use crate::house::House;
use crate::piece::{Piece, Stage};
use crate::units::show::{temperature, trim};
use crate::units::{Celsius, Typed};
use crate::verdict::{SOUR_PH, souring};
use jiff::{SignedDuration, Timestamp};

/// It should be sour by then (h after its cure went in).
///
/// # Source
/// 48 h is usual at 18 to 24 °C; at 72 h it is thrown away.
pub const SOUR_AIM_H: f64 = 48.0;

/// Its warmth while it sours (°C).
const WARMTH: (f64, f64) = (18.0, 24.0);

/// Nobody has read it for so long (h): it is time.
const READ_EVERY_H: f64 = 24.0;

/// A sausage that sours.
#[derive(Clone, Debug)]
pub struct Fermenting<'a> {
    /// The piece.
    pub piece: &'a Piece,
    /// In which step.
    pub step: &'a Step,
    /// Since when its cure is in it.
    pub since: Timestamp,
    /// Hours since then.
    pub hours: f64,
    /// When it should be sour.
    pub aim: Timestamp,
    /// When it is thrown away if it is not.
    pub latest: Timestamp,
    /// Its newest pH.
    pub ph: Option<(f64, Timestamp)>,
    /// True when it was sour in time, and a second look said so too.
    pub sour: bool,
    /// True when one look found it sour in time.
    pub once: bool,
    /// True when its time is over.
    pub late: bool,
    /// How warm it was around it last.
    pub temperature: Option<Typed<Celsius>>,
    /// What gives pause.
    pub findings: Vec<Finding>,
}

/// The step in which a piece sours now: one of its own, or its cure where that asks for the pH. None for any other piece.
#[must_use]
pub fn souring_step(piece: &Piece) -> Option<&Step> {
    let build = piece.build().filter(|b| b.is_ground() && b.is_dried())?;
    if piece.stage() == Stage::InCure {
        let cure = build.step(StepKind::Cure)?;
        return cure.asks.iter().any(|a| a == "ph").then_some(cure);
    }
    let next = piece
        .open_steps()
        .find(|s| s.kind == StepKind::Ferment || s.kind.traits().station.is_some())?;
    (next.kind == StepKind::Ferment && piece.out_of_cure.is_some()).then_some(next)
}

/// A piece that sours now; none for any other.
#[must_use]
pub fn fermenting<'a>(piece: &'a Piece, home: &House, now: Timestamp) -> Option<Fermenting<'a>> {
    let step = souring_step(piece)?;
    let time = souring(piece, home)?;
    let since = time.from;
    let hours_at = |at: Timestamp| at.duration_since(since).as_secs_f64() / 3_600.0;
    let after = |h: f64| {
        since
            .saturating_add(SignedDuration::from_secs_f64(h * 3_600.0))
            .ok()
    };
    let newest = time.looks.last().map(|l| (l.ph, l.at));
    let mut found = Fermenting {
        piece,
        step,
        since,
        hours: hours_at(now).max(0.0),
        aim: after(SOUR_AIM_H)?,
        latest: time.end,
        ph: newest,
        sour: time.confirmed,
        once: time.sour.is_some(),
        late: now > time.end,
        temperature: piece.around.last().map(|a| a.temperature.clone()),
        findings: Vec::new(),
    };
    found.findings = findings(&found, home);
    Some(found)
}

/// What its souring says to whatever dries a piece or makes food of it at that moment: the one gate of every act that does.
///
/// Sour too late, or never found sour though it was warm or its time is over, is a block that a typed reason lifts; a look at
/// its end that found it not sour is one that nothing lifts. What hangs already was asked at its hook.
#[must_use]
pub fn souring_gate(piece: &Piece, home: &House, at: Timestamp) -> Option<Finding> {
    let time = souring(piece, home)?;
    if let Some(look) = time.too_high {
        return Some(
            Finding::new(
                Code::NotEaten,
                Severity::Stop,
                format!("Do not eat {}: it did not sour in time.", piece.tag),
            )
            .saw(format!("pH {}", trim(look.ph, 2)))
            .wants(format!("pH {} or less in its time", trim(SOUR_PH, 1)))
            .remedy("Throw it away, or correct the entry if the reading was wrong."),
        );
    }
    if time.confirmed || time.was_cold || piece.hanging.is_some() {
        return None;
    }
    let finding = |severity, message: &str, remedy: &str| {
        let saw = time
            .looks
            .last()
            .map_or_else(|| "no pH".into(), |l| format!("pH {}", trim(l.ph, 2)));
        Finding::new(Code::NotSour, severity, message)
            .saw(saw)
            .wants(format!(
                "pH {} or less, read twice 6 h apart",
                trim(SOUR_PH, 1)
            ))
            .remedy(remedy)
    };
    if time.sour.is_some() {
        return Some(finding(
            Severity::Caution,
            "Its sourness was read only once.",
            "Read it again in other links at least 6 h after the first time. Saved now, it is not ready by drying.",
        ));
    }
    let is_over = at > time.end;
    if !is_over && !time.was_warm && time.looks.is_empty() {
        return None;
    }
    let message = match (is_over, time.looks.is_empty()) {
        (true, true) => {
            "Its time to sour is over and no pH was read: staphylococcus may have left its toxin, and cooking does not undo that."
        }
        (true, false) => {
            "It was not sour before its time was over: staphylococcus may have left its toxin, and cooking does not undo that."
        }
        (false, _) => {
            "It was warm and is not sour yet: staphylococcus may leave its toxin, and cooking does not undo that."
        }
    };
    let remedy = if is_over {
        TOO_LATE
    } else {
        "Read its pH in several links first. A typed reason goes on, and it is never ready by drying."
    };
    Some(finding(Severity::Stop, message, remedy))
}

/// What is left where its time is over.
const TOO_LATE: &str = "Throw it away. If its pH was read in time, save that reading with its own time. A typed reason goes on, and it is never ready by drying.";

/// When the pH of a piece that sours is read, when it should be sour, and when its time is over; none for any other piece.
#[must_use]
pub fn souring_hours(piece: &Piece, home: &House) -> Option<[Timestamp; 3]> {
    souring_step(piece)?;
    let time = souring(piece, home)?;
    let after = |h: f64| {
        time.from
            .saturating_add(SignedDuration::from_secs_f64(h * 3_600.0))
            .unwrap_or(Timestamp::MAX)
    };
    Some([
        after(READ_EVERY_H).min(time.end),
        after(SOUR_AIM_H).min(time.end),
        time.end,
    ])
}

fn findings(of: &Fermenting<'_>, home: &House) -> Vec<Finding> {
    let mut found = Vec::new();
    let by = of.latest.duration_since(of.since).as_secs_f64() / 3_600.0;
    let wants = format!("pH {} or less by {} h", trim(SOUR_PH, 1), trim(by, 0));
    let saw = of.ph.map_or_else(
        || "not read yet".into(),
        |(ph, _)| format!("pH {}", trim(ph, 2)),
    );
    if of.once && !of.sour {
        found.push(
            Finding::new(
                Code::NotSour,
                Severity::Info,
                "Sour once: read it again 6 hours later, in other links.",
            )
            .saw(saw.clone())
            .wants(wants.clone()),
        );
    }
    if !of.sour && !of.once {
        let (severity, message) = if of.late {
            let message = if of.ph.is_some() {
                "It was not sour in time: do not dry it and do not eat it, since cooking does not undo the toxin of staphylococcus."
            } else {
                "Its time to sour is over and no pH was read: do not dry it, since cooking does not undo the toxin of staphylococcus."
            };
            (Some(Severity::Stop), message)
        } else if of.hours >= SOUR_AIM_H {
            (Some(Severity::Caution), "It should be sour by now.")
        } else {
            (None, "")
        };
        found.extend(severity.map(|s| {
            Finding::new(Code::NotSour, s, message)
                .saw(saw.clone())
                .wants(wants.clone())
                .remedy(if of.late {
                    TOO_LATE
                } else {
                    "Read its pH now in the middle of one; warm it to 22 to 24 °C until it is sour."
                })
        }));
        let silent = of.ph.is_none_or(|(_, at)| {
            of.since
                .saturating_add(SignedDuration::from_secs_f64(of.hours * 3_600.0))
                .is_ok_and(|now| now.duration_since(at).as_secs_f64() > READ_EVERY_H * 3_600.0)
        });
        if severity.is_none() && silent && of.hours >= READ_EVERY_H {
            found.push(
                Finding::new(
                    Code::NotSour,
                    Severity::Info,
                    "Read its pH: nobody did since yesterday.",
                )
                .saw(saw)
                .wants(wants),
            );
        }
    }
    let (cold, warm) = WARMTH;
    if let Some(read) = &of.temperature
        && !of.sour
        && !(cold..=warm).contains(&read.value.0)
    {
        let said = |c: f64| temperature(Celsius(c), home.settings.units.heat);
        let what = if read.value.0 > warm {
            "So warm what poisons grows faster than it sours."
        } else {
            "So cool it may not sour in time."
        };
        found.push(
            Finding::new(Code::NotSour, Severity::Caution, what)
                .saw(said(read.value.0))
                .wants(format!("{} to {}", said(cold), said(warm))),
        );
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::agenda::TaskKind;
    use crate::catalogue::steps::TripPlace;
    use crate::testing::Season;
    use serde_json::{Value, json};

    /// Knife-cut sausage in its casing, its cure in it since now; the room was read at 22 °C for so many hours.
    fn sausage(warm_h: i64) -> Season {
        let mut season = Season::empty();
        season.did(&[
            json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
            json!({"act": "hold_answered", "lot": 1, "kind": "freezing", "answer": "clear", "note": "test 118-4"}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "leg_muscle", "reading": "2 kg", "thickness": "60 mm"}),
            json!({"act": "ground", "lot": 1, "reading": "1990 g", "sources": [{"from": "piece", "piece": 1}]}),
            json!({"act": "assigned", "piece": 2, "build": "salami-knife"}),
            json!({"act": "dosed", "pieces": [2]}),
        ]);
        for _ in 0..warm_h {
            season.wait_h(1);
            season.did(&[json!({"act": "place_read", "place": "where it sours", "piece": 2, "temperature": "22 C", "hours": 1})]);
        }
        season
    }

    fn read(ph: &str) -> Value {
        json!({"act": "checked", "piece": 2, "check": "ph", "value": ph})
    }

    #[test]
    fn what_is_not_known_to_have_soured_is_stopped_at_every_door_to_drying() {
        let hung = |reason: Option<&str>| json!({"act": "hung", "piece": 2, "reading": "2 kg", "tare": "60 g", "reason": reason});
        let out = json!({"act": "out_of_cure", "piece": 2, "reading": "1980 g"});
        let smoked = json!({"act": "smoked", "piece": 2, "reading": "1970 g", "chamber": "20 C"});
        let packed = json!({"act": "packed", "piece": 2, "finished": false, "packs": [{"reading": "500 g"}]});
        let reason = Some("a dry cellar at eight degrees");

        // Never read, the room never read: once its 72 hours are over everything asks for a reason.
        let mut season = sausage(0);
        season.wait_h(50);
        let gate = |season: &Season| souring_gate(season.piece(2), &season.home, season.now);
        assert_eq!(gate(&season), None, "its time is not over");
        season.wait_h(30);
        assert!(season.asked(&out).contains("NotSour"));
        assert!(season.does(&out, true).is_err(), "kept is no reason");
        season.did(&[json!({"act": "out_of_cure", "piece": 2, "reading": "1980 g", "reason": "a dry cellar at eight degrees"})]);
        for door in [&smoked, &packed, &hung(None)] {
            let said = season.does(door, true).expect_err("a reason is wanted");
            assert!(said.contains("Its time to sour is over"), "{door}: {said}");
            assert!(
                !said.contains("Read its pH now"),
                "a way out that comes too late"
            );
        }
        season.did(&[hung(reason)]);
        // What hangs by a typed reason is not asked again at its packs.
        season.wait_h(24 * 60);
        season.did(&[json!({"act": "taken_down", "piece": 2, "reading": "1300 g"})]);
        assert!(season.does(&packed, true).is_ok());

        // Sour only after its time.
        let mut season = sausage(75);
        season.did(&[read("5.1")]);
        season.wait_h(7);
        season.did(&[read("5.0"), json!({"act": "out_of_cure", "piece": 2, "reading": "1980 g", "reason": "a dry cellar at eight degrees"})]);
        assert!(season.does(&hung(None), true).is_err());
        // Found not sour at its end: no reason lifts that.
        let mut season = sausage(73);
        season.did(&[read("5.7")]);
        let said = season.asked(&json!({"act": "out_of_cure", "piece": 2, "reading": "1980 g", "reason": "a dry cellar at eight degrees"}));
        assert!(said.contains("NotEaten"), "{said}");
        // Sour twice in time: nothing stands in its way.
        let mut season = sausage(40);
        season.did(&[read("5.2")]);
        season.wait_h(7);
        season.did(&[read("5.1"), out.clone(), hung(None)]);
    }

    #[test]
    fn the_task_of_what_sours_ends_with_its_degree_hours_and_where_it_sours() {
        let mut season = sausage(30);
        let task = |season: &Season| {
            let mut tasks = season.tasks(2).into_iter();
            tasks.find(|t| t.kind == TaskKind::OutOfCure).unwrap()
        };
        let first = task(&season);
        let time = souring(season.piece(2), &season.home).unwrap();
        assert_eq!(first.place, TripPlace::Chamber);
        assert_eq!(first.hours.map(|h| h.latest), Some(time.end));
        // Warmer, and its time ends sooner: no fortnight of slack.
        for _ in 0..30 {
            season.wait_h(1);
            season.did(&[json!({"act": "place_read", "place": "where it sours", "piece": 2, "temperature": "36 C", "hours": 1})]);
        }
        let then = task(&season).hours.unwrap().latest;
        assert!(then < time.end, "{then} is not before {}", time.end);
    }
}
