//! Cloth, casing and net weighed when they are off: what was counted as tare is put right, and both are kept.

use crate::catalogue::SnapshotKey;
use crate::caution::FieldError;
use crate::ids::PieceId;
use crate::ledger::facts::hung::TarePart;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, say, tidy};
use crate::ledger::state::{Piece, Point, State};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::Hanging;
use crate::units::{Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// What was around a piece, weighed when it is off.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Stripped {
    /// The piece.
    pub piece: PieceId,
    /// What was weighed.
    pub weighed: StrippedBy,
    /// What cloth and net are made of, where it was said.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parts: Vec<TarePart>,
}

/// Which side of a stripped piece lay on the scale.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum StrippedBy {
    /// Cloth, casing and net.
    Tare(Reading),
    /// The meat.
    Bare(Reading),
}

/// What a stripped piece turns out to be.
pub(crate) struct Found {
    /// Its tare from now on.
    pub tare: Milligrams,
    /// The meat when it came down.
    pub bare: Milligrams,
    /// True when nothing was weighed since, so that this is what it weighs now.
    now: bool,
}

fn wrong(field: &str, message: impl Into<String>) -> Vec<FieldError> {
    vec![FieldError::new(field, message.into())]
}

impl Fact for Stripped {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let piece = alive(state, self.piece)?;
        let found = self.found(piece, units)?;
        if !found.now {
            // What was weighed since knows better.
            return Ok(Vec::new());
        }
        // What was counted as cloth and is meat, or the other way round, had dried into the air by the books.
        let change = found.bare - piece.mass;
        Ok(tidy(vec![
            (Account::Piece(self.piece), change),
            (Account::Loss(Loss::Evaporation), -change),
        ]))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let units = Units::default();
        let Some(piece) = state.piece_mut(self.piece) else {
            return;
        };
        let books = |h: &Hanging| h.tare_in_books();
        let old = piece.hanging.as_ref().map_or(Milligrams::ZERO, books);
        // Masses have moved already; only what it weighed when it came down is looked at.
        let Ok(found) = self.found(piece, units) else {
            return;
        };
        let shift = old - found.tare;
        let since = piece.hanging.as_ref().map(|h| h.since);
        for weighing in &mut piece.weighings {
            // When it was hung, everything around it was as wet as it was weighed.
            let on_hook = matches!(weighing.point, Point::WeighedIn | Point::TakenDown);
            if on_hook && since.is_some_and(|s| weighing.at >= s) {
                weighing.net += shift;
            }
        }
        if let Some(hanging) = &mut piece.hanging {
            hanging.lost = Some(hanging.lost_of(found.bare));
            hanging.stripped = Some(found.tare);
        }
        if let StrippedBy::Bare(_) = self.weighed
            && found.now
        {
            let last = piece.weighings.last().map(|w| w.point);
            if last != Some(Point::TakenDown) {
                piece.weighed((entry.id, entry.happened_at), Point::TakenDown, found.bare);
            }
        }
    }

    fn label(&self) -> &'static str {
        "stripped"
    }
}

impl Stripped {
    pub(crate) fn found(&self, piece: &Piece, units: Units) -> Result<Found, Vec<FieldError>> {
        let hanging = piece.hanging.as_ref().filter(|h| h.until.is_some());
        let Some(hanging) = hanging else {
            return Err(wrong(
                "piece",
                format!(
                    "{} hangs, or never did. Take it down before it is stripped.",
                    piece.tag
                ),
            ));
        };
        let last = piece.weighings.last();
        let down = piece
            .weighings
            .iter()
            .rev()
            .find(|w| w.point == Point::TakenDown && w.at >= hanging.since);
        let gross = down.map(|w| w.net + hanging.tare_in_books());
        let (tare, bare) = match (&self.weighed, gross) {
            (StrippedBy::Tare(tare), Some(gross)) => (tare.value, gross - tare.value),
            (StrippedBy::Bare(bare), Some(gross)) => (gross - bare.value, bare.value),
            (StrippedBy::Bare(bare), None) => (hanging.tare_at_end(), bare.value),
            (StrippedBy::Tare(_), None) => {
                return Err(wrong(
                    "bare",
                    "Nobody weighed it when it came down. Weigh the meat alone, and give that.",
                ));
            }
        };
        let field = match self.weighed {
            StrippedBy::Tare(_) => "tare",
            StrippedBy::Bare(_) => "bare",
        };
        let most = gross.unwrap_or(hanging.gross_start);
        if tare < Milligrams::ZERO
            || !bare.is_some()
            || bare < Milligrams::ZERO
            || tare >= hanging.gross_start
        {
            return Err(wrong(
                field,
                format!(
                    "With everything on it, it weighed {}. Type less than that.",
                    say(most, units)
                ),
            ));
        }
        let now = down.map(|w| w.entry) == last.map(|w| w.entry) || down.is_none();
        if let StrippedBy::Bare(_) = self.weighed
            && !now
        {
            return Err(wrong(
                "bare",
                format!(
                    "{} was weighed since it came down, so the meat alone says nothing of its cloth any more. Weigh cloth, casing and net, and give that.",
                    piece.tag
                ),
            ));
        }
        Ok(Found { tare, bare, now })
    }
}
