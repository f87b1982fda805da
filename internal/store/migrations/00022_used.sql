-- When sessions were used last, so that those which nobody uses end.

-- +goose Up
ALTER TABLE session ADD COLUMN used INTEGER NOT NULL DEFAULT 0;

-- +goose Down
SELECT 1;
