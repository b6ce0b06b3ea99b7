//! A reason for going on past a stop: words that somebody can read again in a year.

use unicode_segmentation::UnicodeSegmentation;

/// Fewer words say nothing.
const LEAST_WORDS: usize = 2;
/// Fewer letters say nothing.
const LEAST_LETTERS: usize = 8;

/// What to type where a reason is wanted.
pub const WANTED: &str =
    "Say why you go on, in two words or more; it stays with the piece and its label.";

/// True for at least two words and eight letters, in any script; dots, pictures and blanks are
/// neither.
#[must_use]
pub fn is_enough(text: &str) -> bool {
    let letters = text.chars().filter(|c| c.is_alphabetic()).count();
    let words = text
        .unicode_words()
        .filter(|w| w.chars().any(char::is_alphabetic))
        .count();
    words >= LEAST_WORDS && letters >= LEAST_LETTERS
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_reason_has_words_in_any_script() {
        #[rustfmt::skip]
        let cases = [
            ("old family way", true), ("I know what I do", true), ("weil Großmutter das so macht", true),
            ("так делал дед", true), ("祖父の代からこの方法で作っている", true), ("كما فعل جدي", true),
            ("", false), (".", false), ("   ", false), ("because", false), ("ok ok", false),
            ("🙂🙂 🙂🙂🙂🙂🙂🙂🙂", false), ("1234 5678 9012", false), ("--------- ---------", false), ("a b c d", false),
        ];
        for (text, enough) in cases {
            assert_eq!(is_enough(text), enough, "{text}");
        }
    }
}
