//! Opaque numbers and stable words that machines know things by; people use tags and names.

use serde::{Deserialize, Serialize};

macro_rules! id {
    ($name:ident, $what:literal) => {
        #[doc = concat!("Names ", $what, " for machines; people use its tag.")]
        #[derive(
            Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
        )]
        #[serde(transparent)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = i64))]
        pub struct $name(pub i64);
    };
}

id!(LotId, "what came in");
id!(PieceId, "a piece");
id!(PackId, "a pack");
id!(EntryId, "an entry");
id!(VesselId, "a vessel with meat in its cure");
id!(RunId, "a run in a smoker, oven or pot");

/// The stable word of a kind, as JSON spells it.
///
/// # Panics
/// When `kind` does not serialise as a word; every kind does.
#[must_use]
pub fn word<T: Serialize>(kind: &T) -> String {
    match serde_json::to_value(kind) {
        Ok(serde_json::Value::String(word)) => word,
        _ => unreachable!("kinds serialise as words"),
    }
}
