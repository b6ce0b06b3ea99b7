//! Reading a JSON body so that a mistake names its field in words a cook understands.

use crate::error::ApiError;
use crate::limits::BODY_PATIENCE;
use actix_web::dev::Payload;
use actix_web::error::PayloadError;
use actix_web::web::Bytes;
use actix_web::{FromRequest, HttpRequest};
use manifest_core::caution::FieldError;
use manifest_core::units::{bounds, show};
use serde::de::DeserializeOwned;
use serde_json::Value;
use std::future::Future;
use std::pin::Pin;

/// A body that was read and checked field by field, with its bytes as they came.
pub struct Body<T> {
    /// What was asked.
    pub value: T,
    /// The bytes, for recognising a retry.
    pub raw: String,
}

/// A body as it came: a file, a picture.
pub struct Raw(pub Bytes);

impl FromRequest for Raw {
    type Error = ApiError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, ApiError>>>>;

    fn from_request(req: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let whole = whole(req, payload);
        Box::pin(async move { whole.await.map(Self) })
    }
}

/// The whole body, unless it is too much or does not come.
fn whole(
    req: &HttpRequest,
    payload: &mut Payload,
) -> impl Future<Output = Result<Bytes, ApiError>> + use<> {
    let bytes = Bytes::from_request(req, payload);
    async move {
        let came = tokio::time::timeout(BODY_PATIENCE, bytes).await;
        came.map_err(|_| {
            ApiError::TooSlow("The request did not come whole in time. Send it again.")
        })?
        .map_err(|error| match error.as_error::<PayloadError>() {
            Some(PayloadError::Overflow) => {
                ApiError::TooLarge("That is more than any form here sends. Send less at a time.")
            }
            _ => ApiError::NotJson("The request did not come whole. Send it again.".into()),
        })
    }
}

impl<T: DeserializeOwned> FromRequest for Body<T> {
    type Error = ApiError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, ApiError>>>>;

    fn from_request(req: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let whole = whole(req, payload);
        Box::pin(async move {
            let bytes = whole.await?;
            Ok(Self {
                value: read(&bytes)?,
                raw: String::from_utf8_lossy(&bytes).into_owned(),
            })
        })
    }
}

/// A body whose `text` is a page of somebody's writing: its lines stay lines, every letter stays as it came, and how much
/// of it is too much is said by whoever reads it.
pub struct Written<T>(pub T);

impl<T: DeserializeOwned> FromRequest for Written<T> {
    type Error = ApiError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, ApiError>>>>;

    fn from_request(req: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let whole = whole(req, payload);
        Box::pin(async move { read_kept(&whole.await?, &["text", "line_text"]).map(Self) })
    }
}

/// Reads JSON; a syntax error is not JSON (400), anything else names its field (422).
pub fn read<T: DeserializeOwned>(bytes: &[u8]) -> Result<T, ApiError> {
    read_kept(bytes, &[])
}

/// The same, with fields that are kept letter by letter.
fn read_kept<T: DeserializeOwned>(bytes: &[u8], kept: &[&str]) -> Result<T, ApiError> {
    if bytes.trim_ascii_start().first().is_some_and(|b| *b != b'{') {
        return Err(ApiError::NotJson(
            "This is no JSON object. Send an object in braces.".into(),
        ));
    }
    // Read once without its types, to clean and to measure whatever stands in it.
    let mut whole: Option<Value> = serde_json::from_slice(bytes).ok();
    let cleaned = whole
        .as_mut()
        .and_then(|v| clean(v, kept).then(|| v.to_string()));
    let bytes = cleaned.as_deref().map_or(bytes, str::as_bytes);
    let mut json = serde_json::Deserializer::from_slice(bytes);
    let value: T = serde_path_to_error::deserialize(&mut json).map_err(|error| {
        let path = error.path().to_string();
        let inner = error.into_inner();
        let said = inner.to_string();
        let said = said.split(" at line ").next().unwrap_or_default();
        if inner.is_data() || said.contains("number out of range") {
            field_error(&path, said)
        } else {
            ApiError::NotJson(not_json(&inner))
        }
    })?;
    whole.as_ref().map_or(Ok(()), |v| within_bounds(v, kept))?;
    json.end().map_err(|_| {
        ApiError::NotJson("There is more after the JSON object. Send one object alone.".into())
    })?;
    Ok(value)
}

fn not_json(error: &serde_json::Error) -> String {
    let what = if error.is_eof() {
        "it ends before it is complete".into()
    } else {
        format!(
            "line {}, letter {} is out of place",
            error.line(),
            error.column()
        )
    };
    format!("This is not JSON: {what}. Send an object in braces.")
}

