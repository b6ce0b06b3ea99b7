//! What needs hands today.

use super::paging::After;
use super::stations::Station;
use crate::App;
use crate::error::{ApiError, Problem};
use crate::views::{PieceCard, Seen, VerdictView};
use actix_web::get;
use actix_web::web::{Data, Json, Path, Query};
use jiff::ToSpan;
use manifest_core::agenda::TaskKind;
use manifest_core::animal::hold::{HoldKind, HoldState, HoldStatus};
use manifest_core::caution::Finding;
use manifest_core::ledger::book::Book;
use manifest_core::ledger::state::{Piece, Stage};
use manifest_core::ledger::{LotId, PackId, PieceId};
use manifest_core::piece::LeftFor;
use manifest_core::piece::printed::{LabelChange, Printed, Verdict};
use manifest_core::timetable::whole::{Whole, whole};
use manifest_core::timetable::{Missing, Said, Task, Trips, Urgency, in_order, missing, trips};
use manifest_core::verdict::{LotVerdicts, printed_of_old};
use serde::Serialize;
use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::Arc;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The tasks of one urgency.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct TaskGroup {
    /// How urgent.
    urgency: Urgency,
    /// How many there are.
    in_all: usize,
    /// A page of them.
    tasks: Vec<TaskView>,
    /// Where the next page begins, at `/tasks/{urgency}`; none on the last.
    next: Option<String>,
}

/// A task with the piece it is about.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct TaskView {
    /// What is to do.
    task: Task,
    /// With which piece.
    piece: PieceCard,
}

/// How many pieces lie at each station.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
struct Counts {
    /// Lots whose break-down is not finished.
    breakdown: usize,
    /// Without a product.
    assign: usize,
    /// Waiting for their dose, or in cure.
    cure: usize,
    /// Waiting for the smoker.
    smoke: usize,
    /// Waiting for their hook, or hanging.
    hang: usize,
    /// Waiting to be packed.
    pack: usize,
}

/// Something that holds a lot back, or a day by which it has to be thawed.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct LotWaits {
    /// The lot.
    lot: LotId,
    /// Its tag.
    tag: String,
    /// What people call it.
    name: String,
    /// The hold; none for stock that waits frozen.
    hold: Option<HoldState>,
    /// The day by which it has to be thawed.
    #[schema(value_type = Option<String>, format = Date)]
    thaw_by: Option<jiff::civil::Date>,
}

/// Packs whose label says something else than may be said now.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
struct LabelsOutdated {
    /// How many there are.
    in_all: usize,
    /// A page of them.
    packs: Vec<LabelOutdated>,
    /// Where the next page begins, at `/labels`; none on the last.
    next: Option<String>,
}

/// A pack whose label says something else than may be said now.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct LabelOutdated {
    /// The pack.
    pack: PackId,
    /// Its tag.
    tag: String,
    /// Its piece.
    piece: PieceId,
    /// Its animal.
    lot: LotId,
    /// The product.
    product: String,
    /// What the label says.
    printed: Printed,
    /// In what it no longer holds.
    changes: Vec<LabelChange>,
    /// When it was printed.
    #[schema(value_type = String, format = Date)]
    printed_on: jiff::civil::Date,
    /// What may be said now.
    verdict: VerdictView,
}

/// A pack that left the house and that nobody may eat by now.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Recall {
    /// The pack.
    pack: PackId,
    /// Its tag.
    tag: String,
    /// Its piece.
    piece: PieceId,
    /// The product.
    product: String,
    /// What it left for.
    left: LeftFor,
    /// Who has it, or ate of it.
    to: Option<String>,
    /// When it left.
    #[schema(value_type = String, format = Date)]
    on: jiff::civil::Date,
    /// What may be said now.
    verdict: VerdictView,
}

/// A place whose temperature gives pause.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PlaceAlarm {
    /// The place.
    place: u32,
    /// What it is called.
    name: String,
    /// What to think about.
    findings: Vec<Finding>,
}

/// What needs hands today.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Today {
    /// The day it is for.
    #[schema(value_type = String, format = Date)]
    day: jiff::civil::Date,
    /// What is due, as one walks, and what comes after.
    #[serde(flatten)]
    trips: Trips,
    /// What today's and tomorrow's work takes and is not there.
    missing: Vec<Missing>,
    /// Places that were too warm or too cold.
    alarms: Vec<PlaceAlarm>,
    /// Animals and purchases of which nothing was weighed out yet.
    whole: Vec<Whole>,
    /// Holds that have not ended, and stock to be thawed.
    waits: Vec<LotWaits>,
    /// Packs whose label says something else than may be said now.
    labels: LabelsOutdated,
    /// Packs that left the house and that nobody may eat by now: who has them is told.
    recalls: Vec<Recall>,
    /// How many pieces lie where.
    counts: Counts,
    /// How many tasks are due or overdue.
    due: usize,
}

