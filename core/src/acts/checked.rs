//! Something was looked at, smelled, felt, tasted or measured, and graded.

use crate::acts::context::words;
use crate::acts::noted::photo_name;
use crate::acts::step_done::too_soon;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::catalogue::steps::{Check, CheckValue};
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field, FieldOption};
use crate::ids::{LotId, PackId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::checked::Checked;
use crate::piece::mould::{MOULD, MouldCall, MouldSeen};
use crate::verdict::souring::{LEAST_PH, SOONEST_H, SOUR_PH, is_odd, ph_values, souring};
use serde::{Deserialize, Serialize};

/// Something is looked at and graded.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CheckedAsk {
    /// The piece.
    pub piece: PieceId,
    /// What was looked at: smell, slime, gas, soft_centre, bag, firmness, colour, core_colour,
    /// tacky, slice_end, slice_middle, ph, mould, roll.
    pub check: String,
    /// The grade it got, from the check's own list.
    #[serde(default)]
    pub grade: Option<String>,
    /// The number, as typed: `5.9`.
    #[serde(default)]
    pub value: Option<String>,
    /// What to know about it.
    #[serde(default)]
    pub note: Option<String>,
    /// The pack it is about, by its number; the whole piece when left out.
    #[serde(default)]
    pub pack: Option<PackId>,
    /// Mould as it was seen: its colour and how it looks close by give the grade.
    #[serde(default)]
    pub mould: Option<MouldSeen>,
    /// The name of its photo, as `/photos` gave it.
    #[serde(default)]
    pub photo: Option<String>,
}

impl Draft for CheckedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let known = &context.catalogue().checks;
        let Some(check) = known.iter().find(|c| c.key == self.check) else {
            // Small choices of a step are offered where they are made: the list stays short without them.
            let looks = known.iter().filter(|c| c.at.is_empty());
            let keys: Vec<_> = looks.map(|c| c.key.as_str()).collect();
            return Err(AskError::field(
                "check",
                format!(
                    "There is no check “{}”. Use one of {}.",
                    self.check,
                    keys.join(", ")
                ),
            ));
        };
        let grade = self.by_sight(words(self.grade.as_deref()))?;
        if let Some(grade) = &grade
            && !check.grades.iter().any(|g| g.key == *grade)
        {
            let keys: Vec<_> = check.grades.iter().map(|g| g.key.as_str()).collect();
            return Err(AskError::field(
                "grade",
                format!(
                    "“{grade}” is no grade of {}. Use one of {}.",
                    check.name,
                    keys.join(", ")
                ),
            ));
        }
        let value = words(self.value.as_deref());
        if let Some(value) = &value {
            readable(check, value)?;
        }
        if grade.is_none() && value.is_none() {
            return Err(AskError::field(
                if check.grades.is_empty() {
                    "value"
                } else {
                    "grade"
                },
                format!("Say how it was: {}", check.words),
            ));
        }
        let act = Checked {
            piece: self.piece,
            check: check.key.clone(),
            // What a grade led to then does not change with the catalogue.
            settles: corrected::<Checked>(instead)
                .filter(|old| old.grade == grade && old.check == check.key)
                .map_or_else(
                    || grade.is_some() && grade == check.done_at,
                    |old| old.settles,
                ),
            grade,
            value,
            note: words(self.note.as_deref()),
            pack: self.pack,
            mould: self.mould,
            photo: photo_name(self.photo.as_deref())?,
        };
        context.about(self.piece, Act::Checked(act))
    }
}

/// No surface dries sooner (h).
const DRIES_H: f64 = 1.0 / 3.0;

/// A number that the check can hold.
fn readable(check: &Check, value: &str) -> Result<(), AskError> {
    match check.value {
        None => Err(AskError::field(
            "value",
            format!(
                "{} is graded, not measured. Leave the number out.",
                check.name
            ),
        )),
        Some(CheckValue::WaterActivity) => {
            let number: Option<f64> = value.replace(',', ".").parse().ok();
            if number.is_some_and(|n| (0.3..=1.0).contains(&n)) {
                Ok(())
            } else {
                Err(AskError::field(
                    "value",
                    format!(
                        "“{value}” is no water activity. Type a number from 0.3 to 1, e.g. 0.84."
                    ),
                ))
            }
        }
        Some(CheckValue::Ph) => {
            let words = value.split(|c: char| c.is_whitespace() || matches!(c, ';' | '/'));
            let all = ph_values(value);
            let understood = all.len() == words.filter(|w| !w.is_empty()).count();
            if understood && !all.is_empty() && all.iter().all(|n| (2.0..=9.0).contains(n)) {
                Ok(())
            } else {
                Err(AskError::field(
                    "value",
                    format!(
                        "“{value}” is no pH of meat. Type a number such as 5.3, or several links as 5.3 5.2."
                    ),
                ))
            }
        }
    }
}

