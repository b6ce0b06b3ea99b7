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
    /// Where it is brought to here: its build's own mark where that is lower and allowed, else the target.
    pub mark: Celsius,
    /// Why.
    pub why: String,
    /// True for a bird: no time at temperature is shown for it.
    pub is_bird: bool,
}

/// The mark of a piece. Boar, bear and birds are always brought to their target; what is meant to be fried later, to its own mark.
#[must_use]
pub fn mark(judge: Judge<'_>, state: &State, piece: &Piece) -> HeatMark {
    let within = judge.within(state, piece);
    let target = within.target();
    let own = piece
        .build()
        .and_then(|b| b.smoke.as_ref())
        .map(|s| Celsius(s.inside_c));
    let strict = within.never_raw_dried().next().is_some() || within.is_bird();
    let lower = own.filter(|own| !strict && *own < target);
    let name = within.name();
    let why = match lower {
        Some(_) => format!("{name} that is cooked before eating"),
        None if within.ground => format!("safe for {name}, ground or pressed"),
        None => format!("safe for {name}"),
    };
    HeatMark {
        target,
        mark: lower.unwrap_or(target),
        why,
        is_bird: within.is_bird(),
    }
}
