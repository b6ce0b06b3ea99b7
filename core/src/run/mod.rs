//! Runs in a smoker, an oven or a pot: several pieces, stages of heat, fewer probes than pieces.
//!
//! What was done is a list of [`Event`]s that only grows; a [`Run`] is what they leave. Readings lie beside it. When a piece is
//! weighed as smoked, that entry of the ledger names the run, and the piece is out of it.

pub mod act;
pub mod fire;
pub mod series;
pub mod stages;
#[cfg(test)]
mod tests;
pub mod thin;

pub use act::{Bath, FireKind, ProbeLocation, RunAct, Sight};
pub use stages::{RunStage, RunStageKind, StageEnd};

use crate::caution::Finding;
use crate::ids::{PieceId, RunId};
use crate::place::PlaceId;
use crate::place::climate::Read;
use crate::units::{Celsius, Typed};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// A probe that is off by more than this is not put right by an offset: nothing that it says proves anything (°C).
pub const TRUSTED_C: f64 = 5.0;

/// The number on a probe.
pub type ProbeNo = u8;
/// No thermometer of a kitchen has more probes.
pub const MOST_PROBES: ProbeNo = 12;

/// What a run is made in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Appliance {
    /// A smoker.
    Smoker,
    /// An oven.
    Oven,
    /// A pot.
    Pot,
}

impl Appliance {
    /// As it is called.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Smoker => "smoker",
            Self::Oven => "oven",
            Self::Pot => "pot",
        }
    }
}

/// Something that was done in a run.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Event {
    /// Its number, over all runs.
    pub no: i64,
    /// When it happened.
    pub at: Timestamp,
    /// What.
    pub act: RunAct,
    /// What gave pause, and was kept.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub kept: Vec<Finding>,
    /// Why, where it went past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

/// Where a piece lay in a run.
#[derive(Clone, Debug, PartialEq)]
pub struct Sitting {
    /// The piece.
    pub piece: PieceId,
    /// The zone.
    pub zone: String,
    /// The shelf, from the top; none where there is only one.
    pub shelf: Option<u32>,
    /// Since when.
    pub from: Timestamp,
    /// Until when; none while it lies there, or was weighed out.
    pub until: Option<Timestamp>,
}

/// Where a probe was.
#[derive(Clone, Debug, PartialEq)]
pub struct ProbeSpan {
    /// Where.
    pub seat: ProbeLocation,
    /// Since when.
    pub from: Timestamp,
    /// Until when; none while it is there.
    pub until: Option<Timestamp>,
}

/// A stage as it went.
#[derive(Clone, Debug, PartialEq)]
pub struct StageRun {
    /// Which of the run's stages.
    pub stage: usize,
    /// Since when.
    pub from: Timestamp,
    /// Until when.
    pub until: Option<Timestamp>,
}

/// A check of a piece with a thermometer that does not stay in it.
#[derive(Clone, Debug, PartialEq)]
pub struct Spots {
    /// The event.
    pub no: i64,
    /// When.
    pub at: Timestamp,
    /// The piece.
    pub piece: PieceId,
    /// What was read, place by place.
    pub read: Vec<Typed<Celsius>>,
}

impl Spots {
    /// The coldest place decides.
    #[must_use]
    pub fn coldest(&self) -> Option<Celsius> {
        let all = self.read.iter().map(|t| t.value);
        all.min_by(|a, b| a.0.total_cmp(&b.0))
    }
}

/// A source of smoke.
#[derive(Clone, Debug, PartialEq)]
pub struct Fire {
    /// The event that lit it.
    pub no: i64,
    /// What kind.
    pub kind: FireKind,
    /// Which wood.
    pub wood: String,
    /// How much (g).
    pub grams: Option<f64>,
    /// When it was lit.
    pub lit: Timestamp,
    /// When it should be burnt out, where that is known.
    pub should_end: Option<Timestamp>,
    /// When it was.
    pub out: Option<Timestamp>,
}

