//! The demo household: an elk quarter-share, a half hog, a goat and a brace of turkeys, with
//! pieces at every stage, one over its limit, one overdue, one mistyped and corrected.
//!
//! Everything goes through the same drafting as a person's own entries; the invented people of
//! this table simply typed it earlier.

mod lists;

use crate::acts::{ActAsk, DraftContext};
use crate::api::entries::gate;
use crate::error::ApiError;
use anyhow::{Context, Result, bail};
use jiff::{Timestamp, ToSpan};
use manifest_core::household::{Household, Scales};
use manifest_core::ledger::book::Change;
use manifest_core::ledger::{EntryId, PieceId};
use manifest_core::units::Celsius;
use manifest_store::readings::{NewReading, Source};
use manifest_store::{Request, Store, Written};
use serde_json::{Value, json};
use std::path::Path;

/// The moment at which the demo's clock stands unless another is given.
///
/// # Panics
/// Never: the text is a valid moment.
#[must_use]
pub fn present() -> Timestamp {
    "2026-11-21T09:30:00Z".parse().expect("a valid moment")
}

/// Lays the demo household into an empty folder, all of it or nothing: it is filled beside, and takes its place when it is whole.
/// A folder that holds a ledger already is left alone.
///
/// # Errors
/// As [`fill`], or when the folder cannot be written.
pub fn fill_folder(folder: &Path, now: Timestamp) -> Result<()> {
    let ledger = folder.join(manifest_store::FILE);
    // What is gone from a folder that was in use is the store's to say.
    if ledger.exists() || manifest_store::was_in_use(folder) {
        return Ok(());
    }
    std::fs::create_dir_all(folder)?;
    let beside = folder.join("demo.part");
    if beside.exists() {
        std::fs::remove_dir_all(&beside)?;
    }
    let store = Store::open(&beside, now)?;
    fill(&store, now).context("filling the demo household")?;
    store.become_demo()?;
    drop(store);
    std::fs::rename(beside.join(manifest_store::FILE), &ledger)?;
    std::fs::remove_dir_all(&beside)?;
    Ok(())
}

/// Fills an empty ledger with the demo household as it stands at `now`; leaves any other alone.
///
/// # Errors
/// When the ledger refuses an entry, which would be a mistake in this file, or cannot be written.
pub fn fill(store: &Store, now: Timestamp) -> Result<()> {
    if store.read(|book, _| book.lots().next().is_some()) {
        return Ok(());
    }
    let home = Household {
        name: "Quillpatch table".into(),
        scales: Scales {
            fine_division_g: 0.1,
            meat_division_g: 5.0,
        },
        equipment: Some(lists::equipment()),
        ..Household::default()
    };
    store.settle(home, None, now)?;
    let table = Table { store, now };
    table.elk()?;
    table.turkeys()?;
    table.hog()?;
    table.goat()?;
    table.porch()?;
    table.lists()
}

struct Table<'a> {
    store: &'a Store,
    now: Timestamp,
}

