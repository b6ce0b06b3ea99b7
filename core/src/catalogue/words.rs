//! What screens call the members of each enumeration: words alone, so that a new member has its words in one place.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// By enumeration, as the API's description calls it; by form (`label` names a member, others say it in another place of a
/// sentence); by the member's stable word.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(transparent)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Words(pub BTreeMap<String, BTreeMap<String, BTreeMap<String, String>>>);
