//! Smoked or cooked, and weighed; a piece may be smoked more than once.

use super::desk::{AskError, words};
use super::{
    Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, FieldOption, Gate, Scene,
};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::{Step, StepKind};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::ids::{EntryId, LotId, PieceId, RunId};
use crate::ledger::Entry;
use crate::ledger::odd::lost_too_much;
use crate::ledger::post::{Posted, err, find, no_gain, not_now, positive, reweigh, tidy};
use crate::ledger::state::{Piece, Point, State};
use crate::ledger::{Account, Loss};
use crate::piece::Heat;
use crate::run::mark::{HeatMark, mark};
use crate::run::now::{Look, WarmUp};
use crate::run::{RunStageKind, series};
use crate::units::show::{temperature, trim};
use crate::units::{Celsius, Reading, Typed, Units};
use crate::verdict::no_nitrite::{Door, SLOW_UNDER, hazard};
use crate::verdict::{UNLIKE_C, Word, as_recorded, reaches};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::borrow::Cow;

/// Smoked or cooked, and weighed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Smoked {
    /// The piece.
    pub piece: PieceId,
    /// The step of its way, when it was named.
    #[serde(default)]
    pub step: Option<String>,
    /// Its weight.
    pub reading: Reading,
    /// The highest inside temperature, if measured.
    pub inside: Option<Typed<Celsius>>,
    /// How warm the chamber was, if measured.
    pub chamber: Option<Typed<Celsius>>,
    /// The run it came out of.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub run: Option<RunId>,
    /// Steps before it that were done by earlier stages of its runs: cold smoke, a rest.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also: Vec<String>,
    /// So many pieces were given one number for their inside, and nobody said that each was read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shared_by: Option<usize>,
    /// Why, where it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

/// Smoked or cooked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SmokedAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several that were weighed together: the weight is shared out by what each weighed.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// The run they come out of. What its probes and checks said is taken for `inside` and `chamber` where those are left out.
    #[serde(default)]
    pub run: Option<RunId>,
    /// Which smoke or cooking of its way it was, by its name; the one that has to be when left out.
    #[serde(default)]
    pub step: Option<String>,
    /// Its weight, as typed.
    pub reading: String,
    /// The highest inside temperature, as typed: `145 F`.
    #[serde(default)]
    pub inside: Option<String>,
    /// True when `inside` was read in each of several pieces; one number proves nothing of a piece in which it was not read.
    #[serde(default)]
    pub each_read: bool,
    /// How warm the chamber was, as typed.
    #[serde(default)]
    pub chamber: Option<String>,
    /// Why, where it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Asked for SmokedAsk {
    fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let kept = match instead {
            Some((_, Act::Smoked(old))) => Some(old),
            Some(_) | None => None,
        };
        let typed_inside = desk.typed_if(self.inside.as_deref(), "inside")?;
        let typed_chamber = desk.typed_if(self.chamber.as_deref(), "chamber")?;
        let reading = ("reading", self.reading.as_str());
        let weighed = desk.weighed_together(reading, self.piece, &self.pieces, None)?;
        let several = Some(weighed.len()).filter(|n| *n > 1 && typed_inside.is_some());
        weighed
            .into_iter()
            .map(|(piece, reading)| {
                let mut inside = typed_inside.clone();
                let mut chamber = typed_chamber.clone();
                let mut also = kept.map(|old| old.also.clone()).unwrap_or_default();
                let mut run = self.run;
                let shared_by = several
                    .or(kept.and_then(|old| old.shared_by))
                    .filter(|_| !self.each_read && inside.is_some());
                if let Some(old) = kept.filter(|old| old.run == run && old.by_run()) {
                    // What the run said is not typed, and not put right by leaving it out.
                    inside = inside.or_else(|| old.inside.clone());
                    chamber = chamber.or_else(|| old.chamber.clone());
                }
                if kept.is_none() {
                    also = done_before(desk, piece);
                    // Whoever only weighs it takes it out of the run it lies in all the same.
                    let runs = &desk.home.beside.runs;
                    run = run.or(runs.with_piece(piece, desk.book).map(|w| w.run.id));
                    if let Some(run) = run {
                        let (read, warmest) = read_in(desk, run, piece)?;
                        inside = inside.or(read);
                        chamber = chamber.or(warmest);
                    }
                }
                let act = Smoked {
                    piece,
                    step: words(self.step.as_deref()),
                    reading,
                    inside,
                    chamber,
                    run,
                    also,
                    shared_by,
                    reason: words(self.reason.as_deref()),
                };
                Ok((desk.lot_of(piece)?, Act::Smoked(act)))
            })
            .collect()
    }
}

