//! One piece: its family, everything that happened to it, its curve, what comes next.

use super::lot::offered;
use super::words::{Happened, timeline};
use super::{PieceCard, Seen, VerdictView};
use crate::api::timers::{self, TimerView};
use jiff::Timestamp;
use jiff::civil::Date;
use manifest_core::acts::injected::Pumped;
use manifest_core::animal::hold::HoldState;
use manifest_core::assign::{Candidate, Suitability, rank};
use manifest_core::catalogue::builds::{Build, Eat};
use manifest_core::catalogue::cures::Role;
use manifest_core::catalogue::steps::{DoneBy, Step, StepKind, StepStation};
use manifest_core::caution::Finding;
use manifest_core::cure::binder::{Binder, binder};
use manifest_core::dose::DoseLine;
use manifest_core::label::label;
use manifest_core::ledger::book::{Book, LotBook};
use manifest_core::ledger::own::{self, OwnSoak};
use manifest_core::ledger::state::{Pack, Piece, Point, State};
use manifest_core::ledger::{EntryId, LotId, Origin, PackId, PieceId, Work};
use manifest_core::piece::printed::{LabelChange, Printed};
use manifest_core::piece::{LeftFor, PackLeave};
use manifest_core::shape::size::Size;
use manifest_core::units::Grams;
use manifest_core::verdict::contents::allergens_of;
use manifest_core::verdict::printed_of_old;
use serde::Serialize;
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// A piece of the family line.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Relative {
    /// For machines.
    pub id: PieceId,
    /// For people.
    pub tag: String,
    /// Weight now (g).
    pub mass_g: f64,
}

/// A brine with a piece in it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct BrineView {
    /// What of it lies around the piece (g).
    pub around_g: f64,
    /// What was pumped into the piece (g).
    pub injected_g: f64,
    /// The same as a share of its green weight.
    pub pump_fraction: f64,
    /// True when its days are counted as an injected piece's.
    pub pumped: bool,
    /// Nitrite by what was pumped in and what is usually taken up of the rest (ppm).
    pub nitrite_ppm_pickup: f64,
    /// Nitrite if meat and brine become alike (ppm).
    pub nitrite_ppm_equilibrium: f64,
}

fn brine(piece: &Piece) -> Option<BrineView> {
    let cure = piece
        .cure
        .as_ref()
        .filter(|_| piece.out_of_cure.is_none())?;
    let pumped = Pumped::of(piece, cure.meat + cure.injected)?;
    Some(BrineView {
        around_g: piece.in_cure.grams(),
        injected_g: cure.injected.grams(),
        pump_fraction: pumped.pump.0,
        pumped: cure.is_pumped(),
        nitrite_ppm_pickup: pumped.nitrite.pickup,
        nitrite_ppm_equilibrium: pumped.nitrite.equilibrium,
    })
}

/// How long a product is soaked in this house.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct OwnSoakView {
    /// Minutes in the water, in all.
    pub minutes: u32,
    /// How many pieces that is taken from; from three on it is the usual.
    pub times: usize,
}

/// The product of a piece that may be laid in water now.
fn soakable(piece: &Piece) -> Option<&Build> {
    let may = piece.out_of_cure.is_some() && piece.hanging.is_none() && !piece.stage().is_over();
    piece.build().filter(|_| may)
}

/// One weighing, with what was lost since the one before and since green.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct WeighingView {
    /// The entry that holds it.
    pub entry: EntryId,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub at: Timestamp,
    /// At which point.
    pub point: Point,
    /// The meat alone (g).
    pub net_g: f64,
    /// Share of the weight before that is gone.
    pub lost_since_before: Option<f64>,
    /// Share of green weight that is gone.
    pub lost_since_green: f64,
}

/// The dose it was given.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DoseView {
    /// What was weighed, or this piece's share of it.
    pub lines: Vec<IngredientMass>,
    /// Nitrate (ppm).
    pub nitrate_ppm: f64,
    /// Why the person went on past a stop.
    pub reason: Option<String>,
    /// What gave pause.
    pub findings: Vec<Finding>,
    /// The cure's word or `own`.
    pub cure: String,
    /// As the cure is called.
    pub cure_name: String,
    /// Salt in all, as the scale showed it (g/kg); none where an old ledger did not say.
    pub salt_g_per_kg: Option<f64>,
    /// The product it was made for.
    pub build_version: Option<u32>,
    /// What was changed of the product's dose, as it was typed.
    pub own: Vec<OwnSaidView>,
}

