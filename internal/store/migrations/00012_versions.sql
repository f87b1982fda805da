-- Names and notes of versions.

-- +goose Up
CREATE TABLE version_name (
  id INTEGER PRIMARY KEY, kind TEXT NOT NULL, project INTEGER, version TEXT NOT NULL, name TEXT, note TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;

-- +goose Down
SELECT 1;
