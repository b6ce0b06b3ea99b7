//! A piece is entered that was on its way already: a household begins amid the season. What is not known of it stays unknown.

use crate::acts::context::words;
use crate::acts::form::cuts;
use crate::acts::received::ReceivedAsk;
use crate::acts::weighed::{WeighedAsk, as_weighed, weighed_again, weighed_form};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::species::Species;
use crate::caution::Finding;
use crate::form::{AskError, Count, Field, FieldKind};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{EntryId, LotId};
use crate::ledger::facts::Act;
use crate::ledger::facts::under_way::{UnderWay, UnderWayAt};
use crate::ledger::odd::over_scale;
use crate::ledger::state::Piece;
use crate::place::PlaceUse;
use crate::shape::Shape;
use crate::units::{Fraction, Typed};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

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

impl Draft for UnderWayAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let old = instead.and_then(|(lot, act)| Some((lot, act.of::<UnderWay>()?)));
        let mut acts = Vec::new();
        let (lot, piece, tag, species) = match (old, self.lot, &self.received) {
            (Some((lot, old)), _, _) => {
                (lot, old.piece, old.tag.clone(), species_of(context, lot)?)
            }
            (None, Some(lot), None) => {
                let (piece, tag) = context.fresh_piece(lot)?;
                (lot, piece, tag, species_of(context, lot)?)
            }
            (None, None, Some(ask)) => {
                let came = ask
                    .received(context, None)
                    .map_err(|e| e.under("received"))?;
                let lot = context.new_lot();
                let (piece, tag) = context.first_piece(lot, &came.tag);
                let species = context
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
            Some((_, old)) => context.catalogue().build_as(&old.build),
            None => context.build(&self.build)?.clone(),
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
        let reading = context.mass(&self.reading, "reading")?;
        let green = context.mass_if(self.green.as_deref(), "green")?;
        let tare = context.mass_if(self.tare.as_deref(), "tare")?;
        if self.at != UnderWayAt::Hanging && tare.is_some() {
            return Err(AskError::field(
                "tare",
                "Only what hangs has something beside the meat on the scale. Leave it empty.",
            ));
        }
        let since = match words(self.since.as_deref()) {
            Some(text) => Some(context.moment(&text, "since")?),
            None => None,
        };
        let loss = match words(self.loss_fraction.as_deref()) {
            Some(text) => {
                let share: Typed<Fraction> = context.typed(&text, "loss_fraction")?;
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
            gross_start: context.mass_if(self.gross_start.as_deref(), "gross_start")?,
            loss,
            inside: context.typed_if(self.inside.as_deref(), "inside")?,
            shape: Shape {
                thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
                skin_on: self.skin_on,
                bone_in: self.bone_in,
                fat_cap: self.fat_cap,
                fat_cover: None,
            },
            dose: None,
            place: context.place(self.place.as_ref(), self.at.places(), "place")?,
        };
        if let Some(weighed) = &self.weighed {
            // Judged as the piece it will be.
            let mut meat = Piece::green(piece, &act.tag, act.green(), (EntryId(0), context.now));
            meat.mass = act.green();
            meat.shape.skin_on = self.skin_on;
            meat.product = Some(build);
            let known = old.and_then(|(_, o)| o.dose.as_deref());
            act.dose = Some(Box::new(as_weighed(
                weighed, &meat, known, "weighed", context,
            )?));
        }
        acts.push((lot, Act::UnderWay(act)));
        Ok(acts)
    }
}

fn species_of(context: &DraftContext<'_>, lot: LotId) -> Result<Arc<Species>, AskError> {
    let found = context.lot(lot)?.state.lot.as_ref();
    found
        .map(|l| {
            context
                .catalogue()
                .species_as(&l.received.species, l.received.species_version)
        })
        .ok_or_else(|| AskError::no_lot(lot))
}

impl Review for UnderWay {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let home = validator.home;
        let inside = self.inside.as_ref();
        let unit = inside.and_then(|c| unit_doubt(c, ReadWhere::InsideHot));
        over_scale(&self.reading, &home.settings)
            .into_iter()
            .chain(unit)
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let at = match self.at {
            UnderWayAt::InCure => "in its cure",
            UnderWayAt::Hanging => "hanging",
            UnderWayAt::Ready => "ready to pack",
        };
        let build = render.catalogue().build_as(&self.build);
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
            render.mass(&self.reading),
            self.cut.replace('_', " "),
            build.name
        )
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::UnderWay(UnderWayAsk {
            lot: Some(lot),
            received: None,
            cut: self.cut.clone(),
            build: self.build.key.clone(),
            at: self.at,
            since: self.since.map(|t| render.moment_again(t)),
            reading: render.again(&self.reading),
            green: self.green.as_ref().map(|r| render.again(r)),
            tare: self.tare.as_ref().map(|r| render.again(r)),
            gross_start: self.gross_start.as_ref().map(|r| render.again(r)),
            loss_fraction: self.loss.as_ref().map(|l| render.again(l)),
            inside: self.inside.as_ref().map(|c| render.again(c)),
            thickness: self.shape.thickness.as_ref().map(|t| render.again(t)),
            skin_on: self.shape.skin_on,
            bone_in: self.shape.bone_in,
            fat_cap: self.shape.fat_cap,
            weighed: self.dose.as_ref().map(|d| weighed_again(d, render)),
            place: self.place.map(Count::from),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut fields = vec![
            Field::mass("reading", "What the scale says"),
            Field::mass("green", "Green weight, if known").optional(),
            Field::one_of("cut", "Cut", cuts(render)),
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
        fields.extend(render.place_field("place", self.at.places()));
        if let Some(dose) = &self.dose {
            fields.extend(weighed_form(dose, "weighed", render));
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
