//! Smoked or cooked, and weighed; a piece may be smoked more than once.

use super::desk::words;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, FieldOption, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::{Step, StepKind};
use crate::caution::FieldError;
use crate::caution::Finding;
use crate::household::Household;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::odd::lost_too_much;
use crate::ledger::post::{Posted, at_step, err, find, no_gain, positive, reweigh, tidy};
use crate::ledger::state::{Piece, Point, State};
use crate::ledger::{Account, Loss};
use crate::units::{Celsius, Reading, Typed, Units};
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
}

impl Asked for SmokedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Smoked {
            piece: self.piece,
            step: words(self.step.as_deref()),
            reading: desk.mass(&self.reading, "reading")?,
            inside: desk.typed_if(self.inside.as_deref(), "inside")?,
            chamber: desk.typed_if(self.chamber.as_deref(), "chamber")?,
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
        let step = self.at(state).map(|(_, step)| step.id.clone());
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.smoked = Some(entry.happened_at);
            let before = piece.inside.as_ref().map(|h| h.value);
            if let Some(now) = &self.inside
                && before.is_none_or(|b| now.value > b)
            {
                piece.inside = Some(now.clone());
            }
            if let Ok(step) = step {
                piece.did(&step, entry.happened_at, Some(entry.id));
            }
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::Smoked,
                self.reading.value,
            );
        }
    }

    fn odd(&self, state: &State, home: &Household) -> Vec<Finding> {
        lost_too_much(
            self.piece,
            self.reading.value,
            USUAL_LOSS,
            state,
            home.units,
        )
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
        ];
        if heats.len() > 1 {
            fields.push(Field::one_of("step", "Which smoke", heats).optional());
        }
        fields
    }
}

/// More than this share lost in one run is asked about.
const USUAL_LOSS: f64 = 0.35;
/// Boiled or steamed, dried meat takes up water again: up to this share of it.
const MOST_WATER: f64 = 0.30;

impl Smoked {
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
