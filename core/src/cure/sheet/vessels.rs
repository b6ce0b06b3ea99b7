//! What each vessel of a sheet holds, what its pieces really get of it, and what to think about it.

use super::table::{self, Group, Table, VesselSheet};
use super::{Heated, InLiquids, Setting, Sheet, SheetLine, WeighOut, WrongJar, add_up};
use crate::catalogue::cures::Role;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::dose::{BrineState, Contents, DoseLine};
use crate::household::Household;
use crate::place::{Material, Place};
use crate::shape::size::Size;
use crate::units::show::{content, length, rate, temperature, volume};
use crate::units::{
    Band, Celsius, Fraction, GPerKg, Grams, Litres, Milligrams, Millimetres, Ppm, Typed, Units,
    to_division,
};

/// Meat goes into brine at this or colder (°C).
const COLD: f64 = 4.0;

/// What was weighed of an ingredient, as a dose keeps it.
pub(crate) fn weighed(lines: &[SheetLine]) -> Vec<DoseLine> {
    lines
        .iter()
        .map(|l| DoseLine {
            role: l.role,
            name: l.name.clone(),
            mass: Typed::unsaid(Milligrams::from_grams(l.shown_g)),
            salt: l.salt_fraction.map(|s| Typed::unsaid(Fraction(s))),
            made_of: None,
        })
        .collect()
}

/// Shares out what was mixed, and says what everybody got.
pub(super) fn fill(
    sheet: &mut Sheet,
    table: &Table<'_>,
    setting: &Setting<'_>,
) -> Result<(), Vec<FieldError>> {
    let one_mix = sheet.in_brine || (table.mixed && table.groups.len() > 1);
    let shares = if table.by_eye() {
        table::share_out(sheet, table).map_err(|e| vec![e])?
    } else {
        table.shares(sheet.total_g).map_err(|e| vec![e])?
    };
    let scales = setting.home.scales;
    let portions = if table.by_eye() {
        let poured = |share: &f64| to_division(sheet.total_g * share, scales.fine_division_g);
        shares.iter().map(poured).collect()
    } else {
        table::portions(sheet.total_g, &shares, scales.fine_division_g)
    };
    for ((group, share), portion) in table.groups.iter().zip(&shares).zip(portions) {
        let mut lines: Vec<SheetLine> = Vec::new();
        for i in &group.pieces {
            add_up(&mut lines, &sheet.pieces[*i].lines);
        }
        let facts = weighed(&lines);
        let mut holds = None;
        for i in &group.pieces {
            let part = &mut sheet.pieces[*i];
            let got = Contents::of(
                &facts,
                &setting.cure,
                group.meat.0,
                (sheet.method, part.taken_up.as_ref()),
                None,
                (scales.fine_division_g, scales.meat_division_g),
            );
            part.salt = got.salt;
            part.uptake = got.uptake;
            if got.uptake.is_some() {
                part.nitrite = got.nitrite;
                part.nitrate_ppm = got.nitrate.nominal;
            } else if table.by_eye() {
                let times = got.nitrite.nominal / part.nitrite.nominal.max(f64::MIN_POSITIVE);
                part.nitrite = Band {
                    nominal: got.nitrite.nominal,
                    low: part.nitrite.low * times,
                    high: part.nitrite.high * times,
                };
                part.nitrate_ppm = got.nitrate.nominal;
            }
            holds.get_or_insert((part.nitrite, part.salt));
        }
        let (nitrite, salt) = holds.unwrap_or_default();
        let around: f64 = if sheet.in_brine {
            sheet.total_g * share
        } else {
            0.0
        };
        let laid = group.laid.as_ref();
        sheet.vessels.push(VesselSheet {
            pieces: group.pieces.iter().map(|i| table.pieces[*i].id).collect(),
            name: laid.and_then(|l| l.name.clone()),
            meat_g: group.meat.0,
            lines,
            portion_g: (one_mix && table.groups.len() > 1).then_some(portion),
            by_eye: group.poured().is_some(),
            nitrite,
            salt,
            litres: Size::volume(group.meat).0 + around / 1_000.0,
            cover_g: place_of(group, setting.home)
                .filter(|p| sheet.in_brine && p.holds > 0.0)
                .map(|p| water_to_cover(Litres(p.holds), group.meat, Litres(p.holds * HEAD)).0),
            as_text: String::new(),
        });
    }
    sheet.liquids = liquids(sheet, setting);
    sheet.heated = heated(sheet);
    sheet.wrong_jars = wrong_jars(sheet, setting);
    Ok(())
}

