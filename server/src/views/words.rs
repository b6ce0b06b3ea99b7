//! Entries in a household's own words and units, for time lines and refusals.

use super::origin_said;
use jiff::Timestamp;
use manifest_core::animal::choices;
use manifest_core::builds;
use manifest_core::household::Household;
use manifest_core::ledger::book::LotBook;
use manifest_core::ledger::{Act, Entry, EntryId, JoinWay, LotId, Reading, word};
use manifest_core::units::show::{length, mass, temperature, trim};
use serde::Serialize;
use utoipa::ToSchema;

/// One entry on a time line.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Happened {
    /// Its number.
    pub entry: EntryId,
    /// The lot.
    pub lot: LotId,
    /// The kind of act.
    pub kind: String,
    /// What was done: `HG1-2 out of cure`.
    pub what: String,
    /// With which numbers.
    pub detail: String,
    /// When it happened.
    #[schema(value_type = String, format = DateTime)]
    pub at: Timestamp,
    /// When it was written down.
    #[schema(value_type = String, format = DateTime)]
    pub recorded_at: Timestamp,
    /// False when it was corrected or undone.
    pub live: bool,
    /// The entry it takes the place of.
    pub replaces: Option<EntryId>,
    /// The correction that made it necessary to state this again.
    pub because: Option<EntryId>,
    /// The act as stored, for filling in a correction.
    #[schema(value_type = Object)]
    pub act: serde_json::Value,
}

/// The entries of a lot that `keep` chooses, the newest first.
pub fn timeline(lot: &LotBook, home: &Household, keep: impl Fn(&Entry) -> bool) -> Vec<Happened> {
    let live = lot.live();
    let mut found: Vec<_> = lot
        .entries
        .iter()
        .zip(live)
        .filter(|(entry, _)| keep(entry))
        .map(|(entry, live)| happened(lot, entry, live, home))
        .collect();
    found.sort_by_key(|h| std::cmp::Reverse((h.at, h.entry)));
    found
}

/// One entry in words.
pub fn happened(lot: &LotBook, entry: &Entry, live: bool, home: &Household) -> Happened {
    let undone = entry.replaces.and_then(|id| lot.entry(id));
    let what = match (&entry.act, undone) {
        (Act::Undone, Some(undone)) => format!("undone: {}", lot.said(undone)),
        _ => lot.said(entry),
    };
    Happened {
        entry: entry.id,
        lot: entry.lot,
        kind: entry.act.kind().into(),
        what,
        detail: detail(&entry.act, home),
        at: entry.happened_at,
        recorded_at: entry.recorded_at,
        live,
        replaces: entry.replaces,
        because: entry.because,
        act: serde_json::to_value(&entry.act).unwrap_or_default(),
    }
}

fn detail(act: &Act, home: &Household) -> String {
    let units = home.units;
    let say = |r: &Reading| mass(r.mg.grams(), units.mass);
    match act {
        Act::Received(r) => {
            let what = match (&r.cut, r.count) {
                (Some(cut), Some(n)) => format!("{n} × {}", cut.replace('_', " ")),
                (Some(cut), None) => cut.replace('_', " "),
                (None, _) => r.species.replace('_', " "),
            };
            let together = r.together.as_ref().map(|t| format!(", in “{t}”"));
            format!(
                "{} {what}, {}{}",
                say(&r.reading),
                origin_said(r.origin),
                together.unwrap_or_default()
            )
        }
        Act::PieceWeighed(p) => {
            let thick = p
                .thickness_mm
                .map(|mm| format!(", {} thick", length(mm, units.length)));
            format!(
                "{} {}{}",
                say(&p.reading),
                p.cut.replace('_', " "),
                thick.unwrap_or_default()
            )
        }
        Act::ByproductWeighed { kind, reading, .. } => format!("{} {}", say(reading), word(kind)),
        Act::ByproductGiven {
            kind,
            reading,
            to_tag,
            ..
        } => format!("{} {} to {to_tag}", say(reading), word(kind)),
        Act::CuttingChosen { choice, option } => {
            let found = choices::CHOICES.iter().find(|c| c.key == *choice);
            let how = found.and_then(|c| Some((c, c.options.iter().find(|o| o.key == *option)?)));
            how.map_or_else(
                || format!("{choice}: {option}"),
                |(c, o)| format!("{}: {}", c.name, o.name),
            )
        }
        Act::FreezerRead { inside_c, .. } => {
            format!("{} inside", temperature(*inside_c, units.heat))
        }
        Act::HoldAnswered { kind, answer, note } => {
            let note = note.as_ref().map(|n| format!(" ({n})"));
            format!(
                "{}: {}{}",
                word(kind).replace('_', " "),
                word(answer),
                note.unwrap_or_default()
            )
        }
        Act::Worked {
            off,
            reading,
            thickness_mm,
            ..
        } => {
            let mut words: Vec<_> = off
                .iter()
                .map(|o| format!("{} {} off", say(&o.reading), word(&o.kind)))
                .collect();
            words.extend(reading.as_ref().map(|r| format!("{} left", say(r))));
            words.extend(thickness_mm.map(|mm| format!("{} thick", length(mm, units.length))));
            words.join(", ")
        }
        Act::Joined(joined) => {
            let way = match joined.way {
                JoinWay::Pair => "folded into one pair",
                JoinWay::Bind => "bound into one",
            };
            format!("{} pieces {way}", joined.pieces.len())
        }
        Act::Ground(ground) => format!(
            "{} from {} parts",
            say(&ground.reading),
            ground.sources.len()
        ),
        Act::Assigned { build, .. } => {
            builds::build(build).map_or_else(|| build.clone(), |b| b.name.clone())
        }
        Act::Dosed { dose, .. } => {
            let lines: Vec<_> = dose
                .lines
                .iter()
                .map(|l| format!("{} {}", mass(l.mg.grams(), units.mass), l.name))
                .collect();
            let reason = dose
                .reason
                .as_ref()
                .map(|r| format!(". Went past a stop: {r}"));
            format!(
                "{}: {} ppm nitrite{}",
                lines.join(", "),
                trim(dose.nitrite_ppm, 0),
                reason.unwrap_or_default()
            )
        }
        Act::Noted { text, .. } => text.clone(),
        Act::OutOfCure { reading, .. } => say(reading),
        Act::Smoked {
            reading, inside_c, ..
        } => match inside_c {
            Some(c) => format!("{}, {} inside", say(reading), temperature(*c, units.heat)),
            None => say(reading),
        },
        Act::Hung {
            reading,
            tare,
            loss_fraction,
            ..
        } => format!(
            "{} on the scale, {} of it not meat, to lose {} %",
            say(reading),
            say(tare),
            trim(loss_fraction * 100.0, 1)
        ),
        Act::WeighedIn { reading, .. } | Act::TakenDown { reading, .. } => {
            format!("{} on the scale", say(reading))
        }
        Act::Cut { parts, .. } => parts
            .iter()
            .map(|p| format!("{} {}", p.tag, say(&p.reading)))
            .collect::<Vec<_>>()
            .join(", "),
        Act::Packed { packs, ends, .. } => {
            let ends = ends.as_ref().map(|e| format!(", ends {}", say(e)));
            let list: Vec<_> = packs.iter().map(|p| say(&p.reading)).collect();
            format!("{}{}", list.join(", "), ends.unwrap_or_default())
        }
        Act::Discarded { reason, .. } => reason.clone(),
        Act::BreakdownClosed | Act::Turned { .. } | Act::Undone => String::new(),
    }
}
