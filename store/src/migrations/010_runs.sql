-- Runs in smoker, oven and pot: what was done in them, line by line, and what their probes said. The ledger keeps what was decided:
-- the weighing, with the inside it came to, names its run.
CREATE TABLE run (
    id           INTEGER PRIMARY KEY,
    recorded_at  TEXT NOT NULL
) STRICT;

CREATE TABLE run_write (
    id               INTEGER PRIMARY KEY,
    run_id           INTEGER NOT NULL REFERENCES run (id),
    idempotency_key  TEXT UNIQUE,
    fingerprint      TEXT NOT NULL,
    recorded_at      TEXT NOT NULL
) STRICT;

CREATE TABLE run_event (
    id        INTEGER PRIMARY KEY,
    run_id    INTEGER NOT NULL REFERENCES run (id),
    write_id  INTEGER NOT NULL REFERENCES run_write (id),
    -- When it happened.
    at        TEXT NOT NULL,
    content   TEXT NOT NULL CHECK (json_valid(content))
) STRICT;
CREATE INDEX run_event_of ON run_event (run_id);

-- What probes said: some fifteen bytes a reading. Struck out are stretches, since a probe that lay on the table said it by the hundred.
CREATE TABLE probe_reading (
    run_id   INTEGER NOT NULL REFERENCES run (id),
    probe    INTEGER NOT NULL CHECK (probe BETWEEN 1 AND 12),
    -- Seconds since the epoch, UTC.
    at_s     INTEGER NOT NULL,
    milli_c  INTEGER NOT NULL CHECK (milli_c BETWEEN -90000 AND 600000),
    -- 0 by hand, 1 out of a file, 2 from a thermometer.
    source   INTEGER NOT NULL CHECK (source BETWEEN 0 AND 2),
    PRIMARY KEY (run_id, probe, at_s)
) STRICT, WITHOUT ROWID;

CREATE TABLE probe_struck (
    id           INTEGER PRIMARY KEY,
    run_id       INTEGER NOT NULL REFERENCES run (id),
    probe        INTEGER NOT NULL,
    from_s       INTEGER NOT NULL,
    to_s         INTEGER NOT NULL CHECK (to_s >= from_s),
    reason       TEXT NOT NULL CHECK (reason <> ''),
    recorded_at  TEXT NOT NULL
) STRICT;

-- Runs whose readings were thinned, and by how much.
CREATE TABLE run_thinned (
    run_id       INTEGER PRIMARY KEY REFERENCES run (id),
    kept         INTEGER NOT NULL,
    dropped      INTEGER NOT NULL,
    recorded_at  TEXT NOT NULL
) STRICT;

CREATE TRIGGER run_stays BEFORE UPDATE ON run BEGIN SELECT raise(ABORT, 'runs are never changed'); END;
CREATE TRIGGER run_is_kept BEFORE DELETE ON run BEGIN SELECT raise(ABORT, 'runs are never deleted'); END;
CREATE TRIGGER run_event_stays BEFORE UPDATE ON run_event BEGIN SELECT raise(ABORT, 'lines of a run are never changed'); END;
CREATE TRIGGER run_event_is_kept BEFORE DELETE ON run_event BEGIN SELECT raise(ABORT, 'lines of a run are never deleted'); END;
CREATE TRIGGER probe_reading_stays BEFORE UPDATE ON probe_reading BEGIN SELECT raise(ABORT, 'readings are never changed'); END;
-- Only a run that is being thinned loses readings.
CREATE TRIGGER probe_reading_is_kept BEFORE DELETE ON probe_reading
WHEN NOT EXISTS (SELECT 1 FROM run_thinned WHERE run_id = OLD.run_id)
BEGIN SELECT raise(ABORT, 'readings of a run that was not thinned are never deleted'); END;
