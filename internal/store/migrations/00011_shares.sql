-- How the money of projects is shared out to cost centres.

-- +goose Up
CREATE TABLE share (
  id INTEGER PRIMARY KEY, project INTEGER NOT NULL, cost_code INTEGER, from_period INTEGER NOT NULL, cost_centre TEXT NOT NULL, percent INTEGER,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;

-- +goose Down
SELECT 1;
