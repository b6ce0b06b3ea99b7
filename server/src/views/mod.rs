//! What the screens show, derived from the ledger: plain shapes in SI units.

pub mod find;
pub mod lot;
pub mod piece;
pub mod tally;
pub mod trace;
pub mod words;

use jiff::Timestamp;
use jiff::civil::Date;
use manifest_core::catalogue::builds::{DosingMethod, Eat};
use manifest_core::catalogue::steps::{Step, StepKind, StepStation};
use manifest_core::cure::methods::Waits;
use manifest_core::dose::Closed;
use manifest_core::dose::uptake::Uptake;
use manifest_core::house::House;
use manifest_core::ids::VesselId;
use manifest_core::ledger::book::{Book, LotBook};
use manifest_core::ledger::state::{Piece, Stage};
use manifest_core::ledger::{EntryId, LotId, PieceId};
use manifest_core::piece::Frost;
use manifest_core::piece::printed::{How, Verdict};
use manifest_core::place::PlaceId;
use manifest_core::timetable::{self, Task};
use manifest_core::units::{Celsius, Typed};
use manifest_core::verdict::{Assessment, Judge, Reason, VerdictCache, days_in_cure};
use serde::Serialize;
use utoipa::ToSchema;

/// A piece as every list shows it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PieceCard {
    /// For machines.
    pub id: PieceId,
    /// For people.
    pub tag: String,
    /// The lot it came from.
    pub lot: LotId,
    /// The lot's tag.
    pub lot_tag: String,
    /// What people call the lot.
    pub lot_name: String,
    /// Its species.
    pub species: String,
    /// As the species is called.
    pub species_name: String,
    /// Its cut.
    pub cut: String,
    /// As the cut is called.
    pub cut_name: String,
    /// Where it is on its way.
    pub stage: Stage,
    /// Its product.
    pub build: Option<String>,
    /// As the product is called.
    pub build_name: Option<String>,
    /// By which way its product is dosed.
    pub method: Option<DosingMethod>,
    /// The version of its product that it started with, and keeps.
    pub build_version: Option<u32>,
    /// Whether the catalogue still holds that.
    pub build_standing: Option<BuildStanding>,
    /// What may be done next on its way: its first step that is not done and, while steps may be
    /// left out, those behind it.
    pub open_steps: Vec<OpenStep>,
    /// Green weight (g).
    pub green_g: f64,
    /// Weight of the meat now (g).
    pub mass_g: f64,
    /// The freezer, where it lies in one now.
    pub frozen: Option<FrozenView>,
    /// Greatest thickness (mm).
    pub thickness_mm: Option<f64>,
    /// The thickness as it was said, where somebody said it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub thickness_said: Option<String>,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// Whether bone is in.
    pub bone_in: bool,
    /// Whether fat covers one side.
    pub fat_cap: bool,
    /// The newest entry about it; send it back when writing.
    pub version: EntryId,
    /// When it came to where it is.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// How it may be eaten, in one word of an earlier list.
    pub eat: Eat,
    /// What may be said of it.
    pub verdict: VerdictView,
    /// Where its inside is brought to in the smoke (°C).
    pub inside_target_c: Option<f64>,
    /// Its cure, once dosed and while it lies in it.
    pub cure: Option<CureView>,
    /// Its hanging.
    pub hang: Option<HangView>,
    /// The place it is in, if that was said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
    /// How many packs it gave so far.
    pub packs: usize,
    /// True when a dose went past a stop with a reason.
    pub overridden: bool,
    /// What is to do with it, soonest first.
    pub tasks: Vec<Task>,
}

/// What may be said of a piece or a pack.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct VerdictView {
    /// The word.
    pub word: Verdict,
    /// What made it ready.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub how: Option<How>,
    /// The inside temperature that makes it ready (°C).
    pub target_c: f64,
    /// Why, the weightiest first.
    pub reasons: Vec<Reason>,
    /// Where its pack keeps, and until when; of a piece nothing is kept yet.
    pub keep: Vec<piece::KeepUntil>,
}

