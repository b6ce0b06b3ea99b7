//! The temperature around meat was read, for some hours: of a place, a lot or a piece.

use super::form::{Count, hours};
use super::{
    Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene,
};
use crate::animal::hold::AirSpell;
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::hang::ferment::souring_step;
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, find, gone};
use crate::ledger::state::{Stage, State};
use crate::piece::Piece;
use crate::place::PlaceId;
use crate::units::show::trim;
use crate::units::{Amount, Celsius, Fraction, Typed, Units};
use serde::{Deserialize, Serialize};

/// The temperature around meat was read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PlaceRead {
    /// The place on the household's list, where it is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
    /// What the place is called.
    pub name: String,
    /// The piece; none for all of the lot.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<PieceId>,
    /// How warm it was.
    pub warmth: Typed<Celsius>,
    /// How damp the air was, if measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub humidity: Option<Typed<Fraction>>,
    /// For how many hours; none where it is one look.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
}

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

impl Asked for PlaceReadAsk {
    fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let typed = match &self.place {
            Count::Whole(id) => id.to_string(),
            Count::Other(n) => n.to_string(),
            Count::Text(text) => text.trim().to_string(),
        };
        let known = desk
            .home
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
                warmth: desk.typed(&self.temperature, "temperature")?,
                humidity: desk.share_if(self.humidity.as_ref(), "humidity")?,
                hours: self.hours.as_ref().map(|h| hours(h, "hours")).transpose()?,
            }))
        };
        if let Some((lot, Act::PlaceRead(old))) = instead {
            return Ok(vec![(lot, act(old.piece)?)]);
        }
        match (self.piece, self.lot, known) {
            (Some(piece), _, _) => Ok(vec![(desk.lot_of(piece)?, act(Some(piece))?)]),
            (None, Some(lot), _) => Ok(vec![(lot, act(None)?)]),
            (None, None, Some(place)) => {
                let there: Vec<_> = desk
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

impl Deed for PlaceRead {
    fn family(&self) -> Family<'_> {
        Family {
            about: self.piece.into_iter().collect(),
            ..Family::default()
        }
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        state.lot.as_ref().ok_or_else(gone)?;
        if let Some(id) = self.piece {
            find(state, id)?;
        }
        if !(-60.0..=60.0).contains(&self.warmth.value.0) {
            return err(
                "temperature",
                "No place for meat is that warm or cold. Type degrees such as 3 C or 38 F.".into(),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let spell = AirSpell {
            until: entry.happened_at,
            air_c: self.warmth.value.0,
            hours: self.hours.unwrap_or(0.0),
        };
        state.facts.air.push((self.piece, spell));
        let hours = self.hours.unwrap_or(0.0);
        for piece in state.pieces.values_mut() {
            let meant = match self.piece {
                Some(id) => piece.id == id,
                None => !piece.went_into_others() && piece.ended != Some(Stage::Discarded),
            };
            if meant {
                piece.lay_in(entry.id, entry.happened_at, &self.warmth, hours);
            }
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let place = self.place.and_then(|id| gate.home.place(id));
        let dries = |p: &Piece| p.is_drying() || souring_step(p).is_some();
        let warm = self.piece.and_then(|id| gate.piece(id)).is_some_and(dries);
        let read_where = match place {
            Some(place) => place.read_where(),
            None if warm => ReadWhere::Air,
            None => ReadWhere::Cold,
        };
        unit_doubt(&self.warmth, read_where).into_iter().collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "read around it"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let humidity = self
            .humidity
            .as_ref()
            .map(|h| format!(", {} damp", scene.said(h)));
        let hours = self.hours.map(|h| format!(", {} h", trim(h, 1)));
        format!(
            "{}: {}{}{}",
            self.name,
            scene.said(&self.warmth),
            humidity.unwrap_or_default(),
            hours.unwrap_or_default()
        )
    }

    fn ask_again(&self, lot: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::PlaceRead(PlaceReadAsk {
            place: Count::Text(self.name.clone()),
            temperature: scene.again(&self.warmth),
            humidity: self.humidity.as_ref().map(|h| Amount::Text(scene.again(h))),
            hours: self.hours.map(Amount::Number),
            lot: self.piece.is_none().then_some(lot),
            piece: self.piece,
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::text("place", "Place"),
            Field::new("temperature", "How warm", FieldKind::Temperature),
            Field::new("humidity", "How damp", FieldKind::Share).optional(),
            Field::new("hours", "For how many hours", FieldKind::Text).optional(),
        ]
    }
}
