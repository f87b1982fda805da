-- Addresses at which a calendar program reads dates, each of an account; the hash of a token
-- alone is kept.

-- +goose Up
CREATE TABLE subscription (
  id INTEGER PRIMARY KEY, account INTEGER NOT NULL, hash BLOB NOT NULL UNIQUE, query TEXT NOT NULL, made INTEGER NOT NULL
) STRICT;

-- +goose Down
SELECT 1;
