-- +goose Up
-- A cut is made at a close, or by hand with a name. What it was closed over is
-- JSON: reasons by open point; '' where nothing stood in the way.
ALTER TABLE cut ADD COLUMN kind TEXT NOT NULL DEFAULT 'close';
ALTER TABLE cut ADD COLUMN closed_over TEXT NOT NULL DEFAULT '';
ALTER TABLE cut ADD COLUMN reopened_by TEXT NOT NULL DEFAULT '';
ALTER TABLE cut ADD COLUMN reopened_at INTEGER NOT NULL DEFAULT 0;

-- +goose Down
SELECT 1;