impl VerdictView {
    /// The word alone.
    pub(crate) fn word(verdict: &Assessment) -> Self {
        Self {
            word: verdict.word,
            how: verdict.how,
            target_c: verdict.target.0,
            reasons: Vec::new(),
            keep: Vec::new(),
        }
    }

    /// A verdict as it is shown.
    #[must_use]
    pub fn of(verdict: &Assessment) -> Self {
        Self {
            reasons: verdict.reasons.clone(),
            ..Self::word(verdict)
        }
    }
}

/// Whether the catalogue still holds the product that a piece started with.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum BuildStanding {
    /// It is the newest version.
    Newest,
    /// There is a newer one; this piece keeps its own.
    Earlier,
    /// It is no longer in the catalogue.
    Gone,
}

/// A step that may be entered at a station now; what it asks is said on the piece's own page.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct OpenStep {
    /// Names it within the product.
    pub id: String,
    /// Its kind.
    pub kind: StepKind,
    /// The trade's verb.
    pub verb: String,
    /// Where it is entered.
    pub station: StepStation,
    /// True when a later step may be done without it.
    pub may_be_left_out: bool,
    /// What to look at, and do, before going on.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub check: Option<String>,
}

impl OpenStep {
    fn of(step: &Step) -> Option<Self> {
        Some(Self {
            id: step.id.clone(),
            kind: step.kind,
            verb: step.verb.clone(),
            station: step.kind.traits().station?,
            may_be_left_out: step.may_be_left_out(),
            check: step.check.clone(),
        })
    }
}

/// A piece in its cure.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CureView {
    /// When it was put in.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// The planned day out.
    #[schema(value_type = Option<String>, format = Date)]
    pub out_on: Option<Date>,
    /// Planned days.
    pub days: Option<u32>,
    /// Days gone since it was put in.
    pub day: i32,
    /// Its day as the household counts them, beside the planned ones.
    pub counted_day: i64,
    /// When it was last turned.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub turned: Option<Timestamp>,
    /// How often it was turned; none for what is left alone.
    pub turnings: Option<TurningsView>,
    /// Nitrite as the scale showed it (ppm); none where nobody knows the dose.
    pub nitrite_ppm: Option<f64>,
    /// Lower edge (ppm).
    pub nitrite_ppm_low: Option<f64>,
    /// Upper edge (ppm).
    pub nitrite_ppm_high: Option<f64>,
    /// The ceiling it was judged by (ppm).
    pub ceiling_ppm: Option<f64>,
    /// The least nitrite for slow smoke or hanging, by the same rules (ppm).
    pub floor_ppm: Option<f64>,
    /// Meat and everything put with it (g).
    pub with_cure_g: f64,
    /// Pieces of the same mix or brine.
    pub mixed_with: Vec<PieceId>,
    /// Salt in all (g/kg of what it is shared by); none where nobody can tell.
    pub salt_g_per_kg: Option<f64>,
    /// Nitrite by what is taken up and if meat and brine become alike, where only some of a brine gets in (ppm).
    pub uptake: Option<Uptake>,
    /// Hours in a salt box.
    pub hours: Option<f64>,
    /// When exactly it is to come out of a salt box.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub out_at: Option<Timestamp>,
    /// What becomes of it when its time is over; none where nobody knows the dose.
    pub waits: Option<Waits>,
    /// True when it lies in a brine.
    pub in_brine: bool,
    /// The vessel it lies in.
    pub vessel: Option<VesselView>,
}

/// How often a piece was turned in its cure, beside how often it wanted to be.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct TurningsView {
    /// Written down.
    pub done: u32,
    /// Due by now, or by when it came out; the day out not counted.
    pub wanted: u32,
}

