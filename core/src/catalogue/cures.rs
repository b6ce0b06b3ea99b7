//! Curing salts and what they are made of.

use crate::catalogue::Catalogue;
use crate::caution::FieldError;
use serde::{Deserialize, Serialize};

/// What a curing salt is made of, by mass fraction; the rest is inert.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Composition {
    /// Sodium nitrite.
    #[serde(default)]
    pub nitrite: f64,
    /// Sodium nitrate.
    #[serde(default)]
    pub nitrate: f64,
    /// Sodium chloride.
    #[serde(default)]
    pub salt: f64,
    /// Sugars.
    #[serde(default)]
    pub sugar: f64,
}

/// A curing salt of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Cure {
    /// The stable word.
    pub key: String,
    /// As it is called at the table.
    pub name: String,
    /// What it is made of.
    #[serde(flatten)]
    pub made_of: Composition,
    /// What it is for.
    pub words: String,
}

/// What an ingredient does in a dose.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Role {
    /// Brings the nitrite or nitrate.
    CuringSalt,
    /// Plain salt.
    Salt,
    /// Sugar, syrup, honey.
    Sugar,
    /// Spices and herbs.
    Spice,
    /// Soy sauce, spirit, wine and other liquids that are not plain water.
    Liquid,
    /// Water.
    Water,
    /// Speeds the cure up: erythorbate and its kin.
    Accelerator,
    /// Holds pieces together.
    Binder,
}

impl Role {
    /// True for what is never mixed into a bowl with the cure: it is weighed for each piece, and goes on last.
    #[must_use]
    pub const fn goes_on_apart(self) -> bool {
        match self {
            Self::Accelerator | Self::Binder => true,
            Self::CuringSalt
            | Self::Salt
            | Self::Sugar
            | Self::Spice
            | Self::Liquid
            | Self::Water => false,
        }
    }
}

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
    pub fn label(&self) -> String {
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
