//! What rings: told before it is too late, until somebody answers.

use crate::heat::lethality::COUNTS_FROM_C;
use crate::run::stages::COLD_SMOKE_C;
use crate::run::{ProbeLocation, Run, RunStage, RunStageKind, StageEnd, minutes, series};
use crate::running::now::{Look, PieceNow, ZoneNow};
use crate::running::validator::OFF_C;
use crate::units::Celsius;
use crate::units::show::{capital, temperature};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// A kind of alarm.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum AlarmKind {
    /// A piece is near its mark.
    Near,
    /// A piece is at its mark.
    There,
    /// A piece is well past its mark.
    Past,
    /// A stage is over.
    StageOver,
    /// A probe does not read meat any more, or nothing.
    Probe,
    /// The chamber is far off its setting.
    Chamber,
    /// The fire should be burnt out.
    Fire,
    /// It warms up too slowly.
    WarmUp,
}

/// Something that rings.
#[derive(Clone, Debug, PartialEq)]
pub struct Alarm {
    /// The word it is answered by; the same for as long as it is the same alarm.
    pub key: String,
    /// Its kind.
    pub kind: AlarmKind,
    /// What it says.
    pub message: String,
    /// The piece it is about.
    pub piece: Option<crate::ids::PieceId>,
}

/// It is told so many degrees before the mark …
pub const AHEAD_C: f64 = 5.0;

/// … or so long before (min), whichever comes first.
pub const AHEAD_MIN: f64 = 15.0;

/// Past its mark by so much it is said once more (°C).
const PAST_C: f64 = 3.0;

/// A chamber is given so long to come to a new setting (min).
const SETTLES_MIN: f64 = 30.0;

/// A reading of the chamber older than this does not ring (min).
const CHAMBER_FRESH_MIN: f64 = 20.0;

