//! Cloth, casing and net weighed when they are off: what was counted as tare is put right, and both are kept.

use super::hung::{TarePart, TarePartAsk};
use super::{Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::post::{Posted, alive, say, tidy};
use crate::ledger::state::{Piece, Point, State};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::Hanging;
use crate::units::show::{mass, share};
use crate::units::{Fraction, Grams, Milligrams, Reading, Units, reading};
use serde::{Deserialize, Serialize};
use serde_json::json;

/// What was around a piece, weighed when it is off.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Stripped {
    /// The piece.
    pub piece: PieceId,
    /// What was weighed.
    pub weighed: StrippedBy,
    /// What cloth and net are made of, where it was said.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parts: Vec<TarePart>,
}

/// Which side of a stripped piece lay on the scale.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum StrippedBy {
    /// Cloth, casing and net.
    Tare(Reading),
    /// The meat.
    Bare(Reading),
}

/// What was around a piece, weighed when it is off.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StrippedAsk {
    /// The piece.
    pub piece: PieceId,
    /// Cloth, casing, net, hook and tag alone, as typed. Give this, its `parts`, or `bare`.
    #[serde(default)]
    pub tare: Option<String>,
    /// What that is made of.
    #[serde(default)]
    pub parts: Vec<TarePartAsk>,
    /// Or the meat alone, as typed.
    #[serde(default)]
    pub bare: Option<String>,
}

impl Asked for StrippedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let parts = TarePartAsk::read(&self.parts, desk)?;
        let typed = desk.mass_if(self.tare.as_deref(), "tare")?;
        let bare = desk.mass_if(self.bare.as_deref(), "bare")?;
        let summed = || reading(parts.iter().map(|p| p.reading.value.grams()).sum());
        let tare = typed.or_else(|| (!parts.is_empty()).then(summed));
        let weighed = match (tare, bare) {
            (Some(tare), None) => StrippedBy::Tare(tare),
            (None, Some(bare)) => StrippedBy::Bare(bare),
            (Some(_), Some(_)) | (None, None) => {
                return Err(AskError::field(
                    "tare",
                    "Weigh cloth, casing and net alone, or the meat alone: type one of these.",
                ));
            }
        };
        let act = Stripped {
            piece: self.piece,
            weighed,
            parts,
        };
        desk.about(self.piece, Act::Stripped(act))
    }
}

/// What a stripped piece turns out to be.
struct Found {
    /// Its tare from now on.
    tare: Milligrams,
    /// The meat when it came down.
    bare: Milligrams,
    /// True when nothing was weighed since, so that this is what it weighs now.
    now: bool,
}

fn wrong(field: &str, message: impl Into<String>) -> Vec<FieldError> {
    vec![FieldError::new(field, message.into())]
}

impl Stripped {
    fn found(&self, piece: &Piece, units: Units) -> Result<Found, Vec<FieldError>> {
        let hanging = piece.hanging.as_ref().filter(|h| h.until.is_some());
        let Some(hanging) = hanging else {
            return Err(wrong(
                "piece",
                format!(
                    "{} hangs, or never did. Take it down before it is stripped.",
                    piece.tag
                ),
            ));
        };
        let last = piece.weighings.last();
        let down = piece
            .weighings
            .iter()
            .rev()
            .find(|w| w.point == Point::TakenDown && w.at >= hanging.since);
        let gross = down.map(|w| w.net + hanging.tare);
        let (tare, bare) = match (&self.weighed, gross) {
            (StrippedBy::Tare(tare), Some(gross)) => (tare.value, gross - tare.value),
            (StrippedBy::Bare(bare), Some(gross)) => (gross - bare.value, bare.value),
            (StrippedBy::Bare(bare), None) => (hanging.tare, bare.value),
            (StrippedBy::Tare(_), None) => {
                return Err(wrong(
                    "bare",
                    "Nobody weighed it when it came down. Weigh the meat alone, and give that.",
                ));
            }
        };
        let field = match self.weighed {
            StrippedBy::Tare(_) => "tare",
            StrippedBy::Bare(_) => "bare",
        };
        let most = gross.unwrap_or(hanging.gross_start);
        if tare < Milligrams::ZERO
            || !bare.is_some()
            || bare < Milligrams::ZERO
            || tare >= hanging.gross_start
        {
            return Err(wrong(
                field,
                format!(
                    "With everything on it, it weighed {}. Type less than that.",
                    say(most, units)
                ),
            ));
        }
        let now = down.map(|w| w.entry) == last.map(|w| w.entry) || down.is_none();
        if let StrippedBy::Bare(_) = self.weighed
            && !now
        {
            return Err(wrong(
                "bare",
                format!(
                    "{} was weighed since it came down, so the meat alone says nothing of its cloth any more. Weigh cloth, casing and net, and give that.",
                    piece.tag
                ),
            ));
        }
        Ok(Found { tare, bare, now })
    }
}

