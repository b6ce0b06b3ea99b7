//! Taken down.

use super::weighed_in::{on_the_hook, too_fast};
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::Posted;
use crate::ledger::state::{Point, State};
use crate::units::show::trim;
use crate::units::{Fraction, Reading, Units};
use crate::verdict::TOLERANCE;
use serde::{Deserialize, Serialize};

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TakenDown {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there.
    pub reading: Reading,
}

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TakenDownAsk {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there, as typed.
    pub reading: String,
}

impl Asked for TakenDownAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = TakenDown {
            piece: self.piece,
            reading: desk.mass(&self.reading, "reading")?,
        };
        desk.about(self.piece, Act::TakenDown(act))
    }
}

impl Deed for TakenDown {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        on_the_hook(self.piece, &self.reading, state, units)
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let tare = piece.tare();
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::TakenDown,
                self.reading.value - tare,
            );
            if let Some(hanging) = &mut piece.hanging {
                hanging.until = Some(entry.happened_at);
                let start = (hanging.gross_start - hanging.tare).grams();
                let now = (self.reading.value - tare).grams();
                hanging.lost = Some(Fraction(1.0 - now / start.max(f64::MIN_POSITIVE)));
            }
            piece.moved(entry.happened_at, None);
            piece.did_kind(StepKind::Hang, entry.happened_at, entry.id);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let mut found: Vec<_> = too_fast(gate, self.piece, &self.reading)
            .into_iter()
            .collect();
        let Some(piece) = gate.piece(self.piece) else {
            return found;
        };
        let Some(hanging) = &piece.hanging else {
            return found;
        };
        let start = (hanging.gross_start - hanging.tare).grams();
        let now = (self.reading.value - hanging.tare).grams();
        let lost = 1.0 - now / start.max(f64::MIN_POSITIVE);
        if lost < hanging.loss.0 - TOLERANCE - 1e-9 {
            let percent = |part: f64| format!("{} %", trim(part * 100.0, 0));
            let dried = piece.build().is_some_and(|b| b.raw_dried);
            found.push(
                Finding::new(
                    Code::LostTooLittle,
                    Severity::Caution,
                    format!(
                        "{} has lost {} of {}.{}",
                        piece.tag,
                        percent(lost.max(0.0)),
                        percent(hanging.loss.0),
                        if dried {
                            " Taken down now it stays “cook before eating”."
                        } else {
                            ""
                        }
                    ),
                )
                .saw(percent(lost.max(0.0)))
                .wants(percent(hanging.loss.0))
                .way_out("Hang it on, or keep it as typed."),
            );
        }
        found
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "taken down"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!("{} on the scale", scene.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::TakenDown(TakenDownAsk {
            piece: self.piece,
            reading: scene.again(&self.reading),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale")]
    }
}
