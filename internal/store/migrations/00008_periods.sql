-- The office's own reporting periods; the days by which statements are due; and
-- days of calendars that count no longer.

-- +goose Up
CREATE TABLE boundary (
  id INTEGER PRIMARY KEY, period TEXT NOT NULL UNIQUE, first INTEGER, last INTEGER, name TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
CREATE TABLE due_day (
  id INTEGER PRIMARY KEY, statement TEXT NOT NULL UNIQUE, days INTEGER,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
ALTER TABLE calendar ADD COLUMN state TEXT;

-- +goose Down
SELECT 1;
