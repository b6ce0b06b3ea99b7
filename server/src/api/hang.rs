//! The hanging sheet: every hook, every drying place, what sours before it hangs.

use super::paging::After;
use crate::App;
use crate::error::{ApiError, Problem};
use crate::sensors::SensorView;
use crate::views::Seen;
use actix_web::get;
use actix_web::web::{Data, Json, Path, Query};
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use manifest_core::agenda::TaskKind;
use manifest_core::catalogue::place_kinds::{DryingAir, PlaceUse};
use manifest_core::catalogue::steps::StepKind;
use manifest_core::caution::Finding;
use manifest_core::hang::activity::Drying;
use manifest_core::hang::made_up_hook;
use manifest_core::hang::pace::{Pace, PaceFrom, losses};
use manifest_core::hanging::ferment::fermenting;
use manifest_core::hanging::sheet::{Hooks, Reached, Row};
use manifest_core::ids::{EntryId, PieceId};
use manifest_core::ledger::book::Book;
use manifest_core::ledger::state::Stage;
use manifest_core::piece::mould::{MOULD, MouldCall, MouldColour, MouldSeen, MouldTexture};
use manifest_core::piece::{Checked, Piece, StopBy};
use manifest_core::place::air::{self, Aired};
use manifest_core::place::{Place, PlaceId};
use manifest_core::timetable::{Urgency, of_piece};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// Points of a forecast's fan: more is not seen.
const FAN: usize = 32;

/// A curve of a place shows so many days where nothing else is asked for.
const USUAL_DAYS: i64 = 7;

/// And at most so many.
const MOST_DAYS: i64 = 120;

/// What is there within so long is on the week's list (days).
const THIS_WEEK: i64 = 7;

/// What something hanging is made of beside the meat.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct TarePartView {
    /// What it is.
    name: String,
    /// Its weight (g).
    mass_g: f64,
}

/// What a rate rests on.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum PaceBy {
    /// The piece's own weighings.
    Weighings,
    /// The household's pieces of that product.
    OwnPieces,
    /// Its thickness.
    Thickness,
    /// Its thickness, and the air of its place as it was read.
    ThicknessAndAir,
}

/// How fast it dries.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct PaceView {
    /// A day.
    k_per_day: f64,
    /// The share it would lose if it hung for ever.
    most: f64,
    /// How far its days may be off (share).
    band: f64,
    /// What it rests on.
    by: PaceBy,
    /// How many weighings, or pieces.
    count: usize,
}

/// When it will have lost enough.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct WillView {
    /// Likely.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
    /// At the earliest.
    #[schema(value_type = String, format = DateTime)]
    low: Timestamp,
    /// At the latest.
    #[schema(value_type = String, format = DateTime)]
    high: Timestamp,
}

/// Whether it has lost enough.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum ReachedView {
    /// Not yet.
    No,
    /// Close enough, as the household has it.
    CloseEnough,
    /// Yes.
    Yes,
}

/// When it may come down.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum ReadyView {
    /// Now.
    Now,
    /// Within a week, perhaps.
    ThisWeek,
    /// Later.
    Later,
    /// Nothing can be told.
    Unknown,
}

/// Where its drying stands: to know, never to lean on.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct DryingView {
    /// Water when it was hung (g).
    water_start_g: f64,
    /// Water that is left (g).
    water_left_g: f64,
    /// Salt in that water (share).
    salt_in_water: Option<f64>,
    /// The activity of its water, about.
    activity: Option<f64>,
    /// At least.
    activity_low: Option<f64>,
    /// At most.
    activity_high: Option<f64>,
}

/// What a look showed.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct LookView {
    /// Its grade.
    grade: String,
    /// In words.
    said: String,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
}

