//! A measured dry cure: every ingredient by the weight of the piece it goes on.

use super::{DoseField, DoseUnit, Dosing, Vessel, Waits};
use crate::catalogue::dosing::Spooned;
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

pub(super) const DOSING: Dosing = Dosing {
    name: "rubbed by weight",
    fields: &[CURE, SALT],
    form: Some(Form::Whole),
    law: Law::without_brine,
    days_by: Method::Dry,
    vessel: |_| Vessel::Bag,
    mixes: true,
    waits: Waits::Slack,
    soak_min: None,
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    rub::weigh(setting, table, &CURE, &SALT)
}
