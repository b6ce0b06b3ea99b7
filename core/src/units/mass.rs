//! Whole milligrams: what the ledger counts in, so that sums are exact.

use serde::{Deserialize, Serialize};
use std::iter::Sum;
use std::ops::{Add, AddAssign, Neg, Sub, SubAssign};

/// A signed mass in whole milligrams. The ledger adds and subtracts these and never rounds.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
#[serde(transparent)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = i64))]
pub struct Milligrams(pub i64);

impl Milligrams {
    /// No mass.
    pub const ZERO: Self = Self(0);

    /// The nearest whole milligram to `grams`.
    #[must_use]
    pub fn from_grams(grams: f64) -> Self {
        Self((grams * 1_000.0).round() as i64)
    }

    /// The same mass in grams.
    #[must_use]
    pub fn grams(self) -> f64 {
        self.0 as f64 / 1_000.0
    }

    /// True above zero.
    #[must_use]
    pub fn is_some(self) -> bool {
        self.0 > 0
    }

    /// Shares `self` out in proportion to `weights`, exactly: the parts sum to the whole.
    ///
    /// Whole milligrams left over go to the largest remainders, first come first served.
    /// All-zero weights give everything to the first part.
    #[must_use]
    pub fn share_out(self, weights: &[Milligrams]) -> Vec<Milligrams> {
        let total: i128 = weights.iter().map(|w| i128::from(w.0)).sum();
        let mut parts = vec![Self::ZERO; weights.len()];
        if total <= 0 {
            if let Some(first) = parts.first_mut() {
                *first = self;
            }
            return parts;
        }
        let mut remainders = Vec::with_capacity(weights.len());
        let mut given = 0_i64;
        for (i, weight) in weights.iter().enumerate() {
            let exact = i128::from(self.0) * i128::from(weight.0);
            let part = exact.div_euclid(total);
            parts[i] = Self(part as i64);
            given += part as i64;
            remainders.push((exact.rem_euclid(total), i));
        }
        remainders.sort_by_key(|&(remainder, i)| (std::cmp::Reverse(remainder), i));
        for &(_, i) in remainders.iter().take((self.0 - given) as usize) {
            parts[i].0 += 1;
        }
        parts
    }
}

impl Add for Milligrams {
    type Output = Self;
    fn add(self, other: Self) -> Self {
        Self(self.0 + other.0)
    }
}

impl Sub for Milligrams {
    type Output = Self;
    fn sub(self, other: Self) -> Self {
        Self(self.0 - other.0)
    }
}

impl Neg for Milligrams {
    type Output = Self;
    fn neg(self) -> Self {
        Self(-self.0)
    }
}

impl AddAssign for Milligrams {
    fn add_assign(&mut self, other: Self) {
        self.0 += other.0;
    }
}

impl SubAssign for Milligrams {
    fn sub_assign(&mut self, other: Self) {
        self.0 -= other.0;
    }
}

impl Sum for Milligrams {
    fn sum<I: Iterator<Item = Self>>(masses: I) -> Self {
        masses.fold(Self::ZERO, Add::add)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn sharing_out_loses_nothing(
            total in 0_i64..50_000_000,
            weights in prop::collection::vec(0_i64..20_000_000, 1..12),
        ) {
            let weights: Vec<_> = weights.into_iter().map(Milligrams).collect();
            let parts = Milligrams(total).share_out(&weights);
            prop_assert_eq!(parts.iter().copied().sum::<Milligrams>(), Milligrams(total));
        }
    }

    #[test]
    fn shares_follow_the_weights() {
        let parts = Milligrams(10).share_out(&[Milligrams(1), Milligrams(1), Milligrams(1)]);
        assert_eq!(parts, [Milligrams(4), Milligrams(3), Milligrams(3)]);
    }
}
