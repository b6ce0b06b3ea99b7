//! The API's description, finished: what holds for every address is said once, here.

use crate::error::Problem;
use actix_web::http::{Method, StatusCode};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::openapi::path::{Operation, PathItem};
use utoipa::openapi::schema::{AnyOf, ArrayItems};
use utoipa::openapi::{Content, OneOf, OpenApi, Ref, RefOr, Response, ResponseBuilder, Schema};
use utoipa::{PartialSchema, ToSchema};

/// What refusals are sent as.
pub const PROBLEM: &str = "application/problem+json";

/// Says of every answer what it means, sends every refusal as a problem, and adds those that any
/// address may give.
#[must_use]
pub fn finished(mut api: OpenApi) -> OpenApi {
    if let Some(parts) = &mut api.components {
        parts
            .schemas
            .entry(Problem::name().into_owned())
            .or_insert_with(Problem::schema);
        // A whole number is a number too: what fits one of two may fit both.
        for schema in parts.schemas.values_mut() {
            if let RefOr::T(Schema::OneOf(one)) = schema
                && is_of_plain_types(one)
            {
                let mut any = AnyOf::new();
                any.items = std::mem::take(&mut one.items);
                any.description = one.description.take();
                *schema = RefOr::T(Schema::AnyOf(any));
            }
        }
        // What is only a part of something does not forbid the rest of it.
        let mut parts_of = BTreeSet::new();
        for schema in parts.schemas.values() {
            taken_in(schema, &mut parts_of);
        }
        for name in parts_of {
            if let Some(RefOr::T(Schema::Object(part))) = parts.schemas.get_mut(&name) {
                part.additional_properties = None;
            }
        }
    }
    let mut named = BTreeMap::new();
    for item in api.paths.paths.values_mut() {
        for (method, operation) in operations_mut(item) {
            if method != Method::GET {
                may_refuse(operation, 507);
            }
            if operation.request_body.is_some() {
                for status in [400, 408, 413, 422] {
                    may_refuse(operation, status);
                }
            }
            for status in [403, 405, 500, 503] {
                may_refuse(operation, status);
            }
            for (status, response) in &mut operation.responses.responses {
                if let RefOr::T(found) = response {
                    describe(status, found);
                    if let Some(name) = refusal(status) {
                        named.entry(name).or_insert_with(|| RefOr::T(found.clone()));
                        *response = RefOr::Ref(Ref::from_response_name(name));
                    }
                }
            }
        }
    }
    if let Some(parts) = &mut api.components {
        let named = named.into_iter().map(|(name, r)| (name.to_string(), r));
        parts.responses.extend(named);
    }
    api
}

/// The refusal that any address may give, by its status; each is described once.
fn refusal(status: &str) -> Option<&'static str> {
    Some(match status {
        "400" => "NotWhole",
        "403" => "Foreign",
        "404" => "NotThere",
        "405" => "NotDoneHere",
        "408" => "TooSlow",
        "409" => "NotAsThingsStand",
        "413" => "TooLarge",
        "422" => "CannotBeRight",
        "500" => "Broke",
        "503" => "HandsFull",
        "507" => "NotWritable",
        _ => return None,
    })
}

/// True for a choice between numbers and texts, told apart by nothing but their type.
fn is_of_plain_types(one: &OneOf) -> bool {
    one.items.iter().all(|item| {
        matches!(item, RefOr::T(Schema::Object(object)) if object.properties.is_empty() && object.enum_values.is_none())
    })
}

