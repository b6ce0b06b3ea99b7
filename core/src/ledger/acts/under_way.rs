//! A piece is entered that was on its way already: a household begins amid the season. What is not known of it stays unknown.

use super::desk::words;
use super::dosed::dose_moves;
use super::form::{Count, cuts};
use super::received::ReceivedAsk;
use super::weighed::{WeighedAsk, as_weighed, weighed_again, weighed_form};
use super::{
    Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene,
};
use crate::catalogue::KeptKey;
use crate::catalogue::builds::BuildRef;
use crate::catalogue::species::Species;
use crate::catalogue::steps::StepKind;
use crate::caution::Finding;
use crate::cure::dose::Dose;
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{EntryId, LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::odd::over_scale;
use crate::ledger::post::{Posted, err, gone, is_gain, positive, say, thickness, tidy};
use crate::ledger::state::{Hanging, InCure, Piece, Point, State, Weighing};
use crate::ledger::{Account, Loss};
use crate::piece::{Heat, Shape, StopBy};
use crate::place::{PlaceId, PlaceUse};
use crate::units::{Celsius, Fraction, Milligrams, Reading, Typed, Units, reading};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

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

/// A piece is entered that is on its way already.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct UnderWayAsk {
    /// The lot it came out of, if that is entered.
    #[serde(default)]
    pub lot: Option<LotId>,
    /// What it came out of, if that is not entered yet. Give this, or `lot`.
    #[serde(default)]
    pub received: Option<ReceivedAsk>,
    /// Its cut.
    pub cut: String,
    /// Its product.
    pub build: String,
    /// Where it stands.
    pub at: UnderWayAt,
    /// Since when, as RFC 3339, as local date and time, or as a day.
    #[serde(default)]
    pub since: Option<String>,
    /// What the scale says now, as typed: of what hangs with its cloth and net, else of the meat.
    pub reading: String,
    /// Its green weight, as typed.
    #[serde(default)]
    pub green: Option<String>,
    /// What hangs there beside the meat, as typed.
    #[serde(default)]
    pub tare: Option<String>,
    /// What the scale said when it was hung, as typed.
    #[serde(default)]
    pub gross_start: Option<String>,
    /// The share to lose, as typed; the build's when left out.
    #[serde(default)]
    pub loss_fraction: Option<String>,
    /// The highest inside temperature, as typed.
    #[serde(default)]
    pub inside: Option<String>,
    /// Its greatest thickness, as typed.
    #[serde(default)]
    pub thickness: Option<String>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Whether bone is in.
    #[serde(default)]
    pub bone_in: bool,
    /// Whether fat covers one side.
    #[serde(default)]
    pub fat_cap: bool,
    /// What was weighed for its cure; left out when nobody knows.
    #[serde(default)]
    pub weighed: Option<WeighedAsk>,
    /// The place it is in, by its number on the household's list.
    #[serde(default)]
    pub place: Option<Count>,
}

impl Asked for UnderWayAsk {
    fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let old = match instead {
            Some((lot, Act::UnderWay(old))) => Some((lot, old)),
            _ => None,
        };
        let mut acts = Vec::new();
        let (lot, piece, tag, species) = match (old, self.lot, &self.received) {
            (Some((lot, old)), _, _) => (lot, old.piece, old.tag.clone(), species_of(desk, lot)?),
            (None, Some(lot), None) => {
                let (piece, tag) = desk.fresh_piece(lot)?;
                (lot, piece, tag, species_of(desk, lot)?)
            }
            (None, None, Some(ask)) => {
                let came = ask.received(desk, None).map_err(|e| e.under("received"))?;
                let lot = desk.new_lot();
                let (piece, tag) = desk.first_piece(lot, &came.tag);
                let species = desk
                    .catalogue()
                    .species_as(&came.species, came.species_version);
                acts.push((lot, Act::Received(came)));
                (lot, piece, tag, species)
            }
            (None, _, _) => {
                return Err(AskError::field(
                    "lot",
                    "Say what it came out of: a lot that is entered, or what to receive.",
                ));
            }
        };
        if species.cut(&self.cut).is_none() {
            return Err(AskError::field(
                "cut",
                format!("Choose one of the cuts of {}.", species.name),
            ));
        }
        let build = match old.filter(|(_, o)| o.build.key == self.build) {
            Some((_, old)) => desk.catalogue().build_as(&old.build),
            None => desk.build(&self.build)?.clone(),
        };
        if build.ending {
            return Err(AskError::field(
                "build",
                format!(
                    "{} is not on its way to anything: weigh it out of its lot.",
                    build.name
                ),
            ));
        }
        if self.at == UnderWayAt::Hanging && !build.hangs() {
            return Err(AskError::field(
                "at",
                format!(
                    "{} does not hang. Say that it is in cure, or ready.",
                    build.name
                ),
            ));
        }
        let reading = desk.mass(&self.reading, "reading")?;
        let green = desk.mass_if(self.green.as_deref(), "green")?;
        let tare = desk.mass_if(self.tare.as_deref(), "tare")?;
        if self.at != UnderWayAt::Hanging && tare.is_some() {
            return Err(AskError::field(
                "tare",
                "Only what hangs has something beside the meat on the scale. Leave it empty.",
            ));
        }
        let since = match words(self.since.as_deref()) {
            Some(text) => Some(desk.moment(&text, "since")?),
            None => None,
        };
        let loss = match words(self.loss_fraction.as_deref()) {
            Some(text) => {
                let share: Typed<Fraction> = desk.typed(&text, "loss_fraction")?;
                if share.value.0 <= 0.0 || share.value.0 >= 1.0 {
                    return Err(AskError::field(
                        "loss_fraction",
                        "Type a share, such as 35 %.",
                    ));
                }
                Some(share)
            }
            None => None,
        };
        let mut act = UnderWay {
            piece,
            tag,
            cut: self.cut.clone(),
            build: build.reference(),
            at: self.at,
            since,
            reading,
            green,
            tare,
            gross_start: desk.mass_if(self.gross_start.as_deref(), "gross_start")?,
            loss,
            inside: desk.typed_if(self.inside.as_deref(), "inside")?,
            shape: Shape {
                thickness: desk.typed_if(self.thickness.as_deref(), "thickness")?,
                skin_on: self.skin_on,
                bone_in: self.bone_in,
                fat_cap: self.fat_cap,
                fat_cover: None,
            },
            dose: None,
            place: desk.place(self.place.as_ref(), self.at.places(), "place")?,
        };
        if let Some(weighed) = &self.weighed {
            // Judged as the piece it will be.
            let mut meat = Piece::green(piece, &act.tag, act.green(), (EntryId(0), desk.now));
            meat.mass = act.green();
            meat.shape.skin_on = self.skin_on;
            meat.product = Some(build);
            let known = old.and_then(|(_, o)| o.dose.as_deref());
            act.dose = Some(Box::new(as_weighed(
                weighed, &meat, known, "weighed", desk,
            )?));
        }
        acts.push((lot, Act::UnderWay(act)));
        Ok(acts)
    }
}

