-- A household made for practice has a clock that is moved by hand; the demo is one. It is never made a real one.
ALTER TABLE ledger ADD COLUMN is_practice INTEGER NOT NULL DEFAULT 0;
-- Where that clock stands; empty until it was moved.
ALTER TABLE ledger ADD COLUMN practice_now TEXT;
