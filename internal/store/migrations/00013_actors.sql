-- Who wrote a batch is an account, whatever it is called; 0 is the command line,
-- and whoever wrote before.

-- +goose Up
ALTER TABLE batch ADD COLUMN account INTEGER NOT NULL DEFAULT 0;

-- +goose Down
SELECT 1;
