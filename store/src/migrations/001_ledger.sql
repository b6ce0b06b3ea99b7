-- One act of the household: a request that was written as a whole or not at all.
CREATE TABLE write (
    id               INTEGER PRIMARY KEY,
    -- Given by the client, so that a retry on bad reception never weighs twice.
    idempotency_key  TEXT UNIQUE,
    -- What was asked, so that one key cannot stand for two different requests.
    fingerprint      TEXT NOT NULL,
    recorded_at      TEXT NOT NULL
) STRICT;

CREATE TABLE entry (
    id           INTEGER PRIMARY KEY,
    write_id     INTEGER NOT NULL REFERENCES write (id),
    lot_id       INTEGER NOT NULL CHECK (lot_id > 0),
    kind         TEXT NOT NULL,
    happened_at  TEXT NOT NULL,
    recorded_at  TEXT NOT NULL,
    -- The entry whose place this one takes.
    replaces     INTEGER REFERENCES entry (id) CHECK (replaces < id),
    -- The correction that made it necessary to state this again.
    because      INTEGER REFERENCES entry (id) CHECK (because < id),
    act          TEXT NOT NULL CHECK (json_valid(act))
) STRICT;

CREATE INDEX entry_by_write ON entry (write_id);

-- Postings are written before their entry; the foreign key waits for the end of the transaction.
CREATE TABLE posting (
    entry_id  INTEGER NOT NULL REFERENCES entry (id) DEFERRABLE INITIALLY DEFERRED,
    line      INTEGER NOT NULL CHECK (line >= 0),
    account   TEXT NOT NULL CHECK (account <> ''),
    mass_mg   INTEGER NOT NULL CHECK (mass_mg <> 0),
    PRIMARY KEY (entry_id, line)
) STRICT, WITHOUT ROWID;

-- The entry seals its postings: they must balance when it comes, and none may come after it.
CREATE TRIGGER entry_balances BEFORE INSERT ON entry
WHEN (SELECT coalesce(sum(mass_mg), 0) FROM posting WHERE entry_id = NEW.id) <> 0
BEGIN
    SELECT raise(ABORT, 'the postings of an entry must sum to zero');
END;

CREATE TRIGGER posting_before_its_entry BEFORE INSERT ON posting
WHEN EXISTS (SELECT 1 FROM entry WHERE id = NEW.entry_id)
BEGIN
    SELECT raise(ABORT, 'an entry is sealed once it is written');
END;

-- Nothing is updated or deleted; a correction is a new entry.
CREATE TRIGGER entry_stays BEFORE UPDATE ON entry BEGIN SELECT raise(ABORT, 'entries are never changed'); END;
CREATE TRIGGER entry_is_kept BEFORE DELETE ON entry BEGIN SELECT raise(ABORT, 'entries are never deleted'); END;
CREATE TRIGGER posting_stays BEFORE UPDATE ON posting BEGIN SELECT raise(ABORT, 'postings are never changed'); END;
CREATE TRIGGER posting_is_kept BEFORE DELETE ON posting BEGIN SELECT raise(ABORT, 'postings are never deleted'); END;

-- The newest row holds; the others are the history of the settings.
CREATE TABLE household (
    id           INTEGER PRIMARY KEY,
    recorded_at  TEXT NOT NULL,
    settings     TEXT NOT NULL CHECK (json_valid(settings))
) STRICT;
