//! A mix: the same measure as a rub, over the whole block of lean and fat, without added water.

use super::dry::{CURE, SALT};
use super::{Dosing, Vessel, Waits};
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table, rub};
use crate::cure::time::Method;
use crate::dose::limits::{Form, Law};

pub(super) const DOSING: Dosing = Dosing {
    name: "mixed in",
    fields: &[CURE, SALT],
    form: Some(Form::Ground),
    law: |_| Law::Ground,
    days_by: Method::Dry,
    vessel: |_| Vessel::Mixed,
    mixes: true,
    waits: Waits::Slack,
    soak_min: None,
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    rub::weigh(setting, table, &CURE, &SALT)
}