/// A number of a dose that was changed.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct OwnSaidView {
    /// What it is called.
    pub label: String,
    /// As it was typed.
    pub said: String,
}

/// How a step of a piece's way stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StepStanding {
    /// Done.
    Done,
    /// Left out: something behind it was done.
    LeftOut,
    /// May be done now.
    Open,
    /// Comes later.
    Later,
}

/// A small choice of a step that a piece has come to, and that nobody wrote down yet.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ChoiceView {
    /// The check by which it is written down.
    pub check: String,
    /// What was chosen last for a piece of the same product.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub last: Option<String>,
}

/// A step of a piece's way.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct StepView {
    /// Names it within the product.
    pub id: String,
    /// Its kind.
    pub kind: StepKind,
    /// The trade's verb.
    pub verb: String,
    /// What to do.
    pub words: String,
    /// What to look at before going on.
    pub check: Option<String>,
    /// Where it is entered; none for what is done on the way.
    pub station: Option<StepStation>,
    /// What writes it down.
    pub done_by: DoneBy,
    /// Checks that go with it.
    pub asks: Vec<String>,
    /// How it stands.
    pub standing: StepStanding,
    /// When it was done.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub done_at: Option<Timestamp>,
    /// True when a later step may be done without it.
    pub may_be_left_out: bool,
}

/// Something that was put on it by weight.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CoatView {
    /// What.
    pub name: String,
    /// How much (g).
    pub mass_g: f64,
    /// What to name for the allergic.
    pub allergens: Option<String>,
}

/// So much of an ingredient.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct IngredientMass {
    /// What it does in the dose.
    pub role: Role,
    /// What.
    pub name: String,
    /// How much (g).
    pub mass_g: f64,
}

/// Where a pack keeps, and until when.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct KeepUntil {
    /// Where and how.
    pub place: String,
    /// Best before.
    #[schema(value_type = String, format = Date)]
    pub until: Date,
}

/// How a pack left the house.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LeftView {
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub at: Timestamp,
    /// What for.
    pub what: LeftFor,
    /// Who has it, or ate of it.
    pub to: Option<String>,
}

impl LeftView {
    fn of(left: &PackLeave) -> Self {
        Self {
            at: left.at,
            what: left.what,
            to: left.to.clone(),
        }
    }
}

/// A pack with what its label says.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PackView {
    /// For machines.
    pub id: PackId,
    /// For people.
    pub tag: String,
    /// The product.
    pub product: String,
    /// What it is made from: species, animal's tag, piece's tag.
    pub made_from: String,
    /// Its weight (g).
    pub mass_g: f64,
    /// How many slices.
    pub slices: Option<u32>,
    /// When it was packed.
    #[schema(value_type = String, format = Date)]
    pub packed_on: Date,
    /// How it may be eaten, in one word of an earlier list.
    pub eat: Eat,
    /// What may be said of it.
    pub verdict: VerdictView,
    /// The same as it is printed.
    pub says: String,
    /// As its meat is called: everything that went in.
    pub meat: String,
    /// What its newest label says, where that is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub printed: Option<Printed>,
    /// In what the printed label no longer holds.
    pub label_changes: Vec<LabelChange>,
    /// True when that no longer holds.
    pub label_outdated: bool,
    /// When it was thrown away.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub discarded: Option<Timestamp>,
    /// How it left the house, if it did.
    pub left: Option<LeftView>,
    /// What gave pause on its way and stands.
    pub findings: Vec<Finding>,
    /// True when a typed reason lifted a stop on its way.
    pub overridden: bool,
    /// Where it is kept and until when; every way of its build when none was chosen.
    pub keeps: Vec<KeepUntil>,
    /// The place of the house it lies in, if that was said.
    pub lies_in: Option<String>,
    /// By weight, the heaviest first.
    pub ingredients: Vec<String>,
    /// What to name for the allergic.
    pub allergens: Option<String>,
    /// True when a person typed what to name.
    pub allergens_confirmed: bool,
    /// What has to be said on it besides.
    pub notes: Vec<String>,
}

