//! Hung up, with what hangs there beside the meat.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::builds::Build;
use crate::catalogue::place_kinds::DryingAir;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::cure::no_nitrite::{Door, hazard};
use crate::cure::sheet::Jar;
use crate::form::{AskError, Count, Field, FieldKind, FieldOption};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::hung::{Hung, TarePart};
use crate::ledger::odd::lost_too_much;
use crate::ledger::state::Piece;
use crate::piece::StopBy;
use crate::place::{PlaceId, PlaceUse};
use crate::reason;
use crate::units::show::{self, share};
use crate::units::{Amount, Fraction, Milligrams, Reading, Typed, reading};
use crate::verdict::LEAST_LOSS;
use serde::{Deserialize, Serialize};
use serde_json::json;

/// Something that hangs there and is not meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TarePartAsk {
    /// What it is: cloth, net, hook.
    pub name: String,
    /// Its weight, as typed.
    #[serde(default)]
    pub reading: Option<String>,
    /// Or the jar it came out of, before and after.
    #[serde(default)]
    pub jar: Option<Jar>,
}

/// Hung up.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HungAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several that were weighed together, with all that hangs there: weight and tare are shared out by what each weighs.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// Its weight with everything that hangs there, as typed.
    pub reading: String,
    /// What hangs there beside the meat, as typed; the sum of its parts when left out.
    #[serde(default)]
    pub tare: Option<String>,
    /// What that is made of.
    #[serde(default)]
    pub parts: Vec<TarePartAsk>,
    /// The share to lose, a number from 0 to 1 or as typed: `35 %`; the build's when left out.
    #[serde(default)]
    pub loss_fraction: Option<Amount>,
    /// The place it hangs in, by its number on the household's list.
    #[serde(default)]
    pub place: Option<Count>,
    /// Its hook there, counted from one: what hangs on the next ones hangs beside it.
    #[serde(default)]
    pub hook: Option<Count>,
    /// By what it is taken down: its weight when left out. Days and feel prove no loss.
    #[serde(default)]
    pub stop: StopWord,
    /// After so many days, where they decide.
    #[serde(default)]
    pub days: Option<Count>,
    /// Why, where it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

/// By what a piece is taken down, as it is asked.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StopWord {
    /// By its weight.
    #[default]
    Weight,
    /// By days.
    Days,
    /// By how it feels.
    Feel,
}

impl Draft for HungAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let typed_loss = context.share_if(self.loss_fraction.as_ref(), "loss_fraction")?;
        let parts = TarePartAsk::read(&self.parts, context)?;
        let tare = match context.mass_if(self.tare.as_deref(), "tare")? {
            Some(tare) => tare,
            None if parts.is_empty() => {
                return Err(AskError::field(
                    "tare",
                    "Weigh cloth, net and clips alone and type that; 0 when nothing hangs there but the piece.",
                ));
            }
            None => reading(parts.iter().map(|p| p.reading.value.grams()).sum()),
        };
        let place = context.place(self.place.as_ref(), &[PlaceUse::Hang], "place")?;
        let hook = context.count_if(self.hook.as_ref(), "hook")?;
        let stop = self.stop_by(context)?;
        let reading = context.mass(&self.reading, "reading")?;
        let pieces = context.those(self.piece, &self.pieces, None)?;
        let grosses = self.grosses(&reading, &tare, &pieces, context)?;
        let tares = context.shared_reading(&tare, &pieces)?;
        let mut shares_of = Vec::new();
        for part in &parts {
            shares_of.push(context.shared_reading(&part.reading, &pieces)?);
        }
        let mut acts = Vec::new();
        for (i, piece) in pieces.iter().enumerate() {
            let (lot, found) = context.find(*piece)?;
            let planned = found
                .build()
                .and_then(|b| b.hang.as_ref())
                .map_or(0.35, |h| h.loss_fraction);
            let own = parts.iter().zip(&shares_of);
            let act = Hung {
                piece: *piece,
                reading: grosses[i].clone(),
                tare: tares[i].clone(),
                parts: own
                    .map(|(part, shares)| TarePart {
                        reading: shares[i].clone(),
                        ..part.clone()
                    })
                    .collect(),
                loss: typed_loss
                    .clone()
                    .unwrap_or(Typed::unsaid(Fraction(planned))),
                place,
                hook: hook.map(|first| first + i as u32),
                stop,
                reason: words(self.reason.as_deref()),
            };
            acts.push((lot.state.id, Act::Hung(act)));
        }
        Ok(acts)
    }
}

