//! No cure at all: fresh, rendered, boiled for stock, thrown away.

use super::{Dosing, Vessel, Waits};
use crate::caution::FieldError;
use crate::cure::sheet::{Setting, Sheet, Table};
use crate::cure::time::Method;
use crate::dose::limits::Law;

pub(super) const DOSING: Dosing = Dosing {
    name: "not cured",
    fields: &[],
    form: None,
    law: Law::without_brine,
    days_by: Method::Dry,
    vessel: |_| Vessel::None,
    mixes: false,
    waits: Waits::Slack,
    soak_min: None,
    weigh,
};

fn weigh(setting: &Setting<'_>, _: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    Err(vec![FieldError::new(
        "build",
        format!("{} is not cured.", setting.build.name),
    )])
}
