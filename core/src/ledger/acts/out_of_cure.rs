//! Out of the cure, rinsed and weighed.

use super::desk::words;
use super::form::option;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::dosing::Way;
use crate::catalogue::steps::StepKind;
use crate::caution::FieldError;
use crate::caution::Finding;
use crate::household::Household;
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::Entry;
use crate::ledger::odd::{lost_too_much, mistyped};
use crate::ledger::post::{Posted, at_stage, err, positive, say, tidy};
use crate::ledger::state::{Piece, Point, Stage, State};
use crate::ledger::{Account, Loss};
use crate::piece::TimerFor;
use crate::units::show::trim;
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

impl Surface {
    const ALL: [Self; 4] = [Self::Rinsed, Self::Wiped, Self::Brushed, Self::AsItWas];

    const fn said(self) -> &'static str {
        match self {
            Self::Rinsed => "rinsed",
            Self::Wiped => "wiped",
            Self::Brushed => "brushed off",
            Self::AsItWas => "not rinsed",
        }
    }
}

/// Out of the cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OutOfCureAsk {
    /// The piece. Give this, `pieces` or `vessel`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several that were weighed together: the weight is shared out by what each weighed.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// All that lie in a vessel, weighed together.
    #[serde(default)]
    pub vessel: Option<VesselId>,
    /// The weight, as typed.
    pub reading: String,
    /// What was done with its surface.
    #[serde(default)]
    pub surface: Option<Surface>,
    /// Why, where it goes past a block.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Asked for OutOfCureAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let reading = ("reading", self.reading.as_str());
        desk.weighed_together(reading, self.piece, &self.pieces, self.vessel)?
            .into_iter()
            .map(|(piece, reading)| {
                let act = OutOfCure {
                    piece,
                    reading,
                    surface: self.surface,
                    reason: words(self.reason.as_deref()),
                };
                Ok((desk.lot_of(piece)?, Act::OutOfCure(act)))
            })
            .collect()
    }
}

impl Deed for OutOfCure {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
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
            .is_some_and(|d| d.in_brine() || d.method == Way::SaltBox)
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

    fn begin(&self, _: &mut State, _: &Entry) {}

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

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let (state, home) = (gate.state, gate.home);
        let mut found = lost_too_much(
            self.piece,
            self.reading.value,
            USUAL_LOSS,
            state,
            home.units,
        );
        found.extend(gate.piece(self.piece).and_then(|p| self.gained(p, home)));
        let early = gate
            .piece(self.piece)
            .and_then(|piece| gate.judge().early(piece, gate.at));
        found.extend(early.map(|e| e.finding(gate.piece(self.piece).map_or("It", |p| &p.tag))));
        if let Some(piece) = gate.piece(self.piece) {
            found.extend(gate.judge().long_without_nitrite(state, piece, gate.at));
        }
        found
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn said(&self) -> &'static str {
        "out of cure"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let surface = self
            .surface
            .map_or_else(String::new, |s| format!(", {}", s.said()));
        format!("{}{surface}", scene.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::OutOfCure(OutOfCureAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            vessel: None,
            reading: scene.again(&self.reading),
            surface: self.surface,
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::mass("reading", "Weight"),
            Field::one_of(
                "surface",
                "Its surface",
                Surface::ALL.map(|s| option(&s, s.said())).into(),
            )
            .optional(),
            Field::text("reason", "Why, if it goes past a block").optional(),
        ]
    }
}

impl OutOfCure {
    /// More gained than any brine gives, beside what was pumped in.
    fn gained(&self, piece: &Piece, home: &Household) -> Option<Finding> {
        let cure = piece.cure.as_ref().filter(|c| c.dose.is_some())?;
        let meat = cure.meat.grams().max(f64::MIN_POSITIVE);
        let now = self.reading.value.grams();
        let gained = (now - meat - cure.injected.grams()) / meat;
        (gained > MOST_GAINED).then(|| {
            mistyped(
                format!(
                    "{} would have gained {} % in its cure.",
                    piece.tag,
                    trim(gained * 100.0, 0)
                ),
                say(self.reading.value, home.units),
                format!(
                    "at most about {} % more than it was",
                    trim(MOST_GAINED * 100.0, 0)
                ),
                None,
            )
        })
    }
}

/// No brine gives more than this share of the meat.
const MOST_GAINED: f64 = 0.20;
/// More than this share lost in the cure is asked about.
const USUAL_LOSS: f64 = 0.20;
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