/// A hook.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct HookView {
    /// The piece.
    id: PieceId,
    /// Its tag.
    tag: String,
    /// The newest entry about it; send it back when writing.
    version: EntryId,
    /// What it becomes.
    build_name: String,
    /// Its cut, and of what.
    cut_name: String,
    /// The place it hangs in.
    place: Option<PlaceId>,
    /// Its hook there.
    hook: Option<u32>,
    /// Since when.
    #[schema(value_type = String, format = DateTime)]
    since: Timestamp,
    /// Days on it.
    days: f64,
    /// The scale then (g).
    gross_start_g: f64,
    /// What hangs there beside the meat (g).
    tare_g: f64,
    /// What that is made of.
    parts: Vec<TarePartView>,
    /// The scale at its last weighing (g).
    gross_now_g: f64,
    /// The number to wait for on the scale (g), with everything around the meat dry.
    target_gross_g: f64,
    /// The same while that is still as wet as it was hung (g).
    target_gross_wet_g: f64,
    /// Still to go (g).
    to_go_g: f64,
    /// The share to lose.
    loss_fraction: f64,
    /// The share lost.
    loss_now: f64,
    /// Whether that is enough.
    reached: ReachedView,
    /// By what it comes down.
    stop: StopBy,
    /// When it may.
    ready: ReadyView,
    /// When it was weighed last on its hook.
    #[schema(value_type = Option<String>, format = DateTime)]
    weighed_at: Option<Timestamp>,
    /// The day on which it is due at the scale, or to come down.
    #[schema(value_type = Option<String>, format = Date)]
    due: Option<Date>,
    /// True when it is to be taken down, not weighed.
    due_down: bool,
    /// How that stands.
    urgency: Option<Urgency>,
    /// How fast it dries.
    pace: Option<PaceView>,
    /// When it will be there.
    will: Option<WillView>,
    /// What it lost a day between its last two weighings (share of the start).
    a_day: Option<f64>,
    /// What was to be expected then.
    a_day_expected: Option<f64>,
    /// Where its drying stands.
    drying: Option<DryingView>,
    /// How it felt last.
    feel: Option<LookView>,
    /// How its mould was last.
    mould: Option<LookView>,
    /// Until when it lies in vacuum for its rind.
    #[schema(value_type = Option<String>, format = DateTime)]
    evens_until: Option<Timestamp>,
    /// What the made-up hook of a household for practice shows now (g).
    #[serde(skip_serializing_if = "Option::is_none")]
    hook_shows_g: Option<f64>,
    /// What gives pause.
    findings: Vec<Finding>,
}

/// A place that pieces dry in.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct DryingPlaceView {
    /// Its number.
    id: PlaceId,
    /// What it is called.
    name: String,
    /// As its kind is called.
    kind_name: String,
    /// What its air is.
    dries: Option<DryingAir>,
    /// What to look out for there.
    care: Option<String>,
    /// How many hooks it has.
    hooks: f64,
    /// How warm it was last (°C).
    celsius: Option<f64>,
    /// How damp.
    humidity: Option<f64>,
    /// When that was.
    #[schema(value_type = Option<String>, format = DateTime)]
    at: Option<Timestamp>,
    /// The mean of its last day (°C).
    day_celsius: Option<f64>,
    /// The same of its damp.
    day_humidity: Option<f64>,
    /// What to think about.
    findings: Vec<Finding>,
    /// How it stands with its thermometer.
    sensor: Option<SensorView>,
}

/// A sausage that sours before it hangs.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct FermentView {
    /// The piece.
    id: PieceId,
    /// Its tag.
    tag: String,
    /// The newest entry about it.
    version: EntryId,
    /// What it becomes.
    build_name: String,
    /// Its step, by its name; none where it sours in its cure and is weighed out of that.
    step: Option<String>,
    /// Hours since its cure went in.
    hours: f64,
    /// When it should be sour.
    #[schema(value_type = String, format = DateTime)]
    aim: Timestamp,
    /// When it is thrown away if it is not.
    #[schema(value_type = String, format = DateTime)]
    latest: Timestamp,
    /// Its newest pH.
    ph: Option<f64>,
    /// When that was read.
    #[schema(value_type = Option<String>, format = DateTime)]
    ph_at: Option<Timestamp>,
    /// True when it was sour in time.
    sour: bool,
    /// What gives pause.
    findings: Vec<Finding>,
}

