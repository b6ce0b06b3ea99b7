-- What lies beside the entries and decides with them: how many rows of a table there are of a day or a run, and the sum of
-- their hashes. A row that was changed, lost or slipped in outside of the program does not fit its sum.
CREATE TABLE beside (
    of     TEXT NOT NULL,
    part   TEXT NOT NULL,
    count  INTEGER NOT NULL,
    sum    BLOB NOT NULL CHECK (length(sum) = 32),
    PRIMARY KEY (of, part)
) STRICT, WITHOUT ROWID;

-- A picture that is no longer what its name says may be mended by the same picture; its name never changes.
DROP TRIGGER photo_stays;
CREATE TRIGGER photo_stays BEFORE UPDATE OF id, hash, kind, recorded_at ON photo
BEGIN SELECT raise(ABORT, 'photos are never changed'); END;
