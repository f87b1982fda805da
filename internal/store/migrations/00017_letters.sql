-- Letters to people: where they read them, which they want, and what is sent and was sent.

-- +goose Up
ALTER TABLE account ADD COLUMN address TEXT NOT NULL DEFAULT '';
ALTER TABLE account ADD COLUMN letters TEXT NOT NULL DEFAULT 'at once';
CREATE TABLE letter (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, account INTEGER NOT NULL, made INTEGER NOT NULL,
  address TEXT NOT NULL, subject TEXT NOT NULL, plain TEXT NOT NULL, html TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'waiting', tries INTEGER NOT NULL DEFAULT 0, next INTEGER NOT NULL, at INTEGER NOT NULL DEFAULT 0, fault TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX letter_next ON letter (next) WHERE state = 'waiting';

-- +goose Down
SELECT 1;