/// A piece that waits to be hung.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ToHangView {
    /// The piece.
    id: PieceId,
    /// What it is to lose, by its product.
    loss_fraction: f64,
    /// The lower edge of that.
    least_fraction: f64,
    /// In what air, in its product's words.
    words: String,
    /// What it was cased and netted in, with what that weighed wet.
    cased: Vec<TarePartView>,
    /// What was put on it before, and is not meat.
    coats: Vec<TarePartView>,
    /// True while its casing is still to come.
    wants_case: bool,
    /// How wide a casing its product wants (mm).
    diameter_mm: Option<f64>,
}

/// A piece that came down.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct DownView {
    /// The piece.
    id: PieceId,
    /// Its tag.
    tag: String,
    /// The newest entry about it.
    version: EntryId,
    /// What it becomes.
    build_name: String,
    /// The meat now (g).
    mass_g: f64,
    /// What was counted as tare (g).
    tare_g: f64,
    /// What was counted before it was stripped (g).
    tare_before_g: Option<f64>,
    /// The share it lost; none where nobody weighed it.
    lost: Option<f64>,
    /// The share it was to lose.
    loss_fraction: f64,
    /// Until when it evens out in vacuum.
    #[schema(value_type = Option<String>, format = DateTime)]
    evens_until: Option<Timestamp>,
    /// True where its product evens out, and nobody laid it to yet.
    wants_evening_out: bool,
}

/// The hanging sheet.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct HangSheet {
    /// How many hang in all.
    in_all: usize,
    /// The hooks of this page, by place and hook.
    hooks: Vec<HookView>,
    /// Where the next page begins; none on the last.
    next: Option<String>,
    /// Places to dry in.
    places: Vec<DryingPlaceView>,
    /// What sours.
    souring: Vec<FermentView>,
    /// What waits to be hung.
    to_hang: Vec<ToHangView>,
    /// What came down and is not packed yet.
    down: Vec<DownView>,
    /// Pieces of a round: what is due at the scale, thin ones first, then the longest overdue.
    round: Vec<PieceId>,
    /// What may be missing at a target (share of the start).
    close_enough: f64,
}

fn pace_view(pace: Pace) -> PaceView {
    let (by, count) = match pace.from {
        PaceFrom::Weighings(n) => (PaceBy::Weighings, n),
        PaceFrom::OwnPieces(n) => (PaceBy::OwnPieces, n),
        PaceFrom::Thickness => (PaceBy::Thickness, 0),
        PaceFrom::ThicknessAndAir => (PaceBy::ThicknessAndAir, 0),
    };
    PaceView {
        k_per_day: pace.k,
        most: pace.most,
        band: pace.band,
        by,
        count,
    }
}

fn drying_view(of: Drying) -> DryingView {
    DryingView {
        water_start_g: of.water_start.0,
        water_left_g: of.water_left.0,
        salt_in_water: of.salt_in_water.map(|s| s.0),
        activity: of.activity.map(|a| a.about),
        activity_low: of.activity.map(|a| a.low),
        activity_high: of.activity.map(|a| a.high),
    }
}