/// The names of schemas that others take in whole, beside fields of their own.
fn taken_in(schema: &RefOr<Schema>, names: &mut BTreeSet<String>) {
    let RefOr::T(schema) = schema else { return };
    match schema {
        Schema::AllOf(all) => {
            for part in &all.items {
                if let RefOr::Ref(named) = part {
                    names.extend(named.ref_location.rsplit('/').next().map(str::to_string));
                }
                taken_in(part, names);
            }
        }
        Schema::OneOf(one) => one.items.iter().for_each(|s| taken_in(s, names)),
        Schema::AnyOf(any) => any.items.iter().for_each(|s| taken_in(s, names)),
        Schema::Object(object) => object.properties.values().for_each(|s| taken_in(s, names)),
        Schema::Array(array) => {
            if let ArrayItems::RefOrSchema(items) = &array.items {
                taken_in(items, names);
            }
        }
        _ => {}
    }
}

fn may_refuse(operation: &mut Operation, status: u16) {
    let problem = || {
        let schema = RefOr::Ref(Ref::from_schema_name(Problem::name()));
        ResponseBuilder::new()
            .content(PROBLEM, Content::new(Some(schema)))
            .build()
    };
    let responses = &mut operation.responses.responses;
    responses
        .entry(status.to_string())
        .or_insert_with(|| problem().into());
}

fn describe(status: &str, response: &mut Response) {
    let code = status
        .parse()
        .ok()
        .and_then(|code| StatusCode::from_u16(code).ok());
    if response.description.is_empty() {
        response.description = match code.map_or(0, |c| c.as_u16()) {
            200 => "As asked.",
            400 => "It is not JSON, or did not come whole.",
            403 => "It came from a foreign page or under a foreign name.",
            404 => "There is nothing of that number or name.",
            405 => "The address does not do that; `Allow` names what it does.",
            408 => "It did not come in time.",
            409 => "Not as things stand now: a question, an outdated page, something in the way.",
            413 => "It is larger than anything meant.",
            422 => "Fields that cannot be right, each with what to type; or a stop.",
            500 => "Something broke; nothing was written.",
            503 => "Everybody has their hands full; ask again later.",
            507 => "The ledger cannot be written; the words say why and what to do.",
            _ => code
                .and_then(|c| c.canonical_reason())
                .unwrap_or("Another answer."),
        }
        .into();
    }
    if code.is_some_and(|code| code.as_u16() >= 400)
        && let Some(content) = response.content.shift_remove("application/json")
    {
        response.content.insert(PROBLEM.into(), content);
    }
}

fn operations_mut(item: &mut PathItem) -> impl Iterator<Item = (Method, &mut Operation)> {
    let all = [
        (Method::GET, item.get.as_mut()),
        (Method::PUT, item.put.as_mut()),
        (Method::POST, item.post.as_mut()),
        (Method::DELETE, item.delete.as_mut()),
        (Method::PATCH, item.patch.as_mut()),
    ];
    all.into_iter().filter_map(|(m, o)| Some((m, o?)))
}

/// The methods that an address takes, in words for `Allow`; none where there is no such address.
#[must_use]
pub fn allowed(api: &OpenApi, path: &str) -> Option<String> {
    let fits = |template: &str| {
        let (mut there, mut here) = (template.split('/'), path.split('/'));
        loop {
            match (there.next(), here.next()) {
                (None, None) => return true,
                (Some(part), Some(asked)) if part.starts_with('{') && !asked.is_empty() => {}
                (Some(part), Some(asked)) if part == asked => {}
                _ => return false,
            }
        }
    };
    let mut methods: Vec<&str> = Vec::new();
    // An address of its own is none of those that a number or a name fits.
    let own = api.paths.paths.get_key_value(path);
    let all = api.paths.paths.iter().filter(|(there, _)| fits(there));
    let found: Vec<_> = own.map_or_else(|| all.collect(), |own| vec![own]);
    for (_, item) in found {
        let known = [
            ("GET", &item.get),
            ("PUT", &item.put),
            ("POST", &item.post),
            ("DELETE", &item.delete),
            ("PATCH", &item.patch),
        ];
        methods.extend(known.iter().filter(|(_, o)| o.is_some()).map(|(m, _)| *m));
    }
    methods.dedup();
    (!methods.is_empty()).then(|| methods.join(", "))
}
