//! What a household has settled on: units, scales, school, clock.

use crate::catalogue::Catalogue;
use crate::catalogue::rules::{RuleSet, default_rule_set};
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::place::equipment::Equipment;
use crate::place::{Place, PlaceId};
use crate::units::bounds::Measure;
use crate::units::{Units, bounds};
use jiff::civil::{Date, DateTime, Time};
use jiff::tz::{AmbiguousOffset, TimeZone};
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::collections::BTreeMap;
use std::ops::RangeInclusive;

/// What a household may set as its own cap (ppm): under it nothing would be protected, over it no rules allow it.
const CAPS: RangeInclusive<f64> = 40.0..=625.0;

/// Light, dark, or as the device says.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Theme {
    /// As the device says.
    #[default]
    Device,
    /// Light.
    Light,
    /// Dark, for a dim garage.
    Dark,
}

/// A scale with a known mass on it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ScaleCheck {
    /// The known mass (g).
    pub mass_g: f64,
    /// What the scale showed (g).
    pub showed_g: f64,
    /// On which day.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub on: Date,
}

/// Off by more than this share, or by more than a step, a scale is wrong.
const SCALE_OFF: f64 = 0.01;

impl ScaleCheck {
    /// What to say of a scale that steps by so much (g) and was off.
    #[must_use]
    pub fn finding(&self, name: &str, division_g: f64) -> Option<Finding> {
        let off = self.showed_g - self.mass_g;
        (off.abs() > division_g.max(self.mass_g * SCALE_OFF) + 1e-9).then(|| {
            Finding::new(
                Code::ScaleOff,
                Severity::Caution,
                format!("{name} was off when it was checked: everything weighed on it is."),
            )
            .saw(format!(
                "{} g for {} g on {}",
                self.showed_g, self.mass_g, self.on
            ))
            .wants(format!("{} g, give or take a step", self.mass_g))
            .remedy(
                "Level it, change its battery, calibrate it and check it again; or use another.",
            )
        })
    }
}

/// A household's settings. Plans follow them; facts already recorded do not.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Household {
    /// What the household is called on sheets and labels.
    pub name: String,
    /// The units it thinks in.
    pub units: Units,
    /// Its scales' smallest steps.
    pub scales: Scales,
    /// The cure-time school, or none for the longer of the two defaults.
    pub school: Option<String>,
    /// The rules its doses are judged by.
    pub rule_set: String,
    /// The most nitrite in anything, where the household wants less than its rules allow (ppm).
    #[serde(default)]
    pub cap_ppm: Option<f64>,
    /// The fine scale, checked against a known mass.
    #[serde(default)]
    pub fine_check: Option<ScaleCheck>,
    /// The meat's scale, checked against a known mass.
    #[serde(default)]
    pub meat_check: Option<ScaleCheck>,
    /// The school of single products, by the product's word, where it is not the household's.
    #[serde(default)]
    pub schools: BTreeMap<String, String>,
    /// A piece put in before this hour counts that day (0 to 23).
    pub cut_off_hour: i8,
    /// IANA time zone, such as `UTC` or `Europe/Oslo`.
    pub time_zone: String,
    /// Three letters or a sign, put before amounts of money.
    pub currency: String,
    /// Light or dark.
    pub theme: Theme,
    /// What stands in the house; none until it was listed.
    #[serde(default)]
    pub equipment: Option<Equipment>,
    /// What a pack usually weighs (g).
    #[serde(default = "usual_pack")]
    pub pack_g: f64,
    /// A piece that hangs is close enough to its target when so much is missing (share of its net weight when it was hung).
    #[serde(default = "usual_close_enough")]
    pub close_enough: f64,
}

/// More missing is not close any more (share).
const MOST_CLOSE: f64 = 0.03;

/// # Source
/// A hundredth of the start is what two weighings differ by.
fn usual_close_enough() -> f64 {
    0.01
}

fn usual_pack() -> f64 {
    250.0
}

impl Default for Household {
    fn default() -> Self {
        Self {
            name: "Our table".into(),
            units: Units::default(),
            scales: Scales {
                fine_division_g: 1.0,
                meat_division_g: 1.0,
            },
            school: None,
            rule_set: default_rule_set(),
            cap_ppm: None,
            fine_check: None,
            meat_check: None,
            schools: BTreeMap::new(),
            cut_off_hour: 12,
            time_zone: "UTC".into(),
            currency: "$".into(),
            theme: Theme::Device,
            equipment: None,
            pack_g: usual_pack(),
            close_enough: usual_close_enough(),
        }
    }
}