impl HookView {
    fn of(book: &Book, seen: &Seen<'_>, row: &Row<'_>) -> Option<Self> {
        let (piece, hanging) = (row.piece, row.hanging);
        let gross = (piece.mass + hanging.tare_in_books()).grams();
        let [target, wet] = hanging.target_gross().map(|m| m.grams());
        let catalogue = book.catalogue();
        let tasks = of_piece(piece, row.state.id, seen.home, catalogue, seen.now);
        let task = tasks.first();
        let look = |of: Option<&Checked>| {
            let of = of?;
            let grade = of.grade.clone()?;
            let check = catalogue.check(&of.check)?;
            let said = check.grades.iter().find(|g| g.key == grade)?.name.clone();
            Some(LookView {
                grade,
                said,
                at: of.at,
            })
        };
        let lot = book.lot(row.state.id)?;
        let species = row.state.lot.as_ref()?.species();
        let cut = species
            .cut(&piece.cut)
            .map_or_else(|| piece.cut.replace('_', " "), |c| c.name.clone());
        let week = seen.now.saturating_add((THIS_WEEK * 24).hours()).ok()?;
        let ready = match (row.reached, row.will) {
            (Reached::Yes | Reached::CloseEnough, _) => ReadyView::Now,
            (Reached::No, Some(will)) if will.low <= week => ReadyView::ThisWeek,
            (Reached::No, Some(_)) => ReadyView::Later,
            (Reached::No, None) => ReadyView::Unknown,
        };
        Some(Self {
            id: piece.id,
            tag: piece.tag.clone(),
            version: lot.versions.get(&piece.id).copied().unwrap_or(EntryId(0)),
            build_name: piece.build().map_or_else(String::new, |b| b.name.clone()),
            cut_name: format!("{cut} of {}", species.name),
            place: row.place.map(|(id, _)| id).or(piece.place()),
            hook: hanging.hook,
            since: hanging.since,
            days: row.days,
            gross_start_g: hanging.gross_start.grams(),
            tare_g: hanging.tare.grams(),
            parts: hanging
                .parts
                .iter()
                .map(|(name, mass)| TarePartView {
                    name: name.clone(),
                    mass_g: mass.grams(),
                })
                .collect(),
            gross_now_g: gross,
            target_gross_g: target,
            target_gross_wet_g: wet,
            to_go_g: gross - target,
            loss_fraction: hanging.loss.0,
            // While what is around it is wet, nothing of the meat is lost yet.
            loss_now: row.lost.0.max(0.0),
            reached: match row.reached {
                Reached::No => ReachedView::No,
                Reached::CloseEnough => ReachedView::CloseEnough,
                Reached::Yes => ReachedView::Yes,
            },
            stop: hanging.stop,
            ready,
            weighed_at: row.weighed,
            due: task.map(|t| t.due),
            due_down: task.is_some_and(|t| t.kind == TaskKind::TakeDown),
            urgency: task.map(|t| t.urgency),
            pace: row.pace.map(pace_view),
            will: row.will.map(|w| WillView {
                at: w.at,
                low: w.low,
                high: w.high,
            }),
            a_day: row.a_day.map(|(said, _)| said),
            a_day_expected: row.a_day.map(|(_, expected)| expected),
            drying: row.drying.map(drying_view),
            feel: look(row.feel),
            mould: look(row.mould),
            evens_until: piece
                .evening_out
                .map(|e| e.until)
                .filter(|until| *until > seen.now),
            hook_shows_g: seen
                .practice
                .then(|| made_up_hook(piece, seen.now))
                .flatten()
                .map(|g| g.0),
            findings: row.findings.clone(),
        })
    }
}

fn place_view(app: &App, seen: &Seen<'_>, place: &Place) -> DryingPlaceView {
    let kind = place.kind();
    let log = seen.home.climate.place(place.id);
    let last = log.and_then(|l| l.last());
    let day = log.and_then(|l| l.mean_of_recent());
    DryingPlaceView {
        id: place.id,
        name: place.name.clone(),
        kind_name: kind.map_or_else(String::new, |k| k.name.clone()),
        dries: kind.and_then(|k| k.dries),
        care: kind.and_then(|k| k.care.clone()),
        hooks: place.holds * f64::from(place.count),
        celsius: last.map(|r| r.temperature.0),
        humidity: log.and_then(|l| l.last_damp()).map(|(_, h)| h.0),
        at: last.map(|r| r.at),
        day_celsius: day.map(|(c, _)| c.0),
        day_humidity: day.and_then(|(_, h)| h).map(|h| h.0),
        findings: log.map_or_else(Vec::new, |l| {
            air::findings(place, l, seen.home.settings.units.heat)
        }),
        sensor: app.sensors.of(place.id),
    }
}

