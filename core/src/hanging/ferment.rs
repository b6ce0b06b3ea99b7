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
        late: now >= time.end,
        temperature: piece.around.last().map(|a| a.temperature.clone()),
        findings: Vec::new(),
    };
    found.findings = findings(&found, home);
    Some(found)
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
            (
                Some(Severity::Stop),
                "It is not sour in time: nobody dries it and nobody eats it, since cooking does not undo the toxin of staphylococcus.",
            )
        } else if of.hours >= SOUR_AIM_H {
            (Some(Severity::Caution), "It should be sour by now.")
        } else {
            (None, "")
        };
        found.extend(severity.map(|s| {
            Finding::new(Code::NotSour, s, message)
                .saw(saw.clone())
                .wants(wants.clone())
                .remedy("Read its pH now in the middle of one; warm it to 22 to 24 °C until it is sour.")
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
