-- Wishes, pantry and plans: lists that carry no mass. The newest row of a kind holds; the others
-- are its history.
CREATE TABLE list (
    id           INTEGER PRIMARY KEY,
    kind         TEXT NOT NULL CHECK (kind IN ('wishes', 'pantry', 'plans')),
    recorded_at  TEXT NOT NULL,
    content      TEXT NOT NULL CHECK (json_valid(content))
) STRICT;

CREATE INDEX list_by_kind ON list (kind, id);

CREATE TRIGGER list_stays BEFORE UPDATE ON list BEGIN SELECT raise(ABORT, 'lists are never changed'); END;
CREATE TRIGGER list_is_kept BEFORE DELETE ON list BEGIN SELECT raise(ABORT, 'lists are never deleted'); END;
