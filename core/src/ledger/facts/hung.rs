//! Hung up, with what hangs there beside the meat.

use crate::catalogue::steps::StepKind;
use crate::catalogue::{Catalogue, SnapshotKey};
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_step, err, not_now, reweigh};
use crate::ledger::state::{Hanging, Point, Stage, State};
use crate::ledger::{Entry, Loss};
use crate::piece::StopBy;
use crate::place::PlaceId;
use crate::units::{Fraction, Milligrams, Reading, Typed, Units};
use serde::{Deserialize, Serialize};

/// Something that hangs there and is not meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TarePart {
    /// What it is.
    pub name: String,
    /// Its weight.
    pub reading: Reading,
}

/// Hung up.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Hung {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there.
    pub reading: Reading,
    /// What hangs there beside the meat.
    pub tare: Reading,
    /// What that is made of, where it was said.
    #[serde(default)]
    pub parts: Vec<TarePart>,
    /// The share to lose.
    pub loss: Typed<Fraction>,
    /// The place it hangs in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
    /// Its hook there, counted from one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hook: Option<u32>,
    /// By what it is taken down.
    #[serde(default, skip_serializing_if = "StopBy::is_weight")]
    pub stop: StopBy,
    /// Why, where it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

impl Hung {
    /// What hangs beside the meat once it is dry; what its parts do not name stays as it is.
    fn dry(&self, catalogue: &Catalogue) -> Milligrams {
        let of = |p: &TarePart| catalogue.dry_tare(&p.name, p.reading.value);
        let named: Milligrams = self.parts.iter().map(|p| p.reading.value).sum();
        let dry: Milligrams = self.parts.iter().map(of).sum();
        (self.tare.value - named + dry).min(self.tare.value)
    }
}

impl Fact for Hung {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let (found, _) = at_step(state, self.piece, |s| s.kind == StepKind::Hang)?;
        if found.stage() == Stage::Hanging {
            return Err(not_now(found));
        }
        if self.tare.value >= self.reading.value || self.tare.value < Milligrams::ZERO {
            return err(
                "tare",
                "Cloth, net and clips cannot weigh as much as the whole piece. Weigh them alone and type that.".into(),
            );
        }
        if !(self.loss.value.0 > 0.0 && self.loss.value.0 < 1.0) {
            return err(
                "loss_fraction",
                "Give the share to lose between 0 and 1, such as 0.35 for 35 %.".into(),
            );
        }
        if self.hook == Some(0) {
            return err("hook", "Hooks are counted from 1.".into());
        }
        let net = self.reading.value - self.tare.value;
        reweigh(found, &self.reading, net, Loss::Evaporation, units)
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let dry = self.dry(state.catalogue());
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.hanging = Some(Hanging {
                entry: entry.id,
                since: entry.happened_at,
                since_known: true,
                gross_start: self.reading.value,
                tare: self.tare.value,
                dry,
                loss: self.loss.value,
                until: None,
                lost: None,
                reason: self.reason.clone(),
                parts: self
                    .parts
                    .iter()
                    .map(|p| (p.name.clone(), p.reading.value))
                    .collect(),
                stripped: None,
                stop: self.stop,
                hook: self.hook,
            });
            piece.moved(entry.happened_at, self.place);
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::Hung,
                self.reading.value - self.tare.value,
            );
        }
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "hung"
    }
}
