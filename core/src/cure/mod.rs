//! How much cure, how sure one can be of it, and for how many days.

pub mod batch;
pub mod binder;
pub mod brine;
pub mod cover;
pub mod days;
pub mod dry;
pub mod front;
pub mod injection;
pub mod methods;
pub mod no_nitrite;
pub mod printed;
pub mod sheet;
pub mod souring;
pub mod span;
pub mod spoons;
pub mod time;
pub mod unusual;
pub mod vessel;

use crate::catalogue::builds::Seasoning;
use serde::{Deserialize, Serialize};

/// A seasoning or sugar that goes in by the weight of the meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Addition {
    /// What it is called.
    pub name: String,
    /// Grams per kilogram of meat.
    pub g_per_kg: f64,
}

impl From<&Seasoning> for Addition {
    fn from(s: &Seasoning) -> Self {
        Self {
            name: s.name.clone(),
            g_per_kg: s.g_per_kg,
        }
    }
}

/// A seasoning or sugar, weighed out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WeighedAddition {
    /// What it is called.
    pub name: String,
    /// Grams, unrounded.
    pub mass_g: f64,
}

#[cfg(test)]
pub(crate) mod testing {
    //! Reads the cases that stand beside the tests.
    use serde_json::Value;

    /// True when `got` agrees with every number, word and list in `want`, to a relative `share`.
    pub fn agrees_within(want: &Value, got: &Value, at: &str, share: f64) -> Result<(), String> {
        match (want, got) {
            (Value::Number(w), Value::Number(g)) => {
                let (w, g) = (w.as_f64().unwrap(), g.as_f64().unwrap());
                let fits = (w - g).abs() <= share * w.abs().max(1e-6);
                fits.then_some(()).ok_or(format!("{at}: want {w}, got {g}"))
            }
            (Value::Object(w), Value::Object(g)) => w.iter().try_for_each(|(k, v)| {
                agrees_within(
                    v,
                    g.get(k).unwrap_or(&Value::Null),
                    &format!("{at}.{k}"),
                    share,
                )
            }),
            (Value::Array(w), Value::Array(g)) if w.len() == g.len() => w
                .iter()
                .zip(g)
                .enumerate()
                .try_for_each(|(i, (v, o))| agrees_within(v, o, &format!("{at}[{i}]"), share)),
            (w, g) if w == g => Ok(()),
            (w, g) => Err(format!("{at}: want {w}, got {g}")),
        }
    }

    /// Runs every case of a file through `answer`.
    pub fn hold(file: &str, answer: impl Fn(Value) -> Value) {
        hold_within(file, 1e-6, answer);
    }

    /// The same to another relative distance.
    pub fn hold_within(file: &str, share: f64, answer: impl Fn(Value) -> Value) {
        let path = format!("{}/tests/cases/{file}.json", env!("CARGO_MANIFEST_DIR"));
        let text = std::fs::read_to_string(&path).unwrap();
        let cases: Value = serde_json::from_str(&text).unwrap();
        let cases = cases["cases"].as_array().unwrap();
        assert!(!cases.is_empty());
        for (i, case) in cases.iter().enumerate() {
            let got = answer(case["request"].clone());
            agrees_within(&case["expect"], &got, &format!("{file}[{i}]"), share).unwrap();
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::catalogue::Catalogue;
    use crate::catalogue::cures::CureAsk;
    use crate::catalogue::cures::CureChoice;

    #[test]
    fn a_cure_is_a_name_or_a_composition() {
        let catalogue = Catalogue::shipped();
        let read = |text: &str| -> Result<CureChoice, String> {
            serde_json::from_str::<CureAsk>(text)
                .map_err(|e| e.to_string())
                .and_then(|ask| ask.choice(&catalogue).map_err(|e| e.message))
        };
        assert_eq!(read("\"cure2\"").unwrap().made_of.nitrate, 0.04);
        let spelled = read(r#"{"nitrite": 0.005, "salt": 0.79, "sugar": 0.2}"#).unwrap();
        assert_eq!(spelled.made_of.nitrate, 0.0);
        for wrong in [
            r#""pink""#,
            r#"{"nitrite": 1.2}"#,
            r#"{"nitrite": -0.1}"#,
            r#"{"water": 1}"#,
            "7",
        ] {
            assert!(read(wrong).is_err(), "{wrong}");
        }
    }
}
