//! By what the days of a piece are planned, and why, in a sentence a cook understands.

use crate::catalogue::Catalogue;
use crate::caution::{Code, Finding, Severity};
use crate::cure::days::{BUILD, DayPlan, EVEN_ENOUGH, Lying, RECIPE, SALT_BOX, thick_days};
use crate::cure::methods::Waits;
use crate::cure::time::centre_share;
use crate::units::Fraction;
use crate::units::show::{self, share, trim};

/// The sentence, and a word where the middle lags behind on the day out.
pub(super) fn days_why(
    plan: &DayPlan,
    lying: &Lying<'_>,
    catalogue: &Catalogue,
) -> (String, Option<Finding>) {
    let days = days(plan.days);
    if let Some(hours) = plan.hours {
        let why = format!(
            "{} hours in the salt, by its thickness; longer is saltier.",
            trim(hours, 1)
        );
        return (why, None);
    }
    if lying.build.is_ground() {
        let why = format!("{days}: a mix is cured everywhere at once.");
        return (why, None);
    }
    let by = match plan.by.as_str() {
        BUILD => "what the product itself asks for".into(),
        RECIPE => "the days of the recipe".into(),
        SALT_BOX => "the hours of the box".into(),
        key => catalogue.school(key).map_or_else(
            || "a school that is no longer known".into(),
            |s| format!("“{}”", s.name),
        ),
    };
    if lying.pumped {
        let why = format!("Planned by {by}: {days}, since the brine starts from inside.");
        return (why, None);
    }
    let closed = lying.shape.has_closed_face();
    let even = centre_share(
        lying.thickness,
        closed,
        f64::from(plan.days),
        &catalogue.schools.numbers,
    );
    if even >= EVEN_ENOUGH || !lying.build.method.cures() {
        return (
            format!("Planned by {by}: {days}, and the middle has caught up by then."),
            None,
        );
    }
    // As the rule's own caution says it.
    let middle = share(Fraction((even * 100.0).round() / 100.0));
    let waits = lying.build.method.dosing().waits;
    let rest = match waits {
        Waits::Slack => "It goes on evening out afterwards, and may also wait: it gets no saltier.",
        Waits::Deadline => {
            "It goes on evening out afterwards; waiting in the brine would make it saltier."
        }
    };
    let remedy = match waits {
        Waits::Slack => {
            "Leave it in longer, or make it thinner: split it, or open it flat. A measured dose gets no saltier."
        }
        Waits::Deadline => {
            "Let it rest cold after the brine, or make it thinner: split it, open it flat, or pump it."
        }
    };
    // What is to be dried raw on such days is not ready by drying: that is asked now, not on the day out.
    let short = lying.build.raw_dried && plan.days < thick_days(lying.thickness);
    let finding = Finding::new(
        Code::MiddleLags,
        if short {
            Severity::Caution
        } else {
            Severity::Info
        },
        "On the day out the middle has much less than the rest, by the model of how salt walks.",
    )
    .saw(format!("about {middle} of the mean after {days}"))
    .wants(format!("{} or more", share(Fraction(EVEN_ENOUGH))))
    .remedy(remedy);
    let why =
        format!("Planned by {by}: {days}. The middle then has about {middle} of the mean. {rest}");
    (why, Some(finding))
}

fn days(n: u32) -> String {
    show::days(f64::from(n))
}
