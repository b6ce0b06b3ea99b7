//! Reading: what the screens ask for.

use crate::App;
use crate::acts::{no_lot, no_piece};
use crate::body::Body;
use crate::error::{ApiError, Problem};
use crate::views::lot::{self, LotCard, LotView};
use crate::views::piece::{self, PieceView};
use crate::views::tally::{self, HouseholdTally, LotTallyView};
use crate::views::{PieceCard, Seen};
use actix_web::web::{Data, Json, Path, Query};
use actix_web::{get, post, put};
use manifest_core::animal::hold::{HoldKind, HoldState, HoldStatus};
use manifest_core::assign::{Candidate, Suitability, rank};
use manifest_core::catalogue::builds::Build;
use manifest_core::catalogue::cures::Cure;
use manifest_core::catalogue::cutting::Choice;
use manifest_core::catalogue::rules::RuleSet;
use manifest_core::catalogue::schools::School;
use manifest_core::catalogue::species::Species;
use manifest_core::catalogue::steps::{Check, StepKind, StepStation};
use manifest_core::cure::sheet::{OwnDose, Sheet, sheet};
use manifest_core::household::Household;
use manifest_core::ledger::acts::sheet_pieces;
use manifest_core::ledger::book::Book;
use manifest_core::ledger::own;
use manifest_core::ledger::state::{Piece, Stage};
use manifest_core::ledger::{LotId, PieceId};
use manifest_core::piece::Shape;
use manifest_core::place::PlaceKind;
use manifest_core::timetable::{Task, TaskKind, Urgency, tasks};
use manifest_core::units::{Fraction, Grams, Millimetres, Typed, read, show};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// Rows a list shows at most; the rest is counted.
const MOST: usize = 200;

/// Everything the program knows before anything came in.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Catalogue {
    /// Species with their cuts.
    species: Vec<Species>,
    /// Products.
    builds: Vec<Build>,
    /// Ways of cutting, by name.
    cutting: Vec<Choice>,
    /// Curing salts.
    cures: Vec<Cure>,
    /// Rule sets.
    rule_sets: Vec<RuleSet>,
    /// Cure-time schools.
    schools: Vec<School>,
    /// Checks with their grades.
    checks: Vec<Check>,
    /// Kinds of places.
    place_kinds: Vec<PlaceKind>,
    /// Kinds of step, in the usual order of the work.
    step_kinds: Vec<StepKindView>,
}

/// A kind of step, as every list and button calls it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct StepKindView {
    /// The kind.
    kind: StepKind,
    /// As it is called.
    said: String,
    /// Where it is entered; none for what is done on the way.
    station: Option<StepStation>,
    /// What writes it down.
    done_by: manifest_core::catalogue::steps::DoneBy,
}

/// Species, builds, cures, rules and schools.
#[utoipa::path(tag = "reading", responses((status = 200, body = Catalogue)))]
#[get("/catalogue")]
async fn catalogue(app: Data<App>) -> Json<Catalogue> {
    let c = app.catalogue();
    let step_kinds = StepKind::ALL.map(|kind| {
        let traits = kind.traits();
        StepKindView {
            kind,
            said: traits.said.into(),
            station: traits.station,
            done_by: traits.done_by,
        }
    });
    Json(Catalogue {
        species: c.species.iter().map(|s| (**s).clone()).collect(),
        builds: c.builds.iter().map(|b| (**b).clone()).collect(),
        cutting: c.cutting.clone(),
        cures: c.cures.clone(),
        rule_sets: c.rules.clone(),
        schools: c.schools.list.clone(),
        checks: c.checks.clone(),
        place_kinds: c.place_kinds.clone(),
        step_kinds: step_kinds.into(),
    })
}

/// The settings and the present.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Settings {
    /// What the household has settled on.
    household: Household,
    /// The present, by the server's clock.
    #[schema(value_type = String, format = DateTime)]
    now: jiff::Timestamp,
    /// Today at the household's table.
    #[schema(value_type = String, format = Date)]
    today: jiff::civil::Date,
    /// True when the clock stands still, as in the demo.
    clock_is_pinned: bool,
    /// True before anything came in.
    empty: bool,
}

