//! A dose as it was really weighed: asked, said again, put right, and judged over the meat that is really there.

use crate::acts::context::filled;
use crate::acts::{DraftContext, RenderContext};
use crate::catalogue::cures::{Composition, CureAsk, CureChoice, Role};
use crate::caution::Severity;
use crate::cure::sheet::watch::salt_finding;
use crate::cure::unusual::unusual;
use crate::dose::{Contents, Dose, DoseLine, Judged};
use crate::form::{AskError, Field, FieldOption};
use crate::ledger::state::Piece;
use crate::units::Amount;
use serde::{Deserialize, Serialize};
use serde_json::json;

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

/// A dose as a person would say it was weighed.
pub(crate) fn weighed_again(dose: &Dose, render: &RenderContext<'_>) -> WeighedAsk {
    let line = |l: &DoseLine| WeighedLineAsk {
        role: Some(l.role),
        name: l.name.clone(),
        reading: Some(render.again(&l.mass)),
        salt_fraction: l.salt.as_ref().map(|s| Amount::Text(render.again(s))),
    };
    WeighedAsk {
        cure: dose.cure.ask(),
        lines: dose.lines.iter().map(line).collect(),
        added: Vec::new(),
    }
}

/// The fields of a dose as it was weighed, under `at`. An ingredient left empty was left out; what
/// went in besides is added.
pub(crate) fn weighed_form(dose: &Dose, at: &str, render: &RenderContext<'_>) -> Vec<Field> {
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
        let mut options: Vec<_> = render
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
pub(crate) fn as_weighed(
    weighed: &WeighedAsk,
    piece: &Piece,
    old: Option<&Dose>,
    at: &str,
    context: &DraftContext<'_>,
) -> Result<Dose, AskError> {
    let catalogue = context.catalogue();
    let cure = match old.filter(|o| o.cure.ask() == weighed.cure) {
        Some(old) => old.cure.clone(),
        None => weighed
            .cure
            .choice(catalogue)
            .map_err(|e| AskError::field(&format!("{at}.cure"), e.message))?,
    };
    let lines = lines_of(weighed, &cure, at, context)?;
    if let Some(old) = old.filter(|o| lines.is_empty() && o.lines.is_empty()) {
        // Laid into a running brine: nothing was weighed for it.
        return Ok(old.clone());
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
    let rule_set = old.map_or(context.home.settings.rule_set.as_str(), |o| {
        o.judged.rule_set.as_str()
    });
    let rules = context
        .home
        .settings
        .rules_of(rule_set, catalogue)
        .or_else(|_| context.home.settings.rules(catalogue))
        .map_err(|e| AskError::Fields(vec![e]))?;
    let method = old.map_or(build.method, |o| o.method);
    let scales = (
        context.home.settings.scales.fine_division_g,
        context.home.settings.scales.meat_division_g,
    );
    let taken_up = old.and_then(|o| o.taken_up);
    let got = Contents::of(
        &lines,
        &cure,
        meat_g,
        (method, taken_up.as_ref()),
        None,
        scales,
    );
    let form = build.class.form(build.form);
    let law = (method.dosing().law)(form);
    let limit = rules
        .limit(build.class, law, piece.shape.skin_on)
        .map_err(|e| AskError::Fields(vec![e]))?;
    let judged = got
        .judge(
            &rules,
            build.class,
            law,
            piece.shape.skin_on,
            cure.is_none(),
        )
        .map_err(|e| AskError::Fields(vec![e]))?;
    let odd = unusual(&lines, &cure, meat_g, method, catalogue);
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
        nitrite: got.nitrite,
        nitrate: got.nitrate,
        salt: got.salt,
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
            .chain(got.salt.and_then(|salt| salt_finding(build, method, salt)))
            .chain(odd)
            .collect(),
        reason: None,
        own: Vec::new(),
        way: old.and_then(|o| o.way.clone()),
        taken_up,
        vessel: old.and_then(|o| o.vessel.clone()),
        time: old.map(|o| o.time.clone()).unwrap_or_default(),
        brine: old.map(|o| o.brine.clone()).unwrap_or_default(),
    })
}

/// The lines that something was typed in.
fn lines_of(
    weighed: &WeighedAsk,
    cure: &CureChoice,
    at: &str,
    context: &DraftContext<'_>,
) -> Result<Vec<DoseLine>, AskError> {
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
        let (role, made_of) = named_as(name, line.role, cure, context);
        lines.push(DoseLine {
            role,
            name: name.into(),
            mass: context.mass(reading, &field("reading"))?,
            salt: context.share_if(line.salt_fraction.as_ref(), &field("salt_fraction"))?,
            made_of,
        });
    }
    Ok(lines)
}

/// What an ingredient does in a dose of a cure, and what it is made of where it is another source of nitrite than that cure.
pub(crate) fn named_as(
    name: &str,
    said: Option<Role>,
    cure: &CureChoice,
    context: &DraftContext<'_>,
) -> (Role, Option<Composition>) {
    let catalogue = context.catalogue();
    // The cure of a dose is called by its own name, whatever that is.
    let own = name.eq_ignore_ascii_case(&cure.name) || catalogue.is_that_cure(name, cure);
    if own && !cure.is_none() {
        return (Role::CuringSalt, None);
    }
    let role = catalogue.role_said(name, said);
    let other = (role == Role::CuringSalt).then(|| catalogue.made_of_by_name(name));
    (role, other.flatten())
}
