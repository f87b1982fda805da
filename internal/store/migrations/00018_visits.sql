-- How long statements took, and when people were on their desks.

-- +goose Up
ALTER TABLE unsent ADD COLUMN spent INTEGER NOT NULL DEFAULT 0;
CREATE TABLE spent (
  account INTEGER NOT NULL, project INTEGER NOT NULL, period INTEGER NOT NULL, ms INTEGER NOT NULL, PRIMARY KEY (account, project, period)
) STRICT, WITHOUT ROWID;
CREATE TABLE visit (account INTEGER PRIMARY KEY, at INTEGER NOT NULL, before INTEGER NOT NULL) STRICT;

-- +goose Down
SELECT 1;
