//! Something was poured into a running vessel: water until the meat was covered again, or what was found missing.

use crate::acts::context::words;
use crate::acts::weighed::{WeighedLineAsk, named_as};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::cures::Role;
use crate::caution::{Code, Finding, Severity};
use crate::cure::sheet::watch::may_be_a_cure;
use crate::dose::{Dose, DoseLine};
use crate::form::{AskError, Field};
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::facts::Act;
use crate::ledger::facts::topped_up::ToppedUp;
use crate::ledger::post::say;
use crate::ledger::state::Piece;
use crate::units::{Reading, Typed, read};
use serde::{Deserialize, Serialize};

/// Something is poured into the vessel that a piece lies in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ToppedUpAsk {
    /// The piece that lies in it. Give this, or `vessel`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// The vessel, by its number.
    #[serde(default)]
    pub vessel: Option<VesselId>,
    /// Water, by weight or by volume, as typed.
    #[serde(default)]
    pub reading: Option<String>,
    /// What else was put in, such as salt and cure.
    #[serde(default)]
    pub lines: Vec<WeighedLineAsk>,
    /// Why, when it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for ToppedUpAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let pieces = match (self.piece, instead) {
            // Put right, it is one piece's share.
            (Some(piece), Some(_)) => vec![piece],
            (Some(piece), None) => {
                let vessel = context.find(piece)?.1.vessel();
                match vessel {
                    Some(vessel) => context.those(None, &[], Some(vessel))?,
                    None => vec![piece],
                }
            }
            (None, _) => context.those(None, &[], self.vessel)?,
        };
        let mut lines = Vec::new();
        if let Some(text) = crate::acts::context::filled(self.reading.as_deref()) {
            lines.push((
                "water".to_string(),
                (Role::Water, None),
                water(text, context, "reading")?,
            ));
        }
        for (i, line) in self.lines.iter().enumerate() {
            let field = |name: &str| format!("lines[{i}].{name}");
            let name = line.name.trim();
            if name.is_empty() {
                return Err(AskError::field(
                    &field("name"),
                    "Name what was put in, such as salt.",
                ));
            }
            let Some(text) = crate::acts::context::filled(line.reading.as_deref()) else {
                return Err(AskError::field(
                    &field("reading"),
                    format!("Type how much {name} was put in, such as 30 g."),
                ));
            };
            let dose = context.book.piece(pieces[0]).and_then(|(_, p)| p.dose());
            let (role, made_of) = match dose {
                Some(dose) => named_as(name, line.role, &dose.cure, context),
                None => (context.catalogue().role_said(name, line.role), None),
            };
            let mass = if role == Role::Water {
                water(text, context, &field("reading"))?
            } else {
                context.mass(text, &field("reading"))?
            };
            lines.push((name.to_string(), (role, made_of), mass));
        }
        if lines.is_empty() {
            return Err(AskError::field(
                "reading",
                "Type how much water was poured in, such as 500 ml.",
            ));
        }
        let mut all = Vec::new();
        for (name, (role, made_of), mass) in lines {
            for (piece, share) in pieces.iter().zip(context.shared_reading(&mass, &pieces)?) {
                let line = DoseLine {
                    role,
                    name: name.clone(),
                    mass: share,
                    salt: None,
                    made_of: made_of.clone(),
                };
                let act = ToppedUp {
                    piece: *piece,
                    line,
                    reason: words(self.reason.as_deref()),
                };
                all.push((context.lot_of(*piece)?, Act::ToppedUp(act)));
            }
        }
        Ok(all)
    }
}

/// More than this share of what was mixed is asked about.
const USUAL_TOP_UP: f64 = 1.0;

impl Review for ToppedUp {
    /// What it makes of the brine: thinner than its floor, or stronger than its ceiling.
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let Some(before) = piece.dose().map(Dose::total_g) else {
            return Vec::new();
        };
        let mut found: Vec<Finding> = self.another_cure(piece).into_iter().collect();
        found.extend(self.what_is_it(validator, piece));
        found.extend(
            validator
                .judge()
                .topped_up(validator.state, piece, &self.line),
        );
        let usual = before * USUAL_TOP_UP;
        if before <= 0.0 || self.line.mass.value.grams() <= usual {
            return found;
        }
        found.push(
            Finding::new(
                Code::LooksMistyped,
                Severity::Caution,
                "That is more than was mixed for it in the first place.",
            )
            .saw(say(self.line.mass.value, validator.home.settings.units))
            .remedy("Check the digits and the unit, or keep it as typed: the brine is so much thinner then."),
        );
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!("{} {}", render.again(&self.line.mass), self.line.name)
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        // Water said by volume comes back so: a weight would be read as another amount.
        let said = match self.line.role {
            Role::Water if self.line.mass.said.contains(char::is_alphabetic) => {
                self.line.mass.said.clone()
            }
            _ => render.again(&self.line.mass),
        };
        let is_water = self.line.role == Role::Water && self.line.name == "water";
        Some(Ask::ToppedUp(ToppedUpAsk {
            piece: Some(self.piece),
            vessel: None,
            reading: is_water.then(|| said.clone()),
            reason: self.reason.clone(),
            lines: if is_water {
                Vec::new()
            } else {
                vec![WeighedLineAsk {
                    role: Some(self.line.role),
                    name: self.line.name.clone(),
                    reading: Some(said),
                    salt_fraction: None,
                }]
            },
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let is_water = self.line.role == Role::Water && self.line.name == "water";
        let poured = if is_water {
            // By weight or by volume.
            Field::text("reading", "Water poured in, this piece’s share")
        } else {
            Field::mass("lines.0.reading", &self.line.name)
        };
        vec![
            poured,
            Field::text("reason", "Why, if it goes past a stop").optional(),
        ]
    }
}

impl ToppedUp {
    /// Another source of nitrite than the cure that it lies in.
    fn another_cure(&self, piece: &Piece) -> Option<Finding> {
        let dose = piece.dose()?;
        (self.line.role == Role::CuringSalt && self.line.made_of.is_some()).then(|| {
            Finding::new(
                Code::TwoCures,
                Severity::Stop,
                format!(
                    "{} is or may be a source of nitrite, and {} is in {}: never two cures in one dose.",
                    self.line.name, piece.tag, dose.cure.name
                ),
            )
            .saw(self.line.name.clone())
            .wants(dose.cure.name.clone())
            .remedy(format!(
                "If it is the same, type {}. If another one went in already, correct the dose by what was weighed.",
                dose.cure.name
            ))
        })
    }

    /// A name that nothing here knows, in the amount of a curing salt, where there is no other.
    fn what_is_it(&self, validator: &Validator<'_>, piece: &Piece) -> Option<Finding> {
        let dose = piece.dose()?;
        let meat = piece.cure.as_ref()?.meat.grams().max(f64::MIN_POSITIVE);
        let rate = self.line.mass.value.grams() / meat * 1_000.0;
        let unknown =
            self.line.role == Role::Spice && validator.catalogue().is_unknown(&self.line.name);
        (unknown && dose.nitrite_g() <= 0.0)
            .then(|| may_be_a_cure(&self.line.name, rate))
            .flatten()
    }
}

fn water(text: &str, context: &DraftContext<'_>, field: &str) -> Result<Reading, AskError> {
    let grams = read::water(text, context.home.settings.units)
        .map_err(|e| AskError::field(field, e.to_string()))?;
    let mut read: Reading = Typed::unsaid(crate::units::Milligrams::from_grams(grams.0));
    read.said = text.trim().into();
    Ok(read)
}
