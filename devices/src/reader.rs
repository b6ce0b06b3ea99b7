//! What a listener makes of the lines: readings taken once, and how many were garbled, doubled or lost.

use crate::protocol::{Line, Said, read};
use jiff::Timestamp;

/// What came over a line so far.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Heard {
    /// Readings taken.
    pub readings: u64,
    /// Lines that meant nothing.
    pub garbled: u64,
    /// Readings that came again.
    pub doubled: u64,
    /// How often it began its numbers anew, or leapt.
    pub renumbered: u64,
    /// Readings that were said and never understood, by their numbers.
    pub lost: u64,
    /// Readings that were said in degrees Fahrenheit.
    pub in_fahrenheit: u64,
    /// What was left of the weakest battery, by the newest reading that said so (%).
    pub battery: Option<u8>,
}

/// Takes lines in, one after the other.
#[derive(Clone, Debug, Default)]
pub struct Reader {
    heard: Heard,
    last: Option<u64>,
    last_at: Option<Timestamp>,
}

/// A number so much higher is a leap: nobody lost as many readings.
const LEAP: u64 = 100_000;

impl Reader {
    /// What came so far.
    #[must_use]
    pub const fn heard(&self) -> Heard {
        self.heard
    }

    /// Takes a line in; gives its reading if it holds one that is new.
    pub fn take(&mut self, line: &str) -> Option<Said> {
        match read(line) {
            Err(_) => {
                self.heard.garbled += 1;
                None
            }
            Ok(Line::Greeting | Line::SignOfLife) => None,
            Ok(Line::Reading(said)) => {
                let is_newer = self.last_at.is_none_or(|last| said.at > last);
                match self.last {
                    Some(last) if said.number > last && said.number - last <= LEAP => {
                        self.heard.lost += said.number - last - 1;
                    }
                    // By its time it is news, whatever its number says: it began anew, or leapt.
                    Some(_) if is_newer => self.heard.renumbered += 1,
                    Some(_) => {
                        self.heard.doubled += 1;
                        return None;
                    }
                    None => {}
                }
                self.last = Some(said.number);
                self.last_at = self.last_at.max(Some(said.at));
                self.heard.readings += 1;
                self.heard.in_fahrenheit += u64::from(said.in_fahrenheit);
                self.heard.battery = said.battery.or(self.heard.battery);
                Some(said)
            }
            Ok(Line::Unplugged(number)) => {
                let last = self.last.unwrap_or(number);
                // One that leaps or begins anew says so with its next reading.
                if number > last && number - last <= LEAP {
                    self.last = Some(number);
                } else {
                    self.last = Some(last);
                }
                None
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fridge;

    #[test]
    fn one_that_begins_its_numbers_anew_or_leaps_is_heard_again_and_that_is_counted() {
        use crate::protocol::line_of;
        use manifest_core::units::Celsius;
        let line = |number: u64, minute: i64| {
            let at = Timestamp::from_second(1_800_000_000 + 60 * minute).unwrap();
            line_of(&Said::of_place(number, at, Celsius(14.0), None))
        };
        #[rustfmt::skip]
        let cases: [(&[(u64, i64)], u64, u64, u64, u64); 5] = [
            // lines, taken, doubled, renumbered, lost
            (&[(7, 0), (8, 1), (8, 1), (10, 3)],                  3, 1, 0, 1),
            (&[(900, 0), (901, 1), (1, 2), (2, 3), (3, 4)],       5, 0, 1, 0),
            (&[(5, 0), (u64::MAX, 1), (6, 2), (7, 3)],            4, 0, 2, 0),
            // said again from the beginning after it hung up: the same, by number and by time
            (&[(5, 0), (6, 1), (7, 2), (5, 0), (6, 1), (8, 3)],   4, 2, 0, 0),
            (&[(5, 0), (1, 0)],                                   1, 1, 0, 0),
        ];
        for (lines, taken, doubled, renumbered, lost) in cases {
            let mut reader = Reader::default();
            for (number, minute) in lines {
                reader.take(&line(*number, *minute));
            }
            let heard = reader.heard();
            let got = (heard.readings, heard.doubled, heard.renumbered, heard.lost);
            assert_eq!(got, (taken, doubled, renumbered, lost), "{lines:?}");
        }
    }

    #[test]
    fn a_stuttering_garbling_thermometer_is_read_once_each() {
        let mut reader = Reader::default();
        let mut taken = Vec::new();
        let (from, to) = (3_000_000, 3_000_200);
        for line in (from..to).flat_map(fridge::lines) {
            taken.extend(reader.take(&line).map(|s| s.number));
        }
        reader.take("\u{0}\u{1}");
        let heard = reader.heard();
        assert!(taken.is_sorted_by(|a, b| a < b));
        assert_eq!(heard.readings, taken.len() as u64);
        assert!(heard.doubled > 3 && heard.garbled > 3, "{heard:?}");
        // what was garbled or not said is missing, and known to be
        assert_eq!(heard.readings + heard.lost, (to - from) as u64);
    }
}
