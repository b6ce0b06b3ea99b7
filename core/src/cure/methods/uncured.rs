//! No cure at all: fresh, rendered, boiled for stock, thrown away.

use super::{DoseField, DosingWay, Vessel, Waits};
use crate::catalogue::dosing::BuildDose;
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table};
use crate::cure::time::Method;
use crate::dose::limits::{Form, Law};

pub(super) struct Uncured;

impl DosingWay for Uncured {
    fn fields(&self) -> &'static [DoseField] {
        &[]
    }

    fn form(&self) -> Option<Form> {
        None
    }

    fn law(&self, form: Form) -> Law {
        Law::without_brine(form)
    }

    fn days_by(&self) -> Method {
        Method::Dry
    }

    fn vessel(&self, _: Form) -> Vessel {
        Vessel::None
    }

    fn water_per_meat(&self, _: &BuildDose) -> f64 {
        0.0
    }

    fn mixes(&self) -> bool {
        false
    }

    fn waits(&self) -> Waits {
        Waits::Slack
    }

    fn soak_min(&self) -> Option<[u32; 2]> {
        None
    }

    fn weigh(&self, setting: &Setting<'_>, _: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
        Err(vec![FieldError::new(
            "build",
            format!("{} is not cured.", setting.build.name),
        )])
    }
}
