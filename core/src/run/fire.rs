//! What may burn near food, and what never does.

use super::FireKind;

/// What never smokes meat: a word, and why not.
///
/// # Source
/// Hardwood or fruitwood sold for food only; resin, paint, glue and preservatives go into the meat with the smoke.
const NEVER: &[(&str, &str)] = &[
    ("heating", "Heating pellets hold softwood, bark and glue"),
    (
        "stove pellet",
        "Heating pellets hold softwood, bark and glue",
    ),
    (
        "bbq briquette with starter",
        "Starter fluid goes into the meat",
    ),
    ("treated", "Treated wood gives off its preservative"),
    ("preservative", "Treated wood gives off its preservative"),
    ("painted", "Paint goes into the meat with the smoke"),
    ("varnish", "Varnish goes into the meat with the smoke"),
    ("stained", "Stain goes into the meat with the smoke"),
    ("plywood", "Glue goes into the meat with the smoke"),
    ("chipboard", "Glue goes into the meat with the smoke"),
    ("particle board", "Glue goes into the meat with the smoke"),
    ("mdf", "Glue goes into the meat with the smoke"),
    ("osb", "Glue goes into the meat with the smoke"),
    ("laminate", "Glue goes into the meat with the smoke"),
    ("pallet", "Nobody knows what a pallet was treated with"),
    ("railway", "Sleepers are soaked in tar"),
    ("scrap lumber", "Nobody knows what it was treated with"),
    ("construction", "Nobody knows what it was treated with"),
    ("pine", "Resinous wood smokes bitter, with soot and tar"),
    ("spruce", "Resinous wood smokes bitter, with soot and tar"),
    ("fir", "Resinous wood smokes bitter, with soot and tar"),
    ("larch", "Resinous wood smokes bitter, with soot and tar"),
    ("cedar", "Resinous wood smokes bitter, with soot and tar"),
    ("cypress", "Resinous wood smokes bitter, with soot and tar"),
    ("redwood", "Resinous wood smokes bitter, with soot and tar"),
    ("hemlock", "Resinous wood smokes bitter, with soot and tar"),
    ("softwood", "Resinous wood smokes bitter, with soot and tar"),
    ("conifer", "Resinous wood smokes bitter, with soot and tar"),
    ("eucalyptus", "Its oils go into the meat with the smoke"),
    ("yew", "Yew is poisonous"),
    ("oleander", "Oleander is poisonous"),
    ("laburnum", "Laburnum is poisonous"),
    ("elder", "Green elder wood is poisonous"),
];

/// Woods whose names hold one of those words and are none of them.
const FINE: &[&str] = &["alder", "pineapple", "elderly", "juniper berries"];

/// Why this never smokes meat; none where nothing speaks against it.
#[must_use]
pub fn refused(kind: FireKind, wood: &str) -> Option<String> {
    if kind == FireKind::Liquid {
        return None;
    }
    let said = wood.to_lowercase();
    // “not treated” and “food grade” speak for it; a name alone never does.
    let plain = FINE.iter().fold(said, |s, fine| s.replace(fine, " "));
    let plain = [
        "untreated",
        "not treated",
        "unpainted",
        "no pine",
        "resin-free",
    ]
    .iter()
    .fold(plain, |s, fine| s.replace(fine, " "));
    let words: Vec<&str> = plain
        .split(|c: char| !c.is_alphanumeric())
        .filter(|w| !w.is_empty())
        .collect();
    let joined = words.join(" ");
    let holds = |never: &str| {
        if never.contains(' ') {
            joined.contains(never)
        } else {
            words
                .iter()
                .any(|w| *w == never || w.strip_suffix('s') == Some(never))
        }
    };
    NEVER
        .iter()
        .find(|(never, _)| holds(never))
        .map(|(_, why)| format!("{why}. Burn hardwood or fruitwood sold for food, such as beech, oak, apple or cherry."))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_no_food_wood_is_refused_and_what_only_sounds_like_it_is_not() {
        #[rustfmt::skip]
        let cases = [
            (FireKind::Pellets, "heating pellets", true),
            (FireKind::Pellets, "Pellets for heating", true),
            (FireKind::Pellets, "food-grade beech", false),
            (FireKind::Chunks, "pine", true),
            (FireKind::Chunks, "Fir, split", true),
            (FireKind::Chunks, "firewood, oak", false),
            (FireKind::Chips, "alder", false),
            (FireKind::Chips, "untreated oak", false),
            (FireKind::Chips, "treated oak", true),
            (FireKind::Chips, "old pallets", true),
            (FireKind::Logs, "elder", true),
            (FireKind::Tube, "apple and cherry", false),
            (FireKind::Liquid, "hickory", false),
        ];
        for (kind, wood, never) in cases {
            assert_eq!(refused(kind, wood).is_some(), never, "{wood}");
        }
    }
}
