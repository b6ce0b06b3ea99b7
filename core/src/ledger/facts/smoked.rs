//! Smoked or cooked, and weighed; a piece may be smoked more than once.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::{Step, StepKind};
use crate::caution::FieldError;
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::ids::{EntryId, PieceId, RunId};
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find, no_gain, not_now, positive, reweigh, tidy};
use crate::ledger::state::{Piece, Point, State};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::Heat;
use crate::units::{Celsius, Reading, Typed, Units};
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

/// Boiled or steamed, dried meat takes up water again: up to this share of it.
const MOST_WATER: f64 = 0.30;

/// Which heat a step is; the hook that is passed over is cooking.
pub(crate) const fn heat_of(step: &Step) -> StepKind {
    if step.kind.is_heat() {
        step.kind
    } else {
        StepKind::Cook
    }
}

/// Over steam or in water a dried piece may grow heavier: that is water it took up.
pub(crate) fn cooked(piece: &Piece, reading: &Reading, units: Units) -> Posted {
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

impl Fact for Smoked {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
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

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "smoked"
    }
}

impl Smoked {
    /// True where nobody typed the inside: its run said it.
    pub(crate) fn by_run(&self) -> bool {
        self.run.is_some() && self.inside.as_ref().is_none_or(|c| c.said.is_empty())
    }

    /// The heat as it is kept with the piece, which is as it was before.
    pub(crate) fn heat(
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

    /// The piece, and which step of its way this was.
    pub(crate) fn at<'a>(
        &self,
        state: &'a State,
    ) -> Result<(Cow<'a, Piece>, &'a Step), Vec<FieldError>> {
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
