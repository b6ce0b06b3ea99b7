//! What the label of a pack says: what it is made from, what is in it, how it is eaten, until when.

use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::ledger::state::{Pack, Piece, State};
use crate::piece::printed::{How, Printed, Verdict};
use crate::piece::storage::Storage;
use crate::reason;
use crate::units::show::temperature;
use crate::verdict::contents::{allergens, contents, ingredients};
use crate::verdict::{Assessment, Judge, KeepUntil, ReasonCode, Within};
use jiff::civil::Date;

/// A label.
#[derive(Clone, Debug, PartialEq)]
pub struct Label {
    /// The product, with its meat where that is not the usual one.
    pub product: String,
    /// As its meat is called: everything that went in.
    pub meat: String,
    /// What it is made from: every animal by name and tag, and the piece.
    pub made_from: String,
    /// When it was packed.
    pub packed_on: Date,
    /// What may be said of it.
    pub verdict: Assessment,
    /// The same in words, as it is printed.
    pub says: String,
    /// Where it is kept and until when; every way of its product when none was chosen.
    pub keeps: Vec<KeepUntil>,
    /// By what is in it, the most first.
    pub ingredients: Vec<String>,
    /// What to name for the allergic, by what went in and what was typed.
    pub allergens: Vec<String>,
    /// True when a person typed what to name.
    pub allergens_confirmed: bool,
    /// What has to be said on it besides.
    pub notes: Vec<String>,
}

/// All that the label of a pack says, as it is kept when it is printed.
#[must_use]
pub fn printed<'a>(judge: &Judge<'a>, state: &'a State, piece: &'a Piece, pack: &Pack) -> Printed {
    let verdict = judge.pack(state, piece, pack.id);
    let within = judge.within(state, piece);
    let really = judge.really(state, piece);
    Printed {
        contents: Some(contents(
            judge,
            &within,
            (piece, pack),
            &verdict,
            really.as_ref(),
        )),
        ..verdict.printed()
    }
}

/// The label of a pack, from what was recorded.
#[must_use]
pub fn label<'a>(judge: &Judge<'a>, state: &'a State, piece: &'a Piece, pack: &Pack) -> Label {
    let verdict = judge.pack(state, piece, pack.id);
    let within = judge.within(state, piece);
    let really = judge.really(state, piece);
    let keeps = judge.keeps(piece, pack, &verdict, really.as_ref());
    let (allergens, allergens_confirmed) = allergens(judge, &within, pack);
    Label {
        product: product(state, piece, &within),
        meat: within.name(),
        made_from: made_from(&within, piece),
        packed_on: judge.home.settings.day(pack.at),
        says: says(judge, &verdict),
        ingredients: ingredients(judge, &within, piece),
        allergens,
        allergens_confirmed,
        notes: notes(judge, (&within, piece, pack), &verdict, &keeps),
        keeps,
        verdict,
    }
}

/// The word as it is printed, with what it rests on.
#[must_use]
pub fn says(judge: &Judge<'_>, verdict: &Assessment) -> String {
    let why = verdict.reasons.first().map_or("", |r| r.message.as_str());
    match (verdict.word, verdict.how) {
        (Verdict::DoNotEat, _) if verdict.waits_for_test() => {
            format!("DO NOT EAT UNTIL TESTED. {why}")
        }
        (Verdict::DoNotEat, _) => format!("DO NOT EAT. {why}"),
        (Verdict::ReadyToEat, Some(How::Dried)) => {
            "Ready to eat, dried raw. Not for pregnant women, small children, the old or the ill."
                .into()
        }
        (Verdict::ReadyToEat, Some(How::Cooked) | None) => "Ready to eat.".into(),
        (Verdict::CookBeforeEating, _) => format!(
            "Cook before eating, to {} inside. {why}",
            temperature(verdict.target, judge.home.settings.units.heat)
        ),
    }
}

/// The product; one of other meat than is usual for it says so.
fn product(state: &State, piece: &Piece, within: &Within<'_>) -> String {
    let Some(build) = piece.build() else {
        return piece.cut.replace('_', " ");
    };
    let classic = state.lot.as_ref().is_some_and(|lot| {
        let suit = build.suit(lot.species(), &piece.cut);
        suit.is_some_and(|s| s.score > 1)
    });
    if build.ending || (classic && within.meats.len() < 2) {
        build.name.clone()
    } else {
        format!("{}, of {}", build.name, within.name())
    }
}

