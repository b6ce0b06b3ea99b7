//! The recipe check in the real browser: recipes with faults, an assumption changed where it stands, and from a recipe to a
//! cure that was started.

use anyhow::{Context, Result};
use manifest_e2e::server::project;
use manifest_e2e::{Browser, DESK, PHONE, Server, open};
use serde_json::json;

/// Where the text is typed.
const TEXT: &str = "The recipe, as it stands";

/// Types a recipe in the place of what stands there.
async fn brings(b: &Browser, text: &str) -> Result<()> {
    b.fill(TEXT, text).await?;
    b.settled().await
}

#[tokio::test]
async fn eight_recipes_with_faults_are_each_told_theirs() -> Result<()> {
    let server = Server::start(false)?;
    let b = open(&server, DESK).await?;
    b.goto("/library").await?;
    b.press("link", "Recipe check").await?;
    b.sees("No recipe yet").await?;
    #[rustfmt::skip]
    let faults: [(&str, &[&str]); 8] = [
        ("Bench slab\n2.4 kg belly\n2 tsp (25 g) cure #1\n50 g salt", &["Two amounts of cure #1 differ", "“2 tsp” is 12 g, but “25 g” is 25 g", "So much nitrite can poison"]),
        ("Crock brine\n3 l water\n200 g salt\n25 g cure #1\nhams to fill it", &["No weight of the meat is given", "Nitrite by the weight of the meat", "cannot be told"]),
        ("For the pan\n1.5 kg belly\n3.7 g cure no. 2\n33 g salt\nFry in slices", &["which cause cancer", "99 ppm"]),
        ("Double cure\n2 kg loin\n34 g pre-blended cure\n5 g cure #1", &["Two curing salts in one recipe"]),
        ("Uncle's ham\n5 kg ham\n250 g salt\n20 g saltpetre\nHang it for months", &["is pure nitrate", "More nitrate than"]),
        ("Cellar loin\n2 kg loin\n44 g salt\n5 g cure #1\nLeave it 10 days in the cellar at 13 °C", &["Meat spoils faster than it cures in this warmth", "13 °C"]),
        ("Quick one\n1 kg duck breast\na pinch of cure #1\n20-25 g salt\npepper to taste\n5 zorkmids of blorp", &["is no dose", "from 20 to 25 g", "not understood: write it another way"]),
        ("Natural bacon\n1.5 kg belly\n33 g salt\n15 g celery powder\n15 ml sugar", &["celery powder brings is unknown", "is a volume of a solid"]),
    ];
    for (text, wanted) in faults {
        brings(&b, text).await?;
        for words in wanted {
            b.sees(words).await.with_context(|| text.to_string())?;
        }
    }
    // A sound one raises nothing.
    brings(
        &b,
        "Back, per kg:\n22 g salt\n10 g sugar\n2.5 g cure #1\nloin 2 kg",
    )
    .await?;
    b.sees("5 understood").await?;
    b.sees("156 ppm").await?;
    b.gone("Stop.").await?;
    b.close().await
}

#[tokio::test]
async fn an_assumption_is_changed_where_it_stands_and_kept_over_a_reload() -> Result<()> {
    let server = Server::start(false)?;
    let b = open(&server, DESK).await?;
    b.goto("/recipe").await?;
    brings(&b, "5 lb belly\n1 tsp cure #1\n1/4 cup kosher salt\na pinch of cloves\nRub it in, 7 days in the fridge").await?;
    b.sees("60 g kosher salt").await?;
    b.sees("from 31.2 to 64.8 g").await?;
    b.choose("It is, 1/4 cup kosher salt", "kosher salt, flaked light")
        .await?;
    b.sees("34.8 g kosher salt").await?;
    b.enter("It weighs, a pinch of cloves", "0.4 g").await?;
    b.sees("By the weight that was typed for it here").await?;
    b.choose("It is, what becomes of it", "cooked or smoked meat")
        .await?;
    b.sees("judged as cooked or smoked meat").await?;
    b.choose("It is, whose spoons and cups", "metric: a cup of 250 ml")
        .await?;
    b.sees("36.8 g kosher salt").await?;
    b.fill("It is this thick", "a fist").await?;
    b.sees("is not a unit of thickness").await?;
    b.fill("It is this thick", "50 mm").await?;
    b.sees("10 days, by the longer of our schools").await?;
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    for theme in ["light", "dark"] {
        b.prefer(theme).await?;
        let found = b.violations(&axe).await?;
        assert!(found.is_empty(), "{theme}:\n{}", found.join("\n"));
    }
    b.reload().await?;
    b.sees("36.8 g kosher salt").await?;
    b.sees("10 days, by the longer of our schools").await?;
    b.press("button", "Take it away").await?;
    b.sees("No recipe yet").await?;
    b.close().await
}

