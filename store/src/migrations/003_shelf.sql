-- What the ledger leans on, as it was when it was first used: products and species by key and
-- version. A running piece keeps its own when the catalogue changes.
CREATE TABLE shelf (
    kind     TEXT NOT NULL CHECK (kind <> ''),
    key      TEXT NOT NULL CHECK (key <> ''),
    version  INTEGER NOT NULL CHECK (version > 0),
    shape    INTEGER NOT NULL,
    content  TEXT NOT NULL CHECK (json_valid(content)),
    kept_at  TEXT NOT NULL,
    PRIMARY KEY (kind, key, version)
) STRICT, WITHOUT ROWID;

CREATE TRIGGER shelf_stays BEFORE UPDATE ON shelf BEGIN SELECT raise(ABORT, 'what is kept is never changed'); END;
CREATE TRIGGER shelf_is_kept BEFORE DELETE ON shelf BEGIN SELECT raise(ABORT, 'what is kept is never deleted'); END;

-- The shape in which a row's JSON was written. Rows stay as they were; newer programs read older
-- shapes.
ALTER TABLE entry ADD COLUMN shape INTEGER NOT NULL DEFAULT 1;
ALTER TABLE household ADD COLUMN shape INTEGER NOT NULL DEFAULT 1;
ALTER TABLE list ADD COLUMN shape INTEGER NOT NULL DEFAULT 1;