impl Look<'_> {
    /// Everything that rings now and was not answered, the most pressing first.
    #[must_use]
    pub fn alarms(&self, pieces: &[PieceNow], zones: &[ZoneNow]) -> Vec<Alarm> {
        let run = &self.watched.run;
        if run.over_since(self.book).is_some() {
            return Vec::new();
        }
        let mut all: Vec<Alarm> = Vec::new();
        let here = || pieces.iter().filter(|p| p.left.is_none());
        for p in here() {
            all.extend(self.of_mark(p));
            all.extend(self.of_warm_up(p));
        }
        all.extend(self.of_stage(pieces));
        all.extend(self.of_probes(pieces));
        all.extend(zones.iter().filter_map(|z| self.of_chamber(z)));
        all.extend(run.fires.iter().filter_map(|f| {
            let over = f.out.is_none() && f.should_end.is_some_and(|at| at <= self.now);
            over.then(|| Alarm {
                key: format!("fire:{}", f.no),
                kind: AlarmKind::Fire,
                message: format!("{} should be burnt out by now: look, and light the next or say that it is out.", said_of(&f.wood, f.kind.label())),
                piece: None,
            })
        }));
        all.retain(|a| !run.answered.contains(&a.key));
        all.sort_by(|a, b| (a.kind, &a.key).cmp(&(b.kind, &b.key)));
        all
    }

    fn heat(&self, c: f64) -> String {
        temperature(Celsius(c), self.home.settings.units.heat)
    }

    fn tag(&self, p: &PieceNow) -> String {
        let found = self.book.piece(p.piece);
        found.map_or_else(String::new, |(_, piece)| piece.tag.clone())
    }

    fn of_mark(&self, p: &PieceNow) -> Option<Alarm> {
        let mark = p.mark.mark.0;
        let stage = self.watched.run.stage().map(|(s, _)| s.kind);
        let tag = self.tag(p);
        let alarm = |kind, what: &str, message: String| Alarm {
            key: format!("{what}:{}:{mark:.1}", p.piece.0),
            kind,
            message,
            piece: Some(p.piece),
        };
        let cold = matches!(stage, Some(RunStageKind::ColdSmoke | RunStageKind::Rest));
        let Some(inside) = p.fresh.map(|r| r.temperature.0) else {
            let (low, high) = p.range.filter(|_| !cold)?;
            return (high.0 >= mark - AHEAD_C)
                .then(|| {
                    alarm(
                        AlarmKind::Near,
                        "near",
                        format!(
                            "{tag} has no probe; by its neighbours it is at {} to {}, near its {} ({}). Check it in two or three places.",
                            self.heat(low.0),
                            self.heat(high.0),
                            self.heat(mark),
                            p.mark.why
                        ),
                    )
                });
        };
        if inside >= mark - 0.05 {
            return Some(if inside >= mark + PAST_C {
                alarm(
                    AlarmKind::Past,
                    "past",
                    format!(
                        "{tag} is at {}, past its {} ({}): pull it.",
                        self.heat(inside),
                        self.heat(mark),
                        p.mark.why
                    ),
                )
            } else {
                alarm(
                    AlarmKind::There,
                    "there",
                    format!(
                        "{tag} is at its {} ({}): check it in two or three places off the bone, and pull it.",
                        self.heat(mark),
                        p.mark.why
                    ),
                )
            });
        }
        if cold {
            return None;
        }
        let soon = |at: Timestamp| minutes(self.now, at) <= AHEAD_MIN;
        let near = inside >= mark - AHEAD_C || p.forecast.at.is_some_and(soon);
        if !near {
            return None;
        }
        let when = p
            .forecast
            .at
            .map(|at| format!(": some {:.0} min to go", minutes(self.now, at).max(0.0)));
        Some(alarm(
            AlarmKind::Near,
            "near",
            format!(
                "{tag} is at {}, near its {}{} ({}). It goes on warming after the pull.",
                self.heat(inside),
                self.heat(mark),
                when.unwrap_or_default(),
                p.mark.why
            ),
        ))
    }

    fn of_warm_up(&self, p: &PieceNow) -> Option<Alarm> {
        let clock = p.warm_up.filter(crate::running::now::WarmUp::is_over)?;
        let inside = p.fresh?.temperature.0;
        if inside >= COUNTS_FROM_C {
            return None;
        }
        Some(Alarm {
            key: format!("warm_up:{}:{:.0}", p.piece.0, clock.limit),
            kind: AlarmKind::WarmUp,
            message: format!(
                "{} lies in the warm hours for {:.1} h, inside between {} and {}: {:.0} h is the most. Make it hotter.",
                self.tag(p),
                clock.minutes / 60.0,
                self.heat(10.0),
                self.heat(COUNTS_FROM_C),
                clock.limit / 60.0
            ),
            piece: Some(p.piece),
        })
    }

    fn of_stage(&self, pieces: &[PieceNow]) -> Option<Alarm> {
        let run = &self.watched.run;
        let (stage, went) = run.stage()?;
        let done = match stage.ends {
            StageEnd::Hours(h) => run.stage_minutes(self.now) >= h * 60.0,
            StageEnd::Inside(c) => {
                let probed = || pieces.iter().filter(|p| p.left.is_none());
                let read = || probed().filter_map(|p| p.fresh);
                read().next().is_some() && read().all(|r| r.temperature.0 >= c - 0.05)
            }
            // Each piece rings for itself.
            StageEnd::Marks => false,
        };
        let next = run.stages.get(went.stage + 1);
        let on = next.map_or_else(
            || "it was the last of them.".to_string(),
            |n| format!("“{}” comes next.", n.name),
        );
        done.then(|| Alarm {
            key: format!("stage:{}:{}", went.stage, end_word(stage)),
            kind: AlarmKind::StageOver,
            message: format!("“{}” is over in {}: {on}", stage.name, run.name),
            piece: None,
        })
    }

    fn of_probes(&self, pieces: &[PieceNow]) -> Vec<Alarm> {
        let run = &self.watched.run;
        let mut all = Vec::new();
        for p in pieces.iter().filter(|p| p.left.is_none()) {
            for f in p.faults.iter().filter(|f| f.until.is_none()) {
                // Only of a probe that sits there still.
                if run.probe_in(p.piece) != Some(f.probe) {
                    continue;
                }
                all.push(Alarm {
                    key: format!("probe:{}:{}", f.probe, f.from.as_second()),
                    kind: AlarmKind::Probe,
                    message: format!(
                        "Probe {} in {} {}: {}. It does not count until it sits in the meat and is set again.",
                        f.probe,
                        self.tag(p),
                        f.kind.label(),
                        self.heat(f.saw.0)
                    ),
                    piece: Some(p.piece),
                });
            }
        }
        // Only of a thermometer that speaks for itself silence means something.
        let place = run.place.and_then(|id| self.home.settings.place(id));
        let speaks = place.is_some_and(|p| p.sensor.is_some());
        if run.stage().is_none() || !speaks {
            return all;
        }
        for no in run.probes.keys() {
            let Some(f) = series::silent(run, &self.watched.readings, *no, self.now) else {
                continue;
            };
            let place = self.seat_said(run, *no);
            all.push(Alarm {
                key: format!("silent:{}:{}", f.probe, f.from.as_second()),
                kind: AlarmKind::Probe,
                message: format!("Probe {no}{place} {}.", f.kind.label()),
                piece: None,
            });
        }
        all
    }

    fn seat_said(&self, run: &Run, no: crate::run::ProbeNo) -> String {
        let last = run.probes.get(&no).and_then(|s| s.last());
        match last.map(|s| &s.seat) {
            Some(ProbeLocation::Piece(id)) => {
                let tag = self.book.piece(*id).map(|(_, p)| p.tag.clone());
                format!(" in {}", tag.unwrap_or_default())
            }
            Some(ProbeLocation::Chamber(zone)) => format!(" in the air of {zone}"),
            Some(ProbeLocation::Out) | None => String::new(),
        }
    }

    fn of_chamber(&self, zone: &ZoneNow) -> Option<Alarm> {
        let run = &self.watched.run;
        let (stage, went) = run.stage()?;
        let read = zone
            .chamber
            .filter(|r| minutes(r.at, self.now) <= CHAMBER_FRESH_MIN)?;
        let set = stage.set()?;
        let cold = stage.kind == RunStageKind::ColdSmoke;
        let settles = minutes(went.from, self.now) < SETTLES_MIN;
        let (c, message) = (read.temperature.0, |wanted: String| {
            format!(
                "{} of {} is at {}: {wanted}. See to the fire and the damper, or say what it is set to now.",
                zone.zone,
                run.name,
                self.heat(read.temperature.0)
            )
        });
        let message = if cold && c > COLD_SMOKE_C {
            message(format!(
                "cold smoke stays under {}",
                self.heat(COLD_SMOKE_C)
            ))
        } else if !settles && !cold && (c - set.0).abs() > OFF_C {
            message(format!("{} is set", self.heat(set.0)))
        } else {
            return None;
        };
        let way = if c > set.0 { "hot" } else { "cold" };
        Some(Alarm {
            key: format!("chamber:{}:{}:{:.0}:{way}", zone.zone, went.stage, set.0),
            kind: AlarmKind::Chamber,
            message,
            piece: None,
        })
    }
}

fn said_of(wood: &str, kind: &str) -> String {
    let said = if wood.trim().is_empty() {
        kind.to_string()
    } else {
        format!("{kind} of {wood}")
    };
    capital(&said)
}

/// An end that is put off rings again.
fn end_word(stage: &RunStage) -> String {
    match stage.ends {
        StageEnd::Hours(h) => format!("{h:.2}h"),
        StageEnd::Inside(c) => format!("{c:.1}c"),
        StageEnd::Marks => "marks".into(),
    }
}
