//! Sliced and packed.

use crate::animal::byproduct::Byproduct;
use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::caution::FieldError;
use crate::ids::{EntryId, PackId, PieceId};
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_step, err, is_explained, is_gain, no_gain, positive, tidy};
use crate::ledger::state::{Pack, Piece, Stage, State};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::printed::Printed;
use crate::place::PlaceId;
use crate::units::{Milligrams, Reading, Units};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// A finished, labelled pack.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct NewPack {
    /// The pack.
    pub pack: PackId,
    /// Its tag under its piece's.
    pub tag: String,
    /// Its weight.
    pub reading: Reading,
    /// How many slices.
    #[serde(default)]
    pub slices: Option<u32>,
    /// Where it is kept, as its build words it.
    #[serde(default)]
    pub place: Option<String>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
    /// A line to whoever opens it, printed as it was typed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub line: Option<String>,
    /// The place of the house it lies in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lies_in: Option<PlaceId>,
    /// The bag it is in, by its name in the pantry.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bag: Option<String>,
    /// What its label said of how it is eaten, when it was packed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub printed: Option<Printed>,
}

/// Sliced and packed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Packed {
    /// The piece.
    pub piece: PieceId,
    /// The packs.
    pub packs: Vec<NewPack>,
    /// Ends and crumbs kept.
    pub ends: Option<Reading>,
    /// True when nothing of the piece is left to pack.
    pub finished: bool,
    /// What became of the rest, in a word, where it was not packed: tasted, given away.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rest: Option<String>,
    /// Why, where it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

/// Rolled in meal and packed, a piece may weigh so much more (share).
const MOST_COAT: f64 = 0.08;

/// What a piece gained by a coat that its product has and nobody weighed.
fn coat_nobody_weighed(piece: &Piece, sum: Milligrams) -> Milligrams {
    let coated = piece
        .build()
        .is_some_and(|b| b.step(StepKind::Coat).is_some());
    let gain = sum - piece.mass;
    let usual = gain.grams() <= piece.mass.grams() * MOST_COAT;
    if coated && piece.coats.is_empty() && is_gain(sum, piece.mass) && usual {
        gain
    } else {
        Milligrams::ZERO
    }
}

/// More than the books hold of what was not stripped: its casing and net dried, and nobody weighed them since.
fn not_stripped(piece: &Piece, sum: Milligrams) -> Result<(), Vec<FieldError>> {
    let wet = piece.hanging.as_ref().filter(|h| h.stripped.is_none());
    let dried = wet.map_or(Milligrams::ZERO, |h| h.tare_in_books() - h.tare_at_end());
    if dried <= Milligrams::ZERO || !is_gain(sum, piece.mass) {
        return Ok(());
    }
    Err(vec![FieldError::new(
        "packs",
        format!(
            "What hung around {} dried, and was not weighed since: strip it first (Hang), and weigh casing and net, or the meat alone.",
            piece.tag
        ),
    )])
}

impl Fact for Packed {
    fn family(&self) -> Family<'_> {
        Family {
            packs: self
                .packs
                .iter()
                .map(|p| (p.pack, p.tag.as_str()))
                .collect(),
            ..Family::of(self.piece)
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let (found, _) = at_step(state, self.piece, |s| s.kind == StepKind::Pack)?;
        if self.packs.is_empty() && self.ends.is_none() && self.rest.is_none() {
            return err(
                "packs",
                "Weigh at least one pack, or say what became of it.".into(),
            );
        }
        for (i, pack) in self.packs.iter().enumerate() {
            positive(&pack.reading, &format!("packs[{i}].reading"), units)?;
            if pack.slices == Some(0) {
                return err(
                    &format!("packs[{i}].slices"),
                    "Give one slice or more, or leave it empty.".into(),
                );
            }
        }
        if let Some(ends) = &self.ends {
            positive(ends, "ends", units)?;
        }
        let ends = self.ends.as_ref().map_or(Milligrams::ZERO, |r| r.value);
        let sum: Milligrams = self
            .packs
            .iter()
            .map(|p| p.reading.value)
            .sum::<Milligrams>()
            + ends;
        not_stripped(found, sum)?;
        let coat = coat_nobody_weighed(found, sum);
        if sum > found.mass + coat {
            no_gain(found, sum, found.mass, "packs", units)?;
        }
        let left = found.mass + coat - sum;
        // With more on the scale than in the books there is nothing left to pack.
        let over = left < Milligrams::ZERO;
        let lost = if self.finished || over {
            left
        } else {
            Milligrams::ZERO
        };
        let kind = if !over && self.rest.is_some() {
            Loss::Used
        } else if !over && is_explained(lost, found.mass) {
            Loss::Slicing
        } else {
            Loss::Unaccounted
        };
        let mut moves = vec![
            (Account::Material("meal or coating".into()), -coat),
            (Account::Piece(self.piece), coat - sum - lost),
            (Account::Byproduct(Byproduct::Ends), ends),
            (Account::Loss(kind), lost),
        ];
        moves.extend(
            self.packs
                .iter()
                .map(|p| (Account::Pack(p.pack), p.reading.value)),
        );
        Ok(tidy(moves))
    }

    fn begin(&self, state: &mut State, entry: &Entry) {
        for new in &self.packs {
            let pack = new.pack(self.piece, (entry.id, entry.happened_at));
            state.packs.insert(new.pack, pack);
        }
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.packs.extend(self.packs.iter().map(|p| p.pack));
            let used = entry.postings.iter();
            let used = used.filter(|p| p.account == Account::Loss(Loss::Used));
            piece.used += used.map(|p| p.mass).sum::<Milligrams>();
            if self.finished {
                piece.did_kind(StepKind::Pack, entry.happened_at, entry.id);
                piece.ended = Some(Stage::Packed);
                piece.moved(entry.happened_at, None);
                piece.since = entry.happened_at;
            }
        }
    }

    fn note(&self) -> Option<&str> {
        self.rest.as_deref()
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "packed"
    }
}

impl Packed {
    /// The bags that were named, one for each pack in one.
    pub fn bags(&self) -> impl Iterator<Item = &str> {
        self.packs.iter().filter_map(|p| p.bag.as_deref())
    }
}

impl NewPack {
    /// The pack that it is, before anything is in it.
    pub(crate) fn pack(&self, piece: PieceId, (entry, at): (EntryId, Timestamp)) -> Pack {
        Pack {
            id: self.pack,
            piece,
            tag: self.tag.clone(),
            mass: Milligrams::ZERO,
            slices: self.slices,
            place: self.place.clone(),
            allergens: self.allergens.clone(),
            line: self.line.clone(),
            lies_in: self.lies_in,
            moves: Vec::new(),
            left: None,
            printed: self.printed.clone(),
            printed_at: at,
            discarded: None,
            at,
            entry,
        }
    }
}