/// A moment that a person named.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Moment {
    /// When it was; the first time where the clock showed it twice.
    pub at: Timestamp,
    /// The second time that the clock showed it, in the hour that comes twice in autumn.
    pub again: Option<Timestamp>,
}

impl Moment {
    /// What is asked where the clock showed it twice; kept as typed, it was the first time.
    #[must_use]
    pub fn doubt(&self, home: &Household) -> Option<Finding> {
        let again = self.again?.to_zoned(home.zone());
        let shown = again.strftime("%H:%M");
        Some(
            Finding::new(
                Code::HourCameTwice,
                Severity::Caution,
                format!(
                    "The clocks were put back on {}: they showed {shown} twice.",
                    again.date()
                ),
            )
            .saw(shown.to_string())
            .wants(again.strftime("%Y-%m-%dT%H:%M%:z").to_string())
            .remedy("Keep it as typed for the first time; for the second, give the time with its offset as it stands here."),
        )
    }
}

impl Household {
    /// Checks every field.
    ///
    /// # Errors
    /// Each field that cannot be, with what to type.
    pub fn check(&self, catalogue: &Catalogue) -> Result<(), Vec<FieldError>> {
        let mut checks = Checks::default();
        checks.that(
            !self.name.trim().is_empty() && self.name.chars().count() <= 60,
            "name",
            "Give the household a name of up to 60 letters.",
        );
        checks.above_zero(
            Measure::Division,
            self.scales.fine_division_g,
            "scales.fine_division_g",
            "1 or 0.1",
        );
        checks.above_zero(
            Measure::Division,
            self.scales.meat_division_g,
            "scales.meat_division_g",
            "1 or 5",
        );
        if let Some(Err(error)) = self.school.as_ref().map(|key| catalogue.school_named(key)) {
            checks.push(error);
        }
        for (build, key) in &self.schools {
            if catalogue.build(build).is_none() {
                checks.that(
                    false,
                    &format!("schools.{build}"),
                    "There is no such product. Name one of the library by its word.",
                );
            } else if let Err(error) = catalogue.school_named(key) {
                checks.push(FieldError {
                    field: format!("schools.{build}"),
                    ..error
                });
            }
        }
        if let Err(error) = catalogue.rule_set(&self.rule_set) {
            checks.push(error);
        }
        for (check, at) in [
            (&self.fine_check, "fine_check"),
            (&self.meat_check, "meat_check"),
        ] {
            let Some(check) = check else { continue };
            checks.above_zero(Measure::Mass, check.mass_g, &format!("{at}.mass_g"), "100");
            checks.zero_or_more(
                Measure::Mass,
                check.showed_g,
                &format!("{at}.showed_g"),
                "100",
            );
            if let Err(message) = bounds::day(check.on) {
                checks.push(FieldError::new(format!("{at}.on"), message));
            }
        }
        checks.that(
            self.cap_ppm.is_none_or(|ppm| CAPS.contains(&ppm)),
            "cap_ppm",
            "Give your own cap from 40 to 625 ppm, such as 150, or none.",
        );
        checks.that(
            (0..=23).contains(&self.cut_off_hour),
            "cut_off_hour",
            "Give a full hour from 0 to 23, such as 12 for noon.",
        );
        checks.that(
            TimeZone::get(&self.time_zone).is_ok(),
            "time_zone",
            "Give a time zone by its name, such as UTC, Europe/Oslo or America/Denver.",
        );
        checks.that(
            !self.currency.trim().is_empty() && self.currency.chars().count() <= 4,
            "currency",
            "Give a currency sign or its letters, such as $ or EUR.",
        );
        checks.that(
            (0.0..=MOST_CLOSE).contains(&self.close_enough),
            "close_enough",
            "Give a share from 0 to 0.03: at one, 1 % of its start may be missing.",
        );
        checks.that(
            (20.0..=20_000.0).contains(&self.pack_g),
            "pack_g",
            "Give the usual weight of a pack in grams, such as 250.",
        );
        if let Some(equipment) = &self.equipment {
            equipment.check(&mut checks);
        }
        checks.done()
    }