impl Review for Checked {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let tacky = self.grade.as_deref() == Some("tacky") && self.check == "tacky";
        let wet_since = validator.piece(self.piece).and_then(|p| {
            let soaked = p.soaks.iter().map(|s| s.at).max();
            soaked.max(p.out_of_cure)
        });
        let soon = wet_since
            .filter(|_| tacky)
            .and_then(|since| too_soon("tacky", since, validator.at, DRIES_H));
        self.odd_ph(validator).into_iter().chain(soon).collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let check = render.catalogue().check(&self.check);
        let name = check.map_or(self.check.as_str(), |c| c.name.as_str());
        let grade = self.grade.as_ref().map(|key| {
            let found = check.and_then(|c| c.grades.iter().find(|g| g.key == *key));
            found.map_or_else(|| key.replace('_', " "), |g| g.name.clone())
        });
        let seen = self.mould.map(|m| m.label());
        let said: Vec<_> = [grade, seen, self.value.clone(), self.note.clone()]
            .into_iter()
            .flatten()
            .collect();
        format!("{name}: {}", said.join(", "))
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Checked(CheckedAsk {
            piece: self.piece,
            check: self.check.clone(),
            grade: self.grade.clone(),
            value: self.value.clone(),
            note: self.note.clone(),
            pack: self.pack,
            mould: self.mould,
            photo: self.photo.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let check = render.catalogue().check(&self.check);
        let mut fields = Vec::new();
        if let Some(check) = check.filter(|c| !c.grades.is_empty()) {
            let grades = check.grades.iter().map(|g| FieldOption {
                value: g.key.clone(),
                label: g.name.clone(),
            });
            fields.push(Field::one_of("grade", &check.name, grades.collect()).hint(&check.words));
        }
        if check.is_none_or(|c| c.value.is_some()) {
            fields.push(Field::text("value", "Number").optional());
        }
        fields.push(Field::text("note", "Note").optional());
        fields
    }
}

impl Checked {
    /// A pH that no ferment makes so soon, or at all.
    fn odd_ph(&self, validator: &Validator<'_>) -> Option<Finding> {
        let lowest = ph_values(self.value.as_deref()?)
            .into_iter()
            .reduce(f64::min)?;
        let time = souring(validator.piece(self.piece)?, validator.home)?;
        let dries = validator.piece(self.piece)?.hanging.as_ref();
        if dries.is_some_and(|h| h.until.is_some()) || !is_odd(lowest, time.from, validator.at) {
            return None;
        }
        let (message, wants) = if lowest < LEAST_PH {
            (
                "No ferment sours meat that far.",
                format!("{LEAST_PH} to {SOUR_PH}"),
            )
        } else {
            (
                "No ferment sours meat that soon.",
                format!("{SOUR_PH} or less after {SOONEST_H} h or more"),
            )
        };
        Some(
            Finding::new(Code::NotSour, Severity::Caution, message)
                .saw(format!("pH {lowest}"))
                .wants(wants)
                .remedy("Check the meter in its buffer and read several links again. Saved as typed it proves nothing."),
        )
    }
}

impl CheckedAsk {
    /// The grade that mould has by its colour and how it looks; a typed one may be worse, never milder.
    fn by_sight(&self, typed: Option<String>) -> Result<Option<String>, AskError> {
        let Some(seen) = &self.mould else {
            return Ok(typed);
        };
        if self.check != MOULD {
            return Err(AskError::field(
                "mould",
                "Colour and texture are those of mould: send them with the check “mould”.",
            ));
        }
        let call = seen.call();
        let worse = typed
            .as_deref()
            .and_then(|t| MouldCall::ALL.into_iter().find(|c| c.grade() == t));
        match worse {
            Some(worse) if worse >= call => Ok(Some(worse.grade().into())),
            Some(_) => Err(AskError::field(
                "grade",
                format!(
                    "Mould like this ({}) is “{}”. Leave the grade out, or type a worse one.",
                    seen.label(),
                    call.grade().replace('_', " ")
                ),
            )),
            None if typed.is_some() => Err(AskError::field(
                "grade",
                "That is no grade of mould that was seen. Leave it out: colour and texture decide.",
            )),
            None => Ok(Some(call.grade().into())),
        }
    }
}
