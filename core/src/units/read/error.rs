//! Why a typed amount could not be read.

/// Letters of a typed text that an error repeats; nobody reads three hundred digits.
const REPEATED: usize = 40;

/// Why a typed amount could not be read. Each message says what to type.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ReadError {
    /// Nothing was typed.
    #[error("Nothing typed yet. Type {example}.")]
    Empty {
        /// An amount in the household's unit.
        example: &'static str,
    },
    /// A word that is no unit of this quantity.
    #[error("“{word}” is not a unit of {quantity}. Type {example}.")]
    Unit {
        /// The word as typed.
        word: String,
        /// Weight, thickness or temperature.
        quantity: &'static str,
        /// What would be understood.
        example: &'static str,
    },
    /// Something where a number should stand.
    #[error("“{text}” cannot be read as a number. Type {example}.")]
    Number {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// `2,010`: thousands in one country, a decimal in another.
    #[error("“{text}” can be read two ways. Type {ways}.")]
    TwoWays {
        /// The text as typed.
        text: String,
        /// Each reading, with its unit.
        ways: String,
    },
    /// A second number without a unit, or units in rising order.
    #[error("“{text}” mixes units in a way that cannot be added up. Type {example}.")]
    Mixture {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// A weight where so much on so much meat, or in so much water, is asked.
    #[error("“{text}” does not say on how much {on}. Type {example}.")]
    NoMeat {
        /// The text as typed.
        text: String,
        /// What it is to be so much on.
        on: &'static str,
        /// What would be understood.
        example: &'static str,
    },
    /// Below zero where that has no meaning.
    #[error("“{text}” is below zero. Type {example}.")]
    Negative {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// Past anything a household could weigh or measure.
    #[error("“{text}” is too large to be right; the most is {most}. Type {example}.")]
    TooLarge {
        /// The text as typed.
        text: String,
        /// The bound.
        most: String,
        /// What would be understood.
        example: &'static str,
    },
    /// Colder than anything a household has.
    #[error("“{text}” is too cold to be right; the least is {least}. Type {example}.")]
    TooCold {
        /// The text as typed.
        text: String,
        /// The bound.
        least: String,
        /// What would be understood.
        example: &'static str,
    },
}

pub(super) fn short(text: &str) -> String {
    let text = text.trim();
    match text.char_indices().nth(REPEATED) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.into(),
    }
}

impl ReadError {
    pub(super) fn number(text: &str, example: &'static str) -> Self {
        Self::Number {
            text: short(text),
            example,
        }
    }

    pub(super) fn mixture(text: &str, example: &'static str) -> Self {
        Self::Mixture {
            text: short(text),
            example,
        }
    }
}