    /// The rules its doses are judged by, with its own cap where that is stricter.
    ///
    /// # Errors
    /// When they are not in the catalogue.
    pub fn rules<'a>(&self, catalogue: &'a Catalogue) -> Result<Cow<'a, RuleSet>, FieldError> {
        self.rules_of(&self.rule_set, catalogue)
    }

    /// Rules by their word, with the household's own cap where that is stricter.
    ///
    /// # Errors
    /// When they are not in the catalogue.
    pub fn rules_of<'a>(
        &self,
        rule_set: &str,
        catalogue: &'a Catalogue,
    ) -> Result<Cow<'a, RuleSet>, FieldError> {
        let rules = catalogue.rule_set(rule_set)?;
        Ok(match self.cap_ppm {
            Some(cap) => Cow::Owned(rules.capped(cap)),
            None => Cow::Borrowed(rules),
        })
    }

    /// The school of a product: its own, or the household's.
    #[must_use]
    pub fn school_for(&self, build: &str) -> Option<&str> {
        let own = self.schools.get(build).map(String::as_str);
        own.or(self.school.as_deref())
    }

    /// The household's time zone; UTC when its name is unknown here.
    #[must_use]
    pub fn zone(&self) -> TimeZone {
        TimeZone::get(&self.time_zone).unwrap_or(TimeZone::UTC)
    }

    /// A moment up to `now`, as typed: RFC 3339, a local date and time, or a day (its noon).
    ///
    /// # Errors
    /// When it is none of these, still to come, or in the hour that clocks leave out in spring.
    pub fn moment(&self, text: &str, now: Timestamp) -> Result<Moment, FieldError> {
        let wrong = |message: &str| FieldError::new("happened_at", message);
        let text = text.trim();
        let unreadable = || wrong("Give a date and time, such as 2026-11-20T18:30.");
        let found = if let Ok(at) = text.parse::<Timestamp>() {
            Moment { at, again: None }
        } else if let (Ok(day), false) = (text.parse::<Date>(), text.contains(['T', ' '])) {
            // Today's noon may still be to come; the day has begun all the same.
            let (noon, began) = (
                self.local(day.at(12, 0, 0, 0))?.at,
                self.local(day.at(0, 0, 0, 0))?.at,
            );
            Moment {
                at: noon.min(now.max(began)),
                again: None,
            }
        } else {
            self.local(text.parse().map_err(|_| unreadable())?)?
        };
        if found.at.as_second() > now.as_second() + 60 {
            return Err(wrong("That is still to come. Give a time up to now."));
        }
        bounds::day(self.day(found.at)).map_err(|message| wrong(&message))?;
        let has_come = |at: &Timestamp| at.as_second() <= now.as_second() + 60;
        Ok(Moment {
            again: found.again.filter(has_come),
            ..found
        })
    }

    /// What the household's clock means by a date and time.
    fn local(&self, at: DateTime) -> Result<Moment, FieldError> {
        let wrong = |message: String| FieldError::new("happened_at", message);
        let unreadable = |_| wrong("Give a date and time, such as 2026-11-20T18:30.".into());
        let found = self.zone().to_ambiguous_zoned(at);
        let offset = found.offset();
        let earlier = found.clone().earlier().map_err(unreadable)?.timestamp();
        let later = found.later().map_err(unreadable)?.timestamp();
        match offset {
            AmbiguousOffset::Unambiguous { .. } => Ok(Moment {
                at: earlier,
                again: None,
            }),
            AmbiguousOffset::Fold { .. } => Ok(Moment {
                at: earlier,
                again: Some(later),
            }),
            AmbiguousOffset::Gap { .. } if at.time() == Time::midnight() => Ok(Moment {
                at: later,
                again: None,
            }),
            AmbiguousOffset::Gap { .. } => Err(wrong(format!(
                "The clocks were put forward that night: there was no {} on {}. Give the time that the clock showed.",
                at.strftime("%H:%M"),
                at.date()
            ))),
        }
    }

    /// Every place that is listed.
    pub fn places(&self) -> impl Iterator<Item = &Place> {
        self.equipment.iter().flat_map(|e| &e.places)
    }

    /// A place by its number; none when it stands on the list no longer.
    #[must_use]
    pub fn place(&self, id: PlaceId) -> Option<&Place> {
        self.places().find(|p| p.id == id)
    }

    /// True for what lies in a place, or in one that stands in it.
    #[must_use]
    pub fn lies_in(&self, lies: PlaceId, place: PlaceId) -> bool {
        lies == place || self.place(lies).and_then(|p| p.stands_in) == Some(place)
    }

    /// The calendar day of a moment at the household's table.
    #[must_use]
    pub fn day(&self, at: Timestamp) -> Date {
        at.to_zoned(self.zone()).date()
    }

    /// The first day that counts for a piece put in at `at`: that day before the cut-off hour,
    /// the next day after it.
    #[must_use]
    pub fn first_counted_day(&self, at: Timestamp) -> Date {
        let local = at.to_zoned(self.zone());
        if local.hour() < self.cut_off_hour {
            local.date()
        } else {
            local.date().saturating_add(1.day())
        }
    }
}

