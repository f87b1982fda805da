-- Baselines that are proposed before they are approved.

-- +goose Up
ALTER TABLE baseline ADD COLUMN state TEXT;
ALTER TABLE baseline ADD COLUMN proposed INTEGER;
ALTER TABLE baseline ADD COLUMN proposer TEXT;
ALTER TABLE baseline ADD COLUMN remark TEXT;

-- +goose Down
SELECT 1;
