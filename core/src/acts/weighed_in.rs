//! Weighed on its hook.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::species::Range;
use crate::caution::{Code, Finding, Severity};
use crate::form::Field;
use crate::hang::forecast::{loss_after, most_loss, usual_rate};
use crate::hang::pace::{PaceFrom, Paces, days_since, lean};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::weighed_in::WeighedIn;
use crate::ledger::odd::other_reading;
use crate::units::show::{self, mass, share};
use crate::units::{Fraction, Grams, Millimetres, Reading};
use serde::{Deserialize, Serialize};

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

impl Draft for WeighedInAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let weighed =
            context.shared_on_hooks(("reading", &self.reading), self.piece, &self.pieces)?;
        weighed
            .into_iter()
            .map(|(piece, reading)| {
                let act = WeighedIn { piece, reading };
                Ok((context.lot_of(piece)?, Act::WeighedIn(act)))
            })
            .collect()
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
pub(crate) fn too_fast(
    validator: &Validator<'_>,
    id: PieceId,
    reading: &Reading,
) -> Option<Finding> {
    let piece = validator.piece(id)?;
    let hanging = piece.hanging.as_ref()?;
    let start = hanging.net_start().grams();
    let gone = days_since(hanging, validator.at);
    let lmax = most_loss(lean(validator.state, piece));
    let most = match Paces::new(validator.book, validator.home).of(validator.state, piece) {
        Some(pace) => match pace.from {
            PaceFrom::Weighings(_) => pace.loss_at(gone).2,
            PaceFrom::OwnPieces(_) | PaceFrom::Thickness | PaceFrom::ThicknessAndAir => {
                UNSURE * pace.loss_at(gone).1
            }
        },
        None => UNSURE * loss_after(gone, usual_rate(THINNEST), lmax).0,
    };
    let now = (reading.value - hanging.tare).grams();
    let seen = hanging.lost_at(reading.value - hanging.tare).0;
    // What is still wet around it may dry in one night.
    let around = (hanging.tare_in_books() - hanging.tare_at_end()).grams();
    let most = (most + ALLOWED).min(lmax + ALLOWED) + around / start.max(f64::MIN_POSITIVE);
    if seen <= most {
        return None;
    }
    let units = validator.home.settings.units;
    let least = start * (1.0 - most) - around;
    let said = |net: f64| mass(Grams(net + hanging.tare.grams()), units.mass);
    Some(
        Finding::new(
            Code::LosesTooFast,
            Severity::Caution,
            format!(
                "{} would have lost {} after {} on its hook.",
                piece.tag,
                share(Fraction((seen * 100.0).round() / 100.0)),
                show::days(gone)
            ),
        )
        .saw(said(now))
        .wants(format!("not much under {}", said(least)))
        .remedy(
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

impl Review for WeighedIn {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        too_fast(validator, self.piece, &self.reading)
            .into_iter()
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!("{} on the scale", render.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::WeighedIn(WeighedInAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            reading: render.again(&self.reading),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale")]
    }
}