/// Every animal in it, by name and tag, and the piece that it was packed from.
fn made_from(within: &Within<'_>, piece: &Piece) -> String {
    let lots = within.lots.iter().filter_map(|s| s.lot.as_ref());
    let mut all: Vec<_> = lots
        .map(|l| {
            format!(
                "{}, {} ({})",
                l.species().name,
                l.received.name,
                l.received.tag
            )
        })
        .collect();
    all.extend(within.bought.iter().map(|t| t.name.clone()));
    format!("{}, piece {}", all.join("; "), piece.tag)
}

/// What has to be said on it besides.
fn notes(
    judge: &Judge<'_>,
    (within, piece, pack): (&Within<'_>, &Piece, &Pack),
    verdict: &Assessment,
    keeps: &[KeepUntil],
) -> Vec<String> {
    let mut notes = Vec::new();
    let mut say = |note: String| {
        if !notes.contains(&note) {
            notes.push(note);
        }
    };
    if verdict.has(ReasonCode::NitrateInFried) {
        say("Holds nitrate: not in a hot pan. Bake or simmer it.".into());
    }
    if verdict.has(ReasonCode::NoNitrite) {
        say("Cured without nitrite: keep it cold and loosely wrapped, or frozen.".into());
        let frozen = keeps.iter().map(|k| Storage::of(&k.place));
        if frozen.clone().any(|s| s.frozen && s.sealed) || frozen.into_iter().any(|s| s.frozen) {
            say("Frozen in vacuum: open before thawing.".into());
        }
    }
    if verdict.has(ReasonCode::OverLimit) {
        say("More nitrite or nitrate than its rules allow.".into());
    }
    for state in &within.lots {
        let answer = state.facts.answers.get(&HoldKind::WastingTest);
        if let Some(answer) = answer.filter(|a| a.answer == HoldAnswer::NotTested) {
            let why = answer.reason.as_ref().map(|r| format!(" ({r})"));
            say(format!(
                "Not tested for chronic wasting disease{}.",
                why.unwrap_or_default()
            ));
        }
    }
    for (_, one) in &within.pieces {
        let dose = one.dose().and_then(|d| d.reason.as_deref());
        if let Some(reason) = dose.filter(|r| reason::is_enough(r)) {
            say(format!("Cured past a limit, knowingly: {reason}"));
        }
    }
    for (_, pause) in within.pauses() {
        let stopped = pause
            .findings
            .iter()
            .any(|f| f.severity == crate::caution::Severity::Stop);
        if let Some(reason) = pause
            .reason
            .as_deref()
            .filter(|_| stopped && pause.did != "put in cure")
        {
            say(format!("Past a stop ({}), knowingly: {reason}", pause.did));
        }
    }
    if let Some(words) = piece
        .build()
        .filter(|_| within.meats.len() > 1)
        .map(|_| within.name())
    {
        say(format!("Made of {words}."));
    }
    for line in cooking(judge, piece, verdict) {
        say(line.into());
    }
    if let Some(line) = &pack.line {
        say(line.clone());
    }
    say("For this household's own use. Follow your local food-safety rules.".into());
    notes
}

/// How it is best heated up: what its product says, and what a check of it found. Nothing of a pan where its nitrate must not
/// come near one, and nothing at all on what nobody may eat.
fn cooking<'a>(judge: &Judge<'a>, piece: &'a Piece, verdict: &Assessment) -> Vec<&'a str> {
    if verdict.word == Verdict::DoNotEat || verdict.has(ReasonCode::NitrateInFried) {
        return Vec::new();
    }
    let product = piece.build().and_then(|b| b.cooking.as_deref());
    // Of each check what was found last.
    let mut newest: Vec<&crate::piece::Checked> = Vec::new();
    for check in piece.checks.iter().filter(|c| c.pack.is_none()) {
        newest.retain(|other| other.check != check.check);
        newest.push(check);
    }
    let found = newest.into_iter().filter_map(|check| {
        let grades = &judge.book.catalogue().check(&check.check)?.grades;
        let grade = grades
            .iter()
            .find(|g| Some(&g.key) == check.grade.as_ref())?;
        grade.label.as_deref()
    });
    product.into_iter().chain(found).collect()
}
