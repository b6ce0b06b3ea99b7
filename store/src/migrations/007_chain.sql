-- Every entry carries a hash over itself and the one before; every other row one over itself. What
-- is missing or changed shows, wherever in the file it was.
DROP TRIGGER entry_stays;
DROP TRIGGER list_stays;
DROP TRIGGER shelf_stays;
ALTER TABLE entry ADD COLUMN hash BLOB CHECK (hash IS NULL OR length(hash) = 32);
ALTER TABLE household ADD COLUMN seal BLOB;
ALTER TABLE list ADD COLUMN seal BLOB;
ALTER TABLE shelf ADD COLUMN seal BLOB;
-- A demo is nobody's household, and nobody's household becomes a demo.
ALTER TABLE ledger ADD COLUMN is_demo INTEGER NOT NULL DEFAULT 0;
