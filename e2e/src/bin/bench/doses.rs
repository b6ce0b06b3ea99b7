//! Ten thousand doses of each way: the numbers alone, and with everything that is to be thought about them.

use manifest_core::builds::Build;
use manifest_core::catalogue::Catalogue;
use manifest_core::catalogue::cures::CureChoice;
use manifest_core::cure::sheet::{SheetPiece, Started, WeighOut, doses, sheet};
use manifest_core::dose::{Contents, Dose};
use manifest_core::household::Household;
use manifest_core::ids::PieceId;
use manifest_core::shape::Shape;
use manifest_core::units::{Grams, Millimetres};
use std::hint::black_box;
use std::time::{Duration, Instant};

const DOSES: u32 = 10_000;

/// One product for each way, in that way.
const WAYS: [(&str, &str, Option<&str>); 8] = [
    ("measured dry", "belly-slab", None),
    ("wet rub", "belly-slab-syrup", None),
    ("ground mix", "salami-knife", None),
    ("equilibrium brine", "back-smoked", None),
    ("cover brine", "ham-bucket", Some("cover_brine")),
    ("injection", "back-smoked", Some("pumped")),
    ("label rate", "backstrap-label", None),
    ("salt box", "tenderloin-buried", Some("salt_box")),
];

fn median(mut run: impl FnMut()) -> Duration {
    let mut times: Vec<_> = (0..5)
        .map(|_| {
            let start = Instant::now();
            run();
            start.elapsed()
        })
        .collect();
    times.sort();
    times[2] / DOSES
}

/// Times every way.
pub fn bench() {
    let catalogue = Catalogue::shipped();
    let home = Household::default();
    for (name, key, way) in WAYS {
        let Some(own) = catalogue.build(key) else {
            continue;
        };
        let Some(build): Option<Build> =
            way.map_or_else(|| Some((**own).clone()), |w| own.in_way(w))
        else {
            continue;
        };
        let pieces: Vec<[SheetPiece; 1]> = (0..DOSES).map(|i| [piece(i)]).collect();
        let whole = median(|| {
            for one in &pieces {
                let _ = black_box(sheet(
                    &WeighOut::of(&build, black_box(one)),
                    &home,
                    &catalogue,
                ));
            }
        });
        let Some(dose) = made(&build, &pieces[0], &home, &catalogue) else {
            continue;
        };
        let numbers = median(|| {
            for i in 0..DOSES {
                let meat = 2_000.0 + f64::from(i);
                let scales = (0.1, 1.0);
                let of = (dose.method, dose.taken_up.as_ref());
                let cure: &CureChoice = &dose.cure;
                black_box(Contents::of(
                    black_box(&dose.lines),
                    cure,
                    black_box(meat),
                    of,
                    None,
                    scales,
                ));
            }
        });
        println!(
            "core: {name:<18} a dose: {numbers:>8.2?} for what it brings, {whole:>8.2?} for the whole sheet with its findings"
        );
    }
}

fn piece(i: u32) -> SheetPiece {
    SheetPiece {
        unground: false,
        fat: None,
        id: PieceId(1),
        tag: "HG1-1".into(),
        meat: Grams(1_500.0 + f64::from(i) / 10.0),
        shape: Shape::thick(Millimetres(45.0)),
        made: None,
    }
}

fn made(
    build: &Build,
    pieces: &[SheetPiece],
    home: &Household,
    catalogue: &Catalogue,
) -> Option<Dose> {
    let ask = WeighOut::of(build, pieces);
    let made = sheet(&ask, home, catalogue).ok()?;
    let all = doses(&made, &ask, Started::default(), home, catalogue).ok()?;
    all.into_iter().next().map(|(_, dose)| dose)
}