/// Everything about one piece.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PieceView {
    /// The piece.
    pub card: PieceCard,
    /// The piece it was cut from, or those it was made of.
    pub parents: Vec<Relative>,
    /// What it was cut into, or the one piece it went into.
    pub parts: Vec<Relative>,
    /// What was done to it with the knife, in order.
    pub worked: Vec<Work>,
    /// The fat cover kept on it (mm).
    pub fat_cover_mm: Option<f64>,
    /// Its share of fat, when it was blended.
    pub fat_fraction: Option<f64>,
    /// About how it lies, from weight and thickness.
    pub size: Option<Size>,
    /// What holds its animal's meat back.
    pub holds: Vec<HoldState>,
    /// Its weighings, in order.
    pub weighings: Vec<WeighingView>,
    /// Its dose.
    pub dose: Option<DoseView>,
    /// Its way, step by step.
    pub steps: Vec<StepView>,
    /// The brine it lies in, and what was pumped of it.
    pub brine: Option<BrineView>,
    /// Binder for it, where binding is a step of its way that is not done.
    pub binder: Option<Binder>,
    /// Timers that run or ring for it.
    pub timers: Vec<TimerView>,
    /// How long the household's own pieces of this product lay in water until they were right.
    pub own_soak: Option<OwnSoakView>,
    /// Small choices of the steps that it has come to.
    pub choices: Vec<ChoiceView>,
    /// What was put on it.
    pub coats: Vec<CoatView>,
    /// How its build is smoked or hung, in words.
    pub words: Option<String>,
    /// What should come out, as shares of green weight.
    pub usual_yield: Option<manifest_core::animal::Range>,
    /// Its packs.
    pub packs: Vec<PackView>,
    /// What may become of it, while that is open.
    pub suits: Vec<Suitability>,
    /// What may be said of it.
    pub verdict: VerdictView,
    /// What gave pause on its way and stands.
    pub findings: Vec<Finding>,
    /// True when a typed reason lifted a stop on its way.
    pub overridden: bool,
    /// As its meat is called: everything that went in.
    pub meat: String,
    /// Its own lot, and every other whose meat is in it.
    pub lots: BTreeSet<LotId>,
    /// What went in brings for the allergic, for the label.
    pub allergens: Vec<String>,
    /// Everything that happened, the newest first.
    pub timeline: Vec<Happened>,
}