#[tokio::test]
async fn from_a_recipe_to_a_started_cure_for_a_weighed_piece() -> Result<()> {
    let server = Server::start(false)?;
    server.did(&json!([{
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "30 kg"
    }]))?;
    let lot = server.number("HG1")?;
    server.did(&json!([{"act": "piece_weighed", "lot": lot, "cut": "loin", "reading": "3160 g", "thickness": "60 mm"}]))?;
    let piece = server.number("HG1-1")?;
    server.did(&json!([{"act": "assigned", "piece": piece, "build": "back-smoked"}]))?;
    let b = open(&server, PHONE).await?;
    b.goto("/cure").await?;
    b.press("link", "By somebody's recipe").await?;
    brings(&b, "Neighbour's back, for 5 lb\n4 Tbsp fine salt\n1 tsp cure #1\n2 Tbsp maple syrup\nSix days, then smoke").await?;
    b.choose(
        "For which piece",
        "HG1-1, 3.16 kg of loin, smoked back bacon",
    )
    .await?;
    b.sees("In grams for HG1-1").await?;
    // A teaspoon of 6 g on 5 lb is 8.36 g on 3.16 kg.
    b.sees("8.36 g").await?;
    b.press("button", "Weigh it out for HG1-1").await?;
    b.sees("by a recipe: wet rub").await?;
    b.sees("maple syrup").await?;
    for line in ["cure #1", "salt", "maple syrup"] {
        b.press("button", line).await?;
    }
    b.press("button", "Start the cure").await?;
    b.sees("HG1-1 put in cure").await?;
    let card = server.says(&format!("/pieces/{piece}"))?["card"].clone();
    assert_eq!(card["stage"], "in_cure");
    assert_eq!(card["method"], "wet_rub");
    let ppm = card["cure"]["nitrite_ppm"].as_f64().context("a dose")?;
    assert!((ppm - 165.3).abs() < 10.0, "{ppm}");
    b.close().await
}

#[tokio::test]
async fn one_recipe_for_two_pieces_goes_to_the_weigh_out_of_both() -> Result<()> {
    let server = Server::start(false)?;
    server.did(&json!([{
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "30 kg"
    }]))?;
    let lot = server.number("HG1")?;
    for (grams, tag) in [(3_000, "HG1-1"), (1_500, "HG1-2")] {
        server.did(&json!([{"act": "piece_weighed", "lot": lot, "cut": "loin", "reading": format!("{grams} g"), "thickness": "60 mm"}]))?;
        let piece = server.number(tag)?;
        server.did(&json!([{"act": "assigned", "piece": piece, "build": "back-smoked"}]))?;
    }
    let b = open(&server, DESK).await?;
    b.goto("/cure").await?;
    b.press("link", "By somebody's recipe").await?;
    brings(&b, "A brine of ours, for 2 kg\n1 l water\n60 g salt\n7 g cure #1\nLeft in it for a week, all of it evens out").await?;
    b.choose("For which piece", "HG1-1, 3 kg of loin, smoked back bacon")
        .await?;
    b.press("checkbox", "and HG1-2, 1.5 kg of loin").await?;
    b.sees("In grams for HG1-1, HG1-2").await?;
    b.press("button", "Weigh it out for HG1-1, HG1-2").await?;
    b.sees("by a recipe").await?;
    // Two and a quarter times the recipe: 2.25 l of water for 4.5 kg.
    b.sees("2.25 l").await?;
    b.close().await
}
