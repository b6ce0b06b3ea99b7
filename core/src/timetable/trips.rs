//! What is due, laid out as one walks: ready-to-eat before raw, one place after the other, one vessel one line.

use super::cache::LotPlan;
use super::cure::how_turned;
use super::{Hours, Task, Urgency, in_order};
use crate::agenda::TaskKind;
use crate::catalogue::steps::{StepKind, StepTimer, TripPlace};
use crate::ids::{PieceId, VesselId};
use crate::ledger::book::Book;
use crate::piece::printed::Verdict;
use crate::place::PlaceId;
use crate::timetable::House;
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// So many days are shown ahead.
const DAYS_AHEAD: i64 = 7;

/// So many stand in a row; the others come when these are done.
const CHIPS: usize = 150;

/// So many tags stand in a line of a day to come.
const TAGS: usize = 4;

/// A piece, or a vessel with all in it, in a row.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Chip {
    /// The piece, or one of those in the vessel.
    pub piece: PieceId,
    /// Its tag.
    pub tag: String,
    /// The step of its product that is done.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<String>,
    /// Since which day it waits, where that is past.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub since: Option<Date>,
    /// True when it is past its latest day or hour.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub late: bool,
    /// The last day it can wait for, where that is a day to come.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub latest: Option<Date>,
    /// Its hours, where it goes by them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<Hours>,
    /// What its day follows that is not usual.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub because: Option<String>,
    /// The vessel.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel: Option<VesselId>,
    /// What that is called.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel_name: Option<String>,
    /// The others in it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<PieceId>,
    /// Their tags.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with_tags: Vec<String>,
}

/// The same thing to do with several.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Row {
    /// What.
    pub kind: TaskKind,
    /// The kind of step.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<StepKind>,
    /// What to do, where all of them are to be done in the same words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub words: Option<String>,
    /// Checks that go with it, by their words.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub asks: Vec<String>,
    /// How urgent the most urgent of them is.
    pub urgency: Urgency,
    /// Hands on for about so long (min).
    pub minutes: u32,
    /// The timer that goes with it, where a time is usual (min).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub timer_min: Option<u32>,
    /// With how many in all.
    pub in_all: usize,
    /// With which, the most urgent first; of very many the first.
    pub chips: Vec<Chip>,
}

/// What is done in one go at one place.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Trip {
    /// Where.
    pub place: TripPlace,
    /// True for what is ready to eat; raw and cured-raw pieces never stand on the same card.
    pub ready: bool,
    /// True for the first with raw meat after one with what is ready: knife and hands are washed before.
    pub wash_first: bool,
    /// Hands on for about so long (min).
    pub minutes: u32,
    /// What one takes along.
    pub take: Vec<String>,
    /// What is done.
    pub rows: Vec<Row>,
}

/// The part of a day.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum PartOfDay {
    /// Until eleven.
    Morning,
    /// Until five.
    Midday,
    /// After that.
    Night,
}

impl PartOfDay {
    /// The part that an hour belongs to.
    #[must_use]
    pub const fn of(hour: i8) -> Self {
        match hour {
            ..11 => Self::Morning,
            11..17 => Self::Midday,
            17.. => Self::Night,
        }
    }
}

/// A place without cooling in which meat lies, whose temperature nobody read in this part of the day.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlaceAsked {
    /// The place.
    pub place: PlaceId,
    /// What it is called.
    pub name: String,
    /// The part of the day.
    pub part: PartOfDay,
    /// How many pieces lie there.
    pub pieces: usize,
    /// What to look out for there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub care: Option<String>,
}

/// A line of a day to come.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DayLine {
    /// What.
    pub kind: TaskKind,
    /// The kind of step.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<StepKind>,
    /// Where.
    pub place: TripPlace,
    /// With how many pieces or vessels.
    pub count: usize,
    /// The first of them.
    pub tags: Vec<String>,
    /// True for what two people do better than one.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub two_people: bool,
}

/// A day to come.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DayAhead {
    /// The day.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub day: Date,
    /// What falls on it.
    pub lines: Vec<DayLine>,
}

