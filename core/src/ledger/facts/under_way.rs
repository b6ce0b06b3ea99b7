//! A piece is entered that was on its way already: a household begins amid the season. What is not known of it stays unknown.

use crate::catalogue::SnapshotKey;
use crate::catalogue::builds::BuildRef;
use crate::catalogue::steps::StepKind;
use crate::dose::Dose;
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::ids::PieceId;
use crate::ledger::facts::dosed::dose_moves;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, gone, is_gain, positive, say, thickness, tidy};
use crate::ledger::state::{Hanging, InCure, Piece, Point, State, Weighing};
use crate::ledger::{Account, Entry, Loss};
use crate::piece::{Heat, StopBy};
use crate::place::PlaceId;
use crate::shape::Shape;
use crate::units::{Celsius, Fraction, Milligrams, Reading, Typed, Units, reading};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Where a piece stood when it was entered.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum UnderWayAt {
    /// It lies in its cure.
    InCure,
    /// It hangs.
    Hanging,
    /// It waits to be packed.
    Ready,
}

/// A piece was entered that was on its way already.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct UnderWay {
    /// The piece.
    pub piece: PieceId,
    /// Its tag under the lot's.
    pub tag: String,
    /// Its cut.
    pub cut: String,
    /// Its product.
    pub build: BuildRef,
    /// Where it stood.
    pub at: UnderWayAt,
    /// Since when, if anybody knows.
    pub since: Option<Timestamp>,
    /// What the scale says: of what hangs with its cloth and net, else of the meat.
    pub reading: Reading,
    /// Its green weight, if anybody knows.
    pub green: Option<Reading>,
    /// What hangs there beside the meat.
    pub tare: Option<Reading>,
    /// What the scale said when it was hung, if anybody knows.
    pub gross_start: Option<Reading>,
    /// The share to lose.
    pub loss: Option<Typed<Fraction>>,
    /// The highest inside temperature, if it was heated and measured.
    pub inside: Option<Typed<Celsius>>,
    /// How it lies.
    pub shape: Shape,
    /// Its dose, if anybody knows.
    pub dose: Option<Box<Dose>>,
    /// The place it is in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
}

impl Fact for UnderWay {
    fn family(&self) -> Family<'_> {
        Family {
            about: vec![self.piece],
            makes: vec![(self.piece, &self.tag)],
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        vec![SnapshotKey::build(&self.build)]
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        let lot = state.lot.as_ref().ok_or_else(gone)?;
        thickness(self.shape.thickness(), "thickness", units)?;
        if self.tare().value >= self.reading.value {
            return err(
                "tare",
                "Cloth, net and clips cannot weigh as much as the whole piece. Weigh them alone and type that.".into(),
            );
        }
        let hung = self.gross_start.as_ref();
        if hung.is_some_and(|start| is_gain(self.reading.value, start.value)) {
            return err(
                "gross_start",
                format!(
                    "It weighs {} now, so it cannot have weighed less when it was hung. Check the digits and the unit.",
                    say(self.reading.value, units)
                ),
            );
        }
        if self
            .inside
            .as_ref()
            .is_some_and(|c| !(0.0..=BOILS.0 + 0.05).contains(&c.value.0))
        {
            return err("inside", too_hot_inside("62.8 C or 145 F"));
        }
        let green = self.green();
        let field = if self.green.is_some() {
            "green"
        } else {
            "reading"
        };
        if green > state.left {
            return err(
                field,
                format!(
                    "{} is more than the {} that is still in {}. Check the digits and the unit, or correct what was received.",
                    say(green, units),
                    say(state.left, units),
                    lot.received.tag
                ),
            );
        }
        if lot.closed.is_some() {
            return err(
                "lot",
                format!(
                    "The break-down of {} is finished. Undo that first.",
                    lot.received.tag
                ),
            );
        }
        let lost = green - self.net();
        let (account, lost) = if lost < Milligrams::ZERO {
            // Heavier than it was green: brine it took up.
            (Account::Material("brine taken up".into()), lost)
        } else {
            (Account::Loss(self.loss(state)), lost)
        };
        let mut moves = vec![
            (Account::Lot, -green),
            (Account::Piece(self.piece), self.net()),
            (account, lost),
        ];
        if self.at == UnderWayAt::InCure {
            let dosed = self.dose.iter().flat_map(|d| dose_moves(d, self.piece));
            moves.extend(dosed.map(|p| (p.account, p.mass)));
        }
        Ok(tidy(moves))
    }

