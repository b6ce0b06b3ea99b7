//! A wet rub: the measured dose of a dry one, carried by syrup, water, wine, a sauce or a slurry. Nitrite is counted on
//! the meat all the same; what the liquid brings of water, sugar and salt is counted with it.

use super::dry::{CURE, SALT};
use super::{DoseField, DosingWay, Vessel, Waits};
use crate::catalogue::dosing::BuildDose;
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table, rub};
use crate::cure::time::Method;
use crate::dose::limits::{Form, Law};

pub(super) struct WetRub;

impl DosingWay for WetRub {
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
}