/// A piece that lies in the freezer.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FrozenView {
    /// Since then.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// The day by which it is to be thawed.
    #[schema(value_type = Option<String>, format = Date)]
    pub thaw_by: Option<jiff::civil::Date>,
}

impl FrozenView {
    fn of(frost: &Frost) -> Self {
        Self {
            since: frost.from,
            thaw_by: frost.thaw_by,
        }
    }
}

/// A vessel with what lies in it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct VesselView {
    /// Its number.
    pub id: VesselId,
    /// As it is called, if it has a name.
    pub name: Option<String>,
    /// The others that lie in it now.
    pub pieces: Vec<PieceId>,
    /// Their tags.
    pub with: Vec<String>,
    /// How many layers.
    pub layers: u32,
    /// Brine around all of them (g).
    pub brine_g: f64,
    /// True when it was shared out by eye.
    pub by_eye: bool,
    /// How it is closed, if that was said.
    pub closed: Option<Closed>,
    /// What turning it means, where that was said.
    pub turning: Option<&'static str>,
}

/// A piece on its hook.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct HangView {
    /// When it was hung.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// Days on the hook.
    pub days: i32,
    /// The scale then (g).
    pub gross_start_g: f64,
    /// What hangs there beside the meat (g).
    pub tare_g: f64,
    /// The scale at its last weighing (g).
    pub gross_now_g: f64,
    /// The number to wait for on the scale (g), with everything around the meat dry.
    pub target_gross_g: f64,
    /// The same while that is still as wet as it was hung (g).
    pub target_gross_wet_g: f64,
    /// The share to lose.
    pub loss_fraction: f64,
    /// The share lost so far.
    pub loss_now: f64,
    /// Still to go on the scale; below zero when past (g).
    pub to_go_g: f64,
    /// Whether it has lost enough.
    pub reached: bool,
    /// When it was last weighed.
    #[schema(value_type = String, format = DateTime)]
    pub weighed_at: Timestamp,
    /// What the made-up hook of a household for practice shows now (g).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hook_shows_g: Option<f64>,
}

/// What was typed, unless nobody did.
fn label<Q>(typed: Option<&Typed<Q>>) -> Option<String> {
    typed.map(|t| t.said.clone()).filter(|s| !s.is_empty())
}

/// Where the views look from.
#[derive(Clone, Copy)]
pub struct Seen<'a> {
    /// Every lot.
    pub book: &'a Book,
    /// The household's units and clock.
    pub home: &'a House,
    /// The present.
    pub now: Timestamp,
    /// Verdicts that were worked out before.
    pub verdicts: &'a VerdictCache,
    /// True in a household for practice, where hooks show what nobody weighs.
    pub practice: bool,
}

