//! What a person sends when something was done: the acts themselves are the core's; here they meet
//! the wire.

use crate::error::ApiError;
use jiff::Timestamp;
pub use manifest_core::acts::{Ask as ActAsk, DraftContext};
use manifest_core::caution::FieldError;
use manifest_core::form::AskError;
use manifest_core::house::House;
use manifest_core::ledger::{LotId, PieceId};
use manifest_core::units::{bounds, show};

/// When something happened: now, or a moment the person named in the household's own time.
///
/// # Errors
/// When it cannot be, or may be two moments and the person did not `keep` the first.
pub fn happened_at(
    text: Option<&str>,
    home: &House,
    now: Timestamp,
    keep: bool,
) -> Result<Timestamp, ApiError> {
    let Some(text) = filled(text) else {
        return Ok(now);
    };
    let moment = home
        .settings
        .moment(text, now)
        .map_err(|e| ApiError::Fields(vec![e]))?;
    match moment.doubt(&home.settings) {
        Some(doubt) if !keep => Err(ApiError::Question(vec![doubt])),
        _ => Ok(moment.at),
    }
}

/// What was typed, unless it is empty.
pub fn filled(text: Option<&str>) -> Option<&str> {
    text.filter(|t| !t.trim().is_empty())
}

/// No such piece.
pub fn no_piece(id: PieceId) -> ApiError {
    AskError::no_piece(id).into()
}

/// No such lot.
pub fn no_lot(id: LotId) -> ApiError {
    AskError::no_lot(id).into()
}

/// Checks that a request names at least one act, and no more than are written together.
///
/// # Errors
/// With what to send instead.
pub fn some<T>(list: &[T], field: &str) -> Result<(), ApiError> {
    if list.len() > bounds::MOST_ACTS {
        return Err(ApiError::field(
            field,
            format!(
                "{} in one request hold everybody else up. Send at most {} at a time.",
                show::grouped(list.len() as f64),
                bounds::MOST_ACTS
            ),
        ));
    }
    if list.is_empty() {
        return Err(ApiError::Fields(vec![FieldError::new(
            field,
            "Say what was done: give at least one act.",
        )]));
    }
    Ok(())
}

impl From<AskError> for ApiError {
    fn from(error: AskError) -> Self {
        match error {
            AskError::Fields(errors) => Self::Fields(errors),
            AskError::Missing(words) => Self::NotFound(words),
            AskError::Stopped(findings, words) => Self::Stopped(findings, words),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn times_are_the_households_own_and_not_in_the_future() {
        let home = House::from(manifest_core::household::Household {
            time_zone: "America/Denver".into(),
            ..manifest_core::household::Household::default()
        });
        let now: Timestamp = "2026-11-20T18:00:00Z".parse().unwrap();
        let at = |text| {
            happened_at(Some(text), &home, now, false)
                .map(|t| t.to_string())
                .map_err(|e| e.to_string())
        };
        assert_eq!(at("2026-11-19T18:30"), Ok("2026-11-20T01:30:00Z".into()));
        assert_eq!(
            at("2026-11-20T18:00:00Z"),
            Ok("2026-11-20T18:00:00Z".into())
        );
        assert_eq!(
            at("2026-11-20T18:30"),
            Err("That is still to come. Give a time up to now.".into())
        );
        assert_eq!(
            at("yesterday"),
            Err("Give a date and time, such as 2026-11-20T18:30.".into())
        );
    }
}
