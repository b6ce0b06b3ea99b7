//! How a piece should be cut: into so many slabs of such a size, opened flat, or rolled, from
//! what its build, the slicer, the bags, the pans and the smoker can take.

use crate::builds::Build;
use crate::caution::{Checks, FieldError};
use crate::place::PlaceUse;
use crate::place::equipment::{Bag, Equipment};
use crate::shape::size::{SHAPES, Size};
use crate::units::bounds::Measure;
use crate::units::show::length;
use crate::units::{Millimetres, Units};
use serde::{Deserialize, Serialize};

/// More slabs than this are slices; the limits contradict each other.
const MOST_SLABS: u32 = 60;

/// A side of a slab.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Side {
    /// Along the piece.
    Length,
    /// Across it.
    Width,
    /// Through it.
    Thickness,
}

/// The most one side of a slab may have, and who says so.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SideLimit {
    /// The side.
    pub side: Side,
    /// The most it may have (mm).
    pub most_mm: f64,
    /// Who says so.
    pub because: String,
}

/// A way to bring a piece into shape.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum SlabWay {
    /// As it is.
    AsItIs,
    /// Cut into slabs.
    Split,
    /// Opened flat like a book, then cut if it has to be.
    OpenFlat,
    /// Rolled and tied.
    Roll,
}

/// One way, worked out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SlabPlan {
    /// The way.
    pub way: SlabWay,
    /// The piece before it is cut, opened when it is opened.
    pub whole: Size,
    /// Parts along its length.
    pub along: u32,
    /// Parts across its width.
    pub across: u32,
    /// Layers through its thickness.
    pub layers: u32,
    /// How many slabs.
    pub slabs: u32,
    /// Each of them.
    pub each: Size,
    /// What each weighs (g).
    pub each_g: f64,
    /// The bag each goes into, if there is a list of bags.
    pub bag: Option<String>,
    /// The diameter of a roll (mm).
    pub roll_diameter_mm: Option<f64>,
    /// Ties on a roll.
    pub ties: Option<u32>,
    /// Why so.
    pub reasons: Vec<String>,
}

/// A piece to be cut, and everything that limits it.
#[derive(Clone, Debug)]
pub struct SlabAsk<'a> {
    /// As it lies.
    pub size: Size,
    /// What it weighs (g).
    pub mass_g: f64,
    /// What it is to become, if that is known.
    pub build: Option<&'a Build>,
    /// What stands in the house; only the thickness limit counts when it was never listed.
    pub equipment: Option<&'a Equipment>,
    /// True when it may be opened flat.
    pub may_open: bool,
    /// The units its reasons speak in.
    pub units: Units,
}

/// The ways to cut a piece, fewest slabs first; each satisfies every limit.
///
/// # Errors
/// Sizes that cannot be, and limits that leave no slab worth the name.
pub fn slab_plans(ask: &SlabAsk<'_>) -> Result<Vec<SlabPlan>, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, ask.mass_g, "mass_g", "4600");
    checks.above_zero(
        Measure::Length,
        ask.size.thickness_mm,
        "thickness_mm",
        "115",
    );
    checks.above_zero(Measure::Length, ask.size.length_mm, "length_mm", "320");
    checks.above_zero(Measure::Length, ask.size.width_mm, "width_mm", "210");
    checks.done()?;
    let rolled = ask.build.is_some_and(|b| b.wrap.rolled);
    let mut plans = Vec::new();
    if rolled {
        plans.push(roll(ask));
    }
    let limits = limits(ask);
    plans.push(split(ask, ask.size, &limits, false)?);
    let thick = limits
        .iter()
        .filter(|l| l.side == Side::Thickness)
        .any(|l| ask.size.thickness_mm > l.most_mm);
    if thick && ask.may_open {
        let opened = Size {
            width_mm: ask.size.width_mm * 2.0,
            thickness_mm: ask.size.thickness_mm / 2.0,
            ..ask.size
        };
        plans.push(split(ask, opened, &limits, true)?);
    }
    plans.sort_by_key(|p| (p.way != SlabWay::Roll || !rolled, p.slabs));
    Ok(plans)
}