impl<'a> Seen<'a> {
    /// Who says what may be said.
    pub fn judge(&self) -> Judge<'a> {
        Judge {
            book: self.book,
            home: self.home,
        }
    }

    /// What may be said of a piece.
    pub fn verdict(&self, lot: &LotBook, piece: PieceId) -> Option<Assessment> {
        let kept = self.verdicts.lot(self.book, self.home, lot.state.id);
        let found = lot.state.pieces.get(&piece)?;
        let verdict = kept.pieces.get(&piece).cloned()?;
        Some(self.judge().at(verdict, found, self.now))
    }

    /// Whole days at the household's table from then to now.
    pub fn days_since(&self, then: Timestamp) -> i32 {
        let days = self
            .home
            .settings
            .day(self.now)
            .since(self.home.settings.day(then));
        days.map_or(0, |span| span.get_days())
    }

    /// A piece as every list shows it.
    pub fn card(&self, lot: &LotBook, piece: &Piece) -> PieceCard {
        let species = lot.state.lot.as_ref().map(|l| l.species());
        let build = piece.build();
        let kept = self.verdicts.lot(self.book, self.home, lot.state.id);
        let verdict = kept
            .of_card(&lot.state, piece)
            .cloned()
            .unwrap_or_else(|| self.judge().piece(&lot.state, piece));
        let verdict = self.judge().at(verdict, piece, self.now);
        let overridden = verdict.overridden;
        let mut tasks = timetable::of_piece(
            piece,
            lot.state.id,
            self.home,
            lot.state.catalogue(),
            self.now,
        );
        tasks.sort_by_key(|t| (t.urgency, t.due, t.kind));
        let received = lot.state.lot.as_ref().map(|l| &l.received);
        PieceCard {
            id: piece.id,
            tag: piece.tag.clone(),
            lot: lot.state.id,
            lot_tag: received.map_or_else(String::new, |r| r.tag.clone()),
            lot_name: received.map_or_else(String::new, |r| r.name.clone()),
            species: received.map_or_else(String::new, |r| r.species.clone()),
            species_name: species.map_or_else(String::new, |s| s.name.clone()),
            cut: piece.cut.clone(),
            cut_name: species
                .and_then(|s| s.cut(&piece.cut))
                .map_or_else(|| piece.cut.clone(), |c| c.name.clone()),
            stage: piece.stage(),
            build: piece.build_key().map(str::to_string),
            build_name: build.map(|b| b.name.clone()),
            build_version: build.map(|b| b.version),
            build_standing: build.map(|b| match lot.state.catalogue().build(&b.key) {
                Some(newest) if newest.version == b.version => BuildStanding::Newest,
                Some(_) => BuildStanding::Earlier,
                None => BuildStanding::Gone,
            }),
            open_steps: piece.open_steps().filter_map(OpenStep::of).collect(),
            method: build.map(|b| b.method),
            green_g: piece.green.grams(),
            mass_g: piece.mass.grams(),
            frozen: piece.frost().map(FrozenView::of),
            thickness_mm: piece.shape.thickness().map(|t| t.0),
            thickness_said: label(piece.shape.thickness.as_ref()),
            skin_on: piece.shape.skin_on,
            bone_in: piece.shape.bone_in,
            fat_cap: piece.shape.fat_cap,
            version: lot.versions.get(&piece.id).copied().unwrap_or(EntryId(0)),
            since: piece.since,
            eat: verdict.word.into(),
            verdict: VerdictView {
                // In lists, why is said where it is packed and where nobody may eat it.
                reasons: if piece.stage() == Stage::Pack || verdict.word == Verdict::DoNotEat {
                    verdict.reasons.clone()
                } else {
                    Vec::new()
                },
                ..VerdictView::word(&verdict)
            },
            inside_target_c: build
                .and_then(|b| b.smoke.as_ref())
                .map(|_| self.mark(lot, piece).0),
            cure: self.cure(lot, piece),
            hang: self.hang(piece),
            place: piece.place().and_then(|id| self.place(id)),
            packs: piece.packs.len(),
            overridden,
            tasks,
        }
    }

    /// What a place of the household is called; nothing when it stands on the list no longer.
    pub fn place(&self, id: PlaceId) -> Option<String> {
        Some(self.home.settings.place(id)?.name.clone())
    }

    /// Where its inside is brought to: the higher of its product's mark and what its meat needs
    /// where it is never fried afterwards.
    fn mark(&self, lot: &LotBook, piece: &Piece) -> Celsius {
        let judge = self.judge();
        let within = judge.within(&lot.state, piece);
        let target = within.target();
        let own = piece
            .build()
            .and_then(|b| b.smoke.as_ref())
            .map(|s| Celsius(s.inside_c));
        let strict = within.never_raw_dried().next().is_some() || within.is_bird();
        match own {
            Some(own)
                if !strict
                    && own < target
                    && piece
                        .build()
                        .is_some_and(|b| b.eat == Eat::CookBeforeEating) =>
            {
                own
            }
            Some(own) if own > target => own,
            Some(_) | None => target,
        }
    }

    fn cure(&self, lot: &LotBook, piece: &Piece) -> Option<CureView> {
        let cure = piece.cure.as_ref()?;
        let dose = cure.dose.as_ref();
        let span = manifest_core::cure::span::cure_span(piece, self.home, lot.state.catalogue());
        let really = self.judge().really(&lot.state, piece);
        Some(CureView {
            since: cure.since,
            out_on: span.map(|s| s.out_on),
            days: span.map(|s| if s.hours.is_some() { s.days } else { s.counted }),
            day: self.days_since(cure.since),
            counted_day: days_in_cure(piece, self.now, self.home).unwrap_or(0),
            turned: piece.turned,
            turnings: timetable::turnings(
                piece,
                piece.out_of_cure.unwrap_or(self.now),
                self.home,
                lot.state.catalogue(),
            )
            .map(|t| TurningsView {
                done: t.done,
                wanted: t.wanted,
            }),
            nitrite_ppm: really.as_ref().map(|r| r.nitrite.nominal),
            nitrite_ppm_low: really.as_ref().map(|r| r.nitrite.low),
            nitrite_ppm_high: really.as_ref().map(|r| r.nitrite.high),
            ceiling_ppm: really.as_ref().map(|r| r.ceiling_ppm),
            floor_ppm: really.as_ref().map(|r| r.floor_ppm),
            with_cure_g: (piece.mass + piece.in_cure).grams(),
            mixed_with: dose.map(|d| d.mixed_with.clone()).unwrap_or_default(),
            salt_g_per_kg: really.as_ref().and_then(|r| r.salt).map(|s| s.nominal),
            uptake: really.as_ref().and_then(|r| r.uptake),
            hours: span.and_then(|s| s.hours),
            out_at: span.and_then(|s| s.out_at),
            waits: dose.map(|d| d.method.dosing().waits),
            in_brine: dose.is_some_and(|d| d.in_brine()),
            vessel: self.vessel(piece),
        })
    }

    fn vessel(&self, piece: &Piece) -> Option<VesselView> {
        let laid = piece.dose()?.vessel.as_ref()?;
        let lies: Vec<_> = self
            .book
            .vessel(laid.id)
            .filter(|(_, p)| p.stage() == Stage::InCure)
            .map(|(_, p)| p)
            .collect();
        let others: Vec<_> = lies.iter().filter(|p| p.id != piece.id).collect();
        Some(VesselView {
            id: laid.id,
            name: laid.name.clone(),
            pieces: others.iter().map(|p| p.id).collect(),
            with: others.iter().map(|p| p.tag.clone()).collect(),
            layers: laid.layers,
            brine_g: lies.iter().map(|p| p.in_cure.grams()).sum(),
            by_eye: laid.by_eye,
            closed: laid.closed,
            turning: laid.closed.map(Closed::turning),
        })
    }

    fn hang(&self, piece: &Piece) -> Option<HangView> {
        let hanging = piece.hanging.as_ref()?;
        if !piece.mass.is_some() {
            return None;
        }
        let now_g = (piece.mass + hanging.tare_in_books()).grams();
        let [target, wet] = hanging.target_gross().map(|m| m.grams());
        let lost = hanging.lost_at(piece.mass);
        Some(HangView {
            since: hanging.since,
            days: self.days_since(hanging.since),
            gross_start_g: hanging.gross_start.grams(),
            tare_g: hanging.tare.grams(),
            gross_now_g: now_g,
            target_gross_g: target,
            target_gross_wet_g: wet,
            loss_fraction: hanging.loss.0,
            loss_now: lost.0.max(0.0),
            to_go_g: now_g - target,
            reached: lost.0 >= hanging.loss.0 - 1e-9,
            weighed_at: piece.last_weighing().map_or(hanging.since, |w| w.at),
            hook_shows_g: self
                .practice
                .then(|| manifest_core::hang::made_up_hook(piece, self.now))
                .flatten()
                .map(|g| g.0),
        })
    }
}
