//! The shapes in which JSON lies in the file, apart from what the API speaks.
//!
//! Rows are never rewritten. Each says the shape it was written in, and is read through every
//! step from there to today's. A change of a stored shape is one more step here, a number more,
//! and an old ledger more among the tests' fixtures.

mod v1;
mod v2;

use crate::StoreError;
use manifest_core::catalogue::builds::Build;
use manifest_core::catalogue::species::Species;
use manifest_core::catalogue::{Kept, SnapshotKey};
use manifest_core::household::Household;
use manifest_core::ledger::facts::Act;
use serde::de::DeserializeOwned;
use serde_json::Value;
use std::sync::Arc;
pub use v1::shelf as first_shelf;

/// The shape in which today's program writes.
pub const TODAY: i64 = 3;

/// The shape in which the frozen products of the first one are spelled.
pub const SECOND: i64 = 2;

/// Fields that a newer program may have put aside before reading gives up.
const MOST_UNKNOWN: usize = 64;

/// Reads acts of every shape, in the order in which they were written.
#[derive(Default)]
pub struct Acts {
    first: v1::Acts,
}

impl Acts {
    /// An act as its row holds it.
    pub fn read(&mut self, shape: i64, text: &str) -> Result<Act, StoreError> {
        if shape > TODAY {
            return Err(StoreError::Newer);
        }
        // The usual row is read at once. No program writes an old shape behind a new one, so an
        // old step needs to see only its own rows.
        let read = if shape == TODAY {
            serde_json::from_str(text)
        } else {
            serde_json::from_str(text).and_then(|old| {
                let second = if shape == 1 {
                    self.first.second_of(old)
                } else {
                    old
                };
                serde_json::from_value(v2::third_of(second))
            })
        };
        read.map_err(StoreError::Json)
    }
}

/// The settings as their row holds them. What is not known here is left out, and what does not
/// read stands as in a new household: settings never keep the program from starting.
pub fn household(text: &str) -> Household {
    let plain = serde_json::to_value(Household::default()).unwrap_or_default();
    let mut settings = plain.clone();
    let mut said = serde_json::from_str::<Value>(text);
    if let Ok(said) = &mut said {
        v2::household(said);
    }
    if let (Value::Object(all), Ok(Value::Object(said))) = (&mut settings, said) {
        all.extend(said);
    }
    lenient(settings, Some(&plain)).unwrap_or_default()
}

/// Something on the shelf as its row holds it; none for a kind that this program does not know.
pub fn kept(kind: &str, shape: i64, text: &str) -> Result<Option<Kept>, StoreError> {
    let value: Value = serde_json::from_str(text).map_err(StoreError::Json)?;
    Ok(if kind == SnapshotKey::species("", 1).kind {
        Some(Kept::Species(Arc::new(lenient::<Species>(value, None)?)))
    } else if kind == Kept::Build(Arc::new(Build::gone("", 1))).key().kind {
        let value = if shape < TODAY {
            v2::build(value)
        } else {
            value
        };
        Some(Kept::Build(Arc::new(lenient::<Build>(value, None)?)))
    } else {
        None
    })
}

/// A list as its row holds it.
pub fn list<T: DeserializeOwned>(kind: &str, shape: i64, text: &str) -> Result<T, StoreError> {
    let value: Value = serde_json::from_str(text).map_err(StoreError::Json)?;
    let value = if shape < TODAY {
        v2::list_of(kind, value)
    } else {
        value
    };
    lenient(value, None)
}

/// What is kept, as its row is to hold it.
pub fn content(kept: &Kept) -> Result<String, StoreError> {
    match kept {
        Kept::Build(build) => serde_json::to_string(&**build),
        Kept::Species(species) => serde_json::to_string(&**species),
    }
    .map_err(StoreError::Json)
}

/// Reads a value past fields that are not known here. With `plain`, what does not read is taken
/// from there.
pub fn lenient<T: DeserializeOwned>(
    mut value: Value,
    plain: Option<&Value>,
) -> Result<T, StoreError> {
    for _ in 0..MOST_UNKNOWN {
        let error = match serde_path_to_error::deserialize::<_, T>(&value) {
            Ok(read) => return Ok(read),
            Err(error) => error,
        };
        let path: Vec<String> = error
            .path()
            .iter()
            .filter_map(|segment| match segment {
                serde_path_to_error::Segment::Map { key } => Some(key.clone()),
                serde_path_to_error::Segment::Seq { index } => Some(index.to_string()),
                serde_path_to_error::Segment::Enum { .. }
                | serde_path_to_error::Segment::Unknown => None,
            })
            .collect();
        let inner = error.into_inner();
        let said = inner.to_string();
        let unknown = said
            .strip_prefix("unknown field `")
            .and_then(|rest| rest.split('`').next());
        let mended = match (unknown, plain) {
            (Some(field), _) => forget(&mut value, &path, field),
            (None, Some(plain)) => reset(&mut value, &path, plain),
            (None, None) => false,
        };
        if !mended {
            return Err(StoreError::Json(inner));
        }
    }
    serde_json::from_value(value).map_err(StoreError::Json)
}

fn pointer(path: &[String]) -> String {
    path.iter().map(|p| format!("/{p}")).collect()
}

/// Takes an unknown field away; the path may lead to it or to what holds it.
fn forget(value: &mut Value, path: &[String], field: &str) -> bool {
    let parent = match path.split_last() {
        Some((last, parent)) if last == field => parent,
        _ => path,
    };
    let Some(Value::Object(object)) = value.pointer_mut(&pointer(parent)) else {
        return false;
    };
    object.remove(field).is_some()
}

/// Puts back what stands in a new household, at the nearest place that it has.
fn reset(value: &mut Value, path: &[String], plain: &Value) -> bool {
    for depth in (1..=path.len()).rev() {
        let place = pointer(&path[..depth]);
        if let (Some(there), Some(new)) = (value.pointer_mut(&place), plain.pointer(&place))
            && there != new
        {
            *there = new.clone();
            return true;
        }
    }
    false
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn settings_of_another_program_are_read_as_far_as_they_go() {
        let home = Household {
            name: "Our table".into(),
            ..Household::default()
        };
        let mut said = serde_json::to_value(&home).unwrap();
        said["name"] = json!("Birch Hollow");
        said["moon"] = json!("waning");
        said["scales"]["tilt"] = json!(3);
        said["theme"] = json!("sepia");
        said["cut_off_hour"] = json!("noon");
        let read = household(&said.to_string());
        assert_eq!(read.name, "Birch Hollow");
        assert_eq!(read.scales, home.scales);
        assert_eq!(
            (read.theme, read.cut_off_hour),
            (home.theme, home.cut_off_hour)
        );
        assert_eq!(household("[1, 2]"), Household::default());
        assert_eq!(household("not json"), Household::default());
        assert_eq!(household(r#"{"name": "Short"}"#).name, "Short");
    }

    #[test]
    fn what_is_kept_reads_back_and_an_unknown_kind_is_passed_over() {
        let catalogue = manifest_core::catalogue::Catalogue::shipped();
        let build = Kept::Build(catalogue.builds[0].clone());
        let species = Kept::Species(catalogue.species[0].clone());
        for kept_one in [build, species] {
            let text = content(&kept_one).unwrap();
            assert_eq!(
                kept(kept_one.key().kind, TODAY, &text).unwrap(),
                Some(kept_one.clone())
            );
        }
        assert_eq!(kept("place", TODAY, "{}").unwrap(), None);
    }
}