impl Table<'_> {
    /// So many days before the present, at an hour of the day.
    fn ago(&self, days: i64, hour: i64, minute: i64) -> Result<Timestamp> {
        let midnight = self.now.to_zoned(jiff::tz::TimeZone::UTC).start_of_day()?;
        let at = midnight
            .checked_sub(days.days())?
            .checked_add(hour.hours().minutes(minute))?;
        Ok(at.timestamp().min(self.now))
    }

    fn write(
        &self,
        at: Timestamp,
        make: impl FnOnce(&mut DraftContext<'_>) -> Result<Vec<Change>, ApiError>,
    ) -> Result<Written> {
        let request = Request {
            key: None,
            fingerprint: "demo",
            now: at,
        };
        Ok(self.store.write(request, |book, home| {
            make(&mut DraftContext::new(book, home, at))
        })?)
    }

    /// Something was done so many days ago.
    fn did(&self, when: (i64, i64, i64), act: Value) -> Result<EntryId> {
        let at = self.ago(when.0, when.1, when.2)?;
        let ask: ActAsk = serde_json::from_value(act.clone()).with_context(|| act.to_string())?;
        let written = self
            .write(at, |desk| {
                let mut changes: Vec<_> = ask
                    .draft(desk, None)?
                    .into_iter()
                    .map(|(lot, act)| Change::Add {
                        lot,
                        at,
                        act: Box::new(act),
                        kept: Vec::new(),
                    })
                    .collect();
                gate(&mut changes, true, (desk.book(), desk.home()), at)?;
                Ok(changes)
            })
            .with_context(|| act.to_string())?;
        Ok(written.entries[0])
    }

    /// What was typed wrong is put right.
    fn corrected(&self, when: (i64, i64, i64), entry: EntryId, act: Value) -> Result<()> {
        let at = self.ago(when.0, when.1, when.2)?;
        let ask: ActAsk = serde_json::from_value(act)?;
        let old = self
            .store
            .read(|book, _| book.entry(entry).map(|(_, e)| (e.lot, e.act.clone())))
            .context("the entry to correct")?;
        self.write(at, |desk| {
            let mut acts = ask.draft(desk, Some((old.0, &old.1)))?;
            let (_, act) = acts.remove(0);
            Ok(vec![Change::Replace {
                entry,
                at: None,
                act: Box::new(act),
                kept: Vec::new(),
            }])
        })?;
        Ok(())
    }

    fn piece(&self, tag: &str) -> Result<PieceId> {
        let found = self
            .store
            .read(|book, _| book.pieces().find(|(_, p)| p.tag == tag).map(|(_, p)| p.id));
        found.with_context(|| format!("no piece {tag}"))
    }

    fn lot(&self, tag: &str) -> Result<i64> {
        let found = self.store.read(|book, _| {
            book.lots()
                .find(|l| l.state.lot.as_ref().is_some_and(|l| l.received.tag == tag))
                .map(|l| l.state.id.0)
        });
        found.with_context(|| format!("no lot {tag}"))
    }

    /// Pieces weighed out one after another: cut, weight, thickness, and what else is known.
    fn weighed_out(
        &self,
        days: i64,
        lot: &str,
        pieces: &[(&str, &str, Option<&str>, Value)],
    ) -> Result<()> {
        for (i, (cut, reading, thickness, more)) in pieces.iter().enumerate() {
            let mut act = json!({
                "act": "piece_weighed", "lot": self.lot(lot)?, "cut": cut,
                "reading": reading, "thickness": thickness,
            });
            if let (Some(act), Some(more)) = (act.as_object_mut(), more.as_object()) {
                act.extend(more.clone());
            }
            self.did((days, 9, 2 * i as i64), act)?;
        }
        Ok(())
    }

    fn kept(&self, days: i64, lot: &str, kind: &str, reading: &str) -> Result<()> {
        let act = json!({"act": "byproduct_weighed", "lot": self.lot(lot)?, "kind": kind, "reading": reading});
        self.did((days, 10, 30), act).map(drop)
    }

    fn assigned(&self, days: i64, pairs: &[(&str, &str)]) -> Result<()> {
        for (tag, build) in pairs {
            self.did(
                (days, 10, 40),
                json!({"act": "assigned", "piece": self.piece(tag)?, "build": build}),
            )?;
        }
        Ok(())
    }

    fn dosed(&self, days: i64, tags: &[&str], more: Value) -> Result<()> {
        let pieces = tags
            .iter()
            .map(|t| self.piece(t))
            .collect::<Result<Vec<_>>>()?;
        let mut act = json!({"act": "dosed", "pieces": pieces});
        if let (Some(act), Some(more)) = (act.as_object_mut(), more.as_object()) {
            act.extend(more.clone());
        }
        self.did((days, 11, 0), act).map(drop)
    }

    /// One act about one piece.
    fn about(&self, when: (i64, i64, i64), tag: &str, act: &str, more: Value) -> Result<EntryId> {
        let mut ask = json!({"act": act, "piece": self.piece(tag)?});
        match (ask.as_object_mut(), more.as_object()) {
            (Some(ask), Some(more)) => ask.extend(more.clone()),
            _ => bail!("{act} of {tag} needs an object"),
        }
        self.did(when, ask)
    }

    fn turned(&self, tags: &[&str], days: impl Iterator<Item = i64>) -> Result<()> {
        for day in days {
            for tag in tags {
                self.about((day, 7, 30), tag, "turned", json!({}))?;
            }
        }
        Ok(())
    }

    /// The porch, as it was read three times a day.
    fn porch(&self) -> Result<()> {
        let read = |(days, hour, minute, celsius): (i64, i64, i64, f64)| {
            Ok(NewReading {
                at: self.ago(days, hour, minute)?,
                temperature: Celsius(celsius),
                humidity: None,
            })
        };
        let all: Result<Vec<_>> = lists::READ_ON_THE_PORCH.into_iter().map(read).collect();
        self.store
            .log(lists::PORCH, &all?, Source::Hand, self.now)?;
        Ok(())
    }

    fn elk(&self) -> Result<()> {
        self.did((49, 8, 0), json!({
            "act": "received", "name": "elk quarter-share", "species": "elk", "origin": "harvested",
            "known": "carcass", "reading": "41.2 kg", "sex": "female", "age": "young",
            "portion": "quarter", "hung_days": 5,
        }))?;
        let lot = self.lot("EK1")?;
        for (minute, kind, answer, note) in [
            (5, "wasting_test", "waiting", "head handed in"),
            (6, "shot", "done", "none in this quarter"),
        ] {
            self.did((49, 8, minute), json!({"act": "hold_answered", "lot": lot, "kind": kind, "answer": answer, "note": note}))?;
        }
        self.weighed_out(
            49,
            "EK1",
            &[
                ("backstrap", "2 kg 310 g", Some("62 mm"), json!({})),
                ("leg_muscle", "2.145 kg", Some("70 mm"), json!({})),
                ("leg_muscle", "1.480 kg", Some("58 mm"), json!({})),
                ("leg_muscle", "1.905 kg", Some("55 mm"), json!({})),
                (
                    "shoulder",
                    "6.4 kg",
                    Some("110 mm"),
                    json!({"bone_in": true}),
                ),
                ("shank", "2.6 kg", Some("75 mm"), json!({"bone_in": true})),
                ("leg", "8.2 kg", Some("150 mm"), json!({"bone_in": true})),
            ],
        )?;
        self.kept(49, "EK1", "trim", "5.35 kg")?;
        self.kept(49, "EK1", "bone", "9.1 kg")?;
        self.kept(49, "EK1", "fat", "980 g")?;
        self.did(
            (49, 11, 30),
            json!({"act": "breakdown_closed", "lot": self.lot("EK1")?}),
        )?;
        // The dried muscles' share lay deep frozen first; its answer came in the meantime.
        for (day, inside) in [(49, "-19 C"), (41, "-20 C")] {
            self.did(
                (day, 12, 0),
                json!({"act": "freezer_read", "lot": lot, "inside": inside}),
            )?;
        }
        self.did((40, 9, 0), json!({"act": "hold_answered", "lot": lot, "kind": "wasting_test", "answer": "clear", "note": "letter of the agency"}))?;
        self.assigned(
            40,
            &[
                ("EK1-1", "backstrap"),
                ("EK1-2", "muscle-cased"),
                ("EK1-3", "muscle-cased"),
                ("EK1-4", "breast-peppered"),
                ("EK1-5", "sausage-trim"),
                ("EK1-6", "stock"),
                ("EK1-7", "fresh"),
            ],
        )?;
        for (tag, packs) in [
            (
                "EK1-5",
                json!([{"reading": "3.2 kg"}, {"reading": "3.15 kg"}]),
            ),
            ("EK1-6", json!([{"reading": "2.6 kg"}])),
            (
                "EK1-7",
                json!([{"reading": "2.7 kg"}, {"reading": "2.65 kg"}, {"reading": "2.8 kg"}]),
            ),
        ] {
            self.about(
                (40, 12, 0),
                tag,
                "packed",
                json!({"packs": packs, "finished": true}),
            )?;
        }
        self.dosed(40, &["EK1-2", "EK1-3"], json!({"mixed": true}))?;
        self.dosed(40, &["EK1-1"], json!({}))?;
        self.turned(&["EK1-1"], (29..40).rev())?;
        self.turned(&["EK1-2", "EK1-3"], [33, 26, 19].into_iter())?;
        self.about(
            (27, 9, 0),
            "EK1-1",
            "out_of_cure",
            json!({"reading": "2.245 kg"}),
        )?;
        self.about(
            (26, 17, 0),
            "EK1-1",
            "smoked",
            json!({"reading": "1.88 kg", "inside": "71.5 C"}),
        )?;
        self.about((25, 10, 0), "EK1-1", "packed", json!({
            "packs": [{"reading": "610 g", "slices": 40}, {"reading": "605 g", "slices": 40}, {"reading": "540 g", "slices": 35}],
            "ends": "95 g", "finished": true,
        }))?;
        for (tag, out) in [("EK1-2", "2.06 kg"), ("EK1-3", "1.42 kg")] {
            self.about((19, 9, 0), tag, "out_of_cure", json!({"reading": out}))?;
        }
        self.about(
            (18, 9, 0),
            "EK1-2",
            "hung",
            json!({"reading": "2.095 kg", "tare": "45 g", "place": lists::CHAMBER}),
        )?;
        self.about(
            (18, 9, 5),
            "EK1-3",
            "hung",
            json!({"reading": "1.455 kg", "tare": "40 g", "place": lists::CHAMBER}),
        )?;
        for (day, first, second) in [
            (15, "1.985 kg", "1.34 kg"),
            (12, "1.890 kg", "1.245 kg"),
            (9, "1.805 kg", "1.155 kg"),
        ] {
            self.about(
                (day, 18, 0),
                "EK1-2",
                "weighed_in",
                json!({"reading": first}),
            )?;
            self.about(
                (day, 18, 2),
                "EK1-3",
                "weighed_in",
                json!({"reading": second}),
            )?;
        }
        self.about(
            (9, 18, 5),
            "EK1-2",
            "noted",
            json!({"text": "White, chalky, dry mould on the casing: good, left alone."}),
        )?;
        self.about(
            (1, 18, 0),
            "EK1-3",
            "weighed_in",
            json!({"reading": "955 g"}),
        )?;
        // Thawed later than the rest of the quarter.
        self.dosed(5, &["EK1-4"], json!({"place": lists::PORCH}))?;
        self.turned(&["EK1-4"], (1..5).rev())
    }

    fn turkeys(&self) -> Result<()> {
        self.did((14, 8, 0), json!({
            "act": "received", "name": "brace of turkeys", "species": "turkey", "origin": "raised",
            "known": "carcass", "reading": "13.1 kg",
        }))?;
        self.weighed_out(
            14,
            "TK1",
            &[
                ("breast", "1.08 kg", Some("48 mm"), json!({})),
                ("breast", "1.045 kg", Some("47 mm"), json!({})),
                ("breast", "985 g", Some("45 mm"), json!({})),
                ("breast", "960 g", Some("44 mm"), json!({})),
                (
                    "legs",
                    "3.2 kg",
                    Some("60 mm"),
                    json!({"bone_in": true, "skin_on": true}),
                ),
                ("frame", "2.9 kg", Some("110 mm"), json!({"bone_in": true})),
                (
                    "wings",
                    "1.25 kg",
                    Some("35 mm"),
                    json!({"bone_in": true, "skin_on": true}),
                ),
            ],
        )?;
        self.kept(14, "TK1", "fat", "540 g")?;
        self.kept(14, "TK1", "trim", "930 g")?;
        self.did(
            (14, 11, 0),
            json!({"act": "breakdown_closed", "lot": self.lot("TK1")?}),
        )?;
        self.assigned(
            14,
            &[
                ("TK1-1", "breast-peppered"),
                ("TK1-2", "breast-peppered"),
                ("TK1-3", "breast-peppered"),
                ("TK1-4", "breast-peppered"),
                ("TK1-5", "fresh"),
                ("TK1-6", "stock"),
                ("TK1-7", "stock"),
            ],
        )?;
        for (tag, reading) in [
            ("TK1-5", "3.2 kg"),
            ("TK1-6", "2.9 kg"),
            ("TK1-7", "1.25 kg"),
        ] {
            self.about(
                (14, 12, 0),
                tag,
                "packed",
                json!({"packs": [{"reading": reading}], "finished": true}),
            )?;
        }
        let breasts = ["TK1-1", "TK1-2", "TK1-3", "TK1-4"];
        self.dosed(14, &breasts, json!({"mixed": true}))?;
        self.turned(&breasts, (5..14).rev())?;
        for (tag, out, smoked) in [
            ("TK1-1", "1.05 kg", "845 g"),
            ("TK1-2", "1.015 kg", "820 g"),
            ("TK1-3", "955 g", "765 g"),
            ("TK1-4", "930 g", "735 g"),
        ] {
            self.about((4, 9, 0), tag, "out_of_cure", json!({"reading": out}))?;
            self.about(
                (3, 16, 0),
                tag,
                "smoked",
                json!({"reading": smoked, "inside": "74.5 C"}),
            )?;
        }
        for (tag, packs) in [
            ("TK1-1", ["280 g", "275 g", "255 g"]),
            ("TK1-2", ["270 g", "270 g", "245 g"]),
        ] {
            let packs: Vec<_> = packs
                .iter()
                .map(|r| json!({"reading": r, "slices": 14, "allergens": "none"}))
                .collect();
            self.about(
                (2, 10, 0),
                tag,
                "packed",
                json!({"packs": packs, "ends": "25 g", "finished": true}),
            )?;
        }
        Ok(())
    }

    fn hog(&self) -> Result<()> {
        self.did(
            (9, 8, 0),
            json!({
                "act": "received", "name": "half hog", "species": "pig", "origin": "bought",
                "known": "carcass", "reading": "38.6 kg", "portion": "half",
                "cost": "5.50", "price_per": "kilogram", "shipping": "14.00", "skin_on": true, "inspected": true,
            }),
        )?;
        self.weighed_out(
            9,
            "HG1",
            &[
                ("belly", "5.24 kg", Some("42 mm"), json!({})),
                ("loin", "4.105 kg", Some("68 mm"), json!({"fat_cap": true})),
                ("butt", "4.62 kg", Some("115 mm"), json!({})),
                (
                    "leg",
                    "9.35 kg",
                    Some("150 mm"),
                    json!({"bone_in": true, "skin_on": true}),
                ),
                ("jowl", "1.06 kg", Some("38 mm"), json!({"skin_on": true})),
                ("ribs", "1.9 kg", Some("28 mm"), json!({"bone_in": true})),
            ],
        )?;
        let lot = self.lot("HG1")?;
        let wrong = self.did((9, 9, 30), json!({"act": "piece_weighed", "lot": lot, "cut": "tenderloin", "reading": "4.8 kg", "thickness": "40 mm"}))?;
        self.corrected((9, 9, 33), wrong, json!({"act": "piece_weighed", "lot": lot, "cut": "tenderloin", "reading": "480 g", "thickness": "40 mm"}))?;
        self.kept(9, "HG1", "fat", "2.35 kg")?;
        self.kept(9, "HG1", "bone", "4.9 kg")?;
        self.kept(9, "HG1", "skin", "1.45 kg")?;
        self.kept(9, "HG1", "trim", "2.6 kg")?;
        self.did((9, 10, 35), json!({"act": "breakdown_closed", "lot": lot}))?;
        self.assigned(
            9,
            &[
                ("HG1-1", "belly-slab"),
                ("HG1-2", "back-smoked"),
                ("HG1-3", "shoulder-slab"),
                ("HG1-4", "fresh"),
                ("HG1-6", "fresh"),
                ("HG1-7", "backstrap"),
            ],
        )?;
        self.about((9, 10, 50), "HG1-3", "cut", json!({"parts": [
            {"reading": "2.31 kg", "thickness": "57 mm"}, {"reading": "2.295 kg", "thickness": "58 mm"},
        ]}))?;
        for (tag, packs) in [
            (
                "HG1-4",
                json!([{"reading": "4.7 kg"}, {"reading": "4.6 kg"}]),
            ),
            ("HG1-6", json!([{"reading": "950 g"}, {"reading": "945 g"}])),
        ] {
            self.about(
                (9, 12, 0),
                tag,
                "packed",
                json!({"packs": packs, "finished": true}),
            )?;
        }
        self.dosed(9, &["HG1-1"], json!({
            "own": {"cure_g_per_kg": 3.4},
            "reason": "Rubbed with the old recipe card before the calculator was asked; will be soaked and shared out thin.",
        }))?;
        self.dosed(9, &["HG1-2"], json!({"place": lists::FRIDGE}))?;
        self.dosed(
            9,
            &["HG1-3a", "HG1-3b"],
            json!({"mixed": true, "place": lists::FRIDGE}),
        )?;
        self.dosed(9, &["HG1-7"], json!({"place": lists::FRIDGE}))?;
        self.about((8, 8, 0), "HG1-1", "cut", json!({"parts": [
            {"reading": "2.7 kg", "thickness": "42 mm"}, {"reading": "2.535 kg", "thickness": "36 mm"},
        ]}))?;
        self.turned(&["HG1-1a", "HG1-1b", "HG1-3a", "HG1-3b"], (1..8).rev())?;
        self.turned(&["HG1-7"], (2..9).rev())?;
        self.turned(&["HG1-2"], [7, 5, 3].into_iter())?;
        self.about(
            (1, 9, 0),
            "HG1-7",
            "out_of_cure",
            json!({"reading": "470 g"}),
        )
        .map(drop)
    }

    fn goat(&self) -> Result<()> {
        self.did(
            (1, 15, 0),
            json!({
                "act": "received", "name": "young goat", "species": "goat", "origin": "raised",
                "known": "carcass", "reading": "16.4 kg", "sex": "castrated", "age": "young",
                "rested_days": 1, "fat_cover": "4 mm",
            }),
        )?;
        let lot = self.lot("GT1")?;
        for (choice, option) in [("backstrap", "boned"), ("game_leg", "seamed")] {
            self.did(
                (0, 8, 40),
                json!({"act": "cutting_chosen", "lot": lot, "choice": choice, "option": option}),
            )?;
        }
        self.weighed_out(
            0,
            "GT1",
            &[
                ("leg_muscle", "1.21 kg", Some("46 mm"), json!({})),
                ("leg_muscle", "1.145 kg", Some("44 mm"), json!({})),
                ("backstrap", "690 g", Some("41 mm"), json!({})),
                ("backstrap", "675 g", Some("40 mm"), json!({})),
                (
                    "shoulder",
                    "1.58 kg",
                    Some("65 mm"),
                    json!({"bone_in": true}),
                ),
            ],
        )?;
        self.did(
            (0, 9, 15),
            json!({"act": "assigned", "piece": self.piece("GT1-1")?, "build": "muscle-cased", "reason": "lay in the cold store at -20 for two weeks"}),
        )?;
        for tag in ["GT1-3", "GT1-4"] {
            self.did(
                (0, 9, 16),
                json!({"act": "assigned", "piece": self.piece(tag)?, "build": "backstrap"}),
            )?;
        }
        Ok(())
    }
}