fn to_hang(piece: &Piece) -> Option<ToHangView> {
    if piece.stage() != Stage::Hang {
        return None;
    }
    let build = piece.build()?;
    let plan = build.hang.as_ref()?;
    let cased = piece.cased.iter().map(|c| TarePartView {
        name: c.name.clone(),
        mass_g: c.wet.map_or(0.0, |w| w.grams()),
    });
    let coats = piece.coats.iter().map(|c| TarePartView {
        name: c.name.clone(),
        mass_g: c.mass.grams(),
    });
    Some(ToHangView {
        id: piece.id,
        coats: coats.collect(),
        loss_fraction: plan.loss_fraction,
        least_fraction: plan.least(),
        words: plan.words.clone(),
        cased: cased.collect(),
        wants_case: piece.open_step(|s| s.kind == StepKind::Case).is_some(),
        diameter_mm: build.wrap.diameter_mm,
    })
}

fn down(piece: &Piece, version: EntryId) -> Option<DownView> {
    let hanging = piece.hanging.as_ref().filter(|h| h.until.is_some())?;
    if piece.stage() != Stage::Pack {
        return None;
    }
    Some(DownView {
        id: piece.id,
        tag: piece.tag.clone(),
        version,
        build_name: piece.build().map_or_else(String::new, |b| b.name.clone()),
        mass_g: piece.mass.grams(),
        tare_g: hanging.tare_in_books().grams(),
        tare_before_g: hanging.stripped.map(|_| hanging.tare.grams()),
        lost: hanging.lost.map(|l| l.0),
        loss_fraction: hanging.loss.0,
        evens_until: piece.evening_out.map(|e| e.until),
        wants_evening_out: piece.evening_out.is_none()
            && piece.open_step(|s| s.kind == StepKind::EvenOut).is_some(),
    })
}

/// Mould as it may be seen, with what to do about it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct MouldLine {
    /// As it is seen.
    seen: MouldSeen,
    /// Which call that is.
    call: MouldCall,
    /// As that is called.
    name: String,
    /// What to do.
    leads_to: String,
}

/// Every mould that may be seen, with its call.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct MouldTable {
    /// The lines.
    lines: Vec<MouldLine>,
}

/// What to do about mould, by its colour, how it looks close by, where it sits, how it smells, and whether it is new.
#[utoipa::path(tag = "reading", responses((status = 200, body = MouldTable)))]
#[get("/mould")]
async fn mould_table(app: Data<App>) -> Json<MouldTable> {
    let yes_and_no = [false, true];
    let mut lines = Vec::new();
    app.store.read(|book, _| {
        let check = book.catalogue().check(MOULD);
        for colour in MouldColour::ALL {
            for texture in MouldTexture::ALL {
                for (under, smells, fresh) in yes_and_no
                    .iter()
                    .flat_map(|u| yes_and_no.iter().map(move |s| (*u, *s)))
                    .flat_map(|(u, s)| yes_and_no.iter().map(move |f| (u, s, *f)))
                {
                    let seen = MouldSeen {
                        colour,
                        texture,
                        under,
                        smells,
                        fresh,
                        cover: None,
                        culture: None,
                    };
                    let call = seen.call();
                    let grade = check.and_then(|c| c.grades.iter().find(|g| g.key == call.grade()));
                    lines.push(MouldLine {
                        seen,
                        call,
                        name: grade.map_or_else(String::new, |g| g.name.clone()),
                        leads_to: grade.map_or_else(String::new, |g| g.leads_to.clone()),
                    });
                }
            }
        }
    });
    Json(MouldTable { lines })
}

