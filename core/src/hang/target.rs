//! Hanging: the weight at which a piece is dry enough, with everything that hangs beside the meat.

use super::forecast::{loss_after, most_loss, usual_rate};
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::piece::Piece;
use crate::units::bounds::Measure;
use crate::units::show::trim;
use crate::units::{Fraction, Grams, Millimetres};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// A hanging piece, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HangTargetAsk {
    /// What the scale showed when it was hung, cloth and net and all (g).
    pub gross_start_g: f64,
    /// Cloth, net, clips, string, hook, tag, casing (g).
    pub tare_g: f64,
    /// The share of the meat's weight it is to lose.
    pub loss_fraction: f64,
    /// What the scale shows now (g).
    #[serde(default)]
    pub gross_now_g: Option<f64>,
}

/// The weight to wait for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HangTargetAnswer {
    /// The meat alone when it was hung (g).
    pub net_start_g: f64,
    /// The number to wait for on the scale (g).
    pub target_gross_g: f64,
    /// The meat alone at that point (g).
    pub target_net_g: f64,
    /// The share lost so far.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loss_fraction_now: Option<f64>,
    /// Still to go on the scale; below zero when past (g).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub to_go_g: Option<f64>,
    /// Whether the target is met.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reached: Option<bool>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// The target weight of a hanging piece: the loss is taken from the meat, never from the cloth.
///
/// # Example
/// ```
/// use manifest_core::hang::{HangTargetAsk, hang_target};
///
/// let ask: HangTargetAsk = serde_json::from_value(serde_json::json!({"gross_start_g": 1050, "tare_g": 50, "loss_fraction": 0.35, "gross_now_g": 800}))?;
/// let got = hang_target(&ask).unwrap();
/// // Cloth and net stay: 650 g of meat and 50 g of them.
/// assert!((got.target_gross_g - 700.0).abs() < 1e-9);
/// assert!(!got.reached.unwrap());
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// A tare as heavy as the piece, a loss that is no share, a weight below the tare.
///
/// # Source
/// Plain mass balance: `(gross - tare) * (1 - loss) + tare`.
pub fn hang_target(ask: &HangTargetAsk) -> Result<HangTargetAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, ask.gross_start_g, "gross_start_g", "1240");
    checks.zero_or_more(Measure::Mass, ask.tare_g, "tare_g", "32");
    checks.that(
        ask.tare_g < ask.gross_start_g || ask.gross_start_g.is_nan(),
        "tare_g",
        "Cloth, net and clips cannot weigh as much as the whole piece. Weigh them alone and give that.",
    );
    checks.that(
        ask.loss_fraction > 0.0 && ask.loss_fraction < 1.0,
        "loss_fraction",
        "Give the share to lose between 0 and 1, such as 0.35 for 35 %.",
    );
    if let Some(now) = ask.gross_now_g {
        checks.that(
            now.is_finite() && now > ask.tare_g,
            "gross_now_g",
            "Give what the scale shows now, more than cloth and net alone.",
        );
        if now > ask.tare_g {
            checks.within(Measure::Mass, now, "gross_now_g", "1100");
        }
    }
    checks.done()?;

    let net_start_g = ask.gross_start_g - ask.tare_g;
    let target_net_g = net_start_g * (1.0 - ask.loss_fraction);
    let target_gross_g = target_net_g + ask.tare_g;
    let mut findings = Vec::new();
    if let Some(now) = ask.gross_now_g
        && now > ask.gross_start_g
    {
        findings.push(
            Finding::new(
                Code::Gained,
                Severity::Caution,
                "Heavier than when it was hung.",
            )
            .saw(format!("{} g", trim(now, 1)))
            .wants(format!("at most {} g", trim(ask.gross_start_g, 1)))
            .remedy("Look for a hand or a neighbour on the scale, and weigh it again."),
        );
    }
    Ok(HangTargetAnswer {
        net_start_g,
        target_gross_g,
        target_net_g,
        loss_fraction_now: ask
            .gross_now_g
            .map(|now| 1.0 - (now - ask.tare_g) / net_start_g),
        to_go_g: ask.gross_now_g.map(|now| now - target_gross_g),
        reached: ask.gross_now_g.map(|now| now <= target_gross_g + 1e-9),
        findings,
    })
}

/// Days a whole muscle of this thickness usually hangs until it has lost a share of its weight.
///
/// Before its first weighing nothing better is known; at 75 % humidity.
///
/// # Source
/// Loss as in [`super::forecast`], with its usual rate.
#[must_use]
pub fn usual_days(thickness: Millimetres, loss: Fraction, lean: Fraction) -> Option<u32> {
    let most = most_loss(lean);
    let k = usual_rate(thickness);
    let days = -(1.0 - loss.0 / most).ln() / k;
    (days.is_finite() && days > 0.0).then(|| days.ceil() as u32)
}