/// The household's settings.
#[utoipa::path(tag = "settings", responses((status = 200, body = Settings)))]
#[get("/settings")]
async fn settings(app: Data<App>) -> Json<Settings> {
    let now = app.clock.now();
    Json(app.store.read(|book, home| Settings {
        household: home.clone(),
        now,
        today: home.day(now),
        clock_is_pinned: matches!(app.clock, crate::clock::Clock::Pinned(_)),
        empty: book.lots().next().is_none(),
    }))
}

/// Settles on new settings.
#[utoipa::path(tag = "settings", request_body = Household, responses((status = 200, body = Household), (status = 422, body = Problem)))]
#[put("/settings")]
async fn settle(app: Data<App>, ask: Body<Household>) -> Result<Json<Household>, ApiError> {
    let mut home = ask.value;
    home.check(&app.catalogue())?;
    if let Some(equipment) = &mut home.equipment {
        equipment.number_places();
    }
    let (store, now, kept) = (app.store.clone(), app.clock.now(), home.clone());
    crate::blocking(move || Ok(store.settle(kept, now)?)).await?;
    app.tell("settings", &[]);
    Ok(Json(home))
}

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

/// What needs hands today.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Today {
    /// Overdue, due and coming.
    groups: Vec<TaskGroup>,
    /// Holds that have not ended, and stock to be thawed.
    waits: Vec<LotWaits>,
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
            waits: waits(book, seen.now),
            groups: [Urgency::Overdue, Urgency::Due, Urgency::Coming]
                .into_iter()
                .map(group)
                .collect(),
            counts,
        }
    }))
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

/// A station whose table pieces lie on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum Station {
    /// Without a product.
    Assign,
    /// To be dosed, and in cure.
    Cure,
    /// To be smoked.
    Smoke,
    /// To be hung, and hanging.
    Hang,
    /// To be packed.
    Pack,
}

impl Station {
    fn of(stage: Stage) -> Option<Self> {
        Some(match stage {
            Stage::Assign => Self::Assign,
            Stage::Dose | Stage::InCure => Self::Cure,
            Stage::Smoke => Self::Smoke,
            Stage::Hang | Stage::Hanging => Self::Hang,
            Stage::Pack => Self::Pack,
            Stage::Packed | Stage::CutUp | Stage::Joined | Stage::Discarded => return None,
        })
    }
}

impl Station {
    /// True for a piece on its table. On the packing table lies too what may be packed as it is,
    /// though a step that may be left out is still before it.
    fn has(self, piece: &Piece) -> bool {
        let stage = piece.stage();
        Self::of(stage) == Some(self)
            || (self == Self::Pack
                && stage != Stage::Hanging
                && piece.open_step(|s| s.kind == StepKind::Pack).is_some())
    }
}

/// The pieces on a station's table.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct StationView {
    /// Whose table it is.
    station: Station,
    /// How many there are.
    in_all: usize,
    /// The first of them, the most urgent first.
    pieces: Vec<PieceCard>,
}

/// The pieces that are at a station now.
#[utoipa::path(tag = "reading", params(("station" = Station, Path)), responses((status = 200, body = StationView)))]
#[get("/stations/{station}")]
async fn station(app: Data<App>, station: Path<Station>) -> Json<StationView> {
    let station = station.into_inner();
    Json(app.read(|book, seen| {
        let here: Vec<_> = book.pieces().filter(|(_, p)| station.has(p)).collect();
        let in_all = here.len();
        let mut pieces: Vec<_> = here
            .into_iter()
            .map(|(lot, piece)| seen.card(lot, piece))
            .collect();
        pieces.sort_by(|a, b| {
            let first = |c: &PieceCard| c.tasks.first().map(|t| (t.urgency, t.due));
            (first(a), &a.tag).cmp(&(first(b), &b.tag))
        });
        pieces.truncate(MOST);
        StationView {
            station,
            in_all,
            pieces,
        }
    }))
}

