//! Every kind of act put right in the real browser, by the form that its own ask draws.

use anyhow::{Context, Result};
use manifest_e2e::browser::Form;
use manifest_e2e::server::project;
use manifest_e2e::{Browser, DESK, Server, open};
use serde_json::{Value, json};
use std::collections::BTreeSet;

/// What a person changes: the kind of act, the field as it is labelled, what is typed into it, where
/// the act keeps it.
const TYPED: [(&str, &str, &str, &str); 37] = [
    ("received", "What you call it", "hog of autumn", "/name"),
    ("under_way", "What the scale says", "1.6 kg", "/reading"),
    ("hold_answered", "By whom", "letter no. 12", "/note"),
    (
        "freezer_read",
        "Inside the thickest piece",
        "-20 °C",
        "/inside",
    ),
    ("piece_weighed", "Thickest place", "81 mm", "/thickness"),
    ("byproduct_weighed", "Weight", "2.5 kg", "/reading"),
    ("byproduct_used", "In words", "for the pan", "/note"),
    ("pack_left", "Who has it", "our sister", "/to"),
    ("worked", "The piece weighed then", "4.91 kg", "/reading"),
    ("cut", "Weight, 1", "2.45 kg", "/parts/0/reading"),
    ("joined", "Thickest place", "82 mm", "/thickness"),
    ("ground", "What came out", "3.45 kg", "/reading"),
    ("dosed", "salt", "81 g", "/weighed/lines/1/reading"),
    ("noted", "Note", "Liquid is clear.", "/text"),
    ("checked", "Note", "all around", "/note"),
    ("soaked", "Minutes in the water", "40", "/minutes"),
    ("timer_set", "Minutes", "55", "/minutes"),
    ("injected", "Weight after injecting", "2.65 kg", "/after"),
    ("topped_up", "Water poured in", "3 cups", "/reading"),
    ("out_of_cure", "Weight", "1.43 kg", "/reading"),
    ("coated", "How much of it", "32 g", "/reading"),
    ("smoked", "Warmest inside", "63 °C", "/inside"),
    ("step_done", "Note", "a night", "/note"),
    ("rested", "How long it rested", "0.25", "/rest"),
    ("cooled", "Hours after the heat", "7.5", "/hours"),
    ("place_read", "For how many hours", "11.5", "/hours"),
    ("cleaned", "With what", "boiling water", "/note"),
    ("cased", "Changes of water", "4", "/changes"),
    ("rehung", "Hook", "5", "/hook"),
    ("stripped", "Its weight, 1", "25 g", "/parts/0/reading"),
    ("evened_out", "Days", "22", "/days"),
    ("hung", "Share to lose", "33 %", "/loss_fraction"),
    ("weighed_in", "On the scale", "2.61 kg", "/reading"),
    ("taken_down", "On the scale", "2.18 kg", "/reading"),
    ("discarded", "Why", "it smelled", "/reason"),
    ("pack_moved", "Where they are kept", "freezer", "/place"),
    ("packed", "Ends and crumbs", "72 g", "/ends"),
];

/// What a person chooses instead: kind, field, words of the option, where and what the act keeps.
const CHOSEN: [(&str, &str, &str, &str, &str); 2] = [
    ("assigned", "Product", "jowl bacon", "/build", "jowl-smoked"),
    (
        "cutting_chosen",
        "Loin and belly",
        "left together in one piece",
        "/option",
        "joined",
    ),
];

/// Acts of which nothing but the time was typed.
const TIMES: [&str; 6] = [
    "turned",
    "timer_answered",
    "breakdown_closed",
    "thawed",
    "frozen",
    "pack_told",
];

/// Tells the documented story, and a little more: a piece that lies in its cure and was turned, one
/// that only has its product.
fn told(server: &Server) -> Result<()> {
    let text = std::fs::read_to_string(project().join("docs/acts.md"))?;
    for block in text.split("```json").skip(1) {
        let act: Value = serde_json::from_str(block.split("```").next().context("an example")?)?;
        server.did_at("2026-11-21T07:00:00Z", &json!([act]))?;
    }
    let lot = server.number("HG1")?;
    for far in [3, 1] {
        let jowl = json!([{"act": "piece_weighed", "lot": lot, "cut": "jowl", "reading": "1.1 kg", "thickness": "40 mm"}]);
        let piece = server.did_at("2026-11-21T07:10:00Z", &jowl)?["pieces"][0].take();
        let later = [
            json!({"act": "assigned", "piece": piece, "build": "jowl-dried"}),
            json!({"act": "dosed", "pieces": [piece]}),
            json!({"act": "turned", "piece": piece}),
        ];
        for act in &later[..far] {
            server.did_at("2026-11-21T09:00:00Z", &json!([act]))?;
        }
    }
    Ok(())
}