/// The hooks as they are now, the places they are in, and what sours before it hangs.
#[utoipa::path(tag = "reading", params(After), responses((status = 200, body = HangSheet), (status = 422, body = Problem)))]
#[get("/hang")]
async fn hang_sheet(app: Data<App>, after: Query<After>) -> Result<Json<HangSheet>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let hooks = Hooks::new(book, seen.home, seen.now);
            let rows = hooks.rows();
            // Thin ones dry fastest and come first, by inches; of about the same thickness the longest overdue.
            let mut due: Vec<(i64, Date, PieceId)> = Vec::new();
            let views: Vec<HookView> = rows
                .iter()
                .filter_map(|row| HookView::of(book, &seen, row))
                .collect();
            for hook in &views {
                let now = matches!(hook.urgency, Some(Urgency::Due | Urgency::Overdue));
                let thick = book.piece(hook.id).and_then(|(_, p)| p.thickness_now());
                let thick = thick.map_or(i64::MAX, |t| (t.inches() + 1e-9).floor() as i64);
                due.extend(hook.due.filter(|_| now).map(|day| (thick, day, hook.id)));
            }
            due.sort();
            let souring = book
                .pieces()
                .filter_map(|(lot, piece)| {
                    let of = fermenting(piece, seen.home, seen.now)?;
                    Some(FermentView {
                        id: piece.id,
                        tag: piece.tag.clone(),
                        version: lot.versions.get(&piece.id).copied().unwrap_or(EntryId(0)),
                        build_name: piece.build().map_or_else(String::new, |b| b.name.clone()),
                        step: (of.step.kind == StepKind::Ferment).then(|| of.step.id.clone()),
                        hours: of.hours,
                        aim: of.aim,
                        latest: of.latest,
                        ph: of.ph.map(|(ph, _)| ph),
                        ph_at: of.ph.map(|(_, at)| at),
                        sour: of.sour,
                        findings: of.findings,
                    })
                })
                .collect();
            let page = after.page(views, |h| h.id.0.to_string())?;
            Ok(Json(HangSheet {
                in_all: page.in_all,
                hooks: page.shown,
                next: page.next,
                places: seen
                    .home
                    .settings
                    .places()
                    .filter(|p| p.is_for(PlaceUse::Hang))
                    .map(|p| place_view(app, &seen, p))
                    .collect(),
                souring,
                to_hang: book.pieces().filter_map(|(_, p)| to_hang(p)).collect(),
                down: book
                    .pieces()
                    .filter_map(|(lot, p)| {
                        let version = lot.versions.get(&p.id).copied();
                        down(p, version.unwrap_or(EntryId(0)))
                    })
                    .collect(),
                round: due.into_iter().map(|(_, _, id)| id).collect(),
                close_enough: seen.home.settings.close_enough,
            }))
        })
    })
    .await?
}

/// A weighing on a hook.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct LossPoint {
    /// Days since it was hung.
    day: f64,
    /// The share lost.
    loss: f64,
}

/// A point of a fan.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct FanPoint {
    /// Days since it was hung.
    day: f64,
    /// The share lost by then, at the slow edge.
    low: f64,
    /// Likely.
    likely: f64,
    /// At the fast edge.
    high: f64,
}

/// How a piece dried, and how it will.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct HookCurve {
    /// Since when it hangs.
    #[schema(value_type = String, format = DateTime)]
    since: Timestamp,
    /// Days until now.
    days: f64,
    /// The share to lose.
    loss_fraction: f64,
    /// Its weighings, the oldest first; none at day 0.
    weighed: Vec<LossPoint>,
    /// What is to be expected, from its hanging to a little past its late edge.
    fan: Vec<FanPoint>,
}

/// The drying curve of a hanging piece, with the fan of its forecast.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = HookCurve), (status = 404, body = Problem)))]
#[get("/pieces/{id}/hang")]
async fn hook_curve(app: Data<App>, id: Path<i64>) -> Result<Json<HookCurve>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let none = || ApiError::NotFound("No such piece hangs now.".into());
            let (lot, piece) = book.piece(PieceId(*id)).ok_or_else(none)?;
            let hooks = Hooks::new(book, seen.home, seen.now);
            let row = hooks.row(&lot.state, piece).ok_or_else(none)?;
            let end = row
                .pace
                .and_then(|p| p.days_to(row.hanging.loss))
                .map_or(row.days, |(_, _, late)| late * 1.05)
                .max(row.days)
                .clamp(1.0, 1_000.0);
            let fan = row.pace.map_or_else(Vec::new, |pace| {
                (0..=FAN)
                    .map(|i| {
                        let day = end * i as f64 / FAN as f64;
                        let (low, likely, high) = pace.loss_at(day);
                        FanPoint {
                            day,
                            low,
                            likely,
                            high,
                        }
                    })
                    .collect()
            });
            Ok(Json(HookCurve {
                since: row.hanging.since,
                days: row.days,
                loss_fraction: row.hanging.loss.0,
                weighed: losses(piece)
                    .into_iter()
                    .map(|(day, loss)| LossPoint { day, loss })
                    .collect(),
                fan,
            }))
        })
    })
    .await?
}

