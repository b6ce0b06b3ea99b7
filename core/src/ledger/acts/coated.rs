//! Something was put on a piece by weight: meal, pepper, paste, lard; a cloth on what hangs.

use super::desk::{cure_out_of_place, words};
use super::{Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::StepKind;
use crate::caution::FieldError;
use crate::caution::Finding;
use crate::cure::sheet::Jar;
use crate::ids::{LotId, PieceId};
use crate::ledger::Account;
use crate::ledger::Entry;
use crate::ledger::odd::mistyped;
use crate::ledger::post::{Posted, alive, not_now, positive, say, transfer};
use crate::ledger::state::{Piece, Point, Stage, State};
use crate::piece::Coat;
use crate::units::show::mass;
use crate::units::{Grams, Milligrams, Reading, Typed, Units};
use serde::{Deserialize, Serialize};

/// Something was put on it by weight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Coated {
    /// The piece.
    pub piece: PieceId,
    /// What it is.
    pub name: String,
    /// How much of it went on; none when the piece was weighed with it on.
    #[serde(default)]
    pub reading: Option<Reading>,
    /// The piece on the scale with it on.
    #[serde(default)]
    pub after: Option<Reading>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
}

/// Something is put on it by weight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CoatedAsk {
    /// The piece.
    pub piece: PieceId,
    /// What it is: corn meal, black pepper, lard.
    pub name: String,
    /// How much of it went on, as typed. Give this, or `after`.
    #[serde(default)]
    pub reading: Option<String>,
    /// The piece on the scale with it on, as typed. Give this, `reading` or `jar`.
    #[serde(default)]
    pub after: Option<String>,
    /// The jar it came out of, before and after: what is gone stuck.
    #[serde(default)]
    pub jar: Option<Jar>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
}

impl Asked for CoatedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        if self.name.trim().is_empty() {
            return Err(AskError::field(
                "name",
                "Say what was put on, such as corn meal.",
            ));
        }
        let mut reading = desk.mass_if(self.reading.as_deref(), "reading")?;
        let after = desk.mass_if(self.after.as_deref(), "after")?;
        let said = [reading.is_some(), after.is_some(), self.jar.is_some()];
        if said.iter().filter(|s| **s).count() != 1 {
            return Err(AskError::field(
                "reading",
                "Type how much went on, what the piece weighs with it, or its jar before and after: one of these.",
            ));
        }
        if let Some(jar) = &self.jar {
            let gone = jar
                .gone(desk.home.units)
                .map_err(|e| AskError::Fields(vec![e.under("jar")]))?;
            reading = Some(Typed::unsaid(Milligrams::from_grams(gone.0)));
        }
        let act = Coated {
            piece: self.piece,
            name: self.name.trim().into(),
            reading,
            after,
            allergens: words(self.allergens.as_deref()),
        };
        desk.about(self.piece, Act::Coated(act))
    }
}

impl Deed for Coated {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.cure.is_none() && found.build().is_none_or(|b| !b.ending)
            || found.stage() == Stage::InCure
        {
            return Err(not_now(found));
        }
        let added = self.added(found, units)?;
        // What is put on a piece that hangs is tare: it moves the scale, not the meat.
        if found.stage() == Stage::Hanging {
            return Ok(Vec::new());
        }
        Ok(transfer(
            Account::Material(self.name.clone()),
            Account::Piece(self.piece),
            added,
        ))
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let units = Units::default();
        let Some(found) = state.pieces.get(&self.piece) else {
            return;
        };
        let hangs = found.stage() == Stage::Hanging;
        // Its own mass moved already, so what was added is looked for in what was posted.
        let posted: Milligrams = entry
            .postings
            .iter()
            .filter(|p| p.account == Account::Piece(self.piece))
            .map(|p| p.mass)
            .sum();
        let added = if hangs {
            self.added(found, units).unwrap_or(Milligrams::ZERO)
        } else {
            posted
        };
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.coats.push(Coat {
                name: self.name.clone(),
                mass: added,
                allergens: self.allergens.clone(),
            });
            if let Some(hanging) = piece.hanging.as_mut().filter(|_| hangs) {
                hanging.tare += added;
                hanging.gross_start += added;
            } else {
                let (since, mass) = (piece.since, piece.mass);
                piece.weighed((entry.id, entry.happened_at), Point::Coated, mass);
                piece.since = since;
            }
            piece.did_kind(StepKind::Coat, entry.happened_at, entry.id);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let (state, home) = (gate.state, gate.home);
        let Some(found) = state.pieces.get(&self.piece) else {
            return Vec::new();
        };
        if let Some(cure) = cure_out_of_place(&self.name, gate.catalogue()) {
            return vec![cure];
        }
        let Ok(added) = self.added(found, home.units) else {
            return Vec::new();
        };
        let usual = found.mass.grams() * USUAL_COAT;
        if added.grams() <= usual {
            return Vec::new();
        }
        vec![mistyped(
            format!("That is a lot of {} on {}.", self.name, found.tag),
            mass(Grams(added.grams()), home.units.mass),
            format!("at most {}", mass(Grams(usual), home.units.mass)),
            Some("Type what went on it, not what it weighs in all, or keep it as typed.".into()),
        )]
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "coated"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let how_much = match (&self.reading, &self.after) {
            (Some(reading), _) => scene.mass(reading),
            (None, Some(after)) => format!("up to {}", scene.mass(after)),
            (None, None) => String::new(),
        };
        let allergens = self.allergens.as_ref().map(|a| format!(" (contains {a})"));
        format!("{how_much} {}{}", self.name, allergens.unwrap_or_default())
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Coated(CoatedAsk {
            piece: self.piece,
            name: self.name.clone(),
            reading: self.reading.as_ref().map(|r| scene.again(r)),
            after: self.after.as_ref().map(|r| scene.again(r)),
            jar: None,
            allergens: self.allergens.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::text("name", "What was put on"),
            Field::mass("reading", "How much of it").optional(),
            Field::mass("after", "Or the piece with it on").optional(),
            Field::text("allergens", "What to name for the allergic").optional(),
        ]
    }
}

/// More than this share of the piece is asked about.
const USUAL_COAT: f64 = 0.25;

impl Coated {
    /// How much went on a piece as it stands.
    fn added(&self, piece: &Piece, units: Units) -> Result<Milligrams, Vec<FieldError>> {
        if let Some(reading) = &self.reading {
            positive(reading, "reading", units)?;
            return Ok(reading.value);
        }
        let Some(after) = &self.after else {
            return Ok(Milligrams::ZERO);
        };
        positive(after, "after", units)?;
        let before = piece.mass + piece.tare();
        if after.value <= before {
            return Err(vec![FieldError::new(
                "after",
                format!(
                    "{} weighed {} before, so {} leaves nothing for {}. Weigh it with the coat on.",
                    piece.tag,
                    say(before, units),
                    say(after.value, units),
                    self.name
                ),
            )]);
        }
        Ok(after.value - before)
    }
}
