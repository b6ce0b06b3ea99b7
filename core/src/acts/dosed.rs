//! A piece was put into its cure; its dose is a fact with the numbers it was made of.

use crate::acts::context::{filled, words};
use crate::acts::weigh_out::SheetAsk;
use crate::acts::weighed::{WeighedAsk, WeighedLineAsk, as_weighed, weighed_again, weighed_form};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::builds::Build;
use crate::catalogue::cures::Role;
use crate::caution::{Code, Finding, Severity};
use crate::cure::sheet::{OwnDose, Sheet, Started, VesselAsk, doses};
use crate::cure::souring::cures_in;
use crate::dose::{Dose, InVessel, OwnTime, Turning};
use crate::form::{AskError, Count, Field};
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::facts::Act;
use crate::ledger::facts::dosed::Dosed;
use crate::ledger::state::{Piece, Stage};
use crate::place::PlaceUse;
use crate::reason;
use crate::units::show::{self, trim};
use crate::units::{Amount, GPerKg, Milligrams, Ppm, Typed};
use serde::{Deserialize, Serialize};

/// Pieces of one product are put into their cure.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DosedAsk {
    /// The pieces.
    pub pieces: Vec<PieceId>,
    /// True for one mix over all of them.
    #[serde(default)]
    pub mixed: bool,
    /// What is different from the build's dose.
    #[serde(default)]
    pub own: OwnDose,
    /// Another way of the product, by its word, or that of a recipe; its own way when left out.
    #[serde(default)]
    pub way: Option<String>,
    /// The product of one of the pieces by whose dose one mix goes over several products.
    #[serde(default)]
    pub recipe: Option<String>,
    /// The vessels they lie in. A piece that none names lies alone; in brine all such lie together.
    #[serde(default)]
    pub vessels: Vec<VesselAsk>,
    /// The cure-time school of this time, by its word.
    #[serde(default)]
    pub school: Option<String>,
    /// The days of a recipe, in the place of a school's.
    #[serde(default)]
    pub days: Option<Count>,
    /// Hours in a salt box, in the place of those by thickness.
    #[serde(default)]
    pub hours: Option<Amount>,
    /// Thicknesses that count in the place of the piece's own: of its zones, or rolled and tied. The greatest rules.
    #[serde(default)]
    pub zones: Vec<String>,
    /// Why those count, such as “the rub went between the layers”.
    #[serde(default)]
    pub zones_why: Option<String>,
    /// How often it is turned, in the place of what the product says.
    #[serde(default)]
    pub turning: Option<Turning>,
    /// How cold the brine was when the meat went in.
    #[serde(default)]
    pub brine_temperature: Option<String>,
    /// Whether the brine was stirred until it was clear.
    #[serde(default)]
    pub brine_clear: Option<bool>,
    /// A running vessel they are laid into as it stands: they share what is in it.
    #[serde(default)]
    pub into: Option<VesselId>,
    /// Why, when it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
    /// The place they are put in, by its number on the household's list.
    #[serde(default)]
    pub place: Option<Count>,
    /// What was ticked off as weighed out, where a screen asks for that: nothing else is started.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub ticked: Vec<TickedLine>,
    /// What was really weighed, when a dose is put right.
    #[serde(default)]
    pub weighed: Option<WeighedAsk>,
}

/// One number of a sheet that somebody weighed out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TickedLine {
    /// The piece, where each has its own.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// What it is called.
    pub name: String,
    /// The number that was hit (g).
    pub mass_g: f64,
}

