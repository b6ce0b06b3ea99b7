//! What lies in a vessel, worked out from who went in, who came out, and what was poured after.
//!
//! A brine is taken to be alike everywhere in it, as it is once it has evened out: a piece that leaves takes its own
//! share of what is dissolved, and one that comes in later takes up of what is left.

use crate::catalogue::cures::Role;
use crate::dose::DoseLine;
use crate::ids::PieceId;
use crate::units::{Milligrams, Typed};
use jiff::Timestamp;

/// A piece that lies, or lay, in a vessel.
#[derive(Clone, Debug)]
pub struct Member<'a> {
    /// The piece.
    pub id: PieceId,
    /// Its meat (g).
    pub meat_g: f64,
    /// What was weighed into the vessel with it.
    pub lines: &'a [DoseLine],
    /// What was poured in afterwards, as its share of that.
    pub poured: Vec<(Timestamp, &'a DoseLine)>,
    /// When it went in.
    pub joined: Timestamp,
    /// When it came out.
    pub left: Option<Timestamp>,
}

/// What a piece shares, at the end of its stay or as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct Shared {
    /// All the meat that shares it (g).
    pub meat_g: f64,
    /// What is shared.
    pub lines: Vec<DoseLine>,
}

enum Event<'a> {
    Joins(&'a Member<'a>),
    Poured(&'a DoseLine),
    Leaves(&'a Member<'a>),
}

