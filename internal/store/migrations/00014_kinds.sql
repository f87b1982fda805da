-- The kinds of records that the database holds, with their columns, as they are
-- declared: a program that does not know one of them does not open it.

-- +goose Up
CREATE TABLE kind (name TEXT PRIMARY KEY, columns TEXT NOT NULL) STRICT;

-- +goose Down
SELECT 1;
