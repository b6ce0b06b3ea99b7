//! A piece was put into its cure; its dose is a fact with the numbers it was made of.

use super::desk::{filled, words};
use super::form::Count;
use super::{
    Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, FieldOption, Gate, Scene,
    sheet_pieces,
};
use crate::catalogue::KeptKey;
use crate::catalogue::dosing::Way;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::cure::dose::{Bands, Dose, DoseLine, Judged, bands};
use crate::cure::rules::Case;
use crate::cure::sheet::watch::salt_finding;
use crate::cure::sheet::{OwnDose, Sheet, doses, sheet};
use crate::cure::{CureAsk, CureChoice, Role};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, at_step, err, transfer};
use crate::ledger::state::{InCure, Piece, State};
use crate::ledger::{Account, Posting};
use crate::place::{PlaceId, PlaceUse};
use crate::reason;
use crate::units::show::trim;
use crate::units::{Amount, Milligrams, Units};
use serde::{Deserialize, Serialize};
use serde_json::json;

/// A piece was put into its cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dosed {
    /// The piece.
    pub piece: PieceId,
    /// Its dose.
    pub dose: Box<Dose>,
    /// The place it was put in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
}

/// One ingredient as it was really weighed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WeighedLineAsk {
    /// What it does in the dose; by its name when left out.
    #[serde(default)]
    pub role: Option<Role>,
    /// What it is called.
    pub name: String,
    /// How much of it, as typed; none of it when left out.
    #[serde(default)]
    pub reading: Option<String>,
    /// The salt in it, for sauces and pastes: a number from 0 to 1, or as typed: `16 %`.
    #[serde(default)]
    pub salt_fraction: Option<Amount>,
}

/// A dose as it was really weighed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WeighedAsk {
    /// The curing salt.
    pub cure: CureAsk,
    /// What was weighed; one left empty was left out.
    pub lines: Vec<WeighedLineAsk>,
    /// What went in besides.
    #[serde(default)]
    pub added: Vec<WeighedLineAsk>,
}

/// Pieces of one product are put into their cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
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
            Some(id) => made.pieces.iter().find(|p| p.piece == id).map(|p| &p.lines),
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

/// What cures lies in one of these.
const PLACES: &[PlaceUse] = &[PlaceUse::Cold, PlaceUse::Brine, PlaceUse::Press];

impl Asked for DosedAsk {
    fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let Some(weighed) = &self.weighed else {
            return self.computed(desk);
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
        let (_, piece) = desk.find(old.piece)?;
        let mut dose = as_weighed(weighed, piece, Some(&old.dose), "weighed", desk)?;
        dose.reason = words(self.reason.as_deref());
        let act = Dosed {
            piece: old.piece,
            dose: Box::new(dose),
            place: desk.place(self.place.as_ref(), PLACES, "place")?,
        };
        desk.about(old.piece, Act::Dosed(act))
    }
}

impl Deed for Dosed {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        self.dose.build.iter().map(KeptKey::build).collect()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let (found, _) = at_step(state, self.piece, |s| s.kind == StepKind::Dose)?;
        if found.build().is_some_and(|b| b.method == Way::None) {
            return err("piece", format!("{} is not to be cured.", found.tag));
        }
        Ok(dose_moves(&self.dose, self.piece))
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.cure = Some(InCure {
                injected: Milligrams::ZERO,
                entry: entry.id,
                meat: piece.mass,
                since: entry.happened_at,
                dose: Some((*self.dose).clone()),
            });
            piece.did_kind(StepKind::Dose, entry.happened_at, entry.id);
            piece.since = entry.happened_at;
            piece.moved(entry.happened_at, self.place);
        }
    }

    /// What was weighed is never refused, but past a stop it is more often a slip than a dose. A
    /// sheet asks for the reason by itself.
    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let explained = self.dose.reason.is_some();
        let asks = |f: &&Finding| match f.severity {
            Severity::Info => false,
            Severity::Caution => matches!(f.code, Code::SaltLow | Code::SaltHigh),
            Severity::Stop => gate.correcting && !explained,
        };
        let piece = gate.piece(self.piece);
        let edible = piece
            .filter(|_| !gate.correcting)
            .and_then(|p| gate.edible(p));
        let findings = self.dose.findings.iter();
        edible
            .into_iter()
            .chain(findings.filter(asks).cloned())
            .collect()
    }

    fn reason(&self) -> Option<&str> {
        self.dose.reason.as_deref()
    }

    fn said(&self) -> &'static str {
        "put in cure"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let dose = &self.dose;
        let lines: Vec<_> = dose
            .lines
            .iter()
            .map(|l| format!("{} {}", scene.again(&l.mass), l.name))
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

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Dosed(DosedAsk {
            pieces: vec![self.piece],
            mixed: false,
            own: OwnDose::default(),
            reason: self.dose.reason.clone(),
            place: self.place.map(Count::from),
            ticked: Vec::new(),
            weighed: Some(weighed_again(&self.dose, scene)),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let mut fields = weighed_form(&self.dose, "weighed", scene);
        fields.extend(scene.place_field("place", PLACES));
        fields.push(Field::text("reason", "Why, if it goes past a stop").optional());
        fields
    }
}