/// Everything about one piece.
#[must_use]
pub fn view(lot: &LotBook, piece: &Piece, seen: Seen<'_>) -> PieceView {
    let relative = |id: &PieceId| {
        let found = lot.state.pieces.get(id)?;
        Some(Relative {
            id: *id,
            tag: found.tag.clone(),
            mass_g: found.mass.grams(),
        })
    };
    let build = piece.build();
    let open = piece.cure.is_none() && piece.packs.is_empty() && !piece.stage().is_over();
    let verdict = seen
        .verdict(lot, piece.id)
        .unwrap_or_else(|| seen.judge().piece(&lot.state, piece));
    let really = seen.judge().really(&lot.state, piece);
    let within = seen.judge().within(&lot.state, piece);
    PieceView {
        verdict: VerdictView::of(&verdict),
        findings: verdict.findings,
        overridden: verdict.overridden,
        meat: within.name(),
        lots: within
            .lots
            .iter()
            .map(|s| s.id)
            .chain([lot.state.id])
            .collect(),
        allergens: allergens_of(&seen.judge(), &within),
        card: seen.card(lot, piece),
        parents: piece.parents.iter().filter_map(relative).collect(),
        parts: piece.parts.iter().filter_map(relative).collect(),
        worked: piece.worked.clone(),
        fat_cover_mm: piece.shape.fat_cover.as_ref().map(|c| c.value.0),
        fat_fraction: piece.fat.as_ref().map(|f| f.value.0),
        size: size(lot, piece),
        holds: offered(lot.state.holds(Some(piece), seen.now), seen),
        weighings: weighings(piece),
        dose: piece.dose().map(|d| DoseView {
            lines: d.lines.iter().map(ingredient).collect(),
            nitrate_ppm: really
                .as_ref()
                .map_or(d.nitrate.nominal, |r| r.nitrate.nominal),
            reason: d.reason.clone(),
            findings: really
                .as_ref()
                .map_or_else(|| d.findings.clone(), |r| r.findings.clone()),
            cure: d.cure.key.clone().unwrap_or_else(|| "own".into()),
            cure_name: d.cure.name.clone(),
            salt_g_per_kg: really
                .as_ref()
                .and_then(|r| r.salt)
                .or(d.salt)
                .map(|s| s.nominal),
            build_version: d.build.as_ref().map(|b| b.version),
            own: d
                .own
                .iter()
                .map(|o| OwnSaidView {
                    label: o.label.clone(),
                    said: o.said.clone(),
                })
                .collect(),
        }),
        steps: steps(piece),
        brine: brine(piece),
        binder: piece
            .open_steps()
            .any(|s| s.verb == "bind")
            .then(|| binder(Grams(piece.mass.grams()))),
        timers: timers::of_piece(lot, piece, seen.now),
        choices: choices(seen.book, piece),
        own_soak: soakable(piece).and_then(|b| {
            let OwnSoak { minutes, times } = own::soak(seen.book, &b.key)?;
            Some(OwnSoakView { minutes, times })
        }),
        coats: piece
            .coats
            .iter()
            .map(|c| CoatView {
                name: c.name.clone(),
                mass_g: c.mass.grams(),
                allergens: c.allergens.clone(),
            })
            .collect(),
        words: build.and_then(|b| {
            let smoke = b.smoke.as_ref().map(|s| s.words.clone());
            smoke.or_else(|| b.hang.as_ref().map(|h| h.words.clone()))
        }),
        usual_yield: build.and_then(|b| b.yield_of_green),
        packs: piece
            .packs
            .iter()
            .filter_map(|id| lot.state.packs.get(id))
            .map(|p| pack(&lot.state, piece, p, seen))
            .collect(),
        suits: if open {
            suits(lot, piece, seen)
        } else {
            Vec::new()
        },
        timeline: timeline(lot, seen.home, |e| {
            let through = |id: Option<EntryId>| {
                id.and_then(|id| lot.entry(id))
                    .is_some_and(|e| e.act.pieces().contains(&piece.id))
            };
            e.act.pieces().contains(&piece.id) || through(e.replaces)
        }),
    }
}

/// About how a piece lies, from its weight and thickness.
#[must_use]
pub fn size(lot: &LotBook, piece: &Piece) -> Option<Size> {
    let cut = lot.state.lot.as_ref()?.species().cut(&piece.cut)?;
    Some(Size::estimate(
        Grams(piece.mass.grams()),
        piece.shape.thickness()?,
        cut,
    ))
}

/// Builds ranked for a piece, best first.
#[must_use]
pub fn suits(lot: &LotBook, piece: &Piece, seen: Seen<'_>) -> Vec<Suitability> {
    let Some(came) = &lot.state.lot else {
        return Vec::new();
    };
    let species = came.species();
    let Some(cut) = species.cut(&piece.cut) else {
        return Vec::new();
    };
    let holds = lot.state.holds(Some(piece), seen.now);
    let candidate = Candidate {
        species,
        cut,
        wild: came.received.origin == Origin::Harvested,
        shape: piece.shape.clone(),
        opened: piece.is_opened(),
        fat: piece.fat.as_ref().map(|f| f.value),
        is_cut: true,
        equipment: seen.home.settings.equipment.as_ref(),
        holds: &holds,
        units: seen.home.settings.units,
    };
    rank(&candidate, lot.state.catalogue())
}

/// Small choices of the steps that a piece has come to: each once, with what was chosen last.
fn choices(book: &Book, piece: &Piece) -> Vec<ChoiceView> {
    let Some(build) = piece.build().filter(|_| !piece.stage().is_over()) else {
        return Vec::new();
    };
    let come = |step: &&Step| {
        piece.step_done(&step.id).is_some() || piece.open_steps().any(|s| s.id == step.id)
    };
    let steps: Vec<&Step> = build.steps.iter().filter(come).collect();
    let form = build.class.form(build.form);
    let open = book.catalogue().checks.iter().filter(|check| {
        let offered = steps
            .iter()
            .any(|step| check.is_offered(step, form, piece.shape.bone_in));
        let place = piece.place().filter(|_| check.of_place);
        let said = place.is_some_and(|place| own::is_well(book, check, place));
        offered && !said && !piece.checks.iter().any(|c| c.check == check.key)
    });
    let last = own::last_grades(book, &build.key);
    open.map(|check| ChoiceView {
        check: check.key.clone(),
        last: last.get(check.key.as_str()).map(|g| (*g).to_string()),
    })
    .collect()
}