/// Everything that limits a slab, the thickness first.
#[must_use]
pub fn limits(ask: &SlabAsk<'_>) -> Vec<SideLimit> {
    let say = |mm| length(mm, ask.units.length);
    let mut limits = Vec::new();
    let house = ask.equipment.map_or(75.0, |e| e.thickness_limit_mm);
    let (most_mm, because) = match ask.build.and_then(|b| Some((b, b.cure.as_ref()?))) {
        // A build that asks for weeks or for a thick ham has its own limit past the household's.
        Some((build, cure)) if cure.limit_thickness_mm > 75.0 => (
            cure.limit_thickness_mm,
            format!(
                "{} cures up to {}",
                build.name,
                say(Millimetres(cure.limit_thickness_mm))
            ),
        ),
        Some((build, cure)) if cure.limit_thickness_mm < house => (
            cure.limit_thickness_mm,
            format!(
                "{} cures up to {}",
                build.name,
                say(Millimetres(cure.limit_thickness_mm))
            ),
        ),
        _ => (
            house,
            format!("your limit for even curing is {}", say(Millimetres(house))),
        ),
    };
    limits.push(SideLimit {
        side: Side::Thickness,
        most_mm,
        because,
    });
    let Some(equipment) = ask.equipment else {
        return limits;
    };
    let mut add = |side, most_mm: f64, because: String| {
        limits.push(SideLimit {
            side,
            most_mm,
            because,
        });
    };
    let sliced = ask.build.is_none_or(|b| b.cure.is_some() && !b.is_ground());
    if let Some(slicer) = equipment.slicer.filter(|_| sliced) {
        add(
            Side::Width,
            slicer.width_mm,
            format!(
                "the slicer takes slices up to {} long",
                say(Millimetres(slicer.width_mm))
            ),
        );
        add(
            Side::Thickness,
            slicer.height_mm,
            format!(
                "the slicer opens {} high",
                say(Millimetres(slicer.height_mm))
            ),
        );
    }
    let smoked = ask.build.is_none_or(|b| b.is_smoked());
    let shelf = equipment.largest_for(PlaceUse::Smoke);
    if let Some((a, b)) = shelf
        .filter(|_| smoked)
        .and_then(|s| s.length_mm.zip(s.width_mm))
    {
        let (long, short) = (a.max(b), a.min(b));
        add(
            Side::Length,
            long,
            format!("a smoker shelf is {} long", say(Millimetres(long))),
        );
        add(
            Side::Width,
            short,
            format!("a smoker shelf is {} wide", say(Millimetres(short))),
        );
    }
    let hung = ask.build.is_some_and(|b| b.hangs());
    let drop = equipment.largest_for(PlaceUse::Hang);
    if let Some(drop) = drop.filter(|_| hung).and_then(|c| c.height_mm) {
        add(
            Side::Length,
            drop,
            format!("the chamber hangs {} deep", say(Millimetres(drop))),
        );
    }
    limits
}

/// The bag that takes the largest slab; bags limit length and width by the slab's thickness.
fn largest_bag<'a>(ask: &SlabAsk<'a>) -> Option<&'a Bag> {
    use crate::builds::Tool;
    use crate::catalogue::dosing::Vessel;
    let equipment = ask.equipment?;
    let in_a_bag = ask.build.is_none_or(|b| b.vessel() == Vessel::Bag);
    if !in_a_bag {
        return None;
    }
    let vacuum = ask.build.is_some_and(|b| b.tools.contains(&Tool::Vacuum));
    equipment
        .bags
        .iter()
        .filter(|b| b.vacuum || !vacuum)
        .max_by(|a, b| (a.width_mm * a.length_mm).total_cmp(&(b.width_mm * b.length_mm)))
}

