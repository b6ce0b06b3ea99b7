//! A measured dry cure: every ingredient by the weight of the piece it goes on.

use super::{DoseField, DoseUnit, DosingWay, Vessel, Waits};
use crate::catalogue::dosing::{BuildDose, Spooned};
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table, rub};
use crate::cure::time::Method;
use crate::dose::limits::{Form, Law};

/// Curing salt on a kilogram of meat.
pub(super) const CURE: DoseField = DoseField {
    name: "cure_g_per_kg",
    label: "Curing salt",
    unit: DoseUnit::Rate,
    hint: "On a kilogram of meat, such as 2.5 g/kg, 0.25 %, 156 ppm or 4 oz per 100 lb.",
    spoon: Spooned::Cure,
    needed: true,
    own: true,
};

/// Salt in all on a kilogram of meat.
pub(super) const SALT: DoseField = DoseField {
    name: "salt_g_per_kg",
    label: "Salt in all",
    unit: DoseUnit::Rate,
    hint: "The cure's own salt counts, and that of sauces.",
    spoon: Spooned::Salt,
    needed: true,
    own: true,
};

pub(super) struct MeasuredDry;

impl DosingWay for MeasuredDry {
    fn fields(&self) -> &'static [DoseField] {
        &[CURE, SALT]
    }

    fn form(&self) -> Option<Form> {
        Some(Form::Whole)
    }

    fn law(&self, form: Form) -> Law {
        Law::without_brine(form)
    }

    fn days_by(&self) -> Method {
        Method::Dry
    }

    fn vessel(&self, _: Form) -> Vessel {
        Vessel::Bag
    }

    fn water_per_meat(&self, _: &BuildDose) -> f64 {
        0.0
    }

    fn mixes(&self) -> bool {
        true
    }

    fn waits(&self) -> Waits {
        Waits::Slack
    }

    fn soak_min(&self) -> Option<[u32; 2]> {
        None
    }

    fn weigh(&self, setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
        rub::weigh(setting, table, &CURE, &SALT)
    }
}
