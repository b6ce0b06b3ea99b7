-- How warm the household's places were: beside the ledger, since readings carry no mass and come by the thousand. Nothing
-- of them is changed or deleted; what was wrong is struck out in a row of its own.
CREATE TABLE reading (
    id                  INTEGER PRIMARY KEY,
    place_id            INTEGER NOT NULL CHECK (place_id > 0),
    -- Seconds since the epoch, UTC.
    at_s                INTEGER NOT NULL,
    milli_c             INTEGER NOT NULL CHECK (milli_c BETWEEN -60000 AND 60000),
    humidity_permille   INTEGER CHECK (humidity_permille BETWEEN 0 AND 1000),
    source              TEXT NOT NULL CHECK (source IN ('hand', 'csv', 'sensor')),
    -- Readings that were written down together carry the number of the first of them.
    batch               INTEGER NOT NULL,
    recorded_at         TEXT NOT NULL
) STRICT;

-- The same reading twice is one reading.
CREATE UNIQUE INDEX reading_once ON reading (place_id, at_s, milli_c);

CREATE TABLE reading_struck (
    reading_id   INTEGER PRIMARY KEY REFERENCES reading (id),
    reason       TEXT NOT NULL CHECK (reason <> ''),
    recorded_at  TEXT NOT NULL
) STRICT;

-- Photos by what is in them: the same picture is kept once. They lie in the same file, so that every backup holds them.
CREATE TABLE photo (
    id           INTEGER PRIMARY KEY,
    hash         BLOB NOT NULL UNIQUE CHECK (length(hash) = 32),
    kind         TEXT NOT NULL CHECK (kind IN ('image/jpeg', 'image/png', 'image/webp')),
    bytes        BLOB NOT NULL,
    recorded_at  TEXT NOT NULL
) STRICT;

CREATE TRIGGER reading_stays BEFORE UPDATE ON reading BEGIN SELECT raise(ABORT, 'readings are never changed'); END;
CREATE TRIGGER reading_is_kept BEFORE DELETE ON reading BEGIN SELECT raise(ABORT, 'readings are never deleted'); END;
CREATE TRIGGER struck_stays BEFORE UPDATE ON reading_struck BEGIN SELECT raise(ABORT, 'what is struck out stays so'); END;
CREATE TRIGGER struck_is_kept BEFORE DELETE ON reading_struck BEGIN SELECT raise(ABORT, 'what is struck out stays so'); END;
CREATE TRIGGER photo_stays BEFORE UPDATE ON photo BEGIN SELECT raise(ABORT, 'photos are never changed'); END;
CREATE TRIGGER photo_is_kept BEFORE DELETE ON photo BEGIN SELECT raise(ABORT, 'photos are never deleted'); END;
