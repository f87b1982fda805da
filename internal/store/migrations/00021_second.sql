-- Second factors: codes of the moment, and recovery codes by their hash.

-- +goose Up
CREATE TABLE second_factor (
  account INTEGER PRIMARY KEY REFERENCES account (id) ON DELETE CASCADE, secret TEXT NOT NULL, step INTEGER NOT NULL DEFAULT 0, since INTEGER NOT NULL
) STRICT;
CREATE TABLE recovery (
  account INTEGER NOT NULL REFERENCES account (id) ON DELETE CASCADE, hash BLOB NOT NULL, PRIMARY KEY (account, hash)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE recovery;
DROP TABLE second_factor;