impl HungAsk {
    /// What the scale would show of each: its share of the meat, with its share of what hangs there besides.
    fn grosses(
        &self,
        all: &Reading,
        tare: &Reading,
        pieces: &[PieceId],
        context: &DraftContext<'_>,
    ) -> Result<Vec<Reading>, AskError> {
        if let [_] = pieces {
            return Ok(vec![all.clone()]);
        }
        if all.value <= tare.value {
            return Err(AskError::field(
                "reading",
                "That is no more than what hangs there besides. Type what the scale shows with all of them on it.",
            ));
        }
        let meat = Typed::unsaid(all.value - tare.value);
        let nets = context.shared_reading(&meat, pieces)?;
        let tares = context.shared_reading(tare, pieces)?;
        let gross = nets.iter().zip(&tares);
        Ok(gross
            .map(|(net, tare)| Typed::unsaid(net.value + tare.value))
            .collect())
    }
}

/// A room or the weather, which nothing keeps cool; an open piece in a fridge.
pub(crate) fn unlike_its_place(
    validator: &Validator<'_>,
    piece: &Piece,
    place: Option<PlaceId>,
    tare: Milligrams,
) -> Option<Finding> {
    let place = validator.home.settings.place(place?)?;
    let raw = piece.build().is_some_and(|b| b.raw_dried || b.is_dried());
    let caution = |code: Code, message: String| Finding::new(code, Severity::Caution, message);
    match place.kind()?.dries? {
            DryingAir::Chamber | DryingAir::CoolRoom => None,
            DryingAir::Fridge => (raw && !tare.is_some()).then(|| {
                caution(
                    Code::OpenInFridge,
                    format!("In {} the air is so dry that the rind of an open piece shuts its water in.", place.name),
                )
                .saw("nothing around it")
                .wants("a casing, a cloth or a wrap, weighed as tare")
                .remedy("Case or wrap it first, or keep it as typed and feel its rind every week.")
            }),
            DryingAir::Room | DryingAir::Outdoors => Some(
                caution(
                    Code::RoomDrying,
                    format!("Nothing keeps {} cool: over 18 °C what is raw spoils, or makes poison that no cooking undoes.", place.name),
                )
                .saw(place.name.clone())
                .wants("10 to 15 °C, 70 to 80 % humidity")
                .remedy("A chamber, a cool cellar or a fridge to dry in is safer. Kept as typed: read it morning, midday and night, out of reach of animals and flies, a drip tray under it."),
            ),
        }
}

/// Nothing hangs longer (days).
const MOST_DAYS: u32 = 1_000;

/// A share to lose under this is asked about.
const ODD_UNDER: f64 = 0.10;

/// A share to lose over this is asked about.
const ODD_OVER: f64 = 0.60;

/// More than this share lost on the way to the hook is asked about.
const USUAL_LOSS: f64 = 0.15;