/// Every lot, the newest first.
#[utoipa::path(tag = "reading", responses((status = 200, body = Vec<LotCard>)))]
#[get("/lots")]
async fn lots(app: Data<App>) -> Json<Vec<LotCard>> {
    Json(app.read(|book, _| {
        book.lots()
            .rev()
            .take(MOST)
            .filter_map(|l| lot::card(l))
            .collect()
    }))
}

/// One lot: its pieces and how its mass runs out.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = LotView), (status = 404, body = Problem)))]
#[get("/lots/{id}")]
async fn lot_by_id(app: Data<App>, id: Path<i64>) -> Result<Json<LotView>, ApiError> {
    let id = LotId(id.into_inner());
    app.read(|book, seen| {
        let found = book.lot(id)?;
        let own = own::shares(book, found.state.lot.as_ref()?.species());
        lot::view(found, &own, seen)
    })
    .map(Json)
    .ok_or_else(|| no_lot(id))
}

/// One piece: its tag, family, weights, dose and everything that happened.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = PieceView), (status = 404, body = Problem)))]
#[get("/pieces/{id}")]
async fn piece_by_id(app: Data<App>, id: Path<i64>) -> Result<Json<PieceView>, ApiError> {
    let id = PieceId(id.into_inner());
    app.read(|book, seen| book.piece(id).map(|(lot, p)| piece::view(lot, p, seen)))
        .map(Json)
        .ok_or_else(|| no_piece(id))
}

/// Which species and cut builds are to be ranked for.
#[derive(Clone, Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct SuitsAsk {
    /// The species' word.
    species: String,
    /// The cut's word.
    cut: String,
    /// Greatest thickness (mm).
    #[serde(default)]
    thickness_mm: Option<f64>,
}

/// Builds ranked for a cut not yet cut.
#[utoipa::path(tag = "reading", params(SuitsAsk), responses((status = 200, body = Vec<Suitability>), (status = 422, body = Problem)))]
#[get("/suits")]
async fn suits(app: Data<App>, ask: Query<SuitsAsk>) -> Result<Json<Vec<Suitability>>, ApiError> {
    let known = app.catalogue();
    let species = known
        .species(&ask.species)
        .ok_or_else(|| ApiError::field("species", "Choose a species from the list."))?;
    let cut = species.cut(&ask.cut).ok_or_else(|| {
        ApiError::field(
            "cut",
            format!("Choose one of the cuts of {}.", species.name),
        )
    })?;
    Ok(Json(app.store.read(|_, home| {
        let candidate = Candidate {
            species,
            cut,
            wild: false,
            shape: Shape {
                thickness: ask.thickness_mm.map(|mm| Typed::unsaid(Millimetres(mm))),
                bone_in: cut.bone_in,
                skin_on: cut.skin_on,
                ..Shape::default()
            },
            opened: false,
            fat: None,
            is_cut: false,
            equipment: home.equipment.as_ref(),
            holds: &[],
            units: home.units,
        };
        rank(&candidate, &known)
    })))
}

/// The pieces to be dosed and how.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SheetAsk {
    /// The pieces, all of one product.
    pieces: Vec<PieceId>,
    /// True for one mix over all of them.
    #[serde(default)]
    mixed: bool,
    /// What is different from the build's dose.
    #[serde(default)]
    own: OwnDose,
}

/// The weigh-out sheet: the numbers to hit, before anything is started.
#[utoipa::path(tag = "reading", request_body = SheetAsk, responses((status = 200, body = Sheet), (status = 422, body = Problem)))]
#[post("/sheet")]
async fn weigh_out_sheet(app: Data<App>, ask: Body<SheetAsk>) -> Result<Json<Sheet>, ApiError> {
    let ask = ask.value;
    app.store.read(|book, home| {
        let (build, pieces) = sheet_pieces(book, &ask.pieces)?;
        Ok(Json(sheet(
            build,
            &pieces,
            ask.mixed,
            &ask.own,
            home,
            book.catalogue(),
        )?))
    })
}

