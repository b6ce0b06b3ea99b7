//! What needs hands today.

use super::MOST;
use super::stations::Station;
use crate::App;
use crate::views::{PieceCard, Seen, VerdictView};
use actix_web::get;
use actix_web::web::Data;
use actix_web::web::Json;
use manifest_core::animal::hold::{HoldKind, HoldState, HoldStatus};
use manifest_core::ledger::book::Book;
use manifest_core::ledger::state::Piece;
use manifest_core::ledger::state::Stage;
use manifest_core::ledger::{LotId, PackId, PieceId};
use manifest_core::timetable::{Task, TaskKind, Urgency, tasks};
use manifest_core::verdict::{Printed, printed_of_old};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The tasks of one urgency, counted and cut short.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct TaskGroup {
    /// How urgent.
    urgency: Urgency,
    /// How many there are.
    in_all: usize,
    /// The first of them.
    tasks: Vec<TaskView>,
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
    /// The first of them.
    packs: Vec<LabelOutdated>,
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
    /// When it was printed.
    #[schema(value_type = String, format = Date)]
    printed_on: jiff::civil::Date,
    /// What may be said now.
    verdict: VerdictView,
}

/// What needs hands today.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Today {
    /// Overdue, due and coming.
    groups: Vec<TaskGroup>,
    /// Holds that have not ended, and stock to be thawed.
    waits: Vec<LotWaits>,
    /// Packs whose label says something else than may be said now.
    labels: LabelsOutdated,
    /// How many pieces lie where.
    counts: Counts,
}

/// What is due, overdue and coming, for all pieces.
#[utoipa::path(tag = "reading", responses((status = 200, body = Today)))]
#[get("/today")]
async fn today(app: Data<App>) -> Json<Today> {
    Json(app.read(|book, seen| {
        let all = tasks(book, seen.home, seen.now);
        let group = |urgency| {
            let of = || all.iter().filter(move |t| t.urgency == urgency);
            // Turnings are one tap each; they must not hide what needs a scale.
            let mut shown: Vec<_> = of()
                .filter(|t| t.kind != TaskKind::Turn)
                .take(MOST)
                .collect();
            shown.extend(of().filter(|t| t.kind == TaskKind::Turn).take(MOST));
            let view = |t: &Task| {
                let (lot, piece) = book.piece(t.piece)?;
                Some(TaskView {
                    task: t.clone(),
                    piece: seen.card(lot, piece),
                })
            };
            TaskGroup {
                urgency,
                in_all: of().count(),
                tasks: shown.into_iter().filter_map(view).collect(),
            }
        };
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
        Today {
            labels: outdated(book, seen),
            waits: waits(book, seen.now),
            groups: [Urgency::Overdue, Urgency::Due, Urgency::Coming]
                .into_iter()
                .map(group)
                .collect(),
            counts,
        }
    }))
}

/// Packs to be relabelled or thrown away, the dangerous ones first.
fn outdated(book: &Book, seen: Seen<'_>) -> LabelsOutdated {
    let mut found = Vec::new();
    for lot in book.lots() {
        let kept = seen.verdicts.lot(book, seen.home, lot.state.id);
        for id in &kept.outdated {
            if let (Some((_, piece, pack)), Some(verdict)) = (book.pack(*id), kept.packs.get(id))
                && let Some(printed) = pack.printed.or_else(|| printed_of_old(piece))
            {
                found.push(LabelOutdated {
                    pack: *id,
                    tag: pack.tag.clone(),
                    piece: piece.id,
                    lot: lot.state.id,
                    product: piece.build().map_or_else(String::new, |b| b.name.clone()),
                    printed,
                    printed_on: seen.home.day(pack.printed_at),
                    verdict: VerdictView::of(verdict),
                });
            }
        }
    }
    found.sort_by_key(|l| (std::cmp::Reverse(l.verdict.word), l.pack));
    let in_all = found.len();
    found.truncate(MOST);
    LabelsOutdated {
        in_all,
        packs: found,
    }
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
        if found.len() >= MOST {
            break;
        }
    }
    found
}

/// Mounts the day.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(today);
}
