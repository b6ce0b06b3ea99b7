-- A list is of whatever kind the program knows: its kinds are types, not words in the schema.
CREATE TABLE any_list (
    id           INTEGER PRIMARY KEY,
    kind         TEXT NOT NULL CHECK (kind <> ''),
    recorded_at  TEXT NOT NULL,
    content      TEXT NOT NULL CHECK (json_valid(content)),
    shape        INTEGER NOT NULL DEFAULT 1
) STRICT;

INSERT INTO any_list (id, kind, recorded_at, content, shape)
SELECT id, kind, recorded_at, content, shape FROM list;

DROP TRIGGER list_stays;
DROP TRIGGER list_is_kept;
DROP TABLE list;
ALTER TABLE any_list RENAME TO list;

CREATE INDEX list_by_kind ON list (kind, id);

CREATE TRIGGER list_stays BEFORE UPDATE ON list BEGIN SELECT raise(ABORT, 'lists are never changed'); END;
CREATE TRIGGER list_is_kept BEFORE DELETE ON list BEGIN SELECT raise(ABORT, 'lists are never deleted'); END;