/// Takes out of every text what nobody can type or see: control characters, and marks that turn the
/// direction of writing; true where there was something of that kind.
fn clean(value: &mut Value, kept: &[&str]) -> bool {
    match value {
        Value::String(text) if text.contains(is_unseen) => {
            let seen = text.chars().filter_map(|c| match c {
                '\n' | '\r' | '\t' => Some(' '),
                c if is_unseen(c) => None,
                c => Some(c),
            });
            *text = seen.collect();
            true
        }
        // Each of them is cleaned, also after the first.
        Value::Array(items) => {
            items
                .iter_mut()
                .map(|v| clean(v, kept))
                .filter(|unclean| *unclean)
                .count()
                > 0
        }
        Value::Object(fields) => {
            let cleaned = fields
                .iter_mut()
                .filter(|(name, _)| !kept.contains(&name.as_str()));
            let each = cleaned.map(|(_, v)| clean(v, kept));
            each.filter(|unclean| *unclean).count() > 0
        }
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => false,
    }
}

fn is_unseen(c: char) -> bool {
    c.is_control()
        || matches!(c, '\u{200e}' | '\u{200f}' | '\u{2028}' | '\u{2029}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}' | '\u{feff}')
}

/// True for what the reader of days and moments says of something that is none.
fn is_of_time(said: &str) -> bool {
    [
        "failed to parse",
        "digit year",
        "parsed date",
        "parsed time",
        "in the required range",
    ]
    .iter()
    .any(|words| said.contains(words))
}

/// A question in the address that cannot be read.
pub fn query_error(said: &str) -> ApiError {
    let said = said
        .strip_prefix("Query deserialize error: ")
        .unwrap_or(said);
    if !is_of_time(said) && (said.contains("invalid digit") || said.contains("invalid float")) {
        return ApiError::field(
            "query",
            "A number after the question mark cannot be read. Give digits.",
        );
    }
    field_error("query", said)
}

/// Refuses texts, numbers and lists that nobody means, wherever they stand.
fn within_bounds(value: &Value, kept: &[&str]) -> Result<(), ApiError> {
    let mut wrong = Vec::new();
    walk(value, "", String::new(), kept, &mut wrong);
    if wrong.is_empty() {
        Ok(())
    } else {
        Err(ApiError::Fields(wrong))
    }
}

/// Looks at a value and what is in it; `name` is the field's own, `at` the way to it.
fn walk(value: &Value, name: &str, at: String, kept: &[&str], wrong: &mut Vec<FieldError>) {
    let too_much = match value {
        Value::String(_) if kept.contains(&name) => None,
        Value::String(text) if text.chars().count() > bounds::longest_text(name) => Some(format!(
            "That is too long. Write at most {} letters.",
            show::grouped(bounds::longest_text(name) as f64)
        )),
        Value::Number(n) if n.as_f64().is_some_and(|n| n.abs() > bounds::LARGEST_NUMBER) => {
            Some("No household has a number that large. Check the digits and the unit.".into())
        }
        Value::Array(items) if items.len() > bounds::LONGEST_LIST => Some(format!(
            "That is a long list. Send at most {} at a time.",
            show::grouped(bounds::LONGEST_LIST as f64)
        )),
        Value::Null | Value::Bool(_) | Value::String(_) | Value::Number(_) => None,
        Value::Array(items) => {
            for (i, item) in items.iter().enumerate() {
                walk(item, name, format!("{at}[{i}]"), kept, wrong);
            }
            None
        }
        Value::Object(fields) => {
            for (name, item) in fields {
                let dot = if at.is_empty() { "" } else { "." };
                walk(item, name, format!("{at}{dot}{name}"), kept, wrong);
            }
            None
        }
    };
    wrong.extend(too_much.map(|message| FieldError::new(at, message)));
}

