-- The tree of cost centres.

-- +goose Up
CREATE TABLE cost_centre (
  id INTEGER PRIMARY KEY, cost_centre TEXT NOT NULL UNIQUE, name TEXT, parent INTEGER,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;

-- +goose Down
SELECT 1;
