//! Out of the cure, rinsed and weighed.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::caution::FieldError;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err, positive, say, tidy};
use crate::ledger::state::{Piece, Point, Stage, State};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::TimerFor;
use crate::units::{Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// Out of the cure, rinsed and weighed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct OutOfCure {
    /// The piece.
    pub piece: PieceId,
    /// Its weight.
    pub reading: Reading,
    /// What was done with its surface, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surface: Option<Surface>,
    /// Why, where it goes past a block.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

/// What is done with the surface of a piece that comes out of its cure.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Surface {
    /// Rinsed with cold water.
    Rinsed,
    /// Wiped.
    Wiped,
    /// Brushed off.
    Brushed,
    /// Left as it was.
    AsItWas,
}

/// A cure of which nothing is known adds no more than this share of the meat.
const MOST_TAKEN_UP: f64 = 0.15;

fn no_gain_from_cure(piece: &Piece, now: Milligrams, units: Units) -> Result<(), Vec<FieldError>> {
    if (now - piece.mass).grams() <= piece.mass.grams() * MOST_TAKEN_UP {
        return Ok(());
    }
    err(
        "reading",
        format!(
            "{} weighed {} when it was entered, and no cure adds that much: it cannot weigh {} now. Check the digits and the unit.",
            piece.tag,
            say(piece.mass, units),
            say(now, units)
        ),
    )
    .map(drop)
}

impl Fact for OutOfCure {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let found = at_stage(state, self.piece, &[Stage::InCure])?;
        positive(&self.reading, "reading", units)?;
        let all = found.mass + found.in_cure;
        // Of a dose that nobody knows, nothing is in the books, and who was laid into a running brine shares what
        // stands in those of the others: the gain stands as unexplained.
        let unknown = found.dose().is_none_or(|d| d.lines.is_empty());
        if self.reading.value > all && !unknown {
            return err(
                "reading",
                format!(
                    "{} is more than {} and everything put with it weighed ({}). Check the digits and the unit.",
                    say(self.reading.value, units),
                    found.tag,
                    say(all, units)
                ),
            );
        }
        let change = self.reading.value - found.mass;
        let rest = found.in_cure - change;
        let loss = if rest < Milligrams::ZERO {
            no_gain_from_cure(found, self.reading.value, units)?;
            Loss::Unaccounted
        } else if found
            .dose()
            .is_some_and(|d| d.in_brine() || d.method.is_buried())
        {
            Loss::SpentBrine
        } else {
            Loss::Drip
        };
        Ok(tidy(vec![
            (Account::Piece(self.piece), change),
            (Account::InCure(self.piece), -found.in_cure),
            (Account::Loss(loss), rest),
        ]))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.out_of_cure = Some(entry.happened_at);
            piece.moved(entry.happened_at, None);
            piece.timers.remove(&TimerFor::SaltBox);
            piece.did_kind(StepKind::Cure, entry.happened_at, entry.id);
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::OutOfCure,
                self.reading.value,
            );
        }
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "out of cure"
    }
}