/// The day, as one walks through it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Trips {
    /// What is due, in the order in which it is done.
    pub trips: Vec<Trip>,
    /// What comes to its hour later today.
    pub later_today: Vec<Row>,
    /// Temperatures to be read.
    pub reads: Vec<PlaceAsked>,
    /// Tomorrow and the days after.
    pub ahead: Vec<DayAhead>,
}

/// What Today has to know of what may be said of a piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Said {
    /// The word.
    pub word: Verdict,
    /// True where nobody eats it only until a test comes back.
    pub waits: bool,
}

impl Said {
    /// True for what nobody will eat any more.
    #[must_use]
    pub fn is_lost(self) -> bool {
        self.word == Verdict::DoNotEat && !self.waits
    }
}

/// Lays out the plans of all lots; `said` says what may be said of a piece. Of what nobody eats one thing is left to do.
#[must_use]
pub fn trips(
    plans: &[Arc<LotPlan>],
    book: &Book,
    home: &House,
    now: Timestamp,
    said: impl Fn(PieceId) -> Said,
) -> Trips {
    let today = home.settings.day(now);
    let open = plans.iter().flat_map(|p| &p.open);
    let mut due: Vec<Task> = Vec::new();
    let mut later: Vec<Task> = Vec::new();
    let mut lost: BTreeSet<PieceId> = BTreeSet::new();
    for task in open {
        if task.kind != TaskKind::Discard && said(task.piece).is_lost() {
            if lost.insert(task.piece) {
                due.push(thrown_away(task, today));
            }
            continue;
        }
        match task.urgency {
            Urgency::Overdue | Urgency::Due => due.push(task.clone()),
            Urgency::Coming if task.hours.is_some() && task.due <= today => {
                later.push(task.clone());
            }
            Urgency::Coming => {}
        }
    }
    // The steps of one piece are done in their order, however near another place lies.
    let (ready, raw): (Vec<Task>, Vec<Task>) = in_order(due).into_iter().partition(|task| {
        std::iter::once(&task.piece)
            .chain(&task.with)
            .all(|p| said(*p).word == Verdict::ReadyToEat)
    });
    let mut trips: Vec<Trip> = Vec::new();
    for (is_raw, tasks) in [(false, ready), (true, raw)] {
        for (place, tasks) in walked(tasks, book) {
            let mut rows = Rows::default();
            for task in tasks {
                rows.add(task, book, today);
            }
            let rows = rows.done();
            let mut take: Vec<String> = Vec::new();
            for what in rows.iter().flat_map(|r| r.kind.takes()) {
                if !take.iter().any(|t| t == what) {
                    take.push((*what).into());
                }
            }
            trips.push(Trip {
                place,
                ready: !is_raw,
                wash_first: is_raw && trips.last().is_some_and(|t| t.ready),
                minutes: rows.iter().map(|r| r.minutes).sum(),
                take,
                rows,
            });
        }
    }
    let mut rows = Rows::default();
    for task in in_order(later) {
        rows.add(task, book, today);
    }
    Trips {
        trips,
        later_today: rows.done(),
        reads: reads(book, home, now),
        ahead: days_ahead(plans, today),
    }
}

/// What is left to do with a piece that nobody eats, whatever was planned.
fn thrown_away(task: &Task, today: Date) -> Task {
    Task {
        kind: TaskKind::Discard,
        place: TaskKind::Discard.place(None),
        step: None,
        earliest: today,
        due: today,
        latest: today,
        hours: None,
        urgency: Urgency::Due,
        because: Some("its page says why".into()),
        ..task.clone()
    }
}

