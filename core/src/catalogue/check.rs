//! Everything that is wrong with a data file, said so that it can be mended.

use super::builds::{Build, HangPlan, LEAST_LOSS};
use super::load::Read;
use super::species::Species;
use super::steps::{DoneBy, StepKind};
use std::collections::HashSet;
use std::fmt;

/// One thing that is wrong with a data file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Mistake {
    /// The file, under `data/`.
    pub file: String,
    /// The field, or the line where it does not read at all.
    pub field: String,
    /// What stands there.
    pub saw: String,
    /// What to write.
    pub write: String,
}

impl Mistake {
    /// A mistake at a field.
    #[must_use]
    pub fn new(file: &str, field: &str, saw: &str, write: &str) -> Self {
        Self {
            file: file.into(),
            field: field.into(),
            saw: saw.into(),
            write: write.into(),
        }
    }
}

impl fmt::Display for Mistake {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(
            f,
            "{}: {}: there stands {}; write {}",
            self.file, self.field, self.saw, self.write
        )
    }
}

/// Mistakes a line each.
#[must_use]
pub fn list(mistakes: &[Mistake]) -> String {
    mistakes
        .iter()
        .map(ToString::to_string)
        .collect::<Vec<_>>()
        .join("\n")
}

/// Gathers mistakes of one file.
struct File<'a> {
    path: &'a str,
    found: &'a mut Vec<Mistake>,
}

impl File<'_> {
    fn that(&mut self, fine: bool, field: &str, saw: impl fmt::Display, write: &str) {
        if !fine {
            self.found
                .push(Mistake::new(self.path, field, &saw.to_string(), write));
        }
    }

    /// A word of a list that has to be known.
    fn known(&mut self, known: &[&str], field: &str, word: &str) {
        self.that(
            known.contains(&word),
            field,
            format!("“{word}”"),
            &format!("one of {}", known.join(", ")),
        );
    }

    /// Words that must stand once.
    fn once<'w>(&mut self, words: impl Iterator<Item = &'w str>, field: &str) {
        let mut seen = HashSet::new();
        for word in words {
            self.that(
                seen.insert(word),
                field,
                format!("“{word}” a second time"),
                "each word once",
            );
        }
    }

    fn share(&mut self, value: f64, field: &str) {
        self.that(
            (0.0..=1.0).contains(&value),
            field,
            value,
            "a share from 0 to 1",
        );
    }

    fn sentence(&mut self, words: &str, field: &str) {
        self.that(
            words.ends_with(['.', '?']),
            field,
            format!("“{words}”"),
            "a whole sentence, with its full stop",
        );
    }
}

/// Everything that is wrong with what was read.
pub(super) fn all(read: &Read) -> Vec<Mistake> {
    let mut found = Vec::new();
    species(read, &mut found);
    builds(read, &mut found);
    words_beside(read, &mut found);
    found
}

