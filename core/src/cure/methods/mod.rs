//! The ways of dosing, one file each. What is special about a way stands in its file and nowhere
//! else: the numbers it goes by, how they become grams, how the law counts it, what the meat lies in
//! and by which table its days are counted.
//!
//! A new way is a file here, a variant of [`DosingMethod`] and a line in [`DosingMethod::dosing`].

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

/// What every way of dosing answers. There are no defaults: a way that forgot one of these would
/// be wrong in silence.
pub trait DosingWay: Sync {
    /// The numbers it goes by.
    fn fields(&self) -> &'static [DoseField];
    /// The form of meat it is for; none where it serves both.
    fn form(&self) -> Option<Form>;
    /// How the limits count it.
    fn law(&self, form: Form) -> Law;
    /// By which table its days are counted, where the schools differ.
    fn days_by(&self) -> Method;
    /// What the meat lies in.
    fn vessel(&self, form: Form) -> Vessel;
    /// Water for the weight of the meat, as its build says.
    fn water_per_meat(&self, dose: &BuildDose) -> f64;
    /// True when one mix may be weighed for several pieces and shared out.
    fn mixes(&self) -> bool;
    /// What becomes of it when its time is over.
    fn waits(&self) -> Waits;
    /// Minutes in water that are usual after it, where a soak is.
    fn soak_min(&self) -> Option<[u32; 2]>;
    /// The numbers to hit on the scale, by vessel, or as one mix for all of them.
    ///
    /// # Errors
    /// Fields that cannot be right.
    fn weigh(&self, setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>>;
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
    pub fn dosing(self) -> &'static dyn DosingWay {
        match self {
            Self::MeasuredDry => &dry::MeasuredDry,
            Self::GroundMix => &ground::GroundMix,
            Self::EquilibriumBrine => &equilibrium::EquilibriumBrine,
            Self::LabelRate => &label::LabelRate,
            Self::WetRub => &wet_rub::WetRub,
            Self::CoverBrine => &cover::CoverBrine,
            Self::Injection => &inject::Injection,
            Self::SaltBox => &salt_box::SaltBox,
            Self::None => &uncured::Uncured,
        }
    }

    /// True when the meat lies in brine and shares what is dissolved with it.
    #[must_use]
    pub fn in_brine(self) -> bool {
        self.dosing().vessel(Form::Whole) == Vessel::Tub
    }
}

impl Build {
    /// How the limits count its cure.
    #[must_use]
    pub fn law(&self) -> Law {
        self.method.dosing().law(self.class.form(self.form))
    }

    /// What its meat lies in while it takes its cure.
    #[must_use]
    pub fn vessel(&self) -> Vessel {
        self.method.dosing().vessel(self.class.form(self.form))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn every_way_names_its_numbers_once_and_in_words() {
        for way in DosingMethod::ALL {
            let fields = way.dosing().fields();
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