/// A run, as its events leave it.
#[derive(Clone, Debug, PartialEq)]
pub struct Run {
    /// Its number.
    pub id: RunId,
    /// The place on the household's list, where it is one.
    pub place: Option<PlaceId>,
    /// What it is called.
    pub name: String,
    /// What it is made in.
    pub hearth: Appliance,
    /// By which school of heat, where one was chosen.
    pub school: Option<String>,
    /// When it was set up.
    pub begun: Timestamp,
    /// Its stages.
    pub stages: Vec<RunStage>,
    /// The stages as they went, in order.
    pub went: Vec<StageRun>,
    /// Since when it pauses.
    pub paused: Option<Timestamp>,
    /// Who lay where.
    pub sittings: Vec<Sitting>,
    /// Where each probe was.
    pub probes: BTreeMap<ProbeNo, Vec<ProbeSpan>>,
    /// What each probe is off by: added to what it says (°C).
    pub offsets: BTreeMap<ProbeNo, f64>,
    /// Readings of the chamber by hand, by zone.
    pub chamber: Vec<(String, Read)>,
    /// Checks with a thermometer that does not stay.
    pub spots: Vec<Spots>,
    /// What smoked.
    pub fires: Vec<Fire>,
    /// Alarms that were answered.
    pub answered: BTreeSet<String>,
    /// When it was over.
    pub ended: Option<Timestamp>,
    /// Everything that was done, in order, what was struck out too.
    pub events: Vec<Event>,
    /// Events that were struck out.
    pub struck: BTreeSet<i64>,
}

impl Run {
    /// What events leave; none where the one that sets it up is missing.
    #[must_use]
    pub fn of(id: RunId, mut events: Vec<Event>) -> Option<Self> {
        events.sort_by_key(|e| (e.at, e.no));
        let struck: BTreeSet<i64> = events.iter().filter_map(|e| e.act.strikes()).collect();
        let first = events.iter().position(|e| e.act.is_set_up())?;
        let RunAct::SetUp {
            place,
            name,
            hearth,
            school,
            stages,
        } = events[first].act.clone()
        else {
            return None;
        };
        let mut run = Self {
            id,
            place,
            name,
            hearth,
            school,
            begun: events[first].at,
            stages,
            went: Vec::new(),
            paused: None,
            sittings: Vec::new(),
            probes: BTreeMap::new(),
            offsets: BTreeMap::new(),
            chamber: Vec::new(),
            spots: Vec::new(),
            fires: Vec::new(),
            answered: BTreeSet::new(),
            ended: None,
            events: Vec::new(),
            struck,
        };
        for event in &events {
            if !run.struck.contains(&event.no) {
                run.take(event);
            }
        }
        run.events = events;
        Some(run)
    }

    /// The run as it stood at a moment; none before it was set up.
    #[must_use]
    pub fn as_of(&self, at: Timestamp) -> Option<Self> {
        // What was struck out later was never so.
        let then = self
            .events
            .iter()
            .filter(|e| e.at <= at || e.act.strikes().is_some());
        Self::of(self.id, then.cloned().collect())
    }

    /// The same with one more event.
    #[must_use]
    pub fn with(&self, event: Event) -> Option<Self> {
        let mut events = self.events.clone();
        events.push(event);
        Self::of(self.id, events)
    }

    fn take(&mut self, event: &Event) {
        let at = event.at;
        match &event.act {
            // Struck ones are left out before.
            RunAct::SetUp { .. } | RunAct::Struck { .. } | RunAct::Seen { .. } => {}
            RunAct::Loaded { piece, zone, shelf } => {
                self.stood(*piece, at);
                self.sittings.push(Sitting {
                    piece: *piece,
                    zone: zone.clone(),
                    shelf: *shelf,
                    from: at,
                    until: None,
                });
            }
            RunAct::TakenOut { piece } => {
                self.stood(*piece, at);
                self.free(*piece, at);
            }
            RunAct::Staged { stages } => stages.clone_into(&mut self.stages),
            RunAct::StageBegun { stage } => {
                self.stop(at);
                self.paused = None;
                self.went.push(StageRun {
                    stage: *stage,
                    from: at,
                    until: None,
                });
            }
            RunAct::Paused => {
                self.stop(at);
                self.paused = Some(at);
            }
            RunAct::Resumed => {
                if let Some(last) = self.went.last().map(|s| s.stage) {
                    self.went.push(StageRun {
                        stage: last,
                        from: at,
                        until: None,
                    });
                }
                self.paused = None;
            }
            RunAct::ProbeSet { probe, seat } => {
                let seats = self.probes.entry(*probe).or_default();
                if let Some(last) = seats.last_mut().filter(|s| s.until.is_none()) {
                    last.until = Some(at);
                }
                seats.push(ProbeSpan {
                    seat: seat.clone(),
                    from: at,
                    until: None,
                });
            }
            RunAct::ProbeChecked {
                probe, offset_c, ..
            } => {
                self.offsets.insert(*probe, *offset_c);
            }
            RunAct::SpotChecked { piece, read } => self.spots.push(Spots {
                no: event.no,
                at,
                piece: *piece,
                read: read.clone(),
            }),
            RunAct::ChamberRead { zone, temperature } => {
                let read = Read {
                    at,
                    temperature: temperature.value,
                };
                self.chamber.push((zone.clone(), read));
            }
            RunAct::Lit {
                kind,
                wood,
                grams,
                burns_h,
            } => self.fires.push(Fire {
                no: event.no,
                kind: *kind,
                wood: wood.clone(),
                grams: *grams,
                lit: at,
                should_end: burns_h.and_then(|h| seconds_on(at, h * 3_600.0)),
                out: None,
            }),
            RunAct::BurntOut { fire } => {
                if let Some(fire) = self.fires.iter_mut().find(|f| f.no == *fire) {
                    fire.out = Some(at);
                }
            }
            RunAct::Answered { alarm } => {
                self.answered.insert(alarm.clone());
            }
            RunAct::Ended => {
                self.stop(at);
                self.ended = Some(at);
            }
        }
    }

