//! The temperature around meat was read, for some hours: of a place, a lot or a piece.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{AskError, Count, Field, FieldKind, hours};
use crate::hanging::ferment::souring_step;
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::place_read::PlaceRead;
use crate::piece::Piece;
use crate::units::Amount;
use crate::units::show::trim;
use serde::{Deserialize, Serialize};

/// The temperature around meat was read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlaceReadAsk {
    /// The place: its number on the household's list, or what it is called.
    pub place: Count,
    /// How warm it was, as typed: `9 C`.
    pub temperature: String,
    /// How damp the air was: a number from 0 to 1, or as typed: `75 %`.
    #[serde(default)]
    pub humidity: Option<Amount>,
    /// For how many hours: a number, or as typed: `26 h`.
    #[serde(default)]
    pub hours: Option<Amount>,
    /// All meat of this lot lay there.
    #[serde(default)]
    pub lot: Option<LotId>,
    /// This piece lay there. With neither, what is written down as lying in that place.
    #[serde(default)]
    pub piece: Option<PieceId>,
}

impl Draft for PlaceReadAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let typed = match &self.place {
            Count::Whole(id) => id.to_string(),
            Count::Other(n) => n.to_string(),
            Count::Text(text) => text.trim().to_string(),
        };
        let known = context
            .home
            .settings
            .places()
            .find(|p| p.id.to_string() == typed || p.name.eq_ignore_ascii_case(&typed));
        if typed.is_empty() || (known.is_none() && typed.parse::<f64>().is_ok()) {
            return Err(AskError::field(
                "place",
                "Say which place: one of your list, or what it is called, such as porch.",
            ));
        }
        let act = |piece| -> Result<Act, AskError> {
            Ok(Act::PlaceRead(PlaceRead {
                place: known.map(|p| p.id),
                name: known.map_or_else(|| typed.clone(), |p| p.name.clone()),
                piece,
                temperature: context.typed(&self.temperature, "temperature")?,
                humidity: context.share_if(self.humidity.as_ref(), "humidity")?,
                hours: self.hours.as_ref().map(|h| hours(h, "hours")).transpose()?,
            }))
        };
        if let Some((lot, Act::PlaceRead(old))) = instead {
            return Ok(vec![(lot, act(old.piece)?)]);
        }
        match (self.piece, self.lot, known) {
            (Some(piece), _, _) => Ok(vec![(context.lot_of(piece)?, act(Some(piece))?)]),
            (None, Some(lot), _) => Ok(vec![(lot, act(None)?)]),
            (None, None, Some(place)) => {
                let there: Vec<_> = context
                    .book
                    .pieces()
                    .filter(|(_, p)| p.place() == Some(place.id))
                    .map(|(lot, p)| (lot.state.id, p.id))
                    .collect();
                if there.is_empty() {
                    return Err(AskError::field(
                        "place",
                        format!(
                            "Nothing is written down as lying in {}. Say which piece or which animal it is about.",
                            place.name
                        ),
                    ));
                }
                there
                    .into_iter()
                    .map(|(lot, piece)| Ok((lot, act(Some(piece))?)))
                    .collect()
            }
            (None, None, None) => Err(AskError::field(
                "piece",
                "Say which piece or which animal lay there.",
            )),
        }
    }
}

impl Review for PlaceRead {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let place = self.place.and_then(|id| validator.home.settings.place(id));
        let dries = |p: &Piece| p.is_drying() || souring_step(p).is_some();
        let warm = self
            .piece
            .and_then(|id| validator.piece(id))
            .is_some_and(dries);
        let read_where = match place {
            Some(place) => place.read_where(),
            None if warm => ReadWhere::Air,
            None => ReadWhere::Cold,
        };
        unit_doubt(&self.temperature, read_where)
            .into_iter()
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let humidity = self
            .humidity
            .as_ref()
            .map(|h| format!(", {} damp", render.label(h)));
        let hours = self.hours.map(|h| format!(", {} h", trim(h, 1)));
        format!(
            "{}: {}{}{}",
            self.name,
            render.label(&self.temperature),
            humidity.unwrap_or_default(),
            hours.unwrap_or_default()
        )
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::PlaceRead(PlaceReadAsk {
            place: Count::Text(self.name.clone()),
            temperature: render.again(&self.temperature),
            humidity: self
                .humidity
                .as_ref()
                .map(|h| Amount::Text(render.again(h))),
            hours: self.hours.map(Amount::Number),
            lot: self.piece.is_none().then_some(lot),
            piece: self.piece,
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::text("place", "Place"),
            Field::new("temperature", "How warm", FieldKind::Temperature),
            Field::new("humidity", "How damp", FieldKind::Share).optional(),
            Field::new("hours", "For how many hours", FieldKind::Text).optional(),
        ]
    }
}