/// Where every gram of all lots went, by lot and by product.
#[utoipa::path(tag = "reading", responses((status = 200, body = HouseholdTally)))]
#[get("/tally")]
async fn household_tally(app: Data<App>) -> Json<HouseholdTally> {
    Json(app.read(|book, _| tally::household(book, MOST)))
}

/// Where every gram of one lot went.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = LotTallyView), (status = 404, body = Problem)))]
#[get("/tally/{id}")]
async fn lot_tally(app: Data<App>, id: Path<i64>) -> Result<Json<LotTallyView>, ApiError> {
    let id = LotId(id.into_inner());
    app.read(|book, seen| book.lot(id).and_then(|l| tally::view(l, seen.home)))
        .map(Json)
        .ok_or_else(|| no_lot(id))
}

/// The kind of amount that was typed.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum QuantityKind {
    /// A weight.
    Mass,
    /// A thickness.
    Length,
    /// A temperature.
    Temperature,
    /// A volume.
    Volume,
    /// Water, by weight or by volume.
    Water,
    /// So much on a kilogram.
    Rate,
    /// A share.
    Share,
    /// A share in a field of percents.
    Percent,
    /// A content.
    Content,
}

/// An amount as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ReadAsk {
    /// Its kind.
    quantity: QuantityKind,
    /// The words.
    text: String,
}

/// An amount as understood.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ReadAnswer {
    /// In grams, millimetres, degrees Celsius, litres, g/kg, ppm, or as a share.
    value: f64,
    /// In the household's units.
    shown: String,
    /// In the other ones; empty where there are none.
    also: String,
}

/// Reads an amount as the household would, to show what was understood.
#[utoipa::path(tag = "reading", request_body = ReadAsk, responses((status = 200, body = ReadAnswer), (status = 422, body = Problem)))]
#[post("/units/read")]
async fn read_amount(app: Data<App>, ask: Body<ReadAsk>) -> Result<Json<ReadAnswer>, ApiError> {
    let units = app.store.read(|_, home| home.units);
    let (text, other) = (&ask.value.text, units.other());
    let mass = |g: Grams| (g.0, show::mass(g, units.mass), show::mass(g, other.mass));
    let share = |f: Fraction| (f.0, show::share(f), String::new());
    let understood = match ask.value.quantity {
        QuantityKind::Mass => read::mass(text, units.mass).map(mass),
        QuantityKind::Water => read::water(text, units.mass).map(mass),
        QuantityKind::Length => read::length(text, units.length).map(|l| {
            (
                l.0,
                show::length(l, units.length),
                show::length(l, other.length),
            )
        }),
        QuantityKind::Temperature => read::temperature(text, units.heat).map(|c| {
            (
                c.0,
                show::temperature(c, units.heat),
                show::temperature(c, other.heat),
            )
        }),
        QuantityKind::Volume => read::volume(text, units.mass).map(|v| {
            (
                v.0,
                show::volume(v, units.mass),
                show::volume(v, other.mass),
            )
        }),
        QuantityKind::Rate => read::rate(text, units.mass)
            .and_then(|r| r.by_weight(text))
            .map(|r| (r.0, show::rate(r), show::share(Fraction(r.0 / 1_000.0)))),
        QuantityKind::Share => read::share(text).map(share),
        QuantityKind::Percent => read::percent(text).map(share),
        QuantityKind::Content => {
            read::content(text).map(|c| (c.0, show::content(c), String::new()))
        }
    };
    let (value, shown, also) = understood.map_err(|e| ApiError::field("text", e.to_string()))?;
    Ok(Json(ReadAnswer { value, shown, also }))
}

impl App {
    /// Looks something up as it is seen from the present.
    fn read<T>(&self, look: impl FnOnce(&Book, Seen<'_>) -> T) -> T {
        let now = self.clock.now();
        self.store.read(|book, home| look(book, Seen { home, now }))
    }
}

/// Mounts what is read.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(catalogue)
        .service(settings)
        .service(settle)
        .service(today)
        .service(station)
        .service(lots)
        .service(lot_by_id)
        .service(piece_by_id)
        .service(suits)
        .service(weigh_out_sheet)
        .service(household_tally)
        .service(lot_tally)
        .service(read_amount);
}