    fn stop(&mut self, at: Timestamp) {
        if let Some(last) = self.went.last_mut().filter(|s| s.until.is_none()) {
            last.until = Some(at);
        }
    }

    fn stood(&mut self, piece: PieceId, at: Timestamp) {
        let mut here = self.sittings.iter_mut().rev();
        if let Some(last) = here.find(|s| s.piece == piece && s.until.is_none()) {
            last.until = Some(at);
        }
    }

    /// The probes in a piece that leaves lie about from then on.
    fn free(&mut self, piece: PieceId, at: Timestamp) {
        for seats in self.probes.values_mut() {
            let Some(last) = seats.last_mut().filter(|s| s.until.is_none()) else {
                continue;
            };
            if last.seat == ProbeLocation::Piece(piece) {
                last.until = Some(at);
            }
        }
    }

    /// The stage that is under way.
    #[must_use]
    pub fn stage(&self) -> Option<(&RunStage, &StageRun)> {
        let last = self.went.last().filter(|s| s.until.is_none())?;
        Some((self.stages.get(last.stage)?, last))
    }

    /// How long the stage that is under way has gone on, without pauses (min).
    #[must_use]
    pub fn stage_minutes(&self, now: Timestamp) -> f64 {
        let Some(last) = self.went.last() else {
            return 0.0;
        };
        // The last of them in a row: what was paused goes on.
        let same = self.went.iter().rev().take_while(|s| s.stage == last.stage);
        same.map(|s| minutes(s.from, s.until.unwrap_or(now)))
            .sum::<f64>()
            .max(0.0)
    }

    /// True when stages with smoke went on for so long that something burns or is wanted.
    #[must_use]
    pub fn began(&self) -> Option<Timestamp> {
        self.went.first().map(|s| s.from)
    }

    /// Every piece that was ever in it, in the order in which they came.
    #[must_use]
    pub fn pieces(&self) -> Vec<PieceId> {
        let mut all = Vec::new();
        for s in &self.sittings {
            if !all.contains(&s.piece) {
                all.push(s.piece);
            }
        }
        all
    }

    /// The kinds of stages that went while a piece lay in it.
    #[must_use]
    pub fn stages_of(&self, piece: PieceId) -> Vec<RunStageKind> {
        let lay = |from: Timestamp, until: Option<Timestamp>| {
            let mut here = self.sittings.iter().filter(|s| s.piece == piece);
            here.any(|s| s.until.is_none_or(|u| from < u) && until.is_none_or(|u| s.from < u))
        };
        let went = self.went.iter().filter(|w| lay(w.from, w.until));
        went.filter_map(|w| self.stages.get(w.stage))
            .map(|s| s.kind)
            .collect()
    }

    /// The last place a piece lay in.
    #[must_use]
    pub fn sitting(&self, piece: PieceId) -> Option<&Sitting> {
        self.sittings.iter().rev().find(|s| s.piece == piece)
    }

