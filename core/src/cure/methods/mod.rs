//! The methods of dosing, one file each. What is special about a method stands in its file and nowhere
//! else: the numbers it goes by, how they become grams, how the law counts it, what the meat lies in
//! and by which table its days are counted.
//!
//! A new method is a file here, a variant and its rows in [`crate::catalogue::dosing`], and a line in [`DosingMethod::dosing`];

mod cover;
mod dry;
mod equilibrium;
mod ground;
mod inject;
pub mod label;
mod salt_box;
mod uncured;
mod wet_rub;

use super::sheet::{Setting, Sheet, Table};
use super::time::Method;
use crate::catalogue::builds::Build;
use crate::catalogue::dosing::BuildDose;
pub use crate::catalogue::dosing::{DoseField, DoseUnit, DosingMethod, Vessel};
use crate::caution::FieldError;
use crate::dose::limits::{Form, Law};
pub use salt_box::hours as box_hours;
use serde::Serialize;

type Weigh = fn(&Setting<'_>, &Table<'_>) -> Result<Sheet, Vec<FieldError>>;

/// What is special about a method of dosing. It has no defaults: one that forgot a field would be wrong in silence.
pub struct Dosing {
    /// As it is called beside a product's other methods.
    pub name: &'static str,
    /// The numbers it goes by.
    pub fields: &'static [DoseField],
    /// The form of meat it is for; none where it serves both.
    pub form: Option<Form>,
    /// How the limits count it.
    pub law: fn(Form) -> Law,
    /// By which table its days are counted, where the schools differ.
    pub days_by: Method,
    /// What the meat lies in.
    pub vessel: fn(Form) -> Vessel,
    /// True when one mix may be weighed for several pieces and shared out: all of it goes into or onto the meat, so that the
    /// scale's step is the error of its cure.
    pub mixes: bool,
    /// What becomes of it when its time is over.
    pub waits: Waits,
    /// Minutes in water that are usual after it, where a soak is.
    pub soak_min: Option<[u32; 2]>,
    weigh: Weigh,
}

impl Dosing {
    /// Water for the weight of the meat, as its build says; 0 for what lies in no brine.
    #[must_use]
    pub fn water_per_meat(&self, dose: &BuildDose) -> f64 {
        match (self.vessel)(Form::Whole) {
            Vessel::Tub => equilibrium::water_per_meat(dose),
            Vessel::Bag | Vessel::Dish | Vessel::Mixed | Vessel::None => 0.0,
        }
    }

    /// The numbers to hit on the scale, by vessel, or as one mix for all of them.
    ///
    /// # Errors
    /// Fields that cannot be right.
    pub fn weigh(
        &self,
        setting: &Setting<'_>,
        table: &Table<'_>,
    ) -> Result<Sheet, Vec<FieldError>> {
        (self.weigh)(setting, table)
    }
}

/// What becomes of a piece in its cure when its time is over.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Waits {
    /// It may wait, and gets no saltier.
    Slack,
    /// It grows saltier with every day, or hour.
    Deadline,
}

impl DosingMethod {
    /// Every way.
    pub const ALL: [Self; 9] = [
        Self::MeasuredDry,
        Self::WetRub,
        Self::GroundMix,
        Self::EquilibriumBrine,
        Self::CoverBrine,
        Self::Injection,
        Self::LabelRate,
        Self::SaltBox,
        Self::None,
    ];

    /// What is special about it.
    #[must_use]
    pub const fn dosing(self) -> &'static Dosing {
        match self {
            Self::MeasuredDry => &dry::DOSING,
            Self::GroundMix => &ground::DOSING,
            Self::EquilibriumBrine => &equilibrium::DOSING,
            Self::LabelRate => &label::DOSING,
            Self::WetRub => &wet_rub::DOSING,
            Self::CoverBrine => &cover::DOSING,
            Self::Injection => &inject::DOSING,
            Self::SaltBox => &salt_box::DOSING,
            Self::None => &uncured::DOSING,
        }
    }

    /// True when the meat lies in brine and shares what is dissolved with it.
    #[must_use]
    pub fn in_brine(self) -> bool {
        (self.dosing().vessel)(Form::Whole) == Vessel::Tub
    }
}

impl Build {
    /// How the limits count its cure.
    #[must_use]
    pub fn law(&self) -> Law {
        (self.method.dosing().law)(self.class.form(self.form))
    }

    /// What its meat lies in while it takes its cure.
    #[must_use]
    pub fn vessel(&self) -> Vessel {
        (self.method.dosing().vessel)(self.class.form(self.form))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn every_way_names_its_numbers_once_and_in_words() {
        for way in DosingMethod::ALL {
            let fields = way.dosing().fields;
            let names: BTreeSet<_> = fields.iter().map(|f| f.name).collect();
            assert_eq!(names.len(), fields.len(), "{way:?}");
            for field in fields {
                assert!(
                    !field.label.is_empty() && !field.hint.is_empty(),
                    "{way:?} {}",
                    field.name
                );
            }
        }
    }
}
