//! Smoked or cooked, and weighed; a piece may be smoked more than once.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::catalogue::cures::Role;
use crate::catalogue::steps::{Step, StepKind};
use crate::caution::{Code, Finding, Severity};
use crate::cure::no_nitrite::{Door, SLOW_UNDER, hazard};
use crate::form::{AskError, Field, FieldKind, FieldOption};
use crate::ids::{EntryId, LotId, PieceId, RunId};
use crate::ledger::facts::Act;
use crate::ledger::facts::smoked::{Smoked, heat_of};
use crate::ledger::odd::lost_too_much;
use crate::ledger::state::Piece;
use crate::piece::printed::Verdict;
use crate::run::{RunStageKind, series};
use crate::running::mark::{HeatMark, mark};
use crate::running::now::{Look, WarmUp};
use crate::units::show::{temperature, trim};
use crate::units::{Celsius, Typed};
use crate::verdict::{UNLIKE_C, as_recorded, reaches};
use serde::{Deserialize, Serialize};

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

impl Draft for SmokedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let kept = corrected::<Smoked>(instead);
        let typed_inside = context.typed_if(self.inside.as_deref(), "inside")?;
        let typed_chamber = context.typed_if(self.chamber.as_deref(), "chamber")?;
        let reading = ("reading", self.reading.as_str());
        let weighed = context.weighed_together(reading, self.piece, &self.pieces, None)?;
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
                    also = done_before(context, piece);
                    // Whoever only weighs it takes it out of the run it lies in all the same.
                    let runs = &context.home.runs;
                    run = run.or(runs.with_piece(piece, context.book).map(|w| w.run.id));
                    if let Some(run) = run {
                        let (read, warmest) = read_in(context, run, piece)?;
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
                Ok((context.lot_of(piece)?, Act::Smoked(act)))
            })
            .collect()
    }
}

/// What a run says of a piece that comes out of it: the inside it came to, and the warmest its zone was.
fn read_in(
    context: &DraftContext<'_>,
    run: RunId,
    piece: PieceId,
) -> Result<(Option<Typed<Celsius>>, Option<Typed<Celsius>>), AskError> {
    let (_, found) = context.find(piece)?;
    let not_there = |message: String| Err(AskError::field("run", message));
    let Some(watched) = context.home.runs.get(run) else {
        return not_there(format!("There is no run number {}.", run.0));
    };
    let Some(sitting) = watched.run.sitting(piece) else {
        return not_there(format!("{} never lay in that run.", found.tag));
    };
    let out = watched.run.weighed_out(piece, context.book);
    if out.is_some_and(|at| at >= sitting.from) {
        return not_there(format!(
            "{} was weighed out of that run already.",
            found.tag
        ));
    }
    let look = Look {
        watched,
        book: context.book,
        home: context.home,
        now: context.now,
    };
    let inside = look
        .one(piece)
        .and_then(|p| p.record)
        .map(|r| Typed::unsaid(as_recorded(r)));
    let zone = series::of_zone(&watched.run, &watched.readings, &sitting.zone);
    let warmest = zone.iter().map(|r| r.temperature.0).reduce(f64::max);
    let warmest = warmest.map(|c| Typed::unsaid(Celsius((c * 10.0).round() / 10.0)));
    Ok((inside, warmest))
}