    /// The zone in which a piece lay at a moment.
    #[must_use]
    pub fn zone_at(&self, piece: PieceId, at: Timestamp) -> Option<&str> {
        let there = self.sittings.iter().rev();
        let mut there =
            there.filter(|s| s.piece == piece && s.from <= at && s.until.is_none_or(|u| at < u));
        there.next().map(|s| s.zone.as_str())
    }

    /// True for a probe that was so far off when it was checked last that nothing it says in this run counts.
    #[must_use]
    pub fn is_wrong(&self, probe: ProbeNo) -> bool {
        let off = self.offsets.get(&probe);
        off.is_some_and(|c| c.abs() > TRUSTED_C)
    }

    /// True while a probe sits in a piece.
    #[must_use]
    pub fn is_in_meat(&self, probe: ProbeNo, at: Timestamp) -> bool {
        matches!(self.seat_at(probe, at), Some(ProbeLocation::Piece(_)))
    }

    /// True when a probe sat in a piece or hung in the air of a zone then.
    #[must_use]
    pub fn is_somewhere(&self, probe: ProbeNo, at: Timestamp) -> bool {
        self.seat_at(probe, at)
            .is_some_and(|seat| *seat != ProbeLocation::Out)
    }

    /// Where a probe was then.
    fn seat_at(&self, probe: ProbeNo, at: Timestamp) -> Option<&ProbeLocation> {
        let mut seats = self.probes.get(&probe).into_iter().flatten();
        let here = seats.find(|s| s.from <= at && s.until.is_none_or(|u| at < u));
        here.map(|s| &s.seat)
    }

    /// The probe that sits in a piece now.
    #[must_use]
    pub fn probe_in(&self, piece: PieceId) -> Option<ProbeNo> {
        let mut all = self.probes.iter();
        all.find_map(|(no, seats)| {
            let last = seats.last().filter(|s| s.until.is_none())?;
            (last.seat == ProbeLocation::Piece(piece)).then_some(*no)
        })
    }
}

/// What the probes of a run said, by probe, in order of time.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ProbeReadings(pub BTreeMap<ProbeNo, Arc<Vec<Read>>>);

impl ProbeReadings {
    /// Takes readings in; of two of one probe and second the first stays.
    pub fn take(&mut self, probe: ProbeNo, new: &[Read]) {
        let all = Arc::make_mut(self.0.entry(probe).or_default());
        for read in new {
            match all.last() {
                Some(last) if last.at >= read.at => {
                    if let Err(place) = all.binary_search_by_key(&read.at, |r| r.at) {
                        all.insert(place, *read);
                    }
                }
                Some(_) | None => all.push(*read),
            }
        }
    }

    /// What a probe said.
    #[must_use]
    pub fn of(&self, probe: ProbeNo) -> &[Read] {
        self.0.get(&probe).map_or(&[], |all| all.as_slice())
    }

    /// How many there are.
    #[must_use]
    pub fn count(&self) -> usize {
        self.0.values().map(|all| all.len()).sum()
    }

    /// The newest of all.
    #[must_use]
    pub fn newest(&self) -> Option<Timestamp> {
        let last = self.0.values().filter_map(|all| all.last());
        last.map(|r| r.at).max()
    }
}

/// A run with what its probes said.
#[derive(Clone, Debug, PartialEq)]
pub struct Watched {
    /// The run.
    pub run: Run,
    /// Its readings; empty for one that was over long ago, whose readings are asked of the file.
    pub readings: ProbeReadings,
}

/// The runs of a household.
#[derive(Clone, Debug, Default)]
pub struct Runs(pub BTreeMap<RunId, Arc<Watched>>);

impl Runs {
    /// One of them.
    #[must_use]
    pub fn get(&self, id: RunId) -> Option<&Arc<Watched>> {
        self.0.get(&id)
    }

    /// Those that are under way.
    pub fn open(&self) -> impl Iterator<Item = &Arc<Watched>> {
        self.0.values().filter(|w| w.run.ended.is_none())
    }
}

/// From one moment to another (min).
#[must_use]
pub fn minutes(from: Timestamp, to: Timestamp) -> f64 {
    (to.as_second() - from.as_second()) as f64 / 60.0
}

/// So many seconds later, where that is a moment.
#[must_use]
pub fn seconds_on(at: Timestamp, seconds: f64) -> Option<Timestamp> {
    if !seconds.is_finite() {
        return None;
    }
    Timestamp::from_second(at.as_second().saturating_add(seconds.round() as i64)).ok()
}