/// The numbers that stand on the sheet now have to be those that were ticked off on it.
fn is_as_ticked(made: &Sheet, ticked: &[TickedLine]) -> Result<(), AskError> {
    let stands = |t: &TickedLine| {
        let lines = match t.piece {
            None => Some(&made.lines),
            Some(id) => made
                .vessels
                .iter()
                .find(|v| v.pieces.contains(&id))
                .map(|v| &v.lines),
        };
        let line = lines.and_then(|all| all.iter().find(|l| l.name == t.name));
        line.map(|l| l.shown_g)
    };
    let changed: Vec<_> = ticked
        .iter()
        .filter(|t| stands(t).is_none_or(|g| (g - t.mass_g).abs() > 1e-9))
        .map(|t| {
            let now = stands(t).map_or("not on it".into(), |g| format!("{} g", trim(g, 2)));
            format!(
                "{}: {} g was weighed, now it is {now}",
                t.name,
                trim(t.mass_g, 2)
            )
        })
        .collect();
    if changed.is_empty() {
        return Ok(());
    }
    Err(AskError::field(
        "ticked",
        format!(
            "The sheet changed since this was weighed out ({}). Look at it again.",
            changed.join("; ")
        ),
    ))
}

impl Draft for DosedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let Some(weighed) = &self.weighed else {
            return match (instead, self.into) {
                (Some((_, Act::Dosed(old))), None) => self.as_it_happened(old, context),
                (_, Some(vessel)) => self.laid_into(vessel, context),
                (_, None) => self.computed(context),
            };
        };
        let Some((_, Act::Dosed(old))) = instead else {
            return Err(AskError::field(
                "weighed",
                "A cure is started by the numbers of its sheet; what was really weighed is put right in its entry afterwards.",
            ));
        };
        if self.pieces != [old.piece] {
            return Err(AskError::field("pieces", "Correct one piece at a time."));
        }
        let (_, piece) = context.find(old.piece)?;
        let mut dose = as_weighed(weighed, piece, Some(&old.dose), "weighed", context)?;
        dose.reason = words(self.reason.as_deref());
        let act = Dosed {
            piece: old.piece,
            dose: Box::new(dose),
            place: context.place(self.place.as_ref(), self.places(context), "place")?,
        };
        context.about(old.piece, Act::Dosed(act))
    }
}

/// Raw meat that lay in a fridge for longer is asked about before it is dosed (days).
///
/// # Source
/// Three to five days are the usual advice for whole raw cuts in a home fridge.
const RAW_DAYS: i64 = 5;

/// Meat that lay raw and unfrozen for many days since it came in.
pub(crate) fn kept_raw(validator: &Validator<'_>, piece: &Piece) -> Option<Finding> {
    let raw = validator.state.raw_for(piece, validator.at)?;
    let days = raw.as_hours() / 24;
    (days > RAW_DAYS && !validator.correcting).then(|| {
        Finding::new(
            Code::KeptRaw,
            Severity::Caution,
            format!("{} is raw and {} in the house, unfrozen.", piece.tag, show::days(days as f64)),
        )
        .saw(show::days(days as f64))
        .wants(format!("at most {RAW_DAYS} days"))
        .remedy("Smell it and feel its surface: sour, sticky or off-colored meat is thrown away. If it was frozen, save when. Kept, it goes on.")
    })
}