fn species(read: &Read, found: &mut Vec<Mistake>) {
    let mut pairs: HashSet<&str> = HashSet::new();
    let mut keys: HashSet<&str> = HashSet::new();
    for (path, s) in &read.species {
        let mut file = File { path, found };
        file.that(keys.insert(&s.key), "key", &s.key, "a word of its own");
        file.that(s.version >= 1, "version", s.version, "1 or more");
        file.that(
            s.pair.len() == 2 && pairs.insert(&s.pair),
            "pair",
            format!("“{}”", s.pair),
            "two letters that no other species has",
        );
        file.that(
            (62.8..=100.0).contains(&s.safe_inside_c),
            "safe_inside_c",
            s.safe_inside_c,
            "62.8 °C or more: no meat is safe under it",
        );
        file.once(s.cuts.iter().map(|c| c.key.as_str()), "cut.key");
        shares(s, &mut file);
        for cut in &s.cuts {
            let field = format!("cut “{}”", cut.key);
            for of in &cut.of {
                file.that(
                    s.cut(of).is_some_and(|o| o.share.is_some()),
                    &format!("{field}.of"),
                    format!("“{of}”"),
                    "a cut of this species that has a share",
                );
            }
            file.that(
                cut.share.is_none() || cut.of.is_empty(),
                &format!("{field}.of"),
                "both a share and the cuts it comes out of",
                "one of the two",
            );
            file.share(cut.fat_fraction, &format!("{field}.fat_fraction"));
            file.share(cut.bone_fraction, &format!("{field}.bone_fraction"));
            file.that(
                cut.length_to_width >= 1.0,
                &format!("{field}.length_to_width"),
                cut.length_to_width,
                "1 or more",
            );
            let thick = cut.thickness_mm;
            file.that(
                thick.low > 0.0 && thick.low <= thick.high,
                &format!("{field}.thickness_mm"),
                format!("{} to {}", thick.low, thick.high),
                "the thinner first, both above zero",
            );
        }
        let asked = read
            .cutting
            .iter()
            .filter(|c| c.kinds.contains(&s.kind) && c.cuts.iter().any(|k| s.cut(k).is_some()));
        file.that(
            asked.count() > 0,
            "kind",
            format!("“{}”, of which nothing is to be settled", s.kind),
            "a kind that cutting.toml speaks of",
        );
    }
}

fn shares(s: &Species, file: &mut File<'_>) {
    let sum = |of: &mut dyn Iterator<Item = super::species::Range>| {
        of.fold((0.0, 0.0), |(l, h), r| (l + r.low, h + r.high))
    };
    let (low, high) = sum(&mut s.cuts.iter().filter_map(|c| c.share));
    file.that(
        low < 1.0 && high > 0.9,
        "cut.share",
        format!("shares that sum to {low:.2} to {high:.2}"),
        "shares that can make a whole carcass",
    );
    let (low, high) =
        sum(&mut [s.lean_of_carcass, s.bone_of_carcass, s.fat_of_carcass].into_iter());
    file.that(
        low < 1.0 && high > 0.75,
        "lean_of_carcass",
        format!("lean, bone and fat that make {low:.2} to {high:.2}"),
        "shares that can make a whole carcass",
    );
}

fn builds(read: &Read, found: &mut Vec<Mistake>) {
    let mut keys: HashSet<&str> = HashSet::new();
    let cures: Vec<_> = read.cures.iter().map(|c| c.key.as_str()).collect();
    let checks: Vec<_> = read.checks.iter().map(|c| c.key.as_str()).collect();
    for (path, b) in &read.builds {
        let mut file = File { path, found };
        file.that(keys.insert(&b.key), "key", &b.key, "a word of its own");
        file.that(b.version >= 1, "version", b.version, "1 or more");
        file.that(
            !b.gone,
            "gone",
            "true",
            "nothing: only a ledger loses a build",
        );
        if let Some(dose) = &b.dose {
            file.known(&cures, "dose.cure", &dose.cure);
        }
        dosed(b, "dose", &mut file);
        ways(b, &cures, &mut file);
        steps(b, &checks, &mut file);
        file.that(
            b.is_ground() == b.mix.is_some(),
            "mix",
            "a form and a mix that disagree",
            "a [mix] for what is ground, and only for that",
        );
        let dry_at = b.hang.as_ref().filter(|_| b.raw_dried).map(HangPlan::least);
        file.that(
            dry_at.is_none_or(|least| least >= LEAST_LOSS),
            "hang.least_loss_fraction",
            dry_at.unwrap_or_default(),
            "0.25 or more: nothing that lost less is ever called dry",
        );
        file.that(
            b.ending || b.yield_of_green.is_some(),
            "yield_of_green",
            "nothing",
            "what should come out, of green weight",
        );
        for (field, words) in [
            ("what", &b.what),
            ("why", &b.why),
            ("how_long", &b.how_long),
            ("goes_wrong", &b.goes_wrong),
        ] {
            file.sentence(words, field);
        }
        file.that(
            b.discard || !b.keeps.is_empty(),
            "keep",
            "nothing",
            "where it keeps and for how many days",
        );
        suits(b, read, &mut file);
    }
}