/// The tasks of one urgency; turnings are one tap each and come last, so as not to hide what needs a scale.
fn group(
    (book, seen): (&Book, Seen<'_>),
    all: &[Task],
    urgency: Urgency,
    after: &After,
) -> Result<TaskGroup, ApiError> {
    let mut of: Vec<_> = all.iter().filter(|t| t.urgency == urgency).collect();
    of.sort_by_key(|t| t.kind == TaskKind::Turn);
    let page = after.page(of, |t| task_name(t))?;
    let view = |t: &Task| {
        let (lot, piece) = book.piece(t.piece)?;
        Some(TaskView {
            task: t.clone(),
            piece: seen.card(lot, piece),
        })
    };
    Ok(TaskGroup {
        urgency,
        in_all: page.in_all,
        tasks: page.shown.into_iter().filter_map(view).collect(),
        next: page.next,
    })
}

/// A task's name in its list: a piece has one of a kind and step on a day.
fn task_name(task: &Task) -> String {
    let step = task.step.as_ref().map_or("", |s| s.id.as_str());
    format!("{}-{}-{}-{step}", task.piece.0, task.kind as u8, task.due)
}

/// What may be said of a piece; each lot is looked up once.
fn label<'a>(book: &'a Book, seen: Seen<'a>) -> impl Fn(PieceId) -> Said + 'a {
    let known: RefCell<HashMap<LotId, Arc<LotVerdicts>>> = RefCell::default();
    move |id| {
        let unknown = Said {
            word: Verdict::CookBeforeEating,
            waits: false,
        };
        let Some((lot, piece)) = book.piece(id) else {
            return unknown;
        };
        let mut known = known.borrow_mut();
        let verdicts = known
            .entry(lot.state.id)
            .or_insert_with(|| seen.verdicts.lot(book, seen.home, lot.state.id));
        let verdict = verdicts.pieces.get(&id);
        verdict.map_or(unknown, |v| {
            let v = seen.judge().at(v.clone(), piece, seen.now);
            Said {
                word: v.word,
                waits: v.waits_for_test(),
            }
        })
    }
}

/// What is due, overdue and coming, for all pieces.
#[utoipa::path(tag = "reading", responses((status = 200, body = Today)))]
#[get("/today")]
async fn today(app: Data<App>) -> Result<Json<Today>, ApiError> {
    let now = app.clock.now();
    crate::reading(&app, move |app| {
        app.store.read_with_lists(|book, home, lists| {
            let seen = Seen {
                book,
                home,
                now,
                verdicts: &app.verdicts,
                practice: false,
            };
            let plans = app.plans.all(book, home, now);
            let today = home.settings.day(now);
            let tomorrow = today.saturating_add(1.day());
            let open = || plans.iter().flat_map(|p| &p.open);
            let wanted = plans.iter().flat_map(|p| p.open.iter().chain(&p.ahead));
            let stock = lists.pantry.list.standing(book, today);
            let mut counts = Counts {
                breakdown: book
                    .lots()
                    .filter(|l| l.state.lot.as_ref().is_some_and(|l| l.closed.is_none()))
                    .count(),
                ..Counts::default()
            };
            for (_, piece) in book.pieces() {
                match Station::of(piece.stage()) {
                    Some(Station::Assign) => counts.assign += 1,
                    Some(Station::Cure) => counts.cure += 1,
                    Some(Station::Smoke) => counts.smoke += 1,
                    Some(Station::Hang) => counts.hang += 1,
                    Some(Station::Pack) => counts.pack += 1,
                    None => {}
                }
            }
            let alarms = home.settings.places().filter_map(|place| {
                let mut findings = super::places::findings(place, home, now);
                findings.extend(super::places::silence(app, place, book, home, now));
                (!findings.is_empty()).then(|| PlaceAlarm {
                    place: place.id,
                    name: place.name.clone(),
                    findings,
                })
            });
            Ok(Json(Today {
                day: home.settings.day(now),
                trips: trips(&plans, book, home, now, label(book, seen)),
                missing: missing(wanted, book, home, &stock, tomorrow),
                alarms: alarms.collect(),
                labels: outdated(book, seen, &After::default())?,
                recalls: recalls(book, seen),
                whole: whole(book, home, now),
                waits: waits(book, now),
                counts,
                due: open().filter(|t| t.urgency != Urgency::Coming).count(),
            }))
        })
    })
    .await?
}

/// More of what is overdue, due or coming.
#[utoipa::path(tag = "reading", params(("urgency" = Urgency, Path), After), responses((status = 200, body = TaskGroup), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/tasks/{urgency}")]
async fn more_tasks(
    app: Data<App>,
    urgency: Path<Urgency>,
    after: Query<After>,
) -> Result<Json<TaskGroup>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let plans = app.plans.all(book, seen.home, seen.now);
            let open = plans.iter().flat_map(|p| p.open.iter().cloned());
            let all = in_order(open.collect());
            group((book, seen), &all, *urgency, &after).map(Json)
        })
    })
    .await?
}