fn split(
    ask: &SlabAsk<'_>,
    whole: Size,
    limits: &[SideLimit],
    opened: bool,
) -> Result<SlabPlan, Vec<FieldError>> {
    let tightest = |side| {
        limits
            .iter()
            .filter(|l| l.side == side)
            .min_by(|a, b| a.most_mm.total_cmp(&b.most_mm))
    };
    let mut reasons = Vec::new();
    let mut parts = |side, value: f64, most: Option<(f64, String)>| -> u32 {
        let Some((most, because)) = most else {
            return 1;
        };
        if value <= most + 1e-9 {
            return 1;
        }
        let n = (value / most - 1e-9).ceil() as u32;
        let (side, into) = match side {
            Side::Length => ("long", "lengths"),
            Side::Width => ("wide", "strips"),
            Side::Thickness => ("thick", "layers"),
        };
        reasons.push(format!(
            "It is {} {side}, and {because}: {n} {into}.",
            length(Millimetres(value), ask.units.length)
        ));
        n
    };
    let of = |side| tightest(side).map(|l| (l.most_mm, l.because.clone()));
    let layers = parts(Side::Thickness, whole.thickness_mm, of(Side::Thickness));
    let thickness_mm = whole.thickness_mm / f64::from(layers);
    let bag = largest_bag(ask);
    let bagged = |own: Option<(f64, String)>, room: Option<f64>, name: &str| match (own, room) {
        (Some(own), Some(room)) if own.0 <= room => Some(own),
        (_, Some(room)) => Some((
            room,
            format!(
                "the {name} has room for {} at this thickness",
                length(Millimetres(room.max(0.0)), ask.units.length)
            ),
        )),
        (own, None) => own,
    };
    // A slab goes in lengthways or crossways, whichever leaves the piece in fewer parts once everything else has cut it.
    let own = |side| of(side).map_or(f64::INFINITY, |(most, _)| most);
    let (own_length, own_width) = (own(Side::Length), own(Side::Width));
    let ways = bag.map(|b| {
        let (long, wide) = (
            b.length_mm - thickness_mm - SHAPES.bag_close_mm,
            b.width_mm - thickness_mm,
        );
        let into = |value: f64, room: f64| (value / room.max(1.0)).ceil();
        let count = |(l, w): (f64, f64)| {
            into(whole.length_mm, l.min(own_length)) * into(whole.width_mm, w.min(own_width))
        };
        if count((wide, long)) < count((long, wide)) {
            (wide, long)
        } else {
            (long, wide)
        }
    });
    let name = bag.map_or("", |b| b.name.as_str());
    let most_length = bagged(of(Side::Length), ways.map(|w| w.0), name);
    let most_width = bagged(of(Side::Width), ways.map(|w| w.1), name);
    for (most, side) in [(&most_length, "length_mm"), (&most_width, "width_mm")] {
        if let Some((mm, because)) = most
            && *mm < 30.0
        {
            return Err(vec![FieldError::new(
                side,
                format!(
                    "No slab worth the name is left: {because}. Take a larger bag, or open the piece flat first."
                ),
            )]);
        }
    }
    let along = parts(Side::Length, whole.length_mm, most_length);
    let across = parts(Side::Width, whole.width_mm, most_width);
    let slabs = layers.saturating_mul(along).saturating_mul(across);
    if slabs > MOST_SLABS {
        return Err(vec![FieldError::new(
            "mass_g",
            format!(
                "That would be {slabs} slabs. Check the sizes of the piece and of your equipment."
            ),
        )]);
    }
    let each = Size {
        length_mm: whole.length_mm / f64::from(along),
        width_mm: whole.width_mm / f64::from(across),
        thickness_mm,
    };
    if opened {
        reasons.insert(
            0,
            format!(
                "Opened like a book it lies {} thick and twice as wide.",
                length(Millimetres(whole.thickness_mm), ask.units.length)
            ),
        );
    }
    if slabs == 1 && !opened {
        let limit = tightest(Side::Thickness).map_or(String::new(), |l| l.because.clone());
        reasons.push(format!(
            "It is {} thick, and {limit}: it may stay in one piece.",
            length(Millimetres(whole.thickness_mm), ask.units.length)
        ));
    }
    let vacuum = bag.is_some_and(|b| b.vacuum);
    Ok(SlabPlan {
        way: match (opened, slabs) {
            (true, _) => SlabWay::OpenFlat,
            (false, 1) => SlabWay::AsItIs,
            (false, _) => SlabWay::Split,
        },
        whole,
        along,
        across,
        layers,
        slabs,
        each,
        each_g: ask.mass_g / f64::from(slabs),
        bag: bag
            .and(ask.equipment)
            .and_then(|e| e.bag_for(each, vacuum))
            .map(|b| b.name.clone()),
        roll_diameter_mm: None,
        ties: None,
        reasons,
    })
}

