//! Spices that are counted, or taken by the pinch: about what they weigh, and how they are said.

use super::Catalogue;
use crate::units::Grams;
use crate::units::show::trim;
use serde::{Deserialize, Serialize};

/// What a pinch between thumb and two fingers weighs (g).
///
/// # Source
/// Ground spices and salt by the pinch, weighed in kitchens: two to five tenths of a gram.
const PINCH_G: [f64; 2] = [0.2, 0.5];

/// Words for one of something, whatever it is.
const ONES: &[&str] = &[
    "piece", "pieces", "leaf", "leaves", "berry", "berries", "clove", "cloves", "corn", "corns",
    "pod", "pods", "sprig", "sprigs", "of", "them",
];

/// An amount that is counted: so many on a kilogram of meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Counted {
    /// How many on a kilogram of meat.
    pub per_kg: f64,
    /// What one weighs at least, and at most (g).
    pub each_g: [f64; 2],
    /// True where it is taken by the pinch.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub pinch: bool,
}

impl Counted {
    /// Reads “40 peppercorns”, “6 leaves”, “20 pieces per kg”, “a pinch”; none where nothing is counted. A number alone stays a rate.
    ///
    /// # Errors
    /// What to type where nobody knows what one weighs, or nothing is left to count.
    pub fn read(
        text: &str,
        name: &str,
        meat: Grams,
        catalogue: &Catalogue,
    ) -> Option<Result<Self, String>> {
        let said = text.trim().to_lowercase().replace(',', ".");
        let (said, per_kg) = match ["per kg", "a kg", "/kg"]
            .iter()
            .find_map(|end| said.strip_suffix(end))
        {
            Some(rest) => (rest.trim().to_string(), true),
            None => (said, false),
        };
        let mut words: Vec<&str> = said.split_whitespace().collect();
        let number = match *words.first()? {
            "a" | "an" | "one" => Some(1.0),
            first => first.parse::<f64>().ok(),
        };
        if number.is_some() {
            words.remove(0);
        }
        let called: Vec<String> = name
            .to_lowercase()
            .split_whitespace()
            .map(str::to_string)
            .collect();
        let is_own = |word: &&str| {
            let same = |own: &String| {
                *own == *word || format!("{own}s") == *word || own.strip_suffix('s') == Some(*word)
            };
            ONES.contains(word) || called.iter().any(same)
        };
        let pinch = matches!(words.as_slice(), ["pinch" | "pinches"]);
        if !pinch && (words.is_empty() || !words.iter().all(is_own)) {
            return None;
        }
        let count = match (number, pinch) {
            (Some(n), _) => n,
            (None, true) => 1.0,
            (None, false) => return None,
        };
        if !(count > 0.0 && count <= 10_000.0) {
            return Some(Err(format!("Count how many of {name}, such as 12 pieces.")));
        }
        let each_g = if pinch {
            Some(PINCH_G)
        } else {
            catalogue.lexicon.each(name)
        };
        let Some(each_g) = each_g else {
            return Some(Err(format!(
                "Nobody here knows what one of {name} weighs. Weigh ten of them, and type the rate, such as 3 g/kg."
            )));
        };
        let per_kg = if per_kg {
            count
        } else {
            count / meat.0 * 1_000.0
        };
        Some(Ok(Self {
            per_kg,
            each_g,
            pinch,
        }))
    }

    /// What so many weigh on a kilogram of meat (g), as the middle of what they may.
    #[must_use]
    pub fn g_per_kg(&self) -> f64 {
        self.per_kg * (self.each_g[0] + self.each_g[1]) / 2.0
    }

    /// How many that is for so much meat, with what they may weigh: “40 pieces, 1.2 to 2.4 g”.
    #[must_use]
    pub fn said(&self, meat: Grams) -> String {
        let exact = self.per_kg * meat.0 / 1_000.0;
        // Half a pinch can be taken, half a berry cannot.
        let count = if self.pinch {
            (exact * 2.0).round().max(1.0) / 2.0
        } else {
            exact.round().max(1.0)
        };
        let one = (count - 1.0).abs() < 1e-9;
        let word = match (self.pinch, one) {
            (true, true) => "pinch",
            (true, false) => "pinches",
            (false, true) => "piece",
            (false, false) => "pieces",
        };
        format!(
            "{} {word}, {} to {} g",
            trim(count, 1),
            trim(count * self.each_g[0], 1),
            trim(count * self.each_g[1], 1)
        )
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn counts_and_pinches_are_read_and_a_bare_number_is_a_rate() {
        let catalogue = Catalogue::shipped();
        let meat = Grams(2_000.0);
        #[rustfmt::skip]
        let cases = [
            // typed              of             on a kilogram, g/kg, for 2 kg
            ("40 peppercorns",    "peppercorns", Some((20.0, 0.9, "40 pieces, 1.2 to 2.4 g"))),
            ("6 leaves",          "bay leaf",    Some((3.0, 0.6, "6 pieces, 0.6 to 1.8 g"))),
            ("a bay leaf",        "bay leaf",    Some((0.5, 0.1, "1 piece, 0.1 to 0.3 g"))),
            ("3 berries per kg",  "juniper",     Some((3.0, 0.345, "6 pieces, 0.5 to 0.9 g"))),
            ("a pinch",           "mace",        Some((0.5, 0.175, "1 pinch, 0.2 to 0.5 g"))),
            ("2 pinches",         "mace",        Some((1.0, 0.35, "2 pinches, 0.4 to 1 g"))),
            ("3",                 "peppercorns", None),
            ("3 g/kg",            "peppercorns", None),
            ("1 tsp",             "peppercorns", None),
            ("",                  "peppercorns", None),
        ];
        for (typed, name, want) in cases {
            let got = Counted::read(typed, name, meat, &catalogue).map(Result::unwrap);
            let got = got.map(|c| (c.per_kg, (c.g_per_kg() * 1e4).round() / 1e4, c.said(meat)));
            let want = want.map(|(n, g, said)| (n, g, said.to_string()));
            assert_eq!(got, want, "{typed:?} of {name}");
        }
    }

    #[test]
    fn what_nobody_weighed_one_of_wants_a_weight() {
        let catalogue = Catalogue::shipped();
        for (typed, name) in [("4 pieces", "orange peel"), ("0 pieces", "juniper")] {
            let read = Counted::read(typed, name, Grams(1_000.0), &catalogue);
            assert!(read.unwrap().is_err(), "{typed} of {name}");
        }
    }
}
