//! The inside a piece is brought to, and why.

use crate::ledger::state::State;
use crate::piece::Piece;
use crate::units::Celsius;
use crate::verdict::Judge;

/// Where an inside is to come to.
#[derive(Clone, Debug, PartialEq)]
pub struct HeatMark {
    /// The target of the piece: reached, it is ready to eat.
    pub target: Celsius,
    /// Where it is brought to: the higher of its product's own mark and its meat's; a lower one of the product only for meat that
    /// may be smoked so, and is cooked before eating.
    pub mark: Celsius,
    /// Less than this is asked about.
    pub asked: Celsius,
    /// Why it is brought there.
    pub why: String,
    /// True for a bird: no time at temperature is shown for it.
    pub is_bird: bool,
}

/// Meat whose safe inside is no higher than this may be smoked to less, and cooked before eating: pork, beef, lamb (°C).
const MAY_BE_LOWER_C: f64 = 63.0;

/// The mark of a piece.
///
/// # Source
/// The higher of product and species wins; bacon that is fried may be smoked to 52 to 60 °C of pork, beef and lamb. Boar, bear and
/// birds are asked about by their target, everything else by its own mark where that is lower.
#[must_use]
pub fn mark(judge: Judge<'_>, state: &State, piece: &Piece) -> HeatMark {
    let within = judge.within(state, piece);
    let target = within.target();
    let own = piece
        .build()
        .and_then(|b| b.smoke.as_ref())
        .map(|s| Celsius(s.inside_c));
    let strict = within.never_raw_dried().next().is_some() || within.is_bird();
    let asked = own.filter(|own| !strict && *own < target).unwrap_or(target);
    let name = within.name();
    let safe = if within.ground {
        format!("safe for {name}, ground or pressed")
    } else {
        format!("safe for {name}")
    };
    let (mark, why) = match own {
        Some(own) if own.0 > target.0 + 0.05 => {
            (own, format!("its product's own mark, over what is {safe}"))
        }
        Some(own) if own.0 < target.0 - 0.05 && target.0 <= MAY_BE_LOWER_C && !strict => {
            (own, format!("{name} that is cooked before eating"))
        }
        Some(_) | None => (target, safe),
    };
    HeatMark {
        target,
        mark,
        asked,
        why,
        is_bird: within.is_bird(),
    }
}
