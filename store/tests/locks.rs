//! Another SQLite program reads the ledger while this one writes: nothing that was acknowledged is lost by it.

mod common;

use common::{household, note, now, opened};
use manifest_store::backup::{self, Why};
use manifest_store::readings::{NewReading, Source};
use manifest_store::{FILE, restore};
use rusqlite::Connection;
use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Command, Stdio};
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

/// The household that a child of this test writes in.
const FOLDER: &str = "BUILD_MANIFEST_TEST_FOLDER";

/// Writes as the program does, and says each number once it is acknowledged, until it is killed.
#[test]
#[ignore = "run by the others as a program of its own"]
fn as_the_program() {
    let Some(folder) = std::env::var_os(FOLDER) else {
        return;
    };
    let store = opened(Path::new(&folder));
    for n in 0..100_000 {
        if n % 6 == 5 {
            // It stands idle for a moment, looking after its file.
            std::thread::sleep(Duration::from_millis(60));
        }
        let _ = store.look();
        match note(&store, &format!("said {n}")) {
            Ok(()) => println!("said {n}"),
            Err(error) => println!("refused {n}: {error}"),
        }
    }
}

/// Opens, reads and closes, as a browser of databases or a copy tool does.
fn another_client_reads(path: &Path) {
    let conn = Connection::open(path).unwrap();
    conn.busy_timeout(Duration::from_secs(2)).unwrap();
    let entries: i64 = conn
        .query_row("SELECT count(*) FROM entry", [], |row| row.get(0))
        .unwrap();
    assert!(entries >= 3);
    conn.close().unwrap();
}

/// What older versions of SQLite ask when they close: whether nobody else holds a lock on the file. If so they delete its
/// log; newer ones look twice.
#[cfg(unix)]
fn believes_itself_alone(path: &Path) -> bool {
    let file = std::fs::OpenOptions::new()
        .read(true)
        .write(true)
        .open(path)
        .unwrap();
    let lock = rustix::fs::FlockOperation::NonBlockingLockExclusive;
    rustix::fs::fcntl_lock(&file, lock).is_ok()
}

#[test]
fn nothing_acknowledged_is_lost_when_another_client_reads_and_the_program_is_killed() {
    let (dir, store) = household(0);
    drop(store);
    let mut acknowledged_in_all = 0;
    for _ in 0..4 {
        let mut program = Command::new(std::env::current_exe().unwrap())
            .args(["--exact", "as_the_program", "--ignored", "--nocapture"])
            .env(FOLDER, dir.path())
            .stdout(Stdio::piped())
            .spawn()
            .unwrap();
        let said = Arc::new(Mutex::new(Vec::new()));
        let count = Arc::new(AtomicUsize::new(0));
        let out = BufReader::new(program.stdout.take().unwrap());
        let (heard, counted) = (said.clone(), count.clone());
        let listener = std::thread::spawn(move || {
            for line in out.lines().map_while(Result::ok) {
                if line.starts_with("said ") || line.starts_with("refused ") {
                    heard.lock().unwrap().push(line);
                    counted.fetch_add(1, Ordering::SeqCst);
                }
            }
        });
        let path = dir.path().join(FILE);
        let deadline = Instant::now() + Duration::from_secs(30);
        let mut reads = 0;
        while (count.load(Ordering::SeqCst) < 60 || reads < 15) && Instant::now() < deadline {
            if count.load(Ordering::SeqCst) > 3 {
                another_client_reads(&path);
                #[cfg(unix)]
                assert!(
                    !believes_itself_alone(&path),
                    "an older SQLite would take the log away after {reads} reads"
                );
                reads += 1;
            }
            std::thread::sleep(Duration::from_millis(5));
        }
        program.kill().unwrap();
        program.wait().unwrap();
        listener.join().unwrap();
        let said = said.lock().unwrap().clone();
        let refused: Vec<_> = said.iter().filter(|l| l.starts_with("refused")).collect();
        assert!(refused.is_empty(), "{refused:?}");
        assert!(said.len() >= 60 && reads >= 15, "{} {reads}", said.len());
        let store = opened(dir.path());
        assert_eq!(store.trouble(), None);
        let notes = common::notes(&store);
        let lost: Vec<_> = said.iter().filter(|l| !notes.contains(l)).collect();
        assert!(
            lost.is_empty(),
            "{} of {} lost: {lost:?}",
            lost.len(),
            said.len()
        );
        acknowledged_in_all += said.len();
    }
    assert!(acknowledged_in_all >= 240);
}

/// The locks that this process holds on a file, as the system lists them.
#[cfg(target_os = "linux")]
fn locks_on(path: &Path) -> usize {
    use std::os::unix::fs::MetadataExt;
    let inode = std::fs::metadata(path).unwrap().ino();
    let me = std::process::id().to_string();
    let table = std::fs::read_to_string("/proc/locks").unwrap();
    let held = table.lines().filter(|line| {
        let words: Vec<&str> = line.split_whitespace().collect();
        words.contains(&"POSIX")
            && words.contains(&me.as_str())
            && words.iter().any(|w| w.ends_with(&format!(":{inode}")))
    });
    held.count()
}

#[cfg(target_os = "linux")]
#[test]
fn whatever_the_program_does_it_keeps_its_locks_on_the_ledger() {
    let (dir, store) = household(5);
    let path = dir.path().join(FILE);
    let held = locks_on(&path);
    assert!(held > 0, "a ledger that is open is locked as shared");
    let kept = |what: &str| assert_eq!(locks_on(&path), held, "{what}");
    store.look().unwrap();
    kept("the look of each second");
    note(&store, "and on").unwrap();
    kept("an entry");
    let reading = NewReading {
        at: now(),
        temperature: manifest_core::units::Celsius(3.0),
        humidity: None,
    };
    store.log(1, &[reading], Source::Hand, now()).unwrap();
    kept("a reading");
    let taken = store.back_up(Why::ByHand, now()).unwrap();
    kept("a backup by hand");
    backup::take(dir.path(), Why::Daily, now()).unwrap();
    kept("the day's backup");
    assert_eq!(backup::list(dir.path()).len(), 2);
    kept("the list of backups");
    backup::contents(&path).unwrap();
    kept("a check of the ledger itself");
    store.preview(&taken.path).unwrap();
    restore::preview(dir.path(), &taken.path).unwrap();
    kept("a look at a backup");
    store.preview(&path).unwrap();
    kept("a look at the ledger as if it were a backup");
    assert!(backup::copy(&path, &dir.path().join("copy.db")).is_ok());
    kept("a copy");
    store.gather().unwrap();
    kept("gathering the log");
    let shot = manifest_store::photos::Photo {
        kind: "image/png".into(),
        bytes: vec![1, 2, 3],
    };
    let name = store.keep_photo(&shot, now()).unwrap();
    assert_eq!(store.photo(&name).unwrap(), Some(shot));
    kept("a photo");
    assert_eq!(store.rebuilt().unwrap(), store.read(|book, _| book.clone()));
    kept("a rebuild");
    store.restore(&taken.path, now()).unwrap();
    store.look().unwrap();
    assert_eq!(locks_on(&path), held, "a restore");
    note(&store, "after it").unwrap();
    another_client_reads(&path);
    note(&store, "and after another client").unwrap();
}