fn liquids(sheet: &Sheet, setting: &Setting<'_>) -> Option<InLiquids> {
    let mut all = InLiquids::default();
    let mut some = false;
    let seasonings = sheet.lines.iter().filter(|l| {
        matches!(
            l.role,
            Role::Liquid | Role::Sugar | Role::Spice | Role::Water
        )
    });
    for line in seasonings {
        let added = setting.dose.additions.iter().any(|a| a.name == line.name);
        if let Some(brings) = setting.catalogue.brings(&line.name).filter(|_| added) {
            some = true;
            all.water_g += line.exact_g * brings.water;
            all.sugar_g += line.exact_g * brings.sugar;
            all.salt_g += line.exact_g * line.salt_fraction.unwrap_or(brings.salt);
        }
    }
    some.then_some(all)
}

/// So much of the water is heated, to dissolve everything in it (share), and how hot it gets (°C).
const HOT_PART: f64 = 0.25;

const HOT: f64 = 80.0;

/// Heat to melt a gram of ice, over that to warm a gram of water by a degree (°C).
const MELTS: f64 = 334.0 / 4.19;

/// A hot part and ice that together come out cold.
///
/// # Source
/// The heat the hot part gives off melts the ice and warms its water: heat of fusion of ice 334 J/g, heat capacity of
/// water 4.19 J/(g K); what is dissolved is left out.
fn heated(sheet: &Sheet) -> Option<Heated> {
    let water = sheet.lines.iter().find(|l| l.role == Role::Water)?;
    if !sheet.in_brine {
        return None;
    }
    let hot_g = water.exact_g * HOT_PART;
    let ice_g = hot_g * (HOT - COLD) / (MELTS + COLD);
    Some(Heated {
        hot_g,
        hot_c: HOT,
        ice_g,
        cold_g: water.exact_g - hot_g - ice_g,
        comes_to_c: COLD,
    })
}

/// What the grams of the curing salt would do if they came out of another jar.
fn wrong_jars(sheet: &Sheet, setting: &Setting<'_>) -> Vec<WrongJar> {
    let made_of = &setting.cure.made_of;
    let most = sheet.pieces.iter().map(|p| p.nitrite.nominal);
    let nitrite = most.fold(0.0, f64::max);
    if made_of.nitrite <= 0.0 || nitrite <= 0.0 {
        return Vec::new();
    }
    let others = setting.catalogue.cures.iter().filter(|c| {
        c.made_of.nitrite > 0.0
            && Some(&c.key) != setting.cure.key.as_ref()
            && c.made_of != *made_of
    });
    others
        .map(|other| {
            let times = other.made_of.nitrite / made_of.nitrite;
            WrongJar {
                name: other.name.clone(),
                nitrite_ppm: nitrite * times,
                nitrate_ppm: nitrite / made_of.nitrite * other.made_of.nitrate,
                times,
            }
        })
        .collect()
}

/// What to think about the vessels and the brine in them.
pub(super) fn watch(
    sheet: &Sheet,
    table: &Table<'_>,
    ask: &WeighOut<'_>,
    home: &Household,
) -> Vec<Finding> {
    let mut found = Vec::new();
    for (group, vessel) in table.groups.iter().zip(&sheet.vessels) {
        let thick = group
            .pieces
            .iter()
            .filter_map(|i| table.pieces[*i].shape.thickness());
        let thick: Vec<_> = thick.map(Millimetres::get).collect();
        found.extend(uneven(&thick, home.units));
        if group.laid.as_ref().is_some_and(|l| l.layers > 1) {
            found.push(
                Finding::new(
                    Code::LieOnEachOther,
                    Severity::Info,
                    "Pieces lie on each other: where they touch, little cure gets in.",
                )
                .remedy("At each turn swap top and bottom, and spoon the liquid over again."),
            );
        }
        let equipment = home.equipment.as_ref();
        match place_of(group, home) {
            Some(place) => found.extend(in_place(place, vessel, sheet, home.units)),
            None if sheet.in_brine => {
                found.extend(equipment.and_then(|e| e.over_tub(Litres(vessel.litres), home.units)));
            }
            None => {}
        }
    }
    if sheet.in_brine {
        found.extend(of_brine(ask.brine, home.units));
    }
    if table.by_eye() {
        found.push(by_eye(sheet));
    }
    found
}

/// The place that a vessel was said to be.
fn place_of<'a>(group: &Group, home: &'a Household) -> Option<&'a Place> {
    let id = group.laid.as_ref()?.place?;
    let places = &home.equipment.as_ref()?.places;
    places.iter().find(|p| p.id == id)
}

/// The share of a vessel that is left empty at the top.
const HEAD: f64 = 0.05;