/// The steps in front of the heat that stages of its runs have done while it lay there; none while it saw only cold.
fn done_before(context: &DraftContext<'_>, piece: PieceId) -> Vec<String> {
    let Ok((_, found)) = context.find(piece) else {
        return Vec::new();
    };
    let runs = || context.home.runs.0.values().map(|w| &w.run);
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

/// What has no nitrite comes to this inside, or the smoke was cold.
const HOT_INSIDE: Celsius = Celsius(60.0);

/// More than this share lost in one run is asked about.
const USUAL_LOSS: f64 = 0.35;

/// A bond of binder rests so long in the cold before heat (h).
///
/// # Source
/// Twelve to twenty-four hours are usual for binder enzyme.
const BOND_RESTS_H: f64 = 12.0;

/// What was bound and did not rest long enough.
fn bond_too_young(validator: &Validator<'_>, piece: &Piece) -> Option<Finding> {
    let is_binder = |name: &str| validator.catalogue().role_of(name) == Role::Binder;
    let bound = piece
        .coats
        .iter()
        .filter(|c| is_binder(&c.name))
        .map(|c| c.at)
        .max()?;
    let hours = validator.at.duration_since(bound).as_secs_f64() / 3_600.0;
    (hours < BOND_RESTS_H - 1e-9).then(|| {
        Finding::new(
            Code::BinderRest,
            Severity::Caution,
            "The binder has not set: in the heat the bond fails.",
        )
        .saw(format!("{} of {} h", trim(hours, 0), trim(BOND_RESTS_H, 0)))
        .wants(format!("{} to 24 h in the cold", trim(BOND_RESTS_H, 0)))
        .remedy("Leave it in the fridge, tied or in vacuum, and smoke it then.")
    })
}

impl Review for Smoked {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let (state, home) = (validator.state, validator.home);
        let mut found = lost_too_much(
            self.piece,
            self.reading.value,
            USUAL_LOSS,
            state,
            home.settings.units,
        );
        if let Ok((piece, step)) = self.at(state) {
            found.extend(self.without_nitrite(validator, &piece, heat_of(step)));
            found.extend(self.under_its_mark(validator, &piece, heat_of(step)));
            let heat = self.heat(&piece, Some(heat_of(step)), (EntryId(0), validator.at));
            found.extend(validator.judge().heat_doubts(&piece, &heat));
            found.extend(self.unlike_its_run(validator));
            found.extend(validator.soured(&piece));
            found.extend(bond_too_young(validator, &piece));
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let mut said = vec![render.mass(&self.reading)];
        said.extend(
            self.inside
                .as_ref()
                .map(|c| format!("{} inside", render.label(c))),
        );
        said.extend(
            self.chamber
                .as_ref()
                .map(|c| format!("chamber {}", render.label(c))),
        );
        let piece = render
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

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Smoked(SmokedAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            run: self.run,
            step: self.step.clone(),
            reading: render.again(&self.reading),
            inside: self
                .inside
                .as_ref()
                .filter(|_| !self.by_run())
                .map(|c| render.again(c)),
            each_read: false,
            chamber: self
                .chamber
                .as_ref()
                .filter(|c| !(self.by_run() && c.said.is_empty()))
                .map(|c| render.again(c)),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let build = render
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

impl Smoked {
    /// Without nitrite, smoke is hot from the start or it is a hazard.
    fn without_nitrite(
        &self,
        validator: &Validator<'_>,
        piece: &Piece,
        kind: StepKind,
    ) -> Option<Finding> {
        if !validator.judge().has_no_nitrite(validator.state, piece) {
            return None;
        }
        let said = |c| temperature(c, validator.home.settings.units.heat);
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
    fn under_its_mark(
        &self,
        validator: &Validator<'_>,
        piece: &Piece,
        kind: StepKind,
    ) -> Option<Finding> {
        if kind == StepKind::ColdSmoke {
            return None;
        }
        let HeatMark {
            target,
            asked: mark,
            ..
        } = mark(validator.judge(), validator.state, piece);
        let said = |c| temperature(c, validator.home.settings.units.heat);
        let stays = if validator.judge().piece(validator.state, piece).word == Verdict::ReadyToEat {
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
                .remedy("Read it in the thickest place and type it, or keep it as typed."),
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
            .remedy(if slip {
                format!("Did you mean {}? Look at the unit.", said(meant))
            } else {
                "Take it on to its mark, or keep it as typed.".into()
            }),
        )
    }

    /// What its run says otherwise: a probe that read less than was typed, a piece too long in the warm hours.
    fn unlike_its_run(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let found = self.run.and_then(|id| validator.home.runs.get(id));
        let look = found.map(|watched| Look {
            watched,
            book: validator.book,
            home: validator.home,
            now: validator.at,
        });
        let Some(seen) = look.and_then(|look| look.one(self.piece)) else {
            return Vec::new();
        };
        let said = |c: Celsius| temperature(c, validator.home.settings.units.heat);
        let mut all = Vec::new();
        if let (Some(inside), Some(read)) = (&self.inside, seen.record)
            && inside.value.0 > read.temperature.0 + UNLIKE_C
        {
            all.push(
                Finding::new(
                    Code::UnlikeItsProbe,
                    Severity::Caution,
                    "Its probe and its checks never read that much.",
                )
                .saw(format!("{} typed", said(inside.value)))
                .wants(format!(
                    "{} by what was read in its run",
                    said(read.temperature)
                ))
                .remedy("Look at the number and its unit, or write the check down that you go by."),
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
                .remedy("Next time hotter from the start, or thinner pieces. If in doubt, throw it away."),
            );
        }
        all
    }
}
