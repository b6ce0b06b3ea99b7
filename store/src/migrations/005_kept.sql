-- What gave pause when an entry was written down, and was kept as typed or lifted by a reason.
ALTER TABLE entry ADD COLUMN kept TEXT CHECK (kept IS NULL OR json_valid(kept));