/// The other ways of a product: each is dosed as it would be if it were the product's own.
fn ways(b: &Build, cures: &[&str], file: &mut File<'_>) {
    file.once(b.choices().map(|(key, _)| key), "other_way.key");
    for way in &b.other_ways {
        file.sentence(&way.words, "other_way.words");
        let field = format!("other_way “{}”", way.name);
        let says = way.method.is_some() || way.dose.is_some() || way.cure.is_some();
        file.that(
            way.key.is_some() == says,
            &field,
            "a key without a dose, or a dose without a key",
            "both for a way that can be chosen, neither for advice",
        );
        let Some(made) = way.key.as_deref().and_then(|key| b.in_way(key)) else {
            continue;
        };
        if let Some(dose) = &way.dose {
            file.known(cures, &format!("{field}.dose.cure"), &dose.cure);
        }
        dosed(&made, &format!("{field}.dose"), file);
    }
}

fn dosed(b: &Build, at: &str, file: &mut File<'_>) {
    let Some(dose) = &b.dose else {
        file.that(
            b.ending != b.method.cures(),
            "method",
            "no [dose] in a build that is cured",
            "a [dose], or none and an ending",
        );
        return;
    };
    file.that(
        b.method.cures(),
        "method",
        "none, in a build that is cured",
        "how it is cured; only an ending is not",
    );
    let way = b.method.dosing();
    file.that(
        way.form.is_none_or(|f| f == b.class.form(b.form)),
        "method",
        "a way that is not for this form of meat",
        "ground_mix for what is ground, another for whole pieces",
    );
    for field in way.fields {
        let said = dose.number(field);
        // Without a cure there is nothing to measure of one.
        let cure_only = dose.cure == "none" && field.name.starts_with("cure");
        file.that(
            !field.needed || cure_only || said.is_some(),
            &format!("{at}.{}", field.name),
            "nothing",
            &format!("{}: {}", field.label, field.hint),
        );
        let most = field.unit.measure();
        if let Some(said) = said {
            file.that(
                most.holds(said),
                &format!("{at}.{}", field.name),
                said.to_string(),
                &format!("a number from {} to {}", most.least(), most.most()),
            );
        }
    }
    for name in dose.numbers.keys() {
        let known = way.fields.iter().any(|f| f.name == name);
        let names: Vec<_> = way.fields.iter().map(|f| f.name).collect();
        file.that(
            known,
            &format!("{at}.{name}"),
            "a number that this way does not go by",
            &format!("one of {}", names.join(", ")),
        );
    }
}