/// Puts the parser's words into a cook's.
fn field_error(path: &str, said: &str) -> ApiError {
    let quoted = |text: &str| text.split('`').nth(1).unwrap_or_default().to_string();
    let inside = |name: &str| match path {
        "." | "" | "?" => name.to_string(),
        p if p.ends_with(name) => p.to_string(),
        p => format!("{p}.{name}"),
    };
    let (field, message) = if is_of_time(said) {
        (
            path.to_string(),
            "That is no day or time. Give a day such as 2026-11-20, or a moment such as 2026-11-20T18:30:00Z.".into(),
        )
    } else if said.starts_with("unknown field") {
        let name = quoted(said);
        let known = said
            .split(", expected ")
            .nth(1)
            .unwrap_or_default()
            .replace('`', "");
        (
            inside(&name),
            format!("“{name}” is not a field here. Use {known}."),
        )
    } else if said.starts_with("missing field") {
        let name = quoted(said);
        (inside(&name), format!("Please give {name}."))
    } else if said.starts_with("unknown variant") {
        let known = said
            .split(", expected ")
            .nth(1)
            .unwrap_or_default()
            .replace('`', "");
        (
            path.to_string(),
            format!("“{}” is not possible here. Use {known}.", quoted(said)),
        )
    } else if said.starts_with("invalid type")
        || said.starts_with("invalid value")
        || said.starts_with("invalid length")
        || said.contains("out of range")
    {
        let expected = said.split(", expected ").nth(1).unwrap_or("f64");
        let wants = wanted(expected.split(" at line ").next().unwrap_or_default());
        (
            path.to_string(),
            format!("This cannot be read. Give {wants}."),
        )
    } else if said.starts_with("data did not match any variant") {
        (
            path.to_string(),
            "This cannot be read. Give a number, such as 4.".into(),
        )
    } else if said.starts_with("duplicate field") {
        let name = quoted(said);
        (
            inside(&name),
            format!("“{name}” stands here twice. Give it once."),
        )
    } else {
        // What a field's own reader says is in a cook's words already.
        (path.to_string(), format!("{}.", said.trim_end_matches('.')))
    };
    ApiError::Fields(vec![FieldError::new(field, message)])
}

/// How a reader of JSON begins to name a part of the program.
const OWN_PARTS: [&str; 9] = [
    "struct ",
    "enum ",
    "tuple ",
    "internally ",
    "adjacently ",
    "unit",
    "newtype ",
    "variant ",
    "any ",
];

/// What a reader of JSON expects, in words.
fn wanted(expected: &str) -> String {
    match expected {
        "f32" | "f64" => "a number, such as 2.5",
        "u8" | "u16" | "u32" | "u64" | "usize" | "i32" | "i64" => "a whole number, such as 4",
        "a string" | "a borrowed string" => "a text in quotes",
        "a boolean" => "true or false",
        "variant identifier" => "the word that says which it is",
        "a sequence" => "a list",
        other if other.starts_with("a string") => "a text in quotes",
        // The names of the program's own parts say nothing to anybody.
        other if OWN_PARTS.iter().any(|part| other.starts_with(part)) => {
            "an object with its fields"
        }
        other => other,
    }
    .into()
}

#[cfg(test)]
mod tests {
    use super::*;
    use actix_web::ResponseError;
    use manifest_core::cure::dry::DryCureAsk;

    #[test]
    fn a_wrong_body_names_its_field_in_words() {
        let whole = r#""meat_g": 1000, "cure": "cure1", "salt_g_per_kg": 22, "class": "fry""#;
        #[rustfmt::skip]
        let cases = [
            ("{", 400, "", "This is not JSON"),
            (r#"{"meat_g": 1000} x"#, 422, "cure", "Please give cure."),
            (r#"{"meat_g": "heavy"}"#, 422, "meat_g", "This cannot be read. Give a number, such as 2.5."),
            (&format!("{{{whole}, \"salt_g_per_kg\": 1e300}}").replacen("\"salt_g_per_kg\": 22, ", "", 1), 422, "salt_g_per_kg", "No household has a number that large."),
            (&format!("{{{whole}, \"rule_set\": \"{}\"}}", "x".repeat(401)), 422, "rule_set", "That is too long. Write at most 400 letters."),
            (r#"{"meat_g": 1, "skin_on": "yes"}"#, 422, "skin_on", "This cannot be read. Give true or false."),
            (r#"{"meat_g": []}"#, 422, "meat_g", "This cannot be read. Give a number, such as 2.5."),
            (r#"{"meat_g": 1e999}"#, 422, "meat_g", "This cannot be read. Give a number, such as 2.5."),
            (&format!("{{{whole}, \"colour\": 1}}"), 422, "colour", "“colour” is not a field here. Use one of meat_g, cure,"),
            (&whole.replacen("\"fry\"", "\"raw\"", 1).replacen("", "{", 1).replace("raw\"", "raw\"}"), 422, "class", "“raw” is not possible here. Use one of fry, cooked, dried, sausage_dried."),
            (&format!("{{{whole}, \"additions\": [{{\"name\": \"sugar\"}}]}}"), 422, "additions[0].g_per_kg", "Please give g_per_kg."),
        ];
        for (text, status, field, want) in cases {
            let error = read::<DryCureAsk>(text.as_bytes()).unwrap_err();
            assert_eq!(error.status_code().as_u16(), status, "{text}");
            assert!(error.to_string().starts_with(want), "{text}: {error}");
            if let ApiError::Fields(errors) = error {
                assert_eq!(errors[0].field, field, "{text}");
            }
        }
    }
}
