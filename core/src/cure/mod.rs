//! How much cure, how sure one can be of it, and for how many days.

pub mod batch;
pub mod binder;
pub mod brine;
pub mod cover;
pub mod days;
pub mod dose;
pub mod dry;
pub mod front;
pub mod injection;
pub mod printed;
pub mod rules;
pub mod sheet;
pub mod spoons;
pub mod time;
pub mod unusual;
pub mod vessel;
pub mod ways;

pub use crate::catalogue::cures::{Composition, Cure, Role};

use crate::catalogue::Catalogue;
use crate::catalogue::builds::Seasoning;
use crate::caution::FieldError;
use serde::{Deserialize, Serialize};

/// Milligrams per kilogram in one mass fraction.
pub(crate) const PPM: f64 = 1e6;

/// A curing salt, whole: it reads back without any catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct CureChoice {
    /// The catalogue's word, when it was named and not spelled out.
    #[serde(default)]
    pub key: Option<String>,
    /// As it is called.
    pub name: String,
    /// What it is made of.
    pub made_of: Composition,
}

impl From<&Cure> for CureChoice {
    fn from(cure: &Cure) -> Self {
        Self {
            key: Some(cure.key.clone()),
            name: cure.name.clone(),
            made_of: cure.made_of.clone(),
        }
    }
}

impl CureChoice {
    /// True for the choice to use no cure at all.
    #[must_use]
    pub fn is_none(&self) -> bool {
        self.key.as_deref() == Some("none")
    }

    /// As a person would say it.
    #[must_use]
    pub fn said(&self) -> String {
        self.name.clone()
    }

    /// The same, as a request would name it.
    #[must_use]
    pub fn ask(&self) -> CureAsk {
        match &self.key {
            Some(key) => CureAsk::Named(key.clone()),
            None => CureAsk::Made(self.made_of.clone()),
        }
    }
}

/// A cure as a request names it: a word of the catalogue, or a label's own composition.
#[derive(Clone, Debug, PartialEq)]
pub enum CureAsk {
    /// A word of the catalogue.
    Named(String),
    /// What it is made of.
    Made(Composition),
}

impl CureAsk {
    /// Looks it up.
    ///
    /// # Errors
    /// At field `cure`, with the words that are known.
    pub fn choice(&self, catalogue: &Catalogue) -> Result<CureChoice, FieldError> {
        match self {
            Self::Named(key) => catalogue.cure(key).map(CureChoice::from).ok_or_else(|| {
                let names: Vec<_> = catalogue.cures.iter().map(|c| c.key.as_str()).collect();
                FieldError::new(
                    "cure",
                    format!(
                        "“{key}” is not a cure known here; use one of {} or give a composition such as {{\"nitrite\": 0.005, \"salt\": 0.79}}",
                        names.join(", ")
                    ),
                )
            }),
            Self::Made(made_of) => Ok(CureChoice {
                key: None,
                name: "this cure".into(),
                made_of: made_of.clone(),
            }),
        }
    }
}

impl Serialize for CureAsk {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        match self {
            Self::Named(key) => to.serialize_str(key),
            Self::Made(made_of) => made_of.serialize(to),
        }
    }
}

impl<'de> Deserialize<'de> for CureAsk {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        struct Choice;
        impl<'de> serde::de::Visitor<'de> for Choice {
            type Value = CureAsk;

            fn expecting(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                f.write_str("the name of a cure or its composition")
            }

            fn visit_str<E: serde::de::Error>(self, key: &str) -> Result<CureAsk, E> {
                Ok(CureAsk::Named(key.into()))
            }

            fn visit_map<A: serde::de::MapAccess<'de>>(self, map: A) -> Result<CureAsk, A::Error> {
                let made_of =
                    Composition::deserialize(serde::de::value::MapAccessDeserializer::new(map))?;
                let shares = [
                    made_of.nitrite,
                    made_of.nitrate,
                    made_of.salt,
                    made_of.sugar,
                ];
                // The allowance is for labels whose decimals sum to a hair over one.
                if shares.iter().any(|s| !s.is_finite() || *s < 0.0)
                    || shares.iter().sum::<f64>() > 1.0 + 1e-9
                {
                    return Err(serde::de::Error::custom(
                        "a composition is shares of mass from 0 to 1 that sum to at most 1, such as 0.0625 nitrite and 0.9375 salt",
                    ));
                }
                Ok(CureAsk::Made(made_of))
            }
        }
        from.deserialize_any(Choice)
    }
}

#[cfg(feature = "openapi")]
impl utoipa::PartialSchema for CureAsk {
    fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
        use utoipa::openapi::schema::{ObjectBuilder, OneOfBuilder, Type};
        let names = ObjectBuilder::new()
            .schema_type(Type::String)
            .enum_values(Some(
                Catalogue::shipped().cures.iter().map(|c| c.key.clone()),
            ));
        OneOfBuilder::new()
            .item(names)
            .item(utoipa::openapi::schema::Ref::from_schema_name(
                "Composition",
            ))
            .into()
    }
}

#[cfg(feature = "openapi")]
impl utoipa::ToSchema for CureAsk {
    fn schemas(
        schemas: &mut Vec<(
            String,
            utoipa::openapi::RefOr<utoipa::openapi::schema::Schema>,
        )>,
    ) {
        schemas.push((
            "Composition".into(),
            <Composition as utoipa::PartialSchema>::schema(),
        ));
    }
}

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
    use super::*;

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
