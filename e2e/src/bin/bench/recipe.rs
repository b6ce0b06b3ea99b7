//! How long the reader takes: a recipe of sixty lines, a thousand recipes, and a long run of texts that are none.

use anyhow::{Result, ensure};
use manifest_core::catalogue::Catalogue;
use manifest_core::recipe::{LONGEST_RECIPE, RecipeCheckAnswer, RecipeCheckAsk, recipe_check};
use std::hint::black_box;
use std::time::{Duration, Instant};

/// Lines as people write them; every recipe here is made of these.
const LINES: [&str; 20] = [
    "1 1/2 cups kosher salt",
    "2 tsp (12 g) cure #1, level",
    "half a cup packed brown sugar",
    "2,5 g/kg cure no. 1",
    "1 Tbsp. blak peper, coarsely ground",
    "3 cloves garlic, crushed",
    "20-25 g salt",
    "salt 2.2 %, sugar 1 %, cure #1 0.25 %",
    "a pinch of cloves",
    "1 packet of cure mix for 11 kg, half of it here",
    "3 L cold water",
    "60 ml soy sauce",
    "7/8 oz sodium erythorbate to 100 lb",
    "Rub well on every side. Bag it, 7 days in the fridge, flip every morning.",
    "Smoke at 200 F to 145 F inside, then cool.",
    "1 tbsp birch leaf powder",
    "pepper to taste",
    "4 bay leaves, crumbled",
    "For the brine, per litre of water:",
    "5 lb pork belly, skin off",
];

/// What a hostile text may be made of.
const SOUP: [&str; 24] = [
    "1/",
    "½",
    "-",
    "((",
    ")",
    ":",
    ",",
    "%",
    "#",
    "° ",
    "kg ",
    "tsp ",
    "per ",
    "cure ",
    "salt ",
    "of the ",
    "and ",
    "to taste ",
    "\n",
    "9999999999",
    "é",
    "\u{202e}",
    "a half ",
    "meat ",
];

fn ask(text: String) -> RecipeCheckAsk {
    RecipeCheckAsk {
        text,
        meat_g: Some(2_350.0),
        thickness_mm: Some(48.0),
        rule_set: "us_home".into(),
        ..RecipeCheckAsk::default()
    }
}

fn read(ask: &RecipeCheckAsk, catalogue: &Catalogue) -> Result<RecipeCheckAnswer> {
    recipe_check(black_box(ask), catalogue).map_err(|e| anyhow::anyhow!("{e:?}"))
}

/// Numbers that look like chance and are the same in every run.
struct Dice(u64);

impl Dice {
    fn roll(&mut self, sides: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        usize::try_from(self.0 % sides as u64).unwrap_or(0)
    }
}

pub fn bench() -> Result<()> {
    let catalogue = Catalogue::shipped();
    let sixty = ask((0..60)
        .map(|i| format!("{}\n", LINES[i % LINES.len()]))
        .collect());
    let mut runs: Vec<Duration> = (0..101)
        .map(|_| {
            let start = Instant::now();
            read(&sixty, &catalogue).map(|_| start.elapsed())
        })
        .collect::<Result<_>>()?;
    runs.sort();
    println!(
        "core: a recipe of 60 lines: median {:.2?}, longest {:.2?} of 101",
        runs[50], runs[100]
    );

    let mut dice = Dice(0x2545_F491_4F6C_DD1D);
    let thousand: Vec<RecipeCheckAsk> = (0..1_000)
        .map(|_| {
            let lines = 5 + dice.roll(14);
            ask((0..lines)
                .map(|_| format!("{}\n", LINES[dice.roll(LINES.len())]))
                .collect())
        })
        .collect();
    let start = Instant::now();
    let mut lines = 0;
    for recipe in &thousand {
        lines += read(recipe, &catalogue)?.lines.len();
    }
    println!(
        "core: 1,000 recipes, {lines} lines read: {:.2?}",
        start.elapsed()
    );

    // The longest texts, of the worst kinds: one line, one letter a line, one word for ever, and soup.
    let whole = |part: &str| part.repeat(LONGEST_RECIPE / part.len());
    for (what, text) in [
        (
            "one line of ingredients",
            whole("2 tsp salt, 1 tsp cure #1 and "),
        ),
        ("one letter a line", whole("1\n")),
        ("one word", whole("a")),
        ("one number", whole("9")),
        ("fractions", whole("1/2 1-1/2 ½ ")),
        ("brackets", whole("(2 g salt ")),
        (
            "its own phrases",
            whole("of the weight of the meat and water together "),
        ),
    ] {
        let long = ask(text);
        let start = Instant::now();
        let answer = read(&long, &catalogue)?;
        println!(
            "core: 64 kB, {what}: {:.2?}, {} lines answered",
            start.elapsed(),
            answer.lines.len()
        );
    }
    let start = Instant::now();
    let mut texts = 0;
    let mut longest = Duration::ZERO;
    while texts < 50_000 {
        let words = 1 + dice.roll(60);
        let soup = ask((0..words).map(|_| SOUP[dice.roll(SOUP.len())]).collect());
        let one = Instant::now();
        let answer = read(&soup, &catalogue)?;
        longest = longest.max(one.elapsed());
        for line in &answer.lines {
            ensure!(
                line.mass_g.is_none_or(|g| g.is_finite() && g >= 0.0),
                "{}",
                soup.text
            );
        }
        texts += 1;
    }
    println!(
        "core: {texts} texts that are no recipes: {:.2?}, the longest {longest:.2?}",
        start.elapsed()
    );
    Ok(())
}