/// What a run says of a piece that comes out of it: the inside it came to, and the warmest its zone was.
fn read_in(
    desk: &Desk<'_>,
    run: RunId,
    piece: PieceId,
) -> Result<(Option<Typed<Celsius>>, Option<Typed<Celsius>>), AskError> {
    let (_, found) = desk.find(piece)?;
    let not_there = |message: String| Err(AskError::field("run", message));
    let Some(watched) = desk.home.beside.runs.get(run) else {
        return not_there(format!("There is no run number {}.", run.0));
    };
    let Some(sitting) = watched.run.sitting(piece) else {
        return not_there(format!("{} never lay in that run.", found.tag));
    };
    let out = watched.run.weighed_out(piece, desk.book);
    if out.is_some_and(|at| at >= sitting.from) {
        return not_there(format!(
            "{} was weighed out of that run already.",
            found.tag
        ));
    }
    let look = Look {
        watched,
        book: desk.book,
        home: desk.home,
        now: desk.now,
    };
    let inside = look
        .one(piece)
        .and_then(|p| p.record)
        .map(|r| Typed::unsaid(as_recorded(r)));
    let zone = series::of_zone(&watched.run, &watched.readings, &sitting.zone);
    let warmest = zone.iter().map(|r| r.warmth.0).reduce(f64::max);
    let warmest = warmest.map(|c| Typed::unsaid(Celsius((c * 10.0).round() / 10.0)));
    Ok((inside, warmest))
}

/// The steps in front of the heat that stages of its runs have done while it lay there; none while it saw only cold.
fn done_before(desk: &Desk<'_>, piece: PieceId) -> Vec<String> {
    let Ok((_, found)) = desk.find(piece) else {
        return Vec::new();
    };
    let runs = || desk.home.beside.runs.0.values().map(|w| &w.run);
    let went: Vec<RunStageKind> = runs().flat_map(|run| run.stages_of(piece)).collect();
    let hot = |k: &RunStageKind| k.does(StepKind::Smoke);
    let build = found
        .build()
        .map(|b| b.steps.as_slice())
        .unwrap_or_default();
    let next = found
        .next_step()
        .and_then(|n| build.iter().position(|s| s.id == n.id));
    let last = build.iter().rposition(|s| s.kind.is_heat());
    let (Some(next), Some(last), true) = (next, last, went.iter().any(hot)) else {
        return Vec::new();
    };
    let before = build.get(next..last).unwrap_or_default();
    let done = |s: &&Step| !s.kind.does_heat() && went.iter().any(|k| k.does(s.kind));
    before.iter().filter(done).map(|s| s.id.clone()).collect()
}

