//! What a line comes to: an ingredient, the meat, or what else it is, with everything that is open about it.

use super::super::line::Item;
use super::super::{AssumptionCode, LineKind};
use crate::catalogue::cures::{Composition, Role};
use crate::catalogue::lexicon::Pure;
use crate::units::Band;

/// Where a line goes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(in crate::recipe) enum Pot {
    /// On the meat, or into the mix.
    Dry,
    /// Into the water around it.
    Brine,
    /// Into the water that is pumped in.
    Pumped,
    /// On it when the cure is over.
    After,
    /// Nobody says.
    #[default]
    Unsaid,
}

/// So much, by what it is counted on (g, or g on a kilogram).
#[derive(Clone, Copy, Debug, PartialEq)]
pub(in crate::recipe) enum Quantity {
    Batch(Band),
    PerMeat(Band),
    PerWater(Band),
    PerAll(Band),
}

/// One reading of an amount.
#[derive(Clone, Debug, PartialEq)]
pub(in crate::recipe) struct Reading {
    pub said: String,
    pub quantity: Quantity,
    /// By the spoon: nobody weighed it.
    pub by_volume: bool,
    /// What it may weigh is open because nobody says which kind it is.
    pub kind_open: bool,
}

/// What a curing salt of the text is made of.
#[derive(Clone, Debug, PartialEq)]
pub(in crate::recipe) struct Brew {
    pub key: Option<String>,
    pub name: String,
    pub made_of: Composition,
    pub pure: Option<Pure>,
    /// What nobody knows of it.
    pub unknown: bool,
}

/// A line of the answer: one ingredient, or what else a line is.
#[derive(Clone, Debug)]
pub(in crate::recipe) struct Part {
    /// The line of the text it stands in.
    pub source: usize,
    pub kind: LineKind,
    pub name: Option<usize>,
    pub ingredient: Option<String>,
    /// What the line itself calls it.
    pub words: String,
    pub role: Option<Role>,
    pub brew: Option<Brew>,
    pub readings: Vec<Reading>,
    pub pot: Pot,
    pub notes: Vec<String>,
    pub open: Vec<Question>,
    /// Salt in it: at least, usually, at most.
    pub salty: Option<[f64; 3]>,
    pub sugar: f64,
    pub is_for: bool,
    /// A verb line, whose amounts count only when nothing else lists them.
    pub by_verb: bool,
    /// True when it says no amount that is a number.
    pub unweighed: bool,
    pub alternative: bool,
    /// Named, and nothing said of how much.
    pub only_named: bool,
    /// Left out of the sums: it is said twice.
    pub said_twice: bool,
    pub pinch: bool,
    /// How many of it are said, where it is counted and one of them has a weight.
    pub counted: Option<f64>,
    pub purity: Option<f64>,
}

/// Something that had to be assumed.
#[derive(Clone, Debug, PartialEq)]
pub(in crate::recipe) struct Question {
    pub code: AssumptionCode,
    pub message: String,
    pub value: Option<String>,
    pub choices: Vec<(String, String)>,
}

impl Part {
    pub(super) fn bare(source: usize, kind: LineKind) -> Self {
        Self {
            source,
            kind,
            name: None,
            ingredient: None,
            words: String::new(),
            role: None,
            brew: None,
            readings: Vec::new(),
            pot: Pot::Unsaid,
            notes: Vec::new(),
            open: Vec::new(),
            salty: None,
            sugar: 0.0,
            is_for: false,
            by_verb: false,
            unweighed: false,
            alternative: false,
            said_twice: false,
            only_named: false,
            pinch: false,
            counted: None,
            purity: None,
        }
    }

    pub(super) fn asks(&mut self, code: AssumptionCode, message: String) {
        self.open.push(Question {
            code,
            message,
            value: None,
            choices: Vec::new(),
        });
    }
}

impl Part {
    pub(super) fn said_slip(&mut self, item: &Item) {
        if let Some(meant) = &item.slip {
            self.asks(
                AssumptionCode::Spelling,
                format!("Read as “{meant}”, with one letter changed."),
            );
        }
    }
}