impl DosedAsk {
    /// The cure that the sheet works out, as the scale can show it.
    fn computed(&self, desk: &Desk<'_>) -> Drafted {
        let catalogue = desk.catalogue();
        let (build, on_sheet) = sheet_pieces(desk.book, &self.pieces)?;
        let made = sheet(
            build, &on_sheet, self.mixed, &self.own, desk.home, catalogue,
        )?;
        let findings = || {
            made.findings
                .iter()
                .chain(made.pieces.iter().flat_map(|p| &p.findings))
                .cloned()
                .collect()
        };
        is_as_ticked(&made, &self.ticked)?;
        if made.refused {
            return Err(AskError::Stopped(
                findings(),
                "This cure cannot be started. See what stops it, and change the dose or the entry.",
            ));
        }
        let reason = filled(self.reason.as_deref());
        if made.needs_reason && !reason.is_some_and(reason::is_enough) {
            return Err(AskError::Stopped(findings(), reason::WANTED));
        }
        let place = desk.place(self.place.as_ref(), PLACES, "place")?;
        // A reason given where none is needed would mark the piece for nothing.
        let reason = reason.filter(|_| made.needs_reason);
        doses(&made, build, desk.home, catalogue, reason)?
            .into_iter()
            .map(|(piece, dose)| {
                let act = Dosed {
                    piece,
                    dose: Box::new(dose),
                    place,
                };
                Ok((desk.lot_of(piece)?, Act::Dosed(act)))
            })
            .collect()
    }
}

/// What a dose moves: out of what is kept, to what lies with the piece.
pub(super) fn dose_moves(dose: &Dose, piece: PieceId) -> Vec<Posting> {
    dose.lines
        .iter()
        .flat_map(|line| {
            transfer(
                Account::Material(line.name.clone()),
                Account::InCure(piece),
                line.mass.value,
            )
        })
        .collect()
}

/// A dose as a person would say it was weighed.
pub(super) fn weighed_again(dose: &Dose, scene: &Scene<'_>) -> WeighedAsk {
    let line = |l: &DoseLine| WeighedLineAsk {
        role: Some(l.role),
        name: l.name.clone(),
        reading: Some(scene.again(&l.mass)),
        salt_fraction: l.salt.as_ref().map(|s| Amount::Text(scene.again(s))),
    };
    WeighedAsk {
        cure: dose.cure.ask(),
        lines: dose.lines.iter().map(line).collect(),
        added: Vec::new(),
    }
}

/// The fields of a dose as it was weighed, under `at`. An ingredient left empty was left out; what
/// went in besides is added.
pub(super) fn weighed_form(dose: &Dose, at: &str, scene: &Scene<'_>) -> Vec<Field> {
    let mut fields: Vec<_> = dose
        .lines
        .iter()
        .enumerate()
        .map(|(i, line)| {
            let field = Field::mass(&format!("{at}.lines.{i}.reading"), &line.name);
            if line.role == Role::CuringSalt {
                field
            } else {
                field.optional()
            }
        })
        .collect();
    let row = vec![
        Field::text("name", "What"),
        Field::mass("reading", "Its weight"),
    ];
    fields.push(Field::rows(
        &format!("{at}.added"),
        "Also went in",
        row,
        Some(json!({"name": "", "reading": ""})),
    ));
    if let CureAsk::Named(own) = dose.cure.ask() {
        let mut options: Vec<_> = scene
            .catalogue()
            .cures
            .iter()
            .map(|c| FieldOption {
                value: c.key.clone(),
                label: c.name.clone(),
            })
            .collect();
        if options.iter().all(|o| o.value != own) {
            options.insert(
                0,
                FieldOption {
                    value: own,
                    label: dose.cure.name.clone(),
                },
            );
        }
        fields.push(Field::one_of(&format!("{at}.cure"), "Curing salt", options));
    }
    fields
}