impl Deed for Smoked {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let (found, step) = self.at(state)?;
        for (heat, field, what) in [
            (&self.inside, "inside", "meat is that warm inside"),
            (&self.chamber, "chamber", "smoker or pot is that warm"),
        ] {
            let most = if field == "inside" {
                BOILS.0 + 0.05
            } else {
                400.0
            };
            let inside = heat.as_ref().map(|c| c.value.0);
            if field == "inside" && inside.is_some_and(|c| c > most) {
                return err(field, too_hot_inside("62.8 C or 145 F"));
            }
            if inside.is_some_and(|c| !(0.0..=most).contains(&c)) {
                return err(
                    field,
                    format!("No {what}. Type degrees such as 62.8 C or 145 F."),
                );
            }
        }
        if heat_of(step) == StepKind::Cook {
            cooked(&found, &self.reading, units)
        } else {
            reweigh(
                &found,
                &self.reading,
                self.reading.value,
                Loss::Smoke,
                units,
            )
        }
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let step = self
            .at(state)
            .map(|(_, step)| (step.id.clone(), heat_of(step)));
        if let Some(piece) = state.piece_mut(self.piece) {
            let kind = step.as_ref().ok().map(|(_, kind)| *kind);
            let heat = self.heat(piece, kind, (entry.id, entry.happened_at));
            for step in &self.also {
                piece.did(step, entry.happened_at, Some(entry.id));
            }
            piece.smoked = Some(entry.happened_at);
            piece.heats.push(heat);
            if let Ok((step, _)) = step {
                piece.did(&step, entry.happened_at, Some(entry.id));
            }
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::Smoked,
                self.reading.value,
            );
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let (state, home) = (gate.state, gate.home);
        let mut found = lost_too_much(
            self.piece,
            self.reading.value,
            USUAL_LOSS,
            state,
            home.units,
        );
        if let Ok((piece, step)) = self.at(state) {
            found.extend(self.without_nitrite(gate, &piece, heat_of(step)));
            found.extend(self.under_its_mark(gate, &piece, heat_of(step)));
            let heat = self.heat(&piece, Some(heat_of(step)), (EntryId(0), gate.at));
            found.extend(gate.judge().heat_doubts(&piece, &heat));
            found.extend(self.unlike_its_run(gate));
        }
        found
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn said(&self) -> &'static str {
        "smoked"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let mut said = vec![scene.mass(&self.reading)];
        said.extend(
            self.inside
                .as_ref()
                .map(|c| format!("{} inside", scene.said(c))),
        );
        said.extend(
            self.chamber
                .as_ref()
                .map(|c| format!("chamber {}", scene.said(c))),
        );
        let piece = scene
            .lot
            .state
            .pieces
            .get(&self.piece)
            .and_then(|p| p.build());
        let step = piece.and_then(|b| b.steps.iter().find(|s| Some(&s.id) == self.step.as_ref()));
        match step {
            Some(step) => format!("{}: {}", step.verb, said.join(", ")),
            None => said.join(", "),
        }
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Smoked(SmokedAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            run: self.run,
            step: self.step.clone(),
            reading: scene.again(&self.reading),
            inside: self
                .inside
                .as_ref()
                .filter(|_| !self.by_run())
                .map(|c| scene.again(c)),
            each_read: false,
            chamber: self
                .chamber
                .as_ref()
                .filter(|c| !(self.by_run() && c.said.is_empty()))
                .map(|c| scene.again(c)),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let build = scene
            .lot
            .state
            .pieces
            .get(&self.piece)
            .and_then(|p| p.build());
        let heats: Vec<_> = build
            .into_iter()
            .flat_map(|b| &b.steps)
            .filter(|s| s.kind.is_heat())
            .map(|s| FieldOption {
                value: s.id.clone(),
                label: s.verb.clone(),
            })
            .collect();
        let mut fields = vec![
            Field::mass("reading", "Weight"),
            Field::new("inside", "Warmest inside", FieldKind::Temperature).optional(),
            Field::new("chamber", "Chamber", FieldKind::Temperature).optional(),
            Field::text("reason", "Why, if it goes past a stop").optional(),
        ];
        if self.shared_by.is_some() {
            fields.push(Field::tick("each_read", "This piece was measured itself"));
        }
        if heats.len() > 1 {
            fields.push(Field::one_of("step", "Which smoke", heats).optional());
        }
        fields
    }
}

/// What has no nitrite comes to this inside, or the smoke was cold.
const HOT_INSIDE: Celsius = Celsius(60.0);
/// More than this share lost in one run is asked about.
const USUAL_LOSS: f64 = 0.35;
/// Boiled or steamed, dried meat takes up water again: up to this share of it.
const MOST_WATER: f64 = 0.30;