/// The way of a piece, with what is done of it.
fn steps(piece: &Piece) -> Vec<StepView> {
    let steps = piece.build().map_or(&[][..], |b| b.steps.as_slice());
    let last = steps.iter().rposition(|s| piece.step_done(&s.id).is_some());
    let view = |(i, step): (usize, &Step)| {
        let done = piece.step_done(&step.id);
        StepView {
            id: step.id.clone(),
            kind: step.kind,
            verb: step.verb.clone(),
            words: step.words.clone(),
            check: step.check.clone(),
            station: step.kind.traits().station,
            done_by: step.kind.traits().done_by,
            asks: step.asks.clone(),
            standing: if done.is_some() {
                StepStanding::Done
            } else if last.is_some_and(|last| i < last) {
                StepStanding::LeftOut
            } else if piece.open_steps().any(|s| s.id == step.id) {
                StepStanding::Open
            } else {
                StepStanding::Later
            },
            done_at: done.map(|d| d.at),
            may_be_left_out: step.may_be_left_out(),
        }
    };
    steps.iter().enumerate().map(view).collect()
}

fn ingredient(line: &DoseLine) -> IngredientMass {
    IngredientMass {
        role: line.role,
        name: line.name.clone(),
        mass_g: line.mass.value.grams(),
    }
}

fn weighings(piece: &Piece) -> Vec<WeighingView> {
    let green = piece.green.grams().max(f64::MIN_POSITIVE);
    let mut before: Option<f64> = None;
    piece
        .weighings
        .iter()
        .map(|w| {
            let net = w.net.grams();
            let view = WeighingView {
                entry: w.entry,
                at: w.at,
                point: w.point,
                net_g: net,
                lost_since_before: before.map(|b| 1.0 - net / b),
                lost_since_green: 1.0 - net / green,
            };
            before = Some(net);
            view
        })
        .collect()
}

/// Nothing of a household for practice is real, and every label of it says so.
fn practice_first(notes: Vec<String>, seen: Seen<'_>) -> Vec<String> {
    let mark = seen
        .practice
        .then(|| "PRACTICE. Nothing of this is real.".to_string());
    mark.into_iter().chain(notes).collect()
}

/// A pack with what its label says.
#[must_use]
pub fn pack(state: &State, piece: &Piece, pack: &Pack, seen: Seen<'_>) -> PackView {
    let label = label(&seen.judge(), state, piece, pack);
    let keeps: Vec<_> = label
        .keeps
        .iter()
        .map(|k| KeepUntil {
            place: k.place.clone(),
            until: k.until,
        })
        .collect();
    let printed = pack.printed.clone().or_else(|| printed_of_old(piece));
    let kept = seen.verdicts.lot(seen.book, seen.home, state.id);
    let changed = kept.outdated.iter().find(|(id, _)| *id == pack.id);
    let label_changes = changed.map(|(_, c)| c.clone()).unwrap_or_default();
    PackView {
        id: pack.id,
        tag: pack.tag.clone(),
        product: label.product,
        made_from: label.made_from,
        mass_g: pack.mass.grams(),
        slices: pack.slices,
        packed_on: label.packed_on,
        eat: label.verdict.word.into(),
        label_outdated: !label_changes.is_empty(),
        label_changes,
        verdict: VerdictView {
            keep: keeps.clone(),
            ..VerdictView::of(&label.verdict)
        },
        says: label.says,
        meat: label.meat,
        printed,
        discarded: pack.discarded,
        left: pack.left.as_ref().map(LeftView::of),
        findings: label.verdict.findings,
        overridden: label.verdict.overridden,
        keeps,
        lies_in: pack.is_in().and_then(|id| seen.place(id)),
        ingredients: label.ingredients,
        allergens: (!label.allergens.is_empty()).then(|| label.allergens.join(", ")),
        allergens_confirmed: label.allergens_confirmed,
        notes: practice_first(label.notes, seen),
    }
}
