//! A piece was put into its cure; its dose is a fact with the numbers it was made of.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::cure::span::box_hours;
use crate::dose::Dose;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_step, err, transfer};
use crate::ledger::state::{InCure, State};
use crate::ledger::{Account, Entry, Posting};
use crate::piece::{Timer, TimerFor};
use crate::place::PlaceId;
use crate::units::{Milligrams, Units};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// A piece was put into its cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dosed {
    /// The piece.
    pub piece: PieceId,
    /// Its dose.
    pub dose: Box<Dose>,
    /// The place it was put in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
}

/// What a dose moves: out of what is kept, to what lies with the piece.
pub(crate) fn dose_moves(dose: &Dose, piece: PieceId) -> Vec<Posting> {
    dose.lines
        .iter()
        .flat_map(|line| {
            transfer(
                Account::Material(line.name.clone()),
                Account::InCure(piece),
                line.mass.value,
            )
        })
        .collect()
}

impl Fact for Dosed {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        self.dose.build.iter().map(SnapshotKey::build).collect()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let (found, _) = at_step(state, self.piece, |s| s.kind == StepKind::Dose)?;
        if found.build().is_some_and(|b| !b.method.cures()) {
            return err("piece", format!("{} is not to be cured.", found.tag));
        }
        Ok(dose_moves(&self.dose, self.piece))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let made = piece
                .build()
                .and_then(|b| b.dosed_by(self.dose.way.as_deref(), self.dose.method));
            if let Some(made) = made {
                piece.product = Some(Arc::new(made));
            }
            piece.cure = Some(InCure {
                injected: Milligrams::ZERO,
                topped: Vec::new(),
                entry: entry.id,
                meat: piece.mass,
                since: entry.happened_at,
                dose: Some((*self.dose).clone()),
            });
            piece.did_kind(StepKind::Dose, entry.happened_at, entry.id);
            piece.since = entry.happened_at;
            piece.moved(entry.happened_at, self.place);
            if let Some(hours) = box_hours(piece) {
                let timer = Timer {
                    entry: entry.id,
                    began: entry.happened_at,
                    minutes: (hours * 60.0).round() as u32,
                    note: Some("dig it out, brush it off, weigh it".into()),
                };
                piece.timers.insert(TimerFor::SaltBox, timer);
            }
        }
    }

    fn reason(&self) -> Option<&str> {
        self.dose.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "put in cure"
    }
}