    fn begin(&self, state: &mut State, entry: &Entry) {
        let since = self.since.unwrap_or(entry.happened_at);
        // A weight that nobody remembers is the one of today, and was never on a scale before.
        let weighed_green = if self.green.is_some() {
            since
        } else {
            entry.happened_at
        };
        let build = state.catalogue().build_as(&self.build);
        let mut piece = Piece {
            cut: self.cut.clone(),
            shape: self.shape.clone(),
            cure: Some(InCure {
                injected: Milligrams::ZERO,
                topped: Vec::new(),
                entry: entry.id,
                meat: self.green(),
                since,
                dose: self.dose.as_deref().cloned(),
            }),
            ..Piece::green(
                self.piece,
                &self.tag,
                self.green(),
                (entry.id, weighed_green),
            )
        };
        let before = |kind: StepKind| {
            let at = build.steps.iter().position(|s| s.kind == kind);
            build.steps[..at.unwrap_or(build.steps.len())].to_vec()
        };
        let done = match self.at {
            UnderWayAt::InCure => before(StepKind::Cure),
            UnderWayAt::Hanging => before(StepKind::Hang),
            UnderWayAt::Ready => before(StepKind::Pack),
        };
        piece.product = Some(build.clone());
        // Only the last is written down as done: what of the others was left out, nobody says.
        if let Some(last) = done.last() {
            piece.did(&last.id, since, None);
        }
        if self.at != UnderWayAt::InCure {
            piece.out_of_cure = Some(since);
            piece.smoked = self.inside.as_ref().map(|_| since);
            piece.heats.extend(self.inside.as_ref().map(|inside| Heat {
                run: None,
                of: self.piece,
                entry: entry.id,
                at: since,
                kind: None,
                inside: Some(inside.clone()),
                by_run: false,
                chamber: None,
                shared_by: None,
                peak: None,
                after: None,
                wet: false,
            }));
        }
        if self.at == UnderWayAt::Hanging {
            let (start, weighed_at) = match &self.gross_start {
                Some(start) => (start, since),
                None => (&self.reading, entry.happened_at),
            };
            let planned = build.hang.as_ref().map_or(0.35, |h| h.loss_fraction);
            piece.hanging = Some(Hanging {
                parts: Vec::new(),
                stripped: None,
                dry: self.tare().value,
                stop: StopBy::Weight,
                hook: None,
                entry: entry.id,
                since,
                since_known: self.since.is_some(),
                gross_start: start.value,
                tare: self.tare().value,
                loss: self.loss.as_ref().map_or(Fraction(planned), |l| l.value),
                until: None,
                lost: None,
                reason: None,
            });
            piece.weighings.push(Weighing {
                entry: entry.id,
                at: weighed_at,
                point: Point::Hung,
                net: start.value - self.tare().value,
            });
        }
        piece.since = since;
        state.pieces.insert(self.piece, piece);
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let since = piece.since;
            match self.at {
                UnderWayAt::InCure => {}
                UnderWayAt::Hanging if self.gross_start.is_some() => {
                    piece.weighed((entry.id, entry.happened_at), Point::WeighedIn, self.net());
                }
                UnderWayAt::Hanging => {}
                UnderWayAt::Ready => {
                    piece.weighed((entry.id, entry.happened_at), Point::OutOfCure, self.net())
                }
            }
            piece.moved(since, self.place);
            piece.since = since;
        }
    }

    fn label(&self) -> &'static str {
        "entered on its way"
    }
}

impl UnderWay {
    /// What hangs there beside the meat.
    fn tare(&self) -> Reading {
        self.tare.clone().unwrap_or_else(|| reading(0.0))
    }

    /// The meat alone.
    fn net(&self) -> Milligrams {
        self.reading.value - self.tare().value
    }

    /// Its green weight; where nobody knows it, what the scale says now.
    pub(crate) fn green(&self) -> Milligrams {
        self.green.as_ref().map_or(self.net(), |g| g.value)
    }

    /// What explains that it is lighter than it was green.
    fn loss(&self, state: &State) -> Loss {
        let build = state.catalogue().build_as(&self.build);
        match self.at {
            UnderWayAt::InCure => Loss::Drip,
            UnderWayAt::Hanging => Loss::Evaporation,
            UnderWayAt::Ready if build.is_dried() => Loss::Evaporation,
            UnderWayAt::Ready if build.is_smoked() => Loss::Smoke,
            UnderWayAt::Ready => Loss::Drip,
        }
    }
}