/// Rolled across its width: the roll is as long as the piece, its end as large as its flat end.
///
/// # Source
/// Equal areas: a sheet of width w and thickness t rolls to `d = sqrt(4 w t / pi)`.
fn roll(ask: &SlabAsk<'_>) -> SlabPlan {
    let size = ask.size;
    let diameter = roll_diameter(size).0;
    let ties = ties(Millimetres(size.length_mm));
    let say = |mm| length(mm, ask.units.length);
    let mut reasons = vec![
        format!(
            "Rolled across its {} it is {} round and {} long.",
            say(Millimetres(size.width_mm.round())),
            say(Millimetres(diameter.round())),
            say(Millimetres(size.length_mm.round()))
        ),
        format!(
            "{ties} ties, one every {}, from the middle out.",
            say(Millimetres(SHAPES.tie_spacing_mm))
        ),
        format!(
            "It cures flat first: the days follow from {}, not from the roll.",
            say(Millimetres(size.thickness_mm))
        ),
    ];
    if let Some(slicer) = ask.equipment.and_then(|e| e.slicer)
        && diameter > slicer.width_mm.min(slicer.height_mm)
    {
        reasons.push(format!(
            "The slicer takes {}: halve the sheet along its length before you roll, or slice by hand.",
            say(Millimetres(slicer.width_mm.min(slicer.height_mm)))
        ));
    }
    if let Some(long) = ask
        .equipment
        .and_then(|e| e.over_shelf(Millimetres(size.length_mm), ask.units))
    {
        reasons.push(format!(
            "{} Cut the roll in two before the smoke.",
            long.message
        ));
    }
    SlabPlan {
        way: SlabWay::Roll,
        whole: size,
        along: 1,
        across: 1,
        layers: 1,
        slabs: 1,
        each: Size {
            width_mm: diameter,
            thickness_mm: diameter,
            ..size
        },
        each_g: ask.mass_g,
        bag: None,
        roll_diameter_mm: Some(diameter),
        ties: Some(ties),
        reasons,
    }
}

/// The diameter of a sheet rolled across its width.
#[must_use]
pub fn roll_diameter(size: Size) -> Millimetres {
    Millimetres((4.0 * size.width_mm * size.thickness_mm / std::f64::consts::PI).sqrt())
}

