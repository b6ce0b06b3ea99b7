//! A mix: the same measure as a rub, over the whole block of lean and fat, without added water.

use super::dry::{CURE, SALT};
use super::{DoseField, DosingWay, Vessel, Waits};
use crate::catalogue::dosing::BuildDose;
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table, rub};
use crate::cure::time::Method;
use crate::dose::limits::{Form, Law};

pub(super) struct GroundMix;

impl DosingWay for GroundMix {
    fn fields(&self) -> &'static [DoseField] {
        &[CURE, SALT]
    }

    fn form(&self) -> Option<Form> {
        Some(Form::Ground)
    }

    fn law(&self, _: Form) -> Law {
        Law::Ground
    }

    fn days_by(&self) -> Method {
        Method::Dry
    }

    fn vessel(&self, _: Form) -> Vessel {
        Vessel::Mixed
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
