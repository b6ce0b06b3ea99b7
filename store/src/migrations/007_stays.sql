CREATE TRIGGER entry_stays BEFORE UPDATE ON entry BEGIN SELECT raise(ABORT, 'entries are never changed'); END;
-- A row takes its seal right after it came, and nothing else ever.
CREATE TRIGGER list_stays BEFORE UPDATE ON list WHEN OLD.seal IS NOT NULL
BEGIN SELECT raise(ABORT, 'lists are never changed'); END;
CREATE TRIGGER shelf_stays BEFORE UPDATE ON shelf WHEN OLD.seal IS NOT NULL
BEGIN SELECT raise(ABORT, 'what is kept is never changed'); END;
