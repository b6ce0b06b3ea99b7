//! A piece was worked on with the knife and is still one.

use crate::animal::byproduct::Byproduct;
use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::caution::FieldError;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{
    Posted, at_stage, err, fat_cover, lost_in_cutting, no_gain, positive, say, thickness, tidy,
    workable,
};
use crate::ledger::state::{Piece, Point, Stage, State};
use crate::ledger::{Account, Entry, Work};
use crate::units::{Millimetres, Reading, Typed, Units};
use serde::{Deserialize, Serialize};

/// So much that came off a piece and is kept.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Off {
    /// What it is.
    pub kind: Byproduct,
    /// Its weight.
    pub reading: Reading,
}

/// A piece was worked on and is still one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Worked {
    /// The piece.
    pub piece: PieceId,
    /// How.
    pub work: Work,
    /// What came off and is kept.
    pub off: Vec<Off>,
    /// The piece on the scale afterwards, if it was weighed.
    pub reading: Option<Reading>,
    /// Its thickest place afterwards, if it was measured.
    pub thickness: Option<Typed<Millimetres>>,
    /// The fat cover left on it.
    pub fat_cover: Option<Typed<Millimetres>>,
}

impl Fact for Worked {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let piece = self.on(state)?;
        let nothing = match self.work {
            Work::Skin => (!piece.shape.skin_on).then_some("has no skin on"),
            Work::BoneOut => (!piece.shape.bone_in).then_some("has no bone in it"),
            Work::Trim | Work::OpenFlat | Work::SquareOff => None,
        };
        if let Some(nothing) = nothing {
            return err("work", format!("{} {nothing}.", piece.tag));
        }
        thickness(self.thickness.as_ref().map(|t| t.value), "thickness", units)?;
        fat_cover(self.fat_cover.as_ref(), units)?;
        if self.off.is_empty() && self.reading.is_none() && self.work != Work::OpenFlat {
            return err(
                "off",
                "Weigh what came off, or the piece afterwards.".into(),
            );
        }
        if self.work == Work::OpenFlat && self.thickness.is_none() {
            return err(
                "thickness",
                "Measure how thick it lies now, such as 45 mm: its days follow from that.".into(),
            );
        }
        let mut moves = Vec::new();
        let mut left = piece.mass;
        for (i, off) in self.off.iter().enumerate() {
            positive(&off.reading, &format!("off[{i}].reading"), units)?;
            left -= off.reading.value;
            moves.push((Account::Byproduct(off.kind), off.reading.value));
        }
        if !left.is_some() {
            return err(
                "off[0].reading",
                format!(
                    "{} weighs {} in all, so that much cannot come off it. Check the digits.",
                    piece.tag,
                    say(piece.mass, units)
                ),
            );
        }
        let now = match &self.reading {
            Some(reading) => {
                positive(reading, "reading", units)?;
                no_gain(piece, reading.value, left, "reading", units)?;
                reading.value
            }
            None => left,
        };
        let lost = left - now;
        moves.push((Account::Piece(self.piece), now - piece.mass));
        moves.push((Account::Loss(lost_in_cutting(lost, piece.mass)), lost));
        Ok(tidy(moves))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let Some(piece) = state.piece_mut(self.piece) else {
            return;
        };
        match self.work {
            Work::Skin => piece.shape.skin_on = false,
            Work::BoneOut => piece.shape.bone_in = false,
            Work::Trim | Work::OpenFlat | Work::SquareOff => {}
        }
        if self.thickness.is_some() {
            piece.shape.thickness.clone_from(&self.thickness);
        }
        if let Some(left) = &self.fat_cover {
            piece.shape.fat_cover = Some(left.clone());
            piece.shape.fat_cap = left.value.0 > 0.0;
        }
        piece.worked.push(self.work);
        if piece.cure.is_none() {
            piece.is_green_again();
            return;
        }
        // Of a finished piece the green weight stays what it was; this is a step of its way.
        let (since, mass) = (piece.since, piece.mass);
        piece.weighed((entry.id, entry.happened_at), Point::Worked, mass);
        piece.since = since;
        if self.work == Work::BoneOut {
            piece.did_kind(StepKind::BoneOut, entry.happened_at, entry.id);
        }
    }

    fn label(&self) -> &'static str {
        self.work.label()
    }
}

impl Worked {
    /// The piece, before its cure or, for what takes something off a finished one, after it.
    fn on<'a>(&self, state: &'a State) -> Result<&'a Piece, Vec<FieldError>> {
        let done = state
            .pieces
            .get(&self.piece)
            .is_some_and(|p| p.out_of_cure.is_some() && p.packs.is_empty());
        match self.work {
            Work::BoneOut | Work::Skin | Work::Trim | Work::SquareOff if done => {
                at_stage(state, self.piece, &[Stage::Smoke, Stage::Hang, Stage::Pack])
            }
            Work::BoneOut | Work::Skin | Work::Trim | Work::SquareOff | Work::OpenFlat => {
                workable(state, self.piece)
            }
        }
    }
}
