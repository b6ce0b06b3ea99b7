//! The second shape: lengths, temperatures and shares were bare numbers without the words they were
//! said in, a piece's traits lay side by side, and a mix was cured by the way of a rub.

use serde_json::{Map, Value, json};

/// The checks of that time whose grade wrote a step down as done.
const SETTLED: [(&str, &str); 3] = [
    ("tacky", "tacky"),
    ("slice_end", "right"),
    ("slice_middle", "right"),
];

/// An act in the third shape.
pub fn third_of(mut act: Value) -> Value {
    readings(&mut act);
    let kind = act["act"].as_str().unwrap_or_default().to_string();
    let Some(fields) = act.as_object_mut() else {
        return act;
    };
    match kind.as_str() {
        "piece_weighed" => shaped(fields),
        "under_way" => {
            shaped(fields);
            said(fields, "loss_fraction", "loss");
            said(fields, "inside_c", "inside");
            if let Some(dose) = fields.get_mut("dose") {
                dosed(dose);
            }
        }
        "worked" => {
            said(fields, "thickness_mm", "thickness");
            said(fields, "fat_cover_mm", "fat_cover");
        }
        "joined" => said(fields, "thickness_mm", "thickness"),
        "ground" => {
            said(fields, "thickness_mm", "thickness");
            said(fields, "fat_fraction", "fat");
        }
        "freezer_read" => {
            said(fields, "inside_c", "inside");
            said(fields, "thickness_mm", "thickness");
        }
        "hung" => said(fields, "loss_fraction", "loss"),
        "smoked" => {
            said(fields, "inside_c", "inside");
            said(fields, "chamber_c", "chamber");
        }
        "cut" => {
            for part in list(fields, "parts") {
                said(part, "thickness_mm", "thickness");
            }
        }
        "received" => {
            if let Some(background) = fields.get_mut("background").and_then(Value::as_object_mut) {
                said(background, "fat_cover_mm", "fat_cover");
                said(background, "inside_c", "inside");
            }
        }
        "dosed" => {
            if let Some(dose) = fields.get_mut("dose") {
                dosed(dose);
            }
        }
        "checked" => {
            let settles = SETTLED
                .iter()
                .any(|(check, grade)| fields["check"] == *check && fields["grade"] == *grade);
            fields.insert("settles".into(), settles.into());
        }
        // What carried no such number is as it was.
        _ => {}
    }
    act
}

/// A product in the third shape: a dose says only what it goes by, and a mix has a way of its own.
pub fn build(mut build: Value) -> Value {
    way(&mut build, "form");
    if let Some(dose) = build.get_mut("dose").and_then(Value::as_object_mut) {
        dose.retain(|_, value| !value.is_null());
    }
    build
}

fn list<'a>(
    fields: &'a mut Map<String, Value>,
    name: &str,
) -> impl Iterator<Item = &'a mut Map<String, Value>> {
    let items = fields.get_mut(name).and_then(Value::as_array_mut);
    items.into_iter().flatten().filter_map(Value::as_object_mut)
}

/// Weights as they were said: `{said, mg}` became `{said, value}`, wherever one stands.
fn readings(value: &mut Value) {
    match value {
        Value::Object(fields) => {
            if fields.len() == 2
                && fields.contains_key("said")
                && let Some(mg) = fields.remove("mg")
            {
                fields.insert("value".into(), mg);
            }
            fields.values_mut().for_each(readings);
        }
        Value::Array(items) => items.iter_mut().for_each(readings),
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => {}
    }
}

/// A bare number under a new name, as something that nobody said.
fn said(fields: &mut Map<String, Value>, old: &str, new: &str) {
    if let Some(number) = fields.remove(old) {
        let typed = if number.is_null() {
            Value::Null
        } else {
            json!({"said": "", "value": number})
        };
        fields.insert(new.into(), typed);
    }
}

/// Thickness, skin, bone and fat, which lay side by side.
fn shaped(fields: &mut Map<String, Value>) {
    said(fields, "thickness_mm", "thickness");
    said(fields, "fat_cover_mm", "fat_cover");
    let mut shape = Map::new();
    for name in ["thickness", "fat_cover"] {
        shape.insert(name.into(), fields.remove(name).unwrap_or_default());
    }
    for name in ["skin_on", "bone_in", "fat_cap"] {
        let is = fields.remove(name).unwrap_or(Value::Bool(false));
        shape.insert(name.into(), is);
    }
    fields.insert("shape".into(), shape.into());
}

fn dosed(dose: &mut Value) {
    let form = dose["judged"]["form"].clone();
    if let Some(fields) = dose.as_object_mut() {
        for line in list(fields, "lines") {
            said(line, "mg", "mass");
            said(line, "salt_fraction", "salt");
        }
        fields.insert("form".into(), form);
    }
    way(dose, "form");
    if let Some(fields) = dose.as_object_mut() {
        fields.remove("form");
    }
}

/// What was mixed into ground meat is no rub.
fn way(of: &mut Value, form: &str) {
    if of["method"] == "measured_dry" && of[form] == "ground" {
        of["method"] = "ground_mix".into();
    }
}
