//! Smoked or cooked, and weighed; a piece may be smoked more than once.

use super::desk::words;
use super::{
    Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, FieldOption, Gate, Scene,
};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::{Step, StepKind};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::odd::lost_too_much;
use crate::ledger::post::{Posted, at_step, err, find, no_gain, positive, reweigh, tidy};
use crate::ledger::state::{Piece, Point, State};
use crate::ledger::{Account, Loss};
use crate::piece::Heat;
use crate::units::show::temperature;
use crate::units::{Celsius, Reading, Typed, Units};
use crate::verdict::{Word, reaches};
use serde::{Deserialize, Serialize};

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
    /// Why, where it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

/// Smoked or cooked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SmokedAsk {
    /// The piece.
    pub piece: PieceId,
    /// Which smoke or cooking of its way it was, by its name; the one that has to be when left out.
    #[serde(default)]
    pub step: Option<String>,
    /// Its weight, as typed.
    pub reading: String,
    /// The highest inside temperature, as typed: `145 F`.
    #[serde(default)]
    pub inside: Option<String>,
    /// How warm the chamber was, as typed.
    #[serde(default)]
    pub chamber: Option<String>,
    /// Why, where it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Asked for SmokedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Smoked {
            piece: self.piece,
            step: words(self.step.as_deref()),
            reading: desk.mass(&self.reading, "reading")?,
            inside: desk.typed_if(self.inside.as_deref(), "inside")?,
            chamber: desk.typed_if(self.chamber.as_deref(), "chamber")?,
            reason: words(self.reason.as_deref()),
        };
        desk.about(self.piece, Act::Smoked(act))
    }
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
            let most = if field == "inside" { 130.0 } else { 400.0 };
            if heat
                .as_ref()
                .is_some_and(|c| !(0.0..=most).contains(&c.value.0))
            {
                return err(
                    field,
                    format!("No {what}. Type degrees such as 62.8 C or 145 F."),
                );
            }
        }
        if step.kind == StepKind::Cook {
            cooked(found, &self.reading, units)
        } else {
            reweigh(found, &self.reading, self.reading.value, Loss::Smoke, units)
        }
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let step = self.at(state).map(|(_, step)| (step.id.clone(), step.kind));
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.smoked = Some(entry.happened_at);
            piece.heats.push(Heat {
                entry: entry.id,
                at: entry.happened_at,
                kind: step.as_ref().ok().map(|(_, kind)| *kind),
                inside: self.inside.clone(),
            });
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
            found.extend(self.without_nitrite(gate, piece, step.kind));
            found.extend(self.under_its_mark(gate, piece, step.kind));
            found.extend(self.over_its_chamber(gate));
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
            piece: self.piece,
            step: self.step.clone(),
            reading: scene.again(&self.reading),
            inside: self.inside.as_ref().map(|c| scene.again(c)),
            chamber: self.chamber.as_ref().map(|c| scene.again(c)),
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
    /// Without nitrite, smoke is hot or it is a hazard.
    fn without_nitrite(&self, gate: &Gate<'_>, piece: &Piece, kind: StepKind) -> Option<Finding> {
        if !gate.judge().really(gate.state, piece)?.no_nitrite {
            return None;
        }
        let inside = self.inside.as_ref().map(|c| c.value);
        let hot = kind != StepKind::ColdSmoke && inside.is_some_and(|c| c >= HOT_INSIDE);
        if hot {
            return None;
        }
        let said = |c| temperature(c, gate.home.units.heat);
        Some(
            Finding::new(
                Code::NoNitriteHazard,
                Severity::Stop,
                "It was cured without nitrite: long in warm smoke and never hot, nothing holds botulism back.",
            )
            .saw(inside.map_or("no inside temperature".into(), |c| format!("{} inside", said(c))))
            .wants(format!("at least {} inside in the end", said(HOT_INSIDE)))
            .way_out("Cook it right through at once, in the oven or in a hot smoker, and type what the inside came to."),
        )
    }

    /// Heat that does not do what it was for.
    fn under_its_mark(&self, gate: &Gate<'_>, piece: &Piece, kind: StepKind) -> Option<Finding> {
        if kind == StepKind::ColdSmoke {
            return None;
        }
        let within = gate.judge().within(gate.state, piece);
        let target = within.target();
        let own = piece
            .build()
            .and_then(|b| b.smoke.as_ref())
            .map(|s| Celsius(s.inside_c));
        // Boar, bear and birds are always brought to their target; what is meant to be fried
        // later, to its own mark.
        let strict = within.never_raw_dried().next().is_some() || within.is_bird();
        let mark = own.filter(|own| !strict && *own < target).unwrap_or(target);
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

    /// Meat does not get warmer than what is around it.
    fn over_its_chamber(&self, gate: &Gate<'_>) -> Option<Finding> {
        let (inside, chamber) = (self.inside.as_ref()?.value, self.chamber.as_ref()?.value);
        let said = |c| temperature(c, gate.home.units.heat);
        (inside.0 > chamber.0 + 0.5).then(|| {
            Finding::new(
                Code::WarmerThanChamber,
                Severity::Caution,
                "Meat does not get warmer inside than what is around it.",
            )
            .saw(format!("{} inside", said(inside)))
            .wants(format!("at most {}, its chamber", said(chamber)))
            .way_out("Look at both numbers and their units.")
        })
    }

    /// The piece, and which step of its way this was.
    fn at<'a>(&self, state: &'a State) -> Result<(&'a Piece, &'a Step), Vec<FieldError>> {
        let Some(named) = &self.step else {
            return at_step(state, self.piece, |s| s.kind.is_heat());
        };
        let found = find(state, self.piece)?;
        let open: Vec<_> = found.open_steps().filter(|s| s.kind.is_heat()).collect();
        if open.is_empty() {
            return at_step(state, self.piece, |s| s.kind.is_heat());
        }
        match open.iter().find(|s| s.id == *named) {
            Some(step) => Ok((found, step)),
            None => {
                let ids: Vec<_> = open.iter().map(|s| s.id.as_str()).collect();
                Err(vec![FieldError::new(
                    "step",
                    format!(
                        "{} has no “{named}” before it now. Choose one of {}.",
                        found.tag,
                        ids.join(", ")
                    ),
                )])
            }
        }
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
