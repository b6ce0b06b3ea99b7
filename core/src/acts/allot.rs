//! Packs of several pieces that were packed together: which of them is of which piece.

use crate::ledger::post::is_gain;
use crate::units::Milligrams;

/// What a pack holds of one piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Share {
    /// The pack, by its place in the list.
    pub pack: usize,
    /// How much of it.
    pub mass: Milligrams,
}

/// The packs of each piece. A pack is of one piece wherever one still holds it, the heaviest first, from the piece that it leaves
/// least of; one that no piece holds alone is made of several. Nothing is lost: the shares of a pack are the pack.
pub(crate) fn allot(packs: &[Milligrams], pieces: &[Milligrams]) -> Vec<Vec<Share>> {
    let mut shares = vec![Vec::new(); pieces.len()];
    let mut taken = vec![Milligrams::ZERO; pieces.len()];
    let mut order: Vec<usize> = (0..packs.len()).collect();
    order.sort_by_key(|i| std::cmp::Reverse(packs[*i]));
    for pack in order {
        let mut rest = packs[pack];
        let mut give = |piece: usize, mass: Milligrams, taken: &mut Vec<Milligrams>| {
            taken[piece] += mass;
            shares[piece].push(Share { pack, mass });
        };
        while rest > Milligrams::ZERO {
            let left = |p: &usize| pieces[*p] - taken[*p];
            let holds = |p: &usize| !is_gain(taken[*p] + rest, pieces[*p]);
            let fits = (0..pieces.len()).filter(holds).min_by_key(left);
            let most = (0..pieces.len()).max_by_key(left);
            match (fits, most) {
                (Some(piece), _) => {
                    give(piece, rest, &mut taken);
                    break;
                }
                (None, Some(piece)) if left(&piece) > Milligrams::ZERO => {
                    let part = left(&piece);
                    give(piece, part, &mut taken);
                    rest -= part;
                }
                (None, Some(piece)) => {
                    // More than all of them weigh: it is refused as such.
                    give(piece, rest, &mut taken);
                    break;
                }
                (None, None) => break,
            }
        }
    }
    for of in &mut shares {
        of.sort_by_key(|s| s.pack);
    }
    shares
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn grams(list: &[f64]) -> Vec<Milligrams> {
        list.iter().map(|g| Milligrams::from_grams(*g)).collect()
    }

    fn told(packs: &[f64], pieces: &[f64]) -> Vec<Vec<(usize, f64)>> {
        let shares = allot(&grams(packs), &grams(pieces));
        let one = |s: &Share| (s.pack, s.mass.grams());
        shares
            .iter()
            .map(|of| of.iter().map(one).collect())
            .collect()
    }

    #[test]
    fn a_pack_is_of_one_piece_where_one_holds_it_and_of_two_where_none_does() {
        let cases: &[(&[f64], &[f64], &[&[(usize, f64)]])] = &[
            (
                &[180.0, 240.0],
                &[250.0, 190.0],
                &[&[(1, 240.0)], &[(0, 180.0)]],
            ),
            (&[400.0], &[200.0, 210.0], &[&[(0, 190.0)], &[(0, 210.0)]]),
            (
                &[150.0, 150.0, 150.0],
                &[310.0, 160.0],
                &[&[(1, 150.0), (2, 150.0)], &[(0, 150.0)]],
            ),
        ];
        for (packs, pieces, expected) in cases {
            assert_eq!(
                told(packs, pieces),
                expected.to_vec(),
                "{packs:?} of {pieces:?}"
            );
        }
    }

    proptest! {
        #[test]
        fn the_shares_of_a_pack_are_the_pack_and_no_piece_gives_more_than_it_has(
            packs in prop::collection::vec(20_000_i64..900_000, 1..12),
            pieces in prop::collection::vec(50_000_i64..900_000, 1..9),
        ) {
            let packs: Vec<_> = packs.into_iter().map(Milligrams).collect();
            let pieces: Vec<_> = pieces.into_iter().map(Milligrams).collect();
            let shares = allot(&packs, &pieces);
            for (i, pack) in packs.iter().enumerate() {
                let sum: Milligrams = shares.iter().flatten().filter(|s| s.pack == i).map(|s| s.mass).sum();
                prop_assert_eq!(sum, *pack);
            }
            let all: Milligrams = packs.iter().copied().sum();
            if all <= pieces.iter().copied().sum() {
                for (of, piece) in shares.iter().zip(&pieces) {
                    let sum: Milligrams = of.iter().map(|s| s.mass).sum();
                    prop_assert!(!is_gain(sum, *piece));
                }
            }
        }
    }
}
