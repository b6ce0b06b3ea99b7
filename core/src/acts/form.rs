//! The fields of an act that a person may put right; every correction is drawn from these.

use crate::acts::RenderContext;
use crate::form::FieldOption;

/// The cuts of the animal.
pub(crate) fn cuts(render: &RenderContext<'_>) -> Vec<FieldOption> {
    let species = render.lot.state.lot.as_ref().map(|l| l.species());
    species
        .into_iter()
        .flat_map(|s| &s.cuts)
        .map(|c| FieldOption {
            value: c.key.clone(),
            label: c.name.clone(),
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use crate::form::Count;

    #[test]
    fn counts_are_read_as_sent_and_as_typed() {
        let read = |json: &str| serde_json::from_str::<Count>(json).unwrap().read();
        for (json, means) in [("40", 40), ("\"40\"", 40), ("\" 7 \"", 7), ("0", 0)] {
            assert_eq!(read(json), Ok(means), "{json}");
        }
        for json in [
            "-3",
            "2.5",
            "4000000000000",
            "\"forty\"",
            "\"\"",
            "\"3 kg\"",
        ] {
            let said = read(json).unwrap_err();
            assert!(said.ends_with("Type one such as 12."), "{json}: {said}");
        }
    }
}