/// The dose that was really weighed over the meat that is really there. It happened, so it is
/// judged and marked, not refused; what is as it was keeps the numbers it was made of.
pub(super) fn as_weighed(
    weighed: &WeighedAsk,
    piece: &Piece,
    old: Option<&Dose>,
    at: &str,
    desk: &Desk<'_>,
) -> Result<Dose, AskError> {
    let catalogue = desk.catalogue();
    let cure = match old.filter(|o| o.cure.ask() == weighed.cure) {
        Some(old) => old.cure.clone(),
        None => weighed
            .cure
            .choice(catalogue)
            .map_err(|e| AskError::field(&format!("{at}.cure"), e.message))?,
    };
    let mut lines = Vec::new();
    let named = |list: &'static str| move |i: usize| format!("{at}.{list}[{i}]");
    let all = (weighed.lines.iter().enumerate())
        .map(|(i, line)| (named("lines")(i), line))
        .chain((weighed.added.iter().enumerate()).map(|(i, line)| (named("added")(i), line)));
    for (place, line) in all {
        let field = |name: &str| format!("{place}.{name}");
        let name = line.name.trim();
        let Some(reading) = filled(line.reading.as_deref()) else {
            continue;
        };
        if name.is_empty() {
            return Err(AskError::field(
                &field("name"),
                "Name what was weighed, such as salt.",
            ));
        }
        lines.push(DoseLine {
            role: line.role.unwrap_or_else(|| role_of(name, &cure, desk)),
            name: name.into(),
            mass: desk.mass(reading, &field("reading"))?,
            salt: desk.share_if(line.salt_fraction.as_ref(), &field("salt_fraction"))?,
        });
    }
    if lines.is_empty() {
        return Err(AskError::field(
            &format!("{at}.lines"),
            "Say what was weighed: at least one ingredient with its weight.",
        ));
    }
    if let Some(old) = old.filter(|o| o.cure == cure && o.lines == lines) {
        return Ok(old.clone());
    }
    let build = piece
        .build()
        .ok_or_else(|| AskError::field("build", "Choose a product from the list."))?;
    let meat_g = if piece.cure.is_some() {
        piece.green
    } else {
        piece.mass
    }
    .grams();
    let rule_set = old.map_or(desk.home.rule_set.as_str(), |o| o.judged.rule_set.as_str());
    let rules = catalogue
        .rule_set(rule_set)
        .or_else(|_| catalogue.rule_set(&desk.home.rule_set))
        .map_err(|e| AskError::Fields(vec![e]))?;
    let method = old.map_or(build.method, |o| o.method);
    let in_brine = method.in_brine();
    let scales = (
        desk.home.scales.fine_division_g,
        desk.home.scales.meat_division_g,
    );
    let Bands {
        nitrite,
        nitrate,
        salt,
    } = bands(&lines, &cure, meat_g, in_brine, scales);
    let form = build.class.form(build.form);
    let law = method.dosing().law(form);
    let limit = rules
        .limit(build.class, law, piece.shape.skin_on)
        .map_err(|e| AskError::Fields(vec![e]))?;
    let judged = rules
        .judge(&Case {
            class: build.class,
            law,
            skin_on: piece.shape.skin_on,
            no_cure: cure.is_none(),
            nitrite,
            nitrate,
        })
        .map_err(|e| AskError::Fields(vec![e]))?;
    Ok(Dose {
        method,
        build: old.map_or_else(|| Some(build.reference()), |o| o.build.clone()),
        cure,
        over: Some(if piece.cure.is_some() {
            piece.green
        } else {
            piece.mass
        }),
        lines,
        nitrite,
        nitrate,
        salt: Some(salt),
        judged: Judged {
            rule_set: rules.key.clone(),
            class: build.class,
            form,
            ceiling_ppm: rules.ceiling(limit, piece.shape.skin_on).0,
            floor_ppm: rules.floor(build.class, law, piece.shape.skin_on).0,
        },
        school: old.and_then(|o| o.school.clone()),
        mixed_with: old.map(|o| o.mixed_with.clone()).unwrap_or_default(),
        findings: judged
            .into_iter()
            .filter(|f| f.severity > Severity::Info)
            .chain(salt_finding(build, method, salt))
            .collect(),
        reason: None,
        own: Vec::new(),
    })
}

fn role_of(name: &str, cure: &CureChoice, desk: &Desk<'_>) -> Role {
    if name.eq_ignore_ascii_case(&cure.name) {
        Role::CuringSalt
    } else {
        desk.catalogue().role_of(name)
    }
}