/// The share lost with such a tare.
fn lost(hanging: &Hanging, tare: Milligrams, bare: Milligrams) -> Fraction {
    let start = (hanging.gross_start - tare).grams();
    Fraction(1.0 - bare.grams() / start.max(f64::MIN_POSITIVE))
}

impl Deed for Stripped {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        let piece = alive(state, self.piece)?;
        let found = self.found(piece, units)?;
        if !found.now {
            // What was weighed since knows better.
            return Ok(Vec::new());
        }
        // What was counted as cloth and is meat, or the other way round, had dried into the air by the books.
        let change = found.bare - piece.mass;
        Ok(tidy(vec![
            (Account::Piece(self.piece), change),
            (Account::Loss(Loss::Evaporation), -change),
        ]))
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let units = Units::default();
        let Some(piece) = state.piece_mut(self.piece) else {
            return;
        };
        let old = piece.hanging.as_ref().map_or(Milligrams::ZERO, |h| h.tare);
        // Masses have moved already; only what it weighed when it came down is looked at.
        let Ok(found) = self.found(piece, units) else {
            return;
        };
        let shift = old - found.tare;
        let since = piece.hanging.as_ref().map(|h| h.since);
        for weighing in &mut piece.weighings {
            let on_hook = matches!(
                weighing.point,
                Point::Hung | Point::WeighedIn | Point::TakenDown
            );
            if on_hook && since.is_some_and(|s| weighing.at >= s) {
                weighing.net += shift;
            }
        }
        if let Some(hanging) = &mut piece.hanging {
            hanging.lost = Some(lost(hanging, found.tare, found.bare));
            hanging.tare_before.get_or_insert(old);
            hanging.tare = found.tare;
        }
        if let StrippedBy::Bare(_) = self.weighed
            && found.now
        {
            let last = piece.weighings.last().map(|w| w.point);
            if last != Some(Point::TakenDown) {
                piece.weighed((entry.id, entry.happened_at), Point::TakenDown, found.bare);
            }
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(piece) = gate.piece(self.piece) else {
            return Vec::new();
        };
        let (Ok(found), Some(hanging)) = (self.found(piece, gate.home.units), &piece.hanging)
        else {
            return Vec::new();
        };
        let mut doubts = Vec::new();
        let units = gate.home.units.mass;
        let net = hanging.gross_start.grams();
        if (found.tare - hanging.tare).grams().abs() > ODD_SHARE * net {
            doubts.push(
                Finding::new(
                    Code::LooksMistyped,
                    Severity::Caution,
                    format!("Cloth, casing and net of {} were counted very differently when it was hung.", piece.tag),
                )
                .saw(mass(Grams(found.tare.grams()), units))
                .wants(format!("about {}", mass(Grams(hanging.tare.grams()), units)))
                .way_out("Weigh only what hung there beside the meat, or keep it as typed: both numbers stay in its history."),
            );
        }
        let loss = lost(hanging, found.tare, found.bare);
        let was = hanging.lost.map_or(0.0, |l| l.0);
        let wants = hanging.loss.0 - gate.home.close_enough - 1e-9;
        if was >= wants && loss.0 < wants {
            let said = |part: f64| share(Fraction((part * 1_000.0).round() / 1_000.0));
            doubts.push(
                Finding::new(
                    Code::LostTooLittle,
                    Severity::Caution,
                    format!("With that tare {} has lost less than it seemed.", piece.tag),
                )
                .saw(said(loss.0))
                .wants(said(hanging.loss.0))
                .way_out("Look at the number; if it is right it has not dried enough, and stays “cook before eating” where it was to be eaten raw."),
            );
        }
        doubts
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "stripped"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        match &self.weighed {
            StrippedBy::Tare(tare) => {
                let parts = TarePart::said(&self.parts, scene);
                format!("cloth and net {}{parts}", scene.mass(tare))
            }
            StrippedBy::Bare(bare) => format!("the meat alone {}", scene.mass(bare)),
        }
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        let sum: Milligrams = self.parts.iter().map(|p| p.reading.value).sum();
        let (tare, bare) = match &self.weighed {
            StrippedBy::Tare(tare) => {
                let summed = !self.parts.is_empty() && sum == tare.value;
                ((!summed).then(|| scene.again(tare)), None)
            }
            StrippedBy::Bare(bare) => (None, Some(scene.again(bare))),
        };
        Some(Ask::Stripped(StrippedAsk {
            piece: self.piece,
            tare,
            parts: TarePartAsk::again(&self.parts, scene),
            bare,
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        let part = vec![
            Field::text("name", "What it is"),
            Field::mass("reading", "Its weight"),
        ];
        vec![
            Field::mass("tare", "Cloth, casing and net, in one").optional(),
            Field::rows(
                "parts",
                "Or what that is made of",
                part,
                Some(json!({"name": "", "reading": ""})),
            ),
            Field::mass("bare", "Or the meat alone").optional(),
        ]
    }
}

/// A tare that differs by more of what was hung is asked about (share).
const ODD_SHARE: f64 = 0.08;