/// The scales of a household: what the cure is weighed on, and the meat.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Scales {
    /// Smallest step of the scale for cure and spices (g).
    pub fine_division_g: f64,
    /// Smallest step of the scale for meat (g).
    pub meat_division_g: f64,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_piece_put_in_after_the_cut_off_counts_from_the_next_day() {
        let home = Household::default();
        #[rustfmt::skip]
        let cases = [
            ("2026-11-20T09:00:00Z", "2026-11-20"),
            ("2026-11-20T11:59:00Z", "2026-11-20"),
            ("2026-11-20T12:00:00Z", "2026-11-21"),
            ("2026-12-31T22:00:00Z", "2027-01-01"),
        ];
        for (at, day) in cases {
            let at: Timestamp = at.parse().unwrap();
            assert_eq!(home.first_counted_day(at).to_string(), day, "{at}");
        }
    }

    #[test]
    fn the_time_zone_decides_the_day() {
        let home = Household {
            time_zone: "America/Denver".into(),
            ..Household::default()
        };
        let at: Timestamp = "2026-11-20T03:00:00Z".parse().unwrap();
        assert_eq!(home.day(at).to_string(), "2026-11-19");
    }

    #[test]
    fn an_hour_that_comes_twice_is_two_moments_and_one_that_never_comes_is_none() {
        let home = Household {
            time_zone: "America/Denver".into(),
            ..Household::default()
        };
        let now: Timestamp = "2027-04-01T00:00:00Z".parse().unwrap();
        let at = |text| {
            home.moment(text, now)
                .map(|m| (m.at.to_string(), m.again.map(|a| a.to_string())))
        };
        #[rustfmt::skip]
        let cases = [
            ("2026-11-01T00:59", "2026-11-01T06:59:00Z", None),
            ("2026-11-01T01:30", "2026-11-01T07:30:00Z", Some("2026-11-01T08:30:00Z")),
            ("2026-11-01T01:30-07:00", "2026-11-01T08:30:00Z", None),
            ("2026-11-01T02:00", "2026-11-01T09:00:00Z", None),
            ("2027-03-14T03:00", "2027-03-14T09:00:00Z", None),
        ];
        for (text, want, again) in cases {
            assert_eq!(
                at(text).unwrap(),
                (want.into(), again.map(Into::into)),
                "{text}"
            );
        }
        let gap = at("2027-03-14T02:30").unwrap_err();
        assert!(
            gap.message.contains("there was no 02:30 on 2027-03-14"),
            "{gap}"
        );
        // while the hour runs for the first time there is no second one yet
        let amid = home.moment("2026-11-01T01:30", "2026-11-01T07:40:00Z".parse().unwrap());
        assert_eq!(amid.unwrap().again, None);
    }

    #[test]
    fn wrong_settings_are_all_named() {
        let wrong = Household {
            name: " ".into(),
            scales: Scales {
                fine_division_g: 0.0,
                meat_division_g: 1.0,
            },
            school: Some("moon".into()),
            rule_set: "moon".into(),
            cut_off_hour: 24,
            time_zone: "Nowhere/Moon".into(),
            currency: String::new(),
            ..Household::default()
        };
        let fields: Vec<_> = wrong
            .check(&Catalogue::shipped())
            .unwrap_err()
            .into_iter()
            .map(|e| e.field)
            .collect();
        let want = [
            "name",
            "scales.fine_division_g",
            "school",
            "rule_set",
            "cut_off_hour",
            "time_zone",
            "currency",
        ];
        assert_eq!(fields, want);
        assert_eq!(Household::default().check(&Catalogue::shipped()), Ok(()));
    }
}