fn by_eye(sheet: &Sheet) -> Finding {
    let each: Vec<_> = sheet
        .vessels
        .iter()
        .map(|v| {
            let tags = sheet.pieces.iter().filter(|p| v.pieces.contains(&p.piece));
            let tags: Vec<_> = tags.map(|p| p.tag.as_str()).collect();
            let salt = v.salt.map_or_else(String::new, |s| {
                format!(" and {} of salt", rate(GPerKg(s.nominal)))
            });
            format!(
                "{}: {}{salt}",
                tags.join(", "),
                content(Ppm(v.nitrite.nominal))
            )
        })
        .collect();
    Finding::new(
        Code::PouredByEye,
        Severity::Info,
        "Poured by eye, each vessel got what its pour gave it, not what its meat asked for.",
    )
    .saw(each.join("; "))
    .remedy("Weigh what is poured into each: its share stands beside it.")
}

/// What is thought of a brine as the meat goes in.
pub(crate) fn of_brine(brine: &BrineState, units: Units) -> Vec<Finding> {
    let said = |c: Celsius| temperature(c, units.heat);
    let mut found = Vec::new();
    if let Some(warm) = brine
        .temperature
        .as_ref()
        .filter(|t| t.value.0 > COLD + 0.05)
    {
        found.push(
            Finding::new(
                Code::BrineNotCold,
                Severity::Caution,
                "Warm brine around raw meat is where germs grow first.",
            )
            .saw(said(warm.value))
            .wants(format!("{} or colder", said(Celsius(COLD))))
            .remedy("Let it cool in the fridge, or replace a part of the water by ice, by weight."),
        );
    }
    if brine.clear == Some(false) {
        found.push(
            Finding::new(
                Code::BrineNotClear,
                Severity::Caution,
                "Salt on the bottom is not in the brine: it would be weaker than it says.",
            )
            .wants("clear, with nothing on the bottom")
            .remedy("Stir until it is clear, or dissolve salt and cure in a warm part of the water and cool that down."),
        );
    }
    found
}

fn in_place(place: &Place, vessel: &VesselSheet, sheet: &Sheet, units: Units) -> Vec<Finding> {
    let mut found = Vec::new();
    let wet = sheet.in_brine || sheet.soak_min.is_some() || sheet.liquids.is_some();
    if place.material == Some(Material::Reactive) {
        found.push(
            Finding::new(
                Code::ReactiveVessel,
                Severity::Caution,
                format!("Salt and cure eat the metal of {}, and the meat takes it up.", place.name),
            )
            .remedy("Take plastic for food, glass, stoneware, enamel or stainless steel, or line it with a bag."),
        );
    }
    if place.lid == Some(false) && sheet.in_brine {
        found.push(
            Finding::new(
                Code::NoLid,
                Severity::Info,
                format!("{} has no lid.", place.name),
            )
            .remedy("Cover it, and keep it away from anything raw that drips."),
        );
    }
    if !wet || !sheet.in_brine {
        return found;
    }
    let too_small = |saw: String, wants: String| {
        Finding::new(
            Code::VesselTooSmall,
            Severity::Caution,
            format!("Meat and brine are more than {} holds.", place.name),
        )
        .saw(saw)
        .wants(wants)
        .remedy("Share pieces and brine over two vessels by weight, or use less water.")
    };
    let litres = Litres(vessel.litres);
    if place.holds > 0.0 && litres.0 > place.holds {
        found.push(too_small(
            volume(litres, units),
            format!("at most {}", volume(Litres(place.holds), units)),
        ));
    } else if let (Some(l), Some(w), Some(h)) = (place.length_mm, place.width_mm, place.height_mm) {
        let level = litres.0 * 1e6 / (l * w);
        if level > h {
            found.push(too_small(
                format!("a level of {}", length(Millimetres(level), units.length)),
                format!("at most {}", length(Millimetres(h), units.length)),
            ));
        }
    }
    found
}

/// Pieces in one vessel whose thickness differs by more than a third come out at different times.
fn uneven(mm: &[f64], units: Units) -> Option<Finding> {
    let (thin, thick) = mm
        .iter()
        .fold((f64::MAX, 0.0_f64), |(l, h), v| (l.min(*v), h.max(*v)));
    (mm.len() > 1 && thick - thin > thin / 3.0).then(|| {
        Finding::new(
            Code::UnevenThickness,
            Severity::Caution,
            "These pieces differ in thickness by more than a third: each has its own days.",
        )
        .saw(format!(
            "{} to {}",
            length(Millimetres(thin), units.length),
            length(Millimetres(thick), units.length)
        ))
        .remedy("Lay them apart, or take each out on its own day.")
    })
}

/// Water that covers so much meat in a vessel of so many litres, with room left at the top.
///
/// # Source
/// Meat displaces its weight at 1.05 kg a litre.
fn water_to_cover(holds: Litres, meat: Grams, head_room: Litres) -> Grams {
    Grams(((holds.0 - Size::volume(meat).0 - head_room.0) * 1_000.0).max(0.0))
}