impl Smoked {
    /// Without nitrite, smoke is hot from the start or it is a hazard.
    fn without_nitrite(&self, gate: &Gate<'_>, piece: &Piece, kind: StepKind) -> Option<Finding> {
        if !gate.judge().has_no_nitrite(gate.state, piece) {
            return None;
        }
        let said = |c| temperature(c, gate.home.units.heat);
        let chamber = self.chamber.as_ref().map(|c| c.value);
        let inside = self.inside.as_ref().map(|c| c.value);
        let saw = if kind == StepKind::ColdSmoke {
            "cold smoke".to_string()
        } else if let Some(chamber) = chamber.filter(|c| *c < SLOW_UNDER) {
            format!("a chamber of {}", said(chamber))
        } else {
            match inside {
                Some(inside) if inside >= HOT_INSIDE => return None,
                Some(inside) => format!("{} inside", said(inside)),
                None => "no inside temperature".into(),
            }
        };
        Some(hazard(&piece.tag, Door::Slow, saw))
    }

    /// Heat that does not do what it was for.
    fn under_its_mark(&self, gate: &Gate<'_>, piece: &Piece, kind: StepKind) -> Option<Finding> {
        if kind == StepKind::ColdSmoke {
            return None;
        }
        let HeatMark {
            target,
            asked: mark,
            ..
        } = mark(gate.judge(), gate.state, piece);
        let said = |c| temperature(c, gate.home.units.heat);
        let stays = if gate.judge().piece(gate.state, piece).word == Word::ReadyToEat {
            ""
        } else {
            " It stays “cook before eating”."
        };
        let Some(inside) = &self.inside else {
            return Some(
                Finding::new(
                    Code::HeatNotRecorded,
                    Severity::Caution,
                    format!("Nobody read how warm it came inside.{stays}"),
                )
                .saw("no inside temperature")
                .wants(format!("{} inside", said(mark)))
                .way_out("Read it in the thickest place and type it, or keep it as typed."),
            );
        };
        let there = if mark == target {
            reaches(inside.value, target)
        } else {
            inside.value.0 >= mark.0 - 0.05 - 1e-9
        };
        if there {
            return None;
        }
        // 71 °F for 71 °C is the slip that hurts.
        let meant = Celsius(inside.value.0 * 1.8 + 32.0);
        let slip = inside.value.0 < 45.0 && (mark.0 - 6.0..=mark.0 + 15.0).contains(&meant.0);
        Some(
            Finding::new(
                Code::UnderSafeHeat,
                Severity::Caution,
                format!("Its inside did not come to its mark.{stays}"),
            )
            .saw(format!("{} inside", said(inside.value)))
            .wants(format!("{} inside", said(mark)))
            .way_out(if slip {
                format!("Did you mean {}? Look at the unit.", said(meant))
            } else {
                "Take it on to its mark, or keep it as typed.".into()
            }),
        )
    }

    /// True where nobody typed the inside: its run said it.
    fn by_run(&self) -> bool {
        self.run.is_some() && self.inside.as_ref().is_none_or(|c| c.said.is_empty())
    }

    /// The heat as it is kept with the piece, which is as it was before.
    fn heat(
        &self,
        piece: &Piece,
        kind: Option<StepKind>,
        (entry, at): (EntryId, Timestamp),
    ) -> Heat {
        Heat {
            entry,
            of: self.piece,
            at,
            kind,
            inside: self.inside.clone(),
            by_run: self.by_run(),
            chamber: self.chamber.clone(),
            shared_by: self.shared_by,
            peak: None,
            after: piece.last_seen(),
            wet: kind == Some(StepKind::Cook),
            run: self.run,
        }
    }