/// More packs whose label says something else than may be said now.
#[utoipa::path(tag = "reading", params(After), responses((status = 200, body = LabelsOutdated), (status = 422, body = Problem)))]
#[get("/labels")]
async fn more_labels(
    app: Data<App>,
    after: Query<After>,
) -> Result<Json<LabelsOutdated>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, seen| outdated(book, seen, &after).map(Json))
    })
    .await?
}

/// Packs to be relabelled or thrown away, the dangerous ones first.
fn outdated(book: &Book, seen: Seen<'_>, after: &After) -> Result<LabelsOutdated, ApiError> {
    let mut found = Vec::new();
    for lot in book.lots() {
        let kept = seen.verdicts.lot(book, seen.home, lot.state.id);
        for (id, changes) in &kept.outdated {
            if let (Some((_, piece, pack)), Some(verdict)) = (book.pack(*id), kept.packs.get(id))
                && let Some(printed) = pack.printed.clone().or_else(|| printed_of_old(piece))
            {
                found.push(LabelOutdated {
                    pack: *id,
                    tag: pack.tag.clone(),
                    piece: piece.id,
                    lot: lot.state.id,
                    product: piece.build().map_or_else(String::new, |b| b.name.clone()),
                    printed,
                    changes: changes.clone(),
                    printed_on: seen.home.settings.day(pack.printed_at),
                    verdict: VerdictView::of(verdict),
                });
            }
        }
    }
    found.sort_by_key(|l| (std::cmp::Reverse(l.verdict.word), l.pack));
    let page = after.page(found, |l| l.pack.0.to_string())?;
    Ok(LabelsOutdated {
        in_all: page.in_all,
        packs: page.shown,
        next: page.next,
    })
}

/// Packs of which somebody has to be told, the newest first.
fn recalls(book: &Book, seen: Seen<'_>) -> Vec<Recall> {
    let mut found = Vec::new();
    for lot in book.lots() {
        let kept = seen.verdicts.lot(book, seen.home, lot.state.id);
        for id in &kept.recalled {
            if let (Some((_, piece, pack)), Some(verdict)) = (book.pack(*id), kept.packs.get(id))
                && let Some(left) = &pack.left
            {
                found.push(Recall {
                    pack: *id,
                    tag: pack.tag.clone(),
                    piece: piece.id,
                    product: piece.build().map_or_else(String::new, |b| b.name.clone()),
                    left: left.what,
                    to: left.to.clone(),
                    on: seen.home.settings.day(left.at),
                    verdict: VerdictView::of(verdict),
                });
            }
        }
    }
    found.sort_by_key(|r| std::cmp::Reverse((r.on, r.pack)));
    found
}

/// Holds that run or are asked about, of lots that still hold meat; frozen stock with its day.
fn waits(book: &Book, now: jiff::Timestamp) -> Vec<LotWaits> {
    let mut found = Vec::new();
    for lot in book.lots().rev() {
        let Some(came) = &lot.state.lot else { continue };
        let raw = |p: &Piece| matches!(p.stage(), Stage::Assign | Stage::Dose);
        let open = came.closed.is_none();
        if !open && !lot.state.pieces.values().any(raw) {
            continue;
        }
        let wait = |hold, thaw_by| LotWaits {
            lot: lot.state.id,
            tag: came.received.tag.clone(),
            name: came.received.name.clone(),
            hold,
            thaw_by,
        };
        let holds = lot.state.holds(None, now).into_iter().filter(|h| {
            // A freezing that nobody began is a choice, not a task.
            let begun = h.kind != HoldKind::Freezing || h.freezing.is_some();
            begun && h.status != HoldStatus::Ended
        });
        found.extend(holds.map(|h| wait(Some(h), None)));
        if open && let Some(day) = came.received.frozen.and_then(|f| f.thaw_by) {
            found.push(wait(None, Some(day)));
        }
    }
    found
}

/// Mounts the day.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(today)
        .service(more_tasks)
        .service(more_labels);
}
