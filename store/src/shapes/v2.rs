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
            as_typed(fields, "loss_fraction", "loss");
            as_typed(fields, "inside_c", "inside");
            if let Some(dose) = fields.get_mut("dose") {
                dosed(dose);
            }
        }
        "worked" => {
            as_typed(fields, "thickness_mm", "thickness");
            as_typed(fields, "fat_cover_mm", "fat_cover");
        }
        "joined" => as_typed(fields, "thickness_mm", "thickness"),
        "ground" => {
            as_typed(fields, "thickness_mm", "thickness");
            as_typed(fields, "fat_fraction", "fat");
        }
        "freezer_read" => {
            as_typed(fields, "inside_c", "inside");
            as_typed(fields, "thickness_mm", "thickness");
        }
        "hung" => as_typed(fields, "loss_fraction", "loss"),
        "smoked" => {
            as_typed(fields, "inside_c", "inside");
            as_typed(fields, "chamber_c", "chamber");
        }
        "cut" => {
            for part in list(fields, "parts") {
                as_typed(part, "thickness_mm", "thickness");
            }
        }
        "received" => {
            if let Some(background) = fields.get_mut("background").and_then(Value::as_object_mut) {
                as_typed(background, "fat_cover_mm", "fat_cover");
                as_typed(background, "inside_c", "inside");
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

/// Settings in the third shape: tubs, pans, shelves, smoker and chamber became places.
pub fn household(settings: &mut Value) {
    let Some(equipment) = settings.get_mut("equipment").and_then(Value::as_object_mut) else {
        return;
    };
    let mut places = Vec::new();
    for (old, kind, holds) in [
        ("fridge", "fridge", "litres"),
        ("tubs", "tub", "litres"),
        ("pans", "pan", ""),
        ("smoker", "smoker", "max_kg"),
        ("chamber", "chamber", "hooks"),
    ] {
        let items = match equipment.remove(old) {
            Some(Value::Array(items)) => items,
            Some(one @ Value::Object(_)) => vec![one],
            _ => continue,
        };
        for item in items {
            let sides = |name: &str, other: &str| {
                item.get(name)
                    .or_else(|| item.get(other))
                    .cloned()
                    .unwrap_or_default()
            };
            places.push(json!({
                "id": places.len() + 1,
                "kind": kind,
                "name": item.get("name").cloned().unwrap_or_else(|| if kind == "chamber" { "drying place" } else { kind }.into()),
                "count": item.get("count").cloned().unwrap_or_else(|| 1.into()),
                "holds": item.get(holds).cloned().unwrap_or_else(|| 0.0.into()),
                "length_mm": sides("length_mm", "shelf_length_mm"),
                "width_mm": sides("width_mm", "shelf_width_mm"),
                "height_mm": sides("height_mm", "drop_mm"),
                "shelves": sides("shelves", "shelves"),
            }));
        }
    }
    if !places.is_empty() {
        equipment.insert("places".into(), places.into());
    }
}

/// A list in the third shape: wishes were bare grams.
pub fn list_of(kind: &str, mut content: Value) -> Value {
    if kind == "wishes" {
        for wish in content["wishes"].as_array_mut().into_iter().flatten() {
            if let Some(amount) = wish["amount"].as_object_mut() {
                for (old, new) in [("g_per_week", "a_week"), ("g", "amount")] {
                    if let Some(grams) = amount.remove(old).and_then(|g| g.as_f64()) {
                        let mg = (grams * 1_000.0).round() as i64;
                        amount.insert(new.into(), json!({"said": "", "value": mg}));
                    }
                }
            }
        }
    }
    content
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
fn as_typed(fields: &mut Map<String, Value>, old: &str, new: &str) {
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
    as_typed(fields, "thickness_mm", "thickness");
    as_typed(fields, "fat_cover_mm", "fat_cover");
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
            as_typed(line, "mg", "mass");
            as_typed(line, "salt_fraction", "salt");
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