    /// What its run says otherwise: a probe that read less than was typed, a piece too long in the warm hours.
    fn unlike_its_run(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let found = self.run.and_then(|id| gate.home.beside.runs.get(id));
        let look = found.map(|watched| Look {
            watched,
            book: gate.book,
            home: gate.home,
            now: gate.at,
        });
        let Some(seen) = look.and_then(|look| look.one(self.piece)) else {
            return Vec::new();
        };
        let said = |c: Celsius| temperature(c, gate.home.units.heat);
        let mut all = Vec::new();
        if let (Some(inside), Some(read)) = (&self.inside, seen.record)
            && inside.value.0 > read.warmth.0 + UNLIKE_C
        {
            all.push(
                Finding::new(
                    Code::UnlikeItsProbe,
                    Severity::Caution,
                    "Its probe and its checks never read that much.",
                )
                .saw(format!("{} typed", said(inside.value)))
                .wants(format!("{} by what was read in its run", said(read.warmth)))
                .way_out(
                    "Look at the number and its unit, or write the check down that you go by.",
                ),
            );
        }
        if let Some(clock) = seen.warm_up.filter(WarmUp::is_over) {
            all.push(
                Finding::new(
                    Code::WarmUpTooLong,
                    Severity::Caution,
                    "It lay too long in the warm hours, inside between 10 and 54 °C: what grows there may leave its poison behind, and heat does not undo that.",
                )
                .saw(format!("{} h", trim(clock.minutes / 60.0, 1)))
                .wants(format!("at most {} h", trim(clock.limit / 60.0, 0)))
                .way_out("Next time hotter from the start, or thinner pieces. If in doubt, throw it away."),
            );
        }
        all
    }

    /// The piece, and which step of its way this was.
    fn at<'a>(&self, state: &'a State) -> Result<(Cow<'a, Piece>, &'a Step), Vec<FieldError>> {
        let found = find(state, self.piece)?;
        let mut piece = Cow::Borrowed(found);
        for step in &self.also {
            if found.step_done(step).is_none() {
                piece.to_mut().did(step, found.since, None);
            }
        }
        let steps = found
            .build()
            .map(|b| b.steps.as_slice())
            .unwrap_or_default();
        let of = |id: &str| steps.iter().find(|s| s.id == id);
        let heats = piece.open_steps().filter(|s| s.kind.is_heat());
        let open: Vec<String> = heats.map(|s| s.id.clone()).collect();
        if open.is_empty() {
            // What was heated may be heated on, until it hangs or is packed.
            let on = found.heated_on().or_else(|| found.cooked_instead());
            let last = on.and_then(|s| of(&s.id));
            let last = last.filter(|s| self.step.as_ref().is_none_or(|named| *named == s.id));
            return match last {
                Some(step) => Ok((piece, step)),
                None => Err(not_now(found)),
            };
        }
        let Some(named) = &self.step else {
            let step = piece.open_step(|s| s.kind.is_heat()).map(|s| s.id.clone());
            let step = step.and_then(|id| of(&id));
            return match step {
                Some(step) => Ok((piece, step)),
                None => Err(not_now(found)),
            };
        };
        match of(named).filter(|_| open.contains(named)) {
            Some(step) => Ok((piece, step)),
            None => Err(vec![FieldError::new(
                "step",
                format!(
                    "{} has no “{named}” before it now. Choose one of {}.",
                    found.tag,
                    open.join(", ")
                ),
            )]),
        }
    }
}

/// Which heat a step is; the hook that is passed over is cooking.
const fn heat_of(step: &Step) -> StepKind {
    if step.kind.is_heat() {
        step.kind
    } else {
        StepKind::Cook
    }
}

/// Over steam or in water a dried piece may grow heavier: that is water it took up.
fn cooked(piece: &Piece, reading: &Reading, units: Units) -> Posted {
    positive(reading, "reading", units)?;
    let change = reading.value - piece.mass;
    if !change.is_some() {
        return reweigh(piece, reading, reading.value, Loss::Cooking, units);
    }
    if change.grams() > piece.mass.grams() * MOST_WATER {
        no_gain(piece, reading.value, piece.mass, "reading", units)?;
    }
    Ok(tidy(vec![
        (Account::Material("water".into()), -change),
        (Account::Piece(piece.id), change),
    ]))
}