fn steps(b: &Build, checks: &[&str], file: &mut File<'_>) {
    file.once(b.steps.iter().map(|s| s.id.as_str()), "step.id");
    file.that(
        b.steps.last().is_some_and(|s| s.kind == StepKind::Pack),
        "step",
        "a way that does not end at the packing table",
        "a last step of kind pack",
    );
    if !b.ending {
        let kinds: Vec<_> = b.steps.iter().map(|s| s.kind).collect();
        let first = kinds.iter().find(|k| k.traits().station.is_some());
        let cure = kinds.iter().position(|k| *k == StepKind::Cure);
        let dose = kinds.iter().position(|k| *k == StepKind::Dose);
        file.that(
            first == Some(&StepKind::Dose) && dose.is_some() && cure > dose,
            "step",
            "a way that does not begin with its cure",
            "a step of kind dose, then one of kind cure, before any smoke or hook",
        );
    }
    for kind in [
        StepKind::Dose,
        StepKind::Cure,
        StepKind::Hang,
        StepKind::Pack,
    ] {
        file.that(
            b.steps.iter().filter(|s| s.kind == kind).count() <= 1,
            "step.kind",
            format!("{} a second time", crate::ids::word(&kind)),
            "it once: a piece has one of it",
        );
    }
    let heated = b
        .steps
        .iter()
        .any(|s| matches!(s.kind, StepKind::Smoke | StepKind::Cook) && !s.may_be_left_out());
    file.that(
        heated == b.smoke.is_some(),
        "smoke",
        "a plan and steps that disagree",
        "a [smoke] for a way with a hot smoke or cooking that has to be, and only for that",
    );
    file.that(
        b.hangs() == b.hang.is_some(),
        "hang",
        "a plan and steps that disagree",
        "a [hang] for a way with a step of kind hang, and only for that",
    );
    for (i, step) in b.steps.iter().enumerate() {
        let field = format!("step “{}”", step.id);
        for ask in &step.asks {
            file.known(checks, &format!("{field}.asks"), ask);
        }
        if !step.words.is_empty() {
            file.sentence(&step.words, &format!("{field}.words"));
        }
        let w = step.window();
        file.that(
            0.0 <= w.earliest_h && w.earliest_h <= w.due_h && w.due_h <= w.latest_h,
            &format!("{field}.window"),
            format!("{}, {}, {} h", w.earliest_h, w.due_h, w.latest_h),
            "the earliest first, the latest last",
        );
        if let Some(from) = &step.from {
            let earlier: Vec<_> = b.steps[..i].iter().map(|s| s.id.as_str()).collect();
            file.known(&earlier, &format!("{field}.from"), from);
        }
        file.that(
            step.optional != Some(true)
                || !matches!(
                    step.kind.traits().done_by,
                    DoneBy::Dosed | DoneBy::OutOfCure | DoneBy::Packed
                ),
            &format!("{field}.optional"),
            "true",
            "nothing: no way leaves out its cure or its packing",
        );
    }
}

fn suits(b: &Build, read: &Read, file: &mut File<'_>) {
    let species: Vec<_> = read.species.iter().map(|(_, s)| s.key.as_str()).collect();
    for (i, suit) in b.suits.iter().enumerate() {
        let field = format!("suit[{i}]");
        file.that(
            suit.score <= 2,
            &format!("{field}.score"),
            suit.score,
            "0, 1 or 2",
        );
        for word in suit.species.iter().filter(|k| *k != "*") {
            file.known(&species, &format!("{field}.species"), word);
        }
        for cut in suit.cuts.iter().filter(|k| *k != "*") {
            let there = read
                .species
                .iter()
                .any(|(_, s)| s.is_among(&suit.species) && s.cut(cut).is_some());
            file.that(
                there,
                &format!("{field}.cuts"),
                format!("“{cut}”"),
                &format!("a cut of {}", suit.species.join(", ")),
            );
        }
    }
}

/// Cures, rules, schools, cutting and checks.
fn words_beside(read: &Read, found: &mut Vec<Mistake>) {
    let path = "cures.toml";
    let mut file = File { path, found };
    file.once(read.cures.iter().map(|c| c.key.as_str()), "cure.key");
    for c in &read.cures {
        let m = &c.made_of;
        let shares = [m.nitrite, m.nitrate, m.salt, m.sugar];
        file.that(
            shares.iter().all(|s| (0.0..=1.0).contains(s))
                && shares.iter().sum::<f64>() <= 1.0 + 1e-9,
            &format!("cure “{}”", c.key),
            format!("shares of {shares:?}"),
            "shares from 0 to 1 that sum to at most 1",
        );
    }
    file.that(
        read.cures.iter().any(|c| c.key == "none"),
        "cure.key",
        "no cure “none”",
        "the choice to use none",
    );
    for (path, r) in &read.rules {
        let mut file = File { path, found };
        for (i, limit) in r.limits.iter().enumerate() {
            file.that(
                limit.nitrite_ppm > 0.0 && limit.nitrite_ppm <= r.refuse_over_ppm * 2.0,
                &format!("limit[{i}].nitrite_ppm"),
                limit.nitrite_ppm,
                "a ceiling above zero",
            );
        }
        file.that(
            r.floor_ppm < r.home_cap_ppm && r.home_cap_ppm <= r.refuse_over_ppm,
            "home_cap_ppm",
            r.home_cap_ppm,
            "more than the floor and no more than what is refused",
        );
    }
    let mut file = File {
        path: "rules/",
        found,
    };
    file.once(read.rules.iter().map(|(_, r)| r.key.as_str()), "key");
    if let Some(schools) = &read.schools {
        let mut file = File {
            path: "schools.toml",
            found,
        };
        file.once(schools.list.iter().map(|s| s.key.as_str()), "school.key");
        for s in &schools.list {
            file.that(
                s.per_inch.is_some() == s.plus.is_some(),
                &format!("school “{}”", s.key),
                "only one of per_inch and plus",
                "both, or neither",
            );
        }
    }
    heat(read, found);
    tare(read, found);
    cutting(read, found);
    checks(read, found);
}