/// The newest entry of a kind that stands, one that a person wrote before one that was worked out
/// anew: its number, its words, its lot.
fn newest(server: &Server, kind: &str) -> Result<(i64, String, i64)> {
    let lots = server.says("/lots")?;
    let mut found = Vec::new();
    for lot in lots.as_array().context("lots")? {
        let lot = lot["id"].as_i64().context("a lot")?;
        let view = server.says(&format!("/lots/{lot}"))?;
        for e in view["timeline"].as_array().context("entries")? {
            if e["kind"] == kind && e["live"] == true && e["correctable"] == true {
                let what = e["what"].as_str().context("its words")?;
                let number = e["entry"].as_i64().context("its number")?;
                found.push((e["because"].is_null(), number, what.to_string(), lot));
            }
        }
    }
    let newest = found.into_iter().max();
    let (_, number, what, lot) = newest.with_context(|| format!("no {kind}"))?;
    Ok((number, what, lot))
}

/// The act of the entry that stands now in the place of another.
fn instead(server: &Server, kind: &str, old: i64) -> Result<Value> {
    let (entry, ..) = newest(server, kind)?;
    assert!(entry > old, "{kind} was not put right");
    Ok(server.says(&format!("/entries/{entry}/ask"))?["act"].take())
}

#[tokio::test]
async fn each_kind_of_act_is_put_right_by_its_own_form() -> Result<()> {
    let server = Server::start(false)?;
    told(&server)?;
    let mut kinds = BTreeSet::new();
    for lot in server.says("/lots")?.as_array().context("lots")? {
        let view = server.says(&format!("/lots/{}", lot["id"]))?;
        for e in view["timeline"].as_array().context("entries")? {
            if e["correctable"] == true {
                kinds.insert(e["kind"].as_str().context("a kind")?.to_string());
            }
        }
    }
    let tried = TYPED.iter().map(|t| t.0);
    let tried = tried.chain(CHOSEN.iter().map(|c| c.0)).chain(TIMES);
    assert_eq!(kinds, tried.map(String::from).collect());

    let b = open(&server, DESK).await?;
    for (kind, label, typed, place) in TYPED {
        let (entry, what, lot) = newest(&server, kind)?;
        b.goto(&format!("/breakdown/{lot}")).await?;
        b.press("button", "Everything that happened to").await?;
        b.press("button", &format!("Correct {what}")).await?;
        let name = format!("Correct {what}");
        let form = b.form(&name);
        form.fill(label, typed).await?;
        put_right(&b, form, kind).await?;
        let act = instead(&server, kind, entry)?;
        let kept = act.pointer(place).cloned().unwrap_or_default();
        let kept = kept.as_str().map_or_else(|| kept.to_string(), String::from);
        assert_eq!(kept, typed, "{kind}: {act}");
    }
    for (kind, label, words, place, key) in CHOSEN {
        let (entry, what, lot) = newest(&server, kind)?;
        b.goto(&format!("/breakdown/{lot}")).await?;
        b.press("button", "Everything that happened to").await?;
        b.press("button", &format!("Correct {what}")).await?;
        let name = format!("Correct {what}");
        let form = b.form(&name);
        form.choose(label, words).await?;
        put_right(&b, form, kind).await?;
        let act = instead(&server, kind, entry)?;
        assert_eq!(act.pointer(place), Some(&json!(key)), "{kind}: {act}");
    }
    for kind in TIMES {
        let (entry, what, lot) = newest(&server, kind)?;
        b.goto(&format!("/breakdown/{lot}")).await?;
        b.press("button", "Everything that happened to").await?;
        b.press("button", &format!("Correct {what}")).await?;
        let name = format!("Correct {what}");
        let form = b.form(&name);
        form.press("button", "At another time?").await?;
        form.fill("When it happened", "11212026\t0915AM").await?;
        put_right(&b, form, kind).await?;
        instead(&server, kind, entry)?;
    }
    b.close().await
}

/// Sends the form, past a question where there is one, and waits until it is gone.
async fn put_right(b: &Browser, form: Form<'_>, kind: &str) -> Result<()> {
    form.press("button", "Put it right").await?;
    form.done().await.with_context(|| kind.to_string())?;
    b.sees("corrected").await
}
