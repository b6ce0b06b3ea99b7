//! A wet rub: the measured dose of a dry one, carried by syrup, water, wine, a sauce or a slurry. Nitrite is counted on
//! the meat all the same; what the liquid brings of water, sugar and salt is counted with it.

use super::dry::{CURE, SALT};
use super::{Dosing, Vessel, Waits};
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table, rub};
use crate::cure::time::Method;
use crate::dose::limits::{Form, Law};

pub(super) const DOSING: Dosing = Dosing {
    name: "wet rub",
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
    let carries = |name: &str| {
        setting
            .catalogue
            .brings(name)
            .is_some_and(|b| b.water > 0.0)
    };
    if !setting
        .dose
        .additions
        .iter()
        .any(|a| carries(&a.name) && a.g_per_kg > 0.0)
    {
        return Err(vec![FieldError::new(
            "own.additions",
            "A wet rub is carried by something: add syrup, water, wine or a sauce, such as 30 g/kg of syrup.",
        )]);
    }
    rub::weigh(setting, table, &CURE, &SALT)
}
