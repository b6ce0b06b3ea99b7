//! Weighed on its hook.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::species::Range;
use crate::caution::{Code, Finding, Severity};
use crate::hang::forecast::{loss_after, most_loss, usual_rate};
use crate::hang::pace::{PaceFrom, Paces, days_since, lean};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::Loss;
use crate::ledger::odd::other_reading;
use crate::ledger::post::{Posted, at_stage, err, reweigh, say};
use crate::ledger::state::{Point, Stage, State};
use crate::units::show::{mass, share, trim};
use crate::units::{Fraction, Grams, Millimetres, Reading, Units};
use serde::{Deserialize, Serialize};

/// Weighed on its hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct WeighedIn {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there.
    pub reading: Reading,
}

/// Weighed on its hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WeighedInAsk {
    /// The piece.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Or several on the scale at once, shared out by what each weighed.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// Its weight with everything that hangs there, as typed.
    pub reading: String,
}

impl Asked for WeighedInAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let weighed = desk.shared_on_hooks(("reading", &self.reading), self.piece, &self.pieces)?;
        weighed
            .into_iter()
            .map(|(piece, reading)| {
                let act = WeighedIn { piece, reading };
                Ok((desk.lot_of(piece)?, Act::WeighedIn(act)))
            })
            .collect()
    }
}

impl Deed for WeighedIn {
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
            let since = piece.since;
            let tare = piece.tare();
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::WeighedIn,
                self.reading.value - tare,
            );
            piece.since = since;
            // Whoever weighs it on its hook has taken it out of its vacuum.
            piece.evening_out = None;
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        too_fast(gate, self.piece, &self.reading)
            .into_iter()
            .collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "weighed in"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!("{} on the scale", scene.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::WeighedIn(WeighedInAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            reading: scene.again(&self.reading),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale")]
    }
}

/// What the first days take besides, and two scales disagree by (share of net start).
const ALLOWED: f64 = 0.02;
/// Before its first weighing a piece may be so many times as fast as its thickness says.
const UNSURE: f64 = 3.0;
/// A piece that nobody measured dries at most as fast as one of this thickness.
const THINNEST: Millimetres = Millimetres(25.0);

/// A weight that no drying explains: more was lost than its forecast's fast edge for the days gone
/// by.
pub(super) fn too_fast(gate: &Gate<'_>, id: PieceId, reading: &Reading) -> Option<Finding> {
    let piece = gate.piece(id)?;
    let hanging = piece.hanging.as_ref()?;
    let start = hanging.net_start().grams();
    let lost = |net: f64| 1.0 - net / start.max(f64::MIN_POSITIVE);
    let gone = days_since(hanging, gate.at);
    let lmax = most_loss(lean(gate.state, piece));
    let most = match Paces::new(gate.book, gate.home).of(gate.state, piece) {
        Some(pace) => match pace.from {
            PaceFrom::Weighings(_) => pace.loss_at(gone).2,
            PaceFrom::OwnPieces(_) | PaceFrom::Thickness => UNSURE * pace.loss_at(gone).1,
        },
        None => UNSURE * loss_after(gone, usual_rate(THINNEST), lmax).0,
    };
    let now = (reading.value - hanging.tare).grams();
    let seen = lost(now);
    let most = (most + ALLOWED).min(lmax + ALLOWED);
    if seen <= most {
        return None;
    }
    let units = gate.home.units;
    let least = start * (1.0 - most);
    let said = |net: f64| mass(Grams(net + hanging.tare.grams()), units.mass);
    Some(
        Finding::new(
            Code::LosesTooFast,
            Severity::Caution,
            format!(
                "{} would have lost {} after {} days on its hook.",
                piece.tag,
                share(Fraction((seen * 100.0).round() / 100.0)),
                trim(gone, 1)
            ),
        )
        .saw(said(now))
        .wants(format!("not much under {}", said(least)))
        .way_out(
            other_reading(
                now,
                Range {
                    low: least,
                    high: piece.mass.grams() * 1.02,
                },
                units,
            )
            .unwrap_or_else(|| {
                "Look at the scale again. If it is right, the air is too dry: the rim hardens."
                    .into()
            }),
        ),
    )
}

/// A weight of a hanging piece with everything that hangs there.
pub(super) fn on_the_hook(
    piece: PieceId,
    reading: &Reading,
    state: &State,
    units: Units,
) -> Posted {
    let found = at_stage(state, piece, &[Stage::Hanging])?;
    let tare = found.tare();
    if reading.value <= tare {
        return err(
            "reading",
            format!(
                "Cloth and net alone weigh {}. Type what the scale shows with the piece on it.",
                say(tare, units)
            ),
        );
    }
    reweigh(
        found,
        reading,
        reading.value - tare,
        Loss::Evaporation,
        units,
    )
}