/// On a made-up hook, what is wet around a piece has lost most of its water after so long (days).
const AROUND_DRIES_DAYS: f64 = 2.0;

/// The hook that a household for practice hangs its pieces on: what it shows after so long, by how meat of that thickness
/// dries; a little faster or slower by its number, and never more than the scale showed last.
#[must_use]
pub fn made_up_hook(piece: &Piece, now: Timestamp) -> Option<Grams> {
    let hung = piece.hanging.as_ref().filter(|h| h.until.is_none())?;
    let usual = Millimetres(60.0);
    let days = now.duration_since(hung.since).as_secs_f64() / 86_400.0;
    // Two pieces of one size do not dry alike.
    let own = 1.0 + 0.04 * ((piece.id.0 % 7) as f64 - 3.0) / 3.0;
    let rate = usual_rate(piece.thickness_now().unwrap_or(usual)) * own;
    let lost = loss_after(days, rate, most_loss(Fraction(0.9)));
    // Casing, cloth and net are dry within days.
    let dry = hung.tare_at_end().grams();
    let tare = dry + (hung.tare.grams() - dry) * (-days / AROUND_DRIES_DAYS).exp();
    let net = hung.net_start().grams() * (1.0 - lost.0);
    let last = (piece.mass + hung.tare).grams();
    Some(Grams((net + tare).min(last).round()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;

    #[test]
    fn worked_cases_hold() {
        testing::hold("hang-target", |request| {
            let ask: HangTargetAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(hang_target(&ask).unwrap()).unwrap()
        });
    }

    fn ask(gross: f64, tare: f64, loss: f64, now: Option<f64>) -> HangTargetAsk {
        HangTargetAsk {
            gross_start_g: gross,
            tare_g: tare,
            loss_fraction: loss,
            gross_now_g: now,
        }
    }

    #[test]
    fn a_cased_muscle_by_hand() {
        // (1240 - 32) * 0.64 + 32 = 805.12; dividing by 1.36 would stop far too early
        let got = hang_target(&ask(1_240.0, 32.0, 0.36, Some(805.0))).unwrap();
        assert!((got.target_gross_g - 805.12).abs() < 1e-9);
        assert_eq!(got.reached, Some(true));
    }

    #[test]
    fn what_cannot_hang_is_refused_in_words() {
        #[rustfmt::skip]
        let cases = [
            (ask(100.0, 100.0, 0.3, None), "tare_g: Cloth, net and clips cannot weigh as much as the whole piece. Weigh them alone and give that."),
            (ask(100.0, 5.0, 35.0, None), "loss_fraction: Give the share to lose between 0 and 1, such as 0.35 for 35 %."),
            (ask(100.0, 5.0, 0.35, Some(4.0)), "gross_now_g: Give what the scale shows now, more than cloth and net alone."),
            (ask(0.0, 0.0, 0.35, None), "gross_start_g: Give a number above zero, such as 1240."),
        ];
        for (ask, want) in cases {
            assert_eq!(hang_target(&ask).unwrap_err()[0].to_string(), want);
        }
        assert_eq!(
            hang_target(&ask(100.0, 5.0, 0.35, Some(120.0)))
                .unwrap()
                .findings[0]
                .code,
            Code::Gained
        );
    }

    proptest! {
        #[test]
        fn at_its_target_a_piece_has_lost_what_was_asked(gross in 50.0..20_000.0, tare in 0.0..0.5, loss in 0.05..0.6) {
            let tare = gross * tare;
            let target = hang_target(&ask(gross, tare, loss, None)).unwrap().target_gross_g;
            let there = hang_target(&ask(gross, tare, loss, Some(target))).unwrap();
            prop_assert!((there.loss_fraction_now.unwrap() - loss).abs() < 1e-9);
            prop_assert_eq!(there.reached, Some(true));
        }
    }

    #[test]
    fn thick_muscles_hang_longer() {
        #[rustfmt::skip]
        let cases = [
            // mm     loss  lean  days, by hand
            (75.0,   0.35, 1.0, Some(54)), // -ln(1 - 0.35/0.55) / 0.019 = 53.2
            (25.0,   0.30, 0.9, Some(12)), // k = 0.071; -ln(1 - 0.30/0.535) / k = 11.6
            (60.0,   0.60, 1.0, None),     // never loses that much
        ];
        for (mm, loss, lean, want) in cases {
            assert_eq!(
                super::usual_days(Millimetres(mm), Fraction(loss), Fraction(lean)),
                want,
                "{mm} mm"
            );
        }
    }
}