/// What `of` shares with the others of its vessel.
///
/// * `in_brine` – dissolved around the meat, so that what a piece leaves behind stays for the others
#[must_use]
pub fn shared(members: &[Member<'_>], of: PieceId, in_brine: bool) -> Shared {
    let until = members.iter().find(|m| m.id == of).and_then(|m| m.left);
    let mut events: Vec<(Timestamp, u8, Event<'_>)> = Vec::new();
    for member in members {
        events.push((member.joined, 0, Event::Joins(member)));
        for (at, line) in &member.poured {
            events.push((*at, 1, Event::Poured(line)));
        }
        if let Some(left) = member.left {
            events.push((left, 2, Event::Leaves(member)));
        }
    }
    events.sort_by_key(|(at, order, _)| (*at, *order));
    let mut lies = Shared {
        meat_g: 0.0,
        lines: Vec::new(),
    };
    for (at, order, event) in events {
        // Who leaves with it, or after it, is still there for what it has.
        if until.is_some_and(|until| at > until || (at == until && order == 2)) {
            break;
        }
        match event {
            Event::Joins(member) => {
                lies.meat_g += member.meat_g;
                for line in member.lines {
                    lies.add(line);
                }
            }
            Event::Poured(line) => lies.add(line),
            Event::Leaves(member) => lies.leave(member.meat_g, in_brine),
        }
    }
    lies
}

impl Shared {
    fn add(&mut self, line: &DoseLine) {
        let same = |l: &&mut DoseLine| {
            l.role == line.role
                && l.name == line.name
                && l.salt == line.salt
                && l.made_of == line.made_of
        };
        match self.lines.iter_mut().find(same) {
            Some(there) => {
                there.mass = Typed::unsaid(there.mass.value + line.mass.value);
            }
            None => self.lines.push(line.clone()),
        }
    }

    fn leave(&mut self, meat_g: f64, in_brine: bool) {
        let brine: f64 = self.lines.iter().map(|l| l.mass.value.grams()).sum();
        let before = self.meat_g + if in_brine { brine } else { 0.0 };
        let part = 1.0 - meat_g / before.max(f64::MIN_POSITIVE);
        self.meat_g -= meat_g;
        for line in &mut self.lines {
            let is_water = in_brine && line.role == Role::Water;
            if !is_water {
                let left = Milligrams::from_grams(line.mass.value.grams() * part);
                line.mass = Typed::unsaid(left);
            }
        }
        if in_brine {
            // As much brine stays as there was; the meat took salt and gave water.
            let left: f64 = self.lines.iter().map(|l| l.mass.value.grams()).sum();
            let gave = Milligrams::from_grams(brine - left);
            if let Some(water) = self.lines.iter_mut().find(|l| l.role == Role::Water) {
                water.mass = Typed::unsaid(water.mass.value + gave);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;
    use crate::catalogue::cures::CureChoice;
    use crate::dose::bands;
    use proptest::prelude::*;

    fn line(role: Role, grams: f64) -> DoseLine {
        DoseLine {
            role,
            name: format!("{role:?}"),
            mass: Typed::unsaid(Milligrams::from_grams(grams)),
            salt: None,
            made_of: None,
        }
    }

    fn at(day: i64) -> Timestamp {
        Timestamp::from_second(day * 86_400).unwrap()
    }

    fn member<'a>(
        id: i64,
        meat_g: f64,
        lines: &'a [DoseLine],
        (joined, left): (i64, Option<i64>),
    ) -> Member<'a> {
        Member {
            id: PieceId(id),
            meat_g,
            lines,
            poured: Vec::new(),
            joined: at(joined),
            left: left.map(at),
        }
    }

    fn ppm(lies: &Shared) -> f64 {
        let catalogue = Catalogue::shipped();
        let cure = CureChoice::from(catalogue.cure("cure1").unwrap());
        bands(&lies.lines, &cure, lies.meat_g, true, (1.0, 1.0))
            .nitrite
            .nominal
    }

    #[test]
    fn who_comes_later_shares_what_is_there_and_who_left_before_does_not_change() {
        let brine = [
            line(Role::Water, 1_900.0),
            line(Role::CuringSalt, 10.0),
            line(Role::Salt, 90.0),
        ];
        // 10 g × 6.25 % over 2 kg of meat and 2 kg of brine
        let alone = [member(1, 2_000.0, &brine, (0, None))];
        assert!((ppm(&shared(&alone, PieceId(1), true)) - 156.25).abs() < 1e-6);
        // 1 kg comes in on day 2: the same over 5 kg, for both
        let two = [
            member(1, 2_000.0, &brine, (0, None)),
            member(2, 1_000.0, &[], (2, None)),
        ];
        for id in [1, 2] {
            assert!((ppm(&shared(&two, PieceId(id), true)) - 125.0).abs() < 1e-6);
        }
        // the first left on day 1: it had 156.25, and takes half of what is dissolved along
        let gone = [
            member(1, 2_000.0, &brine, (0, Some(1))),
            member(2, 1_000.0, &[], (2, None)),
        ];
        assert!((ppm(&shared(&gone, PieceId(1), true)) - 156.25).abs() < 1e-6);
        // 5 g are left in 2 kg of brine; over 3 kg
        let second = ppm(&shared(&gone, PieceId(2), true));
        assert!((second - 5.0 * 62_500.0 / 3_000.0).abs() < 1e-3, "{second}");
    }

    #[test]
    fn what_is_poured_in_later_thins_it() {
        let brine = [
            line(Role::Water, 1_900.0),
            line(Role::CuringSalt, 10.0),
            line(Role::Salt, 90.0),
        ];
        let more = line(Role::Water, 1_000.0);
        let mut one = member(1, 2_000.0, &brine, (0, None));
        one.poured.push((at(1), &more));
        assert!((ppm(&shared(&[one], PieceId(1), true)) - 125.0).abs() < 1e-6);
    }

    proptest! {
        #[test]
        fn nothing_is_lost_between_those_that_share(
            meats in proptest::collection::vec(100.0..5_000.0_f64, 1..6),
            cure in 0.5..80.0_f64, water in 100.0..20_000.0_f64, gone in 0_usize..6,
        ) {
            let brine = [line(Role::Water, water), line(Role::CuringSalt, cure)];
            let none: [DoseLine; 0] = [];
            let members: Vec<_> = meats.iter().enumerate().map(|(i, m)| {
                let left = (i == gone && i > 0).then_some(5);
                member(i as i64, *m, if i == 0 { &brine } else { &none }, (0, left))
            }).collect();
            let lies = shared(&members, PieceId(0), true);
            let total: f64 = lies.meat_g + lies.lines.iter().map(|l| l.mass.value.grams()).sum::<f64>();
            let in_all = ppm(&lies) / 1e6 * total;
            let took = members.get(gone).filter(|m| m.left.is_some())
                .map_or(0.0, |m| ppm(&shared(&members, m.id, true)) / 1e6 * m.meat_g);
            let want = cure * 0.0625;
            // Masses are whole milligrams; half of one of the cure is this much nitrite.
            prop_assert!((in_all + took - want).abs() < 1e-4 + 1e-4 * want, "{in_all} and {took}, not {want}");
        }
    }
}