/// How far back.
#[derive(Clone, Copy, Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct HoursAsk {
    /// Days back from the newest reading, or now; seven when left out.
    days: Option<i64>,
}

/// An hour of a place.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct HourView {
    /// Its beginning.
    #[schema(value_type = String, format = DateTime)]
    from: Timestamp,
    /// The mean of its readings (°C).
    celsius: f64,
    /// The mean of its damp.
    humidity: Option<f64>,
    /// How often the door was opened.
    opened: u32,
}

/// The hours of a place.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct HoursView {
    /// The oldest first.
    hours: Vec<HourView>,
    /// Not colder is wanted (°C).
    wants_cold_c: Option<f64>,
    /// Not warmer (°C).
    wants_warm_c: Option<f64>,
    /// Not drier.
    wants_dry: Option<f64>,
    /// Not damper.
    wants_damp: Option<f64>,
}

/// A drying place hour by hour: its readings averaged over each, its door where it was opened.
#[utoipa::path(tag = "reading", params(("id" = u32, Path), HoursAsk), responses((status = 200, body = HoursView), (status = 404, body = Problem)))]
#[get("/places/{id}/hours")]
async fn place_hours(
    app: Data<App>,
    id: Path<PlaceId>,
    ask: Query<HoursAsk>,
) -> Result<Json<HoursView>, ApiError> {
    let now = app.clock.now();
    let (dries, last) = app.store.read(|_, home| {
        let place = home
            .settings
            .place(*id)
            .filter(|p| p.is_for(PlaceUse::Hang));
        let place = place.ok_or_else(|| {
            ApiError::NotFound("No such place to dry in is on the list in the settings.".into())
        })?;
        let log = home.climate.place(*id);
        Ok::<_, ApiError>((
            place.kind().and_then(|k| k.dries),
            log.and_then(|l| l.last()).map(|r| r.at),
        ))
    })?;
    let days = ask.days.unwrap_or(USUAL_DAYS).clamp(1, MOST_DAYS);
    let to = last.unwrap_or(now);
    let from = to.saturating_sub((days * 24).hours()).unwrap_or(to);
    let (store, place) = (app.store.clone(), *id);
    let mut reads: Vec<Aired> = crate::blocking(move || {
        let all = store.readings(place, (from, to), usize::MAX)?;
        let counted = all.into_iter().filter(|r| r.struck.is_none());
        Ok(counted
            .map(|r| Aired {
                at: r.at,
                temperature: r.temperature,
                humidity: r.humidity,
            })
            .collect())
    })
    .await?;
    reads.reverse();
    let wanted = dries.map(air::wanted);
    Ok(Json(HoursView {
        hours: air::hours(&reads)
            .into_iter()
            .map(|h| HourView {
                from: h.from,
                celsius: h.temperature.0,
                humidity: h.humidity.map(|d| d.0),
                opened: h.opened,
            })
            .collect(),
        wants_cold_c: wanted.map(|w| w.cold),
        wants_warm_c: wanted.map(|w| w.warm),
        wants_dry: wanted.map(|w| w.dry),
        wants_damp: wanted.map(|w| w.damp),
    }))
}

/// Mounts the hanging sheet.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(hang_sheet);
    config.service(hook_curve);
    config.service(place_hours);
    config.service(mould_table);
}