impl Deed for UnderWay {
    fn family(&self) -> Family<'_> {
        Family {
            about: vec![self.piece],
            makes: vec![(self.piece, &self.tag)],
            ..Family::default()
        }
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        vec![KeptKey::build(&self.build)]
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
                tare_before: None,
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

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let home = gate.home;
        let inside = self.inside.as_ref();
        let unit = inside.and_then(|c| unit_doubt(c, ReadWhere::InsideHot));
        over_scale(&self.reading, home)
            .into_iter()
            .chain(unit)
            .collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "entered on its way"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let at = match self.at {
            UnderWayAt::InCure => "in its cure",
            UnderWayAt::Hanging => "hanging",
            UnderWayAt::Ready => "ready to pack",
        };
        let build = scene.catalogue().build_as(&self.build);
        let counted = self.at == UnderWayAt::Hanging && self.gross_start.is_none();
        let unknown: String = [
            (self.dose.is_none(), ", dose unknown"),
            (self.green.is_none(), ", green weight unknown"),
            (counted, ", loss counted from this weight"),
        ]
        .into_iter()
        .filter_map(|(is, words)| is.then_some(words))
        .collect();
        format!(
            "{} {}, {at}, for {}{unknown}",
            scene.mass(&self.reading),
            self.cut.replace('_', " "),
            build.name
        )
    }

    fn ask_again(&self, lot: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::UnderWay(UnderWayAsk {
            lot: Some(lot),
            received: None,
            cut: self.cut.clone(),
            build: self.build.key.clone(),
            at: self.at,
            since: self.since.map(|t| scene.moment_again(t)),
            reading: scene.again(&self.reading),
            green: self.green.as_ref().map(|r| scene.again(r)),
            tare: self.tare.as_ref().map(|r| scene.again(r)),
            gross_start: self.gross_start.as_ref().map(|r| scene.again(r)),
            loss_fraction: self.loss.as_ref().map(|l| scene.again(l)),
            inside: self.inside.as_ref().map(|c| scene.again(c)),
            thickness: self.shape.thickness.as_ref().map(|t| scene.again(t)),
            skin_on: self.shape.skin_on,
            bone_in: self.shape.bone_in,
            fat_cap: self.shape.fat_cap,
            weighed: self.dose.as_ref().map(|d| weighed_again(d, scene)),
            place: self.place.map(Count::from),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let mut fields = vec![
            Field::mass("reading", "What the scale says"),
            Field::mass("green", "Green weight, if known").optional(),
            Field::one_of("cut", "Cut", cuts(scene)),
            Field::new("since", "Since when", FieldKind::Moment).optional(),
            Field::thickness("thickness", "Thickest place"),
            Field::new("inside", "Warmest inside", FieldKind::Temperature).optional(),
        ];
        if self.at == UnderWayAt::Hanging {
            fields.extend([
                Field::mass("tare", "Not meat").optional(),
                Field::mass("gross_start", "On the scale when it was hung").optional(),
                Field::new("loss_fraction", "Share to lose", FieldKind::Share).optional(),
            ]);
        }
        fields.extend(scene.place_field("place", self.at.places()));
        if let Some(dose) = &self.dose {
            fields.extend(weighed_form(dose, "weighed", scene));
        }
        fields.extend([
            Field::tick("skin_on", "Skin on"),
            Field::tick("bone_in", "Bone in"),
            Field::tick("fat_cap", "Fat on one side"),
        ]);
        fields
    }
}

impl UnderWayAt {
    /// What a place has to be for that a piece standing so lies in.
    const fn places(self) -> &'static [PlaceUse] {
        match self {
            Self::InCure => &[PlaceUse::Cold, PlaceUse::Brine, PlaceUse::Press],
            Self::Hanging => &[PlaceUse::Hang],
            Self::Ready => &[PlaceUse::Cold, PlaceUse::Freeze],
        }
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
    fn green(&self) -> Milligrams {
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

fn species_of(desk: &Desk<'_>, lot: LotId) -> Result<Arc<Species>, AskError> {
    let found = desk.lot(lot)?.state.lot.as_ref();
    found
        .map(|l| {
            desk.catalogue()
                .species_as(&l.received.species, l.received.species_version)
        })
        .ok_or_else(|| AskError::no_lot(lot))
}
