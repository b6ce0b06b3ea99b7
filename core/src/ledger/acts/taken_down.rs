//! Taken down.

use super::desk::filled;
use super::weighed_in::{on_the_hook, too_fast};
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Point, Stage, State};
use crate::units::show::trim;
use crate::units::{Fraction, Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TakenDown {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there; none where days or feel decided and nobody weighed it.
    pub reading: Option<Reading>,
}

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TakenDownAsk {
    /// The piece.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Or several on the scale at once, shared out by what each weighed.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// Its weight with everything that hangs there, as typed; left out, its loss is unknown: only where days or feel decide.
    #[serde(default)]
    pub reading: Option<String>,
}

impl Asked for TakenDownAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let weighed: Vec<(PieceId, Option<Reading>)> = match filled(self.reading.as_deref()) {
            Some(typed) => desk
                .shared_on_hooks(("reading", typed), self.piece, &self.pieces)?
                .into_iter()
                .map(|(piece, reading)| (piece, Some(reading)))
                .collect(),
            None => {
                let pieces = desk.those(self.piece, &self.pieces, None)?;
                pieces.into_iter().map(|piece| (piece, None)).collect()
            }
        };
        weighed
            .into_iter()
            .map(|(piece, reading)| {
                let act = TakenDown { piece, reading };
                Ok((desk.lot_of(piece)?, Act::TakenDown(act)))
            })
            .collect()
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
        if let Some(reading) = &self.reading {
            return on_the_hook(self.piece, reading, state, units);
        }
        let found = at_stage(state, self.piece, &[Stage::Hanging])?;
        if found.hanging.as_ref().is_some_and(|h| h.stop.is_weight()) {
            return err(
                "reading",
                format!(
                    "{} comes down by its weight. Weigh it with its cloth and net and type that.",
                    found.tag
                ),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let tare = piece.tare();
            let net = self.reading.as_ref().map(|r| r.value - tare);
            if let Some(net) = net {
                piece.weighed((entry.id, entry.happened_at), Point::TakenDown, net);
            } else {
                piece.since = entry.happened_at;
            }
            if let Some(hanging) = &mut piece.hanging {
                hanging.until = Some(entry.happened_at);
                let start = hanging.net_start().grams();
                let lost =
                    |net: Milligrams| Fraction(1.0 - net.grams() / start.max(f64::MIN_POSITIVE));
                hanging.lost = net.map(lost);
            }
            piece.moved(entry.happened_at, None);
            piece.did_kind(StepKind::Hang, entry.happened_at, entry.id);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(reading) = &self.reading else {
            return self.unweighed(gate).into_iter().collect();
        };
        let mut found: Vec<_> = too_fast(gate, self.piece, reading).into_iter().collect();
        let Some(piece) = gate.piece(self.piece) else {
            return found;
        };
        let Some(hanging) = &piece.hanging else {
            return found;
        };
        let start = hanging.net_start().grams();
        let now = (reading.value - hanging.tare).grams();
        let lost = 1.0 - now / start.max(f64::MIN_POSITIVE);
        if lost < hanging.loss.0 - gate.home.close_enough - 1e-9 {
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
        self.reading.as_ref().map_or_else(
            || "not weighed".into(),
            |reading| format!("{} on the scale", scene.mass(reading)),
        )
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::TakenDown(TakenDownAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            reading: self.reading.as_ref().map(|r| scene.again(r)),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale").optional()]
    }
}

impl TakenDown {
    /// What nobody weighs has lost nobody knows how much.
    fn unweighed(&self, gate: &Gate<'_>) -> Option<Finding> {
        let piece = gate.piece(self.piece)?;
        Some(
            Finding::new(
                Code::LossUnknown,
                Severity::Caution,
                format!(
                    "Nobody weighs {}: its loss stays unknown, and it is cooked before eating.",
                    piece.tag
                ),
            )
            .saw("no weight")
            .wants("what the scale shows, cloth and net and all")
            .way_out("Weigh it now, or keep it as typed: days and feel are schools, no proof."),
        )
    }
}