fn tare(read: &Read, found: &mut Vec<Mistake>) {
    let mut file = File {
        path: "tare.toml",
        found,
    };
    let words = read.tare.iter().flat_map(|k| &k.words);
    file.once(words.map(String::as_str), "part.words");
    for kind in &read.tare {
        file.that(
            kind.dry > 0.0 && kind.dry <= 1.0,
            &format!("part “{}”.dry", kind.name),
            kind.dry,
            "a share of what it weighed wet, above 0 and up to 1",
        );
    }
}

fn heat(read: &Read, found: &mut Vec<Mistake>) {
    let mut file = File {
        path: "heat.toml",
        found,
    };
    file.once(read.heat.iter().map(|r| r.key.as_str()), "rule.key");
    for rule in &read.heat {
        for stretch in [rule.dry, rule.smoke] {
            file.that(
                stretch.hours > 0.0,
                &format!("rule “{}”.hours", rule.key),
                stretch.hours,
                "more than 0",
            );
        }
        file.that(
            rule.dry.c < rule.finish_c && rule.smoke.c < rule.finish_c,
            &format!("rule “{}”.finish_c", rule.key),
            rule.finish_c.get(),
            "more than where it dries and smokes",
        );
    }
}

fn cutting(read: &Read, found: &mut Vec<Mistake>) {
    let kinds: Vec<_> = read.species.iter().map(|(_, s)| s.kind.as_str()).collect();
    let mut file = File {
        path: "cutting.toml",
        found,
    };
    file.once(read.cutting.iter().map(|c| c.key.as_str()), "choice.key");
    for choice in &read.cutting {
        let field = format!("choice “{}”", choice.key);
        for kind in &choice.kinds {
            file.known(&kinds, &format!("{field}.kinds"), kind);
        }
        let asked = read.species.iter().any(|(_, s)| {
            choice.kinds.contains(&s.kind) && choice.cuts.iter().any(|c| s.cut(c).is_some())
        });
        file.that(
            asked,
            &format!("{field}.cuts"),
            format!("{:?}, which none of these kinds has", choice.cuts),
            "cuts of these kinds",
        );
        file.that(
            choice.options.len() >= 2,
            &format!("{field}.option"),
            choice.options.len(),
            "two alternatives or more",
        );
        for option in &choice.options {
            file.sentence(&option.words, &format!("{field}, “{}”.words", option.key));
            file.sentence(&option.order, &format!("{field}, “{}”.order", option.key));
        }
    }
}

fn checks(read: &Read, found: &mut Vec<Mistake>) {
    let mut file = File {
        path: "checks.toml",
        found,
    };
    file.once(read.checks.iter().map(|c| c.key.as_str()), "check.key");
    for check in &read.checks {
        let field = format!("check “{}”", check.key);
        file.that(
            !check.grades.is_empty() || check.value.is_some(),
            &field,
            "neither grades nor a value",
            "grades, or the kind of its value",
        );
        file.once(
            check.grades.iter().map(|g| g.key.as_str()),
            &format!("{field}.grades"),
        );
        if let Some(done) = &check.done_at {
            let grades: Vec<_> = check.grades.iter().map(|g| g.key.as_str()).collect();
            file.known(&grades, &format!("{field}.done_at"), done);
        }
        file.sentence(&check.words, &format!("{field}.words"));
    }
}