/// Ties on a roll of this length, two at least.
#[must_use]
pub fn ties(length: Millimetres) -> u32 {
    let length_mm = length.0;
    let between = (length_mm - 2.0 * SHAPES.tie_edge_mm).max(0.0);
    ((between / SHAPES.tie_spacing_mm + 1e-9).floor() as u32 + 1).max(2)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::place::Place;
    use crate::place::equipment::Slicer;
    use crate::testing::build;
    use proptest::prelude::*;

    fn kitchen(width: f64, bag: (f64, f64)) -> Equipment {
        Equipment {
            slicer: Some(Slicer {
                width_mm: width,
                height_mm: 160.0,
            }),
            bags: vec![Bag {
                name: "large bag".into(),
                width_mm: bag.0,
                length_mm: bag.1,
                vacuum: true,
            }],
            places: vec![Place::new("smoker", "smoker", 1, 15.0).sized(
                Some(Millimetres(450.0)),
                Some(Millimetres(350.0)),
                None,
            )],
            ..Equipment::default()
        }
    }

    fn ask<'a>(size: (f64, f64, f64), equipment: &'a Equipment, key: Option<&str>) -> SlabAsk<'a> {
        SlabAsk {
            size: Size {
                length_mm: size.0,
                width_mm: size.1,
                thickness_mm: size.2,
            },
            mass_g: 4_600.0,
            build: key.and_then(build),
            equipment: Some(equipment),
            may_open: true,
            units: Units::default(),
        }
    }

    #[test]
    fn slabs_follow_from_the_tightest_limit() {
        let wide = kitchen(400.0, (400.0, 600.0));
        let narrow = kitchen(150.0, (400.0, 600.0));
        let small_bag = kitchen(400.0, (200.0, 300.0));
        #[rustfmt::skip]
        let cases = [
            // why                        piece (mm)              kitchen     build                   along across layers
            ("thick",                     (300.0, 200.0, 115.0),  &wide,      Some("shoulder-slab"),  (1, 1, 2)),
            ("as it is",                  (300.0, 200.0, 60.0),   &wide,      Some("shoulder-slab"),  (1, 1, 1)),
            ("wide for the slicer",       (300.0, 220.0, 45.0),   &narrow,    Some("belly-slab"),     (1, 2, 1)),
            ("too long for the smoker",   (500.0, 200.0, 45.0),   &wide,      Some("belly-slab"),     (2, 1, 1)),
            // 300 - 45 - 60 = 195 long, 200 - 45 = 155 wide
            ("too large for the bag",     (500.0, 220.0, 45.0),   &small_bag, Some("belly-slab"),     (3, 2, 1)),
            ("a dried muscle may be 100", (300.0, 110.0, 95.0),   &wide,      Some("muscle-cased"),   (1, 1, 1)),
            ("a ham is not sliced thin",  (340.0, 200.0, 150.0),  &wide,      Some("ham-bucket"),     (1, 1, 1)),
        ];
        for (why, size, kitchen, key, want) in cases {
            let plans = slab_plans(&ask(size, kitchen, key)).unwrap();
            let got = plans
                .iter()
                .find(|p| matches!(p.way, SlabWay::Split | SlabWay::AsItIs))
                .unwrap();
            assert_eq!((got.along, got.across, got.layers), want, "{why}: {got:?}");
            assert!(!got.reasons.is_empty(), "{why}");
        }
    }

    #[test]
    fn a_loin_and_belly_is_rolled_and_tied() {
        let wide = kitchen(400.0, (400.0, 600.0));
        let plans = slab_plans(&ask((420.0, 300.0, 60.0), &wide, Some("round-roll"))).unwrap();
        let roll = &plans[0];
        assert_eq!(roll.way, SlabWay::Roll);
        // sqrt(4 * 300 * 60 / pi) = 151.4; (420 - 30) / 35 = 11 gaps
        assert!((roll.roll_diameter_mm.unwrap() - 151.39).abs() < 0.01);
        assert_eq!(roll.ties, Some(12));
    }

    #[test]
    fn limits_that_leave_nothing_say_so() {
        let tiny = kitchen(400.0, (60.0, 100.0));
        let errors = slab_plans(&ask((300.0, 200.0, 60.0), &tiny, Some("belly-slab"))).unwrap_err();
        assert!(
            errors[0]
                .message
                .starts_with("No slab worth the name is left: the large bag"),
            "{}",
            errors[0].message
        );
    }

    proptest! {
        #[test]
        fn suggested_slabs_satisfy_every_limit(
            long in 120.0..900.0, wide in 60.0..500.0, thick in 15.0..180.0,
            slicer in 120.0..300.0, bag_w in 250.0..450.0, bag_l in 300.0..700.0,
            key in prop::sample::select(vec!["belly-slab", "shoulder-slab", "muscle-cased", "ham-bucket", "round-roll"]),
        ) {
            let kitchen = kitchen(slicer, (bag_w, bag_l));
            let ask = ask((long, wide, thick), &kitchen, Some(key));
            let Ok(plans) = slab_plans(&ask) else { return Ok(()) };
            for plan in plans.iter().filter(|p| p.way != SlabWay::Roll) {
                for limit in limits(&ask) {
                    let side = match limit.side {
                        Side::Length => plan.each.length_mm,
                        Side::Width => plan.each.width_mm,
                        Side::Thickness => plan.each.thickness_mm,
                    };
                    prop_assert!(side <= limit.most_mm + 1e-6, "{:?} of {plan:?}", limit);
                }
                if let Some(bag) = largest_bag(&ask) {
                    prop_assert!(plan.each.fits_bag(Millimetres(bag.width_mm), Millimetres(bag.length_mm)), "{plan:?}");
                }
                prop_assert!((plan.each_g * f64::from(plan.slabs) - ask.mass_g).abs() < 1e-6);
                let volume = |s: Size| s.length_mm * s.width_mm * s.thickness_mm;
                prop_assert!((volume(plan.each) * f64::from(plan.slabs) / volume(plan.whole) - 1.0).abs() < 1e-9);
            }
        }
    }
}