/// The walks in which tasks are done: one place after the other, each once, unless a piece's own order calls for it twice.
fn walked(tasks: Vec<Task>, book: &Book) -> Vec<(TripPlace, Vec<Task>)> {
    let at = |task: &Task| {
        let step = task.step.as_ref()?;
        let build = book.piece(task.piece)?.1.build()?;
        build.steps.iter().position(|own| own.id == step.id)
    };
    // Where each piece still has something to do, and how far on its way that is.
    let mut open: BTreeMap<PieceId, Vec<(usize, TripPlace)>> = BTreeMap::new();
    let mut left: Vec<(Option<usize>, Task)> = tasks.into_iter().map(|t| (at(&t), t)).collect();
    for (at, task) in &left {
        open.entry(task.piece)
            .or_default()
            .extend(at.map(|at| (at, task.place)));
    }
    let mut found: Vec<(TripPlace, Vec<Task>)> = Vec::new();
    while !left.is_empty() {
        let waits = |(at, task): &(Option<usize>, Task)| {
            open[&task.piece]
                .iter()
                .any(|(other, place)| *place != task.place && Some(*other) < *at)
        };
        let here = |place: TripPlace| left.iter().filter(move |(_, t)| t.place == place);
        let begins = |place: &TripPlace| here(*place).any(|t| !waits(t));
        let whole = |place: &TripPlace| begins(place) && here(*place).all(|t| !waits(t));
        // The step that comes first on its piece's way never waits, so there is always a place to begin at.
        let next = TripPlace::ALL.into_iter().find(whole);
        let Some(place) = next.or_else(|| TripPlace::ALL.into_iter().find(begins)) else {
            found.extend(left.into_iter().map(|(_, t)| (t.place, vec![t])));
            return found;
        };
        let ready: Vec<bool> = left
            .iter()
            .map(|t| t.1.place == place && !waits(t))
            .collect();
        let mut ready = ready.into_iter();
        let (now, later): (Vec<_>, Vec<_>) =
            left.into_iter().partition(|_| ready.next() == Some(true));
        for (at, task) in &now {
            if let Some(steps) = open.get_mut(&task.piece) {
                steps.retain(|(other, _)| Some(*other) != *at);
            }
        }
        found.push((place, now.into_iter().map(|(_, t)| t).collect()));
        left = later;
    }
    found
}

/// Rows in the making: one for each kind of thing that is done in the same way.
#[derive(Default)]
struct Rows(Vec<Row>);

impl Rows {
    fn add(&mut self, task: Task, book: &Book, today: Date) {
        let piece = book.piece(task.piece).map(|(_, p)| p);
        let step = task.step.as_ref().and_then(|s| {
            let build = piece?.build()?;
            build.steps.iter().find(|own| own.id == s.id)
        });
        let (kind, step_kind) = (task.kind, task.step.as_ref().map(|s| s.kind));
        let asks = step.map_or(&[][..], |s| &s.asks);
        let words = step
            .filter(|_| kind == TaskKind::ByHand)
            .map(|s| s.words.clone())
            .or_else(|| {
                let turned = piece.filter(|_| kind == TaskKind::Turn);
                turned.and_then(how_turned).map(String::from)
            });
        let minutes = kind.minutes();
        let timer_min = step
            .filter(|_| kind == TaskKind::ByHand)
            .and_then(|s| usual_timer(s.kind, s.window().due_h));
        let chip = Chip {
            since: (task.due < today).then_some(task.due),
            late: task.urgency == Urgency::Overdue,
            latest: (task.latest > today && task.latest != task.due).then_some(task.latest),
            piece: task.piece,
            tag: task.tag,
            step: task.step.map(|s| s.id),
            hours: task.hours,
            because: task.because,
            vessel: task.vessel.filter(|_| kind == TaskKind::Turn),
            vessel_name: task.vessel_name.filter(|_| kind == TaskKind::Turn),
            with: task.with,
            with_tags: task.with_tags,
        };
        let same = |r: &&mut Row| r.kind == kind && r.step == step_kind && r.asks == asks;
        match self.0.iter_mut().find(same) {
            Some(row) => {
                row.minutes += minutes;
                row.urgency = row.urgency.min(task.urgency);
                if row.words != words {
                    row.words = None;
                }
                if row.timer_min != timer_min {
                    row.timer_min = None;
                }
                row.in_all += 1;
                if row.chips.len() < CHIPS {
                    row.chips.push(chip);
                }
            }
            None => self.0.push(Row {
                kind,
                step: step_kind,
                words,
                asks: asks.to_vec(),
                urgency: task.urgency,
                minutes,
                timer_min,
                in_all: 1,
                chips: vec![chip],
            }),
        }
    }

