-- A letter can enclose forms of a brief: its number, a colon, and their names with commas.

-- +goose Up
ALTER TABLE letter ADD COLUMN enclosed TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE letter DROP COLUMN enclosed;
