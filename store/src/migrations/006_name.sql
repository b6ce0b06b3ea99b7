-- A name of its own for every ledger: what a device typed for one household never lands in another's.
CREATE TABLE ledger (id TEXT NOT NULL) STRICT;
INSERT INTO ledger (id) VALUES (lower(hex(randomblob(16))));