impl Review for Dosed {
    /// What was weighed is never refused, but past a stop it is more often a slip than a dose. A
    /// sheet asks for the reason by itself.
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let explained = self.dose.reason.is_some();
        let asks = |f: &&Finding| match f.severity {
            Severity::Info => false,
            Severity::Caution => matches!(
                f.code,
                Code::SaltLow
                    | Code::SaltHigh
                    | Code::BrineNotCold
                    | Code::BrineNotClear
                    | Code::MayBeCure
                    | Code::OddAmount
                    | Code::OddTime
                    | Code::AcceleratorOverCap
                    | Code::FreshInRaw
            ),
            Severity::Stop => validator.correcting && !explained,
        };
        let piece = validator.piece(self.piece);
        let edible = piece
            .filter(|_| !validator.correcting)
            .and_then(|p| validator.edible(p));
        let findings = self.dose.findings.iter();
        let raw = piece.and_then(|p| kept_raw(validator, p));
        edible
            .into_iter()
            .chain(raw)
            .chain(findings.filter(asks).cloned())
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let dose = &self.dose;
        let lines: Vec<_> = dose
            .lines
            .iter()
            .map(|l| format!("{} {}", render.again(&l.mass), l.name))
            .collect();
        let reason = dose
            .reason
            .as_ref()
            .map(|r| format!(". Went past a stop: {r}"));
        format!(
            "{}: {} ppm nitrite{}",
            lines.join(", "),
            trim(dose.nitrite.nominal, 0),
            reason.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Dosed(DosedAsk {
            pieces: vec![self.piece],
            reason: self.dose.reason.clone(),
            place: self.place.map(Count::from),
            weighed: Some(weighed_again(&self.dose, render)),
            ..DosedAsk::default()
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut fields = weighed_form(&self.dose, "weighed", render);
        let piece = render.lot.state.pieces.get(&self.piece);
        fields.extend(render.place_field("place", cures_in(piece.and_then(|p| p.build()))));
        fields.push(Field::text("reason", "Why, if it goes past a stop").optional());
        fields
    }
}

impl DosedAsk {
    /// What a place has to be for, by the product of the first piece.
    fn places(&self, context: &DraftContext<'_>) -> &'static [PlaceUse] {
        let first = self.pieces.first().and_then(|id| context.book.piece(*id));
        cures_in(first.and_then(|(_, p)| p.build()))
    }

    /// What its sheet is asked of.
    #[must_use]
    pub fn on_sheet(&self) -> SheetAsk {
        SheetAsk {
            pieces: self.pieces.clone(),
            mixed: self.mixed,
            own: self.own.clone(),
            way: self.way.clone(),
            recipe: self.recipe.clone(),
            vessels: self.vessels.clone(),
            school: self.school.clone(),
            days: self.days.clone(),
            hours: self.hours.clone(),
            zones: self.zones.clone(),
            zones_why: self.zones_why.clone(),
            turning: self.turning,
            brine_temperature: self.brine_temperature.clone(),
            brine_clear: self.brine_clear,
        }
    }

    /// The cure that the sheet works out, as the scale can show it.
    fn computed(&self, context: &mut DraftContext<'_>) -> Drafted {
        let ask = self.on_sheet();
        let prepared = ask.prepare(context.book, context.home)?;
        let made = prepared.sheet(context.book, context.home)?;
        is_as_ticked(&made, &self.ticked)?;
        let findings: Vec<Finding> = made.all_findings().cloned().collect();
        let reason = self.may_start((made.refused, made.needs_reason), &findings)?;
        let place = context.place(self.place.as_ref(), self.places(context), "place")?;
        let weigh_out = prepared.weigh_out();
        let mut places = Vec::new();
        for (i, laid) in weigh_out.laid.iter().enumerate() {
            let count = laid.place.map(Count::from);
            let own = context.place(
                count.as_ref(),
                self.places(context),
                &format!("vessels[{i}].place"),
            )?;
            places.extend(laid.pieces.iter().map(|p| (*p, own)));
        }
        let started = Started {
            reason,
            vessel: Some(context.new_vessels(made.vessels.len())),
        };
        doses(
            &made,
            &weigh_out,
            started,
            &context.home.settings,
            context.catalogue(),
        )?
        .into_iter()
        .map(|(piece, dose)| {
            let own = places.iter().find(|(p, _)| *p == piece);
            let act = Dosed {
                piece,
                dose: Box::new(dose),
                place: own.and_then(|(_, own)| *own).or(place),
            };
            Ok((context.lot_of(piece)?, Act::Dosed(act)))
        })
        .collect()
    }

    /// A dose that is put right by its numbers: it happened, so it is judged and marked at any height, and never refused.
    fn as_it_happened(&self, old: &Dosed, context: &mut DraftContext<'_>) -> Drafted {
        if self.pieces != [old.piece] {
            return Err(AskError::field("pieces", "Correct one piece at a time."));
        }
        let (lot, piece) = context.find(old.piece)?;
        let lot = lot.state.id;
        let ask = self.on_sheet();
        let prepared = ask.prepare(context.book, context.home)?;
        let weigh_out = prepared.weigh_out();
        let started = Started {
            reason: None,
            vessel: None,
        };
        let made = prepared.sheet(context.book, context.home).and_then(|made| {
            let doses = doses(
                &made,
                &weigh_out,
                started,
                &context.home.settings,
                context.catalogue(),
            )?;
            let mut mine = doses.into_iter().filter(|(id, _)| *id == old.piece);
            mine.next()
                .map(|(_, dose)| dose)
                .ok_or_else(|| AskError::no_piece(old.piece))
        });
        let mut dose = match made {
            // The brine or mix that it shares is the one that it was put into.
            Ok(dose) => Dose {
                vessel: old.dose.vessel.clone(),
                mixed_with: old.dose.mixed_with.clone(),
                brine: old.dose.brine.clone(),
                ..dose
            },
            // So much cure that no sheet is made of it: the rest as it was, the cure as it is said now.
            Err(why) => match self.more_cure(old, piece, context)? {
                Some(weighed) => as_weighed(&weighed, piece, Some(&old.dose), "own", context)?,
                None => return Err(why),
            },
        };
        dose.reason = words(self.reason.as_deref());
        let place = context.place(self.place.as_ref(), self.places(context), "place")?;
        let act = Dosed {
            piece: old.piece,
            dose: Box::new(dose),
            place: place.or(old.place),
        };
        Ok(vec![(lot, Act::Dosed(act))])
    }

    /// The dose as it was weighed, with its cure as the numbers say it now; none where they say nothing of it.
    fn more_cure(
        &self,
        old: &Dosed,
        piece: &Piece,
        context: &DraftContext<'_>,
    ) -> Result<Option<WeighedAsk>, AskError> {
        let typed = |name: &str| {
            let amount = self.own.numbers.get(name)?.as_ref()?;
            (!amount.is_empty()).then_some(amount)
        };
        let cure = &old.dose.cure;
        let meat = piece.green.grams();
        let read = |amount: &Amount, field: &str, per: f64| match amount {
            Amount::Number(n) => Ok(n * per),
            Amount::Text(text) => {
                let wrong = |e: String| AskError::field(&format!("own.numbers.{field}"), e);
                if field == "nitrite_ppm" {
                    Typed::<Ppm>::read(text, context.home.settings.units)
                        .map(|p| p.value.0 * per)
                        .map_err(|e| wrong(e.to_string()))
                } else {
                    Typed::<GPerKg>::read(text, context.home.settings.units)
                        .map(|r| r.value.0 * per)
                        .map_err(|e| wrong(e.to_string()))
                }
            }
        };
        let grams = match (typed("cure_g_per_kg"), typed("nitrite_ppm")) {
            (Some(rate), _) => read(rate, "cure_g_per_kg", meat / 1_000.0)?,
            (None, Some(ppm)) if cure.made_of.nitrite > 0.0 => {
                read(ppm, "nitrite_ppm", meat / 1e6 / cure.made_of.nitrite)?
            }
            (None, Some(_) | None) => return Ok(None),
        };
        let said = |g: f64| Some(format!("{} g", trim(g, 3)));
        let mut lines: Vec<WeighedLineAsk> = old
            .dose
            .lines
            .iter()
            .map(|l| WeighedLineAsk {
                role: Some(l.role),
                name: l.name.clone(),
                reading: said(if l.role == Role::CuringSalt {
                    grams
                } else {
                    l.mass.value.grams()
                }),
                salt_fraction: l.salt.as_ref().map(|s| Amount::Number(s.value.0)),
            })
            .collect();
        if lines.iter().all(|l| l.role != Some(Role::CuringSalt)) {
            lines.push(WeighedLineAsk {
                role: Some(Role::CuringSalt),
                name: cure.name.clone(),
                reading: said(grams),
                salt_fraction: None,
            });
        }
        Ok(Some(WeighedAsk {
            cure: cure.ask(),
            lines,
            added: Vec::new(),
        }))
    }

    /// The reason to be kept, where one is needed; refused where nothing lifts a stop.
    fn may_start(
        &self,
        (refused, needs_reason): (bool, bool),
        findings: &[Finding],
    ) -> Result<Option<&str>, AskError> {
        // What is only good to know does not stand between the person and what stops it.
        let stands = findings.iter().filter(|f| f.severity > Severity::Info);
        let stands: Vec<Finding> = stands.cloned().collect();
        if refused {
            return Err(AskError::Stopped(
                stands,
                "This cure cannot be started. See what stops it, and change the dose or the entry.",
            ));
        }
        let reason = filled(self.reason.as_deref());
        if needs_reason && !reason.is_some_and(reason::is_enough) {
            return Err(AskError::Stopped(stands, reason::WANTED));
        }
        // A reason given where none is needed would mark the piece for nothing.
        Ok(reason.filter(|_| needs_reason))
    }

    /// Pieces laid into a brine that other pieces lie in already: nothing is weighed, all share what is there.
    fn laid_into(&self, vessel: VesselId, context: &DraftContext<'_>) -> Drafted {
        let lies: Vec<_> = context
            .book
            .vessel(vessel)
            .filter(|(_, p)| p.stage() == Stage::InCure)
            .collect();
        let Some((_, first)) = lies.first() else {
            return Err(AskError::field(
                "into",
                format!(
                    "Nothing lies in vessel number {} now; used brine never serves again. Mix a new one.",
                    vessel.0
                ),
            ));
        };
        let Some(there) = first.dose().filter(|d| d.in_brine()) else {
            return Err(AskError::field(
                "into",
                "Only a brine is shared by what is laid into it later. What is rubbed gets a dose of its own: weigh it out.",
            ));
        };
        let place = context
            .place(self.place.as_ref(), self.places(context), "place")?
            .or(first.place());
        let mut all = Vec::new();
        for id in &self.pieces {
            let (lot, piece) = context.find(*id)?;
            let form = piece.build().map(|b| b.class.form(b.form));
            if form.is_some_and(|f| there.method.dosing().form.is_some_and(|w| w != f)) {
                return Err(AskError::field(
                    "into",
                    format!(
                        "{} is a mix: it is cured by what is mixed into it, not in a brine.",
                        piece.tag
                    ),
                ));
            }
            let mates: Vec<PieceId> = lies
                .iter()
                .map(|(_, p)| p.id)
                .chain(self.pieces.iter().copied())
                .filter(|p| p != id)
                .collect();
            let mut dose = Dose {
                build: piece.build().map(Build::reference),
                over: Some(piece.mass),
                lines: Vec::new(),
                mixed_with: mates.clone(),
                findings: Vec::new(),
                reason: None,
                own: Vec::new(),
                way: None,
                time: OwnTime::default(),
                vessel: there.vessel.as_ref().map(|v| InVessel {
                    with: mates,
                    by_eye: false,
                    ..v.clone()
                }),
                ..there.clone()
            };
            let others = self.pieces.iter().filter(|p| *p != id);
            let more: Milligrams = others
                .map(|p| context.find(*p).map(|(_, p)| p.mass))
                .sum::<Result<_, _>>()?;
            let judge = context.judge();
            let findings = judge.as_laid_into(&mut dose, piece, &lies, (context.now, more));
            let is = |f: &Finding| f.severity == Severity::Stop;
            let refused = findings.iter().any(|f| is(f) && f.code.is_final());
            let reason = self.may_start((refused, findings.iter().any(is)), &findings)?;
            dose.reason = reason.map(str::to_string);
            dose.findings = findings;
            let act = Dosed {
                piece: *id,
                dose: Box::new(dose),
                place,
            };
            all.push((lot.state.id, Act::Dosed(act)));
        }
        Ok(all)
    }
}