impl Review for Hung {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let (state, home) = (validator.state, validator.home);
        let mut found = lost_too_much(
            self.piece,
            self.reading.value - self.tare.value,
            USUAL_LOSS,
            state,
            home.settings.units,
        );
        if let Some(piece) = validator.piece(self.piece) {
            found.extend(self.without_nitrite(validator, piece));
            found.extend(validator.judge().not_for_drying(state, piece));
            found.extend(validator.soured(piece));
            found.extend(self.odd_target(piece));
            found.extend(self.no_tare(piece));
            found.extend(unlike_its_place(
                validator,
                piece,
                self.place,
                self.tare.value,
            ));
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let parts = TarePart::label(&self.parts, render);
        let stop = match self.stop {
            StopBy::Weight => String::new(),
            StopBy::Days { days } => format!(", taken down after {}", show::days(f64::from(days))),
            StopBy::Feel => ", taken down by feel".into(),
        };
        let hook = self.hook.map(|h| format!(", hook {h}")).unwrap_or_default();
        format!(
            "{} on the scale, {} of it not meat{parts}, to lose {}{stop}{hook}",
            render.mass(&self.reading),
            render.mass(&self.tare),
            share(self.loss.value)
        )
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        let sum: Milligrams = self.parts.iter().map(|p| p.reading.value).sum();
        let summed = !self.parts.is_empty() && sum == self.tare.value;
        Some(Ask::Hung(HungAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            reading: render.again(&self.reading),
            // A sum is made again of its parts; anything else was weighed in one.
            tare: (!summed).then(|| render.again(&self.tare)),
            parts: TarePartAsk::again(&self.parts, render),
            loss_fraction: Some(Amount::Text(render.again(&self.loss))),
            place: self.place.map(Count::from),
            hook: self.hook.map(Count::from),
            stop: StopWord::of(self.stop),
            days: self.stop.days().map(Count::from),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let part = vec![
            Field::text("name", "What it is"),
            Field::mass("reading", "Its weight"),
        ];
        let mut fields = vec![
            Field::mass("reading", "On the scale"),
            Field::mass("tare", "Not meat, in one").optional(),
            Field::rows(
                "parts",
                "Or what that is made of",
                part,
                Some(json!({"name": "", "reading": ""})),
            ),
            Field::new("loss_fraction", "Share to lose", FieldKind::Share),
        ];
        fields.extend(render.place_field("place", &[PlaceUse::Hang]));
        fields.push(Field::new("hook", "Hook", FieldKind::Count).optional());
        let stops = [
            ("weight", "its weight"),
            ("days", "days"),
            ("feel", "its feel"),
        ];
        let options = stops.map(|(value, label)| FieldOption {
            value: value.into(),
            label: label.into(),
        });
        fields.push(Field::one_of("stop", "Taken down by", options.to_vec()));
        fields.push(Field::new("days", "After how many days", FieldKind::Count).optional());
        fields.push(Field::text("reason", "Why, if it goes past a stop").optional());
        fields
    }
}

impl TarePart {
    /// ` (cloth 20 g, net 18 g)`; nothing where nobody said what a tare is made of.
    pub(crate) fn label(parts: &[Self], render: &RenderContext<'_>) -> String {
        if parts.is_empty() {
            return String::new();
        }
        let each = parts
            .iter()
            .map(|p| format!("{} {}", p.name, render.mass(&p.reading)));
        format!(" ({})", each.collect::<Vec<_>>().join(", "))
    }
}

impl TarePartAsk {
    /// Parts as they are asked again.
    pub(crate) fn again(parts: &[TarePart], render: &RenderContext<'_>) -> Vec<Self> {
        let again = parts.iter().map(|p| Self {
            name: p.name.clone(),
            reading: Some(render.again(&p.reading)),
            jar: None,
        });
        again.collect()
    }

    /// Every part with its weight.
    pub(crate) fn read(
        all: &[Self],
        context: &DraftContext<'_>,
    ) -> Result<Vec<TarePart>, AskError> {
        let mut parts = Vec::new();
        for (i, part) in all.iter().enumerate() {
            let field = |name: &str| format!("parts[{i}].{name}");
            if part.name.trim().is_empty() {
                return Err(AskError::field(
                    &field("name"),
                    "Say what hangs there, such as cloth.",
                ));
            }
            let typed = context.mass_if(part.reading.as_deref(), &field("reading"))?;
            let reading = match (typed, &part.jar) {
                (Some(reading), None) => reading,
                (None, Some(jar)) => {
                    let gone = jar
                        .gone(context.home.settings.units)
                        .map_err(|e| AskError::Fields(vec![e.under(&field("jar"))]))?;
                    reading(gone.0)
                }
                (Some(_), Some(_)) | (None, None) => {
                    return Err(AskError::field(
                        &field("reading"),
                        format!(
                            "Type what {} weighs, or its jar before and after: one of these.",
                            part.name.trim()
                        ),
                    ));
                }
            };
            parts.push(TarePart {
                name: part.name.trim().into(),
                reading,
            });
        }
        Ok(parts)
    }
}

impl StopWord {
    const fn of(stop: StopBy) -> Self {
        match stop {
            StopBy::Weight => Self::Weight,
            StopBy::Days { .. } => Self::Days,
            StopBy::Feel => Self::Feel,
        }
    }
}

impl HungAsk {
    fn stop_by(&self, context: &DraftContext<'_>) -> Result<StopBy, AskError> {
        let days = context.count_if(self.days.as_ref(), "days")?;
        match (self.stop, days) {
            (StopWord::Weight, None) => Ok(StopBy::Weight),
            (StopWord::Feel, None) => Ok(StopBy::Feel),
            (StopWord::Days, Some(days)) if (1..=MOST_DAYS).contains(&days) => {
                Ok(StopBy::Days { days })
            }
            (StopWord::Days, Some(_) | None) => Err(AskError::field(
                "days",
                format!("Give the days on its hook, from 1 to {MOST_DAYS}."),
            )),
            (StopWord::Weight | StopWord::Feel, Some(_)) => Err(AskError::field(
                "days",
                "Days decide only where it is taken down by days. Choose that, or leave them empty.",
            )),
        }
    }
}

impl Hung {
    fn without_nitrite(&self, validator: &Validator<'_>, piece: &Piece) -> Option<Finding> {
        let dried = piece.build().is_some_and(Build::is_dried);
        (dried && validator.judge().has_no_nitrite(validator.state, piece))
            .then(|| hazard(&piece.tag, Door::Hang, "0 ppm nitrite"))
    }

    /// A loss that leaves raw meat, or leather.
    fn odd_target(&self, piece: &Piece) -> Option<Finding> {
        let loss = self.loss.value.0;
        let raw = piece.build().is_some_and(|b| b.raw_dried);
        let edge = piece
            .build()
            .and_then(|b| b.hang.as_ref())
            .map(|h| h.least());
        let reasoned = self.reason.as_deref().is_some_and(reason::is_enough);
        let (message, wants) = if !(ODD_UNDER..=ODD_OVER).contains(&loss) {
            (
                "That is a strange share to lose.".to_string(),
                "10 to 60 %".to_string(),
            )
        } else if raw && !reasoned && loss < LEAST_LOSS - 1e-9 {
            (
                "With so little lost it is raw meat, and stays “cook before eating” unless a typed reason says why it is meant so.".to_string(),
                share(Fraction(LEAST_LOSS)),
            )
        } else if let Some(edge) = edge.filter(|e| raw && !reasoned && loss < e - 1e-9) {
            (
                "That is under what this product is dried to; it counts as its lower edge."
                    .to_string(),
                share(Fraction(edge)),
            )
        } else {
            return None;
        };
        Some(
            Finding::new(Code::LossTarget, Severity::Caution, message)
                .saw(share(self.loss.value))
                .wants(wants)
                .remedy("Type the share as a percent, such as 35 %, or keep it as typed."),
        )
    }

    /// What is cased or netted has something beside the meat on the scale.
    fn no_tare(&self, piece: &Piece) -> Option<Finding> {
        let cased = piece.build().is_some_and(|b| {
            b.step(StepKind::Case).is_some() || b.wrap.casing.is_some() || b.wrap.net
        });
        (cased && !self.tare.value.is_some()).then(|| {
            Finding::new(
                Code::TareMissing,
                Severity::Caution,
                "Casing, cloth, net, string and hook hang on the scale too, and none of it dries.",
            )
            .saw("0 g beside the meat")
            .wants("their weight")
            .remedy("Weigh the same again without the meat, or keep it as typed if nothing hangs there.")
        })
    }
}
