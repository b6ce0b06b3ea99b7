//! What gives pause in one write: each question once, with the pieces that it is about.

use super::Finding;

/// What gives pause in one write, each question once, with the pieces that it is about.
#[derive(Debug, Default)]
pub struct Questions(Vec<(Finding, Vec<Seen>)>);

/// What was seen of one piece.
#[derive(Debug)]
struct Seen {
    /// Its tag; none where the write is about one piece alone, or the question names it already.
    of: Option<String>,
    saw: Option<String>,
    wants: Option<String>,
}

impl Questions {
    /// Takes in what is asked; `of` is the piece it is asked of, where a write is about several.
    pub fn ask(&mut self, finding: Finding, of: Option<&str>) {
        let seen = Seen {
            of: of
                .filter(|tag| !finding.message.contains(tag))
                .map(str::to_string),
            saw: finding.saw.clone(),
            wants: finding.wants.clone(),
        };
        match self
            .0
            .iter_mut()
            .find(|(f, _)| f.is_same_question(&finding))
        {
            Some((_, all)) => all.push(seen),
            None => self.0.push((finding, vec![seen])),
        }
    }

    /// True where nothing gives pause.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// The questions; what was seen names its pieces, those of the same number together.
    #[must_use]
    pub fn said(self) -> Vec<Finding> {
        let mut said = Vec::new();
        for (mut finding, all) in self.0 {
            let mut seen: Vec<(Vec<&str>, &str)> = Vec::new();
            for one in &all {
                let saw = one.saw.as_deref().unwrap_or_default();
                let group = match seen.iter_mut().find(|(_, s)| *s == saw) {
                    Some((of, _)) => of,
                    None => {
                        seen.push((Vec::new(), saw));
                        let last = seen.len() - 1;
                        &mut seen[last].0
                    }
                };
                group.extend(one.of.as_deref().filter(|tag| !group.contains(tag)));
            }
            let words: Vec<String> = seen
                .iter()
                .map(|(of, saw)| match (of.is_empty(), saw.is_empty()) {
                    (true, _) => (*saw).to_string(),
                    (false, true) => of.join(", "),
                    (false, false) => format!("{}: {saw}", of.join(", ")),
                })
                .filter(|words| !words.is_empty())
                .collect();
            let mut wants: Vec<&str> = Vec::new();
            for one in all.iter().filter_map(|s| s.wants.as_deref()) {
                if !wants.contains(&one) {
                    wants.push(one);
                }
            }
            finding.saw = (!words.is_empty()).then(|| words.join("; "));
            finding.wants = (!wants.is_empty()).then(|| wants.join("; "));
            said.push(finding);
        }
        said
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::caution::{Code, Severity};

    #[test]
    fn a_question_is_asked_once_and_names_its_pieces() {
        let warm = |saw: &str| {
            Finding::new(Code::TooSoon, Severity::Caution, "Can it be done so soon?")
                .saw(saw)
                .wants("at least 8 h")
        };
        #[rustfmt::skip]
        let cases: &[(&[(&str, Option<&str>)], &str)] = &[
            (&[("2 h", None)],                                       "2 h"),
            (&[("2 h", Some("PG1-1")), ("2 h", Some("PG1-2"))],      "PG1-1, PG1-2: 2 h"),
            (&[("2 h", Some("PG1-1")), ("3 h", Some("PG1-2"))],      "PG1-1: 2 h; PG1-2: 3 h"),
            (&[("2 h", Some("PG1-1")), ("2 h", Some("PG1-1"))],      "PG1-1: 2 h"),
        ];
        for (asked, saw) in cases {
            let mut questions = Questions::default();
            for (seen, of) in *asked {
                questions.ask(warm(seen), *of);
            }
            let said = questions.said();
            assert_eq!(said.len(), 1, "{asked:?}");
            assert_eq!(said[0].saw.as_deref(), Some(*saw), "{asked:?}");
            assert_eq!(said[0].wants.as_deref(), Some("at least 8 h"), "{asked:?}");
        }
    }

    #[test]
    fn one_that_names_its_piece_is_left_as_it_is() {
        let gone = |tag: &str| {
            Finding::new(
                Code::TooSoon,
                Severity::Caution,
                format!("{tag} would have gained 20 %."),
            )
            .saw("1.2 kg")
        };
        let mut questions = Questions::default();
        for tag in ["PG1-1", "PG1-2"] {
            questions.ask(gone(tag), Some(tag));
        }
        let saw: Vec<_> = questions.said().into_iter().map(|f| f.saw).collect();
        assert_eq!(saw, [Some("1.2 kg".into()), Some("1.2 kg".into())]);
    }
}
