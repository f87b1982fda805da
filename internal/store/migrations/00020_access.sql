-- Who came, was refused and took what. Each entry's hash goes over the one before; the ends
-- are kept, so that cutting either off shows.

-- +goose Up
CREATE TABLE access (
  id INTEGER PRIMARY KEY, at INTEGER NOT NULL, account INTEGER NOT NULL, name TEXT NOT NULL, source TEXT NOT NULL,
  what TEXT NOT NULL, detail TEXT NOT NULL, hash BLOB NOT NULL
) STRICT;
CREATE INDEX access_at ON access (at);
CREATE TABLE access_ends (one INTEGER PRIMARY KEY CHECK (one = 1), first BLOB NOT NULL, last BLOB NOT NULL) STRICT;
INSERT INTO access_ends VALUES (1, zeroblob(32), zeroblob(32));

-- +goose Down
SELECT 1;