    fn done(mut self) -> Vec<Row> {
        // Turnings are one tap each and come last, so as not to hide what needs a scale.
        self.0
            .sort_by_key(|r| (r.kind == TaskKind::Turn, r.urgency, r.kind, r.step));
        self.0
    }
}

/// The timer that goes with a step that waits (min).
fn usual_timer(kind: StepKind, due_h: f64) -> Option<u32> {
    match kind.traits().timer {
        StepTimer::Soak(minutes) => Some(minutes),
        StepTimer::Rest => {
            let minutes = (due_h * 60.0).round() as u32;
            (minutes > 0).then_some(minutes)
        }
        StepTimer::None | StepTimer::RestAsSaid => None,
    }
}

/// Places without cooling in which meat lies and that nobody read in this part of the day.
fn reads(book: &Book, home: &House, now: Timestamp) -> Vec<PlaceAsked> {
    if !home
        .settings
        .places()
        .any(|p| p.kind().is_some_and(|k| k.asked))
    {
        return Vec::new();
    }
    let local = now.to_zoned(home.settings.zone());
    let (today, part) = (local.date(), PartOfDay::of(local.hour()));
    let outer = |id: PlaceId| {
        home.settings
            .place(id)
            .and_then(|p| p.stands_in)
            .unwrap_or(id)
    };
    let mut lying: BTreeMap<PlaceId, usize> = BTreeMap::new();
    for (_, piece) in book.pieces().filter(|(_, p)| !p.stage().is_over()) {
        if let Some(place) = piece.place() {
            *lying.entry(outer(place)).or_default() += 1;
        }
    }
    let asked = home.settings.places().filter_map(|place| {
        let kind = place.kind().filter(|k| k.asked)?;
        let pieces = *lying.get(&place.id)?;
        let log = home.climate.place(place.id);
        let read = log.is_some_and(|l| {
            l.recent().any(|r| {
                let at = r.at.to_zoned(home.settings.zone());
                at.date() == today && PartOfDay::of(at.hour()) == part
            })
        });
        (!read).then(|| PlaceAsked {
            place: place.id,
            name: place.name.clone(),
            part,
            pieces,
            care: kind.care.clone(),
        })
    });
    asked.collect()
}

/// Tomorrow and the days after.
fn days_ahead(plans: &[Arc<LotPlan>], today: Date) -> Vec<DayAhead> {
    let days: Vec<Date> = (1..=DAYS_AHEAD)
        .map(|n| today.saturating_add(n.days()))
        .collect();
    let last = days[days.len() - 1];
    let mut found: BTreeMap<(Date, TaskKind, Option<StepKind>, TripPlace), Vec<&str>> =
        BTreeMap::new();
    let all = plans.iter().flat_map(|p| p.open.iter().chain(&p.ahead));
    for task in all.filter(|t| t.kind != TaskKind::Turn && t.due > today && t.due <= last) {
        let step = task.step.as_ref().map(|s| s.kind);
        let at = (task.due, task.kind, step, task.place);
        found.entry(at).or_default().push(&task.tag);
    }
    let mut vessels: BTreeSet<(Date, VesselId)> = BTreeSet::new();
    for turn in plans.iter().flat_map(|p| &p.turns) {
        for day in turn.days.iter().filter(|d| **d > today && **d <= last) {
            if turn.vessel.is_none_or(|v| vessels.insert((*day, v))) {
                let at = (*day, TaskKind::Turn, None, TaskKind::Turn.place(None));
                found.entry(at).or_default().push(&turn.tag);
            }
        }
    }
    let of = |day: Date| {
        let lines = found.iter().filter(|((on, ..), _)| *on == day);
        let lines = lines.map(|((_, kind, step, place), tags)| DayLine {
            kind: *kind,
            step: *step,
            place: *place,
            two_people: step.is_some_and(StepKind::wants_two),
            count: tags.len(),
            tags: tags.iter().take(TAGS).map(|t| (*t).into()).collect(),
        });
        DayAhead {
            day,
            lines: lines.collect(),
        }
    };
    days.into_iter().map(of).collect()
}
